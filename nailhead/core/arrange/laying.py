"""Lays a chosen cell out as a bar: strokes with their notes, fingers, shapes that are really used, remarks."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

from nailhead.core.arrange.fitting import Cell
from nailhead.core.arrange.grid import Grid
from nailhead.core.arrange.offering import Strike
from nailhead.core.arrange.patterns import Want
from nailhead.core.arrange.righthand import RightHand
from nailhead.core.arrange.slurs import slur_into
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Hand, HeldShape, Role, Stroke
from nailhead.core.fretboard.setup import Place
from nailhead.core.fretboard.shapes import Shape
from nailhead.core.music.key import spell
from nailhead.core.music.structure import HarmonySpan, beat_words

_WANTED = {Want.DRONE: "fifth string", Want.BRUSH: "brush", Want.PINCH: "pinch"}


#: Adds ornaments to the strokes of a grid.
Dress = Callable[[tuple[Stroke, ...], Grid], tuple[Stroke, ...]]


def lay_out(grid: Grid, cell: Cell, rung: int, right: RightHand, dress: Dress) -> ArrangedBar:
    """The bar of a cell. Shapes of which nothing is struck are not held."""
    strokes = dress(_strokes(grid, cell, right), grid)
    used = _used_shapes(grid, strokes)
    if len(used) < len(grid.shapes):
        grid = Grid(grid.context, grid.spots, used)
        strokes = dress(_strokes(grid, cell, right), grid)
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
    return any(strike.melody < 0 and strike.hand and low <= strike.at < high for strike in cell.strikes)


def _used_shapes(grid: Grid, strokes: tuple[Stroke, ...]) -> dict[HarmonySpan, Shape]:
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
        if struck & {Place(string, fret) for string, fret in shape.frets}:
            used[span] = shape
    return used


def _strokes(grid: Grid, cell: Cell, right: RightHand) -> tuple[Stroke, ...]:
    """Strikes, held notes and rests in order, each lasting until the next."""
    context, count = grid.context, grid.clock.count
    found: dict[int, Stroke] = {}
    for start, part in zip(grid.starts, context.segments, strict=True):
        if part.spot is None:
            found[start] = Stroke(part.onset, part.duration, tuplet=part.tuplet)
        elif part.held:
            note = _melody_note(grid, start, held=True)
            found[start] = Stroke(part.onset, part.duration, (note,), None, part.tuplet)
    for strike in cell.strikes:
        if strike.hand is None:
            continue
        tuplet = context.segments[strike.melody].tuplet if strike.melody >= 0 else None
        notes = _notes(grid, strike, right)
        found[strike.at] = Stroke(grid.time(strike.at), count, notes, strike.hand, tuplet)
    ordered = [found[at] for at in sorted(found)]
    ends = [stroke.onset for stroke in ordered[1:]] + [context.bar.length]
    closed = [replace(stroke, duration=end - stroke.onset) for stroke, end in zip(ordered, ends, strict=True)]
    return _slurred(closed)


def _slurred(strokes: list[Stroke]) -> tuple[Stroke, ...]:
    """Tells hammer-on, pull-off and slide apart by the fingers that are there."""
    last: dict[int, FrettedNote] = {}
    result = []
    for stroke in strokes:
        if stroke.hand is Hand.LEFT:
            (note,) = stroke.notes
            stroke = replace(stroke, notes=(slur_into(last[note.place.string], note),))
        for note in stroke.notes:
            last[note.place.string] = note
        result.append(stroke)
    return tuple(result)


def _melody_note(grid: Grid, at: int, held: bool = False) -> FrettedNote:
    index = grid.sounding(at)
    spot, part = grid.spots[index], grid.context.segments[index]
    assert spot is not None and part.pitch is not None
    finger = grid.hand(at).fingers.get(spot.place.string, 0) if spot.place.fret else 0
    return FrettedNote(spot.place, part.pitch, Role.FILL if part.fill else Role.MELODY, finger, held)


def _notes(grid: Grid, strike: Strike, right: RightHand) -> tuple[FrettedNote, ...]:
    if strike.melody >= 0:
        return (_melody_note(grid, strike.at),)
    offered, fingers = grid.fillers(strike.at), grid.hand(strike.at).fingers
    notes = []
    for string in strike.strings:
        place = Place(string, offered[string].fret)
        pitch = spell(grid.context.setup.sounding_cents(place), grid.context.key)
        finger = fingers.get(string, 0) if place.fret else 0
        notes.append(FrettedNote(place, pitch, offered[string].role, finger))
    if strike.hand is Hand.PINCH:
        by = _pinching(right, strike.strings)
        notes = [replace(note, by=by[note.place.string]) for note in notes]
    return tuple(notes)


def _pinching(right: RightHand, strings: tuple[int, ...]) -> Mapping[int, Hand]:
    low, high = next(pair for pair in right.pinches if (pair[0][1], pair[1][1]) == strings)
    return {low[1]: low[0], high[1]: high[0]}


def _remarks(grid: Grid, cell: Cell) -> list[str]:
    context, said = grid.context, []
    for strike in cell.strikes:
        if strike.hand is None and strike.wanted in _WANTED:
            place = beat_words(grid.time(strike.at), context.offset, context.bar.metre.unit)
            said.append(f"No {_WANTED[strike.wanted]} {place}: nothing there belongs to the chord.")
    return list(dict.fromkeys(said))
