"""Fill-in and tag figures for the end of a phrase, as rows of one stroke a count (common practice).

A figure is written in the frets of one tuning, counted from the capo, and belongs to the chord whose root is on `root`;
so it serves under any capo. A token is string:fret; `2h3` is hammered on from fret 2 inside the count, `3p2` pulled
off, `2s4` slid into, `10b` choked: pushed up half a tone. The blue third (2 and 3 on string 3 before open 2) is an
ornament and need not be in the key.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cached_property

from nailhead.core.arrange.values import Ornament, Slur
from nailhead.core.fretboard.setup import Place

_TOKEN = re.compile(r"([1-9]):(?:(\d+)([hps]))?(\d+)(b?)")
#: How far a choke goes, in cents.
CHOKE = 100
_ORNAMENTS = {"h": Ornament.HAMMER, "p": Ornament.PULL, "s": Ornament.SLIDE}


@dataclass(frozen=True)
class Figure:
    """So many counts of a fill: where each note lies and how it is come to."""

    name: str
    tuning: str
    root: Place
    text: str

    @cached_property
    def notes(self) -> tuple[tuple[Place, Slur | None, int], ...]:
        """One a count: where it lies, how it is come to, how far it is bent (cents)."""
        found = []
        for token in self.text.split():
            read = _TOKEN.fullmatch(token)
            assert read, token
            string, start, letter, fret, choked = read.groups()
            slur = Slur(_ORNAMENTS[letter], int(start), grace=True) if letter else None
            found.append((Place(int(string), int(fret)), slur, CHOKE if choked else 0))
        return tuple(found)


_G, _C, _D = Place(3, 0), Place(2, 1), Place(4, 0)
_OPEN_G = "gDGBD"

#: Four counts fill the second half of a bar in twos, six what is left of it behind one beat.
FIGURES = (
    Figure("G, the blue third", _OPEN_G, _G, "3:2h3 2:0 5:0 1:0"),
    Figure("G, down to the low string", _OPEN_G, _G, "2:0 3:0 4:0h2 3:0"),
    Figure("G, up and out", _OPEN_G, _G, "4:0h2 3:0 3:2h3 2:0 5:0 1:0"),
    Figure("G, choke", _OPEN_G, _G, "2:10b 1:9 2:8 5:0"),
    Figure("G, tag", _OPEN_G, _G, "1:0 2:0 5:0 1:0 4:0h2 3:0"),
    Figure("C, around the shape", _OPEN_G, _C, "4:2 2:0h1 5:0 1:2"),
    Figure("C, the roll down", _OPEN_G, _C, "1:2 2:1 5:0 1:2 3:0 4:2"),
    Figure("D, up the chord", _OPEN_G, _D, "4:2s4 2:3 1:0 3:2"),
    Figure("D, down the chord", _OPEN_G, _D, "1:4 2:3 1:0 3:2 2:3 4:4"),
)
