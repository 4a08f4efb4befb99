"""Clawhammer (handbook §4): the nail strikes down on the beat and its half, the thumb takes the fifth string behind it.

d  the nail strikes the melody note, or it again     t  thumb on the drone string
B  brush over two or three neighbours                D  the thumb drops to an inner string on the bass side
"""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.rows.costs import COSTS, IMPOSSIBLE
from nailhead.core.arrange.rows.hands import (
    Adds,
    Choice,
    Doubling,
    Follows,
    Idiom,
    Moves,
    RightHand,
    Row,
    Rung,
    SingleNotes,
)
from nailhead.core.arrange.rows.patterns import Voice, Want, Where
from nailhead.core.arrange.rows.touches import touches_named
from nailhead.core.arrange.values import Finger, Way

NAIL, THUMB = Finger.NAIL, Finger.THUMB
#: Strings that the thumb drops to.
INNER = (2, 3, 4)

_BRUSH = Voice(NAIL, Way.DOWN, Want.STRUM, Where.BRUSH, called="brush")
ALPHABET = {
    "d": (Voice(NAIL, Way.DOWN, Want.LEAD, Where.MELODY, instead=_BRUSH, extra=COSTS["brush instead"]),),
    "B": (_BRUSH,),
    "t": (Voice(THUMB, Way.PLUCK, Want.DRONE, called="fifth string"),),
    "D": (Voice(THUMB, Way.PLUCK, Want.ANY, Where.LISTED, INNER, must=True),),
}

#: The strokes (handbook §4; the jig rows are common practice).
ROWS = (
    Row("basic stroke", "d . | B t", 2),
    Row("brush and thumb", "B t", 2, cost=1),
    Row("jig stroke", "d B t", 2),
    Row("jig brush and thumb", "B . t", 2, cost=1),
    Row("double thumb", "d t", 5),
    Row("brush and catch", "B d!", 5, cost=1),
    Row("jig double thumb", "d t d!", 5, cost=2),
    Row("drop thumb", "d D | d1! t", 6, cost=-5),
    Row("drop-thumb catch", "B D!", 6, cost=1),
    Row("jig drop thumb", "d B D!", 6, cost=2),
)

#: Strings of a brush, best first: treble strings, struck in one movement (common practice). Two before there is a
#: chord to hold, then three.
_TWO = ((1, 2), (2, 3), (1, 2, 3), (1,), (2,), (3,))
_THREE = ((1, 2, 3), (1, 2), (2, 3), (1,), (2,), (3,))
RUNGS = (
    Rung("Bare", brushes=_TWO),
    Rung("Basic stroke", empty=12, brushes=_TWO),
    Rung("Chords", (Adds.SHAPES,), empty=14, brushes=_THREE),
    Rung("Slurs", (Adds.SLURS,), empty=14, brushes=_THREE),
    Rung("Flow", (Adds.FLOW,), empty=24, hole=9, brushes=_THREE),
    Rung("Reach", (Adds.DROPS, Adds.MOVES, Adds.DOUBLES), empty=24, hole=9, brushes=_THREE),
    Rung("Solo", (Adds.SOLO,), empty=24, hole=9, brushes=_THREE),
)

_ALL = dict.fromkeys((1, 2, 3, 4), 0)
_REACH = {NAIL: _ALL, THUMB: dict.fromkeys(INNER, 0)}


RIGHT = RightHand(
    ALPHABET,
    ROWS,
    touches=touches_named("nail", "brush", "thumb"),
    single=SingleNotes({}, (NAIL,)),
    lines=_REACH,
    chords=_REACH,
    plain=(NAIL,),
    follows=Follows({NAIL: COSTS["finger twice"], THUMB: IMPOSSIBLE}),
    ways={NAIL: Way.DOWN},
    home={THUMB: frozenset({5})},
    catches=THUMB,
    on_beat=frozenset({NAIL}),
    doubling=Doubling.SAME,
    moves=Moves.CATCH,
)


def _renamed(right: RightHand, more: str, pluck: str = "") -> RightHand:
    """The nail's touches with something added to what they are called, and another finger behind them."""
    touches = tuple(
        replace(row, word=row.word + (more if row.id == "nail" else ""), pluck=pluck or row.pluck)
        if row.by is NAIL
        else row
        for row in right.touches
    )
    return replace(right, touches=touches)


CLAWHAMMER = Idiom(
    "clawhammer",
    "clawhammer",
    ("banjo",),
    RIGHT,
    rungs=RUNGS,
    choices=(
        Choice(
            "nail",
            "Nail that strikes",
            {
                "index": lambda right: _renamed(right, ", index nail", "i"),
                "middle": lambda right: _renamed(right, ", middle nail", "m"),
            },
        ),
        Choice(
            "head",
            "Stroke on the head",
            {"clean": lambda right: right, "thump": lambda right: _renamed(right, ", on the head")},
        ),
    ),
)
