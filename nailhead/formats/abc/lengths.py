"""Small readings inside ABC music: note lengths, repeat signs, the numbers of endings."""

from __future__ import annotations

import re
from fractions import Fraction
from functools import lru_cache

from nailhead.core.figures import clipped
from nailhead.core.music.metre import Time
from nailhead.formats.abc.errors import AbcError
from nailhead.formats.abc.tokens import Token

LONGEST = 64  # whole notes; nothing real is longer, absurd lengths are refused
FINEST = 1024


def read_length(text: str, unit: Time, token: Token) -> Time:
    """Multiplier and slashes after a note: "3", "/2", "3/2", "//" (§4.3)."""
    length = _multiple(text)
    if length is None:
        raise AbcError(f"“{token.text}” has no sensible length.", token.line, token.column, "Shorten it.")
    if length == 0:
        raise AbcError(f"“{token.text}” has no length.", token.line, token.column, "Give it one: 1, 2, /2.")
    return unit * length


@lru_cache(maxsize=1024)
def _multiple(text: str) -> Time | None:
    """How many units a length holds; 0 where it says so, None where it is no sensible number."""
    match = re.fullmatch(r"(\d*)(/*)(\d*)", text)
    assert match is not None
    above, slashes, below = match.groups()
    if len(above) > 4 or len(below) > 4 or len(slashes) > 6:
        return None
    numerator = int(above or 1)
    denominator = int(below) if below else 2 ** len(slashes)
    return Fraction(numerator, denominator) if denominator else Fraction(0)


def check_length(length: Time, token: Token) -> None:
    """Refuse what no note value can write: longer than 64 whole notes, or finer than 1/1024."""
    if length > LONGEST:
        raise AbcError(f"“{token.text}” is longer than any note.", token.line, token.column, "Shorten it.")
    binary = length.denominator & -length.denominator
    odd = length.denominator // binary
    # An odd part is written as a tuplet of the next power of two below it, whose notes are printed longer.
    if (length * odd / (1 << (odd.bit_length() - 1))).denominator > FINEST:
        raise AbcError(f"“{token.text}” is shorter than any note.", token.line, token.column, "Lengthen it.")


def repeat_signs(signs: str) -> tuple[int, int]:
    """Colons that close a repeat and colons that open one."""
    if set(signs) <= {":"}:
        return (1, 1) if len(signs) > 1 else (0, 0)
    lines = [index for index, sign in enumerate(signs) if sign in "|[]"]
    return signs[: lines[0]].count(":"), signs[lines[-1] :].count(":")


def read_endings(text: str, token: Token) -> tuple[int, ...]:
    times: list[int] = []
    for part in text.strip(". ").split(","):
        first, _, last = part.partition("-")
        low, high = clipped(first, 99), clipped(last or first, 99)
        if not 1 <= low <= high <= 99:
            raise AbcError(f"“{text}” is not an ending.", token.line, token.column, "Write [1 or [1,3.")
        times += range(low, high + 1)
    return tuple(times)
