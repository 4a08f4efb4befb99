"""Four ways of playing given as rows alone: what the engine must be able to play without a line of code of its own.

They are not the product's: their rows are few, from what is common practice, and need only be right, not good.
"""

from __future__ import annotations

from nailhead.core.arrange.rows.costs import COSTS, IMPOSSIBLE
from nailhead.core.arrange.rows.hands import (
    Adds,
    Doubling,
    Follows,
    Idiom,
    RightHand,
    Row,
    Rung,
    SingleNotes,
)
from nailhead.core.arrange.rows.left_hand import LeftHand
from nailhead.core.arrange.rows.patterns import Voice, Want, Where
from nailhead.core.arrange.rows.touches import touches_named
from nailhead.core.arrange.values import Finger, Ornament, Way

PICK, THUMB, INDEX, MIDDLE, RING = Finger.PICK, Finger.THUMB, Finger.INDEX, Finger.MIDDLE, Finger.RING
RUNGS = (
    Rung("Bare"),
    Rung("Basic stroke", empty=12),
    Rung("Chords", (Adds.SHAPES,), empty=14),
    Rung("Slurs", (Adds.SLURS,), empty=14),
    Rung("Flow", (Adds.FLOW,), empty=24, hole=9),
    Rung("Reach", (Adds.DOUBLES,), empty=24, hole=9),
    Rung("Solo", (Adds.SOLO,), empty=24, hole=9),
)


def _free(strings: int) -> dict[int, int]:
    return dict.fromkeys(range(1, strings + 1), 0)


_DOWN_UP = {
    "d": (Voice(PICK, Way.DOWN, Want.LEAD, Where.MELODY),),
    "u": (Voice(PICK, Way.UP, Want.LEAD, Where.MELODY),),
    "v": (Voice(PICK, Way.DOWN, Want.FILL, loudness=64),),
    "^": (Voice(PICK, Way.UP, Want.FILL, loudness=64),),
}
PLECTRUM = Idiom(
    "trial plectrum",
    "plectrum with doubles",
    ("mandolin",),
    RightHand(
        _DOWN_UP,
        (
            Row("shuffle", "d . | d u", 2),
            Row("jig", "d u d", 2),
            Row("doubled shuffle", "dp . | dp u", 3, cost=-4, moving_from=3),
            Row("doubled beat", "dp .", 3, cost=-4, moving_from=3),
            Row("doubled jig", "dp . d!", 3, cost=-4, moving_from=3),
            Row("doubled jig in eighths", "dp u! d!", 3, cost=-4, moving_from=3),
            Row("saw", "d ^p", 5),
            Row("roll", "d ^q | vr ^q", 5),
            Row("jig roll", "d ^q vr", 5),
        ),
        touches=touches_named("pick down", "pick up", "strum down", "strum up"),
        single=SingleNotes({}, (PICK,), clocked=True),
        lines={PICK: _free(4)},
        chords={PICK: _free(4)},
        plain=(PICK,),
        follows=Follows({}),
        ways={PICK: Way.DOWN},
        on_top=True,
        restrikes=True,
        covers=IMPOSSIBLE,
    ),
    rungs=RUNGS,
)

