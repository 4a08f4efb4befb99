"""Ways through the first groups of a bar, and how they go on: what the search through a bar carries along."""

from __future__ import annotations

from collections.abc import Callable
from operator import attrgetter, itemgetter
from typing import NamedTuple

from nailhead.core.arrange.fit.offering import Strike
from nailhead.core.arrange.rows.costs import HOPELESS
from nailhead.core.arrange.rows.patterns import Pattern

COST = attrgetter("cost")
#: So many ways are carried on that begin, end and move alike.
ALIKE = 2


class Solved(NamedTuple):
    """One way through a row or a group: what is struck in it, and whether anything but the melody is."""

    cost: int
    strikes: tuple[Strike, ...]
    first: Strike | None
    last: Strike | None
    filled: bool
    signature: tuple[tuple[int, int, tuple[int, ...]], ...] = ()
    end: tuple[int, ...] = ()


class Label(NamedTuple):
    """A way through the first groups of a bar: its cost, last strike, motion, and how it came there.

    Labels with the same `end` go on alike.
    """

    cost: int
    opening: int
    last: Strike | None
    end: tuple[int, ...]
    family: str
    before: Label | None
    way: Solved
    row: Pattern | None
    start: int

    def parts(self) -> list[Label]:
        """It and those it came by, in the order of playing."""
        found: list[Label] = []
        at: Label | None = self
        while at is not None and at.before is not None:
            found.append(at)
            at = at.before
        return found[::-1]


NOTHING = Solved(0, (), None, None, False)


def thin(labels: list[Label], keep: int, alike: int = ALIKE) -> list[Label]:
    """The best `alike` of each way to begin, end and move; beyond a number only the first of each pair of fingers."""
    kept: list[Label] = []
    seen: dict[object, int] = {}
    ends: set[tuple[int, tuple[int, ...]]] = set()
    for label in sorted(labels, key=COST):
        key = (label.opening, label.end, label.family)
        end = (label.opening, label.end[:1])
        times = seen.get(key, 0)
        if times < alike and (len(kept) < keep or end not in ends):
            seen[key] = times + 1
            ends.add(end)
            kept.append(label)
    return kept


class Arrivals:
    """The labels that have come as far as a group, and what it costs to go on from them.

    `price` is what one strike behind another costs, `count` ticks being a count, `change` another motion.
    """

    def __init__(
        self,
        labels: list[Label],
        price: Callable[[Strike | None, Strike, int], int],
        change: int,
        count: int,
        alike: int = ALIKE,
    ) -> None:
        self.labels, self.price, self.change, self.count, self.alike = labels, price, change, count, alike
        self._onward: dict[tuple[object, ...], list[tuple[int, int, str, Label]]] = {}
        self._reached: dict[object, list[tuple[int, Label]]] = {}

    def extend(self, way: Solved, row: Pattern | None, start: int) -> list[Label]:
        """The labels that a way makes of these."""
        family = row.family if row and way.filled else ""
        more, last, end = way.cost, way.last, way.end
        return [
            Label(cost + more, opening, last or label.last, end or label.end, motion, label, way, row, start)
            for cost, opening, motion, label in self._going_on(way.first, family)
        ]

    def _going_on(self, first: Strike | None, family: str) -> list[tuple[int, int, str, Label]]:
        """Cost, opening, motion and label of each that a strike and a motion can follow.

        Of those that opened and move alike the cheapest will do, as what follows decides how they end.
        """
        after = first and (first.at, first.fingers, first.strings, first.melody, first.left)
        key = after, family
        if key not in self._onward:
            if after not in self._reached:
                self._reached[after] = self._reach(first)
            opens = first.fingers if first else 0
            change = self.change if family else 0
            found = [
                (
                    cost + change if label.family and label.family != family else cost,
                    label.opening or opens,
                    family or label.family,
                    label,
                )
                for cost, label in self._reached[after]
            ]
            self._onward[key] = _few_of_each(found, self.alike) if first else found
        return self._onward[key]

    def _reach(self, first: Strike | None) -> list[tuple[int, Label]]:
        """The labels that a strike can follow, with what they cost until then, whatever the motion."""
        if first is None:
            return [(label.cost, label) for label in self.labels]
        priced = ((label.cost + self.price(label.last, first, self.count), label) for label in self.labels)
        return [one for one in priced if one[0] < HOPELESS]


def _few_of_each(found: list[tuple[int, int, str, Label]], alike: int) -> list[tuple[int, int, str, Label]]:
    """The `alike` cheapest with each opening and motion."""
    kept: list[tuple[int, int, str, Label]] = []
    times: dict[tuple[int, str], int] = {}
    for one in sorted(found, key=itemgetter(0)):
        key = one[1:3]
        seen = times.get(key, 0)
        if seen < alike:
            times[key] = seen + 1
            kept.append(one)
    return kept
