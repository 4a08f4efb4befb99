"""The shelf: find, bring in, write, keep, tag, archive, delete with undo, give out."""

from __future__ import annotations

import re
from collections.abc import AsyncIterator, Callable, Iterable, Sequence, Set
from typing import Annotated

from fastapi import APIRouter, Depends, File, Form, Query, Response, UploadFile
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse

from nailhead.core.errors import NailheadError
from nailhead.core.music.key import parse_key
from nailhead.core.music.metre import parse_metre
from nailhead.core.music.tune import Tune
from nailhead.core.plain import plain
from nailhead.formats.abc import read_book, write_tune
from nailhead.formats.abc.errors import AbcError
from nailhead.formats.abc.writer import key_text
from nailhead.formats.chordpro import write_chordpro
from nailhead.formats.midi import write_midi
from nailhead.formats.musicxml import write_melody
from nailhead.formats.musicxml.archive import pack
from nailhead.sheet.lead import layout_lead
from nailhead.sheet.pdf import write_pdf
from nailhead.store.database import Database, NotFoundError
from nailhead.store.setups import setups_of_tune
from nailhead.store.shelf import (
    Facts,
    ShelfRow,
    all_tags,
    every_kind,
    find_tunes,
    put_facts,
    set_tags,
    tag_several,
    tags_of,
)
from nailhead.store.tunes import (
    add_tune,
    delete_tune,
    get_tune,
    note_opened,
    restore_tune,
    save_text,
    set_archived,
    texts_on_shelf,
)
from nailhead.web.apart import ApartRoute, finished
from nailhead.web.bring_in import Choices, Opened, facts_model, open_book, open_file, read_pieces
from nailhead.web.dependencies import database, workers
from nailhead.web.downloads import file_response
from nailhead.web.ladders import read_stored
from nailhead.web.render import tune_detail
from nailhead.web.shelf import MADE_BY, facts_of_text, keep_facts, met_before, remember
from nailhead.web.shelf_models import (
    AddedTune,
    ArchivedChange,
    BlankTune,
    BroughtIn,
    KindModel,
    NewTunes,
    PreviewLine,
    PreviewLines,
    PreviewTune,
    Saved,
    ShelfModel,
    ShelfRowModel,
    TagsChange,
    TagSeveral,
    TextChange,
    TuneDetail,
)
from nailhead.web.workers import Workers, run_in
from nailhead.web.workshop import Shop, Workshop

router = APIRouter(prefix="/api/tunes", tags=["tunes"])
#: What reads or writes a text.
apart = APIRouter(prefix="/api/tunes", tags=["tunes"], route_class=ApartRoute)
ROUTERS = (router, apart)
Db = Annotated[Database, Depends(database)]
Elsewhere = Annotated[Workers | None, Depends(workers)]
Short = Annotated[str, Query(max_length=60)]
#: Tunes that are read in one go.
AT_ONCE = 25


# -- the shelf


@router.get("")
def shelf(
    db: Db,
    shop: Shop,
    find: Annotated[str, Query(max_length=200)] = "",
    tag: Annotated[str, Query(max_length=40)] = "",
    key: Short = "",
    metre: Short = "",
    instrument: Short = "",
    archived: bool = False,
    sort: str = "title",
    descending: bool = False,
    offset: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    limit: Annotated[int, Query(ge=1, le=500)] = 100,
) -> ShelfModel:
    """The tunes in which every word is found, a page at a time."""
    with db.read() as connection:
        page = find_tunes(
            connection,
            find,
            narrowed={"tag": tag, "key": key, "metre": metre, "instrument": instrument},
            archived=archived,
            sort=sort,
            descending=descending,
            offset=offset,
            limit=limit,
        )
        tags, kinds = all_tags(connection), every_kind(connection, archived)
    return ShelfModel(
        tunes=[_row(row, shop) for row in page.rows],
        total=page.total,
        tags=[KindModel(value=name, name=name, tunes=count) for name, count in tags],
        keys=[KindModel(value=name, name=name, tunes=count) for name, count in kinds["key"]],
        metres=[KindModel(value=name, name=name, tunes=count) for name, count in kinds["metre"]],
        instruments=[
            KindModel(value=name, name=shop.short_name(name), tunes=count) for name, count in kinds["instrument"]
        ],
    )


def _row(row: ShelfRow, shop: Workshop) -> ShelfRowModel:
    return ShelfRowModel(
        id=row.id,
        title=row.title,
        draft=row.draft,
        archived=row.archived,
        changed_at=row.changed_at,
        opened_at=row.opened_at,
        tags=list(row.tags),
        setups=row.setups,
        instruments=[shop.short_name(name) for name in row.instruments],
        **facts_model(row.facts).model_dump(),
    )


# -- bringing in


class Lines(StreamingResponse):
    """One line of JSON after the other."""

    media_type = "application/x-ndjson"


