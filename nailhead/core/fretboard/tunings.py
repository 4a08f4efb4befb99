"""The tunings: one row each, written as players write them, last string first (handbook §2).

A small letter is the high drone string. `homes_major` and `homes_minor` are the shape keys that lie
under the hand with the tonic or fifth on open strings (common practice); minor covers every mode
with a minor third, which an open major third in the tuning would contradict.
"""

from __future__ import annotations

from dataclasses import dataclass

from nailhead.core.errors import SetupError
from nailhead.core.music.key import Key
from nailhead.core.music.pitch import Pitch, PitchClass, parse_pitch, parse_pitch_class


@dataclass(frozen=True, slots=True)
class Tuning:
    """Open pitches of strings 1 to n before any capo. `id` is the tuning as players write it."""

    id: str
    name: str
    instrument: str
    pitches: tuple[Pitch, ...]
    homes_major: tuple[PitchClass, ...] = ()
    homes_minor: tuple[PitchClass, ...] = ()

    def homes(self, key: Key) -> tuple[PitchClass, ...]:
        """Shape tonics that suit this tuning for a key of that mode."""
        return self.homes_minor if key.minor_third else self.homes_major


def _row(id: str, name: str, instrument: str, pitches: str, major: str, minor: str = "") -> Tuning:
    return Tuning(
        id,
        name,
        instrument,
        tuple(parse_pitch(pitch) for pitch in pitches.split()),
        tuple(parse_pitch_class(home) for home in major.split()),
        tuple(parse_pitch_class(home) for home in minor.split()),
    )


#: id, name, instrument, strings 1 to n, homes of major-third modes, homes of minor-third modes
TUNINGS: dict[str, Tuning] = {
    row.id: row
    for row in (
        _row("gDGBD", "open G", "banjo", "D4 B3 G3 D3 G4", "G"),
        _row("gCGCD", "double C", "banjo", "D4 C4 G3 C3 G4", "C", "C G"),
    )
}


def find_tuning(name: str, instrument: str) -> Tuning:
    """By id ("gDGBD") or name ("open G"); raises SetupError with the tunings there are."""
    rows = tunings_of(instrument)
    for row in rows:
        if name == row.id or name.strip().lower() == row.name.lower():
            return row
    known = ", ".join(f"{row.id} ({row.name})" for row in rows)
    raise SetupError(
        f"There is no tuning “{name}” for the {instrument}.",
        field="tuning",
        remedy=f"Choose one of: {known}.",
    )


def tunings_of(instrument: str) -> tuple[Tuning, ...]:
    """All tunings of an instrument, in the order they are tried."""
    return tuple(row for row in TUNINGS.values() if row.instrument == instrument)
