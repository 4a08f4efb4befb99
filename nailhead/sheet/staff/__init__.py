"""The five-line staff over the tablature: what it shows, and how it is engraved."""
