"""The windows of a bar that hold one core note each: the beats, and the stroke units made of them.

Times in here are whole ticks, so many to a whole note that everything in the tune begins on one.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from math import ceil, lcm

from nailhead.core.music.clock import clock_of
from nailhead.core.music.structure import Structure
from nailhead.core.music.tune import Tempo, Tune

#: Quarter notes a minute of a kind of tune, where it brings no tempo of its own (common practice).
KINDS: dict[str, int] = {
    "reel": 200,
    "hornpipe": 160,
    "polka": 120,
    "jig": 168,
    "slip jig": 168,
    "slide": 190,
    "march": 110,
    "waltz": 140,
    "air": 66,
    "slow air": 60,
    "lament": 56,
    "lullaby": 72,
    "song": 96,
}
#: The pace of a tune that says nothing: quarter notes a minute.
USUAL = 120
#: Notes that come slower than so many in a second are no run, and stay (ladder of the product; weight ours).
RUNNING = Fraction(5, 2)


@dataclass(frozen=True, slots=True)
class Window:
    """A stretch of a bar that gets one core note: ticks from `start` to `end` within the bar, `counts` of the clock."""

    start: int
    end: int
    counts: int


def ticks_of(tune: Tune) -> int:
    """Ticks to a whole note: the fewest in which every event, bar and count of the clock begins on one."""
    metres = {bar.metre for bar in tune.bars}
    denominators = {clock_of(metre).count.denominator for metre in metres}
    for bar in tune.bars:
        for event in bar.events:
            denominators.add(event.onset.denominator)
            denominators.add(event.duration.denominator)
    return 2 * lcm(*denominators)


def beat_windows(tune: Tune, structure: Structure, bar: int, ticks: int) -> tuple[Window, ...]:
    """The pulse groups of a bar: two counts of the clock, three in compound time, the metre's own in additive time.

    An upbeat has those it reaches, a bar of odd length as many as it fills.
    """
    written = tune.bars[bar]
    clock = clock_of(written.metre)
    count, offset = int(clock.count * ticks), int(structure.offsets[bar] * ticks)
    windows, at, place = [], 0, 0
    end = offset + int(written.length * ticks)
    sizes = clock.groups or (2,)
    while at < end:
        size = sizes[place % len(sizes)]
        after = at + size * count
        if after > offset:
            windows.append(Window(max(at, offset) - offset, min(after, end) - offset, size))
        at, place = after, place + 1
    return tuple(windows)


def stroke_units(
    tune: Tune, structure: Structure, bar: int, windows: Sequence[Window]
) -> tuple[tuple[Window, ...], ...]:
    """The beats of a bar by stroke unit: four counts in twos, a beat of three counts alone, one group in additive time.

    Three twos are a long unit and a short one, as a waltz has them.
    """
    groups = clock_of(tune.bars[bar].metre).groups
    if set(groups) != {2}:
        return tuple((window,) for window in windows)
    late = len(groups) - len(windows) if structure.offsets[bar] else 0
    units: dict[int, list[Window]] = {}
    for place, window in enumerate(windows, start=late):
        units.setdefault(_unit(place, len(groups)), []).append(window)
    return tuple(tuple(members) for members in units.values())


def _unit(place: int, whole: int) -> int:
    """The number of the stroke unit of a group of two; an odd group at the end of a bar is its own."""
    bar, within = divmod(place, whole)
    return bar * whole + within // 2


def pace_of(tune: Tune) -> Fraction:
    """Whole notes a second: the tune's own tempo, that of its kind, or the usual one."""
    kind = tune.rhythm.strip().lower()
    tempo = tune.tempo or Tempo(Fraction(1, 4), KINDS.get(kind, USUAL))
    return tempo.beat * tempo.bpm / 60


def running_gap(tune: Tune, ticks: int) -> int:
    """Notes that follow each other in fewer ticks than this come faster than hands in their first month go."""
    return ceil(pace_of(tune) * ticks / RUNNING)


def runs(onsets: Sequence[int], end: int, gap: int) -> bool:
    """Do notes that begin at these ticks, the next one at `end`, come in fewer than `gap`?"""
    return any(after - before < gap for before, after in pairwise([*onsets, end]))
