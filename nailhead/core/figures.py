"""Reads a number that comes from outside: plain digits, few of them, and within the bounds of its field.

Text is never given to `Fraction`, `int` or `float` before it has been looked at: a number with an exponent of ten
digits has a thousand million of them, and working it out holds the interpreter for good.
"""

from __future__ import annotations

import re
from fractions import Fraction

from nailhead.core.errors import NailheadError

#: More digits than any number of ours has.
MOST_DIGITS = 12
_WHOLE = re.compile(rf"([+-]?)([0-9]{{1,{MOST_DIGITS}}})")
_EXACT = re.compile(rf"([+-]?)([0-9]{{0,{MOST_DIGITS}}})(?:\.([0-9]{{0,{MOST_DIGITS}}}))?")
_RATIO = re.compile(rf"([+-]?[0-9]{{1,{MOST_DIGITS}}})/([0-9]{{1,{MOST_DIGITS}}})")


class FigureError(NailheadError, ValueError):
    """Text that is no number, or one out of its bounds."""


def read_whole(text: str, low: int, high: int, field: str = "number") -> int:
    """A whole number from `low` to `high`; raises FigureError. Digits, a sign and space around them, nothing else."""
    match = _WHOLE.fullmatch(text.strip())
    number = int(match[1] + match[2]) if match else None
    if number is None or not low <= number <= high:
        raise _refused(text, f"a whole number from {low} to {high}", field)
    return number


def read_exact(text: str, low: Fraction | int, high: Fraction | int, field: str = "number") -> Fraction:
    """A number from `low` to `high`, exactly: whole, "2.5" or "3/8"; raises FigureError."""
    bare = text.strip()
    number: Fraction | None = None
    if (match := _RATIO.fullmatch(bare)) and int(match[2]):
        number = Fraction(int(match[1]), int(match[2]))
    elif (match := _EXACT.fullmatch(bare)) and (match[2] or match[3]):
        number = Fraction(int((match[2] or "0") + (match[3] or "")), 10 ** len(match[3] or ""))
        number = -number if match[1] == "-" else number
    if number is None or not low <= number <= high:
        raise _refused(text, f"a number from {low} to {high}", field)
    return number


def clipped(digits: str, most: int) -> int:
    """What digits stand for, or one more than `most` where that is more: for a check of bounds that follows."""
    return min(int(digits.lstrip("0")[: MOST_DIGITS + 1] or 0), most + 1)


def is_digits(text: str) -> bool:
    """Is it digits that `int` reads, and few? (`str.isdigit` says so of "²".)"""
    return text.isascii() and text.isdigit() and len(text) <= MOST_DIGITS


def _refused(text: str, wanted: str, field: str) -> FigureError:
    shown = text.strip()[:20] + ("…" if len(text.strip()) > 20 else "")
    return FigureError(f"“{shown}” is not {wanted}.", field=field, remedy="Write it in plain digits.")
