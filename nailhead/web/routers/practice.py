"""Practising an arrangement: its plan with what is done of it, what a player sets, and what she says of each time."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from fastapi import APIRouter, Depends, Query, Response

from nailhead.core.practice.drills import drills_of
from nailhead.core.practice.material import Material, material_of
from nailhead.core.practice.plan import plan_of
from nailhead.core.practice.tempo import Progress, after, begun
from nailhead.core.sound.voices import EDITION, VOICE_RATE, voice
from nailhead.formats.wav import write_flac
from nailhead.store.arrangements import applied_revision, record_change
from nailhead.store.database import Database, NotFoundError
from nailhead.store.practice import get_progress, get_wish, keep_progress, set_wish
from nailhead.web.apart import ApartRoute, finished
from nailhead.web.bench import Bench, open_bench
from nailhead.web.dependencies import database
from nailhead.web.downloads import file_response
from nailhead.web.handing_out import handed_out
from nailhead.web.practice_models import (
    PracticeModel,
    PracticeWishModel,
    ProgressModel,
    SaidModel,
    StepId,
    practice_model,
    progress_model,
)
from nailhead.web.practice_room import room_of
from nailhead.web.remembered import remembered
from nailhead.web.room_models import RoomModel
from nailhead.web.take_home import TakeHome, write_take_home
from nailhead.web.workshop import Shop, Workshop

router = APIRouter(prefix="/api/setups/{setup_id}/practice", tags=["practice"], route_class=ApartRoute)
voices = APIRouter(prefix="/api/voices", tags=["practice"], route_class=ApartRoute)
ROUTERS = (router, voices)
Db = Annotated[Database, Depends(database)]


Size = Literal["large", "medium", "small"]
#: A sound never changes under its address.
_FOR_EVER = {"Cache-Control": "public, max-age=31536000, immutable"}


def _material(setup_id: int, db: Database, shop: Workshop) -> Material:
    bench = open_bench(db, setup_id, shop)
    return material_of(bench.shown, bench.arrangement)


@router.get("/room", response_model=RoomModel)
def room(setup_id: int, db: Db, shop: Shop, size: Size = "large") -> Response:
    """What is drawn and what sounds: lines of tab with the place of every moment, every string, company, drills."""

    def view(bench: Bench) -> RoomModel:
        material = material_of(bench.shown, bench.arrangement)
        return room_of(material, bench.sheet, size, bench.called, bench.tune.id)

    return remembered(db, setup_id, shop, view, size)


@router.get("/take-home", response_class=Response)
def take_home(setup_id: int, db: Db, shop: Shop, note: Annotated[str, Query(max_length=1000)] = "") -> Response:
    """The practice room as one HTML file for a pupil, with a word from the teacher."""
    bench = open_bench(db, setup_id, shop)
    with db.read() as connection:
        wish = get_wish(connection, setup_id)
    material = material_of(bench.shown, bench.arrangement)
    taken = TakeHome(material, bench.arrangement, bench.sheet, wish, note, date.today(), bench.called)
    page = write_take_home(taken)
    handed_out(db, bench, "sent home")
    return file_response(page, "text/html; charset=utf-8", f"{bench.file_name}.html")


@voices.get("/{edition}/{name}", response_class=Response)
def voice_file(edition: str, name: str) -> Response:
    """One sound of the practice room, as FLAC."""
    if edition != EDITION:
        raise NotFoundError("That sound is of another version.", field="edition", remedy="Load the page again.")
    return Response(write_flac(voice(name), VOICE_RATE), media_type="audio/flac", headers=_FOR_EVER)


@router.get("")
def practice(setup_id: int, db: Db, shop: Shop) -> PracticeModel:
    """The plan of an arrangement in the order that the player wants, how far each step has come, and the drills."""
    material = _material(setup_id, db, shop)
    with db.read() as connection:
        wish, progress = get_wish(connection, setup_id), get_progress(connection, setup_id)
    return practice_model(material, plan_of(material, wish.order), drills_of(material), wish, progress)


@router.put("")
@finished
def set_practice(setup_id: int, wish: PracticeWishModel, db: Db, shop: Shop) -> PracticeModel:
    """Keeps in which order she learns and how the tempo is raised; steps that are begun keep their tempo."""
    wanted = wish.wish()
    with db.write() as connection:
        set_wish(connection, setup_id, wanted)
    return practice(setup_id, db, shop)


@router.post("/steps/{step}/said")
@finished
def said(setup_id: int, step: StepId, word: SaidModel, db: Db, shop: Shop) -> ProgressModel:
    """What a player says of the time just played: clean, again, back."""
    material = _material(setup_id, db, shop)
    with db.read() as connection:
        wish = get_wish(connection, setup_id)
    plan_of(material, wish.order).step(step)

    def counted(progress: Progress | None) -> Progress:
        return after(progress or begun(wish.tempo), word.said, wish.tempo)

    with db.write() as connection:
        if applied_revision(connection, setup_id, word.id) is not None:
            return progress_model(get_progress(connection, setup_id)[step])
        record_change(connection, setup_id, word.id)
        return progress_model(keep_progress(connection, setup_id, step, counted))
