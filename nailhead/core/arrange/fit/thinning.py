"""Leaving out weak melody notes so that a solo's right hand can run on (rung 7, handbook §5)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.fit.moving import usual
from nailhead.core.arrange.left.context import BarContext, Segment

#: What leaving out one note costs, in points.
LEFT_OUT = 5


def thinned(context: BarContext) -> Iterator[tuple[BarContext, int, str]]:
    """The bar without its passing notes off the beat, then without those on weak beats too: (bar, cost, what is gone).

    Notes on strong beats stay, and so does anything that is longer than a pulse group, tied or in a triplet.
    """
    grid = Grid(context, usual(context).spots, {})
    strong = {onset - context.offset for onset in context.bar.metre.strong_onsets}
    weak_beats = {grid.time(low) for low, _ in grid.groups} - strong
    for gone, what in ((set[object](), "between the beats"), (weak_beats, "on weak beats")):
        kept: list[Segment] = []
        dropped = 0
        for at, part in zip(grid.starts, context.segments, strict=True):
            between = at not in grid.beats and bool(grid.beats)
            weak = part.onset not in strong and (between or part.onset in gone)
            short = part.duration <= grid.clock.count * 2
            if kept and weak and short and part.spot and not part.held and not part.fill and not part.tuplet:
                before = kept[-1]
                if before.spot is not None and before.tuplet is None and not before.fill:
                    kept[-1] = replace(before, duration=before.duration + part.duration)
                    dropped += 1
                    continue
            kept.append(part)
        if dropped:
            notes = f"{dropped} melody note{'s' * (dropped > 1)}"
            yield replace(context, segments=tuple(kept)), LEFT_OUT * dropped, f"Leaves out {notes} {what}."
