"""The grammar of a left hand: which ornaments it makes, how far they go, with how many fingers."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from nailhead.core.arrange.values import Ornament


class Trill(StrEnum):
    """What a held note is trilled with."""

    SCALE = "the next note of the scale"
    FRET = "the next fret"


@dataclass(frozen=True, slots=True)
class LeftHand:
    """How a left hand works: which ornaments it makes, over how many frets and counts; one finger, or a noter.

    `grace_slide` is how far below its note a quick slide begins, `grace_hammer` the highest fret that is hammered
    from the open string, `slow_slide` how far a slow one goes; with `grace_pull` graces are pulled off from the scale's
    next note. Held notes are trilled from the rung of moves on where `trill` says with what, over `trill_cents` at
    most. With `reshapes` a shape is held no longer than its melody note: each strong one is the top of a shape of its
    own. From the rung of moves on `short_slides` lead from beat to beat, and an open course doubles a
    strummed melody note at its fret, where that lies so many cents below it (`parallels`: the least and the most). A
    shape has its root on one of the strings in `roots`, where those are named; with
    `hops` the root's finger comes to the fifth on the next string too. From the rung of moves on the last note of a
    tune is one of the `harmonics`, where it can be.
    """

    ornaments: frozenset[Ornament] = frozenset(Ornament)
    one_finger: bool = False
    slur_frets: int = 4
    slur_counts: int = 3
    slow_slide: int = 2
    grace_slide: int = 2
    grace_hammer: int = 3
    grace_pull: bool = False
    trill: Trill | None = None
    trill_cents: int = 210
    reshapes: bool = False
    short_slides: bool = False
    parallels: tuple[tuple[int, int], ...] = ()
    roots: tuple[int, ...] = ()
    hops: bool = False
    harmonics: bool = False


#: In cents.
OCTAVES = ((1200, 1200),)
FIFTHS_AND_FOURTHS = ((480, 520), (680, 720))
#: Four fingers that make every ornament.
EVERY_ORNAMENT = LeftHand()
