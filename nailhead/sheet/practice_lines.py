"""The tab of the practice room: lines as wide as a screen, with the place of every moment for a cursor."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.music.metre import ZERO, Time
from nailhead.core.practice.drills import Drill
from nailhead.core.practice.material import Material, Spot
from nailhead.sheet.marks import Curve, Disc, Ink, Line, Mark, Polygon, Sign, Text, moved
from nailhead.sheet.options import SheetOptions
from nailhead.sheet.passages import Item, rows_again, rows_written
from nailhead.sheet.systems import BETWEEN, SystemSetter

#: Name -> width of a line in mm: what is narrower stands larger on the same screen. The first is read from two metres.
SIZES = {"large": 100.0, "medium": 140.0, "small": 200.0}
#: In gaps: what lies so close above string 1 belongs to its notes.
_NEAR = 0.9


@dataclass(frozen=True, slots=True)
class PlacedBar:
    """Bar `bar` of the score: from `x` on, `width` wide; `moments` are times of the bar and where they stand (mm)."""

    bar: int
    x: float
    width: float
    moments: tuple[tuple[Time, float], ...]


@dataclass(frozen=True)
class TabLine:
    """A line of tab in mm, its string lines from `top` to `bottom`. `notes` are the marks that tell what is played,
    `rhythm` all others: the beat, the hand, bar lines, chords.
    """

    width: float
    height: float
    top: float
    bottom: float
    notes: tuple[Mark, ...]
    rhythm: tuple[Mark, ...]
    bars: tuple[PlacedBar, ...]


def lines_of(material: Material, options: SheetOptions, size: str) -> tuple[TabLine, ...]:
    """An arrangement line by line, in the order of its score: as written, then what is otherwise the second time."""
    ladder, bars = material.ladder, material.bars
    # A bar that is never played has no sound and no place.
    full = [bars.get(Spot(at), ladder.rungs[0][at]) for at in range(len(ladder.tune.bars))]
    rows = [
        tuple(item for at, item in enumerate(row, start) if Spot(at) in bars)
        for (start, _), row in zip(ladder.structure.phrases, rows_written(ladder, full), strict=True)
    ]
    again = {spot.index: bar for spot, bar in bars.items() if spot.again}
    return tuple(_lines(ladder, [row for row in (*rows, *rows_again(ladder, again)) if row], options, size))


def drill_lines(ladder: Ladder, drill: Drill, options: SheetOptions, size: str) -> tuple[TabLine, ...]:
    """A drill line by line."""
    plain = replace(
        ladder.tune.bars[0], metre=drill.metre, events=(), chords=(), part="", opens_repeat=False, endings=()
    )
    items = tuple(
        Item(replace(plain, number=place + 1, closes_repeat=0, barline="single"), bar, ZERO, place == 0, numbered=False)
        for place, bar in enumerate(drill.bars)
    )
    return tuple(_lines(ladder, [items], options, size))


def _lines(ladder: Ladder, rows: Sequence[tuple[Item, ...]], options: SheetOptions, size: str) -> Iterator[TabLine]:
    options = replace(options, size="usual", staff="none", words=options.words, colours="colour")
    setter = SystemSetter(ladder, options, SIZES[size], [item for row in rows for item in row])
    top, place, first = setter.above, 0, True
    bottom = top + setter.painter.span.bottom
    for row in rows:
        for system in setter.divide(row, first):
            x, columns = setter.columns(system, first)
            marks = moved(setter.draw(system, first), 0, top)
            placed = []
            for column in columns:
                moments = tuple((time, x + at) for time, at in zip(column.times, column.places, strict=True))
                placed.append(PlacedBar(place, x, column.width, moments))
                x += column.width
                place += 1
            high, low = top - _NEAR * options.style.gap, bottom + _NEAR * options.style.gap
            tells = [_left_of(mark) > placed[0].x and _tells(mark, high, low) for mark in marks]
            notes = tuple(mark for mark, told in zip(marks, tells, strict=True) if told)
            rhythm = tuple(mark for mark, told in zip(marks, tells, strict=True) if not told)
            height = setter.height - BETWEEN * options.style.gap
            yield TabLine(setter.line, height, top, bottom, notes, rhythm, tuple(placed))
            first = False


def _left_of(mark: Mark) -> float:
    """Where a mark begins, by its own measure: what stands in the margin tells the strings and the metre."""
    match mark:
        case Line() | Curve():
            return mark.x1
        case Polygon():
            return mark.points[0][0]
        case _:
            return mark.x


def _tells(mark: Mark, high: float, low: float) -> bool:
    """Does a mark tell what is played? It lies on the strings, and is none of them and no bar line."""
    match mark:
        case Line():
            upright = mark.x1 == mark.x2 and abs(mark.y2 - mark.y1) > (low - high) / 2
            return mark.ink is not Ink.STRING and not upright and high < min(mark.y1, mark.y2) < low
        case Curve():
            return mark.y1 < low
        case Polygon():
            return all(high < y < low for _, y in mark.points)
        case Disc() | Sign():
            return high < mark.y < low
        case Text():
            # What is set between the chord names and the strings belongs to slurs.
            return high - (low - high) / 8 < mark.y < low and mark.ink is not Ink.FAINT
