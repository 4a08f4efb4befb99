"""An arrangement as sound: every stroke a plucked string, in time, each string ringing until it is struck again."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from nailhead.core.arrange.grade import whole_notes_a_second
from nailhead.core.arrange.rows.touches import touch_row
from nailhead.core.arrange.tones import note_cents
from nailhead.core.arrange.values import PLAIN, ArrangedBar, Role, Stroke, Touch, Trembling, Way
from nailhead.core.errors import NailheadError
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.metre import Metre, Time
from nailhead.core.music.pitch import hertz_of
from nailhead.core.music.tune import Tempo
from nailhead.core.sound.pluck import PEAK, RATE, Samples, Timbre, pluck, timbre_of

#: How loud each role is beside the melody; the first of a bar is stronger, a grace before its note softer, a muted
#: string hardly more than a tick (by ear, ours). What a touch adds stands with it in `rows.touches`.
LOUD = {Role.MELODY: 1.0, Role.FILL: 0.85, Role.CHORD: 0.55, Role.DRONE: 0.45}
ACCENT, GRACED, MUTED = 1.15, 0.75, 0.35
#: Seconds from string to string of a chord that is rolled.
ROLLED = 0.045
#: Seconds that a grace comes before its note, that a string rings at most, and that a muted one does.
GRACE, RING, TICK = 0.07, 2.6, 0.05
#: How long a string takes to be pushed up.
BENT = 0.15
#: How much of a beat the first of two swung eighths takes at full swing: as in a triplet (common practice).
SWUNG = 2 / 3
#: Strokes of a tremolo in a second (common practice), and how loud those behind its first one are.
TREMBLING, BEHIND = 10, 0.8
#: When the strokes of a treble come, as shares of its time: down, up in half the time, down (common practice).
TREBLE = (0.0, 0.25, 0.5)
#: Slowest and fastest playing, against the tune's own tempo.
BPM = (20, 400)
_EDGE = 0.006
#: Longest sound that is made, in seconds.
LONGEST = 900.0


class PlayingError(NailheadError):
    """A tempo or a swing that nobody plays."""


@dataclass(frozen=True, slots=True)
class Pace:
    """`bpm` beats a minute of length `beat`, `swing` 0 (even) to 1 (as in a triplet), `count_in` beats before it."""

    beat: Time
    bpm: int
    swing: float = 0.0
    count_in: int = 0

    def __post_init__(self) -> None:
        if not BPM[0] <= self.bpm <= BPM[1]:
            raise PlayingError(f"{self.bpm} beats a minute.", field="tempo", remedy=f"Use {BPM[0]} to {BPM[1]}.")
        if not 0 <= self.swing <= 1:
            raise PlayingError(f"Swing {self.swing}.", field="swing", remedy="Use 0 (even) to 1 (as in a triplet).")
        if not 0 <= self.count_in <= 16:
            raise PlayingError(f"{self.count_in} beats of count-in.", field="count_in", remedy="Use 0 to 16.")

    @property
    def whole(self) -> float:
        """Seconds of a whole note."""
        return float(1 / whole_notes_a_second(Tempo(self.beat, self.bpm)))

    def seconds(self, onset: Time, metre: Metre) -> float:
        """When a moment of a full bar comes, in seconds from its start; off-beat eighths may swing."""
        plain = float(onset) * self.whole
        beat = float(self.beat)
        if not self.swing or metre.compound or metre.free or self.beat.numerator != 1:
            return plain
        beats, within = divmod(float(onset), beat)
        half = 0.5 + self.swing * (SWUNG - 0.5)
        share = within / beat
        moved = 2 * share * half if share < 0.5 else half + 2 * (share - 0.5) * (1 - half)
        return (beats + moved) * beat * self.whole


@dataclass(frozen=True, slots=True)
class Tone:
    """One sounding of one string: seconds from the start, how long, how high, how loud (1 is a melody note).

    `bend` is how far it is pushed up behind its onset, in cents.
    """

    at: float
    seconds: float
    hertz: float
    loud: float
    string: int
    bend: int = 0


@dataclass(frozen=True, slots=True)
class PlayedBar:
    """A bar to be played: its strokes, its metre, and how far into the full bar it begins."""

    bar: ArrangedBar
    metre: Metre
    offset: Time


def starts_of(measures: Sequence[PlayedBar], pace: Pace) -> tuple[float, ...]:
    """When each bar begins, in seconds, the count-in before the first; the last value is the end."""
    at = pace.count_in * float(pace.beat) * pace.whole
    starts = [at]
    for measure in measures:
        at += float(measure.bar.length) * pace.whole
        starts.append(at)
    return tuple(starts)


def tones_of(measures: Sequence[PlayedBar], setup: Setup, pace: Pace) -> tuple[Tone, ...]:
    """Every tone in order; a string rings until it is struck again."""
    found: list[Tone] = []
    for measure, start in zip(measures, starts_of(measures, pace), strict=False):
        begin = pace.seconds(measure.offset, measure.metre)
        for stroke in measure.bar.strokes:
            at = start + pace.seconds(measure.offset + stroke.onset, measure.metre) - begin
            end = start + pace.seconds(measure.offset + stroke.end, measure.metre) - begin
            first = stroke is measure.bar.strokes[0]
            found += _trilled(stroke, at, end, setup)
            for late, loud in _shaken(stroke, end - at):
                plain = stroke if loud == 1.0 else stroke.with_notes(lambda note: replace(note, slur=None))
                tones = _struck(plain, at + late, setup, first)
                found += tones if loud == 1.0 else (replace(tone, loud=tone.loud * loud) for tone in tones)
    return _damped(sorted(found, key=lambda tone: (tone.at, tone.string)))


def _shaken(stroke: Stroke, seconds: float) -> list[tuple[float, float]]:
    """When a stroke of so many seconds is struck, from its onset, and how loud: once, or as often as it is shaken."""
    if stroke.shake is None or stroke.shake.trembling in (Trembling.TRILL, Trembling.ROLLED):
        return [(0.0, 1.0)]
    count = max(2, round(seconds * TREMBLING))
    even = tuple(place / count for place in range(count))
    shares = TREBLE if stroke.shake.trembling is Trembling.TREBLE else even
    return [(share * seconds, BEHIND if share else 1.0) for share in shares]


def _trilled(stroke: Stroke, at: float, end: float, setup: Setup) -> Iterable[Tone]:
    """The tones of a trill behind its first: to and fro between two frets, ending on the melody's own."""
    note = next((note for note in stroke.notes if note.role is Role.MELODY), None)
    if stroke.shake is None or stroke.shake.fret is None or note is None:
        return
    count = max(3, round((end - at) * TREMBLING) | 1)
    for place in range(1, count):
        fret = stroke.shake.fret if place % 2 else note.place.fret
        where = Place(note.place.string, fret)
        yield Tone(at + (end - at) * place / count, RING, _hertz(where, setup), LOUD[note.role] * BEHIND, where.string)


