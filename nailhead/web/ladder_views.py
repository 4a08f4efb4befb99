"""Ladders and arrangements as models of the API."""

from __future__ import annotations

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.teacher.arrangement import Kind, groups_of, played_again, second_path
from nailhead.core.arrange.teacher.awkward import awkward
from nailhead.core.arrange.teacher.cells import touched
from nailhead.core.arrange.teacher.editing import Desk
from nailhead.core.arrange.teacher.path import bars_on_path, grade_path
from nailhead.core.arrange.teacher.performing import grade_second
from nailhead.core.arrange.teacher.pinning import patterns_that_fit, shapes_offered
from nailhead.core.arrange.values import FrettedNote, Grade, Ornament, Stroke, Touch
from nailhead.core.errors import PathError
from nailhead.core.fretboard.cautions import cautions
from nailhead.core.music.note_names import NOTE_NAMES, note_name
from nailhead.core.sound.playing import pace_at
from nailhead.sheet.columns import Column
from nailhead.sheet.ladder_view import (
    STYLE,
    BarColumn,
    LadderFrame,
    frame_ladder,
    layout_cell,
    layout_phrase,
    layout_strip,
    marks_in,
)
from nailhead.sheet.tab import TabOptions
from nailhead.web.arrange_models import (
    BesideCell,
    BesideModel,
    CellChoices,
    CellDetail,
    MomentModel,
    NoteModel,
    ShapeOfferModel,
    StripModel,
    TouchModel,
)
from nailhead.web.arranging import Done
from nailhead.web.bench import Bench
from nailhead.web.change_models import ChangeAnswer
from nailhead.web.models import (
    AsideModel,
    BarFrame,
    CellModel,
    ColumnModel,
    HandedOutModel,
    KeptModel,
    LadderModel,
    OwnPatternModel,
    PathModel,
    PhraseModel,
    ReasonModel,
    RungModel,
    SpotModel,
)
from nailhead.web.paint import mark_models

#: So many phrases come with the ladder; the others when they are scrolled near.
FIRST_PHRASES = 1
LARGE = TabOptions(fingers=True)


def path_model(bench: Bench) -> PathModel:
    """What has been decided, and how hard it is."""
    ladder, decided = bench.ladder, bench.arrangement
    bars = bars_on_path(ladder, decided.rungs)
    grade = grade_path(bars, groups_of(ladder, decided))
    return PathModel(
        rungs=list(decided.rungs),
        second=list(second_path(decided)),
        groups=list(groups_of(ladder, decided)),
        split=sorted(decided.split),
        locked=sorted(decided.locked),
        kept=[
            KeptModel(place=index, rung=rung, kind=cell.kind, said=cell.said)
            for (index, rung), cell in sorted(decided.cells.items())
        ],
        aside=[
            AsideModel(bar=bench.number_of(one.index), rung=one.rung, kind=one.cell.kind, why=one.why)
            for one in decided.aside
        ],
        revision=bench.stored.revision,
        undo=bench.stored.undo,
        redo=bench.stored.redo,
        grade=grade.value,
        second_grade=again.value if (again := grade_second(ladder, decided)) else None,
        solo=ladder.solo in decided.rungs,
        hardest_bars=[bars[index].number for index in grade.hardest],
        spots=[
            SpotModel(place=spot.index, bar=bars[spot.index].number, join=spot.join, grade=spot.grade, why=spot.why)
            for spot in grade.spots
        ],
        handed_out=_handed_out(bench),
    )


def _handed_out(bench: Bench) -> HandedOutModel | None:
    """What the path has of what was handed out and would be otherwise now."""
    decided = bench.arrangement
    paths = (decided.rungs, second_path(decided))
    places = sorted(
        {
            index
            for (index, rung), cell in decided.cells.items()
            if cell.kind is Kind.HANDED_OUT and rung in (path[index] for path in paths)
        }
    )
    if not places or bench.handed is None:
        return None
    bars = bench.computed.tune.bars
    numbers = [bars[place].number for place in places]
    return HandedOutModel(date=bench.handed.made_at[:10], how=bench.handed.how, places=places, numbers=numbers)


