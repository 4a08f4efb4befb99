"""Fits the right hand's patterns to one bar's melody: which stroke comes when, and what it wants."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from itertools import accumulate, pairwise

from nailhead.core.arrange.patterns import Clock, Pattern, Slot, Want, fill_groups
from nailhead.core.arrange.values import Hand
from nailhead.core.music.metre import ZERO, Time


@dataclass(frozen=True, slots=True)
class PlannedStroke:
    """One stroke of a melody note: its time in the bar, what the hand does and wants.

    `first` marks the melody note's own onset.
    """

    onset: Time
    duration: Time
    hand: Hand
    want: Want
    first: bool = False


@dataclass(frozen=True, slots=True)
class Plan:
    """The strokes that fill one melody note, and the patterns they come from (none: a plain note)."""

    strokes: tuple[PlannedStroke, ...]
    patterns: tuple[str, ...] = ()


@lru_cache(maxsize=8192)
def plan_note(onset: Time, duration: Time, offset: Time, clock: Clock, rung: int) -> Plan:
    """Strokes for a melody note at `onset` in a bar that begins `offset` into the full bar.

    A note that is too short for any pattern, or that fills no pulse group, stays plain: one stroke.
    """
    plain = Plan((PlannedStroke(onset, duration, Hand.DOWN, Want.LEAD, first=True),))
    start = (onset + offset) / clock.count
    end = start + duration / clock.count
    bounds = _bounds(clock, end)
    covered = [(low, high) for low, high in pairwise(bounds) if start <= low and high <= end]
    if rung < 2 or not covered:
        return plain
    late = covered[0][0] > start
    groups = tuple(high - low for low, high in covered)
    if late and (end - start < 4 or groups[0] != 2 or covered[0][0] - start >= 2):
        return plain
    patterns = fill_groups(groups, rung, after_lead=late)
    if patterns is None:
        return plain
    strokes = [plain.strokes[0]] if late else []
    strokes += _lay_out(patterns, covered[0][0], offset, clock)
    return Plan(_close_gaps(strokes, onset, onset + duration), tuple(pattern.name for pattern in patterns))


def _bounds(clock: Clock, end: Time) -> list[int]:
    """Where the pulse groups begin, in counts, through the end of the note."""
    groups = list(clock.groups)
    while sum(groups) < end:
        groups += clock.groups
    return [0, *accumulate(groups)]


def _lay_out(patterns: tuple[Pattern, ...], at: int, offset: Time, clock: Clock) -> list[PlannedStroke]:
    strokes = []
    for pattern in patterns:
        strokes += [_planned(slot, at, offset, clock) for slot in pattern.slots]
        at += sum(pattern.groups)
    return strokes


def _planned(slot: Slot, at: int, offset: Time, clock: Clock) -> PlannedStroke:
    onset = (at + slot.at) * clock.count - offset
    return PlannedStroke(onset, slot.counts * clock.count, slot.hand, slot.want)


def _close_gaps(strokes: list[PlannedStroke], start: Time, end: Time) -> tuple[PlannedStroke, ...]:
    """Each stroke lasts until the next one; the first is the melody's own."""
    onsets = [stroke.onset for stroke in strokes] + [end]
    return tuple(
        PlannedStroke(stroke.onset, following - stroke.onset, stroke.hand, stroke.want, index == 0)
        for index, (stroke, following) in enumerate(zip(strokes, onsets[1:], strict=True))
        if following > max(start, ZERO)
    )
