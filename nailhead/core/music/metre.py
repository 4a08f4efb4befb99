"""Metre, its grouping into beats, and exact time.

Time is a `fractions.Fraction` of a whole note everywhere in the core; no floats in rhythm.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction

from nailhead.core.errors import TheoryError

Time = Fraction
ZERO = Fraction(0)

#: Beats of the metres that folk tunes use, as eighths or quarters per beat (handbook, §7).
#: A metre that is not listed is grouped by `_group`.
GROUPINGS: dict[tuple[int, int], tuple[int, ...]] = {
    (5, 8): (2, 3),
    (7, 8): (2, 2, 3),
    (10, 8): (3, 2, 2, 3),
}

_METRE = re.compile(r"(\d{1,4}(?:\s*\+\s*\d{1,4}){0,32})\s*/\s*(\d{1,4})")


@dataclass(frozen=True, slots=True)
class Metre:
    """A time signature. `grouping` counts units of 1/`unit` in each beat and fills the bar.

    `symbol` keeps "C" or "C|" as it was written; `free` marks a tune without metre, whose bars
    may have any length.
    """

    beats: int
    unit: int
    grouping: tuple[int, ...]
    symbol: str = ""
    free: bool = False

    def __post_init__(self) -> None:
        if sum(self.grouping) != self.beats or self.unit not in (1, 2, 4, 8, 16, 32):
            raise TheoryError(f"The metre {self.beats}/{self.unit} cannot be.", field="metre")

    @property
    def length(self) -> Time:
        """One full bar, as a fraction of a whole note."""
        return Fraction(self.beats, self.unit)

    @property
    def compound(self) -> bool:
        """True when every beat holds three units (6/8, 9/8, 12/8)."""
        return self.beats > 3 and set(self.grouping) == {3}

    @property
    def beat_onsets(self) -> tuple[Time, ...]:
        """Where the beats begin in a full bar."""
        starts, at = [], 0
        for size in self.grouping:
            starts.append(Fraction(at, self.unit))
            at += size
        return tuple(starts)

    @property
    def strong_onsets(self) -> tuple[Time, ...]:
        """The beats a listener counts: the first, and the middle one of an even simple metre."""
        onsets = self.beat_onsets
        if len(onsets) == 4 and len(set(self.grouping)) == 1:
            return (onsets[0], onsets[2])
        return onsets if self.compound or len(set(self.grouping)) > 1 else onsets[:1]

    def __str__(self) -> str:
        if self.free:
            return "free"
        default = _group(self.beats, self.unit)
        top = str(self.beats) if self.grouping == default else "+".join(map(str, self.grouping))
        return self.symbol or f"{top}/{self.unit}"


def _group(beats: int, unit: int) -> tuple[int, ...]:
    if (beats, unit) in GROUPINGS:
        return GROUPINGS[(beats, unit)]
    if unit >= 8 and beats % 3 == 0 and beats > 3:
        return (3,) * (beats // 3)
    if unit >= 8 and beats == 3:
        return (3,)
    if unit >= 8 and beats > 3:
        return (2,) * (beats // 2 - beats % 2) + ((3,) if beats % 2 else ())
    return (1,) * beats


def make_metre(beats: int, unit: int, grouping: tuple[int, ...] = (), symbol: str = "") -> Metre:
    """A metre with its usual grouping, or the one given."""
    if not 1 <= beats <= 64:
        raise TheoryError(f"A metre of {beats} beats cannot be.", field="metre", remedy="Use 1 to 64.")
    return Metre(beats, unit, grouping or _group(beats, unit), symbol)


COMMON_TIME = make_metre(4, 4, symbol="C")
CUT_TIME = make_metre(2, 2, symbol="C|")
FREE_METRE = Metre(4, 4, (1, 1, 1, 1), "none", free=True)


def parse_metre(text: str) -> Metre:
    """Read "4/4", "C", "C|", "6/8", "2+2+2+3/8", "(2+2+2+3)/8" or "none"."""
    name = text.strip()
    named = {"C": COMMON_TIME, "C|": CUT_TIME, "none": FREE_METRE, "": FREE_METRE}
    if name in named:
        return named[name]
    match = _METRE.fullmatch(name.replace("(", "").replace(")", ""))
    if not match or int(match[2]) not in (1, 2, 4, 8, 16, 32):
        raise TheoryError(
            f"“{text}” is not a metre.", field="metre", remedy="Write it as 4/4, 6/8, C, C| or 2+2+2+3/8."
        )
    parts = tuple(int(part) for part in match[1].split("+"))
    if not all(parts):
        raise TheoryError(f"“{text}” has an empty beat.", field="metre", remedy="Write it as 4/4 or 6/8.")
    return make_metre(sum(parts), int(match[2]), parts if len(parts) > 1 else ())


def format_time(time: Time) -> str:
    """ "3/8", "1", "0": exact, for error messages and JSON."""
    return str(time)


def parse_time(text: str, field: str = "time") -> Time:
    """Read "0", "1/4" or "3/8" of a whole note; raises TheoryError for anything else."""
    match = re.fullmatch(r"(\d{1,6})(?:/(\d{1,6}))?", text.strip())
    if not match or (match[2] and not int(match[2])):
        raise TheoryError(f"“{text}” is no time.", field=field, remedy="Write a fraction of a whole note, as 1/4.")
    return Fraction(int(match[1]), int(match[2] or 1))
