"""From a tune on a setup to the ladder: structure, places, right hand, shapes, fingers, grade."""
