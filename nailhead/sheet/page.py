"""The printed sheet: a path laid out in systems on pages of A4 or Letter, in millimetres."""

from __future__ import annotations

from dataclasses import dataclass, field

from nailhead.core.arrange.ladder import Ladder
from nailhead.core.arrange.path import Path, bars_on_path, grade_path
from nailhead.core.arrange.values import ArrangedBar, Hand, Role
from nailhead.core.errors import NailheadError
from nailhead.core.fretboard.cautions import cautions
from nailhead.core.music.metre import Metre
from nailhead.core.music.notation import note_values
from nailhead.core.music.tune import Bar
from nailhead.sheet.columns import Column, column_for, with_room
from nailhead.sheet.marks import ADVANCE, Curve, Disc, Face, Ink, Line, Mark, Text, moved, text_width
from nailhead.sheet.slurs import LETTERS
from nailhead.sheet.style import Style
from nailhead.sheet.tab import HAND_LETTERS, TabOptions, TabPainter

#: Paper sizes in millimetres (ISO 216; ANSI/ASME Y14.1).
PAPERS: dict[str, tuple[float, float]] = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4)}
MARGIN = 14.0
#: A last system narrower than this share of the line keeps its natural width.
FILL_FROM = 0.5
_ABOVE, _BELOW, _BETWEEN = 5.0, 4.8, 1.3
#: A system without words may be set this much closer rather than be divided.
TIGHTEST = 0.86


@dataclass(frozen=True, slots=True)
class SheetOptions:
    """Paper by name, and what the tab shows."""

    paper: str = "A4"
    tab: TabOptions = field(default_factory=TabOptions)


@dataclass(frozen=True)
class Page:
    """One page's marks; the origin is the paper's upper left corner."""

    marks: tuple[Mark, ...]


@dataclass(frozen=True)
class Sheet:
    """Pages of one size in mm."""

    paper: str
    width: float
    height: float
    pages: tuple[Page, ...]


@dataclass(frozen=True)
class _Laid:
    """A bar with its column, ready to be placed in a system."""

    index: int
    column: Column


def layout_sheet(ladder: Ladder, path: Path, options: SheetOptions | None = None) -> Sheet:
    """The sheet of a path. Systems follow the phrases; a phrase too wide for the line is divided."""
    options = options or SheetOptions()
    if options.paper not in PAPERS:
        raise NailheadError(
            f"There is no paper “{options.paper}”.", field="paper", remedy=f"Choose one of: {', '.join(PAPERS)}."
        )
    width, height = PAPERS[options.paper]
    writer = _SheetWriter(ladder, bars_on_path(ladder, path), options, width, height)
    return Sheet(options.paper, width, height, tuple(Page(tuple(marks)) for marks in writer.pages()))


