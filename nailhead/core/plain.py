"""Text that every file can hold: without the signs that XML has no place for (XML 1.0, 2.2), nor lone surrogates."""

from __future__ import annotations

import re

_NO_CHARACTER = re.compile("[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")


def plain(text: str) -> str:
    """The same without control characters and what is no character."""
    return _NO_CHARACTER.sub("", text)
