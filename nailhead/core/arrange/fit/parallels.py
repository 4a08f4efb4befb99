"""Parallels: an open course doubles the melody at the same fret, as two fingers moved as one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.rows.left_hand import LeftHand
from nailhead.core.arrange.values import FrettedNote, Role, Stroke, Touch
from nailhead.core.fretboard.setup import Place


def with_parallels(strokes: tuple[Stroke, ...], grid: Grid, left: LeftHand) -> tuple[Stroke, ...]:
    """The strokes with a second note under each stopped melody note that is struck through open courses.

    A course takes part that at the melody's fret lies an interval of `left.parallels` below it, on a note of the
    scale. It stands for a grace; where anything else is stopped, or the note is shaken, the shape is left as it is.
    """
    if not left.parallels:
        return strokes
    return tuple(
        stroke if stroke.shake else replace(stroke, touches=tuple(_doubled(one, grid, left) for one in stroke.touches))
        for stroke in strokes
    )


def _doubled(touch: Touch, grid: Grid, left: LeftHand) -> Touch:
    melody = next((note for note in touch.notes if note.role is Role.MELODY and not note.held), None)
    if melody is None or not touch.struck or not melody.place.fret or (melody.slur and not melody.slur.grace):
        return touch
    others = [note for note in touch.notes if note is not melody]
    if any(note.place.fret for note in others):
        return touch
    second = next((found for note in others if (found := _moved_along(note, melody, grid, left.parallels))), None)
    if second is None:
        return touch
    # At one fret the bass course has the lower finger.
    finger = max(2, melody.finger)
    changed = {
        melody.place.string: replace(melody, finger=finger, slur=None),
        second.place.string: replace(second, finger=finger - 1),
    }
    return replace(touch, notes=tuple(changed.get(note.place.string, note) for note in touch.notes))


def _moved_along(
    note: FrettedNote, melody: FrettedNote, grid: Grid, intervals: Sequence[tuple[int, int]]
) -> FrettedNote | None:
    """The note's course at the melody's fret, if it sounds well there."""
    context = grid.context
    place = Place(note.place.string, melody.place.fret)
    if place.fret > context.setup.string(place.string).last_fret:
        return None
    cents = context.setup.sounding_cents(place)
    apart = context.setup.sounding_cents(melody.place) - cents
    if not any(low <= apart <= high for low, high in intervals) or not context.tones.in_scale(cents, context.key):
        return None
    return replace(note, place=place, pitch=context.tones.name(cents, context.key), role=Role.CHORD)