def ladder_model(bench: Bench) -> LadderModel:
    """The ladder with the marks of its first phrases."""
    ladder, fit = bench.ladder, bench.ladder.fit
    frame = frame_ladder(ladder)
    return LadderModel(
        setup_id=bench.setup.id,
        tune_id=bench.tune.id,
        name=bench.setup.name,
        called=bench.called,
        title=ladder.tune.title,
        label=f"{fit.setup.instrument.name}: {fit.setup.label}",
        idiom=ladder.idiom.name,
        tempo=pace_at(ladder.tune).bpm,
        shape_key=str(fit.shape_key),
        sounding_key=str(fit.sounding_key),
        metre=str(ladder.tune.metre),
        bars=len(ladder.tune.bars),
        different_bars=ladder.structure.different,
        chords_suggested=ladder.chords_suggested,
        cautions=list(cautions(fit.setup)),
        rungs=[
            RungModel(number=number, name=rung.name, plays=rung.plays, version=rung.version)
            for number, rung in enumerate(ladder.idiom.rungs, start=1)
        ],
        signs=list(ladder.idiom.right.alphabet),
        sample=next((row.text for row in ladder.idiom.right.rows), ""),
        patterns=[OwnPatternModel(name=name, text=text) for name, text in bench.setup.patterns],
        cell_height=frame.cell_height,
        cell_top=frame.cell_top,
        head_height=frame.head_height,
        phrases=[_phrase(bench, frame, index, index < FIRST_PHRASES) for index in range(len(frame.starts))],
        path=path_model(bench),
    )


def phrase_model(bench: Bench, index: int) -> PhraseModel | None:
    """One phrase with its marks; None where there is none of that number."""
    frame = frame_ladder(bench.ladder)
    return _phrase(bench, frame, index, True) if 0 <= index < len(frame.starts) else None


def beside_model(bench: Bench, index: int, other: Bench) -> BesideModel:
    """The path of another arrangement of the tune, its beats under those of this one's phrase."""
    if len(other.computed.tune.bars) != len(bench.computed.tune.bars):
        raise PathError(
            "The other arrangement is of another tune.", field="other", remedy="Choose one of the same tune."
        )
    frame = frame_ladder(bench.ladder)
    bars = bars_on_path(other.ladder, other.arrangement.rungs)
    start = frame.starts[index]
    cells = [
        BesideCell(
            place=place,
            rung=bars[place].rung,
            grade=bars[place].grade.value,
            marks=mark_models(marks_in(other.ladder, bars[place], place, column)),
        )
        for place, column in enumerate(frame.columns[index], start)
    ]
    below = frame_ladder(other.ladder)
    return BesideModel(name=other.called, height=below.cell_height, top=below.cell_top, cells=cells)


def frame_models(bench: Bench) -> list[StripModel]:
    """Kick-off and ending of the solo, where the way of playing has one and the tune does not bring its own."""
    ladder = bench.ladder
    strips = []
    for name, frame in (("Kick-off", ladder.kick_off), ("Ending", ladder.ending)):
        if frame:
            strip = layout_strip(ladder, frame)
            strips.append(
                StripModel(
                    name=name, width=strip.width, top=strip.top, height=strip.height, marks=mark_models(strip.marks)
                )
            )
    return strips


def change_answer(before: Bench, done: Done, again: bool = False) -> ChangeAnswer:
    """What a change gives back: only the phrases in which a cell looks different.

    A change that was sent `again` has been made before; what it changed is not known any more, so all is to be loaded.
    """
    after = done.bench
    reload = again or before.computed is not after.computed
    old, new = before.arrangement.cells, after.arrangement.cells
    cells = {key for key in old.keys() | new.keys() if old.get(key) != new.get(key)}
    places = {index for index, _ in touched(after.ladder, cells)}
    phrases = []
    if places and not reload:
        frame = frame_ladder(after.ladder)
        stops = (*frame.starts[1:], len(after.ladder.tune.bars))
        for index, (start, stop) in enumerate(zip(frame.starts, stops, strict=True)):
            if any(start <= place < stop for place in places):
                phrases.append(_phrase(after, frame, index, True))
    return ChangeAnswer(
        path=path_model(after), phrases=phrases, reload=reload, said=done.said, remarks=list(done.remarks)
    )


def _phrase(bench: Bench, frame: LadderFrame, index: int, with_marks: bool) -> PhraseModel:
    ladder, start = bench.ladder, frame.starts[index]
    again = played_again(ladder)
    bars = [
        _bar_frame(ladder, start + at, column, start + at in again) for at, column in enumerate(frame.columns[index])
    ]
    columns = None
    if with_marks:
        columns = [_column(bench, column) for column in layout_phrase(ladder, frame, index).columns]
    return PhraseModel(index=index, width=frame.width(index), bars=bars, columns=columns)


