"""Reads ABC text: one tune, or a book of many."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from nailhead.core.errors import NailheadError
from nailhead.core.figures import is_digits
from nailhead.core.music.key import Key
from nailhead.core.music.pitch import PitchClass
from nailhead.core.music.tune import Bar, Tune, number_bars
from nailhead.formats.abc.errors import AbcError, Notice
from nailhead.formats.abc.header import FIELD_LINE, Header, read_field
from nailhead.formats.abc.tokens import Token, tokenize
from nailhead.formats.abc.voice import VoiceBuilder
from nailhead.formats.abc.words import WordLine, attach_words

#: A line that changes the voice, as a field or inside brackets (§7).
_VOICE = re.compile(r"\s*\[?V:\s*([^\s\]]*)")
#: Characters in one tune; a long reel has about 1,000.
MOST_CHARACTERS = 200_000
#: Lines of words under one line of music.
MOST_VERSES = 40


#: Said of a text without any tune.
NO_TUNE = AbcError("There is no tune here.", 1, 1, "An ABC tune begins with X:1 and has a K: line.")


@dataclass(frozen=True, slots=True)
class Entry:
    """One tune of a book: the tune, or the error that refused it. `text` is its ABC as it stood.

    `places` holds the token of every event, bar by bar.
    """

    number: int
    title: str
    line: int
    text: str
    tune: Tune | None = None
    error: AbcError | None = None
    notices: tuple[Notice, ...] = ()
    places: tuple[tuple[Token, ...], ...] = ()


def read_book(text: str) -> tuple[Entry, ...]:
    """Every tune of a text, each read by itself: one that is refused does not hold up the others."""
    return tuple(read_entry(first_line, lines) for first_line, lines in split_book(text))


def read_entry(first_line: int, lines: list[str]) -> Entry:
    """One tune of a book, from its lines; `first_line` is where they begin in the whole text."""
    notices: list[Notice] = []
    tune: Tune | None = None
    error: AbcError | None = None
    places: tuple[tuple[Token, ...], ...] = ()
    try:
        tune, places = _read(lines, first_line, notices)
    except AbcError as refused:
        error = refused
    number, title = label_of(lines)
    text = "\n".join(lines) + "\n"
    return Entry(number, tune.title if tune else title, first_line, text, tune, error, tuple(notices), places)


def read_tune(text: str, number: int | None = None) -> Entry:
    """The first tune of a text, or the one with that X: number; raises AbcError when it is refused."""
    book = split_book(text)
    if not book:
        raise NO_TUNE
    chosen = next(((line, lines) for line, lines in book if number is None or label_of(lines)[0] == number), None)
    if chosen is None:
        numbers = ", ".join(str(label_of(lines)[0]) for _, lines in book[:12])
        raise AbcError(f"There is no tune X:{number} here.", 1, 1, f"The text has X: {numbers}.")
    entry = read_entry(*chosen)
    if entry.error:
        raise entry.error
    return entry


def split_book(text: str) -> list[tuple[int, list[str]]]:
    """The tunes as (number of their first line, lines): from an X: line to the next one or a blank line.

    A text whose only tune lacks its X: line is taken all the same.
    """
    lines = text.replace("\r\n", "\n").replace("\r", "\n").lstrip("\ufeff").split("\n")
    starts = [index for index, line in enumerate(lines) if "X" in line and re.match(r"\s*X\s*:", line)]
    if not starts:
        fields = [index for index, line in enumerate(lines) if FIELD_LINE.match(line)]
        starts = fields[:1] or [index for index, line in enumerate(lines) if line.strip()][:1]
    tunes = []
    if not starts:
        return []
    for start, end in zip(starts, [*starts[1:], len(lines)], strict=True):
        body: list[str] = []
        music = False
        for line in lines[start:end]:
            if music and not line.strip():
                break
            music = music or ("K:" in line and re.match(r"\s*K:", line) is not None)
            body.append(line)
        tunes.append((start + 1, body))
    return tunes


def label_of(lines: list[str]) -> tuple[int, str]:
    """The X: number and the title of a tune's lines, as far as they are there."""
    number = next((int(m[1]) for line in lines if "X" in line and (m := re.match(r"\s*X\s*:\s*(\d{1,9})", line))), 1)
    title = next((line[2:].strip() for line in lines if line.startswith("T:")), "Untitled")
    return number, title


