"""Suggests chords for a tune that comes without any.

Exact dynamic programming over half-bars: every choice has a price with a name, and the row of chords with the lowest
sum is found by Viterbi's recursion (A. J. Viterbi, 1967), not searched for by chance. Degrees follow common practice.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from itertools import pairwise
from typing import Any

from nailhead.core.music.chord import Chord
from nailhead.core.music.key import Key
from nailhead.core.music.metre import ZERO, Time
from nailhead.core.music.pitch import PitchClass
from nailhead.core.music.structure import phrases_of
from nailhead.core.music.tune import Bar, ChordAt, Tune

#: mode -> (fifths of the root above the tonic, quality, reluctance); the tonic first (common practice).
DEGREES: dict[str, tuple[tuple[int, str, int], ...]] = {
    "major": ((0, "", 0), (1, "", 1), (-1, "", 1), (3, "m", 4), (2, "m", 4), (-2, "", 8)),
    "lydian": ((0, "", 0), (2, "", 1), (1, "", 2), (3, "m", 4)),
    "mixolydian": ((0, "", 0), (-2, "", 1), (-1, "", 2), (1, "m", 5), (2, "m", 6)),
    "dorian": ((0, "m", 0), (-2, "", 1), (-1, "", 3), (-3, "", 4), (1, "m", 6)),
    "minor": ((0, "m", 0), (-2, "", 1), (-1, "m", 3), (-4, "", 3), (1, "m", 3), (-3, "", 4)),
    "phrygian": ((0, "m", 0), (-5, "", 1), (-2, "m", 2)),
    "locrian": ((0, "dim", 0), (-5, "", 1), (-3, "m", 2)),
}
#: Roots, in fifths above the tonic, that lead home at the end of a part: the fifth, or the step below in modal tunes.
LEADING = {"major": (1,), "lydian": (1, 2), "minor": (1, -2), "phrygian": (-5, -2), "locrian": (-5,)}
MODAL_LEADING = (-2, 1)

#: What a choice costs. `outside` counts a sixteenth of melody outside the chord, twice that where it begins a beat.
COSTS: dict[str, int] = {
    "outside": 4,
    "unusual degree": 1,
    "change": 3,
    "change in the bar": 9,
    "not home at the start": 6,
    "not home at the end": 24,
    "no lead into the end": 44,
    "phrase ends elsewhere": 4,
    "as an earlier proposal": 0,
}


@dataclass(frozen=True, slots=True)
class Manner:
    """A way to harmonise: costs that differ from COSTS, and how reluctant a degree may be at most."""

    name: str
    description: str
    costs: tuple[tuple[str, int], ...] = ()
    most_reluctant: int = 99
    half_bars: bool = True


STYLES: tuple[Manner, ...] = (
    Manner("Usual", "the common chords, a change inside the bar where the melody asks for it"),
    Manner("Plain", "one chord a bar, as few different ones as will do", (("change", 6),), 3, half_bars=False),
    Manner(
        "Moving",
        "more changes and the minor chords",
        (("change", 1), ("change in the bar", 4), ("unusual degree", 0), ("as an earlier proposal", 2)),
        5,
    ),
)


@dataclass(frozen=True, slots=True)
class Proposal:
    """Chords for every written bar, with what they cost by name (by the common COSTS, so that proposals compare)."""

    name: str
    description: str
    chords: tuple[tuple[ChordAt, ...], ...]
    costs: tuple[tuple[str, int], ...]

    @property
    def cost(self) -> int:
        return sum(amount for _, amount in self.costs)


@dataclass(frozen=True, slots=True)
class Stretch:
    """A stretch of a bar that gets one chord."""

    bar: int
    onset: Time
    end: Time


def propose_chords(tune: Tune, styles: Sequence[Manner] = STYLES) -> tuple[Proposal, ...]:
    """One proposal a style, cheapest first by the common costs; equal ones are given once."""
    found: list[Proposal] = []
    taken: list[dict[tuple[int, Time], Chord]] = []
    for style in styles:
        slots = slots_of(tune, style.half_bars)
        if not slots:
            return ()
        row = best_row(tune, slots, style, taken)
        chords = _by_bar(tune, slots, row)
        if all(chords != proposal.chords for proposal in found):
            costs = row_costs(tune, slots, row, STYLES[0], [])
            found.append(Proposal(style.name, style.description, chords, tuple(sorted(costs.items()))))
            taken.append({(slot.bar, slot.onset): chord for slot, chord in zip(slots, row, strict=True)})
    return tuple(sorted(found, key=lambda proposal: proposal.cost))


def suggest_chords(tune: Tune) -> Tune:
    """The tune with the usual chords (unchanged where it already has chords). Pickups get none."""
    if tune.has_chords:
        return tune
    proposals = propose_chords(tune, STYLES[:1])
    return with_chords(tune, proposals[0].chords) if proposals else tune


def with_chords(tune: Tune, chords: Sequence[tuple[ChordAt, ...]]) -> Tune:
    """The tune with these chords in place of its own."""
    return replace(tune, bars=tuple(replace(bar, chords=row) for bar, row in zip(tune.bars, chords, strict=True)))


def slots_of(tune: Tune, half_bars: bool) -> tuple[Stretch, ...]:
    """The stretches that get a chord: bars, or halves of full bars with an even number of beats; no upbeats."""
    slots: list[Stretch] = []
    for index, bar in enumerate(tune.bars):
        if not bar.events or _is_upbeat(bar):
            continue
        beats = bar.metre.beat_onsets
        splits = half_bars and len(beats) % 2 == 0 and bar.length == bar.metre.length
        cuts = [ZERO, beats[len(beats) // 2], bar.length] if splits else [ZERO, bar.length]
        slots += [Stretch(index, start, end) for start, end in pairwise(cuts)]
    return tuple(slots)


def _is_upbeat(bar: Bar) -> bool:
    return not bar.metre.free and bar.length * 2 < bar.metre.length and not bar.ends_section


@cache
def chords_of(key: Key, most_reluctant: int = 99) -> tuple[tuple[Chord, int], ...]:
    """The chords of a key with their reluctance, tonic first."""
    return tuple(
        (Chord(PitchClass.from_fifths(key.tonic.fifths + fifths), quality), reluctance)
        for fifths, quality, reluctance in DEGREES[key.mode]
        if reluctance <= most_reluctant
    )


#: Chords as (those before, the last one): what many ways begin with is kept once.
_Row = tuple[Any, Chord] | None


def _unwound(row: _Row) -> tuple[Chord, ...]:
    found: list[Chord] = []
    while row:
        row, chord = row
        found.append(chord)
    return tuple(reversed(found))


def best_row(
    tune: Tune, slots: Sequence[Stretch], style: Manner, taken: Sequence[dict[tuple[int, Time], Chord]]
) -> tuple[Chord, ...]:
    """The cheapest chords for the slots in a style; `taken` are rows of earlier proposals."""
    scale = _Scale(tune, slots, style, taken)
    best: dict[Chord, tuple[int, _Row]] = {}
    for at, slot in enumerate(slots):
        following: dict[Chord, tuple[int, _Row]] = {}
        for chord, _ in chords_of(tune.bars[slot.bar].key, style.most_reluctant):
            alone = sum(amount for _, amount in scale.alone(at, chord))
            ways = (
                (past + sum(amount for _, amount in scale.after(at, last, chord)), row)
                for last, (past, row) in best.items()
            )
            past, row = min(ways, key=lambda way: way[0]) if best else (0, None)
            following[chord] = (past + alone, (row, chord))
        best = following
    return _unwound(min(best.values(), key=lambda way: way[0])[1])


def row_costs(
    tune: Tune,
    slots: Sequence[Stretch],
    row: Sequence[Chord],
    style: Manner,
    taken: Sequence[dict[tuple[int, Time], Chord]],
) -> dict[str, int]:
    """What a row costs, by name."""
    scale = _Scale(tune, slots, style, taken)
    costs: dict[str, int] = {}
    for at, chord in enumerate(row):
        entries = list(scale.alone(at, chord)) + (list(scale.after(at, row[at - 1], chord)) if at else [])
        for name, amount in entries:
            costs[name] = costs.get(name, 0) + amount
    return costs


@cache
def _standing(key: Key) -> tuple[Chord, frozenset[Chord], dict[Chord, int]]:
    """The tonic chord of a key, the chords that a phrase may rest on, and how reluctant each is."""
    options = dict(chords_of(key))
    home = next(iter(options))
    return home, frozenset({home} | {option for option in options if _fifths_above(option, key) == 1}), options


class _Scale:
    """Weighs a chord on a slot, alone and after the one before."""

    def __init__(
        self, tune: Tune, slots: Sequence[Stretch], style: Manner, taken: Sequence[dict[tuple[int, Time], Chord]]
    ) -> None:
        self.tune, self.slots, self.taken = tune, slots, taken
        self.price = COSTS | dict(style.costs)
        self._weights: dict[Stretch, list[tuple[int, Time]]] = {}
        bars = tune.bars
        self.ends = {index for index, bar in enumerate(bars) if bar.ends_section} | {slots[-1].bar}
        self.phrase_ends = {stop - 1 for _, stop in phrases_of(bars)}
        last_slots = {slot.bar: at for at, slot in enumerate(slots)}
        self.final = {last_slots[bar] for bar in self.ends if bar in last_slots}

    def alone(self, at: int, chord: Chord) -> list[tuple[str, int]]:
        slot, key = self.slots[at], self.tune.bars[self.slots[at].bar].key
        home, resting, reluctance = _standing(key)
        costs = [
            ("outside", self._outside(slot, chord)),
            ("unusual degree", self.price["unusual degree"] * reluctance.get(chord, 0)),
        ]
        if at == 0 and chord != home:
            costs.append(("not home at the start", self.price["not home at the start"]))
        if at in self.final and chord != home:
            costs.append(("not home at the end", self.price["not home at the end"]))
        elif slot.bar in self.phrase_ends and slot.end == self.tune.bars[slot.bar].length and chord not in resting:
            costs.append(("phrase ends elsewhere", self.price["phrase ends elsewhere"]))
        repeats = sum(row.get((slot.bar, slot.onset)) == chord for row in self.taken)
        if repeats:
            costs.append(("as an earlier proposal", repeats * self.price["as an earlier proposal"]))
        return costs

    def after(self, at: int, last: Chord, chord: Chord) -> list[tuple[str, int]]:
        slot, before = self.slots[at], self.slots[at - 1]
        key = self.tune.bars[slot.bar].key
        costs = []
        if chord != last:
            name = "change in the bar" if slot.bar == before.bar else "change"
            costs.append((name, self.price[name]))
        leading, home = LEADING.get(key.mode, MODAL_LEADING), chords_of(key)[0][0]
        first_of_end = slot.bar in self.ends and slot.bar != before.bar
        leads = _fifths_above(last, key) in leading or (chord != home and _fifths_above(chord, key) in leading)
        if first_of_end and not leads:
            costs.append(("no lead into the end", self.price["no lead into the end"]))
        return costs

    def _outside(self, slot: Stretch, chord: Chord) -> int:
        tones = chord.tones
        cost = sum((weight for tone, weight in self._heard(slot) if tone not in tones), ZERO)
        return int(cost * self.price["outside"])

    def _heard(self, slot: Stretch) -> list[tuple[int, Time]]:
        """The pitch classes in a stretch, with their sixteenths; what begins on a beat counts twice."""
        if slot not in self._weights:
            bar = self.tune.bars[slot.bar]
            beats = bar.metre.beat_onsets
            found: dict[int, Time] = {}
            for event in bar.events:
                heard = min(event.end, slot.end) - max(event.onset, slot.onset)
                if heard > 0 and event.pitch:
                    tone = event.pitch.midi % 12
                    found[tone] = found.get(tone, ZERO) + heard * 16 * (2 if event.onset in beats else 1)
            self._weights[slot] = list(found.items())
        return self._weights[slot]


def _fifths_above(chord: Chord, key: Key) -> int:
    return chord.root.fifths - key.tonic.fifths


def _by_bar(tune: Tune, slots: Sequence[Stretch], row: Sequence[Chord]) -> tuple[tuple[ChordAt, ...], ...]:
    """The row as chord symbols: one at the start of every bar, one more where the half-bar changes."""
    bars: list[list[ChordAt]] = [[] for _ in tune.bars]
    for slot, chord in zip(slots, row, strict=True):
        written = bars[slot.bar]
        if not written or written[-1].chord != chord:
            written.append(ChordAt(slot.onset, chord))
    return tuple(tuple(entries) for entries in bars)
