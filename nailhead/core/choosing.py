"""Chooses a cell for every bar so that the joins go well, equal bars alike.

Equal bars are one variable, so the joins of a tune form a graph with cycles and a path through the bars will not do.
Variables are eliminated one by one, each into a table over its neighbours (non-serial dynamic programming after
Bertelè and Brioschi, 1972); that is exact. Tunes are nearly chains, so the tables stay small. Where one would not,
every cell of the bar with most neighbours is tried in turn, and what is then still dear is improved bar by bar.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Hashable, Mapping, Sequence
from dataclasses import dataclass
from math import prod
from typing import Generic, NamedTuple, Protocol, TypeVar

import numpy as np
from numpy.typing import NDArray

#: Largest table of an elimination.
MOST_ENTRIES = 200_000


class Priced(Protocol):
    """Anything that may be chosen for a bar."""

    @property
    def cost(self) -> int: ...


T = TypeVar("T", bound=Priced)
Table = NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class _Factor:
    """A table over some classes, one axis each in their order."""

    names: tuple[int, ...]
    table: Table


@dataclass(frozen=True, slots=True)
class Chosen(Generic[T]):
    """The choice for each class, and what bars and joins cost together."""

    cells: Mapping[int, T]
    cost: int


def choose_cells(
    classes: Sequence[int],
    candidates: Mapping[int, Sequence[T]],
    joins: Sequence[tuple[int, int]],
    price: Callable[[int, T, int, T], int],
    ends: Callable[[T], tuple[Hashable, Hashable]] | None = None,
) -> Chosen[T]:
    """The cheapest cell for each class. `classes` gives each written bar's, `joins` the steps from bar to bar.

    `ends` says by what a cell
    begins and ends: cells of a class that agree in it have the same price, which is asked for once.
    """
    factors = [*_bar_tables(classes, candidates), *_join_tables(classes, candidates, joins, price, ends)]
    sizes = {name: len(candidates[name]) for name in candidates}
    chosen = _improved(factors, _eliminated(factors, sizes))
    cost = _cost_of(factors, chosen)
    return Chosen({name: candidates[name][chosen[name]] for name in candidates}, cost)


def _improved(factors: Sequence[_Factor], chosen: dict[int, int]) -> dict[int, int]:
    """The same choice with each class on its cheapest cell beside the others, as long as any gets cheaper.

    Elimination is exact and leaves nothing to do; where tables grew too large, a class may stand on its first cell.
    """
    touching: dict[int, list[_Factor]] = {name: [] for name in chosen}
    for factor in factors:
        for name in factor.names:
            touching[name].append(factor)
    better = True
    while better:
        better = False
        for name in sorted(chosen):
            rows = [
                factor.table[tuple(slice(None) if other == name else chosen[other] for other in factor.names)]
                for factor in touching[name]
            ]
            costs = np.sum(rows, axis=0)
            best = int(costs.argmin())
            if costs[best] < costs[chosen[name]]:
                chosen[name], better = best, True
    return chosen


def _eliminated(factors: Sequence[_Factor], sizes: Mapping[int, int], exact: bool = True) -> dict[int, int]:
    """The place of the cheapest cell of each class.

    Where a table would grow too large, each cell of the class with most neighbours is tried in turn (the cutset); what
    grows too large under that again is fixed to its own first cell.
    """
    graph = _Graph(factors, sizes)
    trail: list[tuple[int, tuple[int, ...], Table]] = []
    chosen: dict[int, int] = {}
    while graph.entries:
        name = min(graph.entries, key=lambda other: (graph.entries[other], other))
        if graph.entries[name] > MOST_ENTRIES:
            chosen = _tried(graph, exact)
            break
        around = graph.around(name)
        joint = _joint(graph.touching[name], (*around, name), sizes)
        trail.append((name, around, joint.argmin(axis=-1)))
        graph.replace(name, [_Factor(around, joint.min(axis=-1))])
    for name, around, best in reversed(trail):
        chosen[name] = int(best[tuple(chosen[other] for other in around)])
    return chosen


def _tried(graph: _Graph, exact: bool) -> dict[int, int]:
    """The best choice of all that is left, over the cells of the class with most neighbours."""
    name = max(graph.entries, key=lambda other: (len(graph.around(other)), -other))
    left = {other: graph.sizes[other] for other in graph.entries if other != name}
    factors = list({id(factor): factor for row in graph.touching.values() for factor in row}.values())
    found = []
    for place in range(graph.sizes[name] if exact else 1):
        fixed = [_fixed(factor, name, place) for factor in factors]
        chosen = _eliminated(fixed, left, exact=False)
        found.append((_cost_of(fixed, chosen), place, chosen))
    _, place, chosen = min(found, key=lambda one: one[:2])
    return {**chosen, name: place}


def _cost_of(factors: Sequence[_Factor], chosen: Mapping[int, int]) -> int:
    return sum(int(factor.table[tuple(chosen[name] for name in factor.names)]) for factor in factors)


class _Graph:
    """Which tables touch which classes, and how large the table of each class's elimination would be."""

    def __init__(self, factors: Sequence[_Factor], sizes: Mapping[int, int]) -> None:
        self.sizes = sizes
        self.touching: dict[int, list[_Factor]] = {name: [] for name in sizes}
        for factor in factors:
            for name in factor.names:
                self.touching[name].append(factor)
        self.entries = {name: self._count(name) for name in sizes}

    def around(self, name: int) -> tuple[int, ...]:
        """The classes that share a table with one."""
        return tuple(sorted({other for factor in self.touching[name] for other in factor.names} - {name}))

    def replace(self, name: int, instead: Sequence[_Factor]) -> None:
        """Takes a class out; other tables stand for those it was in."""
        gone = {id(factor) for factor in self.touching.pop(name)}
        del self.entries[name]
        changed = {other for factor in instead for other in factor.names}
        for other in changed:
            self.touching[other] = [factor for factor in self.touching[other] if id(factor) not in gone]
        for factor in instead:
            for other in factor.names:
                self.touching[other].append(factor)
        for other in changed:
            self.entries[other] = self._count(other)

    def _count(self, name: int) -> int:
        return self.sizes[name] * prod(self.sizes[other] for other in self.around(name))


