"""Kick-off and ending: four bars before the tune at its tempo, four behind it (handbook §7), as tunes of their own."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from nailhead.core.fretboard.setup import Setup
from nailhead.core.music.chord import Chord
from nailhead.core.music.clock import clock_of
from nailhead.core.music.key import Key, spell
from nailhead.core.music.metre import ZERO, Metre, Time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.tune import Bar, ChordAt, Event, Tune

#: Bars of scale degrees (1 to 7 above the tonic, 0 the seventh below it), spread evenly over the bar, and whether the
#: chord is the tonic or the one that leads to it. Common practice: the kick-off states the beat on the tonic and turns
#: away once, the ending comes home twice.
HOME, AWAY = "home", "away"
Rows = tuple[tuple[tuple[int, ...], str], ...]
KICK_OFF: Rows = (((1,), HOME), ((3, 5), HOME), ((2, 0), AWAY), ((1,), HOME))
ENDING: Rows = (((5, 4), AWAY), ((3, 1), HOME), ((2, 0), AWAY), ((1,), HOME))


def kick_off(tune: Tune, setup: Setup) -> Tune:
    """Four bars into the tune; the last one leaves room for its pickup, so that the count goes on unbroken."""
    first = tune.bars[0]
    spare = first.metre.length - first.length if tune.has_pickup else ZERO
    made = _bars(tune, KICK_OFF, setup)
    if tune.has_pickup and spare > 0:
        made[-1] = _shortened(made[-1], spare)
    return replace(tune, title="Kick-off", bars=tuple(made), order="")


def ending(tune: Tune, setup: Setup) -> Tune:
    """Four bars behind the tune; the last rings out.

    Where the tune's last bar is short by its pickup, the ending begins with those beats, on the note it leads from.
    """
    made = _bars(tune, ENDING, setup)
    made[-1] = replace(made[-1], barline="final")
    last = tune.bars[-1]
    missing = last.metre.length - last.length
    if tune.has_pickup and not last.metre.free and missing > 0:
        lead = Event(ZERO, missing, made[0].events[0].pitch)
        made.insert(0, Bar(0, last.metre, tune.key, (lead,), (ChordAt(ZERO, _chord(tune.key, HOME)),)))
    return replace(tune, title="Ending", bars=tuple(made), order="")


def _chord(key: Key, where: str) -> Chord:
    """The tonic's chord, or the one that leads to it.

    That is the dominant where the seventh is a leading note, else the flat seventh (handbook §7, Mixolydian tunes).
    """
    tonic = Fraction(100 * key.tonic.semitone)
    if where == HOME:
        return Chord(key.tonic, "m" if key.minor_third else "")
    leading = (key.scale[6] - key.tonic.semitone) % 12 == 11
    return Chord(_degree(key, tonic, 5 if leading else 7).pitch_class)


def _main_metre(tune: Tune) -> Metre:
    return tune.bars[-1].metre if not tune.bars[-1].metre.free else tune.metre


def _bars(tune: Tune, rows: Rows, setup: Setup) -> list[Bar]:
    key, metre = tune.key, _main_metre(tune)
    neck = frozenset(setup.reachable)
    tonic = _tonic_near(tune, key)
    clock = clock_of(metre)
    starts = [clock.count * sum(clock.groups[:place]) for place in range(len(clock.groups))]
    bars = []
    for number, (degrees, where) in enumerate(rows, start=1):
        places = _spread(len(degrees), len(starts))
        onsets = [starts[place] for place in places]
        ends = [*onsets[1:], metre.length]
        events = tuple(
            Event(onset, end - onset, _on_neck(_degree(key, tonic, degree), key, neck))
            for onset, end, degree in zip(onsets, ends, degrees, strict=False)
        )
        bars.append(Bar(number, metre, key, events, (ChordAt(ZERO, _chord(key, where)),)))
    return bars


def _spread(notes: int, groups: int) -> list[int]:
    """The groups on which so many notes begin: evenly over the bar, or as many as there are."""
    return sorted({groups * note // notes for note in range(notes)})


def _tonic_near(tune: Tune, key: Key) -> Fraction:
    """The tonic's height nearest below the middle of the melody, so that the frame lies where the tune does."""
    low, high = tune.range
    middle = (low.cents + high.cents) / 2
    height = Fraction(100 * key.tonic.semitone)
    highest = max(middle, low.cents + 1199)
    return max(height + 1200 * octave for octave in range(-1, 12) if height + 1200 * octave <= highest)


def _degree(key: Key, tonic: Fraction, degree: int) -> Pitch:
    scale = key.scale
    octave, place = divmod(degree - 1, 7)
    above = (scale[place] - key.tonic.semitone) % 12
    return spell(tonic + 1200 * octave + 100 * above, key)


def _on_neck(pitch: Pitch, key: Key, neck: frozenset[Fraction]) -> Pitch:
    """The pitch, or the next octave of it that the neck has."""
    heights = (pitch.cents + 1200 * octave for octave in (0, 1, -1, 2))
    return next((spell(height, key) for height in heights if height in neck), pitch)


def _shortened(bar: Bar, length: Time) -> Bar:
    """The bar cut to a length: later notes fall away, the last one ends there."""
    events = [
        replace(event, duration=min(event.end, length) - event.onset) for event in bar.events if event.onset < length
    ]
    return replace(bar, events=tuple(events))
