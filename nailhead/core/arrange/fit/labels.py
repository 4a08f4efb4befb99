"""Ways through the first groups of a bar, and how they go on: what the search through a bar carries along."""

from __future__ import annotations

from collections.abc import Callable
from itertools import chain
from operator import attrgetter, itemgetter
from typing import NamedTuple

from nailhead.core.arrange.fit.offering import Strike
from nailhead.core.arrange.rows.costs import IMPOSSIBLE
from nailhead.core.arrange.rows.patterns import Pattern

COST = attrgetter("cost")


class Solved(NamedTuple):
    """One way through a row or a group: what is struck in it, and whether anything but the melody is."""

    cost: int
    strikes: tuple[Strike, ...]
    first: Strike | None
    last: Strike | None
    filled: bool
    signature: tuple[object, ...] = ()
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


NOTHING = Solved(0, (), None, None, False)


#: The two best labels of each way to begin, end and move.
Place = dict[tuple[int, tuple[int, ...], str], list[Label]]


def thin(place: Place, keep: int) -> list[Label]:
    """The labels of a place, best first; beyond a number only the first of each pair of fingers."""
    kept: list[Label] = []
    ends: set[tuple[int, tuple[int, ...]]] = set()
    for label in sorted(chain.from_iterable(place.values()), key=COST):
        end = (label.opening, label.end[:1])
        if len(kept) < keep or end not in ends:
            ends.add(end)
            kept.append(label)
    return kept


class Arrivals:
    """The labels that have come as far as a group, and what it costs to go on from them.

    `price` is what one strike behind another costs, `count` ticks being a count, `change` another motion.
    """

    def __init__(
        self, labels: list[Label], price: Callable[[Strike | None, Strike, int], int], change: int, count: int
    ) -> None:
        self.labels, self.price, self.change, self.count = labels, price, change, count
        self._onward: dict[tuple[object, ...], list[tuple[int, int, str, Label]]] = {}

    def extend(self, place: Place, way: Solved, row: Pattern | None, start: int) -> None:
        """Adds to a place the labels that a way makes of these, where they are among the two best of their kind."""
        family = row.family if row and way.filled else ""
        last, end, way_cost = way.last, way.end, way.cost
        for cost, opening, motion, label in self._going_on(way.first, family):
            total = cost + way_cost
            key = (opening, end or label.end, motion)
            there = place.get(key)
            if there is None:
                there = place[key] = []
            elif len(there) == 2:
                if total >= there[1].cost:
                    continue
                there.pop()
            made = Label(total, opening, last or label.last, key[1], motion, label, way, row, start)
            there.insert(0 if there and total < there[0].cost else len(there), made)

    def _going_on(self, first: Strike | None, family: str) -> list[tuple[int, int, str, Label]]:
        """Cost, opening, motion and label of each that a strike and a motion can follow.

        Of those that opened and move alike the two cheapest will do, as what follows decides how they end.
        """
        key = first and (first.at, first.fingers, first.strings, first.melody, first.left), family
        if key not in self._onward:
            found = [one for label in self.labels if (one := self._step(label, first, family))]
            self._onward[key] = _two_of_each(found) if first else found
        return self._onward[key]

    def _step(self, label: Label, first: Strike | None, family: str) -> tuple[int, int, str, Label] | None:
        cost = label.cost
        if first:
            cost += self.price(label.last, first, self.count)
            if cost >= IMPOSSIBLE:
                return None
        if family and label.family and family != label.family:
            cost += self.change
        return cost, label.opening or (first.fingers if first else 0), family or label.family, label


def _two_of_each(found: list[tuple[int, int, str, Label]]) -> list[tuple[int, int, str, Label]]:
    """The two cheapest with each opening and motion."""
    kept: list[tuple[int, int, str, Label]] = []
    times: dict[tuple[int, str], int] = {}
    for one in sorted(found, key=itemgetter(0)):
        key = one[1:3]
        seen = times.get(key, 0)
        if seen < 2:
            times[key] = seen + 1
            kept.append(one)
    return kept