class _SheetWriter:
    def __init__(
        self, ladder: Ladder, bars: tuple[ArrangedBar, ...], options: SheetOptions, width: float, height: float
    ) -> None:
        self.ladder, self.bars, self.options = ladder, bars, options
        self.width, self.height = width, height
        self.style = Style()
        self.strings = ladder.fit.setup.instrument.strings
        self.painter = TabPainter(self.style, self.strings, options.tab, ladder.fit.setup.fret_name)
        self.line = width - 2 * MARGIN
        self.verses = max((len(e.words) for bar in ladder.tune.bars for e in bar.events), default=0)

    # -- pages

    def pages(self) -> list[list[Mark]]:
        gap = self.style.gap
        below = _BELOW + (1.0 + 1.6 * self.verses if self.verses else 0)
        system_height = self.style.staff_height(self.strings) + (_ABOVE + below + _BETWEEN) * gap
        pages: list[list[Mark]] = [self._heading()]
        y = MARGIN + 24.0
        for number, system in enumerate(self._systems()):
            if y + system_height > self.height - MARGIN - 6.0:
                pages.append([])
                y = MARGIN + 4.0
            pages[-1] += moved(self._system(system, first=number == 0), MARGIN, y + _ABOVE * gap)
            y += system_height
        legend = self._legend()
        if y + 6.0 * len(legend) > self.height - MARGIN - 6.0:
            pages.append([])
            y = MARGIN + 4.0
        for row, marks in enumerate(legend):
            pages[-1] += moved(marks, MARGIN, y + 4.0 + 5.2 * row)
        for number, page in enumerate(pages, start=1):
            page += self._footer(number, len(pages))
        return pages

    def _heading(self) -> list[Mark]:
        fit, tune = self.ladder.fit, self.ladder.tune
        grade = grade_path(self.bars, self.ladder.structure.classes)
        played = f"Plays {fit.shape_key}" + (f", sounds {fit.sounding_key}" if fit.setup.raised else "")
        title_size = min(8.0, self.line / max(1, len(tune.title)) / ADVANCE)
        return [
            Text(MARGIN, MARGIN + 7.0, tune.title, title_size, anchor="start", bold=True, face=Face.TITLE),
            Text(MARGIN, MARGIN + 13.2, f"{fit.setup.instrument.name}: {fit.setup.label}", 3.5, anchor="start"),
            Text(MARGIN, MARGIN + 18.0, f"{played} · {tune.metre}", 3.5, anchor="start"),
            Text(self.width - MARGIN, MARGIN + 18.0, f"Grade {grade.value}", 3.5, anchor="end", bold=True),
            *self._tempo(self.width - MARGIN - 22.0, MARGIN + 18.0),
        ]

    def _tempo(self, right: float, y: float) -> list[Mark]:
        """A drawn note value and the beats a minute, ending at `right`."""
        tempo = self.ladder.tune.tempo
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

    def _footer(self, number: int, count: int) -> list[Mark]:
        y = self.height - MARGIN + 2.0
        return [
            Text(MARGIN, y, self.ladder.tune.title, 2.8, Ink.FAINT, "start"),
            Text(self.width - MARGIN, y, f"page {number} of {count}", 2.8, Ink.FAINT, "end"),
        ]

    def _down_words(self) -> str:
        """What a stroke down is; in clawhammer whose nail strikes, and whether it thumps the head."""
        if self.ladder.idiom.id != "clawhammer":
            return "strike down"
        options = self.ladder.options
        return f"strike down, {options.nail} nail" + (", on the head" if options.head == "thump" else "")

    def _legend(self) -> list[list[Mark]]:
        """The key to the signs, and cautions where they apply."""
        head = self.style.head
        roles = {note.role for bar in self.bars for stroke in bar.strokes for note in stroke.notes}
        hands = {stroke.hand for bar in self.bars for stroke in bar.strokes}
        numeral: list[Mark] = [Text(head, 0, "0", 3.0, Ink.CHORD, bold=True)]
        known: list[tuple[bool, list[Mark], str]] = [
            (True, [Disc(head, -1.0, head, Ink.MELODY, Ink.MELODY)], "melody"),
            (Role.CHORD in roles, numeral, "chord note"),
            (Role.DRONE in roles, [Disc(head, -1.0, 0.9 * head, Ink.INK, Ink.PAPER, self.style.stem)], "drone"),
            (Hand.DOWN in hands, moved(self.painter.down_mark(), head, 0), self._down_words()),
            (Hand.UP in hands, moved(self.painter.up_mark(), head, 0), "strike up"),
        ]
        fingers = {note.by for bar in self.bars for stroke in bar.strokes for note in stroke.notes if note.by}
        hands |= fingers
        names = {Hand.BRUSH: "brush", Hand.THUMB: "thumb", Hand.INDEX: "index", Hand.MIDDLE: "middle"}
        known += [
            (hand in hands, [Text(head, 0, HAND_LETTERS[hand], 3.0, Ink.HAND, bold=True)], name)
            for hand, name in names.items()
        ]
        slurs = {note.slur for bar in self.bars for stroke in bar.strokes for note in stroke.notes if note.slur}
        known += [
            (
                any(slur.ornament is ornament for slur in slurs),
                [Text(head, 0, letter, 3.0, Ink.HAND, bold=True)],
                str(ornament),
            )
            for ornament, letter in LETTERS.items()
        ]
        rows: list[list[Mark]] = []
        signs: list[Mark] = []
        x = 0.0
        for shown, sign, name in known:
            width = 2 * head + 7.0 + 3.0 * text_width(name)
            if shown and x + width > self.line:
                rows.append(signs)
                signs, x = [], 0.0
            if shown:
                signs += moved([*sign, Text(2 * head + 1.2, 0, name, 3.0, Ink.INK, "start")], x, 0)
                x += width
        rows.append(signs)
        if self.ladder.chords_suggested:
            rows.append([Text(0, 0, "Grey chords are suggestions.", 3.0, Ink.INK, "start")])
        for caution in cautions(self.ladder.fit.setup):
            rows += [[Text(0, 0, part, 2.8, Ink.TROUBLE, "start")] for part in _wrapped(caution, self.line, 2.8)]
        return rows

    # -- systems

    def _systems(self) -> list[list[_Laid]]:
        systems: list[list[_Laid]] = []
        for start, stop in self.ladder.structure.phrases:
            bars = [self._laid(index) for index in range(start, stop)]
            systems += self._divide(bars, first=not systems)
        return systems

    def _divide(self, bars: list[_Laid], first: bool) -> list[list[_Laid]]:
        """As few systems as the width allows, as even as can be."""
        room = self.line - (self._margin_width() if first else 0)
        total = sum(bar.column.width for bar in bars)
        closest = 1.0 if self.verses else TIGHTEST
        count = max(1, -int(-total * closest // room))
        while True:
            rows = [bars[len(bars) * k // count : len(bars) * (k + 1) // count] for k in range(count)]
            widest = max(sum(bar.column.width for bar in row) for row in rows)
            if widest * closest <= room or count >= len(bars):
                return [row for row in rows if row]
            count += 1

    def _laid(self, index: int) -> _Laid:
        bar = self.ladder.tune.bars[index]
        extra = (1.1 if bar.opens_repeat else 0.0) + (2.2 if self._shows_metre(index) and index else 0.0)
        column = column_for([self.bars[index]], self.style, extra * self.style.gap)
        needs = self.painter.room_needed(bar, self.ladder.fit.shape_fifths, with_words=True)
        column = with_room(column, needs)
        closing = (0.8 if bar.closes_repeat else 0.0) * self.style.gap
        return _Laid(index, Column(column.times, column.places, column.width + closing))

    def _shows_metre(self, index: int) -> bool:
        bars = self.ladder.tune.bars
        return index == 0 or bars[index].metre != bars[index - 1].metre

    def _margin_width(self) -> float:
        return 5.0 * self.style.gap

    def _system(self, system: list[_Laid], first: bool) -> list[Mark]:
        x = self._margin_width() if first else 0.0
        natural = sum(bar.column.width for bar in system)
        room = self.line - x
        factor = room / natural if natural > FILL_FROM * room or natural > room else 1.0
        marks = self._margin() if first else self.painter.staff(0)
        if not first:
            marks += self._system_edge(0)
        for laid in system:
            column = laid.column.stretched(factor)
            marks += moved(self._bar(laid.index, column), x, 0)
            x += column.width
        return marks

    def _system_edge(self, x: float) -> list[Mark]:
        return [Line(x, 0, x, self.style.staff_height(self.strings), 2 * self.style.thin)]

    def _margin(self) -> list[Mark]:
        """String names and the metre before the first bar."""
        gap, width = self.style.gap, self._margin_width()
        setup = self.ladder.fit.setup
        marks: list[Mark] = [*self.painter.staff(width), *self._system_edge(0)]
        short = dict(setup.instrument.short_strings)
        for number, pitch in enumerate(setup.tuning.pitches, start=1):
            name = str(pitch.pitch_class)
            label = name.lower() if number in short else name
            y = self.painter.y(number)
            marks.append(self.painter.hole(1.2 * gap, y, 1))
            marks.append(Text(1.2 * gap, y + 0.36 * gap, label, gap, Ink.FAINT))
        return marks + self._metre(self.ladder.tune.bars[0].metre, 3.4 * gap)

    def _metre(self, metre: Metre, x: float) -> list[Mark]:
        if metre.free:
            return []
        gap, middle = self.style.gap, self.style.staff_height(self.strings) / 2
        top = "+".join(map(str, metre.grouping)) if "+" in str(metre) else str(metre.beats)
        size = min(2.1, 3.4 / text_width(top)) * gap
        return [
            Text(x, middle - 0.22 * gap, top, size, bold=True),
            Text(x, middle + 1.75 * gap, str(metre.unit), 2.1 * gap, bold=True),
        ]

    def _bar(self, index: int, column: Column) -> list[Mark]:
        bar, gap = self.ladder.tune.bars[index], self.style.gap
        painter = self.painter
        marks = [
            *painter.staff(column.width),
            *painter.left_line(bar),
            *painter.notes(self.bars[index], column, bar.metre, self.ladder.structure.offsets[index]),
            *painter.right_line(bar, column.width),
            *painter.chords(bar, column, self.ladder.fit.shape_fifths, self.ladder.chords_suggested),
            *painter.signs(bar, column),
            *painter.words(bar, column),
            Text(0.1 * gap, -0.95 * gap, str(bar.number), 0.9 * gap, Ink.FAINT, "start"),
        ]
        if self._shows_metre(index) and index:
            marks += self._metre(bar.metre, 1.6 * gap)
        if bar.part:
            marks.append(Text(0.1 * gap, -3.75 * gap, bar.part, 1.7 * gap, anchor="start", bold=True, face=Face.TITLE))
        return marks + self._ending(bar, index, column)

    def _ending(self, bar: Bar, index: int, column: Column) -> list[Mark]:
        if not bar.endings:
            return []
        gap, y = self.style.gap, -4.65 * self.style.gap
        numbers = ", ".join(map(str, bar.endings)) + "."
        left = 0.3 * gap
        return [
            Line(left, y, column.width - 0.3 * gap, y, self.style.stem),
            Line(left, y, left, y + 1.0 * gap, self.style.stem),
            Text(left + 0.3 * gap + (2 * gap if bar.part else 0), y + 1.0 * gap, numbers, 0.95 * gap, anchor="start"),
        ]


def _wrapped(text: str, width: float, size: float) -> list[str]:
    """Lines of a text that fit a width, by the mean advance of a character."""
    most = int(width / (ADVANCE * size))
    lines = [""]
    for word in text.split():
        if lines[-1] and len(lines[-1]) + 1 + len(word) > most:
            lines.append("")
        lines[-1] = f"{lines[-1]} {word}".strip()
    return lines
