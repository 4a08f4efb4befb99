"""Chord shapes from the geometry of the neck: every way a left hand can hold a chord, best first.

A shape is searched string by string: open, stopped within reach of its lowest fret, or left out. Branches that want
more than four fingers are cut early, so that six strings and a whole neck take milliseconds.
"""

from __future__ import annotations

from bisect import insort
from collections.abc import Iterable, Iterator
from functools import lru_cache
from typing import NamedTuple

from nailhead.core.fretboard.fingering import FINGER_COSTS, FINGERS, Barre, finger_stops
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.chord import Chord
from nailhead.core.music.pitch import Pitch, PitchClass

#: Points beside those of the hand: what makes a shape worth less (weights ours); an instrument's row may differ.
COSTS = {
    "fret": 3,  # per fret of its highest stop
    "string left out": 18,
    "bass string left out": 6,  # where the bass should be the root, for the first two
    "string damped inside": 10,
    "third missing": 12,
    "seventh missing": 22,
    "root missing": 18,
    "open between stops": 0,  # under fingers that stand above the third fret
    "other tone missing": 6,
    "not the root in the bass": 18,  # where the bass should be the root, or the chord names its bass
}
#: Highest fret of a shape's lowest stop.
HIGHEST_POSITION = 9
#: Strings of a neck -> the fewest that make a chord.
_FEWEST = {3: 2, 4: 2, 5: 3, 6: 4}


class Shape(NamedTuple):
    """Frets of the strings that may be struck (0 open); strings not listed are left out.

    `fingers` gives each stopped string's finger; `barres` are fingers over several strings.
    """

    frets: tuple[tuple[int, int], ...]
    fingers: tuple[tuple[int, int], ...]
    barres: tuple[Barre, ...]
    cost: int
    hand_cost: int

    def fret(self, string: int) -> int | None:
        return next((fret for number, fret in self.frets if number == string), None)

    @property
    def barre(self) -> bool:
        """Does a finger lie over three strings or more?"""
        return any(barre.last - barre.first > 1 for barre in self.barres)


class _Tone(NamedTuple):
    """A chord tone on a string: its fret, which tone it is (0 the root), its height in cents."""

    fret: int
    tone: int
    cents: int


def shapes_for(setup: Setup, chord: Chord, highest: int = HIGHEST_POSITION) -> tuple[Shape, ...]:
    """Every makeable shape of a chord up to a position, best first; () where the neck has too few of its tones."""
    prices = _Prices(chord, setup)
    made = (_shape(voicing, prices.cost(voicing), setup) for voicing in _candidates(setup, chord, highest))
    return tuple(sorted((shape for shape in made if shape), key=_order))


def best_shapes(setup: Setup, chord: Chord, most: int, highest: int = HIGHEST_POSITION, damped: int = 1) -> list[Shape]:
    """The first `most` that `shapes_for` finds, with at most so many strings `damped` inside.

    Voicings are tried in the order of what they cost at least, a finger for each fret, and none beyond the last that
    is wanted.
    """
    prices = _Prices(chord, setup)
    order = []
    for voicing in _candidates(setup, chord, highest, damped):
        price = prices.cost(voicing)
        levels = len({tone.fret for _, tone in voicing if tone.fret})
        order.append((price + FINGER_COSTS[min(levels, FINGERS)], price, voicing))
    best: list[Shape] = []
    for least, price, voicing in sorted(order):
        if len(best) == most and least > best[-1].cost:
            break
        if shape := _shape(voicing, price, setup):
            insort(best, shape, key=_order)
            del best[most:]
    return best


@lru_cache(maxsize=4096)
def easiest_shape(setup: Setup, chord: Chord, highest: int = 4) -> Shape | None:
    """The best shape in the first positions, None where there is none: what a chord asks of this setup."""
    return next(iter(best_shapes(setup, chord, 1, highest, damped=0)), None)


