"""Where things stand in an ABC text, for a desk that shows text and notes side by side."""

from __future__ import annotations

import re

from nailhead.core.errors import NailheadError
from nailhead.formats.abc.accidentals import read_accidental
from nailhead.formats.abc.reader import Entry
from nailhead.formats.abc.tokens import Token

Span = tuple[int, int]
_MICROTONE = re.compile(r"(\"[^\"\n]*\")|([\^_](?:\d+/\d+|/\d*|\d+/))(?=[A-Ga-g])")
_HALF = {sign + half: sign + "/" for sign in "^_" for half in ("1/2", "/", "/2", "1/")}


def line_starts(text: str) -> list[int]:
    """The offset of each line of a text, the first one 0."""
    return [0, *(match.end() for match in re.finditer("\n", text))]


def offset_of(starts: list[int], line: int, column: int) -> int:
    """Line and column (from 1) as an offset; a place past the end is the end of the last line."""
    return starts[min(line, len(starts)) - 1] + max(0, column - 1)


def event_spans(text: str, entry: Entry) -> tuple[tuple[Span, ...], ...]:
    """For every bar the (start, end) offsets of its events in the text; empty where it cannot be read."""
    starts = line_starts(text)
    return tuple(tuple(_span(starts, token) for token in tokens) for tokens in entry.places)


def _span(starts: list[int], token: Token) -> Span:
    start = offset_of(starts, token.line, token.column)
    return start, start + len(token.text)


def bar_span(spans: tuple[Span, ...]) -> Span:
    """From the first event of a bar to its last."""
    return spans[0][0], spans[-1][1]


def bar_at(spans: tuple[tuple[Span, ...], ...], offset: int) -> int:
    """The index of the bar that an offset stands in or after; 0 before the first."""
    return max((index for index, bar in enumerate(spans) if bar and bar[0][0] <= offset), default=0)


def staff_text(text: str) -> str:
    """The text for a staff that knows no commas: as long as the original, so that places stay.

    A microtone becomes the nearest plain sign, with its commas as a small figure over the note where there is room.
    """
    return _MICROTONE.sub(_plain, text)


def _plain(match: re.Match[str]) -> str:
    if match[1]:
        return match[1]
    sign = match[2]
    if sign in _HALF:
        return _HALF[sign].rjust(len(sign))
    try:
        _, commas = read_accidental(sign)
    except NailheadError:
        return sign
    in_header = match.string.rfind("\nK:", 0, match.start()) > match.string.rfind("\n", 0, match.start()) - 1
    label = f'"^{abs(commas)}"{sign[0]}'
    whole = commas == int(commas)
    return (label if whole and len(label) <= len(sign) and not in_header else sign[0]).rjust(len(sign))


def comments_of(text: str) -> int:
    """Lines that hold a comment: a change that writes the tune anew does not keep them."""
    return sum(bool(re.search(r"(?<!\\)%", line)) for line in text.split("\n"))
