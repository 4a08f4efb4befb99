"""Chords as numbers: degrees counted from the major scale of the tonic, in every mode (common practice).

1 is the tonic chord, 6m the minor chord on the sixth degree, ♭7 the major chord a whole tone below the tonic, 5/7
the fifth degree's chord over the seventh degree in the bass.
"""

from __future__ import annotations

import re

from nailhead.core.errors import TheoryError
from nailhead.core.music.chord import ALIASES, QUALITIES, Chord, parse_chord
from nailhead.core.music.key import Key
from nailhead.core.music.pitch import PitchClass, accidental_text

#: Fifths of the degrees 1 to 7 above the tonic.
DEGREE_FIFTHS = (0, 2, 4, -1, 1, 3, 5)
_SIGNS = {"": 0, "b": -1, "♭": -1, "#": 1, "♯": 1}
_NUMBER = re.compile(r"([b♭#♯]?)([1-7])([^/]*)(?:/([b♭#♯]?)([1-7]))?")
_FIGURES = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹", "0123456789")


def number_of(chord: Chord, key: Key) -> str:
    """The chord as a number in a key: "1", "6m", "♭7", "57" for a seventh on 5, "5/7"."""
    bass = f"/{_degree(chord.bass, key)}" if chord.bass else ""
    return _degree(chord.root, key) + chord.quality + bass


def chord_of_number(text: str, key: Key) -> Chord:
    """The chord a number stands for; raises TheoryError."""
    match = _NUMBER.fullmatch(text.strip().translate(_FIGURES))
    quality = ALIASES.get(match[3].strip("() "), match[3].strip("() ")) if match else ""
    if not match or quality not in QUALITIES:
        raise TheoryError(f"“{text}” is not a chord number.", field="chord", remedy="Write 1, 4, 57, 6m or b7.")
    bass = _note(match[4], match[5], key) if match[5] else None
    return Chord(_note(match[1], match[2], key), quality, bass)


def read_chord(text: str, key: Key) -> Chord:
    """A chord as letters or as a number; raises TheoryError for neither."""
    if re.match(r"[b♭#♯]?[1-7]", text.strip()):
        return chord_of_number(text, key)
    return parse_chord(text)


def _degree(name: PitchClass, key: Key) -> str:
    away = name.fifths - key.tonic.fifths
    degree = next(number for number, fifths in enumerate(DEGREE_FIFTHS, start=1) if (away - fifths) % 7 == 0)
    return accidental_text((away - DEGREE_FIFTHS[degree - 1]) // 7) + str(degree)


def _note(sign: str, degree: str, key: Key) -> PitchClass:
    return PitchClass.from_fifths(key.tonic.fifths + DEGREE_FIFTHS[int(degree) - 1] + 7 * _SIGNS[sign])
