"""Words under the notes: the w: field of ABC (standard 2.1, §5.1)."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from nailhead.core.music.tune import Bar

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


def _set_word(bars: list[Bar], place: Place, verse: int, word: str) -> None:
    index, at = place
    events = list(bars[index].events)
    words = list(events[at].words) + [""] * (verse + 1 - len(events[at].words))
    words[verse] = word
    events[at] = replace(events[at], words=tuple(words))
    bars[index] = replace(bars[index], events=tuple(events))
