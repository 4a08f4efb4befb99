"""The information fields of ABC: key, metre, unit length, tempo (standard 2.1, §3)."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from fractions import Fraction

from nailhead.core.errors import NailheadError
from nailhead.core.music.decisions import FIELD, WORD
from nailhead.core.music.key import Key, parse_key
from nailhead.core.music.metre import FREE_METRE, Metre, Time, parse_metre
from nailhead.core.music.pitch import PitchClass
from nailhead.core.music.tune import Tempo
from nailhead.formats.abc.accidentals import ACCIDENTAL, read_accidental
from nailhead.formats.abc.errors import AbcError, Notice

FIELD_LINE = re.compile(r"([A-Za-z+]):(.*)")
#: Header lines kept as they stand and written back.
KEPT = set("ABCDFGHNOSZr")

_PIPES = Key(PitchClass("A"), "mixolydian")
_KEY = re.compile(r"([A-G])\s*([#b])?\s*(?:([A-Za-z]+)\b(?!=))?")
_EXTRA = re.compile(rf"({ACCIDENTAL})([A-Ga-g])")
_TEMPO = re.compile(r"(?<!\d)(\d{1,4})\s*/\s*(\d{1,4})(?:\s+\d{1,4}/\d{1,4}){0,8}\s*=\s*(\d{1,4})(?!\d)")


@dataclass(slots=True)
class Header:
    """What the fields have said so far; a working value of the reader."""

    number: int = 1
    titles: list[str] = field(default_factory=list)
    metre: Metre = FREE_METRE
    unit_length: Time | None = None
    key: Key | None = None
    tempo: Tempo | None = None
    order: str = ""
    rhythm: str = ""
    fields: list[tuple[str, str]] = field(default_factory=list)

    @property
    def unit(self) -> Time:
        """The unit note: as given, else from the metre (§3.1.7)."""
        if self.unit_length is not None:
            return self.unit_length
        short = not self.metre.free and self.metre.length < Fraction(3, 4)
        return Fraction(1, 16) if short else Fraction(1, 8)


def read_field(header: Header, letter: str, text: str, line: int, notices: list[Notice]) -> None:
    """Apply one field to the header; raises AbcError where it makes no sense."""
    try:
        _apply(header, letter, text.strip(), line, notices)
    except NailheadError as error:
        if isinstance(error, AbcError):
            raise
        raise AbcError(error.message, line, 3, error.remedy) from error


def _apply(header: Header, letter: str, text: str, line: int, notices: list[Notice]) -> None:
    match letter:
        case "X":
            digits = re.match(r"\d{1,9}", text)
            header.number = int(digits.group()) if digits else 1
        case "T":
            header.titles.append(text)
        case "M":
            header.metre = parse_metre(text)
        case "L":
            header.unit_length = _read_length(text, line)
        case "K":
            header.key = read_key(text, line)
        case "Q":
            header.tempo = _read_tempo(text, header, line, notices)
        case "P":
            header.order = text
        case "R":
            header.rhythm = text
        case _ if letter in KEPT or (letter == FIELD and text.split()[:1] == [WORD]):
            header.fields.append((letter, text))


def _read_length(text: str, line: int) -> Time:
    match = re.match(r"(\d{1,3})(?:\s*/\s*(\d{1,4}))?", text)
    if not match or int(match[1]) == 0 or (match[2] and int(match[2]) == 0):
        raise AbcError(f"“{text}” is not a unit note length.", line, 3, "Write L:1/8 or L:1/4.")
    return Fraction(int(match[1]), int(match[2] or 1))


def _read_tempo(text: str, header: Header, line: int, notices: list[Notice]) -> Tempo | None:
    bare = re.sub(r'"[^"]*"', "", text).strip()
    if match := _TEMPO.search(bare):
        if int(match[2]) == 0 or not 0 < int(match[3]) < 1000:
            raise AbcError(f"“{text}” is not a tempo.", line, 3, "Write Q:1/4=100.")
        return Tempo(Fraction(int(match[1]), int(match[2])), int(match[3]))
    if (match := re.fullmatch(r"(?:C\d*\s*=\s*)?(\d{1,3})", bare)) and int(match[1]):
        return Tempo(header.unit, int(match[1]))
    if bare:
        notices.append(Notice(line, 3, f"The tempo “{text}” is not read; write Q:1/4=100."))
    return None


def read_key(text: str, line: int, column: int = 3) -> Key:
    """A K: field: tonic, mode and extra accidentals; clefs and voice settings are left out (§3.1.14)."""
    text = re.sub(r"\b(?:clef|middle|transpose|octave|stafflines|staffscale|score|name|style)=\S*", "", text)
    text = re.sub(r"\b(?:treble|bass|alto|tenor|perc)[+-]?\d*", "", text).strip()
    if text in ("HP", "Hp"):
        return _PIPES
    if text.split(" ")[0] in ("", "none", "clef"):
        return Key(PitchClass("C"), "major", *_read_extra(text))
    match = _KEY.match(text)
    word = match[3] if match else None
    if match and word and word.lower() in ("exp",):
        word = None
    if not match:
        raise AbcError(f"“{text}” is not a key.", line, column, "Write K:G, K:Am, K:Ador or K:Dmix.")
    try:
        # Capitals do not matter in a mode (§3.1.14): "EM" is E minor.
        key = parse_key(match[1] + (match[2] or "") + (word or "").lower())
    except NailheadError as error:
        raise AbcError(error.message, line, column, error.remedy) from error
    return Key(key.tonic, key.mode, *_read_extra(text[match.end() :]))


def _read_extra(text: str) -> tuple[tuple[tuple[str, int], ...], tuple[tuple[str, int | Fraction], ...]]:
    """The accidentals beside a mode: (step, alteration) of each, and (step, commas) of the microtonal ones."""
    found = [(step.upper(), *read_accidental(sign)) for sign, step in _EXTRA.findall(text)]
    return tuple((step, alter) for step, alter, _ in found), tuple((step, more) for step, _, more in found if more)
