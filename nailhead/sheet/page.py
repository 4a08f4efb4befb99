"""The printed sheet: passages set in systems on pages of A4 or Letter, in millimetres."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.teacher.arrangement import Arrangement, groups_of
from nailhead.core.arrange.teacher.path import bars_on_path, grade_path
from nailhead.core.music.notation import note_values
from nailhead.core.music.note_names import lettered
from nailhead.core.music.tune import Tune
from nailhead.sheet.diagrams import HEIGHT, diagram_rows
from nailhead.sheet.legend import legend_rows
from nailhead.sheet.marks import Curve, Disc, Face, Ink, Line, Mark, Text, moved
from nailhead.sheet.options import PAPERS, SheetOptions
from nailhead.sheet.passages import Passage, passages_of
from nailhead.sheet.setting import measure
from nailhead.sheet.systems import SystemSetter

MARGIN = 14.0
#: What stands above the first system, a heading, one row of the legend, and the room of the footer.
_HEAD, _HEADING, _ROW, _FOOT = 24.0, 8.0, 5.2, 6.0


@dataclass(frozen=True)
class Page:
    """One page's marks; the origin is the paper's upper left corner."""

    marks: tuple[Mark, ...]


@dataclass(frozen=True)
class Sheet:
    """Pages of one size in mm."""

    title: str
    paper: str
    width: float
    height: float
    pages: tuple[Page, ...]


def layout_sheet(ladder: Ladder, arrangement: Arrangement, options: SheetOptions | None = None) -> Sheet:
    """The sheet of an arrangement; `ladder` has the kept cells in it.

    Systems follow the phrases; a phrase too wide for the line is divided, a heading never parts from what it heads.
    """
    options = options or SheetOptions()
    flow = Flow(*PAPERS[options.paper])
    grade = grade_path(bars_on_path(ladder, arrangement.rungs), groups_of(ladder, arrangement))
    said = f"Chords: {options.part}" if options.backs else f"Grade {grade.value}"
    flow.head(layout_heading(ladder, flow.width, said, options, () if options.backs else arrangement.rungs))
    # Where the eye looks for them: before the first line that needs them.
    for row in diagram_rows(ladder, flow.width - 2 * MARGIN, options.letters) if options.diagrams else ():
        flow.put(row, HEIGHT)
    passages = passages_of(ladder, arrangement, options)
    items = [item for passage in passages for row in passage.rows for item in row]
    setter = SystemSetter(ladder, options, flow.width - 2 * MARGIN, items)
    for number, passage in enumerate(passages):
        _set(flow, setter, passage, first=number == 0)
    legend = legend_rows(
        ladder,
        [item.bar for item in items],
        setter.painter,
        flow.width - 2 * MARGIN,
        options.key,
        setter.staff is not None,
    )
    flow.keep_together(_ROW * len(legend) + 4.0)
    flow.y += 4.0
    for marks in legend:
        flow.put(marks, _ROW)
    return flow.sheet(ladder.tune.title, options.paper)


def _set(flow: Flow, setter: SystemSetter, passage: Passage, first: bool) -> None:
    """One passage with its heading."""
    if passage.heading:
        flow.keep_together(_HEADING + setter.height)
        flow.put([Text(0, _HEADING - 3.0, passage.heading, 4.6, anchor="start", bold=True, face=Face.TITLE)], _HEADING)
    for row in passage.rows:
        for system in setter.divide(row, first):
            flow.put(moved(setter.draw(system, first), 0, setter.above), setter.height)
            first = False


class Flow:
    """Puts one block under another and begins a page where the next does not fit."""

    def __init__(self, width: float, height: float) -> None:
        self.width, self.height = width, height
        self.pages: list[list[Mark]] = [[]]
        self.y = MARGIN

    def head(self, marks: Sequence[Mark]) -> None:
        self.pages[-1] += marks
        self.y = MARGIN + _HEAD

    def keep_together(self, height: float) -> None:
        """A new page unless so much fits on this one."""
        if self.y + height > self.height - MARGIN - _FOOT:
            self.pages.append([])
            self.y = MARGIN + 4.0

    def put(self, marks: Sequence[Mark], height: float) -> None:
        self.keep_together(height)
        self.pages[-1] += moved(marks, MARGIN, self.y)
        self.y += height

    def sheet(self, title: str, paper: str) -> Sheet:
        """The pages with their footers."""
        count = len(self.pages)
        for number, page in enumerate(self.pages, start=1):
            page += footer(title, f"page {number} of {count}", self.width, self.height)
        return Sheet(title, paper, self.width, self.height, tuple(Page(tuple(marks)) for marks in self.pages))


def footer(left: str, right: str, width: float, height: float) -> list[Mark]:
    y = height - MARGIN + 2.0
    return [
        Text(MARGIN, y, left, 2.8, Ink.FAINT, "start"),
        Text(width - MARGIN, y, right, 2.8, Ink.FAINT, "end"),
    ]


def layout_heading(
    ladder: Ladder, width: float, right: str, options: SheetOptions, path: Sequence[int] = ()
) -> list[Mark]:
    """Title, setup, both keys, feel, tempo, a word at the right; what a path of one rung plays of the melody."""
    fit, tune, line = ladder.fit, ladder.tune, width - 2 * MARGIN
    played = f"Plays {fit.shape_key}" + (f", sounds {fit.sounding_key}" if fit.setup.raised else "")
    played = lettered(played, options.letters)
    setup = f"{fit.setup.instrument.name}: {fit.setup.label}"
    setup += f" · order {tune.order}" if tune.order else ""
    way = f"{played} · {tune.metre} · {ladder.idiom.name}" + (" · swing" if options.feel == "swing" else "")
    if len(set(path)) == 1:
        way += f" · {ladder.idiom.plays(path[0])}"
    size = min(8.0, 8.0 * line / measure(tune.title, 8.0, bold=True, face=Face.TITLE))
    return [
        Text(MARGIN, MARGIN + 7.0, tune.title, size, anchor="start", bold=True, face=Face.TITLE),
        Text(MARGIN, MARGIN + 13.2, setup, min(3.5, 3.5 * line / measure(setup, 3.5)), anchor="start"),
        Text(MARGIN, MARGIN + 18.0, way, min(3.5, 3.5 * (line - 40.0) / measure(way, 3.5)), anchor="start"),
        Text(width - MARGIN, MARGIN + 18.0, right, 3.5, anchor="end", bold=True),
        *tempo_marks(ladder.tune, width - MARGIN - measure(right, 3.5, bold=True) - 6.0, MARGIN + 18.0),
    ]


def tempo_marks(tune: Tune, right: float, y: float) -> list[Mark]:
    """A drawn note value and the beats a minute, ending at `right`."""
    tempo = tune.tempo
    if tempo is None:
        return []
    value = note_values(tempo.beat)[0]
    open_head = value.name in ("half", "whole", "breve")
    x = right - 10.5
    marks: list[Mark] = [Disc(x, y - 0.9, 0.85, Ink.INK, Ink.PAPER if open_head else Ink.INK, 0.3)]
    if value.name not in ("whole", "breve"):
        marks.append(Line(x + 0.8, y - 0.9, x + 0.8, y - 4.1, 0.25))
    for flag in range(value.flags):
        top = y - 4.1 + 0.9 * flag
        marks.append(Curve(x + 0.8, top, x + 1.0, top + 0.9, x + 1.7, top + 1.5, 0.35))
    marks += [Disc(x + 1.9, y - 0.9, 0.3, Ink.INK, Ink.INK)] * bool(value.dots)
    return [*marks, Text(right, y, f"= {tempo.bpm}", 3.5, anchor="end")]
