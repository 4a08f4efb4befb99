"""Right-hand patterns as data.

A pattern fills a row of *pulse groups*: two counts in simple time, three in compound. A count is the
shortest stroke (an eighth in 4/4, 3/4 and 6/8, a sixteenth in 2/4). Each slot tells when it comes, how
long it lasts, what the hand does and what it wants. Adding a stroke is adding a row.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from functools import lru_cache

from nailhead.core.arrange.values import Hand
from nailhead.core.music.metre import Metre, Time


class Want(StrEnum):
    """What a slot asks for. LEAD is the melody note, or a chord tone where it is sounding already."""

    LEAD = "lead"
    BRUSH = "brush"
    DRONE = "drone"


@dataclass(frozen=True, slots=True)
class Slot:
    """`at` and `counts` in counts from the start of the pattern."""

    at: int
    counts: int
    hand: Hand
    want: Want


@dataclass(frozen=True, slots=True)
class Pattern:
    """A stroke pattern. `groups` are the pulse groups it fills, `from_rung` the first rung that uses it.

    Where several rows can fill a note, the least `cost` wins. `after_lead` rows only continue a note
    that began off the beat.
    """

    name: str
    groups: tuple[int, ...]
    slots: tuple[Slot, ...]
    from_rung: int
    cost: int
    after_lead: bool = False


_L, _B, _D = Want.LEAD, Want.BRUSH, Want.DRONE
_DOWN, _BRUSH, _THUMB = Hand.DOWN, Hand.BRUSH, Hand.THUMB

#: The clawhammer strokes (handbook §4). The finger strikes down on the beat and its half, the thumb
#: takes the fifth string behind it.
CLAWHAMMER: tuple[Pattern, ...] = (
    Pattern(
        "basic stroke",
        (2, 2),
        (Slot(0, 2, _DOWN, _L), Slot(2, 1, _BRUSH, _B), Slot(3, 1, _THUMB, _D)),
        from_rung=2,
        cost=0,
    ),
    Pattern(
        "long stroke",
        (2, 2, 2),
        (
            Slot(0, 2, _DOWN, _L),
            Slot(2, 1, _BRUSH, _B),
            Slot(3, 1, _THUMB, _D),
            Slot(4, 1, _BRUSH, _B),
            Slot(5, 1, _THUMB, _D),
        ),
        from_rung=2,
        cost=1,
    ),
    Pattern(
        "jig stroke",
        (3,),
        (Slot(0, 1, _DOWN, _L), Slot(1, 1, _BRUSH, _B), Slot(2, 1, _THUMB, _D)),
        from_rung=2,
        cost=0,
    ),
    Pattern(
        "late stroke",
        (2,),
        (Slot(0, 1, _BRUSH, _B), Slot(1, 1, _THUMB, _D)),
        from_rung=2,
        cost=1,
        after_lead=True,
    ),
    Pattern(
        "double thumb",
        (2,),
        (Slot(0, 1, _DOWN, _L), Slot(1, 1, _THUMB, _D)),
        from_rung=3,
        cost=3,
    ),
    Pattern("let it ring", (2,), (Slot(0, 2, _DOWN, _L),), from_rung=2, cost=6),
)
RING = CLAWHAMMER[-1]

#: Metres whose count is not an eighth: (beats, unit) -> count.
COUNTS: dict[tuple[int, int], Time] = {
    (2, 4): Fraction(1, 16),
    (3, 2): Fraction(1, 8),
    (4, 2): Fraction(1, 8),
    (3, 16): Fraction(1, 16),
    (6, 16): Fraction(1, 16),
    (9, 16): Fraction(1, 16),
    (12, 16): Fraction(1, 16),
}


@dataclass(frozen=True, slots=True)
class Clock:
    """The right hand's clock in a metre: the length of a count, and the groups that fill a bar."""

    count: Time
    groups: tuple[int, ...]


def clock_of(metre: Metre) -> Clock:
    """Threes in compound time, twos in simple time, the metre's own groups in additive time."""
    count = COUNTS.get((metre.beats, metre.unit), Fraction(1, 8))
    if metre.compound or (metre.unit >= 8 and set(metre.grouping) != {2}):
        return Clock(Fraction(1, metre.unit), metre.grouping)
    return Clock(count, (2,) * max(1, int(metre.length / count / 2)))


def fill_groups(groups: tuple[int, ...], rung: int, after_lead: bool) -> tuple[Pattern, ...] | None:
    """The cheapest row of patterns that fills the groups exactly, or None.

    Exhaustive with memory: notes are short. A note that is only left to ring is not a pattern.
    """
    best = _fill(groups, rung, after_lead)
    if best is None or all(pattern.name == RING.name for pattern in best[1]):
        return None
    return best[1]


@lru_cache(maxsize=1024)
def _fill(groups: tuple[int, ...], rung: int, after_lead: bool) -> tuple[int, tuple[Pattern, ...]] | None:
    if not groups:
        return 0, ()
    best: tuple[int, tuple[Pattern, ...]] | None = None
    for pattern in CLAWHAMMER:
        size = len(pattern.groups)
        if pattern.from_rung > rung or pattern.after_lead != after_lead or pattern.groups != groups[:size]:
            continue
        rest = _fill(groups[size:], rung, False)
        if rest is not None and (best is None or pattern.cost + rest[0] < best[0]):
            best = (pattern.cost + rest[0], (pattern, *rest[1]))
    return best
