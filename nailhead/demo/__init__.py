"""The invented shelf: tunes, places and people that exist nowhere else."""
