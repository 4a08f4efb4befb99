"""The shelf: find, bring in, write, keep, tag, archive, delete with undo, give out."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from itertools import islice
from typing import Annotated

from fastapi import APIRouter, Depends, File, Form, Query, Response, UploadFile
from fastapi.responses import StreamingResponse

from nailhead.core.errors import NailheadError
from nailhead.core.music.key import parse_key
from nailhead.core.music.metre import parse_metre
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_book, write_tune
from nailhead.formats.abc.reader import NO_TUNE, split_book
from nailhead.formats.abc.writer import key_text
from nailhead.formats.midi import write_midi
from nailhead.formats.musicxml import write_melody
from nailhead.formats.musicxml.archive import pack
from nailhead.store.database import Database, NotFoundError
from nailhead.store.setups import setups_of_tune
from nailhead.store.shelf import ShelfRow, all_tags, find_tunes, put_facts, set_tags, tags_of
from nailhead.store.tunes import (
    add_tune,
    delete_tune,
    get_tune,
    restore_tune,
    save_text,
    set_archived,
    texts_on_shelf,
)
from nailhead.web.bring_in import Choices, facts_model, preview, refused
from nailhead.web.dependencies import database
from nailhead.web.ladders import read_stored
from nailhead.web.render import tune_detail
from nailhead.web.shelf import MADE_BY, keep_facts, known_or_read
from nailhead.web.shelf_models import (
    AddedTune,
    ArchivedChange,
    BlankTune,
    BroughtIn,
    NewTunes,
    PreviewLine,
    PreviewLines,
    Saved,
    ShelfModel,
    ShelfRowModel,
    TagModel,
    TagsChange,
    TextChange,
    TuneDetail,
)
from nailhead.web.workshop import Shop, Workshop

router = APIRouter(prefix="/api/tunes", tags=["tunes"])
Db = Annotated[Database, Depends(database)]


# -- the shelf


@router.get("")
def shelf(
    db: Db,
    shop: Shop,
    find: Annotated[str, Query(max_length=200)] = "",
    tag: Annotated[str, Query(max_length=40)] = "",
    archived: bool = False,
    sort: str = "title",
    descending: bool = False,
    offset: Annotated[int, Query(ge=0)] = 0,
    limit: Annotated[int, Query(ge=1, le=500)] = 100,
) -> ShelfModel:
    """The tunes in which every word is found, a page at a time."""
    with db.read() as connection:
        page = find_tunes(
            connection,
            find,
            tag=tag,
            archived=archived,
            sort=sort,
            descending=descending,
            offset=offset,
            limit=limit,
        )
        tags = all_tags(connection)
    return ShelfModel(
        tunes=[_row(row, shop) for row in page.rows],
        total=page.total,
        tags=[TagModel(name=name, tunes=count) for name, count in tags],
    )


def _row(row: ShelfRow, shop: Workshop) -> ShelfRowModel:
    return ShelfRowModel(
        id=row.id,
        title=row.title,
        draft=row.draft,
        archived=row.archived,
        changed_at=row.changed_at,
        tags=list(row.tags),
        setups=row.setups,
        instruments=[shop.short_name(name) for name in row.instruments],
        **facts_model(row.facts).model_dump(),
    )


# -- bringing in


@router.post("/preview", response_model=PreviewLines)
def preview_file(
    db: Db,
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
) -> StreamingResponse:
    """What a file or a pasted text holds, a line of JSON for each tune as it is read; nothing is kept."""
    raw = file.file.read() if file else text.encode()
    name = (file.filename or "") if file else ""
    with db.read() as connection:
        there = texts_on_shelf(connection)
    choices = Choices(part, track, grid, triplets, metre, pickup, key, repeats)
    lines = preview(raw, name, choices, there)
    return StreamingResponse(_in_bunches(lines), media_type="application/x-ndjson")


def _in_bunches(lines: Iterator[PreviewLine], size: int = 10) -> Iterator[str]:
    """Some lines at a time: progress is seen all the same, and the way out is taken less often."""
    while bunch := "".join(line.model_dump_json() + "\n" for line in islice(lines, size)):
        yield bunch


@router.post("", status_code=201)
def bring_in(new: NewTunes, db: Db) -> BroughtIn:
    """Put every tune of a text that can be read on the shelf, all in one transaction."""
    book = split_book(new.abc.replace("\r\n", "\n").replace("\r", "\n"))
    read = [known_or_read(line, lines) for line, lines in book]
    refusals = [entry for *_, entry in read if entry and entry.error]
    if len(refusals) == len(read):
        raise (refusals[0].error if refusals else None) or NO_TUNE
    added = []
    with db.write() as connection:
        for text, title, facts, _ in read:
            if facts:
                tune_id = add_tune(connection, title, text)
                put_facts(connection, tune_id, title, facts, MADE_BY)
                added.append(AddedTune(id=tune_id, title=title))
    return BroughtIn(added=added, refused=[refused(entry) for entry in refusals])


def _row_of(db: Database, tune_id: int, shop: Workshop) -> ShelfRowModel:
    with db.read() as connection:
        return _row(find_tunes(connection, only=tune_id).rows[0], shop)


@router.post("/blank", status_code=201)
def write_new(blank: BlankTune, db: Db, shop: Shop) -> TuneDetail:
    """A new tune to write: its header, and a draft until there is a note in it."""
    key, metre = parse_key(blank.key), parse_metre(blank.metre)
    title = " ".join(blank.title.split())
    unit = "1/4" if metre.unit <= 4 and metre.beats == 3 else "1/8"
    text = f"X:1\nT:{title}\nM:{metre}\nL:{unit}\nK:{key_text(key)}\n"
    with db.write() as connection:
        tune_id = add_tune(connection, title, "", text)
        keep_facts(connection, tune_id, title, "")
    return show(tune_id, db, shop)


# -- one tune


@router.get("/{tune_id}")
def show(tune_id: int, db: Db, shop: Shop) -> TuneDetail:
    """One tune: its text and how it has been set up."""
    with db.read() as connection:
        tune = get_tune(connection, tune_id)
        tags, setups = tags_of(connection, tune_id), setups_of_tune(connection, tune_id)
    return tune_detail(tune, tags, setups, shop)


@router.put("/{tune_id}/text")
def save(tune_id: int, change: TextChange, db: Db) -> Saved:
    """Keep a text. One that cannot be read is kept as a draft beside the last readable one: nothing is lost."""
    entries = read_book(change.text)
    tune = entries[0].tune if entries else None
    with db.write() as connection:
        saved = save_text(connection, tune_id, change.revision, change.text, title=tune.title if tune else None)
        if tune:
            keep_facts(connection, tune_id, saved.title, saved.abc)
    return Saved(title=saved.title, revision=saved.revision, draft=saved.draft is not None)


@router.post("/{tune_id}/duplicate", status_code=201)
def duplicate(tune_id: int, db: Db, shop: Shop) -> ShelfRowModel:
    """A copy to change, with its tags but without its setups."""
    with db.write() as connection:
        tune = get_tune(connection, tune_id)
        title = f"{tune.title} (copy)"
        abc, draft = (
            re.sub(r"(?m)^T:.*$", f"T:{_plain(title)}", text, count=1) for text in (tune.abc, tune.draft or "")
        )
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


#: Export name -> (media type, file ending, writer).
EXPORTS: dict[str, tuple[str, str, Callable[[Tune], str | bytes]]] = {
    "abc": ("text/vnd.abc", "abc", write_tune),
    "musicxml": ("application/vnd.recordare.musicxml+xml", "musicxml", write_melody),
    "mxl": ("application/vnd.recordare.musicxml", "mxl", lambda tune: pack(write_melody(tune))),
    "midi": ("audio/midi", "mid", write_midi),
}


@router.get("/{tune_id}/export/{name}", response_class=Response)
def export(tune_id: int, name: str, db: Db) -> Response:
    """The melody as a file: abc (as the teacher wrote it), musicxml, mxl or midi."""
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
    headers = {"Content-Disposition": f'attachment; filename="{file_name(stored.title)}.{ending}"'}
    return Response(body, media_type=media, headers=headers)


def file_name(title: str) -> str:
    """A title as the name of a file any system takes."""
    return "".join(sign if sign.isascii() and sign.isalnum() else "-" for sign in title).strip("-") or "tune"
