"""The words of an ABC music line: one regular expression, one token at a time.

Sections in brackets are those of the ABC standard 2.1 (December 2011).
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from nailhead.formats.abc.accidentals import ACCIDENTAL

#: kind -> pattern, tried in this order.
KINDS: dict[str, str] = {
    "comment": r"%.*",
    "quoted": r'"[^"]*"',  # chord symbols and annotations [4.18, 4.19]
    "unclosed_quote": r'"',
    "field": r"\[[A-Za-z]:[^\]\n]*\]",  # inline fields [3.2]
    "decoration": r"![^!\s|][^!|\n]*!|\+[a-z0-9()<>.]+\+",  # [4.14]
    "ending": r"\[\s*(?=\d)\d+(?:[,-]\d+)*\.?",  # [1 [2 [1,3 [4.9]
    "bar": r"(?:\[\|\]?|\.?[|:]+\]?)(?::+)?(?:[ \t]*\d+(?:[,-]\d+)*\.?)?",  # | || |] |: :| :: |1 :|2 [4.8]
    "grace": r"\{/?[^}\n]*\}",  # [4.12]
    "tuplet": r"\(\s*\d+(?::\d*){0,2}",  # [4.13]
    "chord": r"\[[^\]|\n]*\]\d*/*\d*",  # several notes at once [4.17]
    "note": rf"(?:{ACCIDENTAL})?[A-Ga-g][,']*\d*/*\d*",  # [4.1 - 4.3]
    "rest": r"[zx]\d*/*\d*",
    "bar_rest": r"[ZX]\d*",
    "spacer": r"y\d*",
    "broken": r">+|<+",  # [4.4]
    "tie": r"\.?-",
    "slur": r"\.?\(|\)",
    "mark": r"[.~HLMOPSTuvJRhijkmnopqrtwKNQUVWY]",  # one-letter decorations [4.14]
    "overlay": r"&",
    "space": r"[\s`\\*$;#@?]+",
    "unknown": r".",
}
_MASTER = re.compile("|".join(f"(?P<{kind}>{pattern})" for kind, pattern in KINDS.items()))


@dataclass(frozen=True, slots=True)
class Token:
    """`kind` is a key of KINDS; line and column count from 1."""

    kind: str
    text: str
    line: int
    column: int


def tokenize(text: str, line: int, column: int = 1) -> Iterator[Token]:
    """The tokens of one music line, white space and comments left out."""
    for match in _MASTER.finditer(text):
        kind = match.lastgroup or "unknown"
        if kind not in ("space", "comment"):
            yield Token(kind, match.group(), line, match.start() + column)
