"""Suggests a chord for each bar of a tune that comes without any.

Exact dynamic programming over bars: a chord costs the time its bar's melody spends outside it, a
change costs a little, and the last bar of a section wants the tonic. Degrees follow common practice.
"""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from nailhead.core.music.chord import Chord
from nailhead.core.music.key import MODES, Key
from nailhead.core.music.metre import ZERO
from nailhead.core.music.pitch import PitchClass
from nailhead.core.music.tune import Bar, ChordAt, Tune

#: mode -> (fifths of the root above the tonic, quality, reluctance); the tonic first (common practice).
DEGREES: dict[str, tuple[tuple[int, str, int], ...]] = {
    "major": ((0, "", 0), (1, "", 1), (-1, "", 1), (3, "m", 4), (2, "m", 4)),
    "lydian": ((0, "", 0), (2, "", 1), (1, "", 2)),
    "mixolydian": ((0, "", 0), (-2, "", 1), (-1, "", 2), (1, "m", 5)),
    "dorian": ((0, "m", 0), (-2, "", 1), (-1, "", 3), (-3, "", 4)),
    "minor": ((0, "m", 0), (-2, "", 1), (-1, "m", 3), (-4, "", 3), (1, "m", 3), (-3, "", 4)),
    "phrygian": ((0, "m", 0), (-5, "", 1), (-2, "m", 2)),
    "locrian": ((0, "dim", 0), (-5, "", 1), (-3, "m", 2)),
}

#: Per sixteenth of melody outside the chord; twice that where it begins a beat.
OUTSIDE = 4
CHANGE = 3
NOT_TONIC_AT_END = 24
NOT_TONIC_AT_START = 6


def suggest_chords(tune: Tune) -> Tune:
    """The tune with one chord a bar (unchanged where it already has chords). Pickups get none."""
    if tune.has_chords:
        return tune
    voiced = [index for index, bar in enumerate(tune.bars) if not _is_upbeat(tune, index) and bar.events]
    if not voiced:
        return tune
    choice = _best_row(tune, voiced)
    bars = list(tune.bars)
    for index, chord in zip(voiced, choice, strict=True):
        bars[index] = replace(bars[index], chords=(ChordAt(ZERO, chord),))
    return replace(tune, bars=tuple(bars))


def _is_upbeat(tune: Tune, index: int) -> bool:
    bar = tune.bars[index]
    return not bar.metre.free and bar.length * 2 < bar.metre.length and not bar.ends_section


def chords_of(key: Key) -> tuple[tuple[Chord, int], ...]:
    """The chords of a key with their reluctance, tonic first."""
    assert key.mode in MODES
    return tuple(
        (Chord(PitchClass.from_fifths(key.tonic.fifths + fifths), quality), reluctance)
        for fifths, quality, reluctance in DEGREES[key.mode]
    )


def _best_row(tune: Tune, voiced: list[int]) -> list[Chord]:
    best: dict[Chord, tuple[int, tuple[Chord, ...]]] = {}
    for order, index in enumerate(voiced):
        bar = tune.bars[index]
        options = chords_of(bar.key)
        tonic = options[0][0]
        following: dict[Chord, tuple[int, tuple[Chord, ...]]] = {}
        for chord, reluctance in options:
            cost = _outside(bar, chord) + reluctance
            cost += NOT_TONIC_AT_START if order == 0 and chord != tonic else 0
            cost += NOT_TONIC_AT_END if (bar.ends_section or order + 1 == len(voiced)) and chord != tonic else 0
            if best:
                before = min(
                    ((past + (CHANGE if last != chord else 0), row) for last, (past, row) in best.items()),
                    key=lambda pair: pair[0],
                )
                following[chord] = (before[0] + cost, (*before[1], chord))
            else:
                following[chord] = (cost, (chord,))
        best = following
    return list(min(best.values(), key=lambda pair: pair[0])[1])


def _outside(bar: Bar, chord: Chord) -> int:
    cost = Fraction(0)
    beats = bar.metre.beat_onsets
    for event in bar.events:
        if event.pitch and event.pitch.midi % 12 not in chord.tones:
            cost += event.duration * 16 * OUTSIDE * (2 if event.onset in beats else 1)
    return int(cost)