def _struck(stroke: Stroke, at: float, setup: Setup, first: bool) -> Iterable[Tone]:
    rolled = stroke.shake is not None and stroke.shake.trembling is Trembling.ROLLED
    touches = sorted(stroke.touches, key=_bass_first) if rolled else stroke.touches
    for turn, touch in enumerate(touches):
        row = touch_row(touch)
        notes = [note for note in touch.notes if not note.held]
        if row.spread_s:
            notes.sort(key=lambda note: note.place.string, reverse=touch.way is not Way.UP)
        for place, note in enumerate(notes):
            loud = LOUD[note.role] * (ACCENT if first else 1) * row.loud * touch.loudness / PLAIN
            late = ROLLED * turn if rolled else 0.0
            if note.slur and note.slur.grace:
                before = Place(note.place.string, note.slur.start)
                late = max(late, GRACE - at)  # at the very beginning there is no time before the note
                yield Tone(max(0.0, at - GRACE), RING, _hertz(before, setup), loud * GRACED, note.place.string)
            seconds, loud = (TICK, loud * MUTED) if touch.muted else (row.rings_s or RING, loud)
            hertz, begins = hertz_of(note_cents(setup, note)), at + late + row.spread_s * place
            yield Tone(begins, seconds, hertz, loud, note.place.string, note.bend)


def _bass_first(touch: Touch) -> int:
    return -max(note.place.string for note in touch.notes)


def _hertz(place: Place, setup: Setup) -> float:
    return hertz_of(setup.sounding_cents(place))


def _damped(tones: list[Tone]) -> tuple[Tone, ...]:
    last: dict[int, int] = {}
    done = list(tones)
    for index, tone in enumerate(tones):
        if tone.string in last:
            before = done[last[tone.string]]
            left = min(before.seconds, tone.at - before.at)
            done[last[tone.string]] = replace(before, seconds=left)
        last[tone.string] = index
    return tuple(tone for tone in done if tone.seconds > _EDGE)


def render(measures: Sequence[PlayedBar], setup: Setup, pace: Pace) -> Samples:
    """The bars as mono samples at RATE, with clicks for the count-in. Raises PlayingError where it would never end."""
    starts = starts_of(measures, pace)
    if starts[-1] > LONGEST:
        raise PlayingError(
            f"That would last {starts[-1] / 60:.0f} minutes.", field="tempo", remedy="Play fewer bars, or faster."
        )
    sound = np.zeros(round((starts[-1] + RING) * RATE) + 1)
    timbre = timbre_of(setup.instrument.kind)
    for tone in tones_of(measures, setup, pace):
        _mix(sound, _ringing(tone.hertz, timbre), tone)
    for beat in range(pace.count_in):
        _mix(sound, _click(), Tone(beat * float(pace.beat) * pace.whole, 0.05, 0, 0.5 if beat else 0.8, 0))
    loudest = float(np.max(np.abs(sound), initial=0.0))
    level: Samples = sound * min(1.0, 2 * PEAK * 0.9 / loudest) if loudest else sound
    return level


@lru_cache(maxsize=96)
def _ringing(hertz: float, timbre: Timbre) -> Samples:
    return pluck(hertz, RING, timbre)


@lru_cache(maxsize=1)
def _click() -> Samples:
    """A wooden tick: a short, high, dying tone."""
    time = np.arange(round(0.05 * RATE)) / RATE
    tick: Samples = PEAK * np.sin(2 * np.pi * 1500 * time) * np.exp(-90 * time)
    return tick


def _bent(ringing: Samples, cents: int) -> Samples:
    """The same string pushed up within `BENT` seconds: read faster and faster, then at the higher pitch."""
    high = 2 ** (cents / 1200)
    rising = np.linspace(1, high, round(BENT * RATE))[: len(ringing)]
    faster = np.concatenate((rising, np.full(len(ringing) - len(rising), high)))
    bent: Samples = np.interp(np.cumsum(faster), np.arange(len(ringing)), ringing, right=0.0)
    return bent


def _mix(sound: Samples, ringing: Samples, tone: Tone) -> None:
    """Adds a tone, faded out where its string is stopped."""
    start = round(tone.at * RATE)
    count = min(len(ringing), round(tone.seconds * RATE), len(sound) - start)
    if count <= 0:
        return
    part = (_bent(ringing, tone.bend) if tone.bend else ringing)[:count] * (0.6 * tone.loud)
    edge = min(count, round(_EDGE * RATE))
    part[count - edge :] *= np.linspace(1, 0, edge)
    sound[start : start + count] += part
