"""How tunes are set up."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass

from nailhead.store.database import NotFoundError


@dataclass(frozen=True, slots=True)
class StoredSetup:
    """What the teacher decided; `fifth` and `sounding_key` as text ("A4", "A"), her own `patterns` as (name, text).

    `first_rung` is the rung of every bar before a path is chosen.
    """

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
    name: str
    revision: int
    patterns: tuple[tuple[str, str], ...] = ()
    first_rung: int = 2


_COLUMNS = (
    "id, tune_id, instrument, idiom, tuning, capo, fifth, sounding_key, created_at, options, name, revision, patterns,"
    " first_rung"
)


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
    options: Mapping[str, str] | None = None,
    first_rung: int = 2,
) -> int:
    """Keep a setup of a tune, in the school of `options`, its path on `first_rung`, and return its id."""
    cursor = connection.execute(
        """
        INSERT INTO setup (tune_id, instrument, idiom, tuning, capo, fifth, sounding_key, options, first_rung)
        VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)
        """,
        (
            tune_id,
            instrument,
            idiom,
            tuning,
            capo,
            fifth,
            sounding_key,
            json.dumps(options or {}, sort_keys=True),
            first_rung,
        ),
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
    patterns = tuple((name, text) for name, text in json.loads(row["patterns"]))
    return StoredSetup(**{**dict(row), "options": json.loads(row["options"]), "patterns": patterns})


def delete_setup(connection: sqlite3.Connection, setup_id: int) -> None:
    """Forget a setup and its arrangement; raises NotFoundError."""
    if connection.execute("DELETE FROM setup WHERE id = ?", (setup_id,)).rowcount == 0:
        raise NotFoundError(f"There is no setup {setup_id}.", field="setup", remedy="Go back to the tune.")
