"""Natural harmonics: the last note of a tune, touched where the neck has its pitch over a node of a string."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from nailhead.core.arrange.fit.gracing import LITTLE, lasts
from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.rows.hands import RightHand
from nailhead.core.arrange.values import FrettedNote, Role, Stroke, Touch
from nailhead.core.fretboard.harmonics import harmonics_of

#: A note is held that lasts so many counts, or a whole group of three (common practice).
HELD, IN_THREES = 4, 3
WHY = "it rings as a harmonic there"


def with_harmonic(strokes: tuple[Stroke, ...], grid: Grid, right: RightHand) -> tuple[Stroke, ...]:
    """The last melody note of the tune as a harmonic, where it is held, what is struck with it is open, and its finger
    reaches the string. It rings on by itself: what was struck behind it is left out.
    """
    at = max((at for at, stroke in enumerate(strokes) if _sung(stroke)), default=-1)
    if at < 0 or grid.context.bar.barline != "final":
        return strokes
    stroke, note = strokes[at], _sung(strokes[at])
    assert note is not None
    held = IN_THREES if grid.size(grid.tick(stroke.onset)) == IN_THREES else HELD
    touch = next(touch for touch in stroke.touches if note in touch.notes)
    grace = note.slur is None or note.slur.grace
    plain = stroke.tuplet is None and grace and not note.bend and touch.struck and len(touch.notes) == 1
    if not plain or lasts(strokes, at) < held * grid.clock.count:
        return strokes
    beside = [other for other in stroke.notes if other is not note]
    if any(other.place.fret for other in beside):
        return strokes
    place = next(
        (
            place
            for place in harmonics_of(grid.context.setup, grid.context.setup.cents_of(note.pitch))
            if all(other.place.string != place.string for other in beside)
            and _reached(strokes, at, touch, place.string, grid, right)
        ),
        None,
    )
    if place is None:
        return strokes
    touched = replace(note, place=place, finger=_free(strokes, at), slur=None, harmonic=True)
    new = stroke.with_notes(lambda one: touched if one is note else one)
    return (*strokes[:at], replace(new, duration=strokes[-1].end - stroke.onset))


def _sung(stroke: Stroke) -> FrettedNote | None:
    """The melody note that begins."""
    return next((note for note in stroke.notes if note.role is Role.MELODY and not note.held), None)


def _reached(strokes: Sequence[Stroke], at: int, touch: Touch, string: int, grid: Grid, right: RightHand) -> bool:
    """Does the melody's finger come to a string, and across no other that strikes with it or a count away?"""
    order = right.follows.order
    if touch.by is None or string not in right.lines[touch.by] or touch.by not in order:
        return False
    for other in strokes[: at + 1]:
        if strokes[at].onset - other.onset > grid.clock.count:
            continue
        for beside in other.touches:
            if beside is touch or beside.by not in order or not beside.notes:
                continue
            apart = order.index(beside.by) - order.index(touch.by)
            if (beside.notes[0].place.string - string) * apart > 0:
                return False
    return True


def _free(strokes: Sequence[Stroke], at: int) -> int:
    """A finger that stops nothing on the way, the ring finger before the others."""
    busy = {note.finger for stroke in strokes[max(0, at - 1) : at] for note in stroke.notes if note.place.fret}
    return next((finger for finger in (LITTLE - 1, LITTLE, 2) if finger not in busy), LITTLE)
