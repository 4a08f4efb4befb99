"""Practising an arrangement: its plan with what is done of it, what a player sets, and what she says of each time."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends

from nailhead.core.practice.drills import drills_of
from nailhead.core.practice.material import Material, material_of
from nailhead.core.practice.plan import plan_of
from nailhead.core.practice.tempo import Progress, after, begun
from nailhead.store.database import Database
from nailhead.store.practice import get_progress, get_wish, keep_progress, set_wish
from nailhead.web.apart import ApartRoute
from nailhead.web.bench import open_bench
from nailhead.web.dependencies import database
from nailhead.web.practice_models import (
    PracticeModel,
    PracticeWishModel,
    ProgressModel,
    SaidModel,
    StepId,
    practice_model,
    progress_model,
)
from nailhead.web.workshop import Shop, Workshop

router = APIRouter(prefix="/api/setups/{setup_id}/practice", tags=["practice"], route_class=ApartRoute)
ROUTERS = (router,)
Db = Annotated[Database, Depends(database)]


def _material(setup_id: int, db: Database, shop: Workshop) -> Material:
    bench = open_bench(db, setup_id, shop)
    return material_of(bench.shown, bench.arrangement)


@router.get("")
def practice(setup_id: int, db: Db, shop: Shop) -> PracticeModel:
    """The plan of an arrangement in the order that the player wants, how far each step has come, and the drills."""
    material = _material(setup_id, db, shop)
    with db.read() as connection:
        wish, progress = get_wish(connection, setup_id), get_progress(connection, setup_id)
    return practice_model(material, plan_of(material, wish.order), drills_of(material), wish, progress)


@router.put("")
def set_practice(setup_id: int, wish: PracticeWishModel, db: Db, shop: Shop) -> PracticeModel:
    """Keeps in which order she learns and how the tempo is raised; steps that are begun keep their tempo."""
    wanted = wish.wish()
    with db.write() as connection:
        set_wish(connection, setup_id, wanted)
    return practice(setup_id, db, shop)


@router.post("/steps/{step}/said")
def said(setup_id: int, step: StepId, word: SaidModel, db: Db, shop: Shop) -> ProgressModel:
    """What a player says of the time just played: clean, again, back."""
    material = _material(setup_id, db, shop)
    with db.read() as connection:
        wish = get_wish(connection, setup_id)
    plan_of(material, wish.order).step(step)

    def counted(progress: Progress | None) -> Progress:
        return after(progress or begun(wish.tempo), word.said, wish.tempo)

    with db.write() as connection:
        return progress_model(keep_progress(connection, setup_id, step, counted))
