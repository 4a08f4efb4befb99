"""Puts the melody on the strings: the cheapest way through (string, fret, finger, hand position).

The hand stands with its index finger at `position`; finger n covers the fret n - 1 above it, and the
little finger may stretch one fret further where the span in millimetres allows. The way through is a
shortest path (Bellman's principle of optimality), exact for the costs below; costs are whole points.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction

from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.metre import Time

#: Named costs in points; ten points are about one note's worth of trouble (handbook §3, weights ours).
COSTS = {
    "fretted": 8,  # an open string rings and frees the hand
    "little finger": 3,
    "ring finger": 1,
    "above first position": 3,  # per fret above the fourth
    "stretch": 12,  # the little finger one fret out
    "shift": 6,  # moving the hand at all …
    "shift per fret": 4,  # … and how far
    "outside the chord shape": 5,  # a chord tone taken elsewhere than in the chord's first shape
    "hop": 14,  # one finger on two strings running
    "crossing": 1,  # per string crossed
}
#: With this much time, or after an open string, a shift costs half.
UNHURRIED = Fraction(1, 4)
_FIRST_POSITION_TOP = 4
#: Before the first note the hand may wait anywhere up to here.
_START_POSITIONS = range(1, 8)


@dataclass(frozen=True, slots=True)
class Spot:
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


def fretted_spots(place: Place, setup: Setup) -> tuple[Spot, ...]:
    """Ways to stop a place: with each finger where the hand can stand, and the little finger stretched."""
    spots = [Spot(place, finger, place.fret - finger + 1) for finger in (1, 2, 3, 4) if place.fret - finger + 1 >= 1]
    stretched = place.fret - 4
    if stretched >= 1 and setup.distance_mm(stretched, place.fret) <= setup.instrument.span_mm:
        spots.append(Spot(place, 4, stretched))
    return tuple(spots)


def static_cost(spot: Spot, shape: frozenset[Place] = frozenset()) -> int:
    """What a spot costs by itself, under a chord whose shape offers those places for its note."""
    outside = COSTS["outside the chord shape"] if shape and spot.place not in shape else 0
    if spot.finger == 0:
        return outside
    cost = COSTS["fretted"] + outside
    cost += {3: COSTS["ring finger"], 4: COSTS["little finger"]}.get(spot.finger, 0)
    cost += COSTS["above first position"] * max(0, spot.place.fret - _FIRST_POSITION_TOP)
    cost += COSTS["stretch"] if spot.place.fret - spot.position == 4 else 0
    return cost


def step_cost(before: Spot, after: Spot, unhurried: bool) -> int:
    """What it costs to go from one spot to the next."""
    cost = COSTS["crossing"] * abs(before.place.string - after.place.string)
    if after.finger == 0:
        return cost
    if before.position != after.position:
        shift = COSTS["shift"] + COSTS["shift per fret"] * abs(before.position - after.position)
        cost += shift // 2 if unhurried or before.finger == 0 else shift
    elif before.finger == after.finger and before.place.string != after.place.string:
        cost += COSTS["hop"] // 2 if unhurried else COSTS["hop"]
    return cost


def place_melody(notes: Sequence[NoteToPlace], setup: Setup) -> Placement:
    """The cheapest placement of a melody. Every note must have at least one place.

    Ties go to the lower position, then to the higher string, so that the answer never depends on order.
    """
    if not notes:
        return Placement((), 0)
    costs: list[dict[Spot, int]] = [{}]
    parents: list[dict[Spot, Spot]] = [{}]
    for spot in _first_spots(notes[0], setup):
        costs[0][spot] = static_cost(spot, notes[0].shape)
    steps = _StepCosts(setup)
    for index in range(1, len(notes)):
        here: dict[Spot, int] = {}
        came: dict[Spot, Spot] = {}
        unhurried = notes[index - 1].gap >= UNHURRIED
        for spot, cost, before in steps.all(costs[-1], notes[index], unhurried):
            if spot not in here or (cost, _rank(before)) < (here[spot], _rank(came[spot])):
                here[spot], came[spot] = cost, before
        costs.append(here)
        parents.append(came)
    return _trace_back(costs, parents)


def _first_spots(note: NoteToPlace, setup: Setup) -> Iterator[Spot]:
    for place in note.places:
        if place.fret:
            yield from fretted_spots(place, setup)
        else:
            yield from (Spot(place, 0, position) for position in _START_POSITIONS)


class _StepCosts:
    """Remembers what steps cost: a tune takes the same ones again and again."""

    def __init__(self, setup: Setup) -> None:
        self.setup = setup
        self.fretted: dict[Place, tuple[Spot, ...]] = {}
        self.known: dict[tuple[Spot, Spot, bool], int] = {}

    def all(self, before: dict[Spot, int], note: NoteToPlace, unhurried: bool) -> Iterator[tuple[Spot, int, Spot]]:
        """Every (spot, cost so far, spot before) for a note; an open string leaves the hand where it was."""
        for place in note.places:
            if place.fret and place not in self.fretted:
                self.fretted[place] = fretted_spots(place, self.setup)
            for past, past_cost in before.items():
                spots = self.fretted[place] if place.fret else (Spot(place, 0, past.position),)
                for spot in spots:
                    key = (past, spot, unhurried)
                    if key not in self.known:
                        self.known[key] = step_cost(past, spot, unhurried)
                    yield spot, past_cost + self.known[key] + static_cost(spot, note.shape), past


def _rank(spot: Spot) -> tuple[int, int, int, int]:
    return (spot.position, spot.place.string, spot.place.fret, spot.finger)


def _trace_back(costs: list[dict[Spot, int]], parents: list[dict[Spot, Spot]]) -> Placement:
    spot, cost = min(costs[-1].items(), key=lambda item: (item[1], _rank(item[0])))
    spots = [spot]
    for came in reversed(parents[1:]):
        spot = came[spot]
        spots.append(spot)
    return Placement(tuple(reversed(spots)), cost)


def placement_cost(spots: Sequence[Spot], notes: Sequence[NoteToPlace]) -> int:
    """The cost of a given way through: what `place_melody` minimises."""
    total = sum(static_cost(spot, note.shape) for spot, note in zip(spots, notes, strict=True))
    for index in range(1, len(spots)):
        total += step_cost(spots[index - 1], spots[index], notes[index - 1].gap >= UNHURRIED)
    return total
