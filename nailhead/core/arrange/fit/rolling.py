"""The last chord of a part, rolled from the bass to the treble where fingers pluck it (common practice)."""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.fit.gracing import lasts
from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.values import FrettedNote, Role, Shake, Stroke, Trembling

#: So many strings make a chord, and so many counts give it time.
CHORD, LONG = 3, 3


def with_rolled_end(strokes: tuple[Stroke, ...], grid: Grid) -> tuple[Stroke, ...]:
    """The strokes of a bar that ends a part, its last melody note's chord rolled where it is long enough."""
    bar = grid.context.bar
    if not bar.closes_repeat and bar.barline not in ("double", "final"):
        return strokes
    at = max((at for at, stroke in enumerate(strokes) if any(map(_begins, stroke.notes))), default=-1)
    if at < 0 or len(strokes[at].touches) < CHORD or strokes[at].shake:
        return strokes
    if lasts(strokes, at) < LONG * grid.clock.count:
        return strokes
    return (*strokes[:at], replace(strokes[at], shake=Shake(Trembling.ROLLED)), *strokes[at + 1 :])


def _begins(note: FrettedNote) -> bool:
    return note.role is Role.MELODY and not note.held
