"""Holding a chord shape while the melody is played over it: which fingers stay, which one moves."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import chain

from nailhead.core.arrange.rows.left_hand import EVERY_ORNAMENT, LeftHand
from nailhead.core.arrange.tones import tones_on
from nailhead.core.fretboard.fingering import finger_stops
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.fretboard.shapes import Shape, best_shapes
from nailhead.core.music.chord import Chord

#: Points for what a melody note asks of a held shape (weights ours).
LIFT = 10  # an open string under a finger
EXTRA_FINGER = 12  # a stop beside the shape
#: Shapes of a chord that are looked at; what comes after is never the cheapest with a melody.
MOST_SHAPES = 40
RELEASE = 30  # no hand holds both: the shape is let go for the note
FURTHER = 4  # every finger one further out than usual
SPREAD = 8  # per fret that the note lies more than three from the shape's furthest stop
#: The finger that has none behind it.
LITTLE = 4


@dataclass(frozen=True, slots=True)
class HeldFrets:
    """What the left hand holds during one melody note: frets and fingers by string."""

    frets: Mapping[int, int]
    fingers: Mapping[int, int]


class ShapeBook:
    """The shapes of a setup and how they go with melody places, each worked out once for a whole tune.

    A left hand that `reshapes` begins each shape under a melody note that is one of the shape's own; under one that
    holds `roots` every shape has its root on one of those strings, where there is such a shape.
    """

    def __init__(self, setup: Setup, left: LeftHand = EVERY_ORNAMENT) -> None:
        self.setup = setup
        self.left = left
        self.tones = tones_on(setup)
        self._shapes: dict[Chord, tuple[Shape, ...]] = {}
        # By identity, as hashing a shape takes longer than the rest; what is kept here stays alive.
        self._together: dict[tuple[int, Place], tuple[Shape, HeldFrets | None]] = {}

    def of(self, chord: Chord) -> tuple[Shape, ...]:
        """The best makeable shapes of a chord, best first."""
        if chord not in self._shapes:
            found = looked_at(self.setup, chord)
            if self.left.roots:
                rooted = [shape for shape in found if self._has_root(shape, chord)]
                found = tuple(sorted(chain.from_iterable(map(_fingered, rooted)), key=_cost)) or found
            self._shapes[chord] = found
        return self._shapes[chord]

    def _has_root(self, shape: Shape, chord: Chord) -> bool:
        return any(
            string in self.left.roots and self.tones.is_root(self.setup.sounding_cents(Place(string, fret)), chord)
            for string, fret in shape.frets
        )

    def together(self, shape: Shape, place: Place) -> HeldFrets | None:
        """The shape with a melody place as well; None where no hand can."""
        key = (id(shape), place)
        if key not in self._together:
            self._together[key] = (shape, hold_together(shape, place, self.setup))
        return self._together[key][1]

    def cheapest(self, chord: Chord, places: Sequence[Place]) -> Shape | None:
        """The shape that costs least together with the melody; options come cheapest first, so it stops early."""
        best: tuple[int, Shape] | None = None
        options = self.of(chord)
        if self.left.reshapes and places:
            top = places[0]
            options = tuple(shape for shape in options if shape.fret(top.string) == top.fret) or options
        for shape in options:
            if best and shape.cost >= best[0]:
                break
            cost = shape.cost + sum(self.hold_cost(shape, place) for place in places)
            if best is None or cost < best[0]:
                best = (cost, shape)
        return best[1] if best else None

    def hold_cost(self, shape: Shape, place: Place) -> int:
        """What one melody note asks of a held shape."""
        held = shape.fret(place.string)
        if held == place.fret or (place.fret == 0 and not held):
            return 0
        if self.together(shape, place) is None:
            return RELEASE
        if not place.fret:
            return LIFT
        stops = [fret for _, fret in shape.frets if fret]
        return EXTRA_FINGER + SPREAD * max(0, *(abs(fret - place.fret) - 3 for fret in stops or [place.fret]))


def _cost(shape: Shape) -> int:
    return shape.cost


def _fingered(shape: Shape) -> tuple[Shape, ...]:
    """The shape under its usual fingers, and each finger one further out, so that the index is free for the melody."""
    fingers = dict(shape.fingers)
    if shape.barres or not fingers or max(fingers.values()) == LITTLE:
        return (shape,)
    further = tuple((string, finger + 1) for string, finger in shape.fingers)
    return shape, shape._replace(fingers=further, cost=shape.cost + FURTHER, hand_cost=shape.hand_cost + FURTHER)


@lru_cache(maxsize=1024)
def looked_at(setup: Setup, chord: Chord) -> tuple[Shape, ...]:
    """The shapes of a chord that are looked at with a melody, best first."""
    return tuple(best_shapes(setup, chord, MOST_SHAPES))


def hold_together(shape: Shape, place: Place, setup: Setup) -> HeldFrets | None:
    """The shape with the melody note stopped as well, other fingers kept down; None if no hand can."""
    string, fret = place
    if shape.fret(string) == fret:
        return HeldFrets(dict(shape.frets), dict(shape.fingers))
    stops = {s: f for s, f in shape.frets if f and s != string}
    fingers = {s: finger for s, finger in shape.fingers if s != string}
    frets = {s: f for s, f in shape.frets if s != string} | {string: fret}
    if fret == 0:
        return None if shape.barre and shape.fret(string) else HeldFrets(frets, fingers)
    if finger_stops(stops | {string: fret}, setup) is None:
        return None
    for finger in (1, 2, 3, 4):
        if finger not in fingers.values() and in_order(stops, fingers, fret, finger):
            return HeldFrets(frets, fingers | {string: finger})
    return None


def in_order(stops: Mapping[int, int], fingers: Mapping[int, int], fret: int, finger: int) -> bool:
    """Higher frets have higher fingers, and no finger stands further out than one fret a finger."""
    for string, other in stops.items():
        if (other < fret and fingers[string] >= finger) or (other > fret and fingers[string] <= finger):
            return False
        if abs(other - fret) > abs(fingers[string] - finger) + 1:
            return False
    return True
