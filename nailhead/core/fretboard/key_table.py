"""The key table of an instrument: for each sounding key, how each tuning reaches it, easiest first."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.setup import Place, Setup, default_drone
from nailhead.core.fretboard.tunings import Tuning, base_id, tuning_moved
from nailhead.core.fretboard.weighing import COSTS, capo_points
from nailhead.core.music.key import Key, move_key
from nailhead.core.music.pitch import Pitch, PitchClass

#: Ways that a cell holds; more would not be read.
MOST_WAYS = 3


@dataclass(frozen=True, slots=True)
class KeyWay:
    """A way into a key: what the hands play, the fifth string, where the tonic lies.

    `tuning` may be moved as a whole. `tonic` is told where frets are uneven ("string 1 fret 3"), "" elsewhere.
    """

    tuning: Tuning
    capo: int
    shape: Key
    fifth: Pitch | None
    hook_fret: int | None
    tonic: str
    cost: int


@dataclass(frozen=True, slots=True)
class KeyRow:
    """A sounding key, and for each tuning its ways, easiest first; () where none is good."""

    key: Key
    ways: tuple[tuple[KeyWay, ...], ...]


def key_table(
    instrument: Instrument, mode: str, tunings: Sequence[Tuning], highest_capo: int | None = None
) -> tuple[KeyRow, ...]:
    """All twelve keys of a mode, from C up."""
    highest = instrument.highest_capo if highest_capo is None else highest_capo
    tonic = Key(PitchClass("C"), mode)
    keys = [move_key(tonic, semitones)[0] for semitones in range(12)]
    return tuple(
        KeyRow(key, tuple(tuple(_ways(instrument, tuning, key, highest))[:MOST_WAYS] for tuning in tunings))
        for key in keys
    )


def _ways(instrument: Instrument, tuning: Tuning, key: Key, highest: int) -> list[KeyWay]:
    found = [_way(*way, key) for way in _tried(instrument, tuning, highest)]
    return sorted((way for way in found if way), key=lambda way: (way.cost, way.capo, -way.tuning.moved))


def _tried(instrument: Instrument, tuning: Tuning, highest: int) -> Iterator[tuple[Instrument, Tuning, int, int]]:
    """Every capo, and the whole instrument moved without one: (instrument, tuning, capo, cost)."""
    if instrument.relative:
        low, high = instrument.whole
        yield from ((instrument, tuning_moved(tuning, moved), 0, abs(moved)) for moved in range(low, high + 1))
        return
    if tuning.any_key:
        yield instrument, tuning, 0, 0
        return
    capos = [capo for capo in instrument.capos if capo <= highest]
    yield from ((instrument, tuning, capo, capo_points(instrument, capo)) for capo in capos)
    for down in range(1, -instrument.whole[0] + 1):
        yield instrument, tuning_moved(tuning, -down), 0, COSTS["tuned down"] * (down + 1)


def _way(instrument: Instrument, tuning: Tuning, capo: int, cost: int, key: Key) -> KeyWay | None:
    """None where the shape key is not at home; on a saz where the written tonic is not the usual one."""
    fifth = default_drone(tuning, instrument, key, capo)
    setup = Setup(instrument, tuning, capo, fifth)
    shape = move_key(key, -setup.raised % 12)[0]
    homes = (instrument.written_tonic,) if instrument.written_tonic else tuning.homes(shape, capo)
    second = not capo and tuning.second_home(shape)
    if not second and not any(tonic.semitone == shape.tonic.semitone for tonic in homes):
        return None
    cost += COSTS["second home"] * second
    return KeyWay(tuning, capo, shape, fifth, setup.hook_fret, _tonic_place(setup, shape), cost)


_OCTAVE_CENTS = 1200


def _tonic_place(setup: Setup, shape: Key) -> str:
    """Where the shape's tonic lies, told only where frets are uneven: on a dulcimer on the melody string."""
    instrument = setup.instrument
    if not instrument.fret_names and not instrument.commas:
        return ""
    raised = 100 * instrument.capo_semitones(setup.capo)
    wanted = (instrument.cents_of(Pitch(shape.tonic.step, shape.tonic.alter, 4)) + raised) % _OCTAVE_CENTS
    named = replace(setup, tuning=instrument.tuning(base_id(setup.tuning)))
    strings = named.strings[:1] if instrument.fret_names else named.strings
    places = [
        (fret, string.number)
        for string in strings
        for fret in range(string.last_fret + 1)
        if named.sounding_cents(Place(string.number, fret)) % _OCTAVE_CENTS == wanted
    ]
    if not places:
        return ""
    fret, number = min(places)
    return f"string {number} open" if fret == 0 else f"string {number} fret {setup.fret_name(fret)}"