def _bar_frame(ladder: Ladder, index: int, column: Column, again: bool) -> BarFrame:
    written = ladder.tune.bars[index]
    return BarFrame(
        place=index,
        number=written.number,
        letter=ladder.structure.letters[index],
        equal_to=ladder.structure.classes[index],
        part=written.part,
        endings=list(written.endings),
        again=again,
        width=column.width,
        grades=[rung[index].grade.value for rung in ladder.rungs],
    )


def _column(bench: Bench, column: BarColumn) -> ColumnModel:
    ladder, index = bench.ladder, column.index
    cells = []
    for rung, marks, fresh in zip(ladder.rungs, column.cells, column.fresh, strict=True):
        bar = rung[index]
        kept = bench.arrangement.cells.get((index, bar.rung))
        cells.append(
            CellModel(
                rung=bar.rung,
                kept=kept.kind if kept else "",
                said=kept.said if kept else "",
                fresh=[(round(x, 2), round(y, 2)) for x, y in fresh],
                grade=bar.grade.value,
                reasons=_reasons(bar.grade),
                join=bar.join.value,
                join_reasons=_reasons(bar.join),
                patterns=list(bar.patterns),
                shapes=[str(shape.chord) for shape in bar.shapes],
                remarks=list(bar.remarks),
                marks=mark_models(marks),
            )
        )
    return ColumnModel(place=index, head=mark_models(column.head), cells=cells)


def _reasons(grade: Grade) -> list[ReasonModel]:
    return [ReasonModel(term=reason.term, points=reason.points, text=reason.sentence) for reason in grade.reasons]


def cell_detail(bench: Bench, place: int, rung: int) -> CellDetail:
    """The selected bar large, note by note, with what could be chosen for it."""
    ladder = bench.ladder
    bar, desk = ladder.cell(place, rung), Desk(bench.computed, place)
    cell = layout_cell(ladder, place, bar, LARGE)
    count = desk.context.count
    moments = [count * step for step in range(int(bar.length / count))]
    kept = bench.arrangement.cells.get((place, rung))
    return CellDetail(
        place=place,
        rung=rung,
        width=cell.width,
        marks=mark_models(cell.marks),
        strings=ladder.fit.setup.instrument.strings,
        gap=STYLE.gap,
        notes=[
            _note(bench, place, stroke, touch, note, cell.column)
            for stroke in bar.strokes
            for touch in stroke.touches
            for note in touch.notes
        ],
        moments=[MomentModel(onset=str(at), x=round(cell.column.x(at), 2)) for at in moments],
        kept=kept.kind if kept else "",
        said=kept.said if kept else "",
        awkward=list(awkward(desk, bar)) if kept else [],
        touches=[TouchModel(name=row.id, word=row.word) for row in ladder.idiom.right.touches],
    )


def cell_choices(bench: Bench, place: int, rung: int) -> CellChoices:
    """The patterns and shapes that could be taken for a bar: what takes longer than showing it."""
    playing = bench.ladder.cell(place, rung).patterns  # refuses a rung that there is none of
    return CellChoices(
        patterns=list(patterns_that_fit(bench.computed, place, rung)),
        playing=list(playing),
        shapes=[
            ShapeOfferModel(onset=str(one.onset), chord=one.chord, frets=one.frets, used=one.used)
            for one in shapes_offered(bench.computed, place, rung)
        ],
    )


def _note(bench: Bench, place: int, stroke: Stroke, touch: Touch, note: FrettedNote, column: Column) -> NoteModel:
    slur, ladder, names = note.slur, bench.ladder, bench.sheet.names
    called = note_name(note.pitch, ladder.tune.bars[place].key, names) if names in NOTE_NAMES[2:] else str(note.pitch)
    return NoteModel(
        onset=str(stroke.onset),
        x=round(column.x(stroke.onset), 2),
        string=note.place.string,
        fret=note.place.fret,
        fret_name=ladder.fit.setup.fret_name(note.place.fret),
        pitch=str(note.pitch),
        name=called,
        role=note.role,
        finger=note.finger,
        touch=ladder.idiom.right.row_of(touch).id if touch.struck else "",
        held=note.held,
        ornament=slur.ornament if slur else Ornament.BEND if note.bend else None,
        start=slur.start if slur else 0,
        slow=bool(slur and slur.slow),
        grace=bool(slur and slur.grace),
    )
