"""Lays a chosen cell out as a bar: strokes with their notes, fingers, shapes that are really used, remarks."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from nailhead.core.arrange.fit.cell import Cell
from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.fit.offering import Grip, Strike
from nailhead.core.arrange.left.ornaments import slur_into
from nailhead.core.arrange.rows.left_hand import LeftHand
from nailhead.core.arrange.values import (
    ArrangedBar,
    FrettedNote,
    HeldShape,
    Role,
    Shake,
    Stroke,
    Touch,
    Trembling,
    Way,
    single,
)
from nailhead.core.fretboard.setup import Place
from nailhead.core.fretboard.shapes import Shape
from nailhead.core.music.metre import Time
from nailhead.core.music.structure import HarmonySpan, beat_words
from nailhead.core.music.tune import Tuplet

#: Adds ornaments to the strokes of a grid.
Dress = Callable[[tuple[Stroke, ...], Grid], tuple[Stroke, ...]]


def lay_out(grid: Grid, cell: Cell, rung: int, left: LeftHand, dress: Dress) -> ArrangedBar:
    """The bar of a cell. Shapes of which nothing is struck are not held."""
    strokes = dress(_strokes(grid, cell, left), grid)
    used = _used_shapes(grid, strokes, left)
    if len(used) < len(grid.shapes):
        grid = Grid(grid.context, grid.spots, used)
        strokes = dress(_strokes(grid, cell, left), grid)
    held = tuple(
        HeldShape(
            span.onset,
            span.end - span.onset,
            span.chord,
            tuple((string, fret, dict(shape.fingers)[string]) for string, fret in shape.frets if fret),
            shape.barre,
        )
        for span, shape in used.items()
        if span.chord and shape.fingers
    )
    names = [row.name for row, start in cell.rows if row and _fills(cell, start, start + row.counts * grid.count)]
    return ArrangedBar(
        grid.context.bar.number, rung, strokes, tuple(dict.fromkeys(names)), held, tuple(_remarks(grid, cell))
    )


def _fills(cell: Cell, low: int, high: int) -> bool:
    """Is anything beside the melody played between two ticks?"""
    return any(strike.fills and low <= strike.at < high for strike in cell.strikes)


def _used_shapes(grid: Grid, strokes: tuple[Stroke, ...], left: LeftHand) -> dict[HarmonySpan, Shape]:
    """The shapes of which a stop is struck beside the melody."""
    used = {}
    for span, shape in grid.shapes.items():
        struck = {
            note.place
            for stroke in strokes
            if span.onset <= stroke.onset < span.end
            for note in stroke.notes
            if note.role is not Role.MELODY and note.place.fret
        }
        stops = {Place(string, fret) for string, fret in shape.frets}
        if left.hops:
            stops |= {Place(string + 1, fret) for string, fret in shape.frets if string in left.roots}
        if struck & stops:
            used[span] = shape
    return used


def _strokes(grid: Grid, cell: Cell, left: LeftHand) -> tuple[Stroke, ...]:
    """Strikes, held notes and rests in order, each lasting until the next."""
    context = grid.context
    found: dict[int, tuple[Time, tuple[Touch, ...], Tuplet | None, Shake | None]] = {}
    for start, part in zip(grid.starts, context.segments, strict=True):
        if part.spot is None:
            found[start] = (part.onset, (), part.tuplet, None)
        elif part.held:
            note = _melody_note(grid, start, held=True)
            found[start] = (part.onset, single(None, Way.RINGS, note), part.tuplet, None)
    shaken = _shaken(grid, cell)
    for strike in cell.strikes:
        if not strike.touches:
            continue
        tuplet = context.segments[strike.melody].tuplet if strike.melody >= 0 else None
        touches = tuple(_touch(grid, strike, grip) for grip in strike.touches)
        shake = shaken.get(strike.at)
        found[strike.at] = (grid.time(strike.at), touches, tuplet, Shake(shake) if shake else None)
    ordered = [found[at] for at in sorted(found)]
    ends = [onset for onset, *_ in ordered[1:]] + [context.bar.length]
    return _slurred(
        [
            Stroke(onset, end - onset, touches, tuplet, shake)
            for (onset, touches, tuplet, shake), end in zip(ordered, ends, strict=True)
        ],
        left,
    )


def _shaken(grid: Grid, cell: Cell) -> dict[int, Trembling]:
    """Where a pattern shakes its stroke."""
    return {
        start + slot.at * grid.count: slot.trembling
        for row, start in cell.rows
        if row
        for slot in row.slots
        if slot.trembling
    }


def _slurred(strokes: list[Stroke], left: LeftHand) -> tuple[Stroke, ...]:
    """Tells hammer-on, pull-off and slide apart by the fingers that are there."""
    last: dict[int, FrettedNote] = {}
    result = []
    for stroke in strokes:
        if stroke.slurred:
            stroke = stroke.with_notes(lambda note: slur_into(left, last[note.place.string], note))
        for note in stroke.notes:
            last[note.place.string] = note
        result.append(stroke)
    return tuple(result)


def _melody_note(grid: Grid, at: int, held: bool = False) -> FrettedNote:
    index = grid.sounding(at)
    spot, part = grid.spots[index], grid.context.segments[index]
    assert spot is not None and part.pitch is not None
    finger = grid.hand(at).fingers.get(spot.place.string, 0) if spot.place.fret else 0
    role = Role.FILL if part.fill else Role.MELODY
    return FrettedNote(spot.place, part.pitch, role, finger, held, part.grace, bend=part.bend)


def _touch(grid: Grid, strike: Strike, grip: Grip) -> Touch:
    """A grip with its notes: the melody's where it begins there, what the left hand holds on the other strings."""
    spot = grid.spots[strike.melody] if strike.melody >= 0 else None
    notes = []
    for string in grip.strings:
        if spot and string == spot.place.string:
            note = _melody_note(grid, strike.at)
        else:
            note = _beside(grid, strike.at, string)
        notes.append(replace(note, optional=True) if grip.optional else note)
    return Touch(grip.by, grip.way, tuple(notes), grip.loudness, grip.muted)


def _beside(grid: Grid, at: int, string: int) -> FrettedNote:
    """What a string sounds beside the melody."""
    context, held = grid.context, grid.hand(at)
    offered = grid.fillers(at, place_only=True).get(string)
    place = Place(string, offered.fret if offered else held.frets.get(string, 0))
    pitch = context.tones.name(context.setup.sounding_cents(place), context.key)
    finger = grid.finger(at, string) if place.fret else 0
    return FrettedNote(place, pitch, offered.role if offered else Role.CHORD, finger)


def _remarks(grid: Grid, cell: Cell) -> list[str]:
    context, said = grid.context, []
    for strike in cell.strikes:
        if strike.missed:
            place = beat_words(grid.time(strike.at), context.offset, context.bar.metre.unit)
            said.append(f"No {strike.missed} {place}: nothing there belongs to the chord.")
    return list(dict.fromkeys((*said, *context.out_of_tune)))
