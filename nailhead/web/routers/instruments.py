"""Instruments: what there is, a teacher's own ones and tunings, chord shapes, necks, the key table."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends

from nailhead.core.fretboard.own import OwnInstrument, OwnTuning
from nailhead.core.plain import plain
from nailhead.store.database import Database
from nailhead.store.own import delete_instrument, own_instruments
from nailhead.web import workshop
from nailhead.web.apart import ApartRoute
from nailhead.web.dependencies import database
from nailhead.web.models import InstrumentModel, OwnInstrumentModel, OwnTuningModel
from nailhead.web.workshop import Shop
from nailhead.web.workshop_models import BareNeck, KeyTableModel, PlacesWish, ShapesModel, ShapesWish
from nailhead.web.workshop_views import bare_neck, instrument_model, key_table_model, shapes_model

router = APIRouter(prefix="/api/instruments", tags=["instruments"])
#: What is worked out.
apart = APIRouter(prefix="/api/instruments", tags=["instruments"], route_class=ApartRoute)
ROUTERS = (router, apart)
Db = Annotated[Database, Depends(database)]


@router.get("")
def instruments(shop: Shop) -> list[InstrumentModel]:
    """What can be set up: instruments, tunings, ways of playing."""
    return [instrument_model(row, shop) for row in shop.instruments.values()]


@router.post("", status_code=201)
def add_instrument(made: OwnInstrumentModel, db: Db) -> InstrumentModel:
    """Keep an instrument of her own."""
    with db.write() as connection:
        found = workshop.add_instrument(connection, _instrument(made))
        return instrument_model(found, workshop.open_workshop(connection))


@router.put("/own/{number}")
def change_instrument(number: int, made: OwnInstrumentModel, db: Db) -> InstrumentModel:
    """Describe an own instrument anew; its setups follow."""
    with db.write() as connection:
        found = workshop.change_instrument(connection, number, _instrument(made))
        return instrument_model(found, workshop.open_workshop(connection))


@router.delete("/own/{number}", status_code=204)
def forget_instrument(number: int, db: Db) -> None:
    """Forget an own instrument that no setup uses."""
    with db.write() as connection:
        delete_instrument(connection, number)


@router.get("/own")
def own(db: Db) -> list[int]:
    """Numbers of the own instruments, oldest first."""
    with db.read() as connection:
        return [row.id for row in own_instruments(connection)]


@router.post("/{instrument}/tunings", status_code=201)
def add_tuning(instrument: str, tuning: OwnTuningModel, db: Db) -> InstrumentModel:
    """Keep a tuning of her own."""
    with db.write() as connection:
        found = workshop.add_tuning(connection, instrument, _tuning(tuning))
        return instrument_model(found, workshop.open_workshop(connection))


@router.delete("/tunings/{number}", status_code=204)
def forget_tuning(number: int, db: Db) -> None:
    """Forget an own tuning that no setup uses."""
    with db.write() as connection:
        workshop.delete_tuning(connection, number)


@apart.post("/{instrument}/shapes")
def shapes(instrument: str, wish: ShapesWish, shop: Shop) -> ShapesModel:
    """Ways to hold a chord, best first."""
    return shapes_model(shop.find(instrument), wish)


@apart.post("/{instrument}/places")
def places(instrument: str, wish: PlacesWish, shop: Shop) -> BareNeck:
    """The neck with every place of a pitch."""
    return bare_neck(shop.find(instrument), wish)


@apart.get("/{instrument}/key-table")
def key_table(instrument: str, shop: Shop, mode: str = "major", every_tuning: bool = False) -> KeyTableModel:
    """Twelve keys by the usual tunings, or by all."""
    return key_table_model(shop.find(instrument), mode, every_tuning)


def _tuning(made: OwnTuningModel) -> OwnTuning:
    return OwnTuning(plain(made.name), plain(made.open))


def _instrument(made: OwnInstrumentModel) -> OwnInstrument:
    tuning = _tuning(made.tuning) if made.tuning else None
    return OwnInstrument(
        plain(made.name),
        made.kind,
        made.strings,
        made.scale_mm,
        made.frets,
        tuple(made.half_frets),
        made.gauges,
        tuple(made.courses),
        made.left_handed,
        tuning,
    )
