"""The ways of playing: one row each, with the instruments it is for, its rungs, and how the right hand plays it bare.

The right hands of rung 1 are tables too (handbook §4): a pick follows the clock of the metre, down on the beat and up
behind it, even after a rest; fingers take turns; thumb, index and middle keep to their strings.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from nailhead.core.arrange.patterns import clock_of
from nailhead.core.arrange.values import Hand
from nailhead.core.errors import PathError
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.metre import Metre, Time


@dataclass(frozen=True, slots=True)
class Struck:
    """What a right hand needs to know of a note: its place, where in a full bar it comes, what came before."""

    place: Place
    at: Time
    metre: Metre
    before: Hand | None


def _down(note: Struck) -> Hand:
    return Hand.DOWN


def _clock(note: Struck) -> Hand:
    """Down on the first of each group of counts, then in turn; off the grid against the last stroke."""
    clock = clock_of(note.metre)
    counts = note.at / clock.count
    if counts.denominator != 1:
        return Hand.UP if note.before is Hand.DOWN else Hand.DOWN
    left = int(counts)
    for size in _from(clock.groups):
        if left < size:
            return Hand.UP if left % 2 else Hand.DOWN
        left -= size
    return Hand.DOWN


def _from(groups: tuple[int, ...]):  # type: ignore[no-untyped-def]
    while True:
        yield from groups or (2,)


def _turns(note: Struck) -> Hand:
    """Index and middle in turn, the thumb on the bass strings."""
    if note.place.string > 3:
        return Hand.THUMB
    return Hand.MIDDLE if note.before is Hand.INDEX else Hand.INDEX


#: Strings of the three picking fingers; the thumb takes all that are not listed.
_THREE_FINGERS = {1: Hand.MIDDLE, 2: Hand.INDEX}


def _three(note: Struck) -> Hand:
    return _THREE_FINGERS.get(note.place.string, Hand.THUMB)


@dataclass(frozen=True, slots=True)
class Idiom:
    """A way of playing. `rungs` is how many are built so far; `strings` those that the melody keeps to, () all.

    `right_hand` strikes the bare melody; `drones` are strings that ring open throughout; `one_finger` is true where the
    left hand slides with a single finger or a noter. Above rung 1 the idiom has an arranger of its own.
    """

    id: str
    name: str
    instruments: tuple[str, ...]
    right_hand: Callable[[Struck], Hand]
    rungs: int = 1
    strings: tuple[int, ...] = ()
    drones: tuple[int, ...] = ()
    one_finger: bool = False

    @property
    def picks(self) -> bool:
        """Does a pick follow the clock of the metre?"""
        return self.right_hand is _clock

    @property
    def fingers(self) -> bool:
        """Does each finger of the right hand strike by itself?"""
        return self.right_hand in (_three, _turns)


_SAZ = ("saz", "saz-short")
_UKULELES = ("ukulele", "ukulele-baritone")
IDIOMS: tuple[Idiom, ...] = (
    Idiom("clawhammer", "clawhammer", ("banjo",), _down, rungs=7),
    Idiom("three-finger", "three-finger", ("banjo",), _three, rungs=7),
    Idiom("plectrum", "plectrum", ("mandolin", "guitar"), _clock),
    Idiom("plectrum", "plectrum", _SAZ, _clock, drones=(3,)),
    Idiom("noter", "noter and drone", ("dulcimer",), _down, strings=(1,), drones=(2, 3, 4), one_finger=True),
    Idiom("chord-melody", "chord melody", ("dulcimer",), _down, drones=(3,)),
    Idiom("fingerstyle", "fingerstyle", (*_UKULELES, "guitar"), _turns),
    Idiom("strum", "strum", _UKULELES, _down),
)


def idioms_of(instrument: Instrument) -> tuple[Idiom, ...]:
    """The ways to play an instrument, the usual one first; drones only where it has such strings."""
    rows = (row for row in IDIOMS if instrument.kind in row.instruments)
    return tuple(
        replace(row, drones=tuple(string for string in row.drones if string <= instrument.strings)) for row in rows
    )


def find_idiom(name: str | None, instrument: Instrument) -> Idiom:
    """By id, or the usual one for None; raises PathError with those that the instrument has."""
    rows = idioms_of(instrument)
    for row in rows:
        if name in (None, row.id):
            return row
    raise PathError(
        f"The {instrument.name.lower()} is not played in the idiom “{name}” here.",
        field="idiom",
        remedy=f"Choose one of: {', '.join(row.id for row in rows)}.",
    )
