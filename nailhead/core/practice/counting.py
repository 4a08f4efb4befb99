"""Counting aloud: the clicks of a bar by its metre, and the count before one begins."""

from __future__ import annotations

from dataclasses import dataclass

from nailhead.core.music.metre import ZERO, Metre, Time


@dataclass(frozen=True, slots=True)
class Click:
    """One count: when, in whole notes; whether it begins a bar or group; what is said."""

    onset: Time
    strong: bool
    said: str


def counts_of(metre: Metre) -> tuple[Click, ...]:
    """The counts of a full bar: beats, in compound time dotted ones; in additive time every unit, each group from one.

    9/8 as 2+2+2+3 is counted "1 2 1 2 1 2 1 2 3", each 1 strong (handbook §8: count aloud in the metre).
    """
    if len(set(metre.grouping)) > 1:
        found, at = [], 0
        for size in metre.grouping:
            for place in range(size):
                found.append(Click(Time(at, metre.unit), place == 0, str(place + 1)))
                at += 1
        return tuple(found)
    return tuple(Click(onset, place == 0, str(place + 1)) for place, onset in enumerate(metre.beat_onsets))


def count_in(metre: Metre, upbeat: Time = ZERO) -> tuple[tuple[Click, ...], Time]:
    """(clicks, length) before the first note: a full bar, and into the next one as far as an upbeat leaves it.

    The upbeat of so many whole notes then begins where the bar has its place for it.
    """
    bar = counts_of(metre)
    room = metre.length - upbeat if ZERO < upbeat < metre.length else ZERO
    more = tuple(Click(click.onset + metre.length, click.strong, click.said) for click in bar if click.onset < room)
    return (*bar, *more), metre.length + room
