"""Right-hand patterns as data: one row each, written in a line of text (the grammar is in docs/engine.md).

A row fills *pulse groups* of two or three counts, with `|` between them. A count is the shortest stroke (an eighth in
4/4, 3/4 and 6/8, a sixteenth in 2/4). Its text has one sign a count; which signs there are, and what they mean, is the
alphabet of the way of playing. Behind a sign stand its strings, as digits, best first, or as a letter that relates
them to the melody and the shape; `!` marks where a melody note may begin, `.` lets the sign before it ring on, and a
sign in parentheses may be left out by the player.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cache, cached_property

from nailhead.core.arrange.values import PLAIN, Finger, Trembling, Way
from nailhead.core.errors import PathError


class Want(StrEnum):
    """What a voice asks for.

    LEAD is the melody note, or it again where it is sounding already. ANY takes a melody note that begins there, else
    a tone of the chord or a drone; JOIN takes one too, else it is silent. FILL, STRUM and DRONE only accompany: a
    tone of the chord or a drone, several of them in one movement, a drone string. SLUR is a melody note that the left
    hand sounds alone.
    """

    LEAD = "lead"
    ANY = "any"
    JOIN = "join"
    FILL = "fill"
    STRUM = "strum"
    DRONE = "drone"
    SLUR = "slur"


#: What may take a melody note.
TAKES_MELODY = frozenset({Want.LEAD, Want.ANY, Want.JOIN, Want.DRONE, Want.SLUR})


class Where(StrEnum):
    """How a voice's strings are found, by the letter behind its sign; LISTED are digits, REACH all of its finger's.

    MELODY is the string that the melody sounds on, BRUSH the neighbours that the rung brushes.
    """

    REACH = ""
    LISTED = "digits"
    MELODY = "m"
    BRUSH = "brush"
    ROOT = "b"
    OTHER_BASS = "f"
    THIRD_BASS = "g"
    BASS_SIDE = "p"
    TREBLE_SIDE = "q"
    NEXT_BUT_ONE = "r"
    ABOVE = "t"
    SHAPE = "a"
    OPEN = "o"
    LOWEST = "l"


@dataclass(frozen=True, slots=True)
class Voice:
    """One touch of a slot: who, how, what it wants, and its strings as a list or as a relation.

    `by` None leaves the finger open. `also` are strings that the same movement takes along. `instead` is what is done
    where this voice leads and its note is sounding already, `extra` points dearer. A slot whose voice `must` find a
    string does not fit where it finds none; `called` is what a player misses then. A strum takes the `most` treble
    strings of those there are, 0 for all. With `begins` it is there for a melody note that
    begins, and leaves none to the left hand. A `chordal` one takes tones of the chord alone, and no drone.
    """

    by: Finger | None
    way: Way
    want: Want
    where: Where = Where.REACH
    strings: tuple[int, ...] = ()
    also: Where | None = None
    instead: Voice | None = None
    extra: int = 0
    must: bool = False
    called: str = ""
    optional: bool = False
    loudness: int = PLAIN
    muted: bool = False
    most: int = 0
    begins: bool = False
    chordal: bool = False

    @property
    def takes(self) -> bool:
        """May a melody note be this voice's?"""
        return self.want in TAKES_MELODY

    def on(self, where: Where, strings: tuple[int, ...] = ()) -> Voice:
        """The same voice on certain strings; one that leads has the melody's, and a letter says what it takes along."""
        if self.want is Want.LEAD and where is not Where.LISTED:
            return replace(self, also=where)
        return replace(self, where=where, strings=strings)


#: Sign of a row's text -> its voices. The alphabet belongs to the way of playing.
Alphabet = Mapping[str, tuple[Voice, ...]]


@dataclass(frozen=True, slots=True)
class Slot:
    """What a pattern does on a count. `at` and `counts` are in counts from the start of the pattern.

    A melody note may begin on the first slot and where `accent` is set.
    """

    at: int
    counts: int
    voices: tuple[Voice, ...]
    accent: bool = False
    trembling: Trembling | None = None

    @property
    def leads(self) -> bool:
        """Does it strike the melody's own note?"""
        return any(voice.want is Want.LEAD for voice in self.voices)


@dataclass(frozen=True)
class Pattern:
    """A stroke pattern. `groups` are the pulse groups it fills; `cost` ranks it, in points.

    It is used from `from_rung` on where one note is held through it, and from `moving_from` on where melody notes
    begin inside it (never earlier); above `to_rung` something better takes its place. `family` names what counts as
    the same motion when a pattern changes; "" never does.
    """

    name: str
    groups: tuple[int, ...]
    slots: tuple[Slot, ...]
    from_rung: int
    cost: int = 0
    moving_from: int = 5
    family: str = ""
    to_rung: int = 99

    @cached_property
    def takes(self) -> frozenset[int]:
        """The counts on which a melody note may begin: the first and the strong ones that do not only accompany."""
        return frozenset(
            slot.at
            for place, slot in enumerate(self.slots)
            if (place == 0 or slot.accent) and any(voice.takes for voice in slot.voices)
        )

    @cached_property
    def accompanies(self) -> bool:
        """Does a slot that takes the melody strike something else with it, or shake it?"""
        return any(len(slot.voices) > 1 or slot.voices[0].also or slot.trembling for slot in self.slots)

    @cached_property
    def counts(self) -> int:
        return sum(self.groups)

    def cut(self, begins: int, ends: int) -> Pattern | None:
        """What is played of it between two of its counts, where a bar has no more; None for nothing.

        It begins with the first slot, or with one on which a melody note may begin. Its worth is that of its share.
        """
        slots = tuple(
            replace(slot, at=slot.at - begins, counts=min(slot.counts, ends - slot.at))
            for slot in self.slots
            if begins <= slot.at < ends
        )
        if not slots or (begins and not slots[0].accent):
            return None
        cost = self.cost * (ends - begins) // self.counts
        return replace(self, groups=(ends - begins,), slots=slots, cost=cost)

    @cached_property
    def holes(self) -> int:
        """Counts on which nothing is struck; a stroke that is shaken fills its time."""
        return self.counts - sum(slot.counts if slot.trembling else 1 for slot in self.slots)

    @cached_property
    def key(self) -> RowKey:
        """What a search through the row depends on; rows that agree in it find the same."""
        return RowKey(self.groups, self.slots, self.cost, bool(self.family))

    @cached_property
    def lanes(self) -> tuple[RowKey, ...]:
        """For each slot what its strikes depend on beside the moment; slots of other rows may share it."""
        return tuple(_lane(slot.voices, slot.accent, place == 0) for place, slot in enumerate(self.slots))


