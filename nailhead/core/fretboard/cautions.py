"""Cautions for a setup: what retuning asks of the strings (handbook §9).

T = mu (2 L f)^2, stress = rho (2 L f)^2 whatever the gauge (Mersenne's law); one semitone up adds
2^(2/12) - 1 = 12.2 % of tension.
"""

from __future__ import annotations

from dataclasses import dataclass

from nailhead.core.fretboard.setup import Setup
from nailhead.core.fretboard.tunings import Tuning, tunings_of

STEEL_KG_M3 = 7850.0
#: The steel's limit below holds for steel alone; nylon and gut stretch and are not judged by stress.
_JUDGED = "steel"
#: Strength of steel music wire of 0.25 to 0.35 mm, from memory; a raise may end at 70 % of it.
STEEL_STRENGTH_PA = 2.6e9
SAFE_SHARE = 0.7
#: A raise of more semitones than this wants other strings or a luthier.
MOST_SEMITONES = 2


@dataclass(frozen=True, slots=True)
class Retuning:
    """One string's way from the pitch it was made for: semitones, and the tension that adds in percent."""

    string: int
    semitones: int
    tension_percent: float
    stress_pa: float


def stress_pa(length_mm: float, frequency_hz: float) -> float:
    """Stress of a steel string of that speaking length at that pitch, in pascals."""
    return STEEL_KG_M3 * (2 * length_mm / 1000 * frequency_hz) ** 2


def frequency_hz(midi: float) -> float:
    """A4 (69) = 440 Hz, ISO 16."""
    return float(440.0 * 2 ** ((midi - 69) / 12))


def retunings(setup: Setup) -> tuple[Retuning, ...]:
    """The strings that are not at the pitch they were made for: the first tuning of the instrument.

    A hook or capo shortens a string and leaves its tension alone.
    """
    return retuned(setup, tunings_of(setup.instrument.id)[0])


def retuned(setup: Setup, current: Tuning) -> tuple[Retuning, ...]:
    """The strings that leave the pitch they have in a tuning, with what that does to their tension."""
    made_for = current.pitches
    found = []
    for number, (pitch, usual) in enumerate(zip(setup.tuning.pitches, made_for, strict=True), start=1):
        midi = pitch.midi
        first = setup.instrument.first_fret(number)
        if first and setup.fifth and setup.hook_fret is None:
            midi = setup.fifth.midi
        semitones = midi - usual.midi
        if semitones:
            length = setup.instrument.scale_mm - setup.instrument.fret_mm(first)
            percent = 100 * (2 ** (2 * semitones / 12) - 1)
            found.append(Retuning(number, semitones, percent, stress_pa(length, frequency_hz(midi))))
    return tuple(found)


def cautions(setup: Setup) -> tuple[str, ...]:
    """Sentences to show beside a setup; empty when nothing is tuned up."""
    said = []
    for change in retunings(setup):
        if change.semitones <= 0:
            continue
        plural = "s" * (change.semitones > 1)
        text = (
            f"String {change.string} goes up {change.semitones} semitone{plural}: {change.tension_percent:.0f} % more "
            "tension. Bring it up slowly, face away, eyes protected; a capo or tuning down is easier on the neck."
        )
        strained = change.stress_pa > SAFE_SHARE * STEEL_STRENGTH_PA and setup.instrument.material == _JUDGED
        if change.semitones > MOST_SEMITONES or strained:
            text += " Use a lighter string or ask a luthier first."
        said.append(text)
    return tuple(said)