_JOINED = Voice(None, Way.PLUCK, Want.JOIN)
FINGERSTYLE = Idiom(
    "trial fingerstyle",
    "fingerstyle with bass and fillers",
    ("guitar",),
    RightHand(
        {
            "T": (Voice(THUMB, Way.PLUCK, Want.FILL), _JOINED),
            "I": (Voice(INDEX, Way.PLUCK, Want.ANY, loudness=64),),
            "M": (Voice(MIDDLE, Way.PLUCK, Want.ANY, loudness=64),),
        },
        (
            Row("root pinch", "Tb . | . .", 2),
            Row("jig pinch", "Tb . .", 2),
            Row("alternating thumb", "Tb . | Tf! .", 3, cost=-2, moving_from=3),
            Row("thumb beat", "Tb .", 3, cost=-4, moving_from=3),
            Row("thumb jig", "Tb . I!", 3, cost=-4, moving_from=3),
            Row("thumb jig in eighths", "Tb I! M!", 3, cost=-4, moving_from=3),
            Row("thumb roll", "Tb! (I3)! | Tf! (M2)!", 5),
            Row("thumb and finger", "Tb! (I23)!", 5, cost=1),
            Row("jig roll", "Tb! (I3)! (M2)!", 5),
        ),
        touches=touches_named("thumb", "index", "middle", "ring"),
        single=SingleNotes(dict.fromkeys((1, 2, 3), (INDEX, MIDDLE)), (THUMB,)),
        lines={
            THUMB: {6: 0, 5: 0, 4: 0, 3: 4},
            INDEX: {3: 0, 2: 2, 1: 4, 4: 8, 5: 12, 6: 14},
            MIDDLE: {2: 0, 1: 2, 3: 4, 4: 12},
            RING: {1: 0, 2: 2},
        },
        chords={THUMB: {6: 0, 5: 0, 4: 0}, INDEX: {3: 0, 2: 2}, MIDDLE: {2: 0, 1: 2}, RING: {1: 0}},
        plain=(THUMB, INDEX, MIDDLE, RING),
        follows=Follows(dict.fromkeys((THUMB, INDEX, MIDDLE, RING), IMPOSSIBLE)),
        on_top=True,
        restrikes=True,
        covers=IMPOSSIBLE,
    ),
    rungs=RUNGS,
)

STRUM = Idiom(
    "trial strum",
    "strum with directions",
    ("ukulele",),
    RightHand(
        {
            "S": (Voice(THUMB, Way.DOWN, Want.LEAD, Where.MELODY, also=Where.SHAPE),),
            "s": (Voice(THUMB, Way.UP, Want.LEAD, Where.MELODY, also=Where.SHAPE),),
            "d": (Voice(THUMB, Way.DOWN, Want.LEAD, Where.MELODY),),
            "u": (Voice(THUMB, Way.UP, Want.LEAD, Where.MELODY),),
        },
        (
            Row("down", "d . | d u", 2),
            Row("jig down", "d . u", 2),
            Row("strum", "Sa . | Sa sa", 3, cost=-4),
            Row("strum a beat", "Sa .", 3, cost=-4, moving_from=3),
            Row("jig strum", "Sa . s!", 3, cost=-4, moving_from=3),
            Row("down and up", "Sa sa", 5),
            Row("jig down and up", "Sa! sa! sa!", 5),
        ),
        touches=touches_named("thumb down", "thumb up", "thumb strum", "thumb strum up"),
        single=SingleNotes({}, (THUMB,)),
        lines={THUMB: _free(4)},
        chords={THUMB: _free(4)},
        plain=(THUMB,),
        follows=Follows({}),
        ways={THUMB: Way.DOWN},
        on_top=True,
        restrikes=True,
    ),
    rungs=RUNGS,
)

NOTER = Idiom(
    "trial noter",
    "noter and drone",
    ("dulcimer",),
    RightHand(
        {
            "S": (Voice(PICK, Way.DOWN, Want.LEAD, Where.MELODY, also=Where.SHAPE),),
            "s": (Voice(PICK, Way.UP, Want.LEAD, Where.MELODY, also=Where.SHAPE),),
        },
        (
            Row("long short short", "S . | S s", 2),
            Row("a beat", "S .", 2, cost=-4, moving_from=2),
            Row("jig", "S . s", 2),
            Row("out and in", "S! s!", 5),
            Row("jig out and in", "S! s! s!", 5),
        ),
        touches=touches_named("pick down", "pick up", "strum down", "strum up"),
        single=SingleNotes({}, (PICK,)),
        lines={PICK: _free(4)},
        chords={PICK: _free(4)},
        plain=(PICK,),
        follows=Follows({}),
        ways={PICK: Way.DOWN},
        doubling=Doubling.SAME,
        restrikes=True,
        covers=COSTS["melody string"],
    ),
    left=LeftHand(frozenset({Ornament.SLIDE}), one_finger=True, slur_frets=2),
    rungs=(RUNGS[0], RUNGS[1], Rung("Drones", empty=14), *RUNGS[3:5], Rung("Reach", empty=24, hole=9), RUNGS[6]),
    strings=(1,),
    drones=(2, 3),
)

TRIALS = (PLECTRUM, FINGERSTYLE, STRUM, NOTER)
