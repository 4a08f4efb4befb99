"""Arrangements: their ladder, every change of it with undo and redo, the selected cell, copies side by side."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from fastapi import APIRouter, Depends, Response

from nailhead.core.arrange.rows.ways import find_idiom, options_of
from nailhead.core.arrange.teacher.arrangement import groups_of
from nailhead.core.arrange.teacher.path import bars_on_path, grade_path
from nailhead.core.errors import NailheadError
from nailhead.formats.abc import read_tune
from nailhead.formats.arrangement_file import ArrangementFileError
from nailhead.sheet.options import SheetOptions, read_options
from nailhead.store.arrangements import applied_revision, copy_setup, go_step, name_setup, save_step
from nailhead.store.database import ConflictError, Database, NotFoundError
from nailhead.store.setups import add_setup, get_setup, setups_of_tune
from nailhead.store.shelf import put_facts
from nailhead.store.tunes import add_tune, get_tune, tune_of_text
from nailhead.web.apart import ApartRoute, finished
from nailhead.web.arrange_models import BesideModel, CellChoices, CellDetail, StripModel
from nailhead.web.arranging import Done, change
from nailhead.web.bench import (
    Bench,
    Kept,
    bench_of,
    first_arrangement,
    open_bench,
    read_kept,
    step_document,
)
from nailhead.web.bringing_back import source_of_file
from nailhead.web.change_models import (
    AnyQueued,
    ArrangementRow,
    BroughtBack,
    ChangeAnswer,
    ChangeWish,
    FileWish,
    NameWish,
    QueueAnswer,
    QueueWish,
    Redo,
    StepWish,
    Undo,
)
from nailhead.web.dependencies import database
from nailhead.web.ladder_views import (
    beside_model,
    cell_choices,
    cell_detail,
    change_answer,
    frame_models,
    ladder_model,
    phrase_model,
)
from nailhead.web.ladders import ladder_at
from nailhead.web.models import LadderModel, PhraseModel, SetupSummary
from nailhead.web.remembered import remembered
from nailhead.web.render import setup_summary
from nailhead.web.shelf import MADE_BY, facts_of_text
from nailhead.web.workshop import Shop, Workshop

router = APIRouter(prefix="/api", tags=["arrangements"], route_class=ApartRoute)
ROUTERS = (router,)
Db = Annotated[Database, Depends(database)]


@router.get("/setups/{setup_id}/ladder", response_model=LadderModel)
def ladder(setup_id: int, db: Db, shop: Shop) -> Response:
    """The ladder of an arrangement with its path, and the marks of its first phrases."""
    return remembered(db, setup_id, shop, ladder_model)


@router.get("/setups/{setup_id}/phrases/{index}", response_model=PhraseModel)
def phrase(setup_id: int, index: int, db: Db, shop: Shop) -> Response:
    """One phrase with its marks."""

    def shown(bench: Bench) -> PhraseModel:
        found = phrase_model(bench, index)
        if found is None:
            raise NotFoundError(f"There is no phrase {index}.", field="index", remedy="Reload the ladder.")
        return found

    return remembered(db, setup_id, shop, shown, index)


@router.get("/setups/{setup_id}/phrases/{index}/beside/{other}")
def beside(setup_id: int, index: int, other: int, db: Db, shop: Shop) -> BesideModel:
    """What another arrangement of the tune plays there."""
    with db.read() as connection:
        mine, theirs = read_kept(connection, setup_id), read_kept(connection, other)
    bench, second = bench_of(mine, shop), bench_of(theirs, shop)
    if not 0 <= index < len(bench.ladder.structure.phrases):
        raise NotFoundError(f"There is no phrase {index}.", field="index", remedy="Reload the ladder.")
    return beside_model(bench, index, second)


@router.get("/setups/{setup_id}/frames")
def frames(setup_id: int, db: Db, shop: Shop) -> list[StripModel]:
    """What the solo has before the tune and after it."""
    return frame_models(open_bench(db, setup_id, shop))


@router.get("/setups/{setup_id}/cells/{place}/{rung}")
def cell(setup_id: int, place: int, rung: int, db: Db, shop: Shop) -> CellDetail:
    """A cell note by note, with what could be chosen for it."""
    bench = open_bench(db, setup_id, shop)
    return cell_detail(bench, bench.check(place), rung)


@router.get("/setups/{setup_id}/cells/{place}/{rung}/choices")
def cell_choices_of(setup_id: int, place: int, rung: int, db: Db, shop: Shop) -> CellChoices:
    """The patterns and shapes that could be taken for a cell."""
    bench = open_bench(db, setup_id, shop)
    return cell_choices(bench, bench.check(place), rung)


@router.post("/setups/{setup_id}/changes")
@finished
def make_change(setup_id: int, wish: ChangeWish, db: Db, shop: Shop) -> ChangeAnswer:
    """Make one change; it is one step of undo. Refused (409) where another window has changed the arrangement."""
    return _make(setup_id, wish.change, wish.id, wish.revision, db, shop)


@router.post("/setups/{setup_id}/undo")
@finished
def undo(setup_id: int, wish: StepWish, db: Db, shop: Shop) -> ChangeAnswer:
    """Take the last step back."""
    return _make(setup_id, Undo(do="undo"), wish.id, wish.revision, db, shop)


@router.post("/setups/{setup_id}/redo")
@finished
def redo(setup_id: int, wish: StepWish, db: Db, shop: Shop) -> ChangeAnswer:
    """Make a step again that was taken back."""
    return _make(setup_id, Redo(do="redo"), wish.id, wish.revision, db, shop)


@router.post("/setups/{setup_id}/changes/queue")
@finished
def make_queued_changes(setup_id: int, wish: QueueWish, db: Db, shop: Shop) -> QueueAnswer:
    """Make the changes that waited when their page was left, each one step of undo.

    One that has been made already is passed over, one that cannot be made is left out. Refused (409) where another
    window has changed the arrangement before the first of them.
    """
    kept: list[str] = []
    revision = wish.revision
    for queued in wish.changes:
        try:
            revision = _make(setup_id, queued.change, queued.id, revision, db, shop).path.revision
        except (ConflictError, NotFoundError):
            if not kept:
                raise
            break
        except NailheadError:
            continue
        kept.append(queued.id)
    return QueueAnswer(kept=kept, revision=revision)


def _make(
    setup_id: int, wanted: AnyQueued, change_id: str | None, revision: int, db: Database, shop: Workshop
) -> ChangeAnswer:
    """Make a change, or answer as things stand where it has been made before."""
    with db.read() as connection:
        kept = read_kept(connection, setup_id)
        made = applied_revision(connection, setup_id, change_id)
    before = bench_of(kept, shop)
    if made is not None:
        return change_answer(before, Done(before, ""), again=True)
    if isinstance(wanted, Undo | Redo):
        return _go(before, -1 if isinstance(wanted, Undo) else 1, revision, change_id, db, shop)
    done = change(before, wanted, shop)
    # What was worked out from an older revision is refused here; computing holds up nobody else's writing.
    with db.write() as connection:
        stored = save_step(
            connection, setup_id, before.document(), done.bench.document(), done.said, revision, change_id
        )
    return change_answer(before, replace(done, bench=done.bench.standing(stored)))


def _go(before: Bench, by: int, revision: int, change_id: str | None, db: Database, shop: Workshop) -> ChangeAnswer:
    said = f"Undone: {before.stored.undo}" if by < 0 else f"Redone: {before.stored.redo}"
    with db.write() as connection:
        go_step(connection, before.setup.id, by, revision, change_id)
        kept = read_kept(connection, before.setup.id)
    return change_answer(before, Done(bench_of(kept, shop), said))


@router.get("/tunes/{tune_id}/arrangements")
def arrangements(tune_id: int, db: Db, shop: Shop) -> list[ArrangementRow]:
    """Every arrangement of a tune with the grade of its path, oldest first."""
    with db.read() as connection:
        get_tune(connection, tune_id)
        kept = [read_kept(connection, setup.id) for setup in setups_of_tune(connection, tune_id)]
    return [_row(one, shop) for one in kept]


def _row(kept: Kept, shop: Workshop) -> ArrangementRow:
    setup = setup_summary(kept.tune, kept.setup, shop, kept.called(shop))
    grade, trouble = 0, setup.trouble
    if not trouble:
        try:
            bench = bench_of(kept, shop)
            bars = bars_on_path(bench.ladder, bench.arrangement.rungs)
            grade = grade_path(bars, groups_of(bench.ladder, bench.arrangement)).value
        except NailheadError as error:
            trouble = str(error)
    return ArrangementRow(
        id=setup.id, called=setup.called, label=setup.label, idiom=setup.idiom, grade=grade, trouble=trouble
    )


@router.post("/setups/{setup_id}/copy", status_code=201)
@finished
def copy(setup_id: int, wish: NameWish, db: Db, shop: Shop) -> SetupSummary:
    """Another arrangement of the tune that begins as this one stands."""
    with db.write() as connection:
        kept = read_kept(connection, copy_setup(connection, setup_id, wish.name))
    return setup_summary(kept.tune, kept.setup, shop, kept.called(shop))


@router.put("/setups/{setup_id}/name")
@finished
def rename(setup_id: int, wish: NameWish, db: Db, shop: Shop) -> SetupSummary:
    """Call an arrangement something."""
    with db.write() as connection:
        name_setup(connection, setup_id, wish.name)
        kept = read_kept(connection, setup_id)
    return setup_summary(kept.tune, kept.setup, shop, kept.called(shop))


@router.post("/arrangements", status_code=201)
@finished
def bring_back(wish: FileWish, db: Db, shop: Shop) -> BroughtBack:
    """An arrangement from its JSON or MusicXML file, edits and all, or from the tablature of any score.

    Its tune is added unless the shelf has its text.
    """
    source, notices = source_of_file(wish.packed or wish.text.encode(), shop)
    entry = read_tune(source.abc)
    if entry.tune is None:
        raise entry.error or ArrangementFileError(
            "Its tune cannot be read.", field="file", remedy="Export the arrangement again."
        )
    instrument = shop.find(source.instrument)
    idiom = find_idiom(source.idiom, instrument)
    options, sheet = options_of(source.options), read_options(source.sheet)
    where = (source.tuning, source.capo, source.fifth, source.key)
    computed = ladder_at(source.abc, instrument, idiom.id, *where, options, source.patterns)
    facts = facts_of_text(source.abc)
    with db.write() as connection:
        known = tune_of_text(connection, source.abc)
        tune_id = known or add_tune(connection, entry.tune.title, source.abc)
        if known is None:
            put_facts(connection, tune_id, entry.tune.title, facts, MADE_BY)
        setup_id = add_setup(
            connection,
            tune_id,
            instrument=instrument.id,
            idiom=idiom.id,
            tuning=computed.fit.setup.tuning.id,
            capo=computed.fit.setup.capo,
            fifth=source.fifth,
            sounding_key=source.key,
        )
        if source.name:
            name_setup(connection, setup_id, source.name)
        setup = get_setup(connection, setup_id)
        empty = step_document(setup, first_arrangement(computed, setup.first_rung), SheetOptions())
        brought = replace(setup, options=options.document(), patterns=source.patterns)
        whole = step_document(brought, source.decisions, sheet)
        save_step(connection, setup_id, empty, whole, "Bring in the arrangement", 0)
    bench = open_bench(db, setup_id, shop)
    aside = [f"Bar {bench.number_of(one.index)}, rung {one.rung}: {one.why}" for one in bench.arrangement.aside]
    return BroughtBack(
        setup=setup_id,
        tune=tune_id,
        title=entry.tune.title,
        known=known is not None,
        aside=aside,
        notices=notices,
    )
