"""The layout, measured: nothing cut off, nothing on top of another thing, everything there."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations, pairwise

import pytest

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.fit.planned import planned, wished
from nailhead.core.arrange.rows.ways import find_idiom
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.values import Role
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.music.metre import Time
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_tune
from nailhead.sheet.boxes import box
from nailhead.sheet.columns import Column, Need, column_for, with_room
from nailhead.sheet.ladder_view import frame_ladder, layout_phrase
from nailhead.sheet.marks import Disc, Ink, Line, Mark, Polygon, Text, moved
from nailhead.sheet.options import PAPERS, SheetOptions
from nailhead.sheet.page import MARGIN, layout_sheet
from nailhead.sheet.style import Style
from nailhead.sheet.tab import painter_of
from tests.corpora import sample, sized
from tests.demo import demo_tunes

BANJO = find_instrument("banjo")
#: Boxes come from mean character widths: this much (mm) may touch.
SLACK = 0.15


def ladder_of(tune: Tune, idiom: str = "clawhammer", **wish: object) -> Ladder:
    return build_ladder(fit_tune(tune, BANJO, Wish(**wish)), idiom)  # type: ignore[arg-type]


def pages_of(ladder: Ladder, rung: int, paper: str = "A4", fingers: bool = False) -> Iterator[list[Mark]]:
    options = SheetOptions(paper, fingers=fingers)
    for page in layout_sheet(ladder, Arrangement(level_path(ladder, rung)), options).pages:
        yield list(page.marks)


def overlapping(marks: list[Mark]) -> list[tuple[str, str]]:
    """Pairs of texts whose boxes cross; fret numbers on their heads are one thing."""
    texts = sorted(((box(mark), mark) for mark in marks if isinstance(mark, Text)), key=lambda item: item[0][1])
    found = []
    for (a, one), (b, other) in combinations(texts, 2):
        if b[1] >= a[3]:
            continue
        wide = min(a[2], b[2]) - max(a[0], b[0])
        high = min(a[3], b[3]) - max(a[1], b[1])
        if wide > SLACK and high > SLACK:
            found.append((one.text, other.text))
    return found


@pytest.mark.parametrize("paper", PAPERS)
@pytest.mark.parametrize(("idiom", "rung"), [("clawhammer", 3), ("clawhammer", 7), ("three-finger", 4)])
@pytest.mark.parametrize("tune", demo_tunes(), ids=lambda tune: tune.title)
def test_demo_sheets_are_clean(tune: Tune, idiom: str, rung: int, paper: str) -> None:
    """Inside the margins, no text on another, on both papers: shapes, slurs and graces, pinches."""
    width, height = PAPERS[paper]
    for marks in pages_of(ladder_of(tune, idiom), rung, paper):
        for mark in marks:
            left, top, right, bottom = box(mark)
            assert left >= MARGIN - 1 and right <= width - MARGIN + 1, mark
            assert top >= MARGIN - 5 and bottom <= height - MARGIN + 4, mark
        assert overlapping(marks) == []


@pytest.mark.parametrize("part", range(4))
def test_corpus_sheets_are_clean(part: int) -> None:
    """The same for real tunes, dense ones among them, on plain, middle and full rungs, with fingers."""
    for number, chosen in enumerate(sample(sized(8, 100))[part::4]):
        tune = read_tune(chosen.text).tune
        assert tune
        ladder = ladder_of(tune, ("clawhammer", "three-finger")[number % 2])
        for rung in (2, 5, 7):
            for marks in pages_of(ladder, rung, fingers=True):
                for mark in marks:
                    left, top, right, bottom = box(mark)
                    assert left >= MARGIN - 1 and right <= PAPERS["A4"][0] - MARGIN + 1, (chosen, mark)
                    assert top >= MARGIN - 5 and bottom <= PAPERS["A4"][1] - MARGIN + 4, (chosen, mark)
                assert overlapping(marks) == [], (chosen, rung)


@pytest.mark.parametrize("tune", demo_tunes(), ids=lambda tune: tune.title)
def test_every_note_of_the_path_is_on_the_sheet(tune: Tune) -> None:
    """As many nailheads as melody notes struck, as many rings as drones; the legend has one of each."""
    ladder = ladder_of(tune)
    marks = [mark for page in pages_of(ladder, 3) for mark in page]
    notes = [n for bar in ladder.rungs[2] for s in bar.strokes for n in s.notes]
    heads = sum(isinstance(mark, Disc) and mark.fill is Ink.MELODY for mark in marks)
    assert heads == sum(note.role is Role.MELODY and not note.held for note in notes) + 1
    numbers = {mark.text for mark in marks if isinstance(mark, Text)}
    assert {str(bar.number) for bar in tune.bars} <= numbers


def fingers_of(tune: Tune, instrument: str) -> Ladder:
    row = find_instrument(instrument)
    way = find_idiom("fingerstyle", row)
    return build_ladder(fit_tune(tune, row, planned(tune, row, way, wished(way))), way)


@pytest.mark.parametrize("instrument", ["guitar", "ukulele"])
def test_the_melody_has_its_stems_above_and_what_accompanies_it_below(instrument: str) -> None:
    """Engraving practice for two voices: a stem over every melody note that is struck or sounded, one under every bass,
    chord and filler; the bare melody has all of its own below.
    """
    ladder = fingers_of(demo_tunes()[1], instrument)
    painter, height = painter_of(ladder, Style()), Style().staff_height(ladder.fit.setup.instrument.strings)
    for rung, in_voices in ((1, False), (3, True), (5, True)):
        for written, bar in zip(ladder.tune.bars, ladder.rungs[rung - 1], strict=True):
            column = column_for([bar], Style())
            marks = painter.notes(bar, column, written, Time(0), in_voices)
            stems = [(one.x1, one.y2) for one in marks if isinstance(one, Line) and one.x1 == one.x2]
            stems += [(one.x, one.y) for one in marks if isinstance(one, Disc) and one.fill is Ink.PAPER]  # whole notes
            above = {x for x, y in stems if y < 0}
            below = {x for x, y in stems if y > height}
            sung, beside = set(), set()
            for stroke in bar.strokes:
                roles = {note.role is Role.MELODY for note in stroke.notes}
                sung |= {column.x(stroke.onset)} if True in roles else set()
                beside |= {column.x(stroke.onset)} if False in roles else set()
            if in_voices:
                assert above == sung and below == beside, (rung, written.number)
            else:
                assert not above and below == sung


@pytest.mark.parametrize("staff", ["none", "melody"])
@pytest.mark.parametrize(("instrument", "rung"), [("guitar", 3), ("guitar", 6), ("ukulele", 5)])
def test_sheets_in_two_voices_are_clean(instrument: str, rung: int, staff: str) -> None:
    """Nothing on top of another thing, chord names over the melody's stems, with a staff above or without."""
    for tune in demo_tunes()[::2]:
        ladder = fingers_of(tune, instrument)
        sheet = layout_sheet(ladder, Arrangement(level_path(ladder, rung)), SheetOptions(staff=staff, fingers=True))
        for page in sheet.pages:
            assert overlapping(list(page.marks)) == [], tune.title
            stems = [box(one) for one in page.marks if isinstance(one, Line) and one.x1 == one.x2]
            chords = [box(one) for one in page.marks if isinstance(one, Text) and one.size == 1.5 * Style().gap]
            for left, top, right, bottom in chords:
                for x, high, _, low in stems:
                    assert not (left < x < right and high < bottom and low > top), tune.title


