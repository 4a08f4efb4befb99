"""Which way a pick goes in groups of three, where a school goes another way than the rows have it (common practice)."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.rows.hands import RightHand
from nailhead.core.arrange.values import Stroke, Way

_OTHER = {Way.DOWN: Way.UP, Way.UP: Way.DOWN}


def turned_in_threes(strokes: tuple[Stroke, ...], grid: Grid, right: RightHand) -> tuple[Stroke, ...]:
    """The strokes of groups of three as the hand's school goes: on through the bar, or up behind a quarter."""
    if not right.single.through and not right.single.quarter_up:
        return strokes
    flipped: set[int] = set()
    for low, size in grid.groups:
        if size != 3:
            continue
        inside = [
            ((grid.tick(stroke.onset) - low) / grid.count, place)
            for place, stroke in enumerate(strokes)
            if low <= grid.tick(stroke.onset) < low + size * grid.count and stroke.sounded
        ]
        if right.single.through and grid.place_in_bar(low) % 2:
            flipped ^= {place for _, place in inside}
        last = inside[-1][1] if [count for count, _ in inside] == [0, 2] else None
        if right.single.quarter_up and last is not None and _goes(strokes[last]) == {Way.DOWN}:
            flipped ^= {last}
    return tuple(_flipped(stroke) if place in flipped else stroke for place, stroke in enumerate(strokes))


def _goes(stroke: Stroke) -> Iterable[Way]:
    return {touch.way for touch in stroke.touches}


def _flipped(stroke: Stroke) -> Stroke:
    """The stroke the other way; what is shaken goes both ways anyhow."""
    if stroke.shake:
        return stroke
    return replace(
        stroke,
        touches=tuple(
            replace(touch, way=_OTHER[touch.way], notes=touch.notes[::-1]) if touch.way in _OTHER else touch
            for touch in stroke.touches
        ),
    )
