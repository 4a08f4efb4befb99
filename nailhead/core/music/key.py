"""Key: tonic and mode, the signature they give, and the moves between keys."""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction

from nailhead.core.errors import TheoryError
from nailhead.core.music.pitch import Pitch, PitchClass, parse_pitch_class

#: mode -> (fifths of its signature against the major key of the same tonic, minor third?)
MODES: dict[str, tuple[int, bool]] = {
    "major": (0, False),
    "mixolydian": (-1, False),
    "dorian": (-2, True),
    "minor": (-3, True),
    "phrygian": (-4, True),
    "locrian": (-5, True),
    "lydian": (1, False),
}

#: First three letters as ABC writes them -> mode (ABC standard 2.1, §3.1.14).
MODE_NAMES = {
    "": "major",
    "maj": "major",
    "ion": "major",
    "m": "minor",
    "min": "minor",
    "aeo": "minor",
    "mix": "mixolydian",
    "dor": "dorian",
    "phr": "phrygian",
    "lyd": "lydian",
    "loc": "locrian",
}

SHARP_ORDER = "FCGDAEB"
_KEY = re.compile(r"([A-Ga-g])(#|♯|b|♭)?\s*([A-Za-z]*)")


@dataclass(frozen=True, slots=True)
class Key:
    """Tonic and mode; `extra` holds accidentals written beside the mode, as (step, alter).

    `micro` adds commas to steps of `extra`, as (step, commas): a saz tune in A minor with B♭² has
    extra (("B", 0),) and micro (("B", -2),).
    """

    tonic: PitchClass
    mode: str = "major"
    extra: tuple[tuple[str, int], ...] = ()
    micro: tuple[tuple[str, int | Fraction], ...] = ()

    def __post_init__(self) -> None:
        if self.mode not in MODES:
            raise TheoryError(f"“{self.mode}” is not a mode.", field="key", remedy="Use major, minor, dorian …")

    @property
    def fifths(self) -> int:
        """Sharps (positive) or flats (negative) of the signature."""
        return self.tonic.fifths + MODES[self.mode][0]

    @property
    def minor_third(self) -> bool:
        return MODES[self.mode][1]

    @property
    def signature(self) -> dict[str, int]:
        """Alteration of each altered step."""
        return signature_of(self.fifths) | dict(self.extra)

    @property
    def accidentals(self) -> dict[str, tuple[int, int | Fraction]]:
        """(alteration, commas) of each step that the signature alters."""
        commas = dict(self.micro)
        return {step: (alter, commas.get(step, 0)) for step, alter in self.signature.items()}

    @property
    def scale(self) -> tuple[int, ...]:
        """The seven pitch classes as semitones 0 to 11, from the tonic up."""
        signature = self.signature
        start = "CDEFGAB".index(self.tonic.step)
        steps = ("CDEFGAB" * 2)[start : start + 7]
        return tuple(PitchClass(step, signature.get(step, 0)).semitone for step in steps)

    def __str__(self) -> str:
        return f"{self.tonic} {self.mode}"

    @property
    def label(self) -> str:
        """The key with the accidentals written beside its mode: "A minor with B♭²"."""
        commas = dict(self.micro)
        beside = [Pitch(step, alter, 4, commas.get(step, 0)).name for step, alter in self.extra]
        return f"{self} with {', '.join(beside)}" if beside else str(self)


def signature_of(fifths: int) -> dict[str, int]:
    """Alterations of a signature of so many sharps (or flats, negative); beyond seven they double."""
    signature: dict[str, int] = {}
    for index in range(abs(fifths)):
        step = SHARP_ORDER[index % 7] if fifths > 0 else SHARP_ORDER[::-1][index % 7]
        signature[step] = signature.get(step, 0) + (1 if fifths > 0 else -1)
    return signature


def parse_key(text: str) -> Key:
    """Read "A", "Am", "F# minor", "Ador", "D mixolydian"; raises TheoryError."""
    match = _KEY.fullmatch(text.strip())
    word = match[3] if match else ""
    mode = MODE_NAMES.get(word if word in ("m", "M") else word[:3].lower()) if word != "M" else "major"
    if not match or mode is None:
        raise TheoryError(f"“{text}” is not a key.", field="key", remedy="Write a tonic and a mode: G, Am, Ador, Dmix.")
    return Key(parse_pitch_class(match[1] + (match[2] or "")), mode)


def interval_between(source: PitchClass, target: PitchClass) -> tuple[int, int]:
    """The upward move from one tonic to another: (semitones 0 to 11, fifths)."""
    return (target.semitone - source.semitone) % 12, target.fifths - source.fifths


def transpose_key(key: Key, fifths: int) -> Key:
    """Move a key along the line of fifths, names kept within seven sharps or flats."""
    moved = key.tonic.fifths + fifths
    while moved + MODES[key.mode][0] > 7:
        moved -= 12
    while moved + MODES[key.mode][0] < -7:
        moved += 12
    return Key(PitchClass.from_fifths(moved), key.mode)


def move_key(key: Key, semitones: int) -> tuple[Key, int]:
    """The key so many semitones away in its simplest spelling, and the fifths that lead there."""
    best = min(
        (fifths for fifths in range(-11, 12) if (7 * fifths - semitones) % 12 == 0),
        key=lambda fifths: (abs(key.fifths + fifths), abs(fifths), -fifths),
    )
    return Key(PitchClass.from_fifths(key.tonic.fifths + best), key.mode), best


def spell(cents: Fraction, key: Key) -> Pitch:
    """The name of a sounding semitone in a key: the one nearest the key on the line of fifths."""
    midi = int(cents // 100)
    centre = key.fifths + 2
    fifths = min(
        (place for place in range(centre - 12, centre + 13) if (7 * place - midi) % 12 == 0),
        key=lambda place: (abs(place - centre), place),
    )
    name = PitchClass.from_fifths(fifths)
    octave = (midi - (name.semitone if 0 <= _raw(name) < 12 else _raw(name))) // 12 - 1
    return Pitch(name.step, name.alter, octave)


def _raw(name: PitchClass) -> int:
    """Semitone above C without folding: C♭ is -1, B♯ is 12."""
    return PitchClass(name.step).semitone + name.alter
