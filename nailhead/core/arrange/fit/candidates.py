"""Ways to play a bar as the rung's choice sees them: a cell, its grid and places, and how it begins and ends."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass, replace

from nailhead.core.arrange.fit.cell import Cell
from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.fit.moving import Placing
from nailhead.core.arrange.fit.offering import Strike
from nailhead.core.fretboard.setup import Place

#: What it costs to leave out a bar's last filler so that the next bar's first finger is free.
BREATH = 18


@dataclass(frozen=True, slots=True)
class Candidate:
    """A cell with the grid it was fitted to and the melody's places there."""

    cost: int
    cell: Cell
    grid: Grid
    placing: Placing
    first: Strike | None
    last: Strike | None
    motions: tuple[str, ...]
    said: str = ""

    def ends(self) -> tuple[Hashable, Hashable]:
        """By what it begins and ends: all that the price of a join looks at."""
        first, last, grid = self.first, self.last, self.grid
        begins = first and (first.at - grid.start, first.fingers, first.strings, first.melody < 0, first.left)
        closes = last and (grid.end - last.at, last.fingers, last.strings)
        return (grid.count, begins, *self.motions[:1]), (grid.count, closes, *self.motions[-1:])

    @property
    def strings_struck(self) -> int:
        """How much is played."""
        return sum(len(strike.strings) for strike in self.cell.strikes)

    @property
    def played(self) -> tuple[tuple[int, tuple[Place | int, ...]], ...]:
        """What is struck when, to compare by: times in sixteenths of a count."""
        count, spots = self.grid.count, self.grid.spots
        row = []
        for strike in self.cell.strikes:
            if strike.touches:
                spot = spots[strike.melody] if strike.melody >= 0 else None
                places = tuple(spot.place if spot and spot.place.string == one else one for one in strike.strings)
                row.append((strike.at * 16 // count, places))
        return tuple(row)


def with_breath(found: list[Candidate]) -> list[Candidate]:
    """The candidates, and the best that end in a filler also without it: the hand can always get to the next bar."""
    breathing = []
    for candidate in found[:2]:
        last = candidate.last
        if last and last.melody < 0 and last is not candidate.first:
            cell = candidate.cell.without_last(BREATH)
            breathing.append(replace(candidate, cost=candidate.cost + BREATH, cell=cell, last=cell.last))
    return found + breathing
