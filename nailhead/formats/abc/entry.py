"""Writes single notes, rests, ties and bar lines into an ABC text at a place, as a teacher plays or types them.

The text before the place is read to know key, unit length, accidentals and how full the bar is; what is written fits
in: the sign only where it is needed, bar lines where a bar is full, a tie where a note goes over the line.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction

from nailhead.core.errors import TuneError
from nailhead.core.music.key import Key, spell
from nailhead.core.music.metre import Time
from nailhead.core.music.pitch import Pitch, PitchClass
from nailhead.core.music.tune import Bar, Event
from nailhead.formats.abc.accidentals import write_accidental
from nailhead.formats.abc.errors import Notice
from nailhead.formats.abc.header import FIELD_LINE
from nailhead.formats.abc.reader import feed, read_header, without_comment
from nailhead.formats.abc.source import line_starts, offset_of
from nailhead.formats.abc.tokens import tokenize
from nailhead.formats.abc.voice import VoiceBuilder
from nailhead.formats.abc.writer import beam_onsets, length_text

_BARS_A_LINE = 4
_TRIPLET = Fraction(2, 3)
_C_MAJOR = Key(PitchClass("C"))


@dataclass(frozen=True, slots=True)
class NewNote:
    """A note as a teacher enters it.

    `step` is a letter A to G with the octave nearest the last note (`octave` counts from there), or `cents` a pitch
    played on a fretboard; neither is a rest. `alter` (and `commas` on top of it) overrule the key. `length` is the
    written value.
    """

    length: Time
    step: str = ""
    alter: int | None = None
    commas: int = 0
    octave: int = 0
    cents: Fraction | None = None
    triplet: bool = False


@dataclass(frozen=True, slots=True)
class EnteredText:
    """The text with the entry in it, and the place behind it."""

    text: str
    at: int


def enter_note(text: str, at: int, note: NewNote) -> EnteredText:
    """The text with a note or rest at a place; raises AbcError where the text before it cannot be read."""
    desk = _Desk(text, at)
    if not Fraction(1, 64) <= note.length <= 4:
        raise TuneError("A note lasts from a 64th to four whole notes.", field="length", remedy="Choose a length.")
    return desk.put("".join(desk.pieces(note)))


def enter_bar_line(text: str, at: int) -> EnteredText:
    """The text with a bar line at a place."""
    desk = _Desk(text, at)
    if not desk.builder.events:
        raise TuneError("There is no note in the bar yet.", field="bar", remedy="Enter a note first.")
    return desk.put(" | ")


def toggle_tie(text: str, at: int) -> EnteredText:
    """Ties the last note before a place to what comes, or takes the tie away."""
    desk = _Desk(text, at)
    end = desk.last_note_end()
    if text[end : end + 1] == "-":
        return EnteredText(text[:end] + text[end + 1 :], max(end, at - 1))
    return EnteredText(text[:end] + "-" + text[end:], at + 1)


def move_octave(text: str, at: int, by: int) -> EnteredText:
    """Moves the last note before a place by octaves."""
    desk = _Desk(text, at)
    end = desk.last_note_end()
    start = end - len(desk.last_token())
    match = re.fullmatch(r"([\^_=/\d]*)([A-Ga-g])([,']*)(.*)", text[start:end])
    if not match:
        raise TuneError("Only a single note can be moved.", field="octave", remedy="Put the cursor behind a note.")
    octave = (5 if match[2].islower() else 4) + match[3].count("'") - match[3].count(",") + by
    if not 1 <= octave <= 8:
        raise TuneError("The note would be out of hearing.", field="octave", remedy="Move it the other way.")
    moved = match[1] + _letter(match[2].upper(), octave) + match[4]
    return EnteredText(text[:start] + moved + text[end:], at + len(moved) - (end - start))


def _letter(step: str, octave: int) -> str:
    letter = step.lower() if octave >= 5 else step
    return letter + "'" * (octave - 5) + "," * (4 - octave)


def _behind_token(line: str, column: int) -> int:
    """A column of a music line that is in no token: behind the one it falls into, and behind the tie of a note."""
    music = without_comment(line)
    column = min(column, len(music))
    for token in tokenize(music, 1):
        start = token.column - 1
        end = start + len(token.text)
        if start < column < end or (token.kind == "tie" and start == column):
            column = end
    return column


class _Desk:
    """The text read up to a place between two notes."""

    def __init__(self, text: str, at: int) -> None:
        self.text, self.at = text, self._settle(text, max(0, min(at, len(text))))
        before = self.text[: self.at].split("\n")
        notices: list[Notice] = []
        header, first = read_header(before, 1, notices)
        self.builder = VoiceBuilder(header, notices)
        feed(self.builder, before[first:], 1 + first)

    def _settle(self, text: str, at: int) -> int:
        """A place for music: behind the note the cursor stands in, never in a field line or the header."""
        line_start = text.rfind("\n", 0, at) + 1
        key = re.search(r"(?m)^K:.*$", text)
        line = text[line_start:].split("\n", 1)[0]
        if key is None or at <= key.end() or FIELD_LINE.match(line):
            self.text = text.rstrip("\n") + "\n" if key else text
            return len(self.text)
        return line_start + _behind_token(line, at - line_start)

    @property
    def at_end_of_bar(self) -> bool:
        """True where nothing more stands in the bar, so that bar lines may be written."""
        return re.match(r"[ \t]*(?:\n|$|[|:\]])", self.text[self.at :]) is not None

    def put(self, piece: str) -> EnteredText:
        """The text with a piece at the place; no two blanks side by side."""
        before, after = self.text[: self.at], self.text[self.at :]
        if before.endswith((" ", "\n")):
            piece = piece.lstrip(" ")
        if re.match(r"[ \t]*[|:\]]", after) and piece.rstrip().endswith("|"):
            piece = piece.rstrip().rstrip("|")
        return EnteredText(before + piece + after, self.at + len(piece))

    def pieces(self, note: NewNote) -> Iterator[str]:
        """The text of a note: cut and tied at bar lines where the bar is written to its end."""
        builder = self.builder
        inside = bool(builder.tuplets)
        duration = note.length * (_TRIPLET if note.triplet or inside else 1)
        pitch = self._pitch(note)
        full = builder.header.metre.length
        room = full - builder.at
        self.builder_bars = len(builder.bars)
        if builder.header.metre.free or not self.at_end_of_bar or room <= 0:
            yield self._note(pitch, duration, builder.at, note.triplet and not inside)
            return
        at = builder.at
        while duration > 0:
            part = min(duration, full - at)
            goes_on = duration > part
            yield self._note(pitch, part, at, note.triplet and not inside) + ("-" if goes_on and pitch else "")
            duration, at = duration - part, at + part
            if at == full:
                self.builder_bars += 1
                yield " |" + ("\n" if self.builder_bars % _BARS_A_LINE == 0 else " ")
                at = Fraction(0)
                self.builder.accidentals = {}

    def _note(self, pitch: Pitch | None, duration: Time, at: Time, opens_triplet: bool) -> str:
        builder = self.builder
        metre = builder.header.metre
        beats = beam_onsets(Bar(1, metre, builder.header.key or _C_MAJOR, (Event(Fraction(0), metre.length),)))
        space = " " if at and at in beats and not builder.tuplets else ""
        written = duration / _TRIPLET if opens_triplet or builder.tuplets else duration
        name = self._name(pitch) if pitch else "z"
        return space + ("(3" if opens_triplet else "") + name + length_text(written / builder.header.unit)

    def _name(self, pitch: Pitch) -> str:
        builder, wanted = self.builder, (pitch.alter, pitch.commas)
        expected = builder.accidentals.get(pitch.step) or self._signature().get(pitch.step, (0, 0))
        sign = "" if expected == wanted else write_accidental(wanted)
        builder.accidentals[pitch.step] = wanted
        return sign + _letter(pitch.step, pitch.octave)

    def _signature(self) -> dict[str, tuple[int, int | Fraction]]:
        key = self.builder.header.key
        return key.accidentals if key else {}

    def _pitch(self, note: NewNote) -> Pitch | None:
        key = self.builder.header.key or _C_MAJOR
        if note.cents is not None:
            return spell(note.cents, key)
        if not note.step:
            return None
        alter, commas = self.builder.accidentals.get(note.step) or self._signature().get(note.step, (0, 0))
        if note.alter is not None:
            alter, commas = note.alter, note.commas
        near = self._last_pitch()
        octaves = [Pitch(note.step, alter, octave, commas) for octave in range(1, 9)]
        found = min(octaves, key=lambda pitch: (abs(pitch.diatonic - near), -pitch.diatonic))
        return Pitch(found.step, found.alter, max(1, min(8, found.octave + note.octave)), found.commas)

    def _last_pitch(self) -> int:
        """Steps above C0 of the last note; the B in the middle of the staff where there is none."""
        events = [*(event for bar in self.builder.bars for event in bar.events), *self.builder.events]
        return next((event.pitch.diatonic for event in reversed(events) if event.pitch), Pitch("B", 0, 4).diatonic)

    def last_token(self) -> str:
        """The last note before the place, as written."""
        tokens = self.builder.tokens or (self.builder.places[-1] if self.builder.places else ())
        last = next(
            (event for event in reversed([*(e for b in self.builder.bars for e in b.events), *self.builder.events])),
            None,
        )
        if not tokens or last is None or last.pitch is None:
            raise TuneError("There is no note before the cursor.", field="note", remedy="Put it behind a note.")
        self._token = tokens[-1]
        return self._token.text

    def last_note_end(self) -> int:
        """The offset behind the last note."""
        text = self.last_token()
        return offset_of(line_starts(self.text), self._token.line, self._token.column) + len(text)
