"""Horizontal spacing: where each moment of a bar stands. Rungs of one bar share their column."""

from __future__ import annotations

import itertools
from bisect import bisect_right
from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from math import log2

from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.music.metre import Time
from nailhead.sheet.style import Style

#: Width of an eighth in gaps, and what each doubling of length adds: long notes get more room, not twice as much.
_EIGHTH = 2.0
_DOUBLING = 0.8
_LEAST = 1.6
#: What a grace before the first note adds, in gaps.
GRACE_ROOM = 0.9


@dataclass(frozen=True, slots=True)
class Column:
    """One bar's times and where they stand (mm from the bar line); the last time is the bar's end."""

    times: tuple[Time, ...]
    places: tuple[float, ...]
    width: float

    def x(self, time: Time) -> float:
        """Where a moment stands, between the known ones in proportion."""
        at = bisect_right(self.times, time) - 1
        if at + 1 >= len(self.times):
            return self.places[-1]
        share = float((time - self.times[at]) / (self.times[at + 1] - self.times[at]))
        return self.places[at] + share * (self.places[at + 1] - self.places[at])

    def stretched(self, factor: float) -> Column:
        """The same column wider (or narrower), notes spread evenly."""
        return Column(self.times, tuple(place * factor for place in self.places), self.width * factor)


def column_for(bars: Iterable[ArrangedBar], style: Style, extra_left: float = 0.0, more: Iterable[Time] = ()) -> Column:
    """A column in which every onset of the bars and of `more` has its place.

    `extra_left` leaves room for a repeat sign.

    A first note that is come to from another fret stands further in, so that the small number has room.
    """
    together = list(bars)
    times = {stroke.onset for bar in together for stroke in bar.strokes} | {together[0].length, *more}
    grace = any(note.slur and note.slur.grace for bar in together for note in bar.strokes[0].notes)
    return column_of(times, style, extra_left + GRACE_ROOM * style.gap * grace)


def column_of(moments: Iterable[Time], style: Style, extra_left: float = 0.0) -> Column:
    """A column for these moments, the last of them the bar's end."""
    times = sorted(moments)
    x = style.padding + extra_left
    places = [x]
    for before, after in itertools.pairwise(times):
        x += style.gap * max(_LEAST, _EIGHTH + _DOUBLING * log2(float((after - before) / Fraction(1, 8))))
        places.append(x)
    return Column(tuple(times), tuple(places), x + 0.3 * style.gap)


@dataclass(frozen=True, slots=True)
class Need:
    """At least `mm` between two moments of a bar, so that what stands there does not collide."""

    start: Time
    end: Time
    mm: float


def with_room(column: Column, needs: Iterable[Need]) -> Column:
    """The column widened until every need is met; needs come in order of their end."""
    places, width = list(column.places), column.width
    for need in needs:
        current = Column(column.times, tuple(places), width)
        missing = need.mm - (current.x(need.end) - current.x(need.start))
        if missing > 0:
            places = [
                place + missing if time >= need.end else place for time, place in zip(column.times, places, strict=True)
            ]
            width += missing
    return Column(column.times, tuple(places), width)
