"""The studio in one file: kept, looked into, brought back; and the same for people to read."""

from __future__ import annotations

import tempfile
from contextlib import suppress
from dataclasses import asdict
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, BackgroundTasks, Depends, Response, UploadFile
from fastapi.responses import FileResponse

from nailhead.core.plain import plain_name
from nailhead.store.copies import Holdings, bring_back, copies_of, keep_copy, look_into, look_through
from nailhead.store.database import Database, NotFoundError
from nailhead.web.dependencies import database, workers
from nailhead.web.downloads import file_response
from nailhead.web.readable import readable
from nailhead.web.reading_through import read_through
from nailhead.web.shelf_models import BroughtBackStudio, CopyModel, HoldingsModel, StudioModel
from nailhead.web.workers import Workers, run_in

router = APIRouter(prefix="/api/studio", tags=["studio"])
ROUTERS = (router,)
Db = Annotated[Database, Depends(database)]
Elsewhere = Annotated[Workers | None, Depends(workers)]
#: Bytes of a copy that may be brought back.
MOST_BYTES = 500_000_000


@router.get("")
def studio(db: Db) -> StudioModel:
    """What is in the data file, and the copies that were made by themselves, newest first."""
    files = sorted(copies_of(db.path).glob("*.sqlite3"), key=lambda file: file.stat().st_mtime, reverse=True)
    copies = [CopyModel(name=file.stem, kilobytes=-(-file.stat().st_size // 1000)) for file in files]
    return StudioModel(file=str(db.path), holdings=_model(look_into(db.path)), copies=copies)


@router.get("/copy", response_class=FileResponse)
def copy(db: Db, later: BackgroundTasks) -> FileResponse:
    """Everything in one file, as it stands."""
    folder = tempfile.TemporaryDirectory()
    later.add_task(folder.cleanup)
    made = keep_copy(db, Path(folder.name) / "copy.sqlite3")
    name = f"nailhead-{datetime.now(UTC):%Y-%m-%d}.sqlite3"
    return FileResponse(made, media_type="application/vnd.sqlite3", filename=name, background=later)


@router.get("/readable", response_class=Response)
async def readable_copy(db: Db, elsewhere: Elsewhere) -> Response:
    """Everything as ABC and JSON in a zip archive."""
    body = await run_in(elsewhere, readable, db)
    return file_response(body, "application/zip", f"nailhead-{datetime.now(UTC):%Y-%m-%d}.zip")


@router.post("/look")
def look(file: UploadFile) -> HoldingsModel:
    """What a copy holds, before it is brought back."""
    with tempfile.TemporaryDirectory() as folder:
        return _model(look_through(_received(file, Path(folder)), read_through))


@router.post("/bring-back")
def bring_back_file(file: UploadFile, db: Db) -> BroughtBackStudio:
    """What a copy holds in the place of what is there, which is kept aside."""
    with tempfile.TemporaryDirectory() as folder:
        return _brought(db, _received(file, Path(folder)))


@router.get("/copies/{name}")
def look_at_kept(name: str, db: Db) -> HoldingsModel:
    """What one of the copies holds that were made by themselves."""
    return _model(look_through(_kept(db, name), read_through))


@router.post("/copies/{name}/bring-back")
def bring_back_kept(name: str, db: Db) -> BroughtBackStudio:
    """The same with one of them."""
    return _brought(db, _kept(db, name))


def _brought(db: Database, path: Path) -> BroughtBackStudio:
    aside = bring_back(db, path, read_through)
    return BroughtBackStudio(holdings=_model(look_into(db.path)), aside=aside.stem)


def _kept(db: Database, name: str) -> Path:
    for file in copies_of(db.path).glob("*.sqlite3"):
        if file.stem == name:
            return file
    raise NotFoundError(f"There is no copy “{name}”.", field="name", remedy="Choose one of the list.")


def _received(file: UploadFile, folder: Path) -> Path:
    path = folder / f"{plain_name((file.filename or 'copy').removesuffix('.sqlite3'))}.sqlite3"
    with path.open("wb") as out, suppress(EOFError):
        while part := file.file.read(1_000_000):
            out.write(part)
    return path


def _model(holdings: Holdings) -> HoldingsModel:
    return HoldingsModel(**asdict(holdings))
