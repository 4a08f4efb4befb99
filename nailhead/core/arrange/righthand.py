"""Right hands as tables: which finger reaches which string, what may follow what, what a hole costs."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import IntFlag
from functools import lru_cache

from nailhead.core.arrange.options import USUAL, Options
from nailhead.core.arrange.patterns import CLAWHAMMER, THREE_FINGER, Pattern
from nailhead.core.arrange.values import Hand
from nailhead.core.errors import PathError

#: A way that no hand can go.
IMPOSSIBLE = 10**6

#: Named costs of the right hand in points (handbook §4 and §6; weights ours, see docs/engine.md).
COSTS = {
    "finger twice": 5,  # the striking finger comes twice running at speed, where that may be at all
    "struck off the beat": 4,  # the finger comes down between beats, from the rung of slurs on
    "slur": 0,  # the left hand sounds an off-beat note
    "drop thumb": 2,  # the thumb leaves the fifth string
    "string twice": 5,  # a string is struck twice running inside a roll
    "melody string": 5,  # filling on the string that the melody rings on
    "drone": 1,  # a drone that is no chord tone, on another string than the short one
    "again": 2,  # the melody note is struck again
    "later choice": 1,  # per string further down a slot's list
    "nothing there": 6,  # a slot finds no string that belongs to the chord
    "pattern changes": 9,  # another motion inside the bar …
    "pattern changes at the bar line": 4,  # … or from bar to bar
    "moved note": 10,  # a melody note taken elsewhere than below, and …
    "moved note per fret": 1,  # … per fret it lies higher
    "moved run": 4,  # a run spread over the strings
}
#: What a pulse group costs in which nothing is struck, or only the first of three counts, by rung.
EMPTY: dict[int, int] = {2: 12, 3: 14, 4: 14, 5: 24, 6: 24, 7: 24}
#: What each count costs on which nothing is struck, by rung: from the fifth on the hand keeps moving.
HOLE: dict[int, int] = {5: 9, 6: 9, 7: 9}


#: A rung that no ladder has.
NEVER = 99


class Finger(IntFlag):
    """The fingers behind a hand; the nail is whichever one strikes down. A pinch has two."""

    THUMB = 1
    INDEX = 2
    MIDDLE = 4
    NAIL = 8


@dataclass(frozen=True)
class RightHand:
    """How an idiom's right hand works.

    `reach` prices each string under each finger; `plain` are the hands that strike a melody note by itself; `fingers`
    says which finger is behind a hand; `twice` is the price of the same one at speed. The thumb drops to inner strings
    from `drop_from` on, the left hand slurs from `slur_from` on, notes may move from `move_from` on.
    """

    rows: tuple[Pattern, ...]
    reach: Mapping[Hand, Mapping[int, int]]
    plain: tuple[Hand, ...]
    fingers: Mapping[Hand, Finger]
    twice: int
    melodic: bool
    pinches: tuple[tuple[tuple[Hand, int], tuple[Hand, int]], ...] = ()
    slur_from: int = 4
    drop_from: int = NEVER
    move_from: int = 6
    changes: bool = False
    brushes: Mapping[int, tuple[tuple[int, ...], ...]] = field(default_factory=dict)

    @property
    def drops(self) -> bool:
        """Is the thumb at home on the drone string, so that every other string is a drop?"""
        return self.drop_from < NEVER


#: Strings of a brush by rung, best first: treble strings, struck in one movement (common practice).
BRUSHES: dict[int, tuple[tuple[int, ...], ...]] = {
    2: ((1, 2), (2, 3), (1, 2, 3), (1,), (2,), (3,)),
    3: ((1, 2, 3), (1, 2), (2, 3), (1,), (2,), (3,)),
}

_ALL = {1: 0, 2: 0, 3: 0, 4: 0}
_CLAWHAMMER = RightHand(
    CLAWHAMMER,
    reach={Hand.DOWN: _ALL, Hand.THUMB: {2: 0, 3: 0, 4: 0}},
    plain=(Hand.DOWN,),
    fingers={Hand.DOWN: Finger.NAIL, Hand.BRUSH: Finger.NAIL, Hand.THUMB: Finger.THUMB},
    twice=COSTS["finger twice"],
    melodic=False,
    drop_from=6,
    brushes=BRUSHES,
)
#: Thumb 5, 4, 3; index 3, 2 and 4; middle 1 and 2 (handbook §4). In a single line each finger comes to the others'
#: strings too, but only where else one would strike twice running (common practice).
_STRICT: dict[Hand, dict[int, int]] = {
    Hand.THUMB: {5: 0, 4: 0, 3: 0, 2: 9, 1: 16},
    Hand.INDEX: {2: 0, 3: 1, 4: 4, 1: 8},
    Hand.MIDDLE: {1: 0, 2: 2, 3: 12, 4: 18},
}
#: Two fingers and their strings, best first; the other school pinches with index and middle.
_PINCHES = {
    "thumb and middle": (
        ((Hand.THUMB, 5), (Hand.MIDDLE, 1)),
        ((Hand.THUMB, 3), (Hand.MIDDLE, 1)),
        ((Hand.THUMB, 4), (Hand.MIDDLE, 1)),
        ((Hand.THUMB, 5), (Hand.MIDDLE, 2)),
        ((Hand.THUMB, 3), (Hand.MIDDLE, 2)),
    ),
    "index and middle": (
        ((Hand.INDEX, 2), (Hand.MIDDLE, 1)),
        ((Hand.INDEX, 3), (Hand.MIDDLE, 1)),
        ((Hand.INDEX, 3), (Hand.MIDDLE, 2)),
    ),
}
_PINCHING = {
    "thumb and middle": Finger.THUMB | Finger.MIDDLE,
    "index and middle": Finger.INDEX | Finger.MIDDLE,
}
_THREE_FINGER = RightHand(
    THREE_FINGER,
    reach=_STRICT,
    plain=(Hand.THUMB, Hand.INDEX, Hand.MIDDLE),
    fingers={
        Hand.THUMB: Finger.THUMB,
        Hand.INDEX: Finger.INDEX,
        Hand.MIDDLE: Finger.MIDDLE,
    },
    twice=IMPOSSIBLE,
    melodic=True,
    pinches=_PINCHES["thumb and middle"],
    changes=True,
)
#: Idiom -> its right hand. An idiom without one has the bare rung alone.
HANDS: dict[str, RightHand] = {"clawhammer": _CLAWHAMMER, "three-finger": _THREE_FINGER}


def _check_row(row: Pattern, hand: RightHand, idiom: str) -> None:
    """Refuses a pattern with a sign that this right hand does not play."""
    plays = set(hand.reach) | ({Hand.BRUSH} if hand.brushes else set()) | ({Hand.PINCH} if hand.pinches else set())
    for slot in row.slots:
        if slot.hand is not None and slot.hand not in plays:
            raise PathError(
                f"The pattern “{row.name}” wants a {slot.hand} on count {slot.at + 1}, which {idiom} does not play.",
                field="pattern",
                remedy=f"Use {', '.join(sorted(plays))}.",
            )


@lru_cache(maxsize=64)
def right_hand(idiom: str, options: Options = USUAL, own: tuple[Pattern, ...] = ()) -> RightHand | None:
    """The right hand of an idiom in the school of `options`, with a teacher's own patterns first."""
    hand = HANDS.get(idiom)
    if hand is None:
        return None
    for row in own:
        _check_row(row, hand, idiom)
    reach = dict(hand.reach)
    if options.second_string == "thumb" and Hand.INDEX in reach:
        reach[Hand.THUMB] = {**reach[Hand.THUMB], 2: 1}
        reach[Hand.INDEX] = {**reach[Hand.INDEX], 2: 2}
    return replace(
        hand,
        rows=own + hand.rows,
        reach=reach,
        pinches=_PINCHES[options.pinch] if hand.pinches else (),
        fingers={**hand.fingers, Hand.PINCH: _PINCHING[options.pinch]},
        twice=COSTS["finger twice"] if options.same_finger == "allowed" else hand.twice,
    )
