"""Systems: rows of bars as wide as the page, broken where phrases are, none of them left with a bar alone."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.fit.voices import above_and_below
from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.music.metre import Metre, Time
from nailhead.core.music.note_names import lettered
from nailhead.core.music.tune import Bar
from nailhead.sheet.barlines import Span, left_line, right_line
from nailhead.sheet.columns import Column, Need, column_for, with_room
from nailhead.sheet.marks import Face, Ink, Line, Mark, Text, moved
from nailhead.sheet.options import SheetOptions
from nailhead.sheet.passages import Item
from nailhead.sheet.setting import measure
from nailhead.sheet.slurs import slur_needs
from nailhead.sheet.staff.moments import writing_of
from nailhead.sheet.staff.painter import VOICES, Engraved, Reach, StaffPainter
from nailhead.sheet.tab import painter_of

#: A row narrower than this share of the line keeps its natural width.
FILL_FROM = 0.5
#: A system without words and fingers may be set this much closer rather than be divided.
TIGHTEST = 0.84
#: In gaps: above the strings (chords, part letters, endings), below them, and between systems.
ABOVE, BELOW, BETWEEN = 5.0, 4.4, 1.3
#: Width of the metre before the first bar, in gaps.
METRE = 3.2


#: In gaps: the least from the staff to the strings and from chord names to the staff.
STAFF_TO_TAB, STAFF_TO_CHORDS = 1.9, 0.6
#: In gaps: the room of the melody's stems above the strings.
VOICE = 2.2


@dataclass(frozen=True, slots=True)
class Laid:
    """A bar with its column, ready to be placed in a system; `engraved` where there is a staff."""

    item: Item
    column: Column
    engraved: Engraved | None = None


System = list[Laid]


def even_rows(bars: Sequence[Laid], count: int) -> list[System]:
    """So many rows of bars in their order, the widest as narrow as can be; `count` is at most the number of bars."""
    # best[k] after `row` rows: the narrowest way to set the first k bars, and where its last row begins.
    widths = [0.0, *itertools.accumulate(bar.column.width for bar in bars)]
    best: list[tuple[float, tuple[int, ...]]] = [(width, (0,)) for width in widths]
    for row in range(2, count + 1):
        best = [
            min((max(best[cut][0], widths[end] - widths[cut]), (*best[cut][1], cut)) for cut in range(row - 1, end))
            if end >= row
            else (float("inf"), ())
            for end in range(len(bars) + 1)
        ]
    cuts = [*best[-1][1], len(bars)]
    return [list(bars[start:end]) for start, end in itertools.pairwise(cuts)]


class SystemSetter:
    """Divides phrases into systems of a line's width and draws them; one for all passages of a sheet.

    Every system has the same height: the staff leaves the room that the highest and lowest of `items` ask for.
    """

    def __init__(self, ladder: Ladder, options: SheetOptions, line: float, items: Sequence[Item]) -> None:
        self.ladder, self.options, self.line = ladder, options, line
        self.style = options.style
        self.strings = ladder.fit.setup.instrument.strings
        self.painter = painter_of(ladder, self.style, options.tab)
        sung = (len(event.words) for bar in ladder.tune.bars for event in bar.events)
        self.verses = max(sung, default=0) if options.words else 0
        self.named = int(options.names != "none")
        voice = VOICES.get(options.staff)
        self.staff = StaffPainter(self.style, writing_of(ladder), voice) if voice else None
        plucked = ladder.idiom.right.chords_plucked
        self.in_voices = plucked and any(above_and_below(item.bar, item.written)[1] for item in items)
        self.staff_top, self.lift = self._staff_room(items)

    def _staff_room(self, items: Sequence[Item]) -> tuple[float, float]:
        """Where the staff's top line lies above string 1, and by how much what stands over it is lifted (mm)."""
        stems = VOICE * self.style.gap * self.in_voices
        if self.staff is None:
            return 0.0, stems
        reaches = [self.staff.reach_of(self._staff_notes(laid, laid.column)) for laid in map(self._laid, items)]
        high, low = (max(side) for side in zip(*reaches, strict=True))
        gap = self.style.gap
        top = self.staff.height + low + STAFF_TO_TAB * gap + stems
        return -top, top + max(0.0, high - STAFF_TO_CHORDS * gap)

    @property
    def above(self) -> float:
        """Room above the first string, in mm."""
        return ABOVE * self.style.gap + self.lift

    @property
    def height(self) -> float:
        """A system with the room around it, in mm."""
        rows = self.verses + self.named
        below = BELOW + (1.0 + 1.6 * rows if rows else 0)
        return self.style.staff_height(self.strings) + self.lift + (ABOVE + below + BETWEEN) * self.style.gap

    @property
    def span(self) -> Span:
        """What bar lines cross: the strings, and the staff with what lies between."""
        tab = self.painter.span
        if self.staff is None:
            return tab
        return Span(self.staff_top, tab.bottom, (self.staff_top + self.staff.height / 2, *tab.middles))

    def divide(self, row: Sequence[Item], first: bool) -> Iterator[System]:
        """A phrase as few systems as the width allows, as even as can be; `first` leaves room for the margin."""
        bars = [self._laid(item) for item in row]
        room = self.line - self._margin_width(row[0], first)
        total = sum(bar.column.width for bar in bars)
        closest = 1.0 if self.verses or self.named or self.options.fingers else TIGHTEST
        count = min(len(bars), max(1, -int(-total * closest // room)))
        while True:
            rows = even_rows(bars, count)
            widest = max(sum(bar.column.width for bar in part) for part in rows)
            if widest * closest <= room or count >= len(bars):
                yield from rows
                return
            count += 1

    def _laid(self, item: Item) -> Laid:
        bar, gap = item.written, self.style.gap
        extra = gap * ((1.1 if bar.opens_repeat else 0.0) + (2.2 if item.shows_metre and bar.number > 1 else 0.0))
        engraved, staff_needs, onsets = None, list[Need](), list[Time]()
        if self.staff:
            engraved = self.staff.engrave(item)
            before_first, staff_needs = self.staff.needs(engraved, self.style.padding)
            extra += before_first + self.staff.key_change(item)[1]
            onsets = engraved.onsets
        column = column_for([item.bar], self.style, extra, onsets)
        needs = self.painter.room_needed(bar, self.ladder.fit.shape_fifths, self.options.words, self.options.chords)
        column = with_room(column, needs)
        column = with_room(column, slur_needs(item.bar, self.style, self.options.fingers))
        if self.named:
            column = with_room(column, self.painter.names_needed(item.bar, bar.key, self.options.names))
        # Heads and accidentals of the staff keep their room in a system that is set closer.
        column = with_room(column, (Need(need.start, need.end, need.mm / TIGHTEST) for need in staff_needs))
        closing = (0.8 if bar.closes_repeat else 0.0) * gap
        return Laid(item, Column(column.times, column.places, column.width + closing), engraved)

    def _margin_width(self, item: Item, first: bool) -> float:
        """Before the first bar of a system: string names and metre, and where there is a staff its clef and key."""
        names = 5.0 * self.style.gap if first else 0.0
        if self.staff is None:
            return names
        clef = self.staff.clef(item.written.key)[1]
        return max(names, clef + METRE * self.style.gap) if first else clef

    def columns(self, system: System, first: bool) -> tuple[float, list[Column]]:
        """Where the first bar of a system begins (mm), and every bar's column as it is set there."""
        x = self._margin_width(system[0].item, first)
        natural = sum(bar.column.width for bar in system)
        room = self.line - x
        factor = room / natural if natural > FILL_FROM * room or natural > room else 1.0
        return x, [laid.column.stretched(factor) for laid in system]

    def draw(self, system: System, first: bool) -> list[Mark]:
        """The marks of a system; its first string lies at y = 0."""
        x, columns = self.columns(system, first)
        marks = self._margin(system[0].item.written, x, first)
        for at, (laid, column) in enumerate(zip(system, columns, strict=True)):
            marks += moved(self._bar(laid.item, column), x, 0)
            onward = columns[at + 1].places[0] if at + 1 < len(system) else -0.5 * self.style.gap
            reach = Reach(first=at == 0, to=column.width + onward)
            marks += moved(self._staff_bar(laid, column, reach), x, self.staff_top)
            x += column.width
        return marks

    def _staff_notes(self, laid: Laid, column: Column) -> list[Mark]:
        assert self.staff and laid.engraved
        return self.staff.notes(laid.engraved, column, Reach(first=True, to=column.width))

    def _staff_bar(self, laid: Laid, column: Column, reach: Reach) -> list[Mark]:
        if self.staff is None or laid.engraved is None:
            return []
        marks = [*self.staff.lines(column.width), *self.staff.notes(laid.engraved, column, reach)]
        if not reach.first:
            signs, width = self.staff.key_change(laid.item)
            first = column.places[0] - laid.engraved.stacks[0].left * self.staff.space
            marks += moved(signs, first - width, 0)
        return marks

    def _margin(self, bar: Bar, width: float, first: bool) -> list[Mark]:
        """The left edge; before the first bar string names and metre; on every staff clef and signature."""
        edge = Line(0, self.span.top, 0, self.span.bottom, 2 * self.style.thin)
        marks: list[Mark] = [*self.painter.staff(width), edge] if width else [edge]
        metre_x = width - METRE * self.style.gap / 2
        if self.staff:
            signs = [*self.staff.lines(width), *self.staff.clef(bar.key)[0]]
            marks += moved(signs, 0, self.staff_top)
        if first:
            marks += [*self._string_names(), *self._metre(bar.metre, metre_x)]
        return marks

    def _string_names(self) -> Iterator[Mark]:
        gap, setup = self.style.gap, self.ladder.fit.setup
        short = dict(setup.instrument.short_strings)
        for number, pitch in enumerate(setup.tuning.pitches, start=1):
            name = lettered(str(pitch.pitch_class), self.options.letters)
            label = name.lower() if number in short else name
            y = self.painter.y(number)
            yield self.painter.hole(1.2 * gap, y, 1)
            yield Text(1.2 * gap, y + 0.36 * gap, label, gap, Ink.FAINT)

    def _metre(self, metre: Metre, x: float) -> list[Mark]:
        """The two figures on the strings, and on the staff."""
        if metre.free:
            return []
        gap = self.style.gap
        top = "+".join(map(str, metre.grouping)) if "+" in str(metre) else str(metre.beats)
        size = min(2.1, 3.4 / measure(top, 1, bold=True)) * gap
        marks = []
        for middle in self.span.middles:
            marks.append(Text(x, middle - 0.22 * gap, top, size, bold=True))
            marks.append(Text(x, middle + 1.75 * gap, str(metre.unit), 2.1 * gap, bold=True))
        return list[Mark](marks)

    def _bar(self, item: Item, column: Column) -> list[Mark]:
        bar, gap, painter = item.written, self.style.gap, self.painter
        marks = [
            *painter.staff(column.width),
            *left_line(bar, self.style, self.span),
            *painter.notes(item.bar, column, bar, item.offset, self.in_voices),
            *right_line(bar, self.style, self.span, column.width),
        ]
        if self.options.words:
            marks += painter.words(bar, column, self.named)
        if self.named:
            marks += painter.names(item.bar, column, bar.key, self.options.names)
        if self.options.fingers:
            marks += self._kept(item.bar, column)
        if item.shows_metre and bar.number > 1:
            marks += self._metre(bar.metre, 1.6 * gap)
        return marks + moved(self._over(item, column), 0, -self.lift)

    def _over(self, item: Item, column: Column) -> list[Mark]:
        """What stands above the strings or, where there is one, above the staff."""
        bar, gap, painter = item.written, self.style.gap, self.painter
        fit, suggested = self.ladder.fit, self.ladder.chords_suggested
        marks = [
            *painter.chords(bar, column, fit.shape_fifths, suggested, self.options.chords),
            *painter.signs(bar, column),
        ]
        if item.numbered:
            marks.append(Text(0.1 * gap, -1.03 * gap, str(bar.number), 0.9 * gap, Ink.FAINT, "start"))
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
