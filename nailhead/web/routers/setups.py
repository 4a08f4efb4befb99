"""Setups, their ladders and paths, the sheet and what leaves the house."""

from __future__ import annotations

import sqlite3
from contextlib import suppress
from typing import Annotated

from fastapi import APIRouter, BackgroundTasks, Depends

from nailhead.core.arrange.fit.planned import planned, wished
from nailhead.core.arrange.rows.ways import find_idiom, idiom_named, options_of
from nailhead.core.errors import FitError
from nailhead.core.music.tune import Tune
from nailhead.store.database import Database
from nailhead.store.setups import add_setup, delete_setup, get_setup, setups_of_tune
from nailhead.store.teacher import schools
from nailhead.store.tunes import get_tune
from nailhead.web.apart import ApartRoute, kept_as, prepare, warm
from nailhead.web.dependencies import database, workers
from nailhead.web.ladders import FIRST_RUNG, fit_stored, ladder_at, ladder_of, read_stored
from nailhead.web.models import (
    SetupAnswer,
    SetupSummary,
    SetupWish,
)
from nailhead.web.naming import names_of
from nailhead.web.plan_models import NeckModel, PlanModel, PlanWish, Said, WhyNot
from nailhead.web.planning import draw_neck, plans_for, reason_against
from nailhead.web.render import setup_answer, setup_summary
from nailhead.web.workers import Workers
from nailhead.web.workshop import Shop, Workshop

router = APIRouter(prefix="/api", tags=["setups"])
#: What is worked out.
apart = APIRouter(prefix="/api", tags=["setups"], route_class=ApartRoute)
ROUTERS = (router, apart)
Db = Annotated[Database, Depends(database)]
Elsewhere = Annotated[Workers | None, Depends(workers)]


@apart.post("/tunes/{tune_id}/setups/try")
def try_setup(tune_id: int, wish: SetupWish, db: Db, shop: Shop) -> SetupAnswer:
    """What a setup would give, without keeping it."""
    return _answer(_abc(tune_id, db), wish, shop)


@router.post("/tunes/{tune_id}/setups", status_code=201)
def keep_setup(
    tune_id: int, wish: SetupWish, db: Db, shop: Shop, later: BackgroundTasks, elsewhere: Elsewhere
) -> SetupSummary:
    """Keep a setup; its ladder is then at /setups/{id}/ladder, and computed while the answer is on its way."""
    answer = _answer(_abc(tune_id, db), wish, shop)
    with db.write() as connection:
        setup_id = add_setup(
            connection,
            tune_id,
            instrument=answer.instrument,
            idiom=answer.idiom,
            tuning=answer.tuning,
            capo=answer.capo,
            fifth=answer.fifth,
            sounding_key=answer.sounding_tonic,
            options=_schools_for(connection, answer.idiom),
            first_rung=FIRST_RUNG,
        )
        tune, setup = get_tune(connection, tune_id), get_setup(connection, setup_id)
        called = names_of(setups_of_tune(connection, tune_id), shop)[setup_id]
    if elsewhere:
        kept_as(elsewhere, f"/api/setups/{setup_id}", _ahead(tune_id), wish)
        warm(elsewhere, f"/api/setups/{setup_id}/ladder")
    else:
        later.add_task(ladder_of, tune, setup, shop)
    return setup_summary(tune, setup, shop, called)


@router.post("/tunes/{tune_id}/setups/ahead", status_code=204)
def look_ahead(tune_id: int, wish: SetupWish, db: Db, shop: Shop, elsewhere: Elsewhere) -> None:
    """Have the ladder of a setup worked out that is looked at: kept later, it is there at once. Nothing is changed."""
    abc = _abc(tune_id, db)
    if elsewhere:
        return prepare(elsewhere, _ahead(tune_id), wish)
    answer = _answer(abc, wish, shop)
    with db.read() as connection:
        options = options_of(_schools_for(connection, answer.idiom))
    where = (answer.tuning, answer.capo, answer.fifth, answer.sounding_tonic)
    ladder_at(abc, shop.find(answer.instrument), answer.idiom, *where, options, ())
    return None


@apart.post("/tunes/{tune_id}/setups/plan")
def plan_setups(tune_id: int, wish: PlanWish, db: Db, shop: Shop) -> list[PlanModel]:
    """Ways to play a tune on an instrument, best first, each with its costs by name."""
    return plans_for(_tune(tune_id, db), wish, shop.find(wish.instrument))


@apart.post("/tunes/{tune_id}/setups/why-not")
def explain_setup(tune_id: int, question: WhyNot, db: Db, shop: Shop) -> Said:
    """Why an expected setup is not the first answer."""
    return Said(said=reason_against(_tune(tune_id, db), question, shop.find(question.instrument)))


@apart.post("/tunes/{tune_id}/setups/neck")
def neck(tune_id: int, wish: SetupWish, db: Db, shop: Shop) -> NeckModel:
    """The neck of a setup to scale, with the tune's notes on it."""
    instrument = shop.find(wish.instrument)
    idiom = find_idiom(wish.idiom, instrument)
    fit = fit_stored(_abc(tune_id, db), instrument, idiom.id, wish.tuning, wish.capo, wish.fifth, wish.key)
    return draw_neck(fit, idiom)


def _ahead(tune_id: int) -> str:
    return f"/api/tunes/{tune_id}/setups/ahead"


def _abc(tune_id: int, db: Database) -> str:
    """The readable text of a tune; raises NotFoundError."""
    with db.read() as connection:
        return get_tune(connection, tune_id).abc


def _schools_for(connection: sqlite3.Connection, idiom: str) -> dict[str, str]:
    """What the teacher does otherwise than usual, in what players of an idiom differ in."""
    own = {choice.name: choice for choice in idiom_named(idiom).choices}
    return {name: way for name, way in schools(connection).items() if name in own and way != own[name].usual}


def _tune(tune_id: int, db: Database) -> Tune:
    tune = read_stored(_abc(tune_id, db)).tune
    assert tune is not None
    return tune


def _answer(abc: str, wish: SetupWish, shop: Workshop) -> SetupAnswer:
    instrument = shop.find(wish.instrument)
    idiom = find_idiom(wish.idiom, instrument)
    tuning, capo, key = wish.tuning, wish.capo, wish.key
    if tuning is None or capo is None:
        tune = read_stored(abc).tune
        assert tune is not None
        # What the planner would not offer is tried as it is, and said where it does not fit.
        with suppress(FitError):
            left = planned(tune, instrument, idiom, wished(idiom, tuning, capo, key=key))
            tuning, capo, key = left.tuning, left.capo, left.key
    return setup_answer(fit_stored(abc, instrument, idiom.id, tuning, capo, wish.fifth, key), idiom.id)


@router.delete("/setups/{setup_id}", status_code=204)
def forget_setup(setup_id: int, db: Db) -> None:
    """Forget a setup and its path."""
    with db.write() as connection:
        delete_setup(connection, setup_id)
