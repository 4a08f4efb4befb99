"""The ladder as marks: phrases of bars, each bar on every rung in one shared column."""

from __future__ import annotations

from dataclasses import dataclass

from nailhead.core.arrange.ladder import Ladder
from nailhead.core.arrange.values import ArrangedBar
from nailhead.sheet.columns import Column, column_for, with_room
from nailhead.sheet.marks import Mark
from nailhead.sheet.style import Style
from nailhead.sheet.tab import TabPainter

STYLE = Style()
#: Room above the first and below the last string of a cell, in gaps.
ABOVE, BELOW = 1.15, 4.9
HEAD_ABOVE = 3.4
#: Phrases are widened to a common line of this many mm, but no bar by more than the factor.
LINE, WIDEN = 172.0, 1.42


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
    painter = TabPainter(STYLE, strings, fret_name=ladder.fit.setup.fret_name)
    phrases = []
    natural = [
        [_natural(ladder, painter, index) for index in range(start, stop)] for start, stop in ladder.structure.phrases
    ]
    line = max([LINE, *(sum(column.width for column in row) for row in natural)])
    for (start, _), row in zip(ladder.structure.phrases, natural, strict=True):
        factor = min(WIDEN, line / sum(column.width for column in row))
        columns = tuple(_column(ladder, painter, start + at, column.stretched(factor)) for at, column in enumerate(row))
        phrases.append(LadderPhrase(columns, sum(column.width for column in columns)))
    top = ABOVE * STYLE.gap
    height = top + STYLE.staff_height(strings) + BELOW * STYLE.gap
    return LadderLayout(tuple(phrases), height, top, HEAD_ABOVE * STYLE.gap)


def _natural(ladder: Ladder, painter: TabPainter, index: int) -> Column:
    """The shared column of all rungs of a bar, with room for its repeat signs."""
    written = ladder.tune.bars[index]
    extra = (1.1 if written.opens_repeat else 0.0) * STYLE.gap
    column = column_for([rung[index] for rung in ladder.rungs], STYLE, extra)
    column = with_room(column, painter.room_needed(written, ladder.fit.shape_fifths, with_words=False))
    closing = (0.8 if written.closes_repeat else 0.0) * STYLE.gap
    return Column(column.times, column.places, column.width + closing)


def _column(ladder: Ladder, painter: TabPainter, index: int, column: Column) -> BarColumn:
    written = ladder.tune.bars[index]
    bars = [rung[index] for rung in ladder.rungs]
    cells = tuple(
        (
            *painter.staff(column.width),
            *painter.left_line(written),
            *painter.notes(bar, column, written.metre, ladder.structure.offsets[index]),
            *painter.right_line(written, column.width),
        )
        for bar in bars
    )
    fifths = ladder.fit.shape_fifths
    head = painter.chords(written, column, fifths, ladder.chords_suggested)
    return BarColumn(index, column.width, tuple(head), cells)


@dataclass(frozen=True)
class LoneCell:
    """One bar by itself, in its natural width (mm)."""

    width: float
    marks: tuple[Mark, ...]


def layout_cell(ladder: Ladder, index: int, bar: ArrangedBar) -> LoneCell:
    """Written bar `index` as another arrangement plays it, drawn by itself."""
    painter = TabPainter(STYLE, ladder.fit.setup.instrument.strings, fret_name=ladder.fit.setup.fret_name)
    written = ladder.tune.bars[index]
    column = column_for([bar], STYLE)
    marks = (
        *painter.staff(column.width),
        *painter.notes(bar, column, written.metre, ladder.structure.offsets[index]),
        *painter.right_line(written, column.width),
    )
    return LoneCell(column.width, marks)
