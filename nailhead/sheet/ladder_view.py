"""The ladder as marks: phrases of bars, each bar on every rung in one shared column."""

from __future__ import annotations

from dataclasses import dataclass

from nailhead.core.arrange.ladder import Ladder
from nailhead.sheet.columns import Column, column_for
from nailhead.sheet.marks import Mark
from nailhead.sheet.style import Style
from nailhead.sheet.tab import TabPainter

STYLE = Style()
#: Room above the first and below the last string of a cell, in gaps.
ABOVE, BELOW = 1.15, 4.75
HEAD_ABOVE = 3.4


@dataclass(frozen=True)
class BarColumn:
    """One written bar of a phrase: `head` holds its chords; `cells[r - 1]` its marks on rung r."""

    index: int
    width: float
    head: tuple[Mark, ...]
    cells: tuple[tuple[Mark, ...], ...]


@dataclass(frozen=True)
class LadderPhrase:
    """Bars side by side; `width` is their sum in mm."""

    columns: tuple[BarColumn, ...]
    width: float


@dataclass(frozen=True)
class LadderLayout:
    """All phrases. A cell is `cell_height` high, its first string line at `cell_top` (mm); so the heads."""

    phrases: tuple[LadderPhrase, ...]
    cell_height: float
    cell_top: float
    head_height: float


def layout_ladder(ladder: Ladder) -> LadderLayout:
    """Lay out every cell of a ladder; the beats of a bar stand above one another on all rungs."""
    strings = ladder.fit.setup.instrument.strings
    painter = TabPainter(STYLE, strings)
    phrases = []
    for start, stop in ladder.structure.phrases:
        columns = tuple(_column(ladder, painter, index) for index in range(start, stop))
        phrases.append(LadderPhrase(columns, sum(column.width for column in columns)))
    top = ABOVE * STYLE.gap
    height = top + STYLE.staff_height(strings) + BELOW * STYLE.gap
    return LadderLayout(tuple(phrases), height, top, HEAD_ABOVE * STYLE.gap)


def _column(ladder: Ladder, painter: TabPainter, index: int) -> BarColumn:
    written = ladder.tune.bars[index]
    extra = (1.1 if written.opens_repeat else 0.0) * STYLE.gap
    bars = [rung[index] for rung in ladder.rungs]
    column = column_for(bars, STYLE, extra)
    column = Column(column.times, column.places, column.width + (0.8 if written.closes_repeat else 0.0) * STYLE.gap)
    cells = tuple(
        (
            *painter.staff(column.width),
            *painter.left_line(written),
            *painter.notes(bar, column, written.metre),
            *painter.right_line(written, column.width),
        )
        for bar in bars
    )
    fifths = ladder.fit.shape_fifths
    head = painter.chords(written, column, fifths, ladder.chords_suggested)
    return BarColumn(index, column.width, tuple(head), cells)