def _bar_tables(classes: Sequence[int], candidates: Mapping[int, Sequence[T]]) -> list[_Factor]:
    """What each class costs as often as it is written."""
    written = Counter(classes)
    return [
        _Factor((name,), np.array([written[name] * cell.cost for cell in cells], dtype=np.int64))
        for name, cells in candidates.items()
    ]


def _join_tables(
    classes: Sequence[int],
    candidates: Mapping[int, Sequence[T]],
    joins: Sequence[tuple[int, int]],
    price: Callable[[int, T, int, T], int],
    ends: Callable[[T], tuple[Hashable, Hashable]] | None,
) -> list[_Factor]:
    """What each join between two classes costs."""
    found = []
    begins, closes = _alike(candidates, ends)
    times: dict[tuple[int, int], int] = {}
    for before, after in joins:
        step = (classes[before], classes[after])
        times[step] = times.get(step, 0) + 1
    for (before, after), count in times.items():
        if before == after:
            own = [count * price(before, cell, after, cell) for cell in candidates[before]]
            found.append(_Factor((before,), np.array(own, dtype=np.int64)))
            continue
        last, first = closes[before], begins[after]
        ones, twos = [candidates[before][at] for at in last.firsts], [candidates[after][at] for at in first.firsts]
        rows = np.array([[count * price(before, one, after, two) for two in twos] for one in ones], dtype=np.int64)
        found.append(_Factor((before, after), rows[np.ix_(last.of, first.of)]))
    return found


class _Alike(NamedTuple):
    """Cells of a class that are alike: `firsts` are the first of each kind, `of` each one's kind."""

    firsts: list[int]
    of: list[int]


def _alike(
    candidates: Mapping[int, Sequence[T]], ends: Callable[[T], tuple[Hashable, Hashable]] | None
) -> tuple[dict[int, _Alike], dict[int, _Alike]]:
    """The kinds of cells of each class by how they begin, and by how they end."""
    begins, closes = {}, {}
    for name, cells in candidates.items():
        keys = [ends(cell) for cell in cells] if ends else [(at, at) for at in range(len(cells))]
        begins[name], closes[name] = _kinds([first for first, _ in keys]), _kinds([last for _, last in keys])
    return begins, closes


def _kinds(keys: Sequence[Hashable]) -> _Alike:
    places: dict[Hashable, int] = {}
    firsts: list[int] = []
    of: list[int] = []
    for at, key in enumerate(keys):
        if key not in places:
            places[key] = len(firsts)
            firsts.append(at)
        of.append(places[key])
    return _Alike(firsts, of)


def _joint(factors: Sequence[_Factor], names: tuple[int, ...], sizes: Mapping[int, int]) -> Table:
    """The sum of tables over all their classes."""
    total = np.zeros([sizes[name] for name in names], dtype=np.int64)
    for factor in factors:
        order = sorted(range(len(factor.names)), key=lambda axis: names.index(factor.names[axis]))
        table = factor.table.transpose(order)
        total += table.reshape([sizes[name] if name in factor.names else 1 for name in names])
    return total


def _fixed(factor: _Factor, name: int, place: int) -> _Factor:
    """The table once a class has its cell."""
    if name not in factor.names:
        return factor
    axis = factor.names.index(name)
    return _Factor(factor.names[:axis] + factor.names[axis + 1 :], np.asarray(factor.table.take(place, axis=axis)))
