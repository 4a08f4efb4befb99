"""The sheet as it will print, hand-outs, and everything that leaves the house."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass, replace
from typing import Annotated

from fastapi import APIRouter, Depends, Query, Response

from nailhead.core.arrange.fit.backing import backing_part
from nailhead.core.arrange.rows.backing import backing_of
from nailhead.core.arrange.teacher.path import bars_on_path
from nailhead.core.arrange.teacher.performing import Played, perform, second_bars
from nailhead.core.errors import PathError
from nailhead.core.sound.playing import Pace, render
from nailhead.core.sound.pluck import RATE
from nailhead.formats.abc.writer import write_tune
from nailhead.formats.arrangement_file import file_document, write_source
from nailhead.formats.arrangement_json import arrangement_document
from nailhead.formats.midi.arrangement import write_arrangement_midi
from nailhead.formats.musicxml import write_musicxml, write_musicxml_part
from nailhead.formats.text_tab import write_part, write_text
from nailhead.formats.wav import write_wav
from nailhead.sheet.handout import layout_handout
from nailhead.sheet.inks import INKS
from nailhead.sheet.options import WAYS
from nailhead.sheet.page import Sheet, layout_sheet
from nailhead.sheet.pdf import render_pixels, write_pdf
from nailhead.sheet.svg import svg_page
from nailhead.store.database import Database, NotFoundError
from nailhead.web.apart import ApartRoute, finished
from nailhead.web.bench import Bench, open_bench, source_of
from nailhead.web.dependencies import database
from nailhead.web.downloads import file_response
from nailhead.web.handing_out import NAMES, handed_out
from nailhead.web.models import SheetModel, SheetOptionsModel
from nailhead.web.pacing import measures_of, pace_of
from nailhead.web.remembered import remembered
from nailhead.web.workshop import Shop, Workshop

router = APIRouter(prefix="/api/setups/{setup_id}", tags=["sheet"], route_class=ApartRoute)
ROUTERS = (router,)
Db = Annotated[Database, Depends(database)]


@dataclass(frozen=True, slots=True)
class Wanted:
    """What an export may be asked: how to play it, and which page in how many dots an inch."""

    pace: Pace
    page: int
    dpi: int


def _sheet(bench: Bench) -> Sheet:
    return layout_sheet(bench.shown, bench.arrangement, bench.sheet)


def _text(bench: Bench, wanted: Wanted) -> str:
    if bench.sheet.backs:
        return write_part(bench.shown, backing_part(bench.shown, bench.sheet.part), f"Chords: {bench.sheet.part}")
    second = second_bars(bench.shown, bench.arrangement)
    return write_text(bench.shown, bench.arrangement.rungs, second, bench.sheet.names)


def _json(bench: Bench, wanted: Wanted) -> str:
    second = second_bars(bench.ladder, bench.arrangement)
    document = arrangement_document(bench.ladder, bench.arrangement.rungs, second)
    document["source"] = write_source(source_of(bench))
    return json.dumps(document, indent=1, ensure_ascii=False)


def _musicxml(bench: Bench, wanted: Wanted) -> str:
    if bench.sheet.backs:
        return write_musicxml_part(bench.shown, backing_part(bench.shown, bench.sheet.part))
    return write_musicxml(bench.shown, bench.arrangement.rungs, file_document(source_of(bench)))


def _abc(bench: Bench, wanted: Wanted) -> str:
    return write_tune(bench.computed.tune)


def _played(bench: Bench) -> Sequence[Played]:
    """What is heard of the sheet: the arrangement, or the chord part in the same order."""
    played = perform(bench.shown, bench.arrangement)
    if not bench.sheet.backs:
        return played
    backing = backing_part(bench.shown, bench.sheet.part)
    return [replace(one, bar=backing[one.index]) for one in played]


def _midi(bench: Bench, wanted: Wanted) -> bytes:
    measures = measures_of(bench, _played(bench))
    return write_arrangement_midi(measures, bench.computed.fit.setup, wanted.pace, bench.computed.tune.title)


def _wav(bench: Bench, wanted: Wanted) -> bytes:
    measures = measures_of(bench, _played(bench))
    return write_wav(render(measures, bench.computed.fit.setup, wanted.pace), RATE)


def _pdf(bench: Bench, wanted: Wanted) -> bytes:
    return write_pdf([_sheet(bench)], bench.computed.tune.title, INKS[bench.sheet.colours])


def _svg(bench: Bench, wanted: Wanted) -> str:
    sheet = _sheet(bench)
    page = sheet.pages[_page(sheet, wanted.page)]
    return svg_page(page.marks, sheet.width, sheet.height, sheet.title, INKS[bench.sheet.colours], alone=True)


def _png(bench: Bench, wanted: Wanted) -> bytes:
    sheet = _sheet(bench)
    page = replace(sheet, pages=(sheet.pages[_page(sheet, wanted.page)],))
    return next(render_pixels(write_pdf([page], sheet.title, INKS[bench.sheet.colours]), wanted.dpi))


def _page(sheet: Sheet, number: int) -> int:
    if not 1 <= number <= len(sheet.pages):
        raise PathError(f"The sheet has no page {number}.", field="page", remedy=f"Choose 1 to {len(sheet.pages)}.")
    return number - 1


#: Export name -> (media type, file ending, writer).
EXPORTS: dict[str, tuple[str, str, Callable[[Bench, Wanted], str | bytes]]] = {
    "text": ("text/plain; charset=utf-8", "txt", _text),
    "json": ("application/json; charset=utf-8", "json", _json),
    "musicxml": ("application/vnd.recordare.musicxml+xml; charset=utf-8", "musicxml", _musicxml),
    "abc": ("text/vnd.abc; charset=utf-8", "abc", _abc),
    "midi": ("audio/midi", "mid", _midi),
    "wav": ("audio/wav", "wav", _wav),
    "pdf": ("application/pdf", "pdf", _pdf),
    "svg": ("image/svg+xml; charset=utf-8", "svg", _svg),
    "png": ("image/png", "png", _png),
}


def _bench(setup_id: int, db: Database, shop: Workshop) -> Bench:
    return open_bench(db, setup_id, shop)


@router.get("/sheet", response_model=SheetModel)
def sheet(setup_id: int, db: Db, shop: Shop) -> Response:
    """The arrangement as printed pages, with what the sheet shows."""
    return remembered(db, setup_id, shop, _sheet_model)


def _sheet_model(bench: Bench) -> SheetModel:
    laid = _sheet(bench)
    inks = INKS[bench.sheet.colours]
    titles = [f"{laid.title}, page {at} of {len(laid.pages)}" for at in range(1, len(laid.pages) + 1)]
    return SheetModel(
        title=laid.title,
        called=bench.called,
        width=laid.width,
        height=laid.height,
        pages=[
            svg_page(page.marks, laid.width, laid.height, title, inks)
            for page, title in zip(laid.pages, titles, strict=True)
        ],
        options=SheetOptionsModel(**asdict(bench.sheet), ways=_ways(bench)),
        rungs=[rung[0].rung for rung in bench.ladder.rungs],
        phrases=len(bench.ladder.structure.phrases),
        optional=_has_optional(bench),
        revision=bench.stored.revision,
    )


def _has_optional(bench: Bench) -> bool:
    """Does the arrangement have notes that may be left out?"""
    bars = bars_on_path(bench.ladder, bench.arrangement.rungs)
    return any(note.optional for bar in bars for stroke in bar.strokes for note in stroke.notes)


def _ways(bench: Bench) -> dict[str, list[str]]:
    """What each option may be; of the chord parts those of the instrument."""
    parts = [WAYS["part"][0], *(row.name for row in backing_of(bench.computed.fit.setup.instrument.kind))]
    return {name: list(ways) for name, ways in WAYS.items()} | {"part": parts}


@router.get("/export/{name}", response_class=Response)
def export(
    setup_id: int,
    name: str,
    db: Db,
    shop: Shop,
    tempo: int | None = None,
    swing: float = 0.0,
    count_in: int = 0,
    page: int = 1,
    dpi: Annotated[int, Query(ge=36, le=600)] = 150,
) -> Response:
    """The arrangement as a file; `tempo`, `swing` and `count_in` are for sound, `page` and `dpi` for pictures."""
    if name not in EXPORTS:
        raise NotFoundError(
            f"There is no export “{name}”.", field="name", remedy=f"Choose one of: {', '.join(EXPORTS)}."
        )
    media, ending, write = EXPORTS[name]
    bench = _bench(setup_id, db, shop)
    body = write(bench, Wanted(pace_of(bench, tempo, swing, count_in), page, dpi))
    if name in NAMES:
        handed_out(db, bench, NAMES[name])
    return file_response(body, media, f"{bench.file_name}.{ending}")


@router.post("/printed", status_code=204)
@finished
def printed(setup_id: int, db: Db, shop: Shop) -> None:
    """The browser prints the sheet as it stands."""
    handed_out(db, _bench(setup_id, db, shop), "printed")


@router.get("/handout", response_class=Response)
def handout(
    setup_id: int,
    db: Db,
    shop: Shop,
    rungs: Annotated[list[int], Query(max_length=7)],
    phrases: Annotated[list[int], Query(max_length=200, description="counted from 1")],
) -> Response:
    """Several rungs of the same phrases on one page, as PDF."""
    bench = _bench(setup_id, db, shop)
    laid = layout_handout(bench.shown, rungs, [phrase - 1 for phrase in phrases], bench.sheet)
    body = write_pdf([laid], laid.title, INKS[bench.sheet.colours])
    handed_out(db, bench, "hand-out")
    return file_response(body, "application/pdf", f"{bench.file_name} hand-out.pdf")
