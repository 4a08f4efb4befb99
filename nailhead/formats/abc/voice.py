"""Builds bars from the tokens of one voice: pitches, lengths, ties, tuplets, repeats, words."""

from __future__ import annotations

import re
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import lru_cache

from nailhead.core.errors import NailheadError
from nailhead.core.figures import clipped
from nailhead.core.music.chord import Chord, parse_chord
from nailhead.core.music.key import Key
from nailhead.core.music.metre import ZERO, Metre, Time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.tune import Bar, ChordAt, Event, Tuplet
from nailhead.formats.abc.accidentals import ACCIDENTAL, Accidental, read_accidental
from nailhead.formats.abc.errors import AbcError, Notice
from nailhead.formats.abc.header import Header, read_field
from nailhead.formats.abc.lengths import check_length, read_endings, read_length, repeat_signs
from nailhead.formats.abc.tokens import Token

_NOTE = re.compile(rf"({ACCIDENTAL})?([A-Ga-g])([,']*)(\d*)(/*)(\d*)")
#: (p notes in the time of q; 0 means 3 in compound metres and 2 elsewhere (§4.13).
_TUPLET_TIMES = {2: 3, 3: 2, 4: 3, 5: 0, 6: 2, 7: 0, 8: 3, 9: 0}
#: A long set of tunes written out has some 400 bars, a cadenza some hundred notes.
_MOST_BARS, _MOST_NOTES = 2_000, 1_000


@lru_cache(maxsize=4096)
def _note_parts(text: str) -> tuple[str, str, int, str] | None:
    """(sign, step, octave, length) of a note as written; None for what is no note."""
    match = _NOTE.fullmatch(text)
    if not match:
        return None
    sign, letter, marks, *tail = match.groups()
    octave = (5 if letter.islower() else 4) + marks.count("'") - marks.count(",")
    return sign or "", letter.upper(), octave, "".join(tail)


@dataclass(slots=True)
class _OpenTuplet:
    tuplet: Tuplet
    left: int


