"""Fits a right hand to one bar: the cheapest rows of patterns, fingers and strings, and the next best ones.

A bar is cut into pulse groups. Every row of patterns that matches the groups and the melody's onsets is solved by
itself, slot by slot; then the rows are chained over the bar. Both are shortest paths and exact for the costs of
`rows.costs.COSTS`; per way of beginning and ending the best few are kept, for the joins and as alternatives.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import chain
from typing import NamedTuple

from nailhead.core.arrange.fit.cell import Cell, finished
from nailhead.core.arrange.fit.grid import Grid, LooseEnd
from nailhead.core.arrange.fit.labels import ALIKE, NOTHING, Arrivals, Label, Solved, thin
from nailhead.core.arrange.fit.offering import BITS, Offers, Strike
from nailhead.core.arrange.rows.costs import COSTS, HOPELESS, IMPOSSIBLE
from nailhead.core.arrange.rows.hands import Adds, Idiom
from nailhead.core.arrange.rows.patterns import Pattern
from nailhead.core.arrange.values import Finger

#: So many ways are carried on at each place of the bar, and through one row.
KEEP, _WAYS = 6, 5
#: So many through one row where those lead nowhere.
_MANY = 40
#: One in so many ways that are kept may begin, end and move like another.
_OF_A_KIND = 4
#: A row by its place among the right hand's; what is left of it between two of its counts.
RowPlace = int | tuple[int, int, int]


class _PulseGroup(NamedTuple):
    """A pulse group of `size` counts, or a loose end (0)."""

    low: int
    high: int
    size: int


class Fitter:
    """Fits an idiom's right hand to the grids of a rung; ways told `apart` differ in more than fingers."""

    def __init__(
        self,
        idiom: Idiom,
        rung: int,
        keep: int = KEEP,
        forced: bool = False,
        apart: bool = False,
        ways: int = 0,
    ) -> None:
        self.idiom = idiom
        self.forced = forced
        self.ways = ways or _WAYS
        self.rung = rung
        self.keep = keep
        self.apart = apart
        self.patterns: dict[RowPlace, Pattern] = dict(enumerate(idiom.right.patterns))
        row = idiom.rung(rung)
        self.empty, self.hole = row.empty, row.hole
        #: Is something struck where the melody rests?
        self.over_rests = idiom.has(Adds.FLOW, rung) or idiom.has(Adds.RESTS, rung)
        self.offers = Offers(idiom, rung)
        self.phase = (self.offers.slurs, self.offers.slurs_thin, self.offers.drops, self.offers.plucks)
        self.change = COSTS["pattern changes"] // (2 if idiom.has(Adds.MOVES, rung) else 1)
        self._again = _again_prices(idiom, COSTS["finger forced"] if forced else IMPOSSIBLE)
        follows = idiom.right.follows
        self._string_again = follows.string_again
        self._slur_again = idiom.right.slur_again
        self._uncounted, self._chord = follows.apart, follows.chord
        self._running = {BITS[finger]: strings for finger, strings in follows.running.items()}
        self._pinches = idiom.right.chords_plucked
        self._on_beat = sum(BITS[finger] for finger in idiom.right.on_beat)
        self._rank: dict[Finger | None, int] = {finger: place for place, finger in enumerate(follows.order)}
        self._crossed = COSTS["finger forced"] if forced else IMPOSSIBLE
        #: The rows of this rung with their places in `patterns`, by the pulse groups they fill, …
        self._rows: dict[tuple[int, ...], list[tuple[int, Pattern]]] = {}
        for at, pattern in enumerate(idiom.right.patterns):
            if pattern.from_rung <= rung <= pattern.to_rung:
                self._rows.setdefault(pattern.groups, []).append((at, pattern))
        #: … and what is left of them in a loose end, by its group and its first and last counts.
        self._cut: dict[tuple[int, int, int], dict[RowPlace, Pattern]] = {}
        #: Prices of strikes a count apart, by fingers and strings.
        self._soon: dict[tuple[object, ...], int] = {}
        self._matched: tuple[Grid, tuple[tuple[RowPlace, ...], ...]] | None = None

    def signature(self, grid: Grid) -> tuple[object, ...]:
        """What a grid's cells depend on beside the grid: rungs that agree in it find the same ones."""
        matching = self.matching(grid)
        phase = self.phase if grid.has_off_beat else (False, False, False)
        holes = (self.empty, self.hole) if grid.has_holes else ()
        silent = not self.over_rests if grid.window(grid.start, grid.end).silent else None
        return (matching, phase, holes, silent, self.change if any(matching) else 0, self.offers.along)

    def matching(self, grid: Grid) -> tuple[tuple[RowPlace, ...], ...]:
        """The rows (by their place in `patterns`) that may begin at each group, and what is left of them in each loose
        end: melody and rung permitting.
        """
        if self._matched is None or self._matched[0] is not grid:
            whole = (self._fitting(grid, at) for at in range(len(grid.groups)))
            loose = (self._fitting_in(grid, end) for end in grid.loose())
            self._matched = (grid, (*(tuple(sorted(found)) for found in whole), *(tuple(found) for found in loose)))
        return self._matched[1]

    def _fitting(self, grid: Grid, index: int) -> Iterator[int]:
        low, whole = grid.groups[index][0], len(grid.clock.groups)
        place = grid.place_in_bar(low)
        for groups, rows in self._rows.items():
            if len(groups) > 1 and not _begins_well(len(groups), place, whole):
                continue
            if grid.sizes[index : index + len(groups)] == groups:
                yield from (at for at, row in rows if self._matches(grid, row, low))

    def _fitting_in(self, grid: Grid, end: LooseEnd) -> Iterator[RowPlace]:
        begins, ends = (end.low - end.group) // grid.count, (end.high - end.group) // grid.count
        key = (end.size, begins, ends)
        if key not in self._cut:
            rows = self._rows.get((end.size,), ())
            self._cut[key] = {(at, begins, ends): part for at, row in rows if (part := row.cut(begins, ends))}
            self.patterns |= self._cut[key]
        yield from (at for at, row in self._cut[key].items() if self._matches(grid, row, end.low))

    def _matches(self, grid: Grid, row: Pattern, low: int) -> bool:
        window = grid.window(low, low + row.counts * grid.count)
        if grid.context.stops or self.rung < (row.from_rung if window.held_through else row.moving_from):
            return False
        if window.off_clock or (window.silent and not self.over_rests):
            return False
        if len(window.onsets) == len(row.slots) and not row.accompanies:
            return False
        if row.slots[0].leads and low not in grid.onsets and not self._stroke_is_over(grid, row, low):
            return False
        return all((at - low) // grid.count in row.takes for at in window.onsets)

    @staticmethod
    def _stroke_is_over(grid: Grid, row: Pattern, low: int) -> bool:
        """A long note is struck again only behind a whole stroke of it; one held over the bar line at once."""
        index = grid.sounding(low)
        return grid.context.segments[index].held or low - grid.starts[index] >= row.counts * grid.count

    def cells(self, grid: Grid) -> list[Cell]:
        """The best ways to play the bar, cheapest first: never empty, and never two of the same strikes.

        Where no finger that is free reaches a melody note even when many more ways are looked at, one comes twice
        running at a forbidding price.
        """
        found = self._cells(grid)
        if found or self.forced:
            return found
        wide = Fitter(self.idiom, self.rung, self.keep, apart=self.apart, ways=_MANY)._cells(grid)
        return wide or Fitter(self.idiom, self.rung, self.keep, True, self.apart).cells(grid)

    def _cells(self, grid: Grid) -> list[Cell]:
        units = _units(grid)
        begins = (low for low, *_ in chain(grid.groups, grid.loose()))
        rows = dict(zip(begins, self.matching(grid), strict=True))
        start = Label(0, 0, None, (), "", None, NOTHING, None, grid.start)
        labels: list[list[Label]] = [[start], *([] for _ in units)]
        alike = max(ALIKE, self.keep // _OF_A_KIND)
        for index, unit in enumerate(units):
            arrivals = Arrivals(thin(labels[index], self.keep, alike), self.step, self.change, grid.count, alike)
            for place in rows[unit.low]:
                row = self.patterns[place]
                for way in self._solve_row(grid, place, unit.low):
                    labels[index + len(row.groups)] += arrivals.extend(way, row, unit.low)
            for way in self._plain(grid, unit):
                labels[index + 1] += arrivals.extend(way, None, unit.low)
        return finished(thin(labels[-1], self.keep, alike), self.keep, self.apart)

    def step(self, before: Strike | None, after: Strike, count: int, apart: int | None = None) -> int:
        """What it costs to play one strike after another, `count` ticks being one count.

        `apart` is how many ticks lie between two that are not in one bar.
        """
        if before is None:
            return IMPOSSIBLE if after.strays or after.drags else 0
        if after.plucks:
            late = after.behind and not (before.fingers & self._on_beat and after.at - before.at <= count)
            return IMPOSSIBLE if late or before.plucks or after.strings[0] in before.strings else 0
        if after.left:
            if before.melody < 0:  # what is played between must leave the string ringing
                return IMPOSSIBLE if after.strings[0] in before.strings else 0
            rings = (len(before.touches) == 1 or self._pinches) and after.strings[0] in before.strings
            dies = self._slur_again if before.left and not before.plucks else 0
            return dies if before.melody == after.melody - 1 and rings else IMPOSSIBLE
        soon = (after.at - before.at if apart is None else apart) <= count
        # A finger leaves its home right behind another one, towards the bass, and has time to get back.
        if after.drags:
            return 0 if soon and before.fingers == after.fingers and _runs_on(before, after) else IMPOSSIBLE
        if after.strays and not (soon and not before.fingers & after.fingers and before.strings[-1] < after.strings[0]):
            return IMPOSSIBLE
        if not soon:
            return 0
        key = (before.fingers, before.strings, after.fingers, after.strings, after.melody < 0, apart is None)
        if key not in self._soon:
            self._soon[key] = self._at_once(before, after, apart is None)
        return self._soon[key]

    def _at_once(self, before: Strike, after: Strike, in_bar: bool) -> int:
        """What it costs to play one strike a count behind another."""
        again = before.fingers & after.fingers
        if again and max(len(before.touches), len(after.touches)) < self._chord:
            alone = len(before.touches) == len(after.touches) == 1
            by_itself = self._running.get(again, frozenset()) if alone else frozenset()
            strings = (before.strings[0], after.strings[0])
            return COSTS["bass run"] if by_itself.issuperset(strings) else self._again[again]
        if self._rank and not again and self._crosses(before, after):
            # Over a bar line there may be no other way, and a finger that strikes twice running is worse.
            return self._crossed if in_bar else COSTS["finger forced"]
        return self._string_again if after.melody < 0 and self._same_string(before, after) else 0

    def _same_string(self, before: Strike, after: Strike) -> bool:
        """Is a string struck twice? A hand that sweeps takes it along with others, which does not count."""
        if self.idiom.right.fingered:
            return any(string in before.strings for string in after.strings)
        return before.strings == after.strings

    def _crosses(self, before: Strike, after: Strike) -> bool:
        """Do fingers that strike a count apart lie across each other?"""
        for one in before.touches:
            for other in after.touches:
                if one.by not in self._rank or other.by not in self._rank:
                    continue
                string, next_string = one.strings[0], other.strings[0]
                if string in self._uncounted or next_string in self._uncounted:
                    continue
                if (next_string - string) * (self._rank[other.by] - self._rank[one.by]) > 0:
                    return True
        return False

    # -- rows

    def _solve_row(self, grid: Grid, place: RowPlace, low: int) -> list[Solved]:
        # What a row finds depends on the rung only through the left hand's slurs, stray fingers and its brushes.
        row = self.patterns[place]
        key = (row.key, low, self.phase, self.offers.brushes, self.forced, self.ways)
        if key not in grid.solved:
            grid.solved[key] = self._search_row(grid, row, low)
        extra = self.hole * row.holes
        return [way._replace(cost=way.cost + extra) for way in grid.solved[key]] if extra else grid.solved[key]

    def _search_row(self, grid: Grid, row: Pattern, low: int) -> list[Solved]:
        lanes = []
        for place, slot in enumerate(row.slots):
            at = low + slot.at * grid.count
            key = (row.lanes[place], at, self.phase, self.offers.brushes)
            lane = grid.lanes.get(key)
            if lane is None:
                lane = grid.lanes[key] = self.offers.slot(grid, slot, at, first=place == 0)
            if not lane:
                return []
            lanes.append(lane)
        return [way for way in self._solve(lanes, row.cost, grid.count) if not row.family or way.filled]

    def _plain(self, grid: Grid, unit: _PulseGroup) -> list[Solved]:
        """The melody notes of a group struck by themselves."""
        onsets = sorted((at, index) for at, index in grid.onsets.items() if unit.low <= at < unit.high)
        lanes = [self.offers.plain(grid, index, at) for at, index in onsets]
        cost = 0
        if unit.size and not grid.context.stops and (self.over_rests or not grid.window(unit.low, unit.high).silent):
            long = not onsets or (unit.size == 3 and len(onsets) == 1 and onsets[0][0] == unit.low)
            cost += self.empty if long else 0
            free = unit.size - len({(at - unit.low) // grid.count for at, _ in onsets})
            cost += self.hole * max(0, free)
        return self._solve(lanes, cost, grid.count)

    # -- shortest paths

    def _solve(self, lanes: Sequence[list[Strike]], cost: int, count: int) -> list[Solved]:
        """The cheapest way through the slots for each pair of first and last strike."""
        if not lanes:
            return [NOTHING._replace(cost=cost)]
        # (first, last option) -> the cheapest path between them, and its last real strike
        ways: dict[tuple[int, int], tuple[int, tuple[Strike, ...], Strike | None]] = {
            (place, place): (cost + strike.cost, (strike,), strike if strike.touches else None)
            for place, strike in enumerate(lanes[0])
        }
        for lane in lanes[1:]:
            best: dict[tuple[int, int], tuple[int, tuple[Strike, ...], Strike | None]] = {}
            steps: dict[tuple[int, int], int] = {}
            for (opening, before), (before_cost, path, last) in ways.items():
                direct = last is path[-1]
                for place, strike in enumerate(lane):
                    total = before_cost + strike.cost
                    if strike.touches:
                        step = steps.get((before, place)) if direct else None
                        if step is None:
                            step = self.step(last, strike, count)
                            if direct:
                                steps[(before, place)] = step
                        total += step
                    known = best.get((opening, place))
                    if total < HOPELESS and (known is None or total < known[0]):
                        best[(opening, place)] = (total, (*path, strike), strike if strike.touches else last)
            ways = best
        return [
            Solved(
                total,
                path,
                next((strike for strike in path if strike.touches), None),
                last,
                any(strike.fills for strike in path),
                tuple((strike.at, strike.fingers, strike.strings) for strike in path),
                (last.fingers, last.at, last.melody, *last.strings) if last else (),
            )
            for total, path, last in sorted(ways.values(), key=lambda way: way[0])[: self.ways]
        ]


def _begins_well(groups: int, at: int, whole: int) -> bool:
    """Does a row of two groups begin with a stroke unit, and one of three with a bar of three?"""
    return at == 0 and whole == groups if groups % 2 else at % 2 == 0


def _runs_on(before: Strike, after: Strike) -> bool:
    """Does it come to the string next to the one just struck, towards string 1?"""
    return len(before.strings) == 1 and before.strings[0] == after.strings[0] + 1


def _again_prices(idiom: Idiom, most: int) -> dict[int, int]:
    """For every set of fingers (as bits) that strike twice running, the dearest one's price, `most` at most."""
    prices = {bit: min(most, idiom.right.follows.again.get(finger, 0)) for finger, bit in BITS.items() if finger}
    return {bits: max(price for bit, price in prices.items() if bits & bit) for bits in range(1, 2 * max(prices))}


def _units(grid: Grid) -> list[_PulseGroup]:
    whole = [_PulseGroup(low, low + size * grid.count, size) for low, size in grid.groups]
    loose = [_PulseGroup(end.low, end.high, 0) for end in grid.loose()]
    return sorted(whole + loose, key=lambda unit: unit.low)
