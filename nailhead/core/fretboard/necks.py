"""What a planner is asked, and the necks it looks at: tunings and capos with the lowest place of every pitch."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from functools import cached_property

from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.setup import Setup
from nailhead.core.fretboard.tunings import Tuning, tuning_moved
from nailhead.core.music.key import Key
from nailhead.core.music.pitch import COMMA_CENTS, Pitch

#: Frets from the nut in which a chord tone is looked for.
WITHIN_REACH = 4


@dataclass(frozen=True, slots=True)
class Ask:
    """What is wanted. `key` None asks for the tune's own key, "any" for whichever suits.

    `tunings` are those to choose from (None: all), `current` the one the instrument is in (None: not known, and
    retuning is not counted). `most_down` is how far the whole instrument may be let down, None as far as is usual.
    `voice` bounds the sounding notes, octaves free. `weights` multiply the groups of WEIGHTS, in quarters (4 is
    as it stands). The melody keeps to `strings` and had better lie on those `aloft`.
    `everyday` are the tunings that are not rare for the way of playing, None the instrument's own.
    """

    key: str | None = None
    tunings: tuple[str, ...] | None = None
    current: str | None = None
    may_retune: bool = True
    highest_capo: int | None = None
    most_down: int | None = None
    voice: tuple[Pitch, Pitch] | None = None
    strings: tuple[int, ...] = ()
    drones: tuple[int, ...] = ()
    everyday: tuple[str, ...] | None = None
    weights: Mapping[str, int] = field(default_factory=dict)
    aloft: tuple[int, ...] = ()


@dataclass(frozen=True)
class Neck:
    """A tuning with a capo, before the drone string is set: the lowest fret of every pitch on the strings allowed."""

    setup: Setup
    lowest: Mapping[int, int]

    @cached_property
    def fingers_asked(self) -> tuple[tuple[int, ...], ...]:
        """For each string that is no drone and each pitch class: 0 open, 1 stopped within reach, 2 out of reach."""
        capo = self.setup.capo
        frets = [int(cents // 100) for cents in self.setup.instrument.fret_cents[capo : capo + WITHIN_REACH + 1]]
        rows = []
        for string in self.setup.strings:
            asked, at = [2] * 12, int(string.open_cents // 100) - frets[0]
            for fret in reversed(frets[: string.last_fret + 1]):
                asked[(at + fret) % 12] = int(fret > frets[0])
            if not string.drone:
                rows.append(tuple(asked))
        return tuple(rows)


@dataclass(frozen=True, slots=True)
class NeckChoice:
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
    """Every allowed tuning with every capo, and let down as a whole without one; no set of strings twice. One that is
    asked for as let down already is taken so.
    """
    highest = instrument.highest_capo if ask.highest_capo is None else ask.highest_capo
    capos = [capo for capo in instrument.capos if capo <= highest]
    rows = allowed_tunings(instrument, ask)
    heard = {tuple(pitch.midi for pitch in tuning.pitches) for tuning in instrument.tunings}
    for tuning in rows:
        yield from (_neck(instrument, tuning, capo, ask) for capo in capos)
    for tuning in (row for row in rows if ask.may_retune and not instrument.relative and not row.moved):
        for down in range(1, _most_down(instrument, ask) + 1):
            lower = tuning_moved(tuning, -down)
            if tuple(pitch.midi for pitch in lower.pitches) not in heard:
                yield _neck(instrument, lower, 0, ask)


def _most_down(instrument: Instrument, ask: Ask) -> int:
    usual = -instrument.whole[0]
    return usual if ask.most_down is None else min(ask.most_down, usual)


def _neck(instrument: Instrument, tuning: Tuning, capo: int, ask: Ask) -> Neck:
    fifth = tuning.pitches[instrument.short_strings[0][0] - 1] if instrument.short_strings else None
    setup = Setup(instrument, tuning, capo, fifth)
    # Cents in whole grains: sums of these stand for sums of fractions, and are quick.
    frets = [grain(cents - instrument.fret_cents[capo]) for cents in instrument.fret_cents[capo:]]
    lowest: dict[int, int] = {}
    for string in setup.strings:
        if string.drone or (ask.strings and string.number not in ask.strings):
            continue
        at = grain(string.open_cents)
        for fret in range(string.last_fret + 1):
            place = at + frets[fret]
            if fret < lowest.get(place, fret + 1):
                lowest[place] = fret
    return Neck(setup, _by_name(setup, ask) if instrument.fingered else lowest)


def _by_name(setup: Setup, ask: Ask) -> dict[int, int]:
    """The same where a note may be stopped a comma off."""
    asked = {cents + off for cents in setup.reachable for off in (-COMMA_CENTS, Fraction(0), COMMA_CENTS)}
    places = {
        cents: [place.fret for place in setup.places(cents) if place.string in (ask.strings or (place.string,))]
        for cents in asked
    }
    return {grain(cents): min(frets) for cents, frets in places.items() if frets}


def allowed_tunings(instrument: Instrument, ask: Ask) -> tuple[Tuning, ...]:
    rows = instrument.tunings
    if ask.tunings is not None:
        rows = tuple(instrument.tuning(name, "tunings") for name in ask.tunings)
    if not ask.may_retune:
        current = current_tuning(instrument, ask)
        rows = (current,) if ask.tunings is None or current in rows else ()
    return rows


def current_tuning(instrument: Instrument, ask: Ask) -> Tuning:
    return instrument.tuning(ask.current, "current") if ask.current else instrument.tunings[0]
