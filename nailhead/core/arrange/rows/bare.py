"""The ways of playing that have the bare melody so far: what strikes its notes, and which strings ring beside it."""

from __future__ import annotations

from nailhead.core.arrange.rows.choices import FIRST_RUNG, as_written, by_single
from nailhead.core.arrange.rows.hands import (
    Choice,
    Follows,
    Idiom,
    RightHand,
    Rung,
    SingleNotes,
)
from nailhead.core.arrange.rows.touches import touches_named
from nailhead.core.arrange.values import Finger, Way
from nailhead.core.music.layers import Layer

THUMB, INDEX, MIDDLE = Finger.THUMB, Finger.INDEX, Finger.MIDDLE
#: How a pick plays a triplet that leads into the first bar, so that the bar starts down (handbook §4 and §10).
UP_DOWN_UP, DOWN_UP_DOWN = (Way.UP, Way.DOWN, Way.UP), (Way.DOWN, Way.UP, Way.DOWN)


def _hand(single: SingleNotes, ways: dict[Finger, Way], *touches: str) -> RightHand:
    fingers = {finger for row in (*single.turns.values(), single.others) for finger in row}
    return RightHand(
        {},
        (),
        touches=touches_named(*touches),
        single=single,
        lines={},
        chords={},
        plain=tuple(finger for finger in Finger if finger in fingers),
        follows=Follows({}),
        ways=ways,
    )


#: Index and middle in turn, the thumb on the bass strings.
FINGERED = _hand(
    SingleNotes(dict.fromkeys((1, 2, 3), (INDEX, MIDDLE)), (THUMB,)), {}, "thumb", "index", "middle", "ring"
)

TRIPLET = Choice(
    "triplet",
    "Triplet pickup",
    {
        "up down up": as_written,
        "down up down": by_single(triplet=DOWN_UP_DOWN),
    },
)
#: The ladder that has its first rung so far.
_PAIRS = (Rung("Bare", layer=Layer.PAIRS),)

BARE: tuple[Idiom, ...] = (
    Idiom("fingerstyle", "fingerstyle", ("guitar",), FINGERED, rungs=_PAIRS, choices=(FIRST_RUNG,)),
)
