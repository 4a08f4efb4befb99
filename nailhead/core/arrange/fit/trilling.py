"""Trills on held notes: the left hand goes to and fro between the melody's fret and one above it."""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.fit.gracing import lasts, scale_fret_above
from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.rows.left_hand import LeftHand, Trill
from nailhead.core.arrange.values import Role, Shake, Stroke, Trembling

#: A note is held that lasts so many counts, or a whole group of three (common practice).
HELD, IN_THREES = 4, 3


def with_trills(strokes: tuple[Stroke, ...], grid: Grid, left: LeftHand) -> tuple[Stroke, ...]:
    """The stroke that begins each held melody note, trilled with the note above it; slurs and bends stay alone."""
    if left.trill is None:
        return strokes
    return tuple(_trilled(strokes, index, grid, left) for index in range(len(strokes)))


def _trilled(strokes: tuple[Stroke, ...], index: int, grid: Grid, left: LeftHand) -> Stroke:
    stroke = strokes[index]
    note = next((note for note in stroke.notes if note.role is Role.MELODY and not note.held), None)
    if note is None or not stroke.struck or stroke.shake or stroke.tuplet or note.slur or note.bend:
        return stroke
    if lasts(strokes, index) < _held(stroke, grid) * grid.clock.count:
        return stroke
    if grid.context.cadence and stroke.onset + lasts(strokes, index) == strokes[-1].end:
        return stroke  # what closes a phrase stands still
    fret = scale_fret_above(note, grid, left.trill_cents, every=left.trill is Trill.FRET)
    return stroke if fret is None else replace(stroke, shake=Shake(Trembling.TRILL, fret))


def _held(stroke: Stroke, grid: Grid) -> int:
    """How many counts a note must last here."""
    at = grid.tick(stroke.onset)
    size = next((size for low, size in grid.groups if low == at), 0)
    return IN_THREES if size == IN_THREES else HELD
