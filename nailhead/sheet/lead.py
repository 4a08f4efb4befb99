"""The lead sheet: a melody on a staff as it is written, its chords above and its words below, for those who sing."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.music.harmonise import suggest_chords
from nailhead.core.music.metre import Metre
from nailhead.core.music.structure import read_structure
from nailhead.core.music.tune import Bar, Tune, held_at_start
from nailhead.sheet.barlines import Span, left_line, right_line
from nailhead.sheet.columns import Column, column_of, with_room
from nailhead.sheet.marks import Face, Ink, Line, Mark, Text, moved
from nailhead.sheet.options import PAPERS
from nailhead.sheet.page import MARGIN, Flow, Sheet, tempo_marks
from nailhead.sheet.passages import Item
from nailhead.sheet.setting import measure
from nailhead.sheet.staff.moments import Writing, melody_moments
from nailhead.sheet.staff.painter import Reach, StaffPainter
from nailhead.sheet.style import Style
from nailhead.sheet.systems import FILL_FROM, METRE, Laid, System, even_rows
from nailhead.sheet.tab import TabPainter

STYLE = Style(3.0)
#: In gaps: from the lowest note to the first line of words, from one verse to the next, and between systems.
_TO_WORDS, _VERSE, _BETWEEN = 1.9, 1.6, 2.2
#: In gaps: from chord names to the highest note, and what they and the part letters above them take.
_TO_CHORDS, _CHORDS = 0.7, 4.4
#: In gaps: what fermatas take between the notes and the chord names.
_FERMATA = 1.2
#: Fewer bars make no line of their own.
_FEW = 3


def layout_lead(tune: Tune, paper: str = "A4") -> Sheet:
    """The lead sheet of a tune; chords that it has not are suggested, in grey."""
    width, height = PAPERS[paper]
    flow = Flow(width, height)
    flow.head(list(_heading(tune, width)))
    setter = LeadSetter(tune, width - 2 * MARGIN)
    for first, system in setter.systems():
        flow.put(moved(setter.draw(system, first), 0, setter.above), setter.height)
    if not tune.has_chords:
        flow.put([Text(0, 4.0, "Grey chords are suggestions.", 3.0, Ink.INK, "start")], 6.0)
    return flow.sheet(tune.title, paper)


def _heading(tune: Tune, width: float) -> Iterator[Mark]:
    line = width - 2 * MARGIN
    size = min(8.0, 8.0 * line / measure(tune.title, 8.0, bold=True, face=Face.TITLE))
    yield Text(MARGIN, MARGIN + 7.0, tune.title, size, anchor="start", bold=True, face=Face.TITLE)
    said = f"{tune.key.label} · {tune.metre}" + (f" · {tune.rhythm}" if tune.rhythm else "")
    said += f" · order {tune.order}" if tune.order else ""
    yield Text(MARGIN, MARGIN + 14.0, said, min(3.5, 3.5 * (line - 30.0) / measure(said, 3.5)), anchor="start")
    yield from tempo_marks(tune, width - MARGIN, MARGIN + 14.0)


@dataclass(frozen=True)
class LeadSetter:
    """Divides a tune into systems of a line's width and draws them, all of one height."""

    given: Tune
    line: float

    @cached_property
    def tune(self) -> Tune:
        return suggest_chords(self.given)

    @cached_property
    def staff(self) -> StaffPainter:
        return StaffPainter(STYLE, Writing(None, 0, self.tune.key), melody_moments)

    @cached_property
    def names(self) -> TabPainter:
        """Sets chord names and words, as above and under a single string."""
        return TabPainter(STYLE, 1)

    @cached_property
    def phrases(self) -> tuple[tuple[Laid, ...], ...]:
        bars, structure = self.tune.bars, read_structure(self.tune)
        held = held_at_start(bars)
        rows: list[tuple[Laid, ...]] = []
        for start, stop in structure.phrases:
            row = []
            for at in range(start, stop):
                before = bars[at - 1] if at else None
                row.append(
                    Item(
                        bars[at],
                        ArrangedBar(bars[at].number, 1, ()),
                        structure.offsets[at],
                        before is None or bars[at].metre != before.metre,
                        held=held[at],
                        old_key=before.key if before and bars[at].key != before.key else None,
                    )
                )
            laid = tuple(map(self._laid, row))
            # A bar or two that are left over belong to the line before.
            if rows and len(laid) < _FEW and not bars[start].part:
                rows[-1] += laid
            else:
                rows.append(laid)
        return tuple(rows)

    @cached_property
    def room(self) -> tuple[float, float]:
        """How far the notes of the whole tune stand out above and below the staff, in mm."""
        reaches = [self.staff.reach_of(self._notes(laid, laid.column)) for row in self.phrases for laid in row]
        high, low = zip(*reaches, strict=True)
        return max(high), max(low)

    @property
    def above(self) -> float:
        """From the upper edge of a system to the top line of its staff, in mm."""
        return self._to_chords + _CHORDS * STYLE.gap

    @cached_property
    def _to_chords(self) -> float:
        """From the top line of a staff up to the chord names, in mm."""
        held = any("fermata" in event.decorations for bar in self.tune.bars for event in bar.events)
        return self.room[0] + (_TO_CHORDS + _FERMATA * held) * STYLE.gap

    @property
    def height(self) -> float:
        verses = max((len(event.words) for bar in self.tune.bars for event in bar.events), default=0)
        words = (_TO_WORDS + _VERSE * (verses - 1)) * STYLE.gap if verses else 0.0
        return self.above + self.staff.height + self.room[1] + words + _BETWEEN * STYLE.gap

    def systems(self) -> Iterator[tuple[bool, System]]:
        """Every system, and whether it is the first."""
        first = True
        for row in self.phrases:
            room = self.line - self._margin_width(row[0].item.written, first)
            count = min(len(row), max(1, -int(-sum(laid.column.width for laid in row) // room)))
            rows = even_rows(row, count)
            while count < len(row) and max(sum(laid.column.width for laid in part) for part in rows) > room:
                count += 1
                rows = even_rows(row, count)
            for system in rows:
                yield first, system
                first = False

    def _laid(self, item: Item) -> Laid:
        bar, engraved = item.written, self.staff.engrave(item)
        before, needs = self.staff.needs(engraved, STYLE.padding)
        extra = before + self.staff.key_change(item)[1]
        new_metre = item.shows_metre and bar.number > 1
        extra += STYLE.gap * ((1.1 if bar.opens_repeat else 0.0) + (2.2 if new_metre else 0.0))
        column = column_of({*engraved.onsets, *(entry.onset for entry in bar.chords), bar.length}, STYLE, extra)
        column = with_room(with_room(column, needs), self.names.room_needed(bar, 0, with_words=True, names="sound"))
        closing = (0.8 if bar.closes_repeat else 0.0) * STYLE.gap
        return Laid(item, Column(column.times, column.places, column.width + closing), engraved)

    def _margin_width(self, bar: Bar, first: bool) -> float:
        return self.staff.clef(bar.key)[1] + METRE * STYLE.gap * first

    def draw(self, system: System, first: bool) -> list[Mark]:
        """The marks of a system; the top line of its staff lies at y = 0."""
        bar = system[0].item.written
        x = self._margin_width(bar, first)
        marks = [*self.staff.lines(x), *self.staff.clef(bar.key)[0], Line(0, 0, 0, self.staff.height, 2 * STYLE.thin)]
        if first:
            marks += self._metre(bar.metre, x - METRE * STYLE.gap / 2)
        natural = sum(laid.column.width for laid in system)
        room = self.line - x
        factor = room / natural if natural > FILL_FROM * room else 1.0
        columns = [laid.column.stretched(factor) for laid in system]
        for at, (laid, column) in enumerate(zip(system, columns, strict=True)):
            onward = columns[at + 1].places[0] if at + 1 < len(system) else -0.5 * STYLE.gap
            marks += moved(self._bar(laid, column, Reach(at == 0, column.width + onward)), x, 0)
            x += column.width
        return marks

    def _notes(self, laid: Laid, column: Column, reach: Reach | None = None) -> list[Mark]:
        assert laid.engraved
        return self.staff.notes(laid.engraved, column, reach or Reach(True, column.width))

    def _bar(self, laid: Laid, column: Column, reach: Reach) -> list[Mark]:
        bar, span = laid.item.written, Span(0.0, self.staff.height, (self.staff.height / 2,))
        marks = [
            *self.staff.lines(column.width),
            *left_line(bar, STYLE, span),
            *self._notes(laid, column, reach),
            *right_line(bar, STYLE, span, column.width),
        ]
        if not reach.first:
            signs, width = self.staff.key_change(laid.item)
            marks += moved(signs, column.places[0] - width - 0.5 * STYLE.gap, 0)
        if laid.item.shows_metre and bar.number > 1:
            marks += self._metre(bar.metre, 1.6 * STYLE.gap)
        high, low = self.room
        # The painter of names has one string at y = 0, and its words so far below it.
        down = self.staff.height + low + _TO_WORDS * STYLE.gap - STYLE.words_line(1, 0)
        marks += moved(self.names.words(bar, column), 0, down)
        marks += moved(self.names.signs(bar, column), 0, -high + 0.3 * STYLE.gap)
        return marks + moved(self._over(bar, column), 0, -self._to_chords + 2.05 * STYLE.gap)

    def _over(self, bar: Bar, column: Column) -> list[Mark]:
        gap = STYLE.gap
        suggested = not self.given.has_chords
        marks = self.names.chords(bar, column, 0, suggested, "sound")
        if bar.part:
            marks.append(Text(0.1 * gap, -3.75 * gap, bar.part, 1.7 * gap, anchor="start", bold=True, face=Face.TITLE))
        if bar.endings:
            y, numbers = -4.65 * gap, ", ".join(map(str, bar.endings)) + "."
            marks.append(Line(0.3 * gap, y, column.width - 0.3 * gap, y, STYLE.stem))
            marks.append(Line(0.3 * gap, y, 0.3 * gap, y + gap, STYLE.stem))
            marks.append(Text((2.6 if bar.part else 0.6) * gap, y + gap, numbers, 0.95 * gap, anchor="start"))
        return marks

    def _metre(self, metre: Metre, x: float) -> Sequence[Mark]:
        if metre.free:
            return []
        gap, middle = STYLE.gap, self.staff.height / 2
        top = "+".join(map(str, metre.grouping)) if "+" in str(metre) else str(metre.beats)
        size = min(1.9, 3.4 / measure(top, 1, bold=True)) * gap
        return [
            Text(x, middle - 0.3 * gap, top, size, bold=True),
            Text(x, middle + 1.45 * gap, str(metre.unit), 1.9 * gap, bold=True),
        ]
