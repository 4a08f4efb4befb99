"""What the teacher has settled once for all tunes, and what she used last."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Mapping


def settings_of(connection: sqlite3.Connection) -> dict[str, object]:
    """Everything that is settled, by name."""
    return {row["name"]: json.loads(row["value"]) for row in connection.execute("SELECT name, value FROM setting")}


def settle(connection: sqlite3.Connection, values: Mapping[str, object]) -> None:
    """Keeps each of these in place of what was settled under its name; the others stay."""
    connection.executemany(
        "INSERT OR REPLACE INTO setting (name, value) VALUES (?, ?)",
        [(name, json.dumps(value, ensure_ascii=False)) for name, value in values.items()],
    )


def sheet_defaults(connection: sqlite3.Connection) -> dict[str, object]:
    """How sheets look before anything is decided on one."""
    row = connection.execute("SELECT value FROM setting WHERE name = 'sheet'").fetchone()
    return dict(json.loads(row["value"])) if row else {}


def schools(connection: sqlite3.Connection) -> dict[str, str]:
    """The ways that new arrangements take in what players differ in."""
    row = connection.execute("SELECT value FROM setting WHERE name = 'schools'").fetchone()
    return dict(json.loads(row["value"])) if row else {}


def last_used(connection: sqlite3.Connection) -> tuple[str, str] | None:
    """Instrument and way of playing of the newest setup; None before the first."""
    row = connection.execute("SELECT instrument, idiom FROM setup ORDER BY id DESC LIMIT 1").fetchone()
    return (row["instrument"], row["idiom"]) if row else None


def last_opened(connection: sqlite3.Connection) -> tuple[int, int | None] | None:
    """The tune that was worked on last and is still on the shelf, and its newest setup; None before any was opened."""
    row = connection.execute(
        """
        SELECT id, (SELECT max(setup.id) FROM setup WHERE setup.tune_id = tune.id) AS setup FROM tune
        WHERE opened_at IS NOT NULL AND deleted_at IS NULL AND archived = 0
        ORDER BY opened_at DESC LIMIT 1
        """
    ).fetchone()
    return (row["id"], row["setup"]) if row else None
