"""Text that every file can hold, and names that every system takes."""

from __future__ import annotations

import re

#: Letters of a file's name before its ending.
MOST_LETTERS = 80
_NO_CHARACTER = re.compile("[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")


def plain(text: str) -> str:
    """The same without control characters, lone surrogates and what XML has no place for (XML 1.0, 2.2)."""
    return _NO_CHARACTER.sub("", text)


def plain_name(title: str) -> str:
    """A title as a file's name without its ending: plain letters, and few of them, so that every system takes it."""
    return re.sub("[^0-9A-Za-z]+", "-", title[:MOST_LETTERS]).strip("-") or "tune"