@router.post("/preview", response_model=PreviewLines, response_class=Lines)
async def preview_file(
    db: Db,
    elsewhere: Elsewhere,
    file: Annotated[UploadFile | None, File()] = None,
    text: Annotated[str, Form()] = "",
    part: Annotated[int | None, Form()] = None,
    track: Annotated[int | None, Form()] = None,
    grid: Annotated[str | None, Form(max_length=20)] = None,
    triplets: Annotated[bool, Form()] = True,
    metre: Annotated[str | None, Form(max_length=40)] = None,
    pickup: Annotated[str | None, Form(max_length=20)] = None,
    key: Annotated[str | None, Form(max_length=40)] = None,
    repeats: Annotated[bool, Form()] = True,
) -> Lines:
    """What a file or a pasted text holds, a line of JSON for each tune as it is read; nothing is kept."""
    raw = await file.read() if file else text.encode()
    name = (file.filename or "") if file else ""
    choices = Choices(part, track, grid, triplets, metre, pickup, key, repeats)
    opened = await run_in(elsewhere, open_file, raw, name, choices)
    there = await run_in_threadpool(_texts, db)
    return Lines(_preview(opened, there, elsewhere))


def _texts(db: Database) -> frozenset[str]:
    with db.read() as connection:
        return frozenset(texts_on_shelf(connection))


async def _preview(opened: Opened, there: Set[str], elsewhere: Workers | None) -> AsyncIterator[str]:
    """Some lines at a time, each as soon as it is known; reading ends with the one who watches."""
    yield _written(opened.lines, there)
    for first in range(0, len(opened.book), AT_ONCE):
        read = await run_in(elsewhere, read_pieces, first, opened.book[first : first + AT_ONCE])
        for one in read:
            if one.facts:
                remember(one.line.abc, one.line.title, one.facts)
        yield _written([one.line for one in read], there)


def _written(lines: Iterable[PreviewLine], there: Set[str]) -> str:
    found = (
        line.model_copy(update={"on_shelf": line.refused is None and line.abc in there})
        if isinstance(line, PreviewTune)
        else line
        for line in lines
    )
    return "".join(line.model_dump_json() + "\n" for line in found)


@router.post("", status_code=201)
async def bring_in(new: NewTunes, db: Db, elsewhere: Elsewhere) -> BroughtIn:
    """Put every tune of a text that can be read on the shelf, all in one transaction."""
    book = open_book(new.abc.replace("\r\n", "\n").replace("\r", "\n"))
    texts = ["\n".join(lines) + "\n" for _, lines in book]
    unmet = [piece for piece, text in zip(book, texts, strict=True) if not met_before(text)]
    parts = [unmet[first : first + AT_ONCE] for first in range(0, len(unmet), AT_ONCE)]
    read = [one for part in parts for one in await run_in(elsewhere, read_pieces, 0, part)]
    refusals = [one.line.refused for one in read if one.line.refused]
    if len(refusals) == len(book):
        first = refusals[0]
        raise AbcError(first.message, first.line, first.column, first.remedy)
    fresh = {one.line.abc: (one.line.title, one.facts) for one in read if one.facts}
    tunes = [(text, *found) for text in texts if (found := fresh.get(text) or met_before(text))]
    return BroughtIn(added=await run_in_threadpool(_keep, db, tunes), refused=refusals)


def _keep(db: Database, tunes: Sequence[tuple[str, str, Facts]]) -> list[AddedTune]:
    added = []
    with db.write() as connection:
        for text, title, facts in tunes:
            tune_id = add_tune(connection, title, text)
            put_facts(connection, tune_id, title, facts, MADE_BY)
            added.append(AddedTune(id=tune_id, title=title))
    return added


def _row_of(db: Database, tune_id: int, shop: Workshop) -> ShelfRowModel:
    with db.read() as connection:
        return _row(find_tunes(connection, only=tune_id).rows[0], shop)


@router.post("/blank", status_code=201)
def write_new(blank: BlankTune, db: Db, shop: Shop) -> TuneDetail:
    """A new tune to write: its header, and a draft until there is a note in it."""
    key, metre = parse_key(blank.key), parse_metre(blank.metre)
    title = " ".join(plain(blank.title).split())
    if not title:
        raise NailheadError("The tune has no title.", field="title", remedy="Give it one.")
    unit = "1/4" if metre.unit <= 4 and metre.beats == 3 else "1/8"
    text = f"X:1\nT:{title}\nM:{metre}\nL:{unit}\nK:{key_text(key)}\n"
    with db.write() as connection:
        tune_id = add_tune(connection, title, "", text)
        keep_facts(connection, tune_id, title, "")
    return show(tune_id, db, shop)


# -- one tune


@apart.get("/{tune_id}")
def show(tune_id: int, db: Db, shop: Shop) -> TuneDetail:
    """One tune: its text and how it has been set up."""
    with db.read() as connection:
        tune = get_tune(connection, tune_id)
        tags, setups = tags_of(connection, tune_id), setups_of_tune(connection, tune_id)
    return tune_detail(tune, tags, setups, shop)


