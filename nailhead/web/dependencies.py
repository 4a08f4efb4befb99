"""What handlers are given."""

from __future__ import annotations

from fastapi import Request

from nailhead.store.database import Database
from nailhead.web.workers import Workers


def database(request: Request) -> Database:
    """The data file the application was started with."""
    db: Database = request.app.state.database
    return db


def workers(request: Request) -> Workers | None:
    """Where work is done that must end; None where it is done in threads."""
    found: Workers | None = request.app.state.workers
    return found
