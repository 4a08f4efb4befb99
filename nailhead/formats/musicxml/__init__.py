from nailhead.formats.musicxml.melody import write_melody
from nailhead.formats.musicxml.tab import write_musicxml, write_musicxml_part

__all__ = ["write_melody", "write_musicxml", "write_musicxml_part"]
