"""An arrangement as MIDI: one track and one channel for each string, swing and count-in as they are played."""

from __future__ import annotations

import io
from collections.abc import Sequence
from math import log2

import mido

from nailhead.core.fretboard.setup import Setup
from nailhead.core.sound.playing import Pace, PlayedBar, Tone, starts_of, tones_of

#: Ticks of a quarter note.
TICKS = 960
#: General MIDI programs (numbered from 0) that come nearest; 25 is a guitar with steel strings.
PROGRAMS = {"banjo": 105, "mandolin": 25, "dulcimer": 15, "guitar": 25, "saz": 104, "saz-short": 104}
_NYLON = 24
_DRUMS, _STICK = 9, 37
_LOUDEST = 100
#: A bend of so many steps is two semitones, as synthesisers are set (MIDI 1.0, RPN 0 at its default).
_BEND, _BEND_SEMITONES = 8192, 2


def write_arrangement_midi(measures: Sequence[PlayedBar], setup: Setup, pace: Pace, title: str) -> bytes:
    """A file of format 1. String n plays on channel n (drums left out); pitches between the keys are bent to."""
    quarter = pace.whole / 4
    file = mido.MidiFile(type=1, ticks_per_beat=TICKS, charset="utf-8")
    file.tracks.append(_conductor(measures, pace, title, quarter))
    tones = tones_of(measures, setup, pace)
    for string in range(1, setup.instrument.strings + 1):
        program = PROGRAMS.get(setup.instrument.kind, _NYLON)
        own = [tone for tone in tones if tone.string == string]
        file.tracks.append(_string(own, string, program, quarter))
    if pace.count_in:
        file.tracks.append(_clicks(pace))
    held = io.BytesIO()
    file.save(file=held)
    return held.getvalue()


def _conductor(measures: Sequence[PlayedBar], pace: Pace, title: str, quarter: float) -> mido.MidiTrack:
    """Name, tempo, and the metre wherever it changes."""
    events: list[tuple[int, mido.MetaMessage]] = [(0, mido.MetaMessage("track_name", name=title))]
    events.append((0, mido.MetaMessage("set_tempo", tempo=round(quarter * 1_000_000))))
    last = None
    for measure, start in zip(measures, starts_of(measures, pace), strict=False):
        metre = measure.metre
        if metre != last and not metre.free:
            sign = mido.MetaMessage("time_signature", numerator=metre.beats, denominator=metre.unit)
            events.append((round(start / quarter * TICKS) if last else 0, sign))
        last = metre
    return _track(events)


def _channel(string: int) -> int:
    return string - 1 if string <= _DRUMS else string


def _string(tones: Sequence[Tone], string: int, program: int, quarter: float) -> mido.MidiTrack:
    """A string's notes, each ended before the next begins."""
    channel = _channel(string)
    events: list[tuple[int, mido.Message | mido.MetaMessage]] = [
        (0, mido.MetaMessage("track_name", name=f"String {string}")),
        (0, mido.Message("program_change", channel=channel, program=program)),
    ]
    bent = 0
    for at, tone in enumerate(tones):
        key = 69 + 12 * log2(tone.hertz / 440)
        note = round(key)
        start = round(tone.at / quarter * TICKS)
        end = max(start + 1, round((tone.at + tone.seconds) / quarter * TICKS))
        if at + 1 < len(tones):
            end = min(end, round(tones[at + 1].at / quarter * TICKS))
        bend = round((key - note) / _BEND_SEMITONES * _BEND)
        if bend != bent:
            events.append((start, mido.Message("pitchwheel", channel=channel, pitch=bend)))
            bent = bend
        loud = min(127, round(_LOUDEST * tone.loud))
        events.append((start, mido.Message("note_on", channel=channel, note=note, velocity=loud)))
        events.append((end, mido.Message("note_off", channel=channel, note=note)))
    return _track(events)


def _clicks(pace: Pace) -> mido.MidiTrack:
    beat = round(4 * pace.beat * TICKS)
    events: list[tuple[int, mido.Message | mido.MetaMessage]] = [(0, mido.MetaMessage("track_name", name="Count-in"))]
    for number in range(pace.count_in):
        loud = 110 if number == 0 else 80
        events.append((number * beat, mido.Message("note_on", channel=_DRUMS, note=_STICK, velocity=loud)))
        events.append((number * beat + TICKS // 8, mido.Message("note_off", channel=_DRUMS, note=_STICK)))
    return _track(events)


def _track(events: Sequence[tuple[int, mido.Message | mido.MetaMessage]]) -> mido.MidiTrack:
    """Events at their ticks as a track of differences; what ends comes before what begins."""
    track = mido.MidiTrack()
    now = 0
    for tick, event in sorted(events, key=lambda item: (item[0], item[1].type != "note_off")):
        track.append(event.copy(time=tick - now))
        now = tick
    track.append(mido.MetaMessage("end_of_track", time=0))
    return track
