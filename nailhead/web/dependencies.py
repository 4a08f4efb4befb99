"""What handlers are given."""

from __future__ import annotations

from fastapi import Request

from nailhead.store.database import Database


def database(request: Request) -> Database:
    """The data file the application was started with."""
    db: Database = request.app.state.database
    return db
