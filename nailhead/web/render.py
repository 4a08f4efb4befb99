"""Core values as models of the API."""

from __future__ import annotations

from collections.abc import Sequence

from nailhead.core.arrange.ladder import RUNGS, Ladder
from nailhead.core.arrange.path import Path, bars_on_path, grade_path
from nailhead.core.arrange.values import ArrangedBar, Grade
from nailhead.core.errors import NailheadError
from nailhead.core.fretboard.cautions import cautions
from nailhead.core.fretboard.fit import Fit
from nailhead.formats.arrangement_json import pitch_name
from nailhead.sheet.ladder_view import layout_ladder
from nailhead.sheet.marks import Mark
from nailhead.store.setups import StoredSetup
from nailhead.store.tunes import StoredTune
from nailhead.web.bench import fit_stored
from nailhead.web.models import (
    CellModel,
    ColumnModel,
    LadderModel,
    PathModel,
    PhraseModel,
    ReasonModel,
    RungModel,
    SetupAnswer,
    SetupSummary,
    SpotModel,
)
from nailhead.web.paint import mark_models
from nailhead.web.shelf_models import TuneDetail
from nailhead.web.workshop import Workshop


def tune_detail(stored: StoredTune, tags: Sequence[str], setups: list[StoredSetup], shop: Workshop) -> TuneDetail:
    return TuneDetail(
        id=stored.id,
        title=stored.title,
        text=stored.text,
        readable=bool(stored.abc),
        draft=stored.draft is not None,
        revision=stored.revision,
        archived=stored.archived,
        tags=list(tags),
        setups=[setup_summary(stored, setup, shop) for setup in setups],
    )


def setup_summary(tune: StoredTune, setup: StoredSetup, shop: Workshop) -> SetupSummary:
    """A setup in words; one that a change of the tune has made impossible says so."""
    try:
        instrument = shop.find(setup.instrument)
        fit = fit_stored(tune.abc, instrument, setup.idiom, setup.tuning, setup.capo, setup.fifth, setup.sounding_key)
    except NailheadError as error:
        label = f"{setup.instrument}: {setup.tuning}, capo {setup.capo}"
        return SetupSummary(
            id=setup.id,
            label=label,
            idiom=setup.idiom,
            shape_key="",
            sounding_key=setup.sounding_key,
            trouble=str(error),
        )
    return SetupSummary(
        id=setup.id,
        label=f"{fit.setup.instrument.name}: {fit.setup.label}",
        idiom=setup.idiom,
        shape_key=str(fit.shape_key),
        sounding_key=str(fit.sounding_key),
    )


def setup_answer(fit: Fit, idiom: str) -> SetupAnswer:
    setup = fit.setup
    places = (setup.places(setup.cents_of(pitch)) for pitch in fit.tune.pitches)
    lowest = [min(place.fret for place in found) for found in places]
    return SetupAnswer(
        instrument=setup.instrument.id,
        idiom=idiom,
        tuning=setup.tuning.id,
        tuning_label=setup.tuning.label,
        capo=setup.capo,
        fifth=pitch_name(setup.fifth) if setup.fifth else None,
        hook_fret=setup.hook_fret,
        sounding_key=str(fit.sounding_key),
        sounding_tonic=str(fit.sounding_key.tonic).replace("♯", "#").replace("♭", "b"),
        shape_key=str(fit.shape_key),
        lowest_fret=setup.fret_name(min(lowest)),
        highest_fret=setup.fret_name(max(lowest)),
        open_share=round(sum(fret == 0 for fret in lowest) / len(lowest), 2),
        remarks=list(fit.remarks),
        cautions=list(cautions(setup)),
    )


def path_model(ladder: Ladder, path: Path, revision: int) -> PathModel:
    bars = bars_on_path(ladder, path)
    grade = grade_path(bars, ladder.structure.classes)
    return PathModel(
        rungs=list(path),
        revision=revision,
        grade=grade.value,
        hardest_bars=[bars[index].number for index in grade.hardest],
        spots=[
            SpotModel(place=spot.index, bar=bars[spot.index].number, join=spot.join, grade=spot.grade, why=spot.why)
            for spot in grade.spots
        ],
    )


def ladder_model(setup_id: int, tune_id: int, ladder: Ladder, path: Path, revision: int) -> LadderModel:
    layout, fit = layout_ladder(ladder), ladder.fit
    phrases = [
        PhraseModel(
            width=phrase.width,
            columns=[
                _column(ladder, column.index, column.width, column.head, column.cells) for column in phrase.columns
            ],
        )
        for phrase in layout.phrases
    ]
    return LadderModel(
        setup_id=setup_id,
        tune_id=tune_id,
        title=ladder.tune.title,
        label=f"{fit.setup.instrument.name}: {fit.setup.label}",
        shape_key=str(fit.shape_key),
        sounding_key=str(fit.sounding_key),
        metre=str(ladder.tune.metre),
        bars=len(ladder.tune.bars),
        different_bars=ladder.structure.different,
        chords_suggested=ladder.chords_suggested,
        cautions=list(cautions(fit.setup)),
        rungs=[RungModel(number=number, name=name) for number, name in RUNGS.items() if number <= len(ladder.rungs)],
        cell_height=layout.cell_height,
        cell_top=layout.cell_top,
        head_height=layout.head_height,
        phrases=phrases,
        path=path_model(ladder, path, revision),
    )


def _column(
    ladder: Ladder, index: int, width: float, head: tuple[Mark, ...], cells: tuple[tuple[Mark, ...], ...]
) -> ColumnModel:
    written = ladder.tune.bars[index]
    return ColumnModel(
        place=index,
        number=written.number,
        letter=ladder.structure.letters[index],
        equal_to=ladder.structure.classes[index],
        part=written.part,
        endings=list(written.endings),
        width=width,
        head=mark_models(head),
        cells=[_cell(rung[index], marks) for rung, marks in zip(ladder.rungs, cells, strict=True)],
    )


def _cell(bar: ArrangedBar, marks: tuple[Mark, ...]) -> CellModel:
    return CellModel(
        rung=bar.rung,
        grade=bar.grade.value,
        reasons=_reasons(bar.grade),
        join=bar.join.value,
        join_reasons=_reasons(bar.join),
        patterns=list(bar.patterns),
        shapes=[str(shape.chord) for shape in bar.shapes],
        remarks=list(bar.remarks),
        marks=mark_models(marks),
    )


def _reasons(grade: Grade) -> list[ReasonModel]:
    return [ReasonModel(term=reason.term, points=reason.points, text=reason.sentence) for reason in grade.reasons]
