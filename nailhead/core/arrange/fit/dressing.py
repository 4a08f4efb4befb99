"""What the left hand and a free finger add to a bar that is laid out, rung by rung."""

from __future__ import annotations

from nailhead.core.arrange.fit.doubling import with_double_stops
from nailhead.core.arrange.fit.gracing import with_bend, with_graces, with_short_slides, with_slow_slides
from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.fit.harmonics import with_harmonic
from nailhead.core.arrange.fit.leading import with_blue_thirds
from nailhead.core.arrange.fit.parallels import with_parallels
from nailhead.core.arrange.fit.rolling import with_rolled_end
from nailhead.core.arrange.fit.trilling import with_trills
from nailhead.core.arrange.rows.hands import Adds, Idiom
from nailhead.core.arrange.values import Stroke


def dressed(
    strokes: tuple[Stroke, ...], grid: Grid, idiom: Idiom, rung: int, before: int, most: int, far: bool, pulls: bool
) -> tuple[Stroke, ...]:
    """The strokes with slow slides, at most `most` graces, blue notes, trills and second notes, as the rung has them.

    `before` are the fingers (as bits) that strike just before the bar; `far` lets fingers pinch an octave apart, and
    takes the beat in the middle of a bar for a strong one; with `pulls` graces lead into open notes too.
    """
    context, left, right = grid.context, idiom.left, idiom.right
    metre = context.bar.metre
    middle = {metre.length / 2} & set(metre.beat_onsets) if far else set()
    strong = tuple(onset - context.offset for onset in {*metre.strong_onsets, *middle})
    if idiom.has(Adds.SLURS, rung):
        strokes = with_slow_slides(strokes, grid.clock.count, left)
    if idiom.has(Adds.MOVES, rung):
        strokes = with_bend(with_blue_thirds(strokes, grid, left), grid, left, right)
    if idiom.has(Adds.SLURS, rung):
        strokes = with_graces(strokes, grid, strong, left, right, most, idiom.has(Adds.MOVES, rung), pulls)
    if left.short_slides and idiom.has(Adds.MOVES, rung):
        beats = frozenset(onset - context.offset for onset in metre.beat_onsets)
        strokes = with_short_slides(strokes, grid, beats, left)
    if idiom.has(Adds.MOVES, rung):
        strokes = with_trills(strokes, grid, left)
        strokes = with_parallels(strokes, grid, left)
        strokes = with_rolled_end(strokes, grid) if right.chords_plucked else strokes
    if idiom.has(Adds.DOUBLES, rung):
        strokes = with_double_stops(strokes, grid, right, strong, before, far)
    elif idiom.has(Adds.SHAPES, rung):
        first = tuple(part.onset for part in context.segments if part.spot)[:1]
        strokes = with_double_stops(strokes, grid, right, first, before)
    return with_harmonic(strokes, grid, right) if left.harmonics and idiom.has(Adds.MOVES, rung) else strokes
