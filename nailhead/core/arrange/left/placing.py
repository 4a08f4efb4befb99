"""Puts the melody on the strings: the cheapest way through (string, fret, finger, hand position).

The hand stands with its index finger at `position`; each finger covers as many frets as the instrument's row says, and
where that is one the little finger may stretch one fret further; the span in millimetres bounds both. The way through
is a shortest path (Bellman's principle of optimality), exact for the costs below; costs are whole points.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from itertools import chain, pairwise
from operator import add
from typing import NamedTuple

from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.metre import Time

#: Named costs in points; ten points are about one note's worth of trouble (handbook §3, weights ours).
COSTS = {
    "fretted": 8,  # an open string rings and frees the hand
    "little finger": 3,
    "ring finger": 1,
    "above first position": 3,  # per fret above the fourth
    "stretch": 12,  # the little finger one fret out (where a finger has one fret)
    "shift": 6,  # moving the hand at all …
    "shift per fret": 4,  # … and how far
    "outside the chord shape": 5,  # a chord tone taken elsewhere than in the chord's first shape
    "hop": 14,  # one finger on two places running
    "crossing": 1,  # per string crossed
    "same string": 30,  # in a melodic run, where every note should ring into the next
}
#: With this much time, or after an open string, a shift costs half.
UNHURRIED = Fraction(1, 4)
#: Where the hand may stand; notes up to fret 22 are reached from here with the little finger.
_HIGHEST_POSITION = 19
#: A step that cannot be: the hand does not move while an open string is struck, but before the next stop.
IMPOSSIBLE = 10**9


class Spot(NamedTuple):
    """A way to take one note: where, with which finger (0 open), and where the hand then stands."""

    place: Place
    finger: int
    position: int


@dataclass(frozen=True, slots=True)
class NoteToPlace:
    """A melody note: sounding pitch in cents, time until the next note, and the places allowed.

    `shape` holds those of its places that the chord of the moment stops or leaves open anyway.
    """

    cents: Fraction
    gap: Time
    places: tuple[Place, ...]
    shape: frozenset[Place] = frozenset()


@dataclass(frozen=True, slots=True)
class Placement:
    """The chosen spots, one a note, and what they cost together."""

    spots: tuple[Spot, ...]
    cost: int


def spots_of(place: Place, setup: Setup, highest: int = _HIGHEST_POSITION) -> tuple[Spot, ...]:
    """Ways to take a place: open with the hand anywhere up to `highest`; stopped by each finger; little finger
    stretched.
    """
    if place.fret == 0:
        return tuple(Spot(place, 0, position) for position in range(1, highest + 1))
    each = setup.instrument.frets_per_finger
    spots = [
        Spot(place, finger, position)
        for finger in (1, 2, 3, 4)
        for position in range(place.fret - each * (finger - 1), place.fret - each * finger, -1)
        if position >= 1 and (finger == 1 or setup.distance_mm(position, place.fret) <= setup.instrument.span_mm)
    ]
    stretched = place.fret - 4
    if each == 1 and stretched >= 1 and setup.distance_mm(stretched, place.fret) <= setup.instrument.span_mm:
        spots.append(Spot(place, 4, stretched))
    return tuple(spots)


def static_cost(spot: Spot, setup: Setup, shape: frozenset[Place] = frozenset()) -> int:
    """What a spot costs by itself, under a chord whose shape offers those places for its note."""
    outside = COSTS["outside the chord shape"] if shape and spot.place not in shape else 0
    outside += setup.instrument.off_course * (spot.place.string - 1)
    if spot.finger == 0:
        return outside
    cost = COSTS["fretted"] + outside
    cost += {3: COSTS["ring finger"], 4: COSTS["little finger"]}.get(spot.finger, 0)
    cost += COSTS["above first position"] * max(0, spot.place.fret - setup.instrument.first_position_top)
    stretched = setup.instrument.frets_per_finger == 1 and spot.place.fret - spot.position == 4
    cost += COSTS["stretch"] if stretched else 0
    return cost


def step_cost(before: Spot, after: Spot, unhurried: bool, melodic: bool = False) -> int:
    """What it costs to go from one spot to the next; a `melodic` line wants another string each time."""
    if melodic:
        cost = COSTS["same string"] if before.place.string == after.place.string else 0
    else:
        cost = COSTS["crossing"] * abs(before.place.string - after.place.string)
    if after.finger == 0:
        return cost if before.position == after.position else IMPOSSIBLE
    if before.position != after.position:
        shift = COSTS["shift"] + COSTS["shift per fret"] * abs(before.position - after.position)
        cost += shift // 2 if unhurried or before.finger == 0 else shift
    elif before.finger == after.finger and before.place != after.place:
        cost += COSTS["hop"] // 2 if unhurried else COSTS["hop"]
    return cost


def place_melody(notes: Sequence[NoteToPlace], setup: Setup, melodic: bool = False) -> Placement:
    """The cheapest placement of a melody. Every note must have at least one place.

    Of equally cheap ways the one on the lower-numbered string, then with the lower hand position is taken:
    the answer never depends on chance.
    """
    if not notes:
        return Placement((), 0)
    # Above the highest fret of any note the hand has no business.
    highest = max(place.fret for note in notes for place in note.places)
    book = _StepBook(setup, max(1, min(highest, _HIGHEST_POSITION)), melodic)
    spots = book.spots(notes[0].places)
    costs = book.static(notes[0])
    rows: list[tuple[tuple[Spot, ...], list[int]]] = []
    for before, note in pairwise(notes):
        steps = book.steps(before.places, note.places, before.gap >= UNHURRIED)
        parents, arrived = [], []
        for row, static in zip(steps, book.static(note), strict=True):
            ways = list(map(add, costs, row))
            cheapest = min(ways)
            parents.append(ways.index(cheapest))
            arrived.append(cheapest + static)
        rows.append((spots, parents))
        spots, costs = book.spots(note.places), arrived
    return _trace_back(rows, spots, costs)


def _trace_back(rows: list[tuple[tuple[Spot, ...], list[int]]], spots: tuple[Spot, ...], costs: list[int]) -> Placement:
    cost = min(costs)
    at = costs.index(cost)
    found = [spots[at]]
    for earlier, parents in reversed(rows):
        at = parents[at]
        found.append(earlier[at])
    return Placement(tuple(reversed(found)), cost)


@lru_cache(maxsize=8192)
def _block(before: tuple[Spot, ...], after: tuple[Spot, ...], unhurried: bool, melodic: bool) -> list[list[int]]:
    """Steps between the spots of two places; other capos and keys take the same ones. Not to be changed."""
    return [[step_cost(one, spot, unhurried, melodic) for one in before] for spot in after]


class _StepBook:
    """Spots and step costs worked out once: a tune takes the same steps again and again."""

    def __init__(self, setup: Setup, highest: int, melodic: bool) -> None:
        self.setup = setup
        self.melodic = melodic
        self.highest = highest
        self._spots: dict[tuple[Place, ...], tuple[Spot, ...]] = {}
        self._pairs: dict[tuple[Place, Place, bool], list[list[int]]] = {}
        self._static: dict[tuple[tuple[Place, ...], frozenset[Place]], list[int]] = {}
        self._steps: dict[tuple[tuple[Place, ...], tuple[Place, ...], bool], list[list[int]]] = {}

    def spots(self, places: tuple[Place, ...]) -> tuple[Spot, ...]:
        """All spots of a note, in the order in which ties are decided."""
        if places not in self._spots:
            self._spots[places] = tuple(spot for place in places for spot in spots_of(place, self.setup, self.highest))
        return self._spots[places]

    def static(self, note: NoteToPlace) -> list[int]:
        key = (note.places, note.shape)
        if key not in self._static:
            self._static[key] = [static_cost(spot, self.setup, note.shape) for spot in self.spots(note.places)]
        return self._static[key]

    def steps(self, before: tuple[Place, ...], after: tuple[Place, ...], unhurried: bool) -> list[list[int]]:
        """For each spot after, the cost of the step from each spot before."""
        key = (before, after, unhurried)
        if key not in self._steps:
            rows: list[list[int]] = []
            for place in after:
                blocks = [self._between(past, place, unhurried) for past in before]
                rows += [list(chain.from_iterable(parts)) for parts in zip(*blocks, strict=True)]
            self._steps[key] = rows
        return self._steps[key]

    def _between(self, past: Place, place: Place, unhurried: bool) -> list[list[int]]:
        key = (past, place, unhurried)
        if key not in self._pairs:
            self._pairs[key] = _block(self.spots((past,)), self.spots((place,)), unhurried, self.melodic)
        return self._pairs[key]


def placement_cost(spots: Sequence[Spot], notes: Sequence[NoteToPlace], setup: Setup) -> int:
    """The cost of a given way through: what `place_melody` minimises."""
    total = sum(static_cost(spot, setup, note.shape) for spot, note in zip(spots, notes, strict=True))
    for index in range(1, len(spots)):
        total += step_cost(spots[index - 1], spots[index], notes[index - 1].gap >= UNHURRIED)
    return total
