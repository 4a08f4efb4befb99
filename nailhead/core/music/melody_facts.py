"""What speaks for and against each note of a melody: the facts that its core is chosen by."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

from nailhead.core.music.pitch import Pitch
from nailhead.core.music.structure import Structure, chord_at
from nailhead.core.music.tune import Event, SoundingNote, Tune, sounding_notes
from nailhead.core.music.windows import Window, beat_windows, ticks_of

#: An interval of so many semitones is a leap: a fourth.
LEAP = 5


@dataclass(frozen=True)
class Note:
    """A melody note with what is known of it. `number` counts all notes of the tune, `place` those of its bar.

    `onset`, within its bar, and `duration` are in ticks.

    `must` is why a note may not be left out of the beats, "" for most, `anchor` whether it may not be left out of the
    bones either; `tied_over` is it over its bar line.
    """

    number: int
    place: int
    bar: int
    onset: int
    duration: int
    pitch: Pitch
    chord_tone: bool
    in_scale: bool
    peak: bool
    trough: bool
    phrase_end: bool
    tied_over: bool
    word: str
    tuplet: bool
    anchor: bool
    must: str

    @property
    def end(self) -> int:
        return self.onset + self.duration

    @cached_property
    def height(self) -> int:
        """Semitones."""
        return self.pitch.midi


@dataclass(frozen=True)
class Facts:
    """The notes of a tune by bar, and the steps between neighbours: `steps[n]` from note n to n + 1.

    `ticks` go to a whole note, `windows` are the beats of each bar, `rests` the stretches of its rests in ticks.
    """

    bars: tuple[tuple[Note, ...], ...]
    steps: tuple[int, ...]
    ticks: int
    windows: tuple[tuple[Window, ...], ...]
    rests: tuple[tuple[tuple[int, int], ...], ...]

    @cached_property
    def notes(self) -> tuple[Note, ...]:
        return tuple(note for bar in self.bars for note in bar)

    def leaps(self, one: Note, other: Note) -> bool:
        """Is there a leap between two notes that the full melody walks through?"""
        between = self.steps[one.number : other.number]
        apart = abs(one.height - other.height)
        return len(between) > 1 and apart >= LEAP and apart > max(between)

    def stands(self, one: Note, other: Note) -> bool:
        """Does the pitch come again although the melody moves in between?"""
        return one.height == other.height and any(self.steps[one.number : other.number])


def read_facts(tune: Tune, structure: Structure) -> Facts:
    """The facts of every note; the tune has chords."""
    ticks, heard = ticks_of(tune), sounding_notes(tune)
    windows = tuple(beat_windows(tune, structure, bar, ticks) for bar in range(len(tune.bars)))
    words = {
        (place, event.onset): _word(event) for place, bar in enumerate(tune.bars) for event in bar.events if event.words
    }
    tuplets = {(place, event.onset) for place, bar in enumerate(tune.bars) for event in bar.events if event.tuplet}
    phrase_of = {bar: phrase for phrase in structure.phrases for bar in range(*phrase)}
    heights: dict[tuple[int, int], list[int]] = {}
    for note in heard:
        heights.setdefault(phrase_of[note.bar], []).append(note.pitch.midi)
    last_of_phrase = {phrase_of[note.bar]: number for number, note in enumerate(heard)}
    bars: list[list[Note]] = [[] for _ in tune.bars]
    for number, note in enumerate(heard):
        bar, phrase = tune.bars[note.bar], phrase_of[note.bar]
        chord = chord_at(structure.harmony[note.bar], note.onset)
        within = heights[phrase]
        onset, duration = int(note.onset * ticks), int(note.duration * ticks)
        on_beat = any(window.start == onset for window in windows[note.bar])
        anchor = _anchor(tune, structure, note, number, heard, on_beat)
        bars[note.bar].append(
            Note(
                number,
                len(bars[note.bar]),
                note.bar,
                onset,
                duration,
                note.pitch,
                chord is None or note.pitch.midi % 12 in chord.tones,
                note.pitch.midi % 12 in bar.key.scale,
                note.pitch.midi == max(within) > min(within),
                note.pitch.midi == min(within) < max(within),
                last_of_phrase[phrase] == number and on_beat,
                note.onset + note.duration > bar.length,
                words.get((note.bar, note.onset), ""),
                (note.bar, note.onset) in tuplets,
                bool(anchor),
                anchor or _fills_its_beat(windows[note.bar], onset, duration),
            )
        )
    steps = (*(abs(one.pitch.midi - other.pitch.midi) for one, other in pairwise(heard)), 0)
    rests = tuple(
        tuple((int(event.onset * ticks), int(event.end * ticks)) for event in bar.events if event.pitch is None)
        for bar in tune.bars
    )
    return Facts(tuple(map(tuple, bars)), steps, ticks, windows, rests)


def _word(event: Event) -> str:
    """The syllable under a note, "" for none and for one that only goes on."""
    return next((word for word in event.words if word.strip("-_ ")), "")


def _anchor(
    tune: Tune, structure: Structure, note: SoundingNote, number: int, heard: Sequence[SoundingNote], on_beat: bool
) -> str:
    """Why a note may not be left out even of the bones. A part's last note off the beat leads on and is none."""
    bar = tune.bars[note.bar]
    if on_beat and (number + 1 == len(heard) or (bar.ends_section and heard[number + 1].bar > note.bar)):
        return "it ends the part"
    if structure.offsets[note.bar] and (number == 0 or heard[number - 1].bar < note.bar):
        return "the pickup begins with it"
    return "it is held over the bar line" if note.onset + note.duration > bar.length else ""


def _fills_its_beat(windows: Sequence[Window], onset: int, duration: int) -> str:
    whole = any(window.start == onset and duration >= window.end - window.start for window in windows)
    return "it fills its beat" if whole else ""
