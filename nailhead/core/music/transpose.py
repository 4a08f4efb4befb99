"""Moves a whole tune: every pitch, key and chord by one interval, spellings kept."""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.music.chord import transpose_chord
from nailhead.core.music.key import Key, move_key, transpose_key
from nailhead.core.music.pitch import transpose
from nailhead.core.music.tune import Bar, ChordAt, Event, Tune


def transpose_tune(tune: Tune, semitones: int) -> Tune:
    """The tune so many semitones higher (negative: lower), in the simplest spelling of the new key."""
    if semitones == 0:
        return tune
    _, fifths = move_key(tune.key, semitones % 12)
    return replace(
        tune,
        key=_move_key(tune.key, fifths),
        bars=tuple(_move_bar(bar, semitones, fifths) for bar in tune.bars),
    )


def _move_key(key: Key, fifths: int) -> Key:
    moved = transpose_key(key, fifths)
    # Accidentals written beside the mode have no simple image in another key; the notes carry their own.
    return key if fifths == 0 else moved


def _move_bar(bar: Bar, semitones: int, fifths: int) -> Bar:
    return replace(
        bar,
        key=_move_key(bar.key, fifths),
        events=tuple(_move_event(event, semitones, fifths) for event in bar.events),
        chords=tuple(ChordAt(entry.onset, transpose_chord(entry.chord, fifths)) for entry in bar.chords),
    )


def _move_event(event: Event, semitones: int, fifths: int) -> Event:
    if event.pitch is None:
        return event
    grace = tuple(transpose(pitch, semitones, fifths) for pitch in event.grace)
    return replace(event, pitch=transpose(event.pitch, semitones, fifths), grace=grace)
