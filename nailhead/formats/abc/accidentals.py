"""Accidentals of ABC: plain signs (standard 2.1, §4.2) and fractions of a semitone for microtones.

A fraction between sign and letter counts semitones: `_1/2B` is B lowered by a quarter tone, `_24/53B` is B lowered
by two commas (24/53 of a semitone; 53 commas make the octave). It replaces the key's accidental, like any other.
"""

from __future__ import annotations

from fractions import Fraction

from nailhead.core.errors import TheoryError
from nailhead.core.figures import clipped
from nailhead.core.music.pitch import altered_semitones, split_semitones

ACCIDENTAL = r"\^\^(?!\d*/)|__(?!\d*/)|=|[\^_](?:\d+/\d+|/\d*|\d+/)?"
_SIGNS = {0: "=", 1: "^", 2: "^^", -1: "_", -2: "__"}
_ALTER = {sign: alter for alter, sign in _SIGNS.items()}

Accidental = tuple[int, int | Fraction]


def read_accidental(text: str) -> Accidental:
    """(semitones, commas) of an accidental as written; raises TheoryError for a fraction that cannot be."""
    if text in _ALTER:
        return _ALTER[text], 0
    above, _, below = text[1:].partition("/")
    top, bottom = clipped(above or "1", 20_000), clipped(below or "2", 10_000)
    if bottom == 0 or bottom > 10_000 or top > 2 * bottom:
        raise TheoryError(f"“{text}” is not an accidental.", field="abc", remedy="Write ^, _, = or a fraction: _1/2B.")
    return split_semitones(Fraction(top, bottom) * (1 if text[0] == "^" else -1))


def write_accidental(accidental: Accidental) -> str:
    """The sign that `read_accidental` reads back."""
    alter, commas = accidental
    if commas == 0:
        return _SIGNS[alter]
    semitones = altered_semitones(alter, commas)
    return f"{'^' if semitones > 0 else '_'}{abs(semitones.numerator)}/{semitones.denominator}"
