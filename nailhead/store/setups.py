"""How tunes are set up, and the path chosen through each ladder."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass

from nailhead.store.database import ConflictError, NotFoundError


@dataclass(frozen=True, slots=True)
class StoredSetup:
    """What the teacher decided; `fifth` and `sounding_key` as text ("A4", "A")."""

    id: int
    tune_id: int
    instrument: str
    idiom: str
    tuning: str
    capo: int
    fifth: str | None
    sounding_key: str
    created_at: str
    options: dict[str, str]


@dataclass(frozen=True, slots=True)
class StoredPath:
    rungs: tuple[int, ...]
    revision: int


_COLUMNS = "id, tune_id, instrument, idiom, tuning, capo, fifth, sounding_key, created_at, options"


def add_setup(
    connection: sqlite3.Connection,
    tune_id: int,
    *,
    instrument: str,
    idiom: str,
    tuning: str,
    capo: int,
    fifth: str | None,
    sounding_key: str,
) -> int:
    """Keep a setup of a tune and return its id."""
    cursor = connection.execute(
        """
        INSERT INTO setup (tune_id, instrument, idiom, tuning, capo, fifth, sounding_key)
        VALUES (?, ?, ?, ?, ?, ?, ?)
        """,
        (tune_id, instrument, idiom, tuning, capo, fifth, sounding_key),
    )
    assert cursor.lastrowid is not None
    return cursor.lastrowid


def setups_of_tune(connection: sqlite3.Connection, tune_id: int) -> list[StoredSetup]:
    """All setups of a tune, oldest first."""
    rows = connection.execute(f"SELECT {_COLUMNS} FROM setup WHERE tune_id = ? ORDER BY id", (tune_id,))
    return [_stored(row) for row in rows]


def get_setup(connection: sqlite3.Connection, setup_id: int) -> StoredSetup:
    """One setup; raises NotFoundError."""
    row = connection.execute(f"SELECT {_COLUMNS} FROM setup WHERE id = ?", (setup_id,)).fetchone()
    if row is None:
        raise NotFoundError(f"There is no setup {setup_id}.", field="setup", remedy="Go back to the tune.")
    return _stored(row)


def _stored(row: sqlite3.Row) -> StoredSetup:
    return StoredSetup(**{**dict(row), "options": json.loads(row["options"])})


def save_options(connection: sqlite3.Connection, setup_id: int, options: dict[str, str]) -> None:
    """Keep the choices of a setup's arrangement; raises NotFoundError."""
    kept = json.dumps(options, sort_keys=True)
    if connection.execute("UPDATE setup SET options = ? WHERE id = ?", (kept, setup_id)).rowcount == 0:
        raise NotFoundError(f"There is no setup {setup_id}.", field="setup", remedy="Go back to the tune.")


def delete_setup(connection: sqlite3.Connection, setup_id: int) -> None:
    """Forget a setup and its path; raises NotFoundError."""
    if connection.execute("DELETE FROM setup WHERE id = ?", (setup_id,)).rowcount == 0:
        raise NotFoundError(f"There is no setup {setup_id}.", field="setup", remedy="Go back to the tune.")


def get_path(connection: sqlite3.Connection, setup_id: int) -> StoredPath | None:
    """The path of a setup, or None before one has been chosen."""
    row = connection.execute("SELECT rungs, revision FROM path WHERE setup_id = ?", (setup_id,)).fetchone()
    return StoredPath(tuple(json.loads(row["rungs"])), row["revision"]) if row else None


def save_path(connection: sqlite3.Connection, setup_id: int, rungs: tuple[int, ...], revision: int) -> StoredPath:
    """Keep a path that was worked out from `revision` (0 for the first).

    Raises ConflictError when another window has changed it since.
    """
    current = get_path(connection, setup_id)
    if (current.revision if current else 0) != revision:
        raise ConflictError(
            "The path has been changed in another window.", field="path", remedy="Reload to see it, then try again."
        )
    connection.execute(
        """
        INSERT INTO path (setup_id, rungs, revision) VALUES (?, ?, ?)
        ON CONFLICT (setup_id) DO UPDATE SET rungs = excluded.rungs, revision = excluded.revision
        """,
        (setup_id, json.dumps(rungs), revision + 1),
    )
    return StoredPath(rungs, revision + 1)
