"""The desk: reading, changing and hearing a text. No handler keeps anything; the text goes and comes."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query

from nailhead.web import desk
from nailhead.web.apart import ApartRoute
from nailhead.web.desk_models import (
    BoardModel,
    Changed,
    DeskChange,
    DeskEntry,
    DeskReading,
    DeskText,
    EnteredModel,
    ProposalModel,
    SoundModel,
)
from nailhead.web.workshop import Shop

router = APIRouter(prefix="/api/desk", tags=["desk"], route_class=ApartRoute)
ROUTERS = (router,)


@router.post("/read")
def read(text: DeskText) -> DeskReading:
    """Form, bars, chords, key and troubles of a text."""
    return desk.read_desk(text.abc)


@router.post("/change")
def change(request: DeskChange) -> Changed:
    """The text with one change in it."""
    return desk.change_text(request.abc, request.change)


@router.post("/proposals")
def proposals(text: DeskText) -> list[ProposalModel]:
    """Chords for a tune: three ranked proposals."""
    return desk.propose(text.abc)


@router.post("/enter")
def enter(request: DeskEntry, shop: Shop) -> EnteredModel:
    """The text with a note, rest, tie, bar line or octave entered at a place."""
    return desk.enter(request, shop)


@router.post("/sounds")
def sounds(text: DeskText) -> list[SoundModel]:
    """The melody in time, to be heard."""
    return desk.sounds(text.abc)


@router.get("/board/{instrument}")
def board(instrument: str, shop: Shop, tuning: str = "", capo: Annotated[int, Query(ge=0, le=24)] = 0) -> BoardModel:
    """A neck to enter notes on."""
    return desk.board(shop.find(instrument), tuning, capo)
