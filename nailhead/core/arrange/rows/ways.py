"""Every way of playing, one row each, and how they are found by instrument and name."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache

from nailhead.core.arrange.rows.clawhammer import CLAWHAMMER
from nailhead.core.arrange.rows.courses import FINGERED, NOTER, SAZ
from nailhead.core.arrange.rows.guitar_fingers import GUITAR_FINGERS
from nailhead.core.arrange.rows.hands import Choice, Idiom
from nailhead.core.arrange.rows.plectrum import GUITAR, MANDOLIN
from nailhead.core.arrange.rows.three_finger import THREE_FINGER
from nailhead.core.arrange.rows.ukulele import FINGERSTYLE, STRUM
from nailhead.core.errors import PathError
from nailhead.core.fretboard.instruments import Instrument

IDIOMS: tuple[Idiom, ...] = (
    CLAWHAMMER,
    THREE_FINGER,
    MANDOLIN,
    GUITAR,
    NOTER,
    FINGERED,
    SAZ,
    FINGERSTYLE,
    STRUM,
    GUITAR_FINGERS,
)
#: Everything in which players differ (handbook §10), by name.
CHOICES: dict[str, Choice] = {choice.name: choice for idiom in IDIOMS for choice in idiom.choices}


@dataclass(frozen=True, slots=True)
class Options:
    """The school an arrangement follows: the ways taken that are not the usual ones, by name; see `options_of`."""

    taken: tuple[tuple[str, str], ...] = ()

    def way(self, name: str) -> str:
        """The way taken in a choice."""
        return dict(self.taken).get(name, CHOICES[name].usual)

    def document(self) -> dict[str, str]:
        """What was chosen, for the data file and for exports."""
        return dict(self.taken)


USUAL = Options()


def options_of(wanted: Mapping[str, str]) -> Options:
    """The options of some ways by name; raises PathError for a choice or a way that is not there."""
    for name, way in wanted.items():
        if name not in CHOICES:
            raise PathError(
                f"There is no choice “{name}”.", field="name", remedy=f"Choose among: {', '.join(CHOICES)}."
            )
        if way not in CHOICES[name].ways:
            raise PathError(
                f"“{way}” is no choice for {name.replace('_', ' ')}.",
                field=name,
                remedy=f"Choose one of: {', '.join(CHOICES[name].ways)}.",
            )
    return Options(tuple(sorted((name, way) for name, way in wanted.items() if way != CHOICES[name].usual)))


#: A teacher's own patterns: name and text.
OwnRows = tuple[tuple[str, str], ...]


@lru_cache(maxsize=128)
def as_played(idiom: str, kind: str, options: Options = USUAL, own: OwnRows = ()) -> Idiom:
    """An idiom of a kind of instrument in the school of `options`, with a teacher's own patterns first.

    Raises PathError for a pattern with a sign that the hand does not play.
    """
    row = next(row for row in IDIOMS if row.id == idiom and kind in row.instruments)
    return row.played(dict(options.taken), own)


def idioms_of(instrument: Instrument) -> tuple[Idiom, ...]:
    """The ways to play an instrument, the usual one first; drones only where it has such strings."""
    rows = (as_played(row.id, instrument.kind) for row in IDIOMS if instrument.kind in row.instruments)
    return tuple(_on(row, instrument) for row in rows)


def _on(row: Idiom, instrument: Instrument) -> Idiom:
    drones = tuple(string for string in row.drones if string <= instrument.strings)
    return row if drones == row.drones else replace(row, drones=drones)


def idiom_named(name: str) -> Idiom:
    """The first row of that id, on whichever instrument; raises PathError."""
    found = next((row for row in IDIOMS if row.id == name), None)
    if found is None:
        known = ", ".join(dict.fromkeys(row.id for row in IDIOMS))
        raise PathError(f"There is no idiom “{name}”.", field="idiom", remedy=f"Choose one of: {known}.")
    return found


def find_idiom(name: str | None, instrument: Instrument, options: Options = USUAL, own: OwnRows = ()) -> Idiom:
    """By id, or the usual one for None; raises PathError with those that the instrument has."""
    rows = [row for row in IDIOMS if instrument.kind in row.instruments]
    for row in rows:
        if name in (None, row.id):
            return _on(as_played(row.id, instrument.kind, options, own), instrument)
    raise PathError(
        f"The {instrument.name.lower()} is not played in the idiom “{name}” here.",
        field="idiom",
        remedy=f"Choose one of: {', '.join(row.id for row in rows)}.",
    )
