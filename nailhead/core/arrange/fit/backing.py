"""The chord part of a tune: a backing pattern laid over its chords, bar by bar."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.left.bass import HIGHEST, bass_place
from nailhead.core.arrange.rows.backing import ALPHABET, BackingRow, backing_of
from nailhead.core.arrange.rows.patterns import Pattern, Slot, Want, Where, read_row
from nailhead.core.arrange.tones import tones_on
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Role, Stroke, Touch, single
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.fretboard.shapes import Shape, shapes_for
from nailhead.core.music.chord import Chord
from nailhead.core.music.clock import clock_of
from nailhead.core.music.key import Key
from nailhead.core.music.metre import Time
from nailhead.core.music.structure import chord_at

#: A closed shape has so many strings at least.
CLOSED = 3


def backing_part(ladder: Ladder, name: str) -> tuple[ArrangedBar, ...]:
    """Every written bar as a second player backs it; the instrument's first pattern where it has none of that name.

    Upbeats, and what has no chord, rest; a last bar that gives its end to the upbeat is cut there.
    """
    rows = backing_of(ladder.fit.setup.instrument.kind)
    row = next((row for row in rows if row.name == name), rows[0])
    return tuple(_bar(ladder, index, row) for index in range(len(ladder.tune.bars)))


def _bar(ladder: Ladder, index: int, row: BackingRow) -> ArrangedBar:
    written, harmony = ladder.tune.bars[index], ladder.structure.harmony[index]
    clock = clock_of(written.metre)
    strokes: list[Stroke] = []
    for slot, at in () if ladder.structure.offsets[index] else _slots(row, clock.groups):
        onset = at * clock.count
        left = written.length - onset
        if left <= 0:
            break  # the bar gives its last beats to an upbeat
        chord = chord_at(harmony, onset)
        touch = _touch(ladder.fit.setup, slot, chord, row, written.key) if chord else None
        strokes.append(Stroke(onset, min(left, slot.counts * clock.count), (touch,) if touch else ()))
    if strokes and strokes[-1].end < written.length:
        strokes[-1] = replace(strokes[-1], duration=written.length - strokes[-1].onset)
    if not strokes:
        strokes = [Stroke(Time(0), written.length)]
    return ArrangedBar(written.number, 1, tuple(strokes), (row.name,))


def _slots(row: BackingRow, groups: tuple[int, ...]) -> list[tuple[Slot, int]]:
    """The slots of a bar with their counts; where no text fills it, one strum a group."""
    pattern = row.for_groups(groups) or _plain(groups)
    return [(slot, begun + slot.at) for begun in range(0, sum(groups), pattern.counts) for slot in pattern.slots]


def _plain(groups: tuple[int, ...]) -> Pattern:
    return read_row(ALPHABET, "strum", " | ".join("S" + "." * (size - 1) for size in groups), 1)


def _touch(setup: Setup, slot: Slot, chord: Chord, row: BackingRow, key: Key) -> Touch | None:
    if not slot.voices:
        return None
    (voice,) = slot.voices
    if voice.want is Want.FILL:
        place = bass_place(setup, chord, other=voice.where is Where.OTHER_BASS)
        return single(voice.by, voice.way, _note(setup, place, key))[0] if place else None
    shape = backing_shape(setup, chord, row.closed)
    if shape is None:
        return None
    fingers = dict(shape.fingers)
    notes = tuple(_note(setup, Place(*stop), key, fingers.get(stop[0], 0)) for stop in _run(shape))
    return Touch(voice.by, voice.way, notes, voice.loudness, voice.muted)


def _note(setup: Setup, place: Place, key: Key, finger: int = 0) -> FrettedNote:
    return FrettedNote(place, tones_on(setup).name(setup.sounding_cents(place), key), Role.CHORD, finger)


def _run(shape: Shape) -> tuple[tuple[int, int], ...]:
    """The longest run of neighbouring strings of a shape: what one stroke takes."""
    runs: list[list[tuple[int, int]]] = []
    for stop in shape.frets:
        if runs and stop[0] == runs[-1][-1][0] + 1:
            runs[-1].append(stop)
        else:
            runs.append([stop])
    lengths = [len(run) for run in runs]
    return tuple(runs[lengths.index(max(lengths))])


@lru_cache(maxsize=1024)
def backing_shape(setup: Setup, chord: Chord, closed: bool) -> Shape | None:
    """The chord's first shape, or the first closed one of three strings or more, which can be damped."""
    shapes = shapes_for(setup, chord, HIGHEST)
    shut = (shape for shape in shapes if len(_run(shape)) >= CLOSED and all(fret for _, fret in shape.frets))
    return (next(shut, None) if closed else None) or next(iter(shapes), None)
