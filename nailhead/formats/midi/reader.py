"""Reads Standard MIDI Files of type 0 and 1 (through mido): the tracks, and one of them as a melody in bars."""

from __future__ import annotations

import contextlib
import io
import re
from dataclasses import dataclass, field, replace
from fractions import Fraction

import mido

from nailhead.core.errors import NailheadError
from nailhead.core.music.key import Key, parse_key
from nailhead.core.music.keyfinding import key_warning
from nailhead.core.music.metre import Metre, Time, make_metre
from nailhead.core.music.quantise import PlayedNote, TimeGrid, guess_bars, guess_grid, single_line, write_out
from nailhead.core.music.tune import Tempo, Tune

#: Bytes of a file; an hour of one keyboard has about 200 kB.
MOST_BYTES = 2_000_000
_MOST_NOTES = 50_000
_DRUMS = 9
#: Ticks of silence or sound that nothing real has: about a day at the slowest tempo.
_MOST_WHOLE_NOTES = 20_000
_COMMA_BEND = Fraction(12, 53)


class MidiError(NailheadError):
    """A file that is no MIDI file, or has no melody that can be read."""

    def __init__(self, message: str, *, remedy: str = "", field: str = "file") -> None:
        super().__init__(message, field=field, remedy=remedy)


@dataclass(frozen=True, slots=True)
class MidiTrack:
    """The notes of one channel of one track, with what a teacher recognises it by."""

    index: int
    name: str
    channel: int
    notes: tuple[PlayedNote, ...]
    together: int

    @property
    def drums(self) -> bool:
        return self.channel == _DRUMS


@dataclass(frozen=True, slots=True)
class MidiFile:
    """A file opened: its tracks that hold notes, and what it says of metre, key and tempo (None: nothing)."""

    title: str
    tracks: tuple[MidiTrack, ...]
    metre: Metre | None
    key: Key | None
    tempo: Tempo | None
    notices: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class MidiChoices:
    """What the teacher decides; None leaves it to a guess."""

    track: int | None = None
    grid: TimeGrid | None = None
    metre: Metre | None = None
    pickup: Time | None = None
    key: Key | None = None


@dataclass(frozen=True, slots=True)
class MidiReading:
    """The tune, the choices as they were taken, which of them were guessed, and what was left out."""

    tune: Tune
    choices: MidiChoices
    guessed: tuple[str, ...]
    notices: tuple[str, ...]


def open_midi(raw: bytes) -> MidiFile:
    """The tracks of a file; raises MidiError."""
    if len(raw) > MOST_BYTES:
        raise MidiError(f"The MIDI file holds more than {MOST_BYTES // 1_000_000} MB.", remedy="Save the tune alone.")
    try:
        file = mido.MidiFile(file=io.BytesIO(raw), clip=True)
        ticks = file.ticks_per_beat * 4
        if file.type == 2 or not 0 < file.ticks_per_beat < 0x8000:
            raise MidiError("MIDI files of type 2 or in film time are not read.", remedy="Save it as type 0 or 1.")
        return _sort_out(file, ticks)
    except MidiError:
        raise
    except Exception as error:
        # mido has no error class of its own for damaged files: EOFError, OSError, ValueError, KeyError and others come.
        raise MidiError("The MIDI file is damaged or no MIDI file.", remedy="Export it again.") from error


@dataclass(slots=True)
class _Collected:
    """What is gathered while the messages go by."""

    notes: dict[tuple[int, int], list[PlayedNote]] = field(default_factory=dict)
    words: list[tuple[Time, str]] = field(default_factory=list)
    names: dict[int, str] = field(default_factory=dict)
    metres: list[Metre] = field(default_factory=list)
    keys: list[str] = field(default_factory=list)
    tempos: list[int] = field(default_factory=list)
    notices: list[str] = field(default_factory=list)


def _sort_out(file: mido.MidiFile, ticks: int) -> MidiFile:
    found = _Collected()
    for index, track in enumerate(file.tracks):
        _collect(found, index, track, ticks)
    if sum(map(len, found.notes.values())) > _MOST_NOTES:
        raise MidiError(f"The file has more than {_MOST_NOTES} notes.", remedy="Save the tune alone.")
    tracks = tuple(
        MidiTrack(place, found.names.get(index, ""), channel, _with_words(notes, found.words), _together(notes))
        for place, ((index, channel), notes) in enumerate(sorted(found.notes.items()))
    )
    if not tracks:
        raise MidiError("The MIDI file has no notes.", remedy="Choose another file.")
    if len(set(found.metres)) > 1:
        found.notices.append("The metre changes in the file; the first one is used throughout.")
    if len(found.tempos) > 1:
        found.notices.append("Changes of tempo are left out; the first tempo is kept.")
    bpm = round(60_000_000 / found.tempos[0]) if found.tempos and found.tempos[0] else 0
    return MidiFile(
        found.names.get(0, "") or found.names.get(1, ""),
        tracks,
        found.metres[0] if found.metres else None,
        _key(found.keys[0]) if found.keys else None,
        Tempo(Fraction(1, 4), bpm) if 0 < bpm < 1000 else None,
        tuple(found.notices),
    )


def _key(text: str) -> Key | None:
    try:
        return parse_key(text)
    except NailheadError:
        return None


