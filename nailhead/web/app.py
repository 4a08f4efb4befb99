"""The application: routers, errors, the guard, workers, and the built front end from the same origin."""

from __future__ import annotations

import asyncio
import logging
from collections.abc import AsyncIterator, Iterable
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI
from fastapi.responses import FileResponse
from fastapi.staticfiles import StaticFiles
from starlette.concurrency import run_in_threadpool
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware

from nailhead import __version__
from nailhead.core.errors import NailheadError
from nailhead.store.copies import daily_copy
from nailhead.store.database import Database
from nailhead.web.apart import settle
from nailhead.web.bring_in import MOST_BYTES
from nailhead.web.describing import describe
from nailhead.web.errors import add_error_handlers
from nailhead.web.guard import Guard
from nailhead.web.head import HeadAsGet
from nailhead.web.kept_ladders import beside
from nailhead.web.ladders import keep_ladders
from nailhead.web.limits import BodyLimit
from nailhead.web.packets import PacketDesk
from nailhead.web.routers import (
    arrangements,
    bars,
    desk,
    health,
    instruments,
    packets,
    practice,
    setups,
    sheets,
    sounds,
    studio,
    teacher,
    tuner,
    tunes,
)
from nailhead.web.shelf import catch_up
from nailhead.web.spool import spool_of
from nailhead.web.workers import Workers

_LOG = logging.getLogger(__name__)
STATIC = Path(__file__).parent / "static"
#: Seconds between two looks whether today has a copy.
COPY_EVERY = 3600
ROUTERS = (
    tunes,
    desk,
    setups,
    arrangements,
    bars,
    sheets,
    packets,
    sounds,
    practice,
    instruments,
    tuner,
    teacher,
    studio,
    health,
)


def create_app(
    database: Database | None,
    static: Path = STATIC,
    workers: Workers | None = None,
    hosts: Iterable[str] = (),
) -> FastAPI:
    """The application on a data file; without one only its OpenAPI document is of use.

    With `workers` all that computes is done there, else in threads. `hosts` are names it may be called by beside those
    of this machine.
    """

    @asynccontextmanager
    async def life(_: FastAPI) -> AsyncIterator[None]:
        if workers is None or database is None:
            yield
            return
        workers.start()
        copying = asyncio.create_task(_copy_daily(database))
        yield
        copying.cancel()
        workers.stop()

    app = FastAPI(title="Nailhead", version=__version__, docs_url=None, redoc_url=None, lifespan=life)
    add_routes(app, database, workers)
    describe(app)
    if database is not None:
        catch_up(database)
    app.add_middleware(GZipMiddleware, minimum_size=2000, compresslevel=3)
    app.add_middleware(HeadAsGet)
    app.add_middleware(BodyLimit, most=MOST_BYTES, larger={"/api/studio/": studio.MOST_BYTES})
    # Added last, so that it stands outermost and nothing is read before it.
    app.add_middleware(Guard, hosts=tuple(hosts))

    if (static / "assets").is_dir():
        app.mount("/assets", StaticFiles(directory=static / "assets"))

        @app.get("/{path:path}", include_in_schema=False)
        def page(path: str) -> FileResponse:
            """Every other address is a view of the front end."""
            if path.startswith("api/") or "\0" in path:
                raise HTTPException(404)
            return FileResponse(_built(static, path) or static / "index.html")

    return app


def _built(static: Path, path: str) -> Path | None:
    """The file of the built front end that an address names, None where there is none."""
    try:
        file = (static / path).resolve()
        return file if static.resolve() in file.parents and file.is_file() else None
    except (OSError, ValueError):  # no file can be called that
        return None


async def _copy_daily(database: Database) -> None:
    """A copy on every day that the server is up, also where it is never ended."""
    while True:
        try:
            await run_in_threadpool(daily_copy, database)
        except NailheadError as error:  # a disk without room for a copy is no reason to stop
            _LOG.warning("no copy of today: %s", error)
        await asyncio.sleep(COPY_EVERY)


def add_routes(app: FastAPI, database: Database | None, workers: Workers | None) -> None:
    """The handlers and what they are given."""
    app.state.database = database
    app.state.workers = workers
    app.state.packets = PacketDesk(workers)
    add_error_handlers(app)
    for module in ROUTERS:
        for router in module.ROUTERS:
            app.include_router(router)


def in_a_worker(path: str) -> None:
    """Makes the application that a worker's requests are for; its ladders outlive it."""
    place = beside(Path(path))
    place.tidy()
    keep_ladders(place)
    app = FastAPI(title="Nailhead", version=__version__, docs_url=None, redoc_url=None, openapi_url=None)
    add_routes(app, Database(Path(path), guest=True), None)
    settle(app, spool_of(Path(path)))
