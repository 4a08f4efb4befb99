"""What else could be played for a bar or a note of a kept setup, and the choices of its arrangement."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.rows.ways import idiom_named, options_of
from nailhead.core.arrange.teacher.alternatives import alternatives, unison_places
from nailhead.core.errors import PathError
from nailhead.core.music.metre import parse_time
from nailhead.formats.text_tab import strokes_text
from nailhead.sheet.ladder_view import layout_cell
from nailhead.sheet.legend import signs_of
from nailhead.sheet.style import Style
from nailhead.sheet.tab import TabOptions, painter_of
from nailhead.store.database import Database
from nailhead.store.setups import get_setup
from nailhead.store.tunes import get_tune
from nailhead.web.apart import ApartRoute
from nailhead.web.arrange_models import AlternativeModel, ChoiceModel, SignModel, UnisonModel
from nailhead.web.dependencies import database
from nailhead.web.ladders import ladder_of
from nailhead.web.models import ReasonModel
from nailhead.web.paint import mark_models
from nailhead.web.workshop import Shop, Workshop

router = APIRouter(prefix="/api/setups/{setup_id}", tags=["bars"], route_class=ApartRoute)
ROUTERS = (router,)
Db = Annotated[Database, Depends(database)]


def _ladder(setup_id: int, db: Database, shop: Workshop) -> Ladder:
    with db.read() as connection:
        setup = get_setup(connection, setup_id)
        tune = get_tune(connection, setup.tune_id)
    return ladder_of(tune, setup, shop)


def _check_place(ladder: Ladder, place: int) -> int:
    if not 0 <= place < len(ladder.tune.bars):
        raise PathError(f"There is no bar at place {place}.", field="place", remedy="Choose a bar of the tune.")
    return place


@router.get("/bars/{place}/alternatives")
def bar_alternatives(setup_id: int, place: int, rung: int, db: Db, shop: Shop) -> list[AlternativeModel]:
    """Other good ways to play a bar on a rung, each with its difference in words."""
    ladder = _ladder(setup_id, db, shop)
    found = []
    for other in alternatives(ladder, _check_place(ladder, place), rung):
        cell = layout_cell(ladder, place, other.bar)
        reasons = [ReasonModel(term=r.term, points=r.points, text=r.sentence) for r in other.bar.grade.reasons]
        found.append(
            AlternativeModel(
                difference=other.difference,
                price=other.price,
                grade=other.bar.grade.value,
                reasons=reasons,
                patterns=list(other.bar.patterns),
                strokes=strokes_text(other.bar.strokes),
                width=cell.width,
                marks=mark_models(cell.marks),
            )
        )
    return found


@router.get("/bars/{place}/unisons")
def note_unisons(setup_id: int, place: int, onset: str, db: Db, shop: Shop) -> list[UnisonModel]:
    """Every place of the melody note at `onset` (a fraction of a whole note, "1/4") with its price."""
    ladder = _ladder(setup_id, db, shop)
    name = ladder.fit.setup.fret_name
    return [
        UnisonModel(
            string=unison.place.string,
            fret=unison.place.fret,
            fret_name=name(unison.place.fret),
            price=unison.price,
            words=unison.words,
        )
        for unison in unison_places(ladder, _check_place(ladder, place), parse_time(onset, "onset"))
    ]


@router.get("/options")
def choices(setup_id: int, db: Db) -> list[ChoiceModel]:
    """What players of this idiom do differently, and what this arrangement follows."""
    with db.read() as connection:
        setup = get_setup(connection, setup_id)
    options = options_of(setup.options)
    return [
        ChoiceModel(name=choice.name, label=choice.label, ways=list(choice.ways), taken=options.way(choice.name))
        for choice in idiom_named(setup.idiom).choices
    ]


@router.get("/signs")
def signs(setup_id: int, db: Db, shop: Shop) -> list[SignModel]:
    """Every sign of the ladder's tab, on whichever rung it stands, and what it means."""
    ladder = _ladder(setup_id, db, shop)
    painter = painter_of(ladder, Style(), TabOptions(fingers=True))
    bars = [bar for rung in ladder.rungs for bar in rung]
    return [SignModel(what=what, marks=mark_models(marks)) for marks, what in signs_of(ladder, bars, painter)]
