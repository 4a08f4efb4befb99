"""The teacher's tunes, kept as the ABC they came in."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from nailhead.store.database import NotFoundError


@dataclass(frozen=True, slots=True)
class StoredTune:
    id: int
    title: str
    abc: str
    created_at: str
    setups: int = 0


def add_tune(connection: sqlite3.Connection, title: str, abc: str) -> int:
    """Put a tune on the shelf and return its id."""
    cursor = connection.execute("INSERT INTO tune (title, abc) VALUES (?, ?)", (title, abc))
    assert cursor.lastrowid is not None
    return cursor.lastrowid


def list_tunes(connection: sqlite3.Connection) -> list[StoredTune]:
    """The whole shelf by title, with how often each tune has been set up."""
    rows = connection.execute(
        """
        SELECT tune.id, tune.title, tune.abc, tune.created_at, count(setup.id) AS setups
        FROM tune LEFT JOIN setup ON setup.tune_id = tune.id
        GROUP BY tune.id
        ORDER BY tune.title COLLATE NOCASE, tune.id
        """
    )
    return [StoredTune(**dict(row)) for row in rows]


def get_tune(connection: sqlite3.Connection, tune_id: int) -> StoredTune:
    """One tune; raises NotFoundError."""
    row = connection.execute("SELECT id, title, abc, created_at FROM tune WHERE id = ?", (tune_id,)).fetchone()
    if row is None:
        raise NotFoundError(f"There is no tune {tune_id}.", field="tune", remedy="Go back to the shelf.")
    return StoredTune(**dict(row))


def delete_tune(connection: sqlite3.Connection, tune_id: int) -> None:
    """Take a tune off the shelf with its setups and paths; raises NotFoundError."""
    if connection.execute("DELETE FROM tune WHERE id = ?", (tune_id,)).rowcount == 0:
        raise NotFoundError(f"There is no tune {tune_id}.", field="tune", remedy="Go back to the shelf.")
