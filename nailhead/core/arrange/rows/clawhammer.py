"""Clawhammer (handbook §4): the nail strikes down on the beat and its half, the thumb takes the fifth string behind it.

d  the nail strikes the melody note, or it again     t  thumb on the drone string, for the melody too
B  brush over two or three neighbours                D  the thumb drops to an inner string on the bass side
x  the melody note that begins there, else a brush   h  the left hand alone sounds the melody note there
m  the nail strikes the melody note that begins there   g  the nail runs on over the next string towards string 1
"""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.rows.choices import FIRST_RUNG, FRAMES, as_written, by_hand
from nailhead.core.arrange.rows.costs import COSTS, IMPOSSIBLE
from nailhead.core.arrange.rows.hands import (
    Adds,
    Catch,
    Choice,
    Doubling,
    Follows,
    Idiom,
    RightHand,
    Row,
    Rung,
    SingleNotes,
)
from nailhead.core.arrange.rows.patterns import Voice, Want, Where
from nailhead.core.arrange.rows.touches import touches_named
from nailhead.core.arrange.values import Finger, Way
from nailhead.core.music.layers import Layer

NAIL, THUMB = Finger.NAIL, Finger.THUMB
#: Strings that the thumb drops to.
INNER = (2, 3, 4)

_BRUSH = Voice(NAIL, Way.DOWN, Want.STRUM, Where.BRUSH, called="brush")
ALPHABET = {
    "d": (Voice(NAIL, Way.DOWN, Want.LEAD, Where.MELODY, instead=_BRUSH, extra=COSTS["brush instead"]),),
    "B": (_BRUSH,),
    "t": (Voice(THUMB, Way.PLUCK, Want.DRONE, called="fifth string"),),
    "D": (Voice(THUMB, Way.PLUCK, Want.ANY, Where.LISTED, INNER, must=True),),
    "x": (Voice(NAIL, Way.DOWN, Want.JOIN, instead=_BRUSH, called="brush"),),
    "m": (Voice(NAIL, Way.DOWN, Want.JOIN, must=True),),
    "g": (Voice(NAIL, Way.DRAG, Want.ANY, must=True, called="drag"),),
    "h": (Voice(None, Way.LEFT, Want.SLUR, must=True),),
}

#: The strokes (handbook §4; the jig rows are common practice).
ROWS = (
    Row("basic stroke", "d . | x! t", 2, moving_from=2),
    Row("waltz stroke", "d . | x! t | x! t", 2, moving_from=2),
    Row("brush and thumb", "B t", 2, cost=1),
    Row("stroke and thumb", "d t", 2, cost=6),
    Row("jig stroke", "d B t", 2),
    Row("jig brush and thumb", "B . t", 2, cost=1),
    Row("jig catch", "d t m!", 2, moving_from=2),
    Row("slurred stroke", "d h! | x! t", 4, cost=-2, moving_from=4),
    Row("slurred jig stroke", "d h! t", 4, cost=-2, moving_from=4),
    Row("double thumb", "d t!", 5),
    Row("slur and thumb", "d h!", 5, moving_from=5),
    Row("jig double thumb", "d t! d!", 5, cost=2),
    Row("jig fifth string", "d B t!", 5, cost=1),
    Row("two notes and thumb", "d d! t!", 5, moving_from=5),
    Row("slur and strike", "d h! d!", 5, cost=1, moving_from=5),
    Row("drop thumb", "d D | d1! t!", 6, cost=-5),
    Row("gallop", "d D | d! t", 6, cost=-4),
    Row("skip stroke", "d t | . t", 6, cost=2),
    Row("drag", "d g | g! t", 6, cost=2),
    Row("jig drag", "d g! t", 6, cost=4),
    Row("drop-thumb catch", "B D!", 6, cost=1),
    Row("jig drop thumb", "d B D!", 6, cost=2),
)

#: Strings of a brush, best first: treble strings, struck in one movement (common practice). Two before there is a
#: chord to hold, then three.
_TWO = ((1, 2), (2, 3), (1, 2, 3), (1,), (2,), (3,))
_THREE = ((1, 2, 3), (1, 2), (2, 3), (1,), (2,), (3,))
RUNGS = (
    Rung("Bare", layer=Layer.BEAT, brushes=_TWO, even=True),
    Rung("Basic stroke", layer=Layer.BEAT, empty=12, brushes=_TWO, even=True),
    Rung("Chords", (Adds.SHAPES,), Layer.BEAT, empty=14, brushes=_THREE, even=True),
    Rung("Slurs", (Adds.SLURS,), Layer.BEAT, (Catch.SLUR,), empty=14, brushes=_THREE, even=True),
    Rung("Flow", (Adds.FLOW,), Layer.BEAT, (Catch.SLUR, Catch.DRONE), empty=24, hole=9, brushes=_THREE, even=True),
    Rung(
        "Reach",
        (Adds.DROPS, Adds.MOVES, Adds.DOUBLES),
        Layer.FULL,
        tuple(Catch),
        empty=24,
        hole=9,
        brushes=_THREE,
    ),
    Rung("Solo", (Adds.SOLO,), Layer.FULL, tuple(Catch), Layer.BEAT, empty=24, hole=9, brushes=_THREE),
)

_ALL = dict.fromkeys((1, 2, 3, 4), 0)
_REACH = {NAIL: _ALL, THUMB: dict.fromkeys((5, *INNER), 0)}


RIGHT = RightHand(
    ALPHABET,
    ROWS,
    touches=touches_named("nail", "brush", "drag", "thumb"),
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
        FIRST_RUNG,
        Choice(
            "nail",
            "Nail that strikes",
            {
                "index": by_hand(lambda right: _renamed(right, ", index nail", "i")),
                "middle": by_hand(lambda right: _renamed(right, ", middle nail", "m")),
            },
        ),
        Choice(
            "head",
            "Stroke on the head",
            {"clean": as_written, "thump": by_hand(lambda right: _renamed(right, ", on the head"))},
        ),
        *FRAMES,
    ),
)