@dataclass(slots=True)
class VoiceBuilder:
    """Takes tokens one by one; `bars` holds what has been closed, `places` the token of each event in it."""

    header: Header
    notices: list[Notice]
    bars: list[Bar] = field(default_factory=list)
    events: list[Event] = field(default_factory=list)
    chords: list[ChordAt] = field(default_factory=list)
    accidentals: dict[str, Accidental] = field(default_factory=dict)
    flags: dict[str, object] = field(default_factory=dict)
    grace: tuple[Pitch, ...] = ()
    decorations: list[str] = field(default_factory=list)
    tuplets: list[_OpenTuplet] = field(default_factory=list)
    broken: Fraction | None = None
    tied_from: Pitch | None = None
    slurs_open: int = 0
    slur_depth: int = 0
    remarks: list[str] = field(default_factory=list)
    in_overlay: bool = False
    opening: tuple[Metre, Key | None] | None = None
    noted: set[str] = field(default_factory=set)
    signature: tuple[Key | None, dict[str, Accidental]] = (None, {})
    tokens: list[Token] = field(default_factory=list)
    places: list[tuple[Token, ...]] = field(default_factory=list)

    @property
    def at(self) -> Time:
        return self.events[-1].end if self.events else ZERO

    @property
    def place(self) -> tuple[int, int]:
        """Bar index and event index of the next note."""
        return len(self.bars), len(self.events)

    def notice_once(self, kind: str, token: Token, message: str) -> None:
        if kind not in self.noted:
            self.noted.add(kind)
            self.notices.append(Notice(token.line, token.column, message))

    def take(self, token: Token) -> None:
        """Read one token; raises AbcError at its place."""
        if self.in_overlay and token.kind not in ("bar", "ending"):
            return
        handler = getattr(self, f"_take_{token.kind}", None)
        if handler:
            handler(token)

    # -- notes and rests

    def _take_note(self, token: Token) -> None:
        pitch, length = self._read_note(token)
        self._add(pitch, length, token)

    def _take_rest(self, token: Token) -> None:
        length = read_length(token.text[1:], self.header.unit, token)
        metre = self.header.metre
        if token.text[0] == "x" and not metre.free and self.events and self.at + length > metre.length:
            self.notice_once("x", token, "An invisible rest that only carries a sign is left out.")
            return
        self._add(None, length, token)

    def _take_chord(self, token: Token) -> None:
        body, _, tail = token.text[1:].rpartition("]")
        notes = [
            self._read_note(replace(token, text=match.group(), column=token.column + 1 + match.start()))
            for match in _NOTE.finditer(body)
        ]
        if not notes:
            self.notice_once("brackets", token, f"“{token.text}” holds no notes and is left out.")
            return
        if len(notes) > 1:
            self.notice_once("chord", token, "Of several notes at once the highest is kept as the melody.")
        top, _ = max(notes, key=lambda note: note[0].cents)
        self._add(top, notes[0][1] * read_length(tail, Fraction(1), token), token)

    def _read_note(self, token: Token) -> tuple[Pitch, Time]:
        parts = _note_parts(token.text)
        if parts is None:
            raise AbcError(f"“{token.text}” is not a note.", token.line, token.column)
        sign, step, octave, tail = parts
        if sign:
            alter, commas = self.accidentals[step] = self._read_sign(sign, token)
        elif self.tied_from and (self.tied_from.step, self.tied_from.octave) == (step, octave):
            alter, commas = self.tied_from.alter, self.tied_from.commas
        else:
            alter, commas = self.accidentals.get(step) or self._signature().get(step, (0, 0))
        if not 0 <= octave <= 9 or not -2 <= alter <= 2:
            raise AbcError(
                f"“{token.text}” is far outside what can be played.",
                token.line,
                token.column,
                "Check its octave marks.",
            )
        return Pitch(step, alter, octave, commas), read_length(tail, self.header.unit, token)

    def _signature(self) -> dict[str, Accidental]:
        """The accidentals of the key that rules, worked out once a key."""
        if self.signature[0] is not self.header.key:
            self.signature = (self.header.key, self.header.key.accidentals if self.header.key else {})
        return self.signature[1]

    def _read_sign(self, sign: str, token: Token) -> Accidental:
        try:
            return read_accidental(sign)
        except NailheadError as error:
            raise AbcError(error.message, token.line, token.column, error.remedy) from error

    def _add(self, pitch: Pitch | None, length: Time, token: Token) -> None:
        tuplet = None
        if self.broken is not None:
            length *= self.broken
            self.broken = None
        for opened in self.tuplets:
            length *= Fraction(opened.tuplet.normal, opened.tuplet.actual)
            tuplet = opened.tuplet
            opened.left -= 1
        self.tuplets = [opened for opened in self.tuplets if opened.left > 0]
        check_length(length, token)
        if len(self.events) >= _MOST_NOTES:
            said = f"The bar has more than {_MOST_NOTES} notes."
            raise AbcError(said, token.line, token.column, "Put bar lines in.")
        if not self.events:
            self.opening = (self.header.metre, self.header.key)
        if self.tied_from and pitch != self.tied_from:
            self._untie(token)
        decorations = tuple(self.decorations) if pitch else ()
        slurs, remarks = (self.slurs_open, 0), tuple(self.remarks)
        self.events.append(
            Event(self.at, length, pitch, False, tuplet, self.grace, decorations, slurs=slurs, remarks=remarks)
        )
        self.tokens.append(token)
        self.tied_from = None
        self.grace, self.decorations, self.slurs_open, self.remarks = (), [], 0, []

    def _untie(self, token: Token) -> None:
        """A tie that leads to another pitch was meant as a slur."""
        self.notice_once("tie", token, "A tie to another pitch was meant as a slur and is left out.")
        self._change_last(tied=False)

    def _change_last(self, **changes: object) -> None:
        """Change the last event read, in this bar or the one before."""
        if self.events:
            self.events[-1] = replace(self.events[-1], **changes)  # type: ignore[arg-type]
        elif self.bars:
            last = self.bars[-1]
            event = replace(last.events[-1], **changes)  # type: ignore[arg-type]
            self.bars[-1] = replace(last, events=(*last.events[:-1], event))

    def _take_bar_rest(self, token: Token) -> None:
        if self.events:
            self.notice_once("Z", token, "Z within a bar is read as z.")
            return self._take_rest(token)
        count = clipped(token.text[1:] or "1", 512)
        if not 0 < count <= 512:
            raise AbcError(f"“{token.text}” is not a number of bars.", token.line, token.column)
        for index in range(count):
            self.events.append(Event(self.at, self.header.metre.length))
            self.tokens.append(token)
            if index + 1 < count:
                self._close_bar()
        return None

    def _take_broken(self, token: Token) -> None:
        if not self.events:
            self.notice_once("broken", token, f"“{token.text}” stands before any note and is left out.")
            return
        depth = len(token.text)
        if depth > 4:
            raise AbcError(f"“{token.text}” is dotted too often.", token.line, token.column, "Use up to >>>.")
        short = Fraction(1, 2**depth)
        first, second = (2 - short, short) if token.text[0] == ">" else (short, 2 - short)
        last = self.events[-1]
        check_length(last.duration * first, token)
        self.events[-1] = replace(last, duration=last.duration * first)
        self.broken = second

    def _take_tie(self, token: Token) -> None:
        last = self.events[-1] if self.events else None
        if last is None or last.pitch is None:
            self.notice_once("lone tie", token, "A tie without a note before it is left out.")
            return
        self.events[-1] = replace(last, tied=True)
        self.tied_from = last.pitch

    def _take_tuplet(self, token: Token) -> None:
        numbers = [clipped(part, 64) for part in token.text[1:].strip().split(":")]
        actual, normal, size = ([*numbers, 0, 0])[:3]
        if not 2 <= actual <= 64 or normal > 64 or size > 64:
            raise AbcError(f"“{token.text}” is not a tuplet.", token.line, token.column, "Write (3abc or (3:2:3abc.")
        usual = _TUPLET_TIMES.get(actual, 0) or (3 if self.header.metre.compound else 2)
        self.tuplets.append(_OpenTuplet(Tuplet(actual, normal or usual, size or actual), size or actual))

    def _take_grace(self, token: Token) -> None:
        # A tie goes past the grace to the note it leads to.
        kept, tied, self.tied_from = self.accidentals.copy(), self.tied_from, None
        self.grace = tuple(
            self._read_note(replace(token, text=match.group()))[0] for match in _NOTE.finditer(token.text)
        )
        self.accidentals, self.tied_from = kept, tied

    # -- signs around notes

    def _take_quoted(self, token: Token) -> None:
        text = token.text[1:-1].replace("\\%", "%").strip()
        if not text:
            return
        if text[0] in "^_<>@":
            self._add_remark(text)
            return
        chord = self._read_chord(text, token)
        if chord:
            if self.chords and self.chords[-1].onset == self.at:
                self.chords.pop()
            self.chords.append(ChordAt(self.at, chord))
        else:
            self._add_remark("^" + text)

    def _add_remark(self, text: str) -> None:
        """Remarks stand over the note, or under it where they begin with "_"."""
        words = re.sub(r"^@[-\d.,\s]*", "@", text)[1:].strip()
        if words:
            self.remarks.append(("_" if text[0] == "_" else "^") + words)

    def _read_chord(self, text: str, token: Token) -> Chord | None:
        for candidate in (text, text[:1].upper() + text[1:], re.split(r"[\s(;,\n]", text)[0]):
            try:
                return parse_chord(candidate)
            except NailheadError:
                continue
        self.notice_once(f"chord {text}", token, f"“{text}” is not a chord this reads; it is kept as a remark.")
        return None

    def _take_decoration(self, token: Token) -> None:
        self.decorations.append(token.text[1:-1])

    def _take_mark(self, token: Token) -> None:
        names = {".": "staccato", "~": "roll", "H": "fermata", "T": "trill", "u": "upbow", "v": "downbow"}
        if token.text in names:
            self.decorations.append(names[token.text])

    def _take_slur(self, token: Token) -> None:
        """An opening slur waits for its note; a closing one belongs to the last note."""
        if token.text != ")":
            self.slurs_open += 1
            self.slur_depth += 1
        elif (last := self._last_event()) and self.slur_depth > self.slurs_open:
            self.slur_depth -= 1
            self._change_last(slurs=(last.slurs[0], last.slurs[1] + 1))
        else:
            self.notice_once("slur", token, "A slur that closes but never opened is left out.")

    def _last_event(self) -> Event | None:
        if self.events:
            return self.events[-1]
        return self.bars[-1].events[-1] if self.bars else None

    def _take_overlay(self, token: Token) -> None:
        self.in_overlay = True
        self.notice_once("overlay", token, "A second voice in the bar (&) is left out.")

    def _take_unclosed_quote(self, token: Token) -> None:
        raise AbcError("A quotation mark is not closed.", token.line, token.column, 'Close it: "G".')

    def _take_unknown(self, token: Token) -> None:
        if token.text in "[{":
            raise AbcError(f"“{token.text}” is not closed.", token.line, token.column, "Close it, or take it out.")
        self.notice_once(f"unknown {token.text}", token, f"“{token.text}” means nothing here and is left out.")

    def _take_field(self, token: Token) -> None:
        self.change_field(token.text[1], token.text[3:-1], token.line, token.column)

    def change_field(self, letter: str, text: str, line: int, column: int) -> None:
        """A field inside the tune: key, metre, unit length and part take effect from here."""
        if letter == "P":
            if self.events:
                self._close_bar()
            self.flags["part"] = text.strip()
        elif letter in "KML" or (letter == "Q" and self.header.tempo is None):
            try:
                read_field(self.header, letter, text, line, self.notices)
            except AbcError as error:
                raise AbcError(error.message, line, column, error.remedy) from error
            if letter == "K":
                self.accidentals = {}

    # -- bar lines

    def _take_bar(self, token: Token) -> None:
        self.in_overlay = False
        text = token.text.strip()
        digits = re.search(r"\d.*", text)
        signs = text[: digits.start()].strip() if digits else text
        if signs == ":":
            self.notice_once("colon", token, "A single “:” is not a bar line and is left out.")
            return
        left, right = repeat_signs(signs)
        self._close_bar()
        if left:
            self._mark_last("closes_repeat", left + 1, token)
        if "||" in signs or left:  # the repeat sign is the line
            self._mark_last("barline", "double")
        elif "|]" in signs or "[|" in signs:
            self._mark_last("barline", "final")
        if right:
            self.flags["opens_repeat"] = True
        if digits:
            self.flags["endings"] = read_endings(digits.group(), token)

    def _take_ending(self, token: Token) -> None:
        self._close_bar()
        self.flags["endings"] = read_endings(token.text.strip("[ "), token)

    def _mark_last(self, name: str, value: object, token: Token | None = None) -> None:
        if self.bars:
            self.bars[-1] = replace(self.bars[-1], **{name: value})  # type: ignore[arg-type]
        elif token:
            self.notice_once("repeat", token, "A repeat closes before any bar and is left out.")

    def _close_bar(self) -> None:
        """Put what has been read into a bar; does nothing between two bar lines."""
        if not self.events:
            return
        if len(self.bars) >= _MOST_BARS:
            raise AbcError(f"The tune has more than {_MOST_BARS} bars.", 1, 1, "Split it.")
        chords = tuple(entry for entry in self.chords if entry.onset < self.at)
        metre, key = self.opening or (self.header.metre, self.header.key)
        assert key is not None
        self.opening = None
        self.bars.append(
            Bar(len(self.bars), metre, key, tuple(self.events), chords, **self.flags)  # type: ignore[arg-type]
        )
        self.places.append(tuple(self.tokens))
        self.events, self.chords, self.accidentals, self.flags, self.tokens = [], [], {}, {}, []

    def end_line(self) -> None:
        """The tune's own line break: kept on the bar it follows."""
        if self.bars and not self.events:
            self.bars[-1] = replace(self.bars[-1], new_line=True)

    def finish(self) -> list[Bar]:
        self._close_bar()
        return self.bars
