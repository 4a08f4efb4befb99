"""Brings a tune and a setup together: the sounding key, the octave, the capo, the drone string."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, replace
from fractions import Fraction

from nailhead.core.errors import FitError, SetupError
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.setup import Place, Setup, default_drone
from nailhead.core.fretboard.tunings import Tuning
from nailhead.core.music.key import Key, move_key, parse_key, spell
from nailhead.core.music.pitch import COMMA_CENTS, Pitch
from nailhead.core.music.transpose import transpose_tune
from nailhead.core.music.tune import Tune

#: Octaves tried: pipes and whistles stand high, singers low.
OCTAVES = (0, -1, 1, -2, 2)
#: Highest fret up to which a melody lies easily, and the share of its notes that may be folded by an octave for that.
EASY, LONE = 9, 0.04
#: In frets: what a note of the melody costs where the thumb should be.
LOW = 8


@dataclass(frozen=True, slots=True)
class Wish:
    """What the teacher has decided; None leaves the choice open. `key` is the sounding key ("A" or "Am").

    `strings` are those the melody may use, for a way of playing that keeps to some; () means all of them. `aloft` are
    those it had better lie on, where the thumb has the others.
    """

    tuning: str | None = None
    capo: int | None = None
    fifth: Pitch | None = None
    key: str | None = None
    strings: tuple[int, ...] = ()
    aloft: tuple[int, ...] = ()


@dataclass(frozen=True)
class Fit:
    """A tune on a setup. `tune` is at sounding pitch; `shape_fifths` leads from sounding to shape names.

    `semitones` is how far the tune was moved; `remarks` say in words what was chosen and why.
    """

    setup: Setup
    tune: Tune
    semitones: int
    shape_key: Key
    shape_fifths: int
    remarks: tuple[str, ...] = ()

    @property
    def sounding_key(self) -> Key:
        return self.tune.key


def fit_tune(tune: Tune, instrument: Instrument, wish: Wish) -> Fit:
    """The first setup that grants the wish and holds every melody note; raises FitError when none does.

    Tried in this order: setups whose shape key is at home in the tuning, at the wanted key; any setup at
    that key; then, if no key was asked for, the nearest keys. Within a setup the octave with the lowest
    frets is taken.
    """
    wanted = _wanted_semitones(tune, wish)
    if wish.tuning:
        tunings: tuple[Tuning, ...] = (named_tuning(tune, instrument, wish.tuning),)
    else:
        tunings = tuple(row for row in instrument.tunings if row.usual)
    for semitones in _moves(wanted, wish):
        key = move_key(tune.key, semitones % 12)[0]
        for home in (True, False):
            for setup in _setups(instrument, tunings, key, wish, home):
                if (fit := try_octaves(tune, setup, semitones, wish.strings, aloft=wish.aloft)) is not None:
                    return _explained(fit, wish, semitones - wanted)
    raise _misfit(tune, instrument, tunings, wish, wanted)


def named_tuning(tune: Tune, instrument: Instrument, name: str) -> Tuning:
    """A tuning by its name. Where notes have places by name, one that is moved is spelled as the tune would be."""
    found = instrument.tuning(name)
    if not found.moved or not instrument.commas:
        return found
    return instrument.tuning(name, fifths=move_key(tune.key, found.moved % 12)[1])


def _wanted_semitones(tune: Tune, wish: Wish) -> int:
    if wish.key is None:
        return 0
    key = parse_key(wish.key)
    if wish.key.strip()[1:].lstrip("#b♯♭") and key.mode != tune.key.mode:
        raise SetupError(
            f"The tune is in a {tune.key.mode} mode and cannot sound in {key}.",
            field="key",
            remedy=f"Ask for the tonic alone: {key.tonic}.",
        )
    up = (key.tonic.semitone - tune.key.tonic.semitone) % 12
    return up if up <= 6 else up - 12


def _moves(wanted: int, wish: Wish) -> Iterator[int]:
    yield wanted
    if wish.key is None:
        for distance in range(1, 7):
            yield from (wanted - distance, wanted + distance)


def _setups(instrument: Instrument, tunings: tuple[Tuning, ...], key: Key, wish: Wish, home: bool) -> Iterator[Setup]:
    capos = instrument.capos if wish.capo is None else (wish.capo,)
    for capo in capos:
        for tuning in tunings:
            setup = Setup(instrument, tuning, capo, wish.fifth or default_drone(tuning, instrument, key, capo))
            shape = (key.tonic.semitone - setup.raised) % 12
            if any(tonic.semitone == shape for tonic in tuning.homes(key, capo)) == home:
                yield setup


def try_octaves(
    tune: Tune,
    setup: Setup,
    semitones: int,
    strings: tuple[int, ...] = (),
    octaves: tuple[int, ...] = OCTAVES,
    aloft: tuple[int, ...] = (),
) -> Fit | None:
    """The tune so many semitones away, in the octave where it lies lowest on the setup; None where it does not fit.

    A note that lies below the strings `aloft` counts like one that is so many frets up.
    """
    best: tuple[Fraction, int] | None = None
    heard = set(tune.pitches)
    if setup.instrument.commas:
        # Notes have places by name, so each octave and key is spelled out before it is looked for.
        return _try_by_name(tune, setup, semitones, strings, octaves)
    cents = {pitch.cents for pitch in heard}
    bounds = melody_bounds(setup, aloft)
    for octave in octaves:
        moved = semitones + 12 * octave
        frets = [_lowest_fret(setup, pitch + 100 * moved, strings) for pitch in cents]
        if None not in frets:
            height = Fraction(sum(fret for fret in frets if fret is not None))
            height += LOW * sum(pitch + 100 * moved < bound for pitch in cents for bound in bounds)
            if best is None or height < best[0]:
                best = (height, moved)
    whole = _fit(setup, transpose_tune(tune, best[1]), best[1]) if best else None
    if whole and _top_fret(whole, strings) <= EASY:
        return whole
    return _folded(tune, setup, semitones, strings, octaves) or whole


def melody_bounds(setup: Setup, aloft: tuple[int, ...]) -> tuple[Fraction, ...]:
    """Heights in cents below which a melody leaves the strings it had better lie on, and below which the next one too,
    so that no bass is left; () where it may lie anywhere.
    """
    if not aloft:
        return ()
    lowest, below = min(setup.string(number).open_cents for number in aloft), max(aloft) + 1
    if below >= setup.instrument.strings:
        return (lowest,)
    return (lowest, min(lowest, setup.string(below).open_cents))


def _top_fret(fit: Fit, strings: tuple[int, ...]) -> int:
    frets = [_lowest_fret(fit.setup, cents, strings) for cents in {pitch.cents for pitch in fit.tune.pitches}]
    return max(fret for fret in frets if fret is not None)


def _folded(tune: Tune, setup: Setup, semitones: int, strings: tuple[int, ...], octaves: tuple[int, ...]) -> Fit | None:
    """The tune with a few outliers an octave nearer to the rest; None where that does not bring it within easy frets.

    Better so than to carry the whole tune up the neck for them (common practice).
    """
    heard = Counter(tune.pitches)
    best: tuple[int, int, dict[Pitch, int]] | None = None
    for octave in octaves:
        moved, folds, height = semitones + 12 * octave, {}, 0
        for pitch in heard:
            options = [
                (_lowest_fret(setup, pitch.cents + 100 * moved + 1200 * fold, strings), fold) for fold in (0, 1, -1)
            ]
            found = [(abs(fold), fret, fold) for fret, fold in options if fret is not None and fret <= EASY]
            if not found:
                break
            _, fret, fold = min(found)
            height += fret
            if fold:
                folds[pitch] = fold
        else:
            away = sum(heard[pitch] for pitch in folds)
            if away <= LONE * heard.total() and (best is None or (away, height) < best[:2]):
                best = (away, height, folds)
                chosen = moved
    if best is None:
        return None
    away, _, folds = best
    bars = tuple(
        replace(
            bar,
            events=tuple(
                replace(event, pitch=replace(event.pitch, octave=event.pitch.octave + folds[event.pitch]))
                if event.pitch in folds
                else event
                for event in bar.events
            ),
        )
        for bar in tune.bars
    )
    fit = _fit(setup, transpose_tune(replace(tune, bars=bars), chosen), chosen)
    notes = "One note lies" if away == 1 else f"{away} notes lie"
    ways = " and ".join(sorted({"higher" if fold > 0 else "lower" for fold in folds.values()}))
    return replace(
        fit, remarks=(f"{notes} far from the rest and {'is' if away == 1 else 'are'} played an octave {ways}.",)
    )


def _try_by_name(
    tune: Tune, setup: Setup, semitones: int, strings: tuple[int, ...], octaves: tuple[int, ...]
) -> Fit | None:
    best: tuple[int, int, Tune] | None = None
    for octave in octaves:
        moved = transpose_tune(tune, semitones + 12 * octave)
        frets = [_lowest_fret(setup, setup.cents_of(pitch), strings) for pitch in set(moved.pitches)]
        if None not in frets:
            height = sum(fret for fret in frets if fret is not None)
            if best is None or height < best[0]:
                best = (height, semitones + 12 * octave, moved)
    return _fit(setup, best[2], best[1]) if best else None


def _fit(setup: Setup, sounding: Tune, semitones: int) -> Fit:
    shape_key, fifths = move_key(sounding.key, -setup.raised % 12)
    return Fit(setup, sounding, semitones, shape_key, fifths)


def _lowest_fret(setup: Setup, cents: Fraction, strings: tuple[int, ...]) -> int | None:
    places = setup.places(cents)
    return min((place.fret for place in places if not strings or place.string in strings), default=None)


def _explained(fit: Fit, wish: Wish, off: int) -> Fit:
    remarks = []
    if wish.tuning is None or wish.capo is None:
        remarks.append(f"Chosen: {fit.setup.label}.")
    if off:
        remarks.append(f"The tune does not fit at its own key; {fit.sounding_key} is the nearest, {_moved_words(off)}.")
    octaves = (fit.semitones - off) // 12 if wish.key is None else 0
    if octaves:
        remarks.append(f"Played {_octave_words(octaves)} than written.")
    remarks += fit.remarks
    remarks.append(f"Plays {fit.shape_key}, sounds {fit.sounding_key}.")
    return replace(fit, remarks=tuple(remarks))


def _moved_words(semitones: int) -> str:
    count = abs(semitones)
    return f"{count} semitone{'s' * (count > 1)} {'higher' if semitones > 0 else 'lower'}"


def _octave_words(octaves: int) -> str:
    count = {1: "an octave", 2: "two octaves"}[abs(octaves)]
    return f"{count} {'higher' if octaves > 0 else 'lower'}"


def _misfit(tune: Tune, instrument: Instrument, tunings: tuple[Tuning, ...], wish: Wish, wanted: int) -> FitError:
    """Why nothing fits: notes between the frets, or a range that no octave of the setup holds."""
    key = move_key(tune.key, wanted % 12)[0]
    setup = next(s for home in (True, False) for s in _setups(instrument, tunings, key, wish, home))
    heard = transpose_tune(tune, wanted)
    low, high = heard.range
    between = missing_notes(heard, setup, wish.strings)
    if between:
        said = f"The {instrument.name.lower()} has no fret for {', '.join(between)} in {setup.tuning.name}"
        where = f" on string {wish.strings[0]}" if len(wish.strings) == 1 else ""
        return FitError(
            f"{said}{where}.",
            lowest=between[0],
            highest=between[-1],
            remedy="Choose another key, tuning or instrument.",
        )
    strings = [string for string in setup.strings if not string.drone and string.number in (wish.strings or range(99))]
    bottom = min(string.open_cents for string in strings)
    top = max(string.open_cents + instrument.fret_cents[-1] - instrument.fret_cents[setup.capo] for string in strings)
    capo = f" with capo {setup.capo}" if instrument.highest_capo else ""
    return FitError(
        f"The tune does not fit: it goes from {low} to {high}, lowest note {low}; {setup.tuning.name}{capo} holds "
        f"{spell(bottom, key)} to {spell(top, key)}.",
        lowest=str(low),
        highest=str(high),
        remedy="Choose another key, tuning or capo.",
    )


def missing_notes(heard: Tune, setup: Setup, strings: tuple[int, ...]) -> tuple[str, ...]:
    """Names of notes that lie between the frets in every octave, lowest first."""
    octave = setup.cents_of(Pitch("A", 0, 5)) - setup.cents_of(Pitch("A", 0, 4))
    there = {
        setup.sounding_cents(Place(string.number, fret)) % octave
        for string in setup.strings
        if not string.drone and string.number in (strings or range(99))
        for fret in range(string.last_fret + 1)
    }
    if setup.instrument.fingered:
        there |= {(cents + off) % octave for cents in there for off in (-COMMA_CENTS, COMMA_CENTS)}
    ordered = sorted(set(heard.pitches), key=setup.cents_of)
    return tuple(dict.fromkeys(pitch.name for pitch in ordered if setup.cents_of(pitch) % octave not in there))