def distinct_shapes(shapes: Iterable[Shape], most: int) -> tuple[Shape, ...]:
    """The first `most` that are not a better one with strings left out."""
    kept: list[Shape] = []
    for shape in shapes:
        if not any(set(shape.frets) < set(better.frets) for better in kept):
            kept.append(shape)
        if len(kept) == most:
            break
    return tuple(kept)


def _candidates(setup: Setup, chord: Chord, highest: int, damped: int = 1) -> Iterable[_Voicing]:
    wanted = tones_of(chord, setup)
    numbers = [string.number for string in setup.strings if not string.drone]
    strings = {number: _tones_on(setup, number, wanted, highest) for number in numbers}
    return dict.fromkeys(_voicings(strings, setup, highest, damped))


def _shape(voicing: _Voicing, price: int, setup: Setup) -> Shape | None:
    fingering = finger_stops({string: tone.fret for string, tone in voicing if tone.fret}, setup)
    if fingering is None:
        return None
    fingers = fingering.fingers
    if len(fingers) == 1:
        # A finger by itself is the one of its fret.
        fingers = {string: _finger_of(tone.fret, setup) for string, tone in voicing if tone.fret}
    return Shape(
        tuple(sorted((string, tone.fret) for string, tone in voicing)),
        tuple(sorted(fingers.items())),
        fingering.barres,
        fingering.cost + price,
        fingering.cost,
    )


def _finger_of(fret: int, setup: Setup) -> int:
    """Which finger stops a fret by itself in the first position, the index higher up."""
    each = setup.instrument.frets_per_finger
    return (fret - 1) // each + 1 if fret <= FINGERS * each - each else 1


def _order(shape: Shape) -> tuple[object, ...]:
    """Cheapest first; of equals the one whose bass strings are stopped lower, so that chance has no say."""
    return shape.cost, shape.frets[::-1]


#: Semitones above a root -> steps on the line of fifths, as chord tones are usually spelled.
_FIFTHS = {0: 0, 2: 2, 3: -3, 4: 4, 5: -1, 6: -6, 7: 1, 8: 8, 9: 3, 10: -2, 11: 5}


def tones_of(chord: Chord, setup: Setup) -> tuple[int, ...]:
    """Cents above C of the chord's tones, root first, a written bass last: by name where frets are commas."""
    names = [PitchClass.from_fifths(chord.root.fifths + _FIFTHS[interval]) for interval in chord.intervals]
    if chord.bass and chord.bass.semitone not in {name.semitone for name in names}:
        names.append(chord.bass)
    if not setup.instrument.commas:
        return tuple(100 * name.semitone for name in names)
    simple = [name if abs(name.alter) <= 2 else PitchClass.from_fifths(name.fifths % 12) for name in names]
    return tuple(int(setup.cents_of(Pitch(name.step, name.alter, 4))) % 1200 for name in simple)


def _tones_on(setup: Setup, string: int, wanted: tuple[int, ...], highest: int) -> list[_Tone]:
    top = min(highest + _REACH, setup.string(string).last_fret)
    found = []
    for fret in range(top + 1):
        cents = int(setup.sounding_cents(Place(string, fret)))
        if cents % 1200 in wanted:
            found.append(_Tone(fret, wanted.index(cents % 1200), cents))
    return found


#: Frets above a shape's lowest that any hand might reach, high up the neck.
_REACH = 6
_Voicing = tuple[tuple[int, _Tone], ...]


def _voicings(strings: dict[int, list[_Tone]], setup: Setup, highest: int, damped: int) -> Iterator[_Voicing]:
    """Bass to treble. Strings may be left out at the edges, and so many inside, damped by a finger beside them."""
    order = sorted(strings, reverse=True)
    fewest = _FEWEST.get(len(order), 4 if len(order) > 6 else 2)
    yield from _grow(
        order, {number: [t for t in tones if t.fret == 0] for number, tones in strings.items()}, 0, (fewest, damped)
    )
    last = min(setup.string(number).last_fret for number in order)
    for low in range(1, min(highest, last) + 1):
        reach = [f for f in range(low, last + 1) if setup.distance_mm(low, f) <= setup.instrument.span_mm]
        window = {0, *reach}
        tones = {number: [t for t in found if t.fret in window] for number, found in strings.items()}
        yield from _grow(order, tones, low, (fewest, damped))


