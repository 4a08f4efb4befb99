"""Ways to play a whole bar, and which of them are kept: the cheapest of each way to begin and end."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import chain
from typing import Protocol, TypeVar

from nailhead.core.arrange.fit.labels import COST, Label
from nailhead.core.arrange.fit.offering import Strike
from nailhead.core.arrange.rows.patterns import Pattern


@dataclass(frozen=True, slots=True)
class Cell:
    """One way to play a bar. `rows` are the patterns in order (None: notes by themselves) with where they begin."""

    cost: int
    strikes: tuple[Strike, ...]
    rows: tuple[tuple[Pattern | None, int], ...]
    first: Strike | None
    last: Strike | None

    def without_last(self, price: int) -> Cell:
        """The same without what is struck last, at a price."""
        struck = tuple(strike for strike in self.strikes if strike is not self.last)
        last = next((strike for strike in reversed(struck) if strike.touches), None)
        return Cell(self.cost + price, struck, self.rows, self.first, last)


class Ended(Protocol):
    """Anything with a cost that begins and ends with a strike."""

    @property
    def cost(self) -> int: ...
    @property
    def first(self) -> Strike | None: ...
    @property
    def last(self) -> Strike | None: ...


E = TypeVar("E", bound=Ended)


def best_of_ends(found: Sequence[E], keep: int) -> list[E]:
    """The cheapest of each way to begin and end, then the next cheapest up to `keep`, cheapest first.

    So every join finds a partner whose fingers are free.
    """
    chosen: list[E] = []
    rest: list[E] = []
    ends: set[tuple[int, int]] = set()
    for one in sorted(found, key=COST):
        end = (one.first.fingers if one.first else 0, one.last.fingers if one.last else 0)
        (rest if end in ends else chosen).append(one)
        ends.add(end)
    return sorted(chosen + rest[: max(0, keep - len(chosen))], key=COST)


def finished(labels: list[Label], keep: int, apart: bool) -> list[Cell]:
    """Cells from the last labels: the best of each way to begin and end first, then the next best.

    Labels come cheapest first; of those that differ in fingers alone only the first is told `apart`.
    """
    ends = [_ends(label) for label in labels]
    # Beside the first of each kind so many are wanted: what is dearer is not looked at.
    more = len(labels) if apart else keep - len(set(ends))
    begun: set[tuple[int, int]] = set()
    distinct: dict[tuple[object, ...], Cell] = {}
    for label, end in zip(labels, ends, strict=True):
        if end in begun and more <= 0:
            continue
        parts = label.parts()
        struck = tuple(chain.from_iterable(part.way.signature for part in parts))
        signature = tuple((when, where) for when, _, where in struck) if apart else struck
        if signature not in distinct:
            more -= end in begun
            begun.add(end)
            first = next((part.way.first for part in parts if part.way.first), None)
            strikes = tuple(chain.from_iterable(part.way.strikes for part in parts))
            rows = tuple((part.row, part.start) for part in parts)
            distinct[signature] = Cell(label.cost, strikes, rows, first, label.last)
    return best_of_ends(list(distinct.values()), keep)


def _ends(label: Label) -> tuple[int, int]:
    """The fingers (as bits) of the first and the last strike."""
    first, at = 0, label
    while at.before is not None:
        if at.way.first:
            first = at.way.first.fingers
        at = at.before
    return first, label.last.fingers if label.last else 0
