"""The ladder as marks: phrases of bars, each bar on every rung in one shared column."""

from __future__ import annotations

from dataclasses import dataclass

from nailhead.core.arrange.fit.ladder import Frame, Ladder
from nailhead.core.arrange.teacher.cells import fresh_notes
from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.music.metre import Time
from nailhead.sheet.barlines import left_line, right_line
from nailhead.sheet.columns import Column, column_for, with_room
from nailhead.sheet.marks import Line, Mark, moved
from nailhead.sheet.slurs import slur_needs
from nailhead.sheet.style import Style
from nailhead.sheet.tab import TabOptions, TabPainter, painter_of

STYLE = Style()
USUAL_TAB = TabOptions()
#: Room above the first and below the last string of a cell, in gaps.
ABOVE, BELOW = 1.1, 4.4
HEAD_ABOVE = 3.4
#: Phrases are widened to a common line of this many mm, but no bar by more than the factor.
LINE, WIDEN = 232.0, 1.85


@dataclass(frozen=True)
class BarColumn:
    """One written bar of a phrase: `head` holds its chords; `cells[r - 1]` its marks on rung r.

    `fresh[r - 1]` are the middles (x, y) of the notes that rung r strikes and the rung below does not.
    """

    index: int
    width: float
    head: tuple[Mark, ...]
    cells: tuple[tuple[Mark, ...], ...]
    fresh: tuple[tuple[tuple[float, float], ...], ...]


@dataclass(frozen=True)
class LadderPhrase:
    """Bars side by side; `width` is their sum in mm."""

    columns: tuple[BarColumn, ...]
    width: float


@dataclass(frozen=True)
class LadderFrame:
    """Where every bar of a ladder stands: the columns of each phrase, from written bar `starts[k]` on.

    A cell is `cell_height` high, its first string line at `cell_top` (mm); so the heads.
    """

    starts: tuple[int, ...]
    columns: tuple[tuple[Column, ...], ...]
    cell_height: float
    cell_top: float
    head_height: float

    def width(self, phrase: int) -> float:
        return sum(column.width for column in self.columns[phrase])


def frame_ladder(ladder: Ladder) -> LadderFrame:
    """The columns of every phrase, without a mark yet: what a screen needs to leave room."""
    strings = ladder.fit.setup.instrument.strings
    painter = painter_of(ladder, STYLE)
    natural = [
        [_natural(ladder, painter, index) for index in range(start, stop)] for start, stop in ladder.structure.phrases
    ]
    line = max([LINE, *(sum(column.width for column in row) for row in natural)])
    columns = []
    for row in natural:
        factor = min(WIDEN, line / sum(column.width for column in row))
        columns.append(tuple(column.stretched(factor) for column in row))
    top = ABOVE * STYLE.gap
    height = top + STYLE.staff_height(strings) + BELOW * STYLE.gap
    starts = tuple(start for start, _ in ladder.structure.phrases)
    return LadderFrame(starts, tuple(columns), height, top, HEAD_ABOVE * STYLE.gap)


def layout_phrase(ladder: Ladder, frame: LadderFrame, phrase: int) -> LadderPhrase:
    """Every cell of one phrase; the beats of a bar stand above one another on all rungs."""
    painter = painter_of(ladder, STYLE)
    columns = tuple(
        _column(ladder, painter, frame.starts[phrase] + at, column) for at, column in enumerate(frame.columns[phrase])
    )
    return LadderPhrase(columns, frame.width(phrase))


def _natural(ladder: Ladder, painter: TabPainter, index: int) -> Column:
    """The shared column of all rungs of a bar, with room for its repeat signs."""
    written = ladder.tune.bars[index]
    extra = (1.1 if written.opens_repeat else 0.0) * STYLE.gap
    column = column_for([rung[index] for rung in ladder.rungs], STYLE, extra)
    column = with_room(column, painter.room_needed(written, ladder.fit.shape_fifths, with_words=False))
    for rung in ladder.rungs:
        column = with_room(column, slur_needs(rung[index], STYLE, fingers=False))
    closing = (0.8 if written.closes_repeat else 0.0) * STYLE.gap
    return Column(column.times, column.places, column.width + closing)


def _column(ladder: Ladder, painter: TabPainter, index: int, column: Column) -> BarColumn:
    written = ladder.tune.bars[index]
    bars = [rung[index] for rung in ladder.rungs]
    cells = tuple(marks_in(ladder, bar, index, column) for bar in bars)
    fifths = ladder.fit.shape_fifths
    head = painter.chords(written, column, fifths, ladder.chords_suggested)
    fresh = tuple(
        tuple((column.x(stroke.onset), painter.y(note.place.string)) for stroke, note in fresh_notes(bar, below))
        for bar, below in zip(bars, [None, *bars], strict=False)
    )
    return BarColumn(index, column.width, tuple(head), cells, fresh)


def marks_in(ladder: Ladder, bar: ArrangedBar, index: int, column: Column) -> tuple[Mark, ...]:
    """A bar of this ladder drawn in a column of another one of the same tune, beat under beat."""
    painter = painter_of(ladder, STYLE)
    written = ladder.tune.bars[index]
    return (
        *painter.staff(column.width),
        *left_line(written, STYLE, painter.span),
        *painter.notes(bar, column, written, ladder.structure.offsets[index]),
        *right_line(written, STYLE, painter.span, column.width),
    )


@dataclass(frozen=True)
class Strip:
    """Bars in a row; string 1 lies `top` mm under the upper edge."""

    width: float
    top: float
    height: float
    marks: tuple[Mark, ...]


def layout_strip(ladder: Ladder, frame: Frame) -> Strip:
    """The bars before or after a solo, with their chords."""
    painter = painter_of(ladder, STYLE)
    fifths = ladder.fit.shape_fifths
    marks: list[Mark] = [Line(0, 0, 0, STYLE.staff_height(painter.strings), 2 * STYLE.thin)]
    x = 0.0
    for written, bar in zip(frame.tune.bars, frame.bars, strict=True):
        column = with_room(column_for([bar], STYLE), painter.room_needed(written, fifths, with_words=False))
        column = with_room(column, slur_needs(bar, STYLE, fingers=False))
        placed = [
            *painter.staff(column.width),
            *painter.notes(bar, column, written, Time(0)),
            *right_line(written, STYLE, painter.span, column.width),
            *painter.chords(written, column, fifths, ladder.chords_suggested),
        ]
        marks += moved(placed, x, 0)
        x += column.width
    top = HEAD_ABOVE * STYLE.gap
    return Strip(x, top, top + STYLE.staff_height(painter.strings) + BELOW * STYLE.gap, tuple(marks))


@dataclass(frozen=True)
class LoneCell:
    """One bar by itself, in its natural width (mm); `column` says where its moments stand."""

    width: float
    marks: tuple[Mark, ...]
    column: Column


def layout_cell(ladder: Ladder, index: int, bar: ArrangedBar, options: TabOptions = USUAL_TAB) -> LoneCell:
    """Written bar `index` as another arrangement plays it, drawn by itself."""
    painter = painter_of(ladder, STYLE, options)
    written = ladder.tune.bars[index]
    column = column_for([bar], STYLE)
    column = with_room(column, slur_needs(bar, STYLE, options.fingers))
    marks = (
        *painter.staff(column.width),
        *painter.notes(bar, column, written, ladder.structure.offsets[index]),
        *right_line(written, STYLE, painter.span, column.width),
    )
    return LoneCell(column.width, marks, column)