def test_heads_do_not_touch_each_other() -> None:
    """Sixteenths on one string leave room between the heads."""
    tune = read_tune("X:1\nM:2/4\nL:1/16\nK:G\nDDDD DDDD|DDDD DDDD|DDDD DDDD|DDDD DDDD|\n").tune
    assert tune
    for marks in pages_of(ladder_of(tune), 1):
        xs = sorted(mark.x for mark in marks if isinstance(mark, Disc) and mark.fill is Ink.MELODY)[1:]
        gaps = [after - before for before, after in pairwise(xs) if after - before > 0.01]
        assert min(gaps) > 2 * Style().head


@pytest.mark.parametrize("way", ["clawhammer", "three-finger"])
def test_heads_on_neighbouring_strings_stand_clear(way: str) -> None:
    """Double stops and brushes: no head or ring reaches another one, and no arrow of a brush runs through one."""
    seen = 0
    for tune in demo_tunes():
        for rung in (3, 6, 7):
            for marks in pages_of(ladder_of(tune, way), rung):
                heads = [mark for mark in marks if isinstance(mark, Disc) and mark.radius > 1]
                for one, other in combinations(heads, 2):
                    apart = ((one.x - other.x) ** 2 + (one.y - other.y) ** 2) ** 0.5
                    assert apart >= one.radius + other.radius, tune.title
                    seen += abs(one.x - other.x) < 0.01 and apart < 4
                arrows = [box(mark) for mark in marks if isinstance(mark, Polygon) and mark.ink is Ink.HAND]
                for left, top, right, bottom in arrows:
                    for head in heads:
                        inside = left - head.radius < head.x < right + head.radius
                        assert not (inside and top - head.radius < head.y < bottom + head.radius), tune.title
    assert seen


