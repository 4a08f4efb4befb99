"""Writes a melody as a Standard MIDI File of one track (through mido)."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from math import lcm

import mido

from nailhead.core.music.form import read_form
from nailhead.core.music.key import Key
from nailhead.core.music.metre import Metre, Time
from nailhead.core.music.tune import Event, Tune

#: Ticks a quarter note: 480, or what exact odd lengths need up to the format's limit.
_TICKS, _MOST_TICKS = 480, 0x7FFF
_VELOCITY = 84
#: A wheel of 4096 is one semitone where the bend range is the usual two.
_SEMITONE_BEND = 4096


def write_midi(tune: Tune, as_played: bool = True) -> bytes:
    """The melody with repeats and the order of its parts taken, or each written bar once.

    Commas become pitch bends (range two semitones, General MIDI's default). Words of the first verse are lyrics.
    """
    order = read_form(tune).played if as_played else range(len(tune.bars))
    notes = _joined(tune, order)
    ticks = lcm(_TICKS, *((time * 4).denominator for onset, event in notes for time in (onset, event.duration)))
    ticks = ticks if ticks <= _MOST_TICKS else _TICKS
    track = mido.MidiTrack()
    for message in _opening(tune):
        track.append(message)
    _Player(track, 4 * ticks).play(notes)
    track.append(mido.MetaMessage("end_of_track", time=0))
    file = mido.MidiFile(type=0, ticks_per_beat=ticks, charset="utf-8")
    file.tracks.append(track)
    out = io.BytesIO()
    file.save(file=out)
    return out.getvalue()


def _joined(tune: Tune, order: Sequence[int]) -> list[tuple[Time, Event]]:
    """(onset, event) of every note as heard, ties joined, rests left out."""
    notes: list[tuple[Time, Event]] = []
    start = Fraction(0)
    tie: Event | None = None
    for index in order:
        for event in tune.bars[index].events:
            if event.pitch and tie and tie.pitch == event.pitch:
                onset, first = notes[-1]
                notes[-1] = (onset, replace(first, duration=first.duration + event.duration))
            elif event.pitch:
                notes.append((start + event.onset, event))
            tie = event if event.tied else None
        start += tune.bars[index].length
    return notes


def _opening(tune: Tune) -> list[mido.MetaMessage]:
    messages = [mido.MetaMessage("track_name", name=tune.title)]
    if not tune.metre.free:
        messages.append(_metre(tune.metre))
    if signature := _signature(tune.key):
        messages.append(mido.MetaMessage("key_signature", key=signature))
    if tune.tempo:
        quarters = tune.tempo.bpm * tune.tempo.beat * 4
        messages.append(mido.MetaMessage("set_tempo", tempo=min(0xFFFFFF, round(60_000_000 / quarters))))
    return messages


def _metre(metre: Metre) -> mido.MetaMessage:
    return mido.MetaMessage("time_signature", numerator=metre.beats, denominator=metre.unit)


def _signature(key: Key) -> str:
    """The key as MIDI knows it, major or minor with at most seven signs; "" where it has no name there."""
    name = str(key.tonic).replace("♯", "#").replace("♭", "b") + ("m" if key.mode == "minor" else "")
    return name if key.mode in ("major", "minor") and abs(key.fifths) <= 7 else ""


class _Player:
    """Puts notes on a track, each message at its distance from the one before."""

    def __init__(self, track: mido.MidiTrack, ticks_a_whole: int) -> None:
        self.track, self.ticks = track, ticks_a_whole
        self.at = 0
        self.bend = 0

    def play(self, notes: Sequence[tuple[Time, Event]]) -> None:
        for onset, event in notes:
            assert event.pitch is not None
            word = event.words[0] if event.words else ""
            if word and word != "_":
                self._put(onset, mido.MetaMessage("lyrics", text=word))
            bend = round(Fraction(event.pitch.commas) * Fraction(12, 53) * _SEMITONE_BEND)
            if bend != self.bend:
                self._put(onset, mido.Message("pitchwheel", pitch=bend))
                self.bend = bend
            self._put(onset, mido.Message("note_on", note=event.pitch.midi, velocity=_VELOCITY))
            self._put(onset + event.duration, mido.Message("note_off", note=event.pitch.midi, velocity=0))

    def _put(self, time: Time, message: mido.Message) -> None:
        tick = round(time * self.ticks)
        message.time = tick - self.at
        self.at = tick
        self.track.append(message)
