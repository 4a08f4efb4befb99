"""Words under the notes: the w: field of ABC (standard 2.1, §5.1), read and written."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from nailhead.core.errors import TuneError
from nailhead.core.music.tune import Bar, Tune

_SYLLABLE = re.compile(r"\||\*|_|(?:\\-|[^\s|*_-])+-?|-")

#: Bar index and event index.
Place = tuple[int, int]


@dataclass(frozen=True, slots=True)
class WordLine:
    """A w: line and the music line it belongs to: the events from `first` up to, not with, `end`."""

    first: Place
    end: Place
    text: str
    verse: int


def attach_words(bars: list[Bar], line: WordLine) -> list[Bar]:
    """Lay one w: line under its notes.

    Returns new bars; syllables left over are dropped. A "-" ends a syllable of a longer word,
    "_" holds the last one, "*" leaves a note bare, "~" joins words, "|" goes to the next bar.
    """
    result = list(bars)
    places = [
        (index, at)
        for index in range(line.first[0], min(line.end[0] + 1, len(bars)))
        for at, event in enumerate(bars[index].events)
        if event.pitch and line.first <= (index, at) < line.end
    ]
    position = 0
    for piece in _SYLLABLE.findall(line.text):
        if position >= len(places):
            break
        if piece == "|":
            bar = places[position][0]
            starts_bar = position == 0 or places[position - 1][0] != bar
            if not starts_bar:
                while position < len(places) and places[position][0] == bar:
                    position += 1
            continue
        if piece not in ("*", "-"):
            _set_word(result, places[position], line.verse, piece.replace("~", " ").replace("\\-", "‑"))
        elif piece == "-" and position:
            _set_word(result, places[position], line.verse, "_")
        position += 1
    return result


def word_lines(bars: Sequence[Bar]) -> list[str]:
    """The words under some bars as w: writes them, one text a verse."""
    notes = [event for bar in bars for event in bar.events if event.pitch]
    verses = max((len(event.words) for event in notes), default=0)
    lines = []
    for verse in range(verses):
        words = [(event.words + ("",) * verses)[verse] or "*" for event in notes]
        lines.append(" ".join(word.replace(" ", "~").replace("‑", "\\-") for word in words).rstrip("* "))
    return lines


def set_verses(tune: Tune, lines: Sequence[Sequence[Bar]], verses: Sequence[str]) -> Tune:
    """The tune with these words in place of its own: a text a verse, one line of it for each line of music.

    Raises TuneError for a verse with more lines than the music, or with more syllables than a line has notes.
    """
    bars = [replace(bar, events=tuple(replace(e, words=()) for e in bar.events)) for bar in tune.bars]
    for verse, text in enumerate(verses):
        first = 0
        rows = text.rstrip().split("\n")
        if len(rows) > len(lines):
            raise TuneError(
                f"Verse {verse + 1} has {len(rows)} lines, the music {len(lines)}.",
                field="words",
                remedy="Write one line of words under each line of music.",
            )
        for row, line in zip(rows, lines, strict=False):
            stop = first + len(line)
            _check_syllables(row, line, verse)
            bars = attach_words(bars, WordLine((first, 0), (stop, 0), row, verse))
            first = stop
    return replace(tune, bars=tuple(bars))


def _check_syllables(row: str, line: Sequence[Bar], verse: int) -> None:
    notes = sum(bool(event.pitch) for bar in line for event in bar.events)
    syllables = sum(piece != "|" for piece in _SYLLABLE.findall(row))
    if syllables > notes:
        raise TuneError(
            f"Verse {verse + 1} has {syllables} syllables on {notes} notes.",
            bar=line[0].number,
            field="words",
            remedy="Join words with ~, or put the rest on the next line.",
        )


def _set_word(bars: list[Bar], place: Place, verse: int, word: str) -> None:
    index, at = place
    events = list(bars[index].events)
    words = list(events[at].words) + [""] * (verse + 1 - len(events[at].words))
    words[verse] = word
    events[at] = replace(events[at], words=tuple(words))
    bars[index] = replace(bars[index], events=tuple(events))
