"""Why a bar plays less than its rung would: said once in words, counted over many tunes."""

from __future__ import annotations

from collections.abc import Sequence

from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.rows.hands import Adds, Idiom
from nailhead.core.arrange.rows.patterns import Pattern
from nailhead.core.arrange.values import ArrangedBar, Stroke
from nailhead.core.music.structure import beat_words

#: The patterns of a bar (None: notes by themselves) with the ticks they begin at.
Rows = Sequence[tuple[Pattern | None, int]]
#: From the rung of flow on something is struck within so many of a bar's counts at least.
FULL = 0.85


def why_plainer(grid: Grid, bar: ArrangedBar, rows: Rows, rung: int, idiom: Idiom) -> str:
    """The reason, or "" where the bar is as full as its rung asks.

    Up to the fourth rung every pulse group of a held note wants a stroke, unless one of the `rows` lets it ring there;
    from flow on nearly every count does. A stroke that is shaken fills its time.
    """
    if rung < 2 or grid.context.stops:
        return ""
    flows = idiom.has(Adds.FLOW, rung)
    struck = {at for stroke in bar.strokes if stroke.sounded for at in _filled(stroke, grid)}
    rings = {
        low for row, start in rows if row for low, _ in grid.groups if start < low < start + row.counts * grid.count
    }
    left_out = next((remark for remark in bar.remarks if remark.startswith("No ")), "")
    for low, size in grid.groups:
        high = low + size * grid.count
        window = grid.window(low, high)
        rests = window.silent and not flows and not idiom.has(Adds.RESTS, rung)
        if not any(low <= at < high for at in struck) and not rests and (flows or low not in rings):
            where = beat_words(grid.time(low), grid.context.offset, grid.context.bar.metre.unit)
            why = "shorter notes stand there" if window.off_clock else "no pattern fits what sounds there"
            return left_out or f"The note rings on {where}: {why}."
    counts = sum(size for _, size in grid.groups)
    moving = {at // grid.count for at in struck}
    if flows and len(moving) < FULL * counts:
        return left_out or "Melody notes off the beat leave the right hand no room for more."
    return ""


def _filled(stroke: Stroke, grid: Grid) -> list[int]:
    """The ticks on which a stroke is heard anew, counted in counts where it is shaken."""
    at, end = grid.tick(stroke.onset), grid.tick(stroke.end)
    return list(range(at, max(end, at + 1), grid.count)) if stroke.shake and stroke.shake.fills else [at]
