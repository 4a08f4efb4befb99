"""Two papers for teaching: several rungs of a phrase under one another, and the contents of a packet of sheets."""

from __future__ import annotations

from collections.abc import Sequence

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.errors import PathError
from nailhead.sheet.barlines import left_line, right_line
from nailhead.sheet.columns import column_for, with_room
from nailhead.sheet.legend import legend_rows
from nailhead.sheet.marks import Face, Ink, Mark, Text, moved
from nailhead.sheet.options import PAPERS, SheetOptions
from nailhead.sheet.page import MARGIN, Page, Sheet, footer, layout_heading
from nailhead.sheet.setting import measure
from nailhead.sheet.slurs import slur_needs
from nailhead.sheet.tab import TabPainter, painter_of

#: Room for the names of the rungs, and how much wider than natural a phrase is set at most.
NAMES, WIDEST = 22.0, 1.6
_HEAD, _ROW_ABOVE, _ROW_BELOW, _AFTER = 5.0, 1.2, 4.5, 5.0


def layout_handout(ladder: Ladder, rungs: Sequence[int], phrases: Sequence[int], options: SheetOptions) -> Sheet:
    """Chosen rungs of chosen phrases, the easiest on top, their beats aligned. A phrase is never parted.

    Raises PathError where a rung or a phrase is not there.
    """
    known = range(len(ladder.structure.phrases))
    if not rungs or not phrases or any(phrase not in known for phrase in phrases):
        raise PathError(
            "The hand-out has no such phrase.", field="phrases", remedy=f"Choose rungs, and phrases 1 to {len(known)}."
        )
    for rung in rungs:
        ladder.cell(0, rung)
    width, height = PAPERS[options.paper]
    pages: list[list[Mark]] = [
        layout_heading(ladder, width, f"Rungs {', '.join(map(str, sorted(set(rungs))))}", options)
    ]
    y = MARGIN + 24.0
    painter = painter_of(ladder, options.style, options.tab)
    for phrase in dict.fromkeys(phrases):
        marks, tall = _phrase(ladder, painter, phrase, sorted(set(rungs)), width - 2 * MARGIN, options)
        if y + tall > height - MARGIN - 6.0 and y > MARGIN + 24.0:
            pages.append([])
            y = MARGIN + 4.0
        pages[-1] += moved(marks, MARGIN, y)
        y += tall
    y -= _AFTER
    bars = [ladder.cell(index, rung) for rung in rungs for index in range(len(ladder.tune.bars))]
    legend = legend_rows(ladder, bars, painter, width - 2 * MARGIN, options.key)
    if y + 5.2 * len(legend) + 4.0 > height - MARGIN - 6.0:
        pages.append([])
        y = MARGIN + 4.0
    for row, signs in enumerate(legend):
        pages[-1] += moved(signs, MARGIN, y + 4.0 + 5.2 * row)
    for number, page in enumerate(pages, start=1):
        page += footer(ladder.tune.title, f"page {number} of {len(pages)}", width, height)
    return Sheet(ladder.tune.title, options.paper, width, height, tuple(Page(tuple(page)) for page in pages))


def _phrase(
    ladder: Ladder, painter: TabPainter, phrase: int, rungs: Sequence[int], line: float, options: SheetOptions
) -> tuple[list[Mark], float]:
    """The marks of a phrase on all its rungs from y = 0, and its height."""
    gap, fifths = options.style.gap, ladder.fit.shape_fifths
    start, stop = ladder.structure.phrases[phrase]
    columns = []
    for index in range(start, stop):
        written = ladder.tune.bars[index]
        extra = (1.1 if written.opens_repeat else 0.0) * gap
        column = column_for([ladder.cell(index, rung) for rung in rungs], options.style, extra)
        column = with_room(column, painter.room_needed(written, fifths, False, options.chords))
        for rung in rungs:
            column = with_room(column, slur_needs(ladder.cell(index, rung), options.style, options.fingers))
        columns.append(column)
    natural = sum(column.width for column in columns)
    factor = min(WIDEST, (line - NAMES) / natural)
    row = painter.style.staff_height(painter.strings) + (_ROW_ABOVE + _ROW_BELOW) * gap
    marks: list[Mark] = []
    for at, rung in enumerate(rungs):
        y = _HEAD * gap + at * row
        marks.append(Text(0, y + 1.6 * gap, str(rung), 1.3 * gap, Ink.FAINT, "start", face=Face.TITLE))
        marks.append(Text(0, y + 3.1 * gap, ladder.idiom.rung(rung).name, 1.35 * gap, anchor="start", face=Face.TITLE))
    x = NAMES
    for index, narrow in enumerate(columns, start):
        column, written = narrow.stretched(factor), ladder.tune.bars[index]
        head = painter.chords(written, column, fifths, ladder.chords_suggested, options.chords)
        head.append(Text(0.1 * gap, -1.03 * gap, str(written.number), 0.9 * gap, Ink.FAINT, "start"))
        marks += moved(head, x, _HEAD * gap)
        for at, rung in enumerate(rungs):
            cell = [
                *painter.staff(column.width),
                *left_line(written, options.style, painter.span),
                *painter.notes(ladder.cell(index, rung), column, written, ladder.structure.offsets[index]),
                *right_line(written, options.style, painter.span, column.width),
            ]
            marks += moved(cell, x, _HEAD * gap + at * row)
        x += column.width
    return marks, _HEAD * gap + len(rungs) * row + _AFTER


def layout_contents(entries: Sequence[tuple[str, str, int]], paper: str, title: str) -> Sheet:
    """The contents of a packet: (title, what it is set for, first page) of each sheet, in as many pages as it takes."""
    width, height = PAPERS[paper]
    pages: list[list[Mark]] = [[Text(MARGIN, MARGIN + 8.0, title, 8.0, anchor="start", bold=True, face=Face.TITLE)]]
    y = MARGIN + 20.0
    for name, label, page in entries:
        if y > height - MARGIN - 10.0:
            pages.append([])
            y = MARGIN + 6.0
        room = width - 2 * MARGIN - 16.0
        pages[-1] += [
            Text(MARGIN, y, name, _fitting(name, 4.2, room, True), anchor="start", bold=True, face=Face.TITLE),
            Text(MARGIN, y + 4.4, label, _fitting(label, 3.0, room, False), Ink.FAINT, "start"),
            Text(width - MARGIN, y, str(page), 4.2, anchor="end"),
        ]
        y += 11.0
    for number, marks in enumerate(pages, start=1):
        marks += footer(title, f"contents {number} of {len(pages)}", width, height)
    return Sheet(title, paper, width, height, tuple(Page(tuple(marks)) for marks in pages))


def _fitting(text: str, size: float, room: float, title: bool) -> float:
    wide = measure(text, size, bold=title, face=Face.TITLE if title else Face.TEXT)
    return size * min(1.0, room / wide) if wide else size
