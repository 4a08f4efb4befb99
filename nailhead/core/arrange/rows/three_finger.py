"""The rolls of three fingers (handbook §4; the half-bar rows are common practice). `!` marks the strong slots.

T I M  thumb, index, middle: melody where it begins, else a tone of the chord or the drone
*      whichever finger is free, as T I M           P  two fingers together: chord tones and drone
n      the melody note that begins there, by whichever finger is free
Q  the melody note that begins there, pinched with the drone or string 1
h  the left hand alone sounds the melody note there
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
from nailhead.core.arrange.rows.patterns import Alphabet, Voice, Want, Where
from nailhead.core.arrange.rows.touches import touches_named
from nailhead.core.arrange.values import Finger, Way
from nailhead.core.music.layers import Layer

THUMB, INDEX, MIDDLE = Finger.THUMB, Finger.INDEX, Finger.MIDDLE


def _roll(finger: Finger | None) -> tuple[Voice, ...]:
    return (Voice(finger, Way.PLUCK, Want.ANY),)


def _pinched(finger: Finger, *strings: int) -> Voice:
    return Voice(finger, Way.PLUCK, Want.FILL, Where.LISTED, strings, called="pinch")


#: Two fingers and their strings, best first; the other school pinches with index and middle.
THUMB_AND_MIDDLE = (_pinched(THUMB, 5, 3, 4), _pinched(MIDDLE, 1, 2))
INDEX_AND_MIDDLE = (_pinched(INDEX, 2, 3), _pinched(MIDDLE, 1, 2))

#: The melody by whichever finger is free, the drone or string 1 by another.
PINCHED_MELODY = (
    Voice(None, Way.PLUCK, Want.JOIN, must=True),
    Voice(None, Way.PLUCK, Want.FILL, Where.LISTED, (5, 1), called="pinch"),
)

ALPHABET: Alphabet = {
    "T": _roll(THUMB),
    "I": _roll(INDEX),
    "M": _roll(MIDDLE),
    "*": _roll(None),
    "n": (Voice(None, Way.PLUCK, Want.JOIN),),
    "P": THUMB_AND_MIDDLE,
    "Q": PINCHED_MELODY,
    "h": (Voice(None, Way.LEFT, Want.SLUR, must=True),),
}

_FORWARD, _BACKWARD, _THUMB, _THREES = "forward", "backward", "alternating thumb", "threes"
ROWS = (
    Row("pinch", "*! . | P .", 2, moving_from=2, to_rung=4),
    Row("pinched notes", "*! . | Q! .", 2, moving_from=2, to_rung=4),
    Row("waltz pinch", "*! . | P . | P .", 2, moving_from=2, to_rung=4),
    Row("pinched waltz", "*! . | Q! . | Q! .", 2, moving_from=2, to_rung=4),
    Row("pinch alone", "P .", 2, cost=4),
    Row("pinched note", "Q! .", 2, cost=4, moving_from=2, to_rung=4),
    Row("pinch and slur", "Q! h!", 4, cost=2, moving_from=4, to_rung=4),
    Row("note and thumb", "*! . T5", 2, to_rung=4),
    Row("jig pinch", "*! . P", 3, cost=-1, to_rung=4),
    Row("pinched jig", "n! . n! | Q! . n!", 2, cost=-4, moving_from=2, to_rung=4),
    Row("pinched beat", "Q! . n!", 2, cost=6, moving_from=2, to_rung=4),
    Row("short forward", "T345! I23 | M12 T53!", 3, family=_FORWARD),
    Row("short forward from the index", "I234! M12 | T5 M12", 3, family=_FORWARD),
    Row("short backward", "M12! I23 | T5 M12!", 3, family=_BACKWARD),
    Row("short reverse", "M12! I23 | T53! I23", 3, cost=1, family=_BACKWARD),
    Row("short alternating", "T345! I23 | T53! M12!", 3, cost=1, family=_THUMB),
    Row("forward", "T345! I23 | M12 T53! | I23! M12 | T53! M12", 6, cost=-4, family=_FORWARD),
    Row("backward", "M12! I23 | T53 M12! | I23! T53 | M12! I23", 6, cost=-4, family=_BACKWARD),
    Row("forward-reverse", "T345! I23 | M12 T53! | M12! I23 | T345! M12", 6, cost=-5, family=_FORWARD),
    Row("alternating thumb", "T345! I23 | T53! M12 | T435! I23 | T53! M12", 3, cost=1, family=_THUMB),
    Row("threes forward", "T345! I23 M12", 5, family=_THREES),
    Row("threes from the index", "I234! T53 M12", 5, family=_THREES),
    Row("threes to the thumb", "I234! M12 T53", 5, family=_THREES),
    Row("threes backward", "M12! I23 T53", 5, family=_THREES),
    Row("waltz roll", "*! . | T345! I23 | T53! M12", 3, family="waltz"),
    Row("waltz in eighths", "T345! I23 | T53! M12 | T53! M12", 5, family="waltz"),
    Row("thumb behind", "*! T53", 5, cost=10),
    Row("alternating", "*! *5123!", 5, cost=12, family="alternating"),
    Row("threes alternating", "*! *5123 *5123!", 5, cost=12, family="alternating"),
    Row("late forward", "*! . | T345! I23 | M12 T53! | I23 M12", 6, cost=1, family=_FORWARD),
)

RUNGS = (
    Rung("Bare", layer=Layer.PAIRS),
    Rung("Basic stroke", layer=Layer.PAIRS, empty=12),
    Rung("Chords", (Adds.SHAPES,), Layer.PAIRS, empty=14),
    Rung("Slurs", (Adds.SLURS,), Layer.PAIRS, (Catch.SLUR, Catch.DRONE), empty=14),
    Rung("Flow", (Adds.FLOW,), Layer.BEAT, thins=Layer.BONES, empty=24, hole=18),
    Rung("Reach", (Adds.MOVES, Adds.DOUBLES), Layer.BEAT, thins=Layer.BONES, empty=24, hole=18),
    Rung("Solo", (Adds.SOLO, Adds.PUSHES), Layer.BEAT, thins=Layer.BONES, empty=24, hole=18),
)

#: Thumb 5, 4, 3; index 3, 2 and 4; middle 1 and 2 (handbook §4). In a single line each finger comes to the others'
#: strings too, but only where else one would strike twice running (common practice).
LINES = {
    THUMB: {5: 0, 4: 0, 3: 0, 2: 9, 1: 16},
    INDEX: {2: 0, 3: 1, 4: 4, 1: 8},
    MIDDLE: {1: 0, 2: 2, 3: 60, 4: 65},
}
#: What accompanies is struck by the finger whose string it is.
CHORDS = {THUMB: {5: 0, 4: 0, 3: 0}, INDEX: {2: 0, 3: 1, 4: 4, 1: 8}, MIDDLE: {1: 0, 2: 2}}

RIGHT = RightHand(
    ALPHABET,
    ROWS,
    touches=touches_named("thumb", "index", "middle"),
    single=SingleNotes({1: (MIDDLE,), 2: (INDEX,)}, (THUMB,)),
    lines=LINES,
    chords=CHORDS,
    plain=(THUMB, INDEX, MIDDLE),
    drone_sings=2,
    follows=Follows(
        dict.fromkeys((THUMB, INDEX, MIDDLE), IMPOSSIBLE), COSTS["string cut"], order=(THUMB, INDEX, MIDDLE)
    ),
    doubling=Doubling.FREE,
    spreads=True,
    change_at_bar_line=COSTS["pattern changes at the bar line"],
)


def _thumb_on_second(right: RightHand) -> RightHand:
    def eased(reach: dict[Finger, dict[int, int]]) -> dict[Finger, dict[int, int]]:
        return {**reach, THUMB: {**reach[THUMB], 2: 1}, INDEX: {**reach[INDEX], 2: 2}}

    return replace(right, lines=eased(LINES), chords=eased(CHORDS))


def _pinching(voices: tuple[Voice, ...]) -> dict[str, tuple[Voice, ...]]:
    return {**ALPHABET, "P": voices}


def _tired(right: RightHand) -> RightHand:
    """A finger may come twice running; the thumb never does."""
    again = dict.fromkeys((INDEX, MIDDLE), COSTS["finger twice"])
    return replace(right, follows=replace(right.follows, again={**again, THUMB: IMPOSSIBLE}))


def _melodic(idiom: Idiom) -> Idiom:
    """The whole melody from flow on, runs over the strings; what is held is rolled."""
    rungs = tuple(
        replace(
            rung,
            layer=Layer.FULL,
            thins=Layer.BEAT if Adds.SOLO in rung.adds else None,
            adds=(*rung.adds, Adds.MOVES) if Adds.FLOW in rung.adds else rung.adds,
        )
        if idiom.has(Adds.FLOW, number)
        else rung
        for number, rung in enumerate(idiom.rungs, 1)
    )
    return replace(idiom, rungs=rungs)


THREE_FINGER = Idiom(
    "three-finger",
    "three-finger",
    ("banjo",),
    RIGHT,
    rungs=RUNGS,
    tunings=("gDGBD", "aDF#AD"),
    choices=(
        FIRST_RUNG,
        Choice("style", "Rungs 5 to 7", {"rolls": as_written, "melodic": _melodic}),
        Choice("second_string", "String 2 in fast rolls", {"index": as_written, "thumb": by_hand(_thumb_on_second)}),
        Choice(
            "pinch",
            "Pinch with",
            {
                "thumb and middle": as_written,
                "index and middle": by_hand(lambda right: replace(right, alphabet=_pinching(INDEX_AND_MIDDLE))),
            },
        ),
        Choice("same_finger", "Same finger twice at speed", {"never": as_written, "allowed": by_hand(_tired)}),
        *FRAMES,
    ),
)
