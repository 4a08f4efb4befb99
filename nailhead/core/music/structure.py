"""Reads a tune's structure: equal bars, phrases, where upbeats stand, the harmony over time."""

from __future__ import annotations

from dataclasses import dataclass

from nailhead.core.music.chord import Chord
from nailhead.core.music.metre import ZERO, Time
from nailhead.core.music.tune import Bar, Tune, held_at_start


@dataclass(frozen=True, slots=True)
class HarmonySpan:
    """A chord and the stretch of its bar it rules; `chord` is None where nothing is known."""

    onset: Time
    end: Time
    chord: Chord | None


@dataclass(frozen=True)
class Structure:
    """`classes[i]` is the first bar equal to bar i; `letters` name the classes A, B, … in order.

    `offsets[i]` is where bar i begins within a full bar (not 0 for an upbeat); `phrases` are index
    ranges (start, stop) of at most four bars, cut where parts and endings begin.
    """

    classes: tuple[int, ...]
    letters: tuple[str, ...]
    offsets: tuple[Time, ...]
    held: tuple[bool, ...]
    harmony: tuple[tuple[HarmonySpan, ...], ...]
    phrases: tuple[tuple[int, int], ...]

    @property
    def different(self) -> int:
        """How many bars are really new."""
        return len(set(self.classes))


def read_structure(tune: Tune) -> Structure:
    """The structure of a tune with its chords (written or suggested)."""
    held = held_at_start(tune.bars)
    harmony = harmony_by_bar(tune.bars)
    offsets = tuple(_offset(tune, index) for index in range(len(tune.bars)))
    seen: dict[object, int] = {}
    classes = []
    for index, bar in enumerate(tune.bars):
        content = tuple((event.onset, event.duration, event.pitch, event.tied) for event in bar.events)
        signature = (content, harmony[index], bar.metre, bar.key, offsets[index], held[index])
        classes.append(seen.setdefault(signature, index))
    names = {first: _letter(order) for order, first in enumerate(seen.values())}
    return Structure(
        tuple(classes),
        tuple(names[first] for first in classes),
        offsets,
        held,
        harmony,
        phrases_of(tune.bars),
    )


def _letter(order: int) -> str:
    """a, b, … z, aa, ab …"""
    head, tail = divmod(order, 26)
    return (_letter(head - 1) if head else "") + chr(ord("a") + tail)


def _offset(tune: Tune, index: int) -> Time:
    bar = tune.bars[index]
    short = bar.metre.length - bar.length
    if bar.metre.free or short <= 0 or bar.endings:
        return ZERO
    starts = index == 0 or tune.bars[index - 1].ends_section or bar.opens_repeat
    return short if starts and not bar.ends_section else ZERO


def harmony_by_bar(bars: tuple[Bar, ...]) -> tuple[tuple[HarmonySpan, ...], ...]:
    """The chord of every moment: a chord holds until the next one, over bar lines too."""
    result: list[tuple[HarmonySpan, ...]] = []
    current: Chord | None = None
    for bar in bars:
        starts: list[tuple[Time, Chord | None]] = [(entry.onset, entry.chord) for entry in bar.chords]
        if not starts or starts[0][0] > 0:
            starts.insert(0, (ZERO, current))
        ends = [onset for onset, _ in starts[1:]] + [bar.length]
        spans = [HarmonySpan(onset, end, chord) for (onset, chord), end in zip(starts, ends, strict=True)]
        current = starts[-1][1]
        result.append(tuple(spans))
    return tuple(result)


def chord_at(spans: tuple[HarmonySpan, ...], onset: Time) -> Chord | None:
    """The chord of the moment within a bar."""
    return next((span.chord for span in reversed(spans) if span.onset <= onset), None)


def phrases_of(bars: tuple[Bar, ...], size: int = 4) -> tuple[tuple[int, int], ...]:
    """Lines of `size` full bars; a pickup rides with the line it leads into, parts begin new lines."""
    phrases: list[tuple[int, int]] = []
    start, full = 0, 0
    for index, bar in enumerate(bars):
        upbeat = bar.length < bar.metre.length and not bar.metre.free
        full += 0 if upbeat and index == start else 1
        last = index + 1 == len(bars)
        following = None if last else bars[index + 1]
        part_ends = bar.ends_section and not (following and following.endings)
        breaks = part_ends or bool(following and (following.opens_repeat or following.part))
        if last or breaks or (full >= size and not _tail_is_short(bars, index + 1)):
            phrases.append((start, index + 1))
            start, full = index + 1, 0
    return tuple(phrases)


def _tail_is_short(bars: tuple[Bar, ...], start: int) -> bool:
    """True when a single bar would be left over before the section ends: it stays with this line."""
    bar = bars[start]
    return bar.ends_section and (start + 1 == len(bars) or not bars[start + 1].endings)


def beat_words(onset: Time, offset: Time, unit: int) -> str:
    """ "at beat 2" or "after beat 2": the place in a bar in a teacher's words."""
    at = (onset + offset) * unit
    beat = at.numerator // at.denominator
    return f"at beat {beat + 1}" if at == beat else f"after beat {beat + 1}"
