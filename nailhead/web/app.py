"""The application: routers, errors, and the built front end from the same origin."""

from __future__ import annotations

from pathlib import Path

from fastapi import FastAPI, Request
from fastapi.responses import FileResponse, Response
from fastapi.staticfiles import StaticFiles
from starlette.middleware.base import RequestResponseEndpoint
from starlette.middleware.gzip import GZipMiddleware

from nailhead import __version__
from nailhead.store.database import Database
from nailhead.web.bring_in import MOST_BYTES
from nailhead.web.errors import add_error_handlers
from nailhead.web.limits import BodyLimit
from nailhead.web.packets import PacketDesk
from nailhead.web.routers import arrangements, bars, desk, instruments, packets, setups, sheets, sounds, tuner, tunes
from nailhead.web.shelf import catch_up

STATIC = Path(__file__).parent / "static"
#: Nothing is fetched from outside, so nothing outside is allowed.
POLICY = (
    "default-src 'self'; img-src 'self' data:; style-src 'self' 'unsafe-inline'; font-src 'self' data:; "
    "object-src 'none'; base-uri 'none'; frame-ancestors 'none'"
)


def create_app(database: Database | None, static: Path = STATIC) -> FastAPI:
    """The application on a data file; without one only its OpenAPI document is of use."""
    app = FastAPI(title="Nailhead", version=__version__, docs_url=None, redoc_url=None)
    app.state.database = database
    app.state.packets = PacketDesk()
    app.add_middleware(GZipMiddleware, minimum_size=2000)
    add_error_handlers(app)
    app.include_router(tunes.router)
    app.include_router(desk.router)
    app.include_router(setups.router)
    app.include_router(arrangements.router)
    app.include_router(bars.router)
    app.include_router(sheets.router)
    app.include_router(packets.router)
    app.include_router(sounds.router)
    app.include_router(instruments.router)
    app.include_router(tuner.router)
    if database is not None:
        catch_up(database)

    @app.middleware("http")
    async def add_policy(request: Request, call_next: RequestResponseEndpoint) -> Response:
        response = await call_next(request)
        response.headers["Content-Security-Policy"] = POLICY
        response.headers["X-Content-Type-Options"] = "nosniff"
        return response

    # Added last, so that it stands outermost and nothing is read before it.
    app.add_middleware(BodyLimit, most=MOST_BYTES)

    if (static / "assets").is_dir():
        app.mount("/assets", StaticFiles(directory=static / "assets"))

        @app.get("/{path:path}", include_in_schema=False)
        def page(path: str) -> FileResponse:
            """Every other address is a view of the front end."""
            file = (static / path).resolve()
            inside = static.resolve() in file.parents and file.is_file()
            return FileResponse(file if inside else static / "index.html")

    return app
