"""Kick-off and ending at the tune's tempo (handbook §7), as tunes of their own, out of the rows of `rows.frames`."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from fractions import Fraction
from itertools import accumulate, pairwise

from nailhead.core.arrange.rows.frames import HOME, FrameRow
from nailhead.core.music.chord import Chord
from nailhead.core.music.clock import clock_of
from nailhead.core.music.key import Key, spell
from nailhead.core.music.metre import ZERO, Metre, Time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.structure import phrases_of
from nailhead.core.music.tune import Bar, ChordAt, Event, Tune

#: The pitches, in cents, that the melody may have on the instrument.
Neck = frozenset[Fraction]


def kick_off(tune: Tune, neck: Neck, row: FrameRow) -> Tune:
    """Bars that lead in; the last one leaves room for the tune's pickup, so that the count goes on unbroken."""
    first = tune.bars[0]
    spare = first.metre.length - first.length if tune.has_pickup else ZERO
    made = _bars(tune, row, neck) if row.bars else _last_phrase(tune)
    if tune.has_pickup and spare > 0:
        made[-1] = _shortened(made[-1], spare)
    return replace(tune, title="Kick-off", bars=tuple(made), order="")


def ending(tune: Tune, neck: Neck, row: FrameRow) -> Tune:
    """Bars behind the tune; they stop.

    Where the tune's last bar is short by its pickup, the ending begins with those beats, on the note it leads from.
    """
    made = _bars(tune, row, neck)
    made[-1] = replace(made[-1], barline="final")
    last = tune.bars[-1]
    missing = last.metre.length - last.length
    if tune.has_pickup and not last.metre.free and missing > 0:
        lead = Event(ZERO, missing, made[0].events[0].pitch)
        made.insert(0, Bar(0, last.metre, tune.key, (lead,), (ChordAt(ZERO, _chord(tune.key, HOME)),)))
    return replace(tune, title="Ending", bars=tuple(made), order="")


def _last_phrase(tune: Tune) -> list[Bar]:
    """The bars of the tune's last phrase, by themselves: no repeats, no part."""
    start, stop = phrases_of(tune.bars)[-1]
    full = [bar for bar in tune.bars[start:stop] if bar.events]
    chord = ChordAt(ZERO, _chord(tune.key, HOME))
    return [
        Bar(number, bar.metre, bar.key, tuple(replace(event, words=()) for event in bar.events), bar.chords or (chord,))
        for number, bar in enumerate(full, start=1)
    ]


def _chord(key: Key, where: str) -> Chord:
    """The tonic's chord, or the one that leads to it.

    That is the dominant where the seventh is a leading note, else the flat seventh (handbook §7, Mixolydian tunes).
    """
    tonic = Fraction(100 * key.tonic.semitone)
    if where == HOME:
        return Chord(key.tonic, "m" if key.minor_third else "")
    leading = (key.scale[6] - key.tonic.semitone) % 12 == 11
    return Chord(_degree(key, tonic, 5 if leading else 7).pitch_class)


def _main_metre(tune: Tune) -> Metre:
    return tune.bars[-1].metre if not tune.bars[-1].metre.free else tune.metre