def test_words_and_chords_make_their_own_room() -> None:
    """Long words under eighths push the notes apart instead of running into each other."""
    text = 'X:1\nM:4/4\nL:1/8\nK:Bb\n"Bbmaj7"BcdB "Ebmaj7"c"Cm7"dB"F7sus4"c|\nw: thoroughly overburdened neighbouring '
    tune = read_tune(text + "instruments wandering everywhere underneath bridges\n").tune
    assert tune
    for marks in pages_of(ladder_of(tune), 2):
        assert overlapping(marks) == []


def test_columns_share_their_beats_and_meet_needs() -> None:
    """The union of all onsets, in order; a need moves everything behind it."""
    ladder = ladder_of(demo_tunes()[1])
    column = column_for([rung[1] for rung in ladder.rungs], Style())
    assert list(column.places) == sorted(column.places)
    for rung in ladder.rungs:
        assert {stroke.onset for stroke in rung[1].strokes} <= set(column.times)
    wide = with_room(column, [Need(column.times[0], column.times[1], 30.0)])
    assert wide.x(column.times[1]) - wide.x(column.times[0]) == pytest.approx(30.0)
    assert wide.width > column.width
    assert isinstance(wide.stretched(2.0), Column)


def test_the_ladder_shows_every_cell() -> None:
    """Each written bar on each rung, in phrases, widths adding up."""
    ladder = ladder_of(demo_tunes()[0])
    frame = frame_ladder(ladder)
    phrases = [layout_phrase(ladder, frame, index) for index in range(len(frame.starts))]
    assert [c.index for p in phrases for c in p.columns] == list(range(len(ladder.tune.bars)))
    assert all(len(c.cells) == len(ladder.rungs) for p in phrases for c in p.columns)
    assert [p.width for p in phrases] == [pytest.approx(sum(c.width for c in p.columns)) for p in phrases]
    for column in (c for p in phrases for c in p.columns):
        assert column.fresh[0] == (), "the bare melody is where it begins"


def test_moving_marks_moves_their_boxes() -> None:
    """Every kind of mark keeps its size."""
    for marks in pages_of(ladder_of(demo_tunes()[1]), 3, fingers=True):
        for mark, shifted in zip(marks, moved(marks, 3, -2), strict=True):
            before, after = box(mark), box(shifted)
            moves = [b - a for a, b in zip(before, after, strict=True)]
            assert moves == pytest.approx([3, -2, 3, -2])
