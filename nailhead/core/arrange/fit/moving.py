"""Other places for a bar's melody: what the later rungs take so that the hands keep moving."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise

from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.left.context import BarContext, Spots
from nailhead.core.arrange.left.placing import NoteToPlace, Spot, place_melody
from nailhead.core.arrange.rows.costs import COSTS
from nailhead.core.arrange.rows.hands import Adds, Idiom
from nailhead.core.fretboard.setup import Place, Setup

#: A run of so many notes of one count each is played in the melodic way.
RUN = 4
DRONE_SOUNDS = "the open string sounds it, and the thumb is there already"
#: Highest fret to which a single note is moved.
HIGHEST = 12
#: A run's note lies at most so many frets above its usual place: the hand stays with its neighbours.
FAR = 5


@dataclass(frozen=True, slots=True)
class Placing:
    """The melody's places in a bar: what they cost beside the usual ones, and why each moved segment moved.

    It `spreads` where a run has a string for every note.
    """

    spots: Spots
    cost: int = 0
    why: tuple[tuple[int, str], ...] = ()
    spreads: bool = False


def usual(context: BarContext) -> Placing:
    """Where the bare melody lies."""
    return Placing(tuple(part.spot for part in context.segments))


def placings(context: BarContext, rung: int, idiom: Idiom) -> Iterator[Placing]:
    """The usual places, those with weak notes on the drone string, and from the rung of moves on a spread run."""
    plain = usual(context)
    yield plain
    spreads = idiom.right.spreads and idiom.has(Adds.MOVES, rung)
    sings = rung >= idiom.right.drone_sings
    if not spreads and not sings:
        return
    grid = Grid(context, plain.spots, {})
    if sings:
        yield from _on_the_drone(grid, idiom.right.drone_worth)
    moved = _spread_runs(grid) if spreads and len(grid.onsets) >= RUN else None
    if moved and moved.spots != plain.spots:
        yield moved


def _on_the_drone(grid: Grid, worth: int) -> Iterator[Placing]:
    """Notes of the open drone string's pitch played there: those between the beats, and all but the strong ones."""
    context, spots = grid.context, grid.spots
    strong = {grid.start, *(grid.tick(onset - context.offset) for onset in context.bar.metre.strong_onsets)}
    found = []
    for at, index in grid.onsets.items():
        part, spot = context.segments[index], spots[index]
        places = _drone_places(context.setup, context.setup.cents_of(part.pitch)) if part.pitch and spot else ()
        if places and spot and spot.place not in places and spot.place.fret and at not in strong:
            found.append((index, at in grid.beats, spot_near(places[0], spot)))
    between = [one for one in found if not one[1]]
    for moved in (found, between) if 0 < len(between) < len(found) else (found,):
        if moved:
            there = {index: spot for index, _, spot in moved}
            placed = tuple(there.get(index, spot) for index, spot in enumerate(spots))
            yield Placing(placed, -worth * len(moved), tuple((index, DRONE_SOUNDS) for index in there))


def spot_near(place: Place, near: Spot) -> Spot:
    """The way to take a place with the hand where it is, or moved as little as can be."""
    if place.fret == 0:
        return Spot(place, 0, near.position)
    position = max(1, min(max(near.position, place.fret - 3), place.fret))
    return Spot(place, place.fret - position + 1, position)


def _spread_runs(grid: Grid) -> Placing | None:
    """Runs of single counts spread over the strings, the drone string among them: every note another finger."""
    spots, cost, why = list(grid.spots), 0, []
    for members in _runs(grid):
        notes = [_note(grid, index) for index in members]
        placed = place_melody(notes, grid.context.setup, melodic=True)
        for index, found in zip(members, placed.spots, strict=True):
            usual_spot = spots[index]
            assert usual_spot is not None
            if found.place != usual_spot.place:
                cost += COSTS["moved note per fret"] * max(0, found.place.fret - usual_spot.place.fret)
                why.append((index, "a run rings on when every note has another string"))
            spots[index] = found
    if not why or not _spread(spots, grid):
        return None
    return Placing(tuple(spots), COSTS["moved run"] + cost, tuple(why), spreads=True)


def _spread(spots: list[Spot | None], grid: Grid) -> bool:
    """Do the runs cross strings more often than in the usual places?"""

    def stays(places: Sequence[Spot | None]) -> int:
        strings = [[spot.place.string for index in members if (spot := places[index])] for members in _runs(grid)]
        return sum(one == two for row in strings for one, two in pairwise(row))

    return stays(spots) < stays(grid.spots)


def _runs(grid: Grid) -> list[list[int]]:
    """Segments of runs: at least four melody notes a count apart or closer."""
    runs: list[list[int]] = []
    last: int | None = None
    for at, index in sorted(grid.onsets.items()):
        if last is not None and at - last <= grid.count and runs[-1][-1] == index - 1:
            runs[-1].append(index)
        else:
            runs.append([index])
        last = at
    return [members for members in runs if len(members) >= RUN]


def _note(grid: Grid, index: int) -> NoteToPlace:
    context = grid.context
    part = context.segments[index]
    assert part.pitch is not None
    cents, spot = context.setup.cents_of(part.pitch), grid.spots[index]
    assert spot is not None
    near = tuple(place for place in context.setup.places(cents) if place.fret <= spot.place.fret + FAR)
    return NoteToPlace(cents, part.duration, near + _drone_places(context.setup, cents))


def _drone_places(setup: Setup, cents: Fraction) -> tuple[Place, ...]:
    """Open strings of a height that sing in passing: a drone, or one that the melody keeps off else."""
    spared = setup.instrument.last_resorts
    return tuple(
        Place(string.number, 0)
        for string in setup.strings
        if string.open_cents == cents and (string.drone or string.number in spared)
    )
