"""Why a bar plays less than its rung would: said once in words, counted over many tunes."""

from __future__ import annotations

from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.rows.hands import Adds, Idiom
from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.music.structure import beat_words

#: From the rung of flow on something is struck within so many of a bar's counts at least.
FULL = 0.85


def why_plainer(grid: Grid, bar: ArrangedBar, rung: int, idiom: Idiom) -> str:
    """The reason, or "" where the bar is as full as its rung asks.

    Up to the fourth rung every pulse group of a held note wants a stroke; from flow on nearly every count does.
    """
    if rung < 2 or grid.context.stops:
        return ""
    flows = idiom.has(Adds.FLOW, rung)
    struck = {grid.tick(stroke.onset) for stroke in bar.strokes if stroke.sounded}
    left_out = next((remark for remark in bar.remarks if remark.startswith("No ")), "")
    for low, size in grid.groups:
        high = low + size * grid.count
        window = grid.window(low, high)
        if not any(low <= at < high for at in struck) and not (window.silent and not flows):
            where = beat_words(grid.time(low), grid.context.offset, grid.context.bar.metre.unit)
            why = "shorter notes stand there" if window.off_clock else "no pattern fits what sounds there"
            return left_out or f"The note rings on {where}: {why}."
    counts = sum(size for _, size in grid.groups)
    moving = {at // grid.count for at in struck}
    if flows and len(moving) < FULL * counts:
        return left_out or "Melody notes off the beat leave the right hand no room for more."
    return ""
