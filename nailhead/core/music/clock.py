"""The right hand's clock in a metre: how long a count is, and the groups of counts that fill a bar."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from itertools import accumulate, cycle

from nailhead.core.music.metre import Metre, Time

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
    """The length of a count, and the groups that fill a bar."""

    count: Time
    groups: tuple[int, ...]

    def in_group(self, counts: Time) -> int | None:
        """Which count of its group a moment is, so many counts into a full bar; None between the counts."""
        if counts.denominator != 1:
            return None
        left = int(counts)
        for size in self._sizes():
            if left < size:
                return left
            left -= size
        return None

    @property
    def unit_starts(self) -> tuple[int, ...]:
        """The counts on which a stroke unit begins: every group, where they are twos every other one of an even bar."""
        starts = tuple(accumulate((0, *self.groups[:-1])))
        if set(self.groups) != {2}:
            return starts
        return starts[:: 2 if len(starts) % 2 == 0 else len(starts)]

    def _sizes(self) -> Iterator[int]:
        return cycle(self.groups or (2,))


@cache
def clock_of(metre: Metre) -> Clock:
    """Threes in compound time, twos in simple time, the metre's own groups in additive time."""
    count = COUNTS.get((metre.beats, metre.unit), Fraction(1, 8))
    if metre.compound or (metre.unit >= 8 and set(metre.grouping) != {2}):
        return Clock(Fraction(1, metre.unit), metre.grouping)
    return Clock(count, (2,) * max(1, int(metre.length / count / 2)))
