"""What the teacher has settled once, and what she used last."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends

from nailhead.core.arrange.rows.hands import Choice
from nailhead.core.arrange.rows.ways import IDIOMS, idioms_of, options_of
from nailhead.core.errors import NailheadError
from nailhead.sheet.options import WAYS, SheetOptions
from nailhead.store.database import Database
from nailhead.store.teacher import last_opened, last_used, settings_of, settle
from nailhead.web.dependencies import database
from nailhead.web.teacher_models import LastUsed, SchoolModel, SettingsModel, Settled
from nailhead.web.workshop import Shop, Workshop

router = APIRouter(prefix="/api/teacher", tags=["teacher"])
ROUTERS = (router,)
Db = Annotated[Database, Depends(database)]
#: What of a sheet is a matter of taste and not of the arrangement.
SHEET = ("paper", "size", "colours", "chords", "names", "letters", "staff")
#: So many ways of playing are named beside a choice.
MOST_NAMED = 3


@router.get("/last")
def last(db: Db, shop: Shop) -> LastUsed:
    """The instrument and way of playing of the newest setup, where both are still there, and the tune opened last.

    Before the first setup they are those of the first instrument that the teacher has said she teaches.
    """
    with db.read() as connection:
        used, opened, settled = last_used(connection), last_opened(connection), _settings(settings_of(connection))
    tune, setup = opened or (None, None)
    instrument = shop.instruments.get(used[0]) if used else None
    if used and instrument and any(idiom.id == used[1] for idiom in idioms_of(instrument)):
        return LastUsed(instrument=used[0], idiom=used[1], tune=tune, setup=setup)
    taught = [name for name in settled.instruments if name in shop.instruments]
    usual = shop.find(taught[0] if taught else "banjo")
    return LastUsed(instrument=usual.id, idiom=idioms_of(usual)[0].id, tune=tune, setup=setup)


@router.get("/settings")
def settings(db: Db) -> Settled:
    """What is settled, and what there is to choose from."""
    with db.read() as connection:
        return _settled(_settings(settings_of(connection)))


@router.put("/settings")
def change_settings(wanted: SettingsModel, db: Db, shop: Shop) -> Settled:
    """Settle all of it; refused at the field where something is not there."""
    _check(wanted, shop)
    with db.write() as connection:
        settle(connection, wanted.model_dump())
    return _settled(wanted)


def _check(wanted: SettingsModel, shop: Workshop) -> None:
    for name in wanted.instruments:
        shop.find(name)
    for name, tuning in wanted.tunings.items():
        shop.find(name).tuning(tuning)
    options_of(wanted.schools)
    for name in wanted.sheet:
        if name not in SHEET:
            remedy = f"Choose among: {', '.join(SHEET)}."
            raise NailheadError(f"There is no “{name}” to settle for sheets.", field="sheet", remedy=remedy)
    SheetOptions(**wanted.sheet)  # type: ignore[arg-type]


def _settings(kept: dict[str, object]) -> SettingsModel:
    """The settings as they were kept; what a later Nailhead kept under other names is passed over."""
    return SettingsModel.model_validate({name: kept[name] for name in SettingsModel.model_fields if name in kept})


def _settled(now: SettingsModel) -> Settled:
    choices = {choice.name: choice for idiom in IDIOMS for choice in idiom.choices}
    return Settled(
        settings=now,
        schools=[
            SchoolModel(name=choice.name, label=choice.label, played=_played(choice), ways=list(choice.ways))
            for choice in choices.values()
        ],
        sheet={name: list(WAYS[name]) for name in SHEET},
    )


def _played(choice: Choice) -> str:
    """The ways of playing that have a choice, in words."""
    found = dict.fromkeys(idiom.name for idiom in IDIOMS if any(one.name == choice.name for one in idiom.choices))
    return ", ".join(found) if len(found) <= MOST_NAMED else "every way with a solo"
