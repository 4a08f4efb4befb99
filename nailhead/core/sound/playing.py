"""An arrangement as sound: every stroke a plucked string, in time, each string ringing until it is struck again."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from threading import Lock

import numpy as np
from cachetools import LRUCache, cached
from numpy.typing import NDArray

from nailhead.core.arrange.grade import PRACTICE_BPM, whole_notes_a_second
from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.errors import NailheadError
from nailhead.core.fretboard.setup import Setup
from nailhead.core.music.metre import Metre, Time
from nailhead.core.music.tune import Tempo, Tune
from nailhead.core.sound.pluck import PEAK, RATE, Samples, Timbre, pluck, timbre_of
from nailhead.core.sound.soundings import GRACE, RING, soundings_of
from nailhead.core.sound.voices import tick

#: How long a string takes to be pushed up.
BENT = 0.15
#: How much of a beat the first of two swung eighths takes at full swing: as in a triplet (common practice).
SWUNG = 2 / 3
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
        return (float(onset) + self.swing * swung_by(onset, metre, self.beat)) * self.whole


def pace_at(tune: Tune, bpm: int | None = None, swing: float = 0.0, count_in: int = 0) -> Pace:
    """The pace asked for, else the tune's own, else a practice tempo; raises PlayingError for one nobody plays."""
    beat = tune.tempo.beat if tune.tempo else Fraction(3, 8) if tune.metre.compound else Fraction(1, 4)
    usual = round(tune.tempo.bpm) if tune.tempo else PRACTICE_BPM
    return Pace(beat, bpm or usual, swing, count_in)


def swung_by(onset: Time, metre: Metre, beat: Time) -> float:
    """How much later a moment of a full bar comes at full swing, in whole notes: most in the middle of a beat."""
    if metre.compound or metre.free or beat.numerator != 1:
        return 0.0
    share = float(onset % beat / beat)
    return 2 * (SWUNG - 0.5) * min(share, 1 - share) * float(beat)


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
        for one in soundings_of(measure.bar, setup, pace.whole):
            at = start + pace.seconds(measure.offset + one.onset, measure.metre) - begin
            # At the very beginning there is no time before the note.
            late = max(one.late_s, GRACE - at) if one.graced else one.late_s
            found.append(Tone(max(0.0, at + late), one.seconds, one.hertz, one.loud, one.string, one.bend))
    return _damped(sorted(found, key=lambda tone: (tone.at, tone.string)))


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
    loudest = max(float(sound.max()), -float(sound.min()))
    if loudest:
        sound *= min(1.0, 2 * PEAK * 0.9 / loudest)
    return sound


#: A string's whole sound in half the room: a 24th bit is far below what can be heard.
_Kept = NDArray[np.float32]
#: Bytes of all strings' sounds that are kept; a tune has some fifteen, each 0.7 MB.
MOST_BYTES = 16_000_000
_RINGING: LRUCache[object, _Kept] = LRUCache(MOST_BYTES, getsizeof=lambda sound: sound.nbytes)


@cached(_RINGING, lock=Lock())
def _ringing(hertz: float, timbre: Timbre) -> _Kept:
    return pluck(hertz, RING, timbre).astype(np.float32)


@lru_cache(maxsize=1)
def _click() -> Samples:
    return tick(1500, RATE)


def _bent(ringing: Samples | _Kept, cents: int) -> Samples:
    """The same string pushed up within `BENT` seconds: read faster and faster, then at the higher pitch."""
    high = 2 ** (cents / 1200)
    rising = np.linspace(1, high, round(BENT * RATE))[: len(ringing)]
    faster = np.concatenate((rising, np.full(len(ringing) - len(rising), high)))
    bent: Samples = np.interp(np.cumsum(faster), np.arange(len(ringing)), ringing, right=0.0)
    return bent


def _mix(sound: Samples, ringing: Samples | _Kept, tone: Tone) -> None:
    """Adds a tone, faded out where its string is stopped."""
    start = round(tone.at * RATE)
    count = min(len(ringing), round(tone.seconds * RATE), len(sound) - start)
    if count <= 0:
        return
    part = (_bent(ringing, tone.bend) if tone.bend else ringing)[:count] * (0.6 * tone.loud)
    edge = min(count, round(_EDGE * RATE))
    part[count - edge :] *= np.linspace(1, 0, edge)
    sound[start : start + count] += part