def _grow(order: list[int], tones: dict[int, list[_Tone]], low: int, limits: tuple[int, int]) -> Iterator[_Voicing]:
    """All ways through the strings with at least one stop at `low` (0: none stopped).

    `limits` are the fewest strings that must sound and the most that may be damped inside.
    """
    fewest, most_damped = limits
    stack: list[tuple[int, _Voicing, int, int, bool, int]] = [(0, (), 0, 0, low == 0, 0)]
    while stack:
        at, chosen, units, gap, touched, inside = stack.pop()
        if at == len(order):
            if touched and len(chosen) >= fewest:
                yield chosen
            continue
        if len(chosen) + len(order) - at < fewest:
            continue
        number = order[at]
        stack.append((at + 1, chosen, units, gap + (1 if chosen else 0), touched, inside))
        damped = inside + gap
        if damped > most_damped:
            continue
        before = chosen[-1] if chosen else None
        for tone in tones[number]:
            same = before and before[0] == number + 1 and before[1].fret == tone.fret
            more = units + (tone.fret > low and not same)
            if more <= FINGERS - (low > 0):
                grown = (*chosen, (number, tone))
                stack.append((at + 1, grown, more, 0, touched or tone.fret == low, damped))


class _Prices:
    """What a voicing of one chord on one setup costs beside the hand, with all that is the same for every voicing."""

    def __init__(self, chord: Chord, setup: Setup) -> None:
        self.costs = COSTS | dict(setup.instrument.chord_costs)
        self.rooted = setup.instrument.bass_is_root
        self.strings = sorted(string.number for string in setup.strings if not string.drone)
        self.missing = [self.costs[_MISSING.get(interval, "other tone missing")] for interval in chord.intervals]
        self.bass = tones_of(Chord(chord.bass or chord.root), setup)[0] if self.rooted or chord.bass else None

    def cost(self, voicing: _Voicing) -> int:
        costs, bassmost, treblemost = self.costs, voicing[0][0], voicing[-1][0]
        edge = sum(number > bassmost for number in self.strings)
        spared = min(edge, _BASS_SPARED) if self.rooted else 0
        inside = bassmost - treblemost + 1 - len(voicing)
        highest = max(tone.fret for _, tone in voicing)
        cost = costs["fret"] * highest
        cost += spared * costs["bass string left out"] + inside * costs["string damped inside"]
        cost += (len(self.strings) - len(voicing) - spared) * costs["string left out"]
        sounding = {tone.tone for _, tone in voicing}
        cost += sum(points for tone, points in enumerate(self.missing) if tone not in sounding)
        if self.bass is not None and min(tone.cents for _, tone in voicing) % 1200 != self.bass:
            cost += costs["not the root in the bass"]
        return cost + (costs["open between stops"] * _open_among(voicing) if highest > _NEAR else 0)


def _open_among(voicing: _Voicing) -> int:
    """How many open strings have stopped ones on either side."""
    stopped = [place for place, (_, tone) in enumerate(voicing) if tone.fret]
    return sum(not tone.fret for _, tone in voicing[stopped[0] : stopped[-1]])


#: So many bass strings are left out cheaply where the bass should be the root.
_BASS_SPARED = 2
#: The highest fret at which an open string among stops is everyday.
_NEAR = 3
#: Semitones above a root -> what a voicing pays that has no such tone.
_MISSING = {
    0: "root missing",
    3: "third missing",
    4: "third missing",
    10: "seventh missing",
    11: "seventh missing",
}
