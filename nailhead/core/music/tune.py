"""The tune: bars of melody events with chords, repeats, endings and a pickup.

Bars are the *written* bars in their order. Bar numbers are how teacher and pupil talk, so each
written bar has its own: a pickup is 0, every other bar counts on from 1.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from fractions import Fraction

from nailhead.core.errors import TuneError
from nailhead.core.music.chord import Chord
from nailhead.core.music.key import Key
from nailhead.core.music.metre import ZERO, Metre, Time
from nailhead.core.music.pitch import Pitch


@dataclass(frozen=True, slots=True)
class Tuplet:
    """`actual` notes in the time of `normal`; `size` written notes belong to the group."""

    actual: int
    normal: int
    size: int


@dataclass(frozen=True, slots=True)
class Event:
    """A melody note, or a rest where `pitch` is None.

    `onset` counts from the start of the bar, `duration` is the sounding length, both as fractions
    of a whole note. `tied` joins the note to the next one of the same pitch. `words` holds one
    syllable a verse ("la-" goes on, "_" holds the last one). `slurs` counts the slurs that open before the
    note and close after it. `remarks` are texts over ("^slow") or under ("_soft") the note.
    """

    onset: Time
    duration: Time
    pitch: Pitch | None = None
    tied: bool = False
    tuplet: Tuplet | None = None
    grace: tuple[Pitch, ...] = ()
    decorations: tuple[str, ...] = ()
    words: tuple[str, ...] = ()
    slurs: tuple[int, int] = (0, 0)
    remarks: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        if self.duration <= 0:
            raise TuneError(f"A note lasts {self.duration}.", field="melody", remedy="Give it a length.")

    @property
    def end(self) -> Time:
        return self.onset + self.duration


@dataclass(frozen=True, slots=True)
class ChordAt:
    """A chord symbol at an onset within its bar."""

    onset: Time
    chord: Chord


@dataclass(frozen=True, slots=True)
class Bar:
    """One written bar. `closes_repeat` is how often the section that ends here is played (0: no repeat).

    `endings` lists the times through on which an ending that begins here is played. `barline` is
    the line at the bar's end: "single", "double" or "final". `new_line` marks the tune's own line break after it.
    """

    number: int
    metre: Metre
    key: Key
    events: tuple[Event, ...] = ()
    chords: tuple[ChordAt, ...] = ()
    part: str = ""
    opens_repeat: bool = False
    closes_repeat: int = 0
    endings: tuple[int, ...] = ()
    barline: str = "single"
    new_line: bool = False

    @property
    def length(self) -> Time:
        """What the bar holds, as a fraction of a whole note."""
        return self.events[-1].end if self.events else ZERO

    @property
    def ends_section(self) -> bool:
        return bool(self.closes_repeat) or self.barline != "single"


@dataclass(frozen=True, slots=True)
class Tempo:
    """So many beats of length `beat` (fraction of a whole note) in a minute."""

    beat: Time
    bpm: int


@dataclass(frozen=True, slots=True)
class Tune:
    """A melody with its form. `unit_length` is the ABC unit note; `order` the parts as played ("AABB").

    `fields` keeps header lines that are not read further, as (letter, text).
    """

    title: str
    key: Key
    metre: Metre
    bars: tuple[Bar, ...]
    unit_length: Time = Fraction(1, 8)
    number: int = 1
    tempo: Tempo | None = None
    order: str = ""
    rhythm: str = ""
    fields: tuple[tuple[str, str], ...] = ()

    def __post_init__(self) -> None:
        if not any(event.pitch for bar in self.bars for event in bar.events):
            raise TuneError("The tune has no notes.", field="melody", remedy="Write at least one bar of notes.")
        for bar in self.bars:
            at = ZERO
            for event in bar.events:
                if event.onset != at:
                    raise TuneError("A note does not begin where the last one ends.", bar=bar.number)
                at = event.end

    @property
    def has_pickup(self) -> bool:
        return self.bars[0].number == 0

    @property
    def has_chords(self) -> bool:
        return any(bar.chords for bar in self.bars)

    @property
    def pitches(self) -> tuple[Pitch, ...]:
        return tuple(event.pitch for bar in self.bars for event in bar.events if event.pitch)

    @property
    def range(self) -> tuple[Pitch, Pitch]:
        """The lowest and the highest note."""
        heard = sorted(set(self.pitches), key=lambda pitch: pitch.cents)
        return heard[0], heard[-1]


@dataclass(frozen=True, slots=True)
class SoundingNote:
    """A melody note as heard: ties joined. `bar` indexes the written bars, `onset` counts within that bar."""

    bar: int
    onset: Time
    duration: Time
    pitch: Pitch


def sounding_notes(tune: Tune) -> tuple[SoundingNote, ...]:
    """The melody with tied notes joined, in written order."""
    notes: list[SoundingNote] = []
    open_tie: Pitch | None = None
    for index, bar in enumerate(tune.bars):
        for event in bar.events:
            if event.pitch and event.pitch == open_tie:
                notes[-1] = replace(notes[-1], duration=notes[-1].duration + event.duration)
            elif event.pitch:
                notes.append(SoundingNote(index, event.onset, event.duration, event.pitch))
            open_tie = event.pitch if event.tied else None
    return tuple(notes)


def held_at_start(bars: tuple[Bar, ...]) -> tuple[bool, ...]:
    """For each written bar: does its first event carry on a tied note from the bar before?"""
    held, open_tie = [], None
    for bar in bars:
        first = bar.events[0] if bar.events else None
        held.append(bool(first and first.pitch and first.pitch == open_tie))
        last = bar.events[-1] if bar.events else None
        open_tie = last.pitch if last and last.tied else None
    return tuple(held)


@dataclass(frozen=True, slots=True)
class BarProblem:
    """A bar that does not fill its metre; `missing` is negative where it holds too much."""

    bar: int
    missing: Time

    @property
    def message(self) -> str:
        amount, word = abs(self.missing), "missing" if self.missing > 0 else "too much"
        return f"Bar {self.bar} does not add up: {amount} of a whole note {word}."


def find_problems(tune: Tune) -> tuple[BarProblem, ...]:
    """Bars that neither fill their metre nor are a pickup or the short bar that a pickup completes."""
    problems = []
    section_start, first_length = 0, tune.bars[0].length
    for index, bar in enumerate(tune.bars):
        starts = index == 0 or tune.bars[index - 1].ends_section or bar.opens_repeat or bool(bar.endings)
        if (index == 0 or tune.bars[index - 1].ends_section or bar.opens_repeat) and not bar.endings:
            section_start, first_length = index, bar.length
        missing = bar.metre.length - bar.length
        if bar.metre.free or missing == 0 or (missing > 0 and starts and index == section_start):
            continue
        following = tune.bars[index + 1] if index + 1 < len(tune.bars) else None
        upbeats = {tune.bars[0].length, first_length} | ({following.length} if following else set())
        closes = following is None or bar.ends_section or following.opens_repeat or bool(following.endings)
        if missing > 0 and closes and missing in upbeats:
            continue
        problems.append(BarProblem(bar.number, missing))
    return tuple(problems)


def number_bars(bars: list[Bar]) -> tuple[Bar, ...]:
    """Number written bars from 1, or from 0 when the first is a pickup (shorter than its metre)."""
    pickup = len(bars) > 1 and not bars[0].metre.free and bars[0].length < bars[0].metre.length
    return tuple(replace(bar, number=index + (0 if pickup else 1)) for index, bar in enumerate(bars))


def performance(bars: tuple[Bar, ...]) -> Iterator[int]:
    """Indices of the written bars in the order they are played, repeats and endings taken."""
    index, start, time_through, opened = 0, 0, 1, 0
    limit = 64 * len(bars) + 64
    while index < len(bars) and limit:
        limit -= 1
        bar = bars[index]
        if bar.opens_repeat and index != opened:
            start, opened, time_through = index, index, 1
        if bar.endings and time_through not in bar.endings:
            index = _after_ending(bars, index)
            continue
        yield index
        if bar.closes_repeat and time_through < _times_played(bars, start, index):
            time_through, index = time_through + 1, start
            continue
        if bar.closes_repeat and not _another_ending(bars, index, time_through):
            start, opened, time_through = index + 1, index + 1, 1
        index += 1


def _times_played(bars: tuple[Bar, ...], start: int, index: int) -> int:
    """How often the section from `start` is played: its repeat sign and its endings, later ones included."""
    times = [bars[index].closes_repeat, *(number for bar in bars[start : index + 1] for number in bar.endings)]
    at = index + 1
    while at < len(bars) and bars[at].endings:
        times += bars[at].endings
        at = _after_ending(bars, at)
    return max(times)


def _after_ending(bars: tuple[Bar, ...], index: int) -> int:
    """The first bar after the ending that begins at `index`."""
    for at in range(index, len(bars)):
        if at > index and bars[at].endings:
            return at
        if bars[at].ends_section:
            return at + 1
    return len(bars)


def _another_ending(bars: tuple[Bar, ...], index: int, time_through: int) -> bool:
    following = bars[index + 1] if index + 1 < len(bars) else None
    return bool(following and following.endings and time_through in following.endings)
