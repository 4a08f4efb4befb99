"""Systems: rows of bars as wide as the page, broken where phrases are, none of them left with a bar alone."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from nailhead.core.arrange.ladder import Ladder
from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.music.metre import Metre
from nailhead.core.music.tune import Bar
from nailhead.sheet.columns import Column, column_for, with_room
from nailhead.sheet.marks import Face, Ink, Line, Mark, Text, moved
from nailhead.sheet.options import SheetOptions
from nailhead.sheet.passages import Item
from nailhead.sheet.setting import measure
from nailhead.sheet.slurs import slur_needs
from nailhead.sheet.tab import TabPainter

#: A row narrower than this share of the line keeps its natural width.
FILL_FROM = 0.5
#: A system without words and fingers may be set this much closer rather than be divided.
TIGHTEST = 0.86
#: In gaps: above the strings (chords, part letters, endings), below them, and between systems.
ABOVE, BELOW, BETWEEN = 5.0, 4.8, 1.3


@dataclass(frozen=True, slots=True)
class Laid:
    """A bar with its column, ready to be placed in a system."""

    item: Item
    column: Column


System = list[Laid]


class SystemSetter:
    """Divides phrases into systems of a line's width and draws them; one for all passages of a sheet."""

    def __init__(self, ladder: Ladder, options: SheetOptions, line: float) -> None:
        self.ladder, self.options, self.line = ladder, options, line
        self.style = options.style
        self.strings = ladder.fit.setup.instrument.strings
        self.painter = TabPainter(self.style, self.strings, options.tab, ladder.fit.setup.fret_name)
        sung = (len(event.words) for bar in ladder.tune.bars for event in bar.events)
        self.verses = max(sung, default=0) if options.words else 0

    @property
    def above(self) -> float:
        """Room above the first string, in mm."""
        return ABOVE * self.style.gap

    @property
    def height(self) -> float:
        """A system with the room around it, in mm."""
        below = BELOW + (1.0 + 1.6 * self.verses if self.verses else 0)
        return self.style.staff_height(self.strings) + (ABOVE + below + BETWEEN) * self.style.gap

    def divide(self, row: Sequence[Item], first: bool) -> Iterator[System]:
        """A phrase as few systems as the width allows, as even as can be; `first` leaves room for the margin."""
        bars = [self._laid(item) for item in row]
        room = self.line - (self._margin_width() if first else 0)
        total = sum(bar.column.width for bar in bars)
        closest = 1.0 if self.verses or self.options.fingers else TIGHTEST
        count = max(1, -int(-total * closest // room))
        while True:
            rows = [bars[len(bars) * k // count : len(bars) * (k + 1) // count] for k in range(count)]
            widest = max(sum(bar.column.width for bar in part) for part in rows)
            if widest * closest <= room or count >= len(bars):
                yield from (part for part in rows if part)
                return
            count += 1

    def _laid(self, item: Item) -> Laid:
        bar = item.written
        extra = (1.1 if bar.opens_repeat else 0.0) + (2.2 if item.shows_metre and bar.number > 1 else 0.0)
        column = column_for([item.bar], self.style, extra * self.style.gap)
        needs = self.painter.room_needed(bar, self.ladder.fit.shape_fifths, self.options.words, self.options.chords)
        column = with_room(column, needs)
        column = with_room(column, slur_needs(item.bar, self.style, self.options.fingers))
        closing = (0.8 if bar.closes_repeat else 0.0) * self.style.gap
        return Laid(item, Column(column.times, column.places, column.width + closing))

    def _margin_width(self) -> float:
        return 5.0 * self.style.gap

    def draw(self, system: System, first: bool) -> list[Mark]:
        """The marks of a system; its first string lies at y = 0."""
        x = self._margin_width() if first else 0.0
        natural = sum(bar.column.width for bar in system)
        room = self.line - x
        factor = room / natural if natural > FILL_FROM * room or natural > room else 1.0
        marks = self._margin(system[0].item.written.metre) if first else self._edge(0)
        for laid in system:
            column = laid.column.stretched(factor)
            marks += moved(self._bar(laid.item, column), x, 0)
            x += column.width
        return marks

    def _edge(self, x: float) -> list[Mark]:
        return [Line(x, 0, x, self.style.staff_height(self.strings), 2 * self.style.thin)]

    def _margin(self, metre: Metre) -> list[Mark]:
        """String names and the metre before the first bar."""
        gap, width = self.style.gap, self._margin_width()
        setup = self.ladder.fit.setup
        marks: list[Mark] = [*self.painter.staff(width), *self._edge(0)]
        short = dict(setup.instrument.short_strings)
        for number, pitch in enumerate(setup.tuning.pitches, start=1):
            name = str(pitch.pitch_class)
            label = name.lower() if number in short else name
            y = self.painter.y(number)
            marks.append(self.painter.hole(1.2 * gap, y, 1))
            marks.append(Text(1.2 * gap, y + 0.36 * gap, label, gap, Ink.FAINT))
        return marks + self._metre(metre, 3.4 * gap)

    def _metre(self, metre: Metre, x: float) -> list[Mark]:
        if metre.free:
            return []
        gap, middle = self.style.gap, self.style.staff_height(self.strings) / 2
        top = "+".join(map(str, metre.grouping)) if "+" in str(metre) else str(metre.beats)
        size = min(2.1, 3.4 / measure(top, 1, bold=True)) * gap
        return [
            Text(x, middle - 0.22 * gap, top, size, bold=True),
            Text(x, middle + 1.75 * gap, str(metre.unit), 2.1 * gap, bold=True),
        ]

    def _bar(self, item: Item, column: Column) -> list[Mark]:
        bar, gap, painter = item.written, self.style.gap, self.painter
        marks = [
            *painter.staff(column.width),
            *painter.left_line(bar),
            *painter.notes(item.bar, column, bar.metre, item.offset),
            *painter.right_line(bar, column.width),
            *painter.chords(
                bar, column, self.ladder.fit.shape_fifths, self.ladder.chords_suggested, self.options.chords
            ),
            *painter.signs(bar, column),
        ]
        if self.options.words:
            marks += painter.words(bar, column)
        if self.options.fingers:
            marks += self._kept(item.bar, column)
        if item.numbered:
            marks.append(Text(0.1 * gap, -1.03 * gap, str(bar.number), 0.9 * gap, Ink.FAINT, "start"))
        if item.shows_metre and bar.number > 1:
            marks += self._metre(bar.metre, 1.6 * gap)
        if bar.part:
            marks.append(Text(0.1 * gap, -3.75 * gap, bar.part, 1.7 * gap, anchor="start", bold=True, face=Face.TITLE))
        return marks + self._ending(bar, column)

    def _kept(self, bar: ArrangedBar, column: Column) -> Iterator[Mark]:
        """A thin bar over the string for as long as a finger stays down."""
        gap = self.style.gap
        for kept in bar.kept:
            y = self.painter.y(kept.place.string) - 0.62 * gap
            start, end = column.x(kept.onset) + 1.25 * gap, column.x(kept.until) - 0.9 * self.style.head
            if end > start:
                yield Line(start, y, end, y, 1.4 * self.style.stem)

    def _ending(self, bar: Bar, column: Column) -> list[Mark]:
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
