"""Backing patterns: what a second player strums under the tune (handbook §4; rows are common practice).

S s  strum down, up over the chord's shape     X  the shape struck and damped at once
v    one bass note     z  nothing

Behind `v`: b takes the root in the bass, f another bass tone. Each pattern has a text for every kind of bar it suits;
the first whose groups fill the bar is played.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from nailhead.core.arrange.rows.patterns import Alphabet, Pattern, Voice, Want, Where, read_row
from nailhead.core.arrange.rows.plectrum import CHORD, PICK
from nailhead.core.arrange.values import Way


def _strum(way: Way, muted: bool = False) -> tuple[Voice, ...]:
    return (Voice(PICK, way, Want.STRUM, Where.SHAPE, loudness=CHORD, muted=muted),)


ALPHABET: Alphabet = {
    "S": _strum(Way.DOWN),
    "s": _strum(Way.UP),
    "X": _strum(Way.DOWN, muted=True),
    "v": (Voice(PICK, Way.DOWN, Want.FILL, Where.ROOT, loudness=CHORD),),
    "z": (),
}


@dataclass(frozen=True)
class BackingRow:
    """A pattern by name, for kinds of instrument (() for all); `closed` wants shapes without open strings."""

    name: str
    kinds: tuple[str, ...]
    texts: tuple[str, ...]
    closed: bool = False

    @cached_property
    def patterns(self) -> tuple[Pattern, ...]:
        return tuple(read_row(ALPHABET, self.name, text, 1) for text in self.texts)

    def for_groups(self, groups: tuple[int, ...]) -> Pattern | None:
        """The first text that fills a bar of these groups, as often as it goes; None where none does."""
        for pattern in self.patterns:
            times, left = divmod(len(groups), len(pattern.groups))
            if times and not left and pattern.groups * times == groups:
                return pattern
        return None


_UKULELES = ("ukulele", "ukulele-baritone")
BACKING: tuple[BackingRow, ...] = (
    BackingRow("chop", ("mandolin",), ("z . | X .", "z . | X . | X .", "z . X"), closed=True),
    BackingRow(
        "boom-chop",
        ("mandolin", "banjo"),
        ("vb . | X . | vf . | X .", "vb . | X . | X .", "vb . X | vf . X"),
        closed=True,
    ),
    BackingRow("jig strum", ("mandolin",), ("S . S",)),
    BackingRow("reel strum", ("mandolin",), ("S . | S s",)),
    BackingRow(
        "bass and strum",
        ("guitar",),
        ("vb . | S . | vf . | S s", "vb . | S . | S s", "vb . S | vf . S"),
    ),
    BackingRow("long strum", _UKULELES, ("S . | . .", "S . | . . | . .", "S . .")),
    BackingRow("even strum", _UKULELES, ("S . | S .", "S . | S . | S .", "S . S")),
    BackingRow("down, down up", (), ("S . | S s", "S . | S s | S s", "S . s")),
    BackingRow("off-beat strum", _UKULELES, ("S . | S s | . s | S s", "S . | S s | S s", "S . s")),
    BackingRow("muted strum", _UKULELES, ("S . | X s | . s | X s", "S . | X s | X s", "S . s")),
)
#: What a sheet may print: the arrangement, or one of these.
PARTS = ("tune", *dict.fromkeys(row.name for row in BACKING))


def backing_of(kind: str) -> tuple[BackingRow, ...]:
    """The patterns for a kind of instrument, its own first."""
    own = tuple(row for row in BACKING if kind in row.kinds)
    return own + tuple(row for row in BACKING if not row.kinds)
