"""A packet of sheets: started, watched, fetched, cancelled."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Request, Response
from pydantic import Field

from nailhead.sheet.options import SheetOptions
from nailhead.store.database import ConflictError, Database
from nailhead.web.dependencies import database
from nailhead.web.downloads import file_response
from nailhead.web.models import Model
from nailhead.web.packets import Packet, PacketDesk

router = APIRouter(prefix="/api/packets", tags=["packets"])
ROUTERS = (router,)
Db = Annotated[Database, Depends(database)]
#: Sheets of one packet.
MOST = 200


def packet_desk(request: Request) -> PacketDesk:
    """The packets of this application."""
    desk: PacketDesk = request.app.state.packets
    return desk


Desk = Annotated[PacketDesk, Depends(packet_desk)]


class PacketWish(Model):
    """Arrangements in the order in which they are to be bound; every sheet on the same paper."""

    title: Annotated[str, Field(min_length=1, max_length=120)]
    setups: Annotated[list[int], Field(min_length=1, max_length=MOST)]
    paper: str = "A4"
    colours: str = "colour"


class PacketModel(Model):
    """How far a packet is: "working", "ready", "failed" or "cancelled"; and what was left out, with the reason."""

    number: int
    state: str
    done: int
    total: int
    error: str
    left_out: list[str]


def _model(packet: Packet) -> PacketModel:
    return PacketModel(
        number=packet.number,
        state=packet.state,
        done=packet.done,
        total=packet.total,
        error=packet.error,
        left_out=packet.left_out,
    )


@router.post("", status_code=202)
def start(wish: PacketWish, db: Db, desk: Desk) -> PacketModel:
    """Begin a packet; its number is for asking how far it is."""
    SheetOptions(paper=wish.paper, colours=wish.colours)
    return _model(desk.start(wish.title, wish.colours, wish.paper, wish.setups, db))


@router.get("/{number}")
def watch(number: int, desk: Desk) -> PacketModel:
    """How far it is."""
    return _model(desk.find(number))


@router.delete("/{number}", status_code=204)
def cancel(number: int, desk: Desk) -> None:
    """Stop it, or forget it when it is done."""
    desk.cancel(number)


@router.get("/{number}/file", response_class=Response)
def fetch(number: int, desk: Desk) -> Response:
    """The finished PDF; refused (409) while it is being made."""
    packet = desk.find(number)
    if packet.body is None:
        raise ConflictError(
            packet.error or f"The packet is at sheet {packet.done} of {packet.total}.",
            field="packet",
            remedy="Wait until it is ready.",
        )
    return file_response(packet.body, "application/pdf", "packet.pdf")
