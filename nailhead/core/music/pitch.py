"""Pitch as a spelling with a sounding value in cents.

A pitch is a step, an accidental (whole semitones and commas of 1200/53 cents) and an octave in
scientific numbering (C4 is middle C). Two pitches are the same spelling when they are equal, and
the same sound when their cents are.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from nailhead.core.errors import TheoryError

STEPS = "CDEFGAB"
STEP_SEMITONES = dict(zip(STEPS, (0, 2, 4, 5, 7, 9, 11), strict=True))
#: Position of a step on the line of fifths, F = -1, C = 0, … B = 5.
STEP_FIFTHS = {step: fifths for fifths, step in enumerate("FCGDAEB", start=-1)}
#: Holdrian comma: 53 equal parts of the octave, in cents.
COMMA_CENTS = Fraction(1200, 53)
COMMAS_A_SEMITONE = 100 / COMMA_CENTS
#: A4 in Hz (ISO 16) and in cents above C-1.
A4_HERTZ, A4_CENTS = 440.0, 6900
_SUPERSCRIPTS = str.maketrans("0123456789/", "⁰¹²³⁴⁵⁶⁷⁸⁹⁄")

_ACCIDENTALS = {"": 0, "n": 0, "♮": 0, "#": 1, "♯": 1, "##": 2, "x": 2, "♯♯": 2, "b": -1, "♭": -1, "bb": -2}
_PITCH = re.compile(r"([A-Ga-g])(##|#|♯♯|♯|x|bb|b|♭|n|♮)?(-?\d{1,2})")


@dataclass(frozen=True, slots=True, order=True)
class PitchClass:
    """A note name without its octave: step and semitones of alteration (B♭ is ("B", -1))."""

    step: str
    alter: int = 0

    @property
    def semitone(self) -> int:
        """0 to 11, C = 0."""
        return (STEP_SEMITONES[self.step] + self.alter) % 12

    @property
    def fifths(self) -> int:
        """Place on the line of fifths, C = 0, G = 1, F = -1."""
        return STEP_FIFTHS[self.step] + 7 * self.alter

    @staticmethod
    def from_fifths(fifths: int) -> PitchClass:
        """The name at a place on the line of fifths."""
        return PitchClass("FCGDAEB"[(fifths + 1) % 7], (fifths + 1) // 7)

    def __str__(self) -> str:
        return self.step + accidental_text(self.alter)


@dataclass(frozen=True, slots=True)
class Pitch:
    """A spelled pitch. `alter` in semitones, `commas` in steps of 1200/53 cents on top of it.

    Saz players write B lowered by two commas as B♭2 and F raised by three as F♯3; that is
    Pitch("B", 0, octave, commas=-2) and Pitch("F", 0, octave, commas=3).
    """

    step: str
    alter: int
    octave: int
    commas: int | Fraction = 0

    def __post_init__(self) -> None:
        if self.step not in STEP_SEMITONES or not -2 <= self.alter <= 2:
            raise TheoryError(f"There is no pitch with step {self.step!r} and accidental {self.alter}.", field="pitch")

    @property
    def midi(self) -> int:
        """Key number of the spelling without its commas, C4 = 60: for formats and semitone frets."""
        return 12 * (self.octave + 1) + STEP_SEMITONES[self.step] + self.alter

    @property
    def cents(self) -> Fraction:
        """Cents above C-1 (key number 0), equal temperament, A4 = 440 Hz (ISO 16)."""
        semitones = Fraction(100 * self.midi)
        return semitones + self.commas * COMMA_CENTS if self.commas else semitones

    @property
    def pitch_class(self) -> PitchClass:
        return PitchClass(self.step, self.alter)

    @property
    def diatonic(self) -> int:
        """Steps above C0 on the staff, accidentals ignored."""
        return 7 * self.octave + STEPS.index(self.step)

    @property
    def name(self) -> str:
        """The note without its octave, commas as a small figure: B♭² is B lowered by two commas."""
        return f"{self.pitch_class}{comma_text(self.commas)}"

    def __str__(self) -> str:
        return f"{self.name}{self.octave}"


def hertz_of(cents: float | Fraction) -> float:
    """Frequency of so many cents above C-1: 440 Hz · 2^((cents - 6900) / 1200) (ISO 16)."""
    return float(A4_HERTZ * 2 ** (float(cents - A4_CENTS) / 1200))


def accidental_text(alter: int) -> str:
    """♯ and ♭ as many as needed."""
    return ("♯" if alter > 0 else "♭") * abs(alter)


def comma_text(commas: int | Fraction) -> str:
    """♭² for two commas down, ♯³ for three up, nothing for none."""
    if commas == 0:
        return ""
    return ("♯" if commas > 0 else "♭") + str(abs(commas)).translate(_SUPERSCRIPTS)


def split_semitones(semitones: Fraction) -> tuple[int, int | Fraction]:
    """An alteration of a natural step as (whole semitones, commas on top).

    Whole commas are preferred: -24/53 of a semitone is two commas down, (0, -2). What is no whole number of
    commas keeps its fraction: half a semitone up is (0, 53/24).
    """
    for alter in (0, 1, -1, 2, -2):
        commas = (semitones - alter) * COMMAS_A_SEMITONE
        if commas.denominator == 1 and abs(commas) < 9:
            return alter, int(commas)
    alter = int(semitones)
    return alter, (semitones - alter) * COMMAS_A_SEMITONE


def altered_semitones(alter: int, commas: int | Fraction) -> Fraction:
    """The inverse: how many semitones the natural step is moved."""
    return alter + commas / COMMAS_A_SEMITONE


def parse_pitch(text: str, field: str = "pitch") -> Pitch:
    """Read "A4", "F#3", "Bb2" or "E♭5"; raises TheoryError with the remedy."""
    match = _PITCH.fullmatch(text.strip())
    if not match:
        raise TheoryError(
            f"“{text}” is not a pitch.", field=field, remedy="Write a letter, # or b, and an octave: A4, F#3."
        )
    return Pitch(match[1].upper(), _ACCIDENTALS[match[2] or ""], int(match[3]))


def parse_pitch_class(text: str, field: str = "key") -> PitchClass:
    """Read "A", "F#", "Bb"; raises TheoryError."""
    name = text.strip()
    if not name or name[0].upper() not in STEP_SEMITONES or name[1:] not in _ACCIDENTALS:
        raise TheoryError(f"“{text}” is not a note name.", field=field, remedy="Write a letter with # or b: A, F#, Bb.")
    return PitchClass(name[0].upper(), _ACCIDENTALS[name[1:]])


@lru_cache(maxsize=4096)
def transpose(pitch: Pitch, semitones: int, fifths: int) -> Pitch:
    """Move a pitch by an interval given as semitones and as a distance on the line of fifths.

    Both are needed: the fifths choose the spelling (a sharp key stays sharp), the semitones the
    octave. `fifths` must agree with `semitones` modulo the octave. Where the spelling would need
    a triple accidental, the nearest simpler name of the same sound is taken.
    """
    if (7 * fifths - semitones) % 12:
        raise TheoryError(f"An interval of {semitones} semitones is not {fifths} fifths.", field="transpose")
    name = PitchClass.from_fifths(pitch.pitch_class.fifths + fifths)
    while not -2 <= name.alter <= 2:
        name = PitchClass.from_fifths(name.fifths - 12 * (1 if name.alter > 0 else -1))
    octave = (pitch.midi + semitones - STEP_SEMITONES[name.step] - name.alter) // 12 - 1
    return Pitch(name.step, name.alter, octave, pitch.commas)
