"""Chord shapes from the geometry of the neck: what a left hand can hold, and with which fingers."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from itertools import product
from typing import NamedTuple

from nailhead.core.arrange.harmony_rules import pitch_class_of
from nailhead.core.fretboard.setup import Place, Setup, SoundingString
from nailhead.core.music.chord import Chord

Stops = Mapping[int, int]

#: Points: what makes a shape worth less (weights ours; fingers and barre after handbook §3).
COSTS = {
    "finger": 10,
    "barre": 16,
    "fret": 3,  # per fret of its highest stop
    "string left out": 14,
    "third missing": 8,
    "root missing": 6,
}
_HIGHEST_POSITION = 7
_FINGERS = 4


class Shape(NamedTuple):
    """Frets of the strings that may be struck (0 open); strings not listed are left out.

    `fingers` gives each stopped string's finger; with `barre` the index lies over several strings.
    """

    frets: tuple[tuple[int, int], ...]
    fingers: tuple[tuple[int, int], ...]
    barre: bool
    cost: int

    def fret(self, string: int) -> int | None:
        return next((fret for number, fret in self.frets if number == string), None)


def finger_stops(stops: Stops, setup: Setup) -> tuple[dict[int, int], bool] | None:
    """Fingers for stopped strings {string: fret > 0}, and whether the index bars; None if unreachable.

    Lower frets get lower fingers, at the same fret the bass string comes first; three or more strings at the
    lowest fret with no open string between them are barred. The outer fingers must lie within the span.
    """
    if not stops:
        return {}, False
    low, high = min(stops.values()), max(stops.values())
    if setup.distance_mm(low, high) > setup.instrument.span_mm:
        return None
    lowest = [string for string, fret in stops.items() if fret == low]
    barre = len(lowest) >= 3 and all(string in stops for string in range(min(lowest), max(lowest) + 1))
    fingers = dict.fromkeys(lowest, 1) if barre else {}
    last = 1 if barre else 0
    for string, fret in sorted(stops.items(), key=lambda stop: (stop[1], -stop[0])):
        if string in fingers:
            continue
        last = max(last + 1, min(fret - low + 1, _FINGERS))
        if last > _FINGERS:
            return None
        fingers[string] = last
    return fingers, barre


def shapes_for(setup: Setup, chord: Chord) -> tuple[Shape, ...]:
    """Every makeable shape of a chord up to the seventh position, best first."""
    tones = {string.number: _chord_frets(setup, string, chord) for string in setup.strings if not string.drone}
    found = []
    for frets in dict.fromkeys(_voicings(tones)):
        fingering = finger_stops({string: fret for string, fret in frets if fret}, setup)
        if fingering:
            fingers, barre = fingering
            sounding = {tones[string][fret] for string, fret in frets}
            cost = _cost(chord, frets, fingers, barre, sounding, len(tones))
            found.append(Shape(frets, tuple(sorted(fingers.items())), barre, cost))
    return tuple(sorted(found, key=lambda shape: (shape.cost, shape.frets)))


def _voicings(tones: dict[int, dict[int, int]]) -> Iterator[tuple[tuple[int, int], ...]]:
    """Each string open, stopped within four frets of a position, or left out; at least two strings."""
    for position in range(1, _HIGHEST_POSITION + 1):
        window = range(position, position + 4)
        options = [
            [(string, fret) for fret in frets if fret == 0 or fret in window] + [None]
            for string, frets in tones.items()
        ]
        for choice in product(*options):
            frets = tuple(stop for stop in choice if stop is not None)
            if len(frets) >= 2:
                yield frets


def _chord_frets(setup: Setup, string: SoundingString, chord: Chord) -> dict[int, int]:
    """Frets of a string that sound a tone of the chord, with that tone's pitch class."""
    top = min(_HIGHEST_POSITION + 3, string.last_fret)
    sounding = ((fret, pitch_class_of(setup.sounding_cents(Place(string.number, fret)))) for fret in range(top + 1))
    return {fret: tone for fret, tone in sounding if tone is not None and tone in chord.tones}


def _cost(
    chord: Chord,
    frets: tuple[tuple[int, int], ...],
    fingers: dict[int, int],
    barre: bool,
    sounding: set[int],
    strings: int,
) -> int:
    cost = COSTS["finger"] * len(set(fingers.values())) + COSTS["barre"] * barre
    cost += COSTS["fret"] * max((fret for _, fret in frets), default=0)
    cost += COSTS["string left out"] * (strings - len(frets))
    cost += COSTS["root missing"] * (chord.root.semitone not in sounding)
    thirds = {(chord.root.semitone + third) % 12 for third in (3, 4)} & chord.tones
    return cost + COSTS["third missing"] * bool(thirds and not thirds & sounding)