@apart.put("/{tune_id}/text")
@finished
def save(tune_id: int, change: TextChange, db: Db) -> Saved:
    """Keep a text. One that cannot be read is kept as a draft beside the last readable one: nothing is lost."""
    entries = read_book(change.text)
    tune = entries[0].tune if entries else None
    if tune:
        facts_of_text(change.text)  # remembered, so that nothing is worked out while others wait to write
    with db.write() as connection:
        saved = save_text(connection, tune_id, change.revision, change.text, title=tune.title if tune else None)
        if tune:
            keep_facts(connection, tune_id, saved.title, saved.abc)
    return Saved(title=saved.title, revision=saved.revision, draft=saved.draft is not None)


@apart.post("/{tune_id}/duplicate", status_code=201)
@finished
def duplicate(tune_id: int, db: Db, shop: Shop) -> ShelfRowModel:
    """A copy to change, with its tags but without its setups."""
    with db.read() as connection:
        tune = get_tune(connection, tune_id)
    title = f"{tune.title} (copy)"
    abc, draft = (re.sub(r"(?m)^T:.*$", f"T:{_plain(title)}", text, count=1) for text in (tune.abc, tune.draft or ""))
    facts_of_text(abc)
    with db.write() as connection:
        copy_id = add_tune(connection, title, abc, draft if tune.draft is not None else None)
        keep_facts(connection, copy_id, title, abc)
        set_tags(connection, copy_id, tags_of(connection, tune_id))
    return _row_of(db, copy_id, shop)


def _plain(text: str) -> str:
    return text.replace("\\", "\\\\").replace("%", "\\\\%")


@router.put("/{tune_id}/tags")
def tag(tune_id: int, change: TagsChange, db: Db) -> list[str]:
    """Give a tune these tags and no others."""
    with db.write() as connection:
        get_tune(connection, tune_id)
        return list(set_tags(connection, tune_id, change.tags))


@router.post("/tagged", status_code=204)
def tag_many(change: TagSeveral, db: Db) -> None:
    """Give several tunes a tag beside their others, or take it from each: all of them or none."""
    with db.write() as connection:
        for tune_id in change.tunes:
            get_tune(connection, tune_id)
        tag_several(connection, change.tunes, change.tag, change.given)


@router.post("/{tune_id}/opened", status_code=204)
def opened(tune_id: int, db: Db) -> None:
    """The tune is worked on now: the shelf begins with it."""
    with db.write() as connection:
        note_opened(connection, tune_id)


@router.put("/{tune_id}/archived", status_code=204)
def archive(tune_id: int, change: ArchivedChange, db: Db) -> None:
    """Put a tune into the archive or back on the shelf."""
    with db.write() as connection:
        set_archived(connection, tune_id, change.archived)


@router.delete("/{tune_id}", status_code=204)
def take_off(tune_id: int, db: Db) -> None:
    """Take a tune off the shelf; `restore` brings it back with everything."""
    with db.write() as connection:
        delete_tune(connection, tune_id)


@router.post("/{tune_id}/restore")
def restore(tune_id: int, db: Db, shop: Shop) -> ShelfRowModel:
    """Undo a deletion."""
    with db.write() as connection:
        restore_tune(connection, tune_id)
    return _row_of(db, tune_id, shop)


# -- out


def _lead(tune: Tune) -> bytes:
    return write_pdf([layout_lead(tune)], tune.title)


#: Export name -> (media type, file ending, writer).
EXPORTS: dict[str, tuple[str, str, Callable[[Tune], str | bytes]]] = {
    "abc": ("text/vnd.abc", "abc", write_tune),
    "musicxml": ("application/vnd.recordare.musicxml+xml", "musicxml", write_melody),
    "mxl": ("application/vnd.recordare.musicxml", "mxl", lambda tune: pack(write_melody(tune))),
    "midi": ("audio/midi", "mid", write_midi),
    "chordpro": ("text/vnd.chordpro", "cho", write_chordpro),
    "lead": ("application/pdf", "pdf", _lead),
}


@apart.get("/{tune_id}/export/{name}", response_class=Response)
def export(tune_id: int, name: str, db: Db) -> Response:
    """The melody as a file: abc (as the teacher wrote it), musicxml, mxl, midi, chordpro, or a lead sheet as PDF."""
    if name not in EXPORTS:
        raise NotFoundError(
            f"There is no export “{name}”.", field="name", remedy=f"Choose one of: {', '.join(EXPORTS)}."
        )
    with db.read() as connection:
        stored = get_tune(connection, tune_id)
    if not stored.abc:
        raise NailheadError("The tune has no notes yet.", field="tune", remedy="Write it on the desk first.")
    media, ending, write = EXPORTS[name]
    tune = read_stored(stored.abc).tune
    assert tune is not None
    body = stored.abc if name == "abc" else write(tune)
    return file_response(body, media, f"{stored.title}.{ending}")