def _bars(tune: Tune, row: FrameRow, neck: Neck) -> list[Bar]:
    key, metre = tune.key, _main_metre(tune)
    tonic = _tonic_near(tune, key)
    goal = next((event.pitch for bar in tune.bars for event in bar.events if event.pitch), None)
    clock = clock_of(metre)

    def walk(notes: int) -> list[int]:
        return _walk(notes, key, tonic, goal)

    bars = []
    for number, (text, chords) in enumerate(row.bars, start=1):
        events: list[Event] = []
        for token, onset, groups in _placed(text.split(), metre):
            for degree, start, length in _struck(token, onset, groups, clock.count, walk):
                pitch = None if degree is None else _on_neck(_degree(key, tonic, degree), key, neck)
                events.append(Event(start, length, pitch))
        halves = chords.split()
        starts = [ZERO, *(clock.count * size for size in accumulate(clock.groups))]
        at = [starts[-(-(len(starts) - 1) * place // len(halves))] for place in range(len(halves))]
        named = tuple(ChordAt(onset, _chord(key, where)) for onset, where in zip(at, halves, strict=True))
        bars.append(Bar(number, metre, key, tuple(events), named))
    return bars


def _placed(tokens: list[str], metre: Metre) -> Iterator[tuple[str, Time, tuple[Time, ...]]]:
    """Each token with its onset and the lengths of the pulse groups, or the part of one, that it fills.

    Where there are too many for the metre, silence at either end goes first, then what comes before the last note.
    """
    clock = clock_of(metre)
    sizes = clock.groups
    while len(tokens) > len(sizes) and len(tokens) != 2 * len(sizes):
        ends = [place for place in (0, -1) if tokens[place] == "-"]
        del tokens[ends[0] if ends else -2]
    if len(tokens) > len(sizes):
        parts = [part for size in sizes for part in ((size + 1) // 2, size // 2)]
        spans: list[tuple[Time, ...]] = [(part * clock.count,) for part in parts]
    else:
        cuts = [len(sizes) * place // len(tokens) for place in range(len(tokens) + 1)]
        spans = [tuple(size * clock.count for size in sizes[low:high]) for low, high in pairwise(cuts)]
    at = ZERO
    for token, span in zip(tokens, spans, strict=True):
        yield token, at, span
        at += sum(span, ZERO)


def _struck(
    token: str, onset: Time, groups: Sequence[Time], count: Time, walk: Callable[[int], list[int]]
) -> Iterator[tuple[int | None, Time, Time]]:
    """(degree, onset, length) of the notes of a token that fills some pulse groups; None is a rest."""
    whole = sum(groups, ZERO)
    if token in "->":
        degrees: Sequence[int | None] = [None] if token == "-" else walk(len(groups))
        lengths = [whole] if token == "-" else list(groups)
    else:
        lengths = _lengths(token[-1], groups, count)
        degree = int(token.rstrip("~'="))
        degrees = [degree, None] if token[-1] == "'" else [degree] * len(lengths)
    for one, length in zip(degrees, lengths, strict=True):
        if length:
            yield one, onset, length
        onset += length


def _lengths(sign: str, groups: Sequence[Time], count: Time) -> list[Time]:
    """How long the notes of a degree are, by the sign behind it; what is stopped is silent for the last of them."""
    whole, first, rest = sum(groups, ZERO), groups[0], groups[1:]
    if sign == "~" and rest:
        return [first, *(half for group in rest for half in (group / 2, group / 2))]
    if sign == "~" and first > 2 * count:
        return [first - count, count]
    if sign == "=" and whole > count:
        return [whole / 2, whole / 2]
    if sign == "'":
        sounds = first if rest else first - first / count // 3 * count
        return [sounds, whole - sounds]
    return [whole]


def _walk(notes: int, key: Key, tonic: Fraction, goal: Pitch | None) -> list[int]:
    """Degrees that walk by steps to the neighbour of a pitch, from the tonic's side."""
    if goal is None:
        return [1] * notes
    aim = min(range(-13, 16), key=lambda degree: abs(_degree(key, tonic, degree).cents - goal.cents))
    way = -1 if aim > 1 else 1
    return [aim + way * (notes - place) for place in range(notes)]


def _tonic_near(tune: Tune, key: Key) -> Fraction:
    """The tonic's height nearest below the middle of the melody, so that the frame lies where the tune does."""
    low, high = tune.range
    middle = (low.cents + high.cents) / 2
    height = Fraction(100 * key.tonic.semitone)
    highest = max(middle, low.cents + 1199)
    return max(height + 1200 * octave for octave in range(-1, 12) if height + 1200 * octave <= highest)


def _degree(key: Key, tonic: Fraction, degree: int) -> Pitch:
    scale = key.scale
    octave, place = divmod(degree - 1, 7)
    above = (scale[place] - key.tonic.semitone) % 12
    return spell(tonic + 1200 * octave + 100 * above, key)


def _on_neck(pitch: Pitch, key: Key, neck: Neck) -> Pitch:
    """The pitch, or the next octave of it that the neck has."""
    heights = (pitch.cents + 1200 * octave for octave in (0, 1, -1, 2))
    return next((spell(height, key) for height in heights if height in neck), pitch)


def _shortened(bar: Bar, length: Time) -> Bar:
    """The bar cut to a length: later notes fall away, the last one ends there."""
    events = [
        replace(event, duration=min(event.end, length) - event.onset) for event in bar.events if event.onset < length
    ]
    return replace(bar, events=tuple(events))
