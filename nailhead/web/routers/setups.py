"""Setups, their ladders and paths, the sheet and what leaves the house."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Annotated

from fastapi import APIRouter, Depends, Response

from nailhead.core.arrange.idioms import find_idiom
from nailhead.core.arrange.ladder import Ladder
from nailhead.core.arrange.path import Path
from nailhead.core.music.tune import Tune
from nailhead.formats.arrangement_json import arrangement_document
from nailhead.formats.musicxml import write_musicxml
from nailhead.formats.text_tab import write_text
from nailhead.sheet.page import SheetOptions, layout_sheet
from nailhead.sheet.tab import TabOptions
from nailhead.store.database import Database, NotFoundError
from nailhead.store.setups import add_setup, delete_setup, get_setup
from nailhead.store.tunes import get_tune
from nailhead.web.arranging import Bench, open_bench
from nailhead.web.bench import fit_stored, read_stored
from nailhead.web.dependencies import database
from nailhead.web.models import (
    PageModel,
    SetupAnswer,
    SetupSummary,
    SetupWish,
    SheetModel,
)
from nailhead.web.paint import mark_models
from nailhead.web.plan_models import NeckModel, PlanModel, PlanWish, Reason, WhyNot
from nailhead.web.planning import draw_neck, plans_for, reason_against
from nailhead.web.render import setup_answer, setup_summary
from nailhead.web.workshop import Shop, Workshop

router = APIRouter(prefix="/api", tags=["setups"])
Db = Annotated[Database, Depends(database)]

#: Export name -> (media type, file ending, writer).
EXPORTS: dict[str, tuple[str, str, Callable[[Ladder, Path], str]]] = {
    "text": ("text/plain", "txt", write_text),
    "json": (
        "application/json",
        "json",
        lambda ladder, path: json.dumps(arrangement_document(ladder, path), indent=1, ensure_ascii=False),
    ),
    "musicxml": ("application/vnd.recordare.musicxml+xml", "musicxml", write_musicxml),
}


@router.post("/tunes/{tune_id}/setups/try")
def try_setup(tune_id: int, wish: SetupWish, db: Db, shop: Shop) -> SetupAnswer:
    """What a setup would give, without keeping it."""
    with db.read() as connection:
        return _answer(get_tune(connection, tune_id).abc, wish, shop)


@router.post("/tunes/{tune_id}/setups", status_code=201)
def keep_setup(tune_id: int, wish: SetupWish, db: Db, shop: Shop) -> SetupSummary:
    """Keep a setup; its ladder is then at /setups/{id}/ladder."""
    with db.write() as connection:
        tune = get_tune(connection, tune_id)
        answer = _answer(tune.abc, wish, shop)
        setup_id = add_setup(
            connection,
            tune_id,
            instrument=answer.instrument,
            idiom=answer.idiom,
            tuning=answer.tuning,
            capo=answer.capo,
            fifth=answer.fifth,
            sounding_key=answer.sounding_tonic,
        )
        return setup_summary(tune, get_setup(connection, setup_id), shop)


@router.post("/tunes/{tune_id}/setups/plan")
def plan_setups(tune_id: int, wish: PlanWish, db: Db, shop: Shop) -> list[PlanModel]:
    """Ways to play a tune on an instrument, best first, each with its costs by name."""
    return plans_for(_tune(tune_id, db), wish, shop.find(wish.instrument))


@router.post("/tunes/{tune_id}/setups/why-not")
def explain_setup(tune_id: int, question: WhyNot, db: Db, shop: Shop) -> Reason:
    """Why an expected setup is not the first answer."""
    return Reason(said=reason_against(_tune(tune_id, db), question, shop.find(question.instrument)))


@router.post("/tunes/{tune_id}/setups/neck")
def neck(tune_id: int, wish: SetupWish, db: Db, shop: Shop) -> NeckModel:
    """The neck of a setup to scale, with the tune's notes on it."""
    instrument = shop.find(wish.instrument)
    idiom = find_idiom(wish.idiom, instrument)
    with db.read() as connection:
        abc = get_tune(connection, tune_id).abc
    fit = fit_stored(abc, instrument, idiom.id, wish.tuning, wish.capo, wish.fifth, wish.key)
    return draw_neck(fit, idiom)


def _tune(tune_id: int, db: Database) -> Tune:
    with db.read() as connection:
        tune = read_stored(get_tune(connection, tune_id).abc).tune
    assert tune is not None
    return tune


def _answer(abc: str, wish: SetupWish, shop: Workshop) -> SetupAnswer:
    instrument = shop.find(wish.instrument)
    idiom = find_idiom(wish.idiom, instrument)
    return setup_answer(fit_stored(abc, instrument, idiom.id, wish.tuning, wish.capo, wish.fifth, wish.key), idiom.id)


@router.delete("/setups/{setup_id}", status_code=204)
def forget_setup(setup_id: int, db: Db) -> None:
    """Forget a setup and its path."""
    with db.write() as connection:
        delete_setup(connection, setup_id)


def _bench(setup_id: int, db: Database, shop: Workshop) -> Bench:
    with db.read() as connection:
        return open_bench(connection, setup_id, shop)


@router.get("/setups/{setup_id}/sheet")
def sheet(setup_id: int, db: Db, shop: Shop, paper: str = "A4", fingers: bool = False) -> SheetModel:
    """The path as printed pages."""
    bench = _bench(setup_id, db, shop)
    found = bench.ladder
    laid = layout_sheet(found, bench.arrangement.rungs, SheetOptions(paper, TabOptions(fingers=fingers)))
    return SheetModel(
        title=found.tune.title,
        paper=laid.paper,
        width=laid.width,
        height=laid.height,
        pages=[PageModel(marks=mark_models(page.marks)) for page in laid.pages],
    )


@router.get("/setups/{setup_id}/export/{name}", response_class=Response)
def export(setup_id: int, name: str, db: Db, shop: Shop) -> Response:
    """The path as a file: text, json or musicxml."""
    if name not in EXPORTS:
        raise NotFoundError(
            f"There is no export “{name}”.", field="name", remedy=f"Choose one of: {', '.join(EXPORTS)}."
        )
    media, ending, write = EXPORTS[name]
    bench = _bench(setup_id, db, shop)
    found = bench.ladder
    stem = "".join(sign if sign.isascii() and sign.isalnum() else "-" for sign in found.tune.title).strip("-") or "tune"
    headers = {"Content-Disposition": f'attachment; filename="{stem}.{ending}"'}
    return Response(write(found, bench.arrangement.rungs), media_type=f"{media}; charset=utf-8", headers=headers)
