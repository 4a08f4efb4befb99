"""Four fingers on stopped strings: which finger where, and what one finger may bar."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import pairwise
from typing import NamedTuple

from nailhead.core.fretboard.setup import Setup

Stops = Mapping[int, int]

#: Points: what a hand has to do for a shape (weights ours; fingers and barre after handbook §3).
FINGER_COSTS = (0, 8, 17, 28, 42)  # for so many fingers
BARRE_COSTS = {"pair": 11, "barre": 21}  # one finger on two neighbouring strings; on three or more
STRETCH_COST = 12  # for the whole span, with the square of what is spread
FINGERS = 4
#: Strings that a finger other than the index can bar.
_PART_BARRE = 4


class Barre(NamedTuple):
    """One finger across neighbouring strings `first` to `last` (the lower number first) at a fret."""

    finger: int
    fret: int
    first: int
    last: int


class Fingering(NamedTuple):
    """The finger of each stopped string, the barres among them, and what the hand pays."""

    fingers: dict[int, int]
    barres: tuple[Barre, ...]
    cost: int


class _Unit(NamedTuple):
    """What one finger does: a fret, and the strings it stops there, lowest number first."""

    fret: int
    strings: tuple[int, ...]


def finger_stops(stops: Stops, setup: Setup) -> Fingering | None:
    """Fingers for stopped strings {string: fret > 0}; None if no hand reaches them.

    Lower frets get lower fingers, at the same fret the bass string comes first. Neighbouring strings at one fret may
    be barred, the lowest fret across the whole hand. The outer fingers lie within the span in millimetres, and two
    fingers beside one another within three fifths of it.
    """
    if not stops:
        return Fingering({}, (), 0)
    levels: dict[int, list[int]] = {}
    for string in sorted(stops):
        levels.setdefault(stops[string], []).append(string)
    low, high = min(levels), max(levels)
    if setup.distance_mm(low, high) > setup.instrument.span_mm:
        return None
    if len(stops) < FINGERS:
        # A finger each is never dearer than a barre while there are fingers left.
        each = tuple(_Unit(fret, (string,)) for fret, strings in sorted(levels.items()) for string in reversed(strings))
        if found := _fingers_of(each, setup):
            return found
    best: Fingering | None = None
    for units in _ways(sorted(levels.items()), stops, low):
        found = _fingers_of(units, setup)
        if found and (best is None or found.cost < best.cost):
            best = found
    return best


def _ways(levels: Sequence[tuple[int, list[int]]], stops: Stops, low: int) -> Iterator[tuple[_Unit, ...]]:
    """Each fret's strings under a finger each, or barred where they can be."""
    if not levels:
        yield ()
        return
    (fret, strings), rest = levels[0], levels[1:]
    each = tuple(_Unit(fret, (string,)) for string in reversed(strings))
    options = [each]
    if len(strings) > 1 and _barred(fret, strings[0], strings[-1], stops, fret == low):
        options.append((_Unit(fret, tuple(strings)),))
    elif len(strings) > 2:
        options.append(tuple(_runs(fret, strings)))
    for option in options:
        if len(option) <= FINGERS:
            for more in _ways(rest, stops, low):
                if len(option) + len(more) <= FINGERS:
                    yield option + more


def _runs(fret: int, strings: list[int]) -> Iterator[_Unit]:
    """The strings of a fret, bass first, neighbours under one finger."""
    run: list[int] = []
    for string in reversed(strings):
        if run and (string != run[0] - 1 or len(run) == _PART_BARRE):
            yield _Unit(fret, tuple(run))
            run = []
        run.insert(0, string)
    yield _Unit(fret, tuple(run))


def _barred(fret: int, first: int, last: int, stops: Stops, lowest: bool) -> bool:
    """May one finger lie over these strings? No open string under it; other fingers only above the index."""
    between = [stops.get(string) for string in range(first, last + 1)]
    if lowest:
        return all(other is not None and other >= fret for other in between)
    return last - first < _PART_BARRE and all(other == fret for other in between)


def _fingers_of(units: tuple[_Unit, ...], setup: Setup) -> Fingering | None:
    each, low = setup.instrument.frets_per_finger, units[0].fret
    given: list[int] = []
    for at, unit in enumerate(units):
        left = len(units) - at - 1
        wanted = min((unit.fret - low) // each + 1, FINGERS - left)
        given.append(max(given[-1] + 1 if given else 1, wanted))
    for (one, finger), (other, next_finger) in pairwise(zip(units, given, strict=True)):
        reach = setup.instrument.span_mm * (2 + next_finger - finger) / 5
        if setup.distance_mm(one.fret, other.fret) > reach:
            return None
    if given[-1] > FINGERS:
        return None
    fingers = {string: finger for unit, finger in zip(units, given, strict=True) for string in unit.strings}
    barres = tuple(
        Barre(finger, unit.fret, unit.strings[0], unit.strings[-1])
        for unit, finger in zip(units, given, strict=True)
        if len(unit.strings) > 1
    )
    bars = sum(BARRE_COSTS["barre" if barre.last - barre.first > 1 else "pair"] for barre in barres)
    spread = setup.distance_mm(low, units[-1].fret) / setup.instrument.span_mm
    return Fingering(fingers, barres, FINGER_COSTS[len(units)] + bars + round(STRETCH_COST * spread**2))