def _read(lines: list[str], first_line: int, notices: list[Notice]) -> tuple[Tune, tuple[tuple[Token, ...], ...]]:
    if sum(map(len, lines)) + len(lines) > MOST_CHARACTERS:
        raise AbcError("The tune is too long.", first_line, 1, "Split it into several.")
    header, at = read_header(lines, first_line, notices)
    opening, key = replace(header), header.key
    builder = VoiceBuilder(header, notices)
    try:
        bars = _read_body(builder, lines[at:], first_line + at)
        tune = Tune(
            title=", ".join(opening.titles) or "Untitled",
            key=key or Key(PitchClass("C")),
            metre=opening.metre,
            bars=number_bars(bars) if bars else (),
            unit_length=opening.unit,
            number=opening.number,
            tempo=header.tempo,
            order=opening.order,
            rhythm=opening.rhythm,
            fields=tuple(opening.fields),
        )
    except AbcError:
        raise
    except (NailheadError, IndexError) as error:
        raise AbcError("The tune has no notes.", first_line + at, 1, "Write music after the K: line.") from error
    return tune, tuple(builder.places)


def read_header(lines: list[str], first_line: int, notices: list[Notice]) -> tuple[Header, int]:
    """The fields up to K:, and the index of the first line of music; raises AbcError where there is no key."""
    header = Header()
    at = 0
    while at < len(lines) and header.key is None:
        line = without_comment(lines[at])
        match = _field(line.strip())
        if match:
            read_field(header, match[1], match[2], first_line + at, notices)
        elif "|" in line:
            raise AbcError("Music begins before the key is given.", first_line + at, 1, "Put a K: line before it: K:G.")
        elif line.strip():
            notices.append(Notice(first_line + at, 1, "A line of the header that is no field is left out."))
        at += 1
    if header.key is None:
        raise AbcError("The tune has no key.", first_line + len(lines) - 1, 1, "Add a K: line: K:G.")
    return header, at


def without_comment(line: str) -> str:
    """The line up to its comment (§2.3.1); places of what stands before it do not change."""
    return re.sub(r"(?<!\\)%.*", "", line)


def _field(line: str) -> re.Match[str] | None:
    """The field of a line, "\\%" read as the percent sign it stands for."""
    return FIELD_LINE.match(line.replace("\\%", "%"))


def _read_body(builder: VoiceBuilder, lines: list[str], first_line: int) -> list[Bar]:
    words = feed(builder, lines, first_line)
    bars = builder.finish()
    for line_of_words in words:
        bars = attach_words(bars, line_of_words)
    return bars


def feed(builder: VoiceBuilder, lines: list[str], first_line: int) -> list[WordLine]:
    """Give the builder the lines of a tune's body; the lines of words come back."""
    words: list[WordLine] = []
    words_from, verse, voice, first_voice = (0, 0), 0, "", ""
    continued = False
    for offset, raw in enumerate(lines):
        line_number = first_line + offset
        line = without_comment(raw).rstrip()
        field_line = _field(line)
        if not line.strip():
            continue
        if switch := _VOICE.match(line):
            voice = switch[1]
            first_voice = first_voice or voice
        if voice != first_voice:
            builder.notice_once("voice", next(tokenize(raw, line_number)), "Only the first voice is read.")
            continue
        if field_line and field_line[1] == "w":
            if verse == MOST_VERSES:
                token = next(tokenize(raw, line_number))
                builder.notice_once("verses", token, f"More than {MOST_VERSES} lines of words are left out.")
            else:
                words.append(WordLine(words_from, builder.place, field_line[2], verse))
                verse += 1
        elif field_line:
            builder.change_field(field_line[1], field_line[2], line_number, 3)
        else:
            if not continued:
                words_from, verse = builder.place, 0
            for token in tokenize(line, line_number):
                builder.take(token)
            continued = line.endswith("\\")
            if not continued:
                builder.end_line()
    return words


def number_of_title(text: str, wanted: str) -> int:
    """The X: number of the tune a user names by number or by (part of) its title; raises AbcError."""
    entries = read_book(text)
    if is_digits(wanted.strip()):
        return int(wanted)
    for entry in entries:
        if wanted.strip().casefold() in entry.title.casefold():
            return entry.number
    titles = "; ".join(f"{entry.number} {entry.title}" for entry in entries[:8])
    raise AbcError(f"There is no tune “{wanted}” here.", 1, 1, f"The text has: {titles}.")
