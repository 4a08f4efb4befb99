"""The shelf: list, bring in, show, take off."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, UploadFile

from nailhead.core.errors import NailheadError
from nailhead.formats.abc import read_book
from nailhead.store.database import Database
from nailhead.store.setups import setups_of_tune
from nailhead.store.tunes import add_tune, delete_tune, get_tune, list_tunes
from nailhead.web.dependencies import database
from nailhead.web.models import MOST_CHARACTERS, BroughtIn, NewTunes, RefusedTune, TuneDetail, TuneSummary
from nailhead.web.render import tune_detail, tune_summary

router = APIRouter(prefix="/api/tunes", tags=["tunes"])
Db = Annotated[Database, Depends(database)]


@router.get("")
def shelf(db: Db) -> list[TuneSummary]:
    """Every tune by title."""
    with db.read() as connection:
        return [tune_summary(stored) for stored in list_tunes(connection)]


@router.post("", status_code=201)
def bring_in(new: NewTunes, db: Db) -> BroughtIn:
    """Read ABC text and put every tune that can be read on the shelf, all in one transaction."""
    return _bring_in(new.abc, db)


@router.post("/file", status_code=201)
def bring_in_file(file: UploadFile, db: Db) -> BroughtIn:
    """The same for an ABC file, UTF-8 or Latin-1."""
    raw = file.file.read(MOST_CHARACTERS + 1)
    if len(raw) > MOST_CHARACTERS:
        raise NailheadError(
            "The file is too large.", field="file", remedy=f"Split it: at most {MOST_CHARACTERS // 1_000_000} MB."
        )
    try:
        text = raw.decode("utf-8")
    except UnicodeDecodeError:
        text = raw.decode("latin-1")
    return _bring_in(text, db)


def _bring_in(text: str, db: Database) -> BroughtIn:
    entries = read_book(text)
    if not any(entry.tune for entry in entries):
        error = next((entry.error for entry in entries if entry.error), None)
        raise error or NailheadError(
            "There is no tune here.", field="abc", remedy="An ABC tune begins with X:1 and has a K: line."
        )
    added = []
    with db.write() as connection:
        for entry in entries:
            if entry.tune:
                tune_id = add_tune(connection, entry.tune.title, entry.text)
                added.append(tune_summary(get_tune(connection, tune_id)))
    return BroughtIn(
        added=added,
        refused=[
            RefusedTune(
                number=entry.number,
                title=entry.title,
                line=entry.error.line,
                column=entry.error.column,
                message=entry.error.message,
                remedy=entry.error.remedy,
            )
            for entry in entries
            if entry.error
        ],
        notices=[str(notice) for entry in entries if entry.tune for notice in entry.notices],
    )


@router.get("/{tune_id}")
def show(tune_id: int, db: Db) -> TuneDetail:
    """One tune with what is wrong with its bars and how it has been set up."""
    with db.read() as connection:
        return tune_detail(get_tune(connection, tune_id), setups_of_tune(connection, tune_id))


@router.delete("/{tune_id}", status_code=204)
def take_off(tune_id: int, db: Db) -> None:
    """Take a tune off the shelf."""
    with db.write() as connection:
        delete_tune(connection, tune_id)