class RowKey:
    """A key of many parts that is hashed once."""

    __slots__ = ("_hash", "parts")

    def __init__(self, *parts: object) -> None:
        self.parts = parts
        self._hash = hash(parts)

    def __hash__(self) -> int:
        return self._hash

    def __eq__(self, other: object) -> bool:
        return self is other or (isinstance(other, RowKey) and self.parts == other.parts)


@cache
def _lane(voices: tuple[Voice, ...], accent: bool, first: bool) -> RowKey:
    """The same key for the same parts."""
    return RowKey(voices, accent, first)


#: Longest pattern in counts: a bar of 12/8.
MOST_COUNTS = 12
_LETTERS = "".join(where for where in Where if len(where) == 1)
_TAIL = re.compile(rf"([1-9]*|[{_LETTERS}])(!?)(\.*)")
#: Signs that shake the stroke before them are letters behind a sign's own: a tremolo, and a treble.
SHAKES = {"R": Trembling.TREMOLO, "tr": Trembling.TREBLE}


def read_row(
    alphabet: Alphabet,
    name: str,
    text: str,
    from_rung: int,
    cost: int = 0,
    moving_from: int = 5,
    family: str = "",
    groups: tuple[int, ...] = (),
) -> Pattern:
    """A pattern from its line of text; raises PathError with the sign at fault.

    Teachers' own patterns and those shipped come through here alike. `groups` are used where the text has no `|`.
    """
    slots: list[Slot] = []
    sizes: list[int] = []
    at = 0
    for part in text.split("|"):
        begun = at
        for token in part.split():
            slot, rings = _slot(alphabet, name, token, at) if token.strip(".") else (None, len(token))
            if slot:
                slots.append(slot)
                at += 1
            if rings and slots:
                slots[-1] = replace(slots[-1], counts=slots[-1].counts + rings)
                at += rings
            elif rings:
                raise _unknown(alphabet, name, token, at)
        sizes.append(at - begun)
    if groups and len(sizes) == 1:
        sizes = list(groups)
    if sum(sizes) != at or not 1 <= at <= MOST_COUNTS or not set(sizes) <= {2, 3}:
        raise PathError(
            f"The pattern “{name}” has {at} counts for groups of {'+'.join(map(str, sizes)) or 'nothing'}.",
            field="pattern",
            remedy=f"Write one sign a count, groups of 2 or 3 with | between them, at most {MOST_COUNTS} counts.",
        )
    return Pattern(name, tuple(sizes), tuple(slots), from_rung, cost, max(from_rung, moving_from), family)


def _slot(alphabet: Alphabet, name: str, token: str, at: int) -> tuple[Slot, int]:
    """A sign with what stands behind it, and how many counts more it rings."""
    optional = re.fullmatch(r"\((.+?)\)(!?\.*)", token)
    core = optional[1] + optional[2] if optional else token
    trembling = None
    sign = next((sign for sign in sorted(alphabet, key=len, reverse=True) if core.startswith(sign)), None)
    tail = _TAIL.fullmatch(core[len(sign) :]) if sign else None
    if sign is None or tail is None:
        raise _unknown(alphabet, name, token, at)
    voices = alphabet[sign]
    if sign in SHAKES:
        trembling = SHAKES[sign]
    if tail[1]:
        where = Where.LISTED if tail[1].isdigit() else Where(tail[1])
        strings = tuple(map(int, tail[1])) if tail[1].isdigit() else ()
        voices = tuple(voice.on(where, strings) for voice in voices)
    if optional:
        voices = tuple(replace(voice, optional=True) for voice in voices)
    return Slot(at, 1, voices, bool(tail[2]), trembling), len(tail[3])


def _unknown(alphabet: Alphabet, name: str, token: str, at: int) -> PathError:
    return PathError(
        f"Sign {at + 1} of the pattern “{name}”, “{token}”, is not known.",
        field="pattern",
        remedy=f"Use {' '.join(alphabet)} with strings behind them, or . to let ring.",
    )


#: A teacher's own pattern is for everyone who can hold a note, and is taken wherever it fits.
OWN_FROM, OWN_COST = 2, -20


def own_row(alphabet: Alphabet, name: str, text: str) -> Pattern:
    """A teacher's own pattern; raises PathError.

    Without `|` it is in groups of two counts, or of three where the counts are odd.
    """
    counts = sum(len(token.strip(".")) > 0 for token in text.split()) + text.count(".")
    groups = (3,) * (counts // 3) if counts % 2 else (2,) * (counts // 2)
    return read_row(alphabet, name, text, OWN_FROM, OWN_COST, OWN_FROM, family=name, groups=groups)
