"""What an arrangement sounds like: the path from a bar on, or one cell, as WAV; and when each bar comes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from fastapi import APIRouter, Depends, Query, Response

from nailhead.core.arrange.teacher.performing import Played, perform
from nailhead.core.sound.playing import Pace, render, starts_of
from nailhead.core.sound.pluck import RATE
from nailhead.formats.wav import write_wav
from nailhead.store.database import Database
from nailhead.web.apart import ApartRoute
from nailhead.web.arrange_models import TimelineModel, WhenModel
from nailhead.web.bench import Bench, open_bench
from nailhead.web.dependencies import database
from nailhead.web.pacing import measures_of, pace_of
from nailhead.web.workshop import Shop

router = APIRouter(prefix="/api/setups/{setup_id}", tags=["sound"], route_class=ApartRoute)
ROUTERS = (router,)
Db = Annotated[Database, Depends(database)]
Tempo = Annotated[int | None, Query(description="beats a minute; the tune's own where it is left out")]


def _from(bench: Bench, place: int) -> Sequence[Played]:
    """The performance from the first playing of a bar on; all of it where the bar is never played."""
    played = perform(bench.ladder, bench.arrangement)
    start = next((at for at, one in enumerate(played) if one.index == place), 0)
    return played[start:]


@router.get("/timeline")
def timeline(
    setup_id: int, db: Db, shop: Shop, start: int = 0, tempo: Tempo = None, swing: float = 0.0, count_in: int = 0
) -> TimelineModel:
    """When each bar of the path is heard, from bar `start` on."""
    bench = open_bench(db, setup_id, shop)
    played = _from(bench, start)
    starts = starts_of(measures_of(bench, played), pace_of(bench, tempo, swing, count_in))
    bars = [WhenModel(place=one.index, time=one.time, at=round(at, 4)) for one, at in zip(played, starts, strict=False)]
    return TimelineModel(bars=bars, seconds=round(starts[-1], 4))


@router.get("/sound", response_class=Response)
def sound(
    setup_id: int, db: Db, shop: Shop, start: int = 0, tempo: Tempo = None, swing: float = 0.0, count_in: int = 0
) -> Response:
    """The path from bar `start` on as a WAV file."""
    bench = open_bench(db, setup_id, shop)
    pace = pace_of(bench, tempo, swing, count_in)
    return _wav(bench, _from(bench, start), pace)


@router.get("/cells/{place}/{rung}/sound", response_class=Response)
def cell_sound(setup_id: int, place: int, rung: int, db: Db, shop: Shop, tempo: Tempo = None) -> Response:
    """One bar on one rung as a WAV file."""
    bench = open_bench(db, setup_id, shop)
    bar = bench.ladder.cell(bench.check(place), rung)
    return _wav(bench, [Played(place, 1, bar)], pace_of(bench, tempo, 0.0, 0))


def _wav(bench: Bench, played: Sequence[Played], pace: Pace) -> Response:
    samples = render(measures_of(bench, played), bench.computed.fit.setup, pace)
    return Response(write_wav(samples, RATE), media_type="audio/wav")