def _collect(found: _Collected, index: int, track: mido.MidiTrack, ticks: int) -> None:
    at = 0
    sounding: dict[tuple[int, int], tuple[Time, int | Fraction]] = {}
    bends: dict[int, int | Fraction] = {}
    for message in track:
        at += message.time
        now = Fraction(at, ticks)
        if now > _MOST_WHOLE_NOTES:
            raise MidiError("The MIDI file claims to last for days.", remedy="Export it again.")
        if message.type in ("note_on", "note_off"):
            place = (message.channel, message.note)
            if place in sounding:
                _end_note(found, index, place, *sounding.pop(place), now)
            if message.type == "note_on" and message.velocity:
                sounding[place] = (now, bends.get(message.channel, 0))
        elif message.type == "pitchwheel":
            bends[message.channel] = _commas(found, message.pitch)
        elif message.is_meta:
            _take_meta(found, index, message, now)
    for place, (start, bend) in sounding.items():
        _end_note(found, index, place, start, bend, Fraction(at, ticks))


def _end_note(
    found: _Collected, index: int, place: tuple[int, int], start: Time, bend: int | Fraction, end: Time
) -> None:
    if end > start:
        found.notes.setdefault((index, place[0]), []).append(PlayedNote(start, end, place[1], bend))


def _commas(found: _Collected, wheel: int) -> int | Fraction:
    """A bend as whole commas; 0, with a notice, for what is no comma."""
    commas = Fraction(wheel, 4096) / _COMMA_BEND
    if wheel and (abs(commas - round(commas)) > Fraction(1, 20) or round(commas) == 0 or abs(commas) > 8):
        notice = "Pitch bends that are no whole number of commas are left out."
        found.notices += [notice] * (notice not in found.notices)
        return 0
    return round(commas)


def _take_meta(found: _Collected, index: int, message: mido.MetaMessage, now: Time) -> None:
    if message.type == "track_name" and message.name.strip():
        found.names.setdefault(index, _as_text(message.name))
    elif message.type == "time_signature":
        found.metres.append(make_metre(message.numerator, message.denominator))
    elif message.type == "key_signature":
        found.keys.append(message.key)
    elif message.type == "set_tempo" and (not found.tempos or found.tempos[-1] != message.tempo):
        found.tempos.append(message.tempo)
    elif message.type == "lyrics":
        found.words.append((now, _as_text(message.text)))


def _as_text(text: str) -> str:
    """mido reads texts as Latin-1; most files are UTF-8 nowadays."""
    with contextlib.suppress(UnicodeError):
        text = text.encode("latin-1").decode("utf-8")
    return re.sub(r"[\x00-\x1f]", " ", text).strip()[:200]


def _with_words(notes: list[PlayedNote], words: list[tuple[Time, str]]) -> tuple[PlayedNote, ...]:
    by_onset = {onset: re.sub(r"^[/\\]+", "", word).strip() for onset, word in words}
    ordered = sorted(notes, key=lambda note: (note.onset, -note.midi))
    return tuple(replace(note, word=by_onset.get(note.onset, "")) for note in ordered)


def _together(notes: list[PlayedNote]) -> int:
    """How many notes begin while another one sounds."""
    ordered = sorted(notes, key=lambda note: note.onset)
    reach, count = Fraction(-1), 0
    for note in ordered:
        count += note.onset < reach
        reach = max(reach, note.end)
    return count


def melody_track(tracks: tuple[MidiTrack, ...]) -> int:
    """The likeliest melody: named so, else no drums, mostly single notes, high, and enough of them."""

    def merit(track: MidiTrack) -> tuple[bool, bool, bool, float, int]:
        named = bool(re.search(r"melod|lead|vocal|voice|fiddle|flute|tune", track.name, re.I))
        single = track.together * 4 <= len(track.notes)
        height = sum(note.midi for note in track.notes) / len(track.notes)
        return not track.drums, named, single and len(track.notes) >= 8, height, -track.index

    return max(tracks, key=merit).index


def read_midi(file: MidiFile, choices: MidiChoices, title: str = "") -> MidiReading:
    """One track as a melody; raises MidiError or TuneError where the choices do not work."""
    index = choices.track if choices.track is not None else melody_track(file.tracks)
    if not 0 <= index < len(file.tracks):
        raise MidiError(f"There is no track {index + 1}.", field="track", remedy=f"Choose 1 to {len(file.tracks)}.")
    track = file.tracks[index]
    grid = choices.grid or guess_grid(track.notes)
    line = single_line(track.notes, grid)
    metre = choices.metre or file.metre
    found_metre, found_pickup = guess_bars(line, metre)
    pickup = choices.pickup if choices.pickup is not None else found_pickup
    named = title or file.title or track.name or "Untitled"
    tune, key = write_out(line, title=named, metre=found_metre, pickup=pickup, key=choices.key or file.key)
    if not choices.key and file.key and key_warning(tune):
        # Many programs write C major into every file; the melody knows better.
        tune, key = write_out(line, title=named, metre=found_metre, pickup=pickup)
    guessed = {
        "track": choices.track is None and len(file.tracks) > 1,
        "grid": choices.grid is None,
        "metre": metre is None,
        "pickup": choices.pickup is None,
        "key": choices.key is None and key != file.key,
    }
    notices = list(file.notices)
    if len(file.tracks) > 1:
        notices.append(f"Only track {index + 1} of {len(file.tracks)} is read.")
    if len(line) < len(track.notes):
        notices.append(f"{len(track.notes) - len(line)} notes under the melody are left out.")
    return MidiReading(
        replace(tune, tempo=file.tempo),
        MidiChoices(index, grid, found_metre, pickup, key),
        tuple(name for name, flag in guessed.items() if flag),
        tuple(notices),
    )
