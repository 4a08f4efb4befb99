"""What a planner is asked, and the necks it looks at: tunings and capos with the lowest place of every pitch."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from functools import cached_property

from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.fretboard.tunings import Tuning, find_tuning, tunings_of
from nailhead.core.music.key import Key
from nailhead.core.music.pitch import Pitch

#: Frets from the nut in which a chord tone is looked for.
WITHIN_REACH = 4


@dataclass(frozen=True, slots=True)
class Ask:
    """What is wanted. `key` None asks for the tune's own key, "any" for whichever suits.

    `tunings` are those to choose from (None: all), `current` the one the instrument is in (None: not known, and
    retuning is not counted). `voice` bounds the sounding
    notes, octaves free. `weights` multiply the groups of WEIGHTS, in quarters (4 is as it stands).
    """

    key: str | None = None
    tunings: tuple[str, ...] | None = None
    current: str | None = None
    may_retune: bool = True
    highest_capo: int | None = None
    voice: tuple[Pitch, Pitch] | None = None
    strings: tuple[int, ...] = ()
    drones: tuple[int, ...] = ()
    weights: Mapping[str, int] = field(default_factory=dict)


@dataclass(frozen=True)
class Neck:
    """A tuning with a capo, before the drone string is set: the lowest fret of every pitch on the strings allowed."""

    setup: Setup
    lowest: Mapping[int, int]

    @cached_property
    def pitch_classes(self) -> tuple[tuple[int, ...], ...]:
        """For each string that is no drone, the pitch classes within reach of the nut, fret by fret."""
        frets, capo = self.setup.instrument.fret_cents, self.setup.capo
        return tuple(
            tuple(
                int((string.open_cents + frets[fret + capo] - frets[capo]) // 100) % 12
                for fret in range(min(WITHIN_REACH, string.last_fret) + 1)
            )
            for string in self.setup.strings
            if not string.drone
        )


@dataclass(frozen=True, slots=True)
class Candidate:
    """A neck, where the tune goes on it, and (fret, how often) of its notes at their lowest places."""

    neck: Neck
    setup: Setup
    semitones: int
    moved: int
    key: Key
    frets: tuple[tuple[int, int], ...]


def grain(cents: Fraction) -> int:
    """Cents as a whole number that tells all pitches apart: 53 to the cent."""
    return int(cents * 53)


def necks_of(instrument: Instrument, ask: Ask) -> Iterator[Neck]:
    highest = instrument.highest_capo if ask.highest_capo is None else min(ask.highest_capo, instrument.highest_capo)
    for tuning in allowed_tunings(instrument, ask):
        fifth = tuning.pitches[instrument.short_strings[0][0] - 1] if instrument.short_strings else None
        for capo in range(highest + 1):
            setup = Setup(instrument, tuning, capo, fifth)
            lowest: dict[int, int] = {}
            for string in setup.strings:
                if string.drone or (ask.strings and string.number not in ask.strings):
                    continue
                for fret in range(string.last_fret + 1):
                    place = grain(setup.sounding_cents(Place(string.number, fret)))
                    lowest[place] = min(fret, lowest.get(place, fret))
            yield Neck(setup, lowest)


def allowed_tunings(instrument: Instrument, ask: Ask) -> tuple[Tuning, ...]:
    rows = tunings_of(instrument.id)
    if ask.tunings is not None:
        rows = tuple(find_tuning(name, instrument.id) for name in ask.tunings)
    if not ask.may_retune:
        rows = tuple(row for row in rows if row == current_tuning(instrument, ask))
    return rows


def current_tuning(instrument: Instrument, ask: Ask) -> Tuning:
    return find_tuning(ask.current, instrument.id) if ask.current else tunings_of(instrument.id)[0]
