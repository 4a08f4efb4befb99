"""What left on paper or as a file: the bars of an arrangement as they were then."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass
from typing import Any

#: Hand-outs that are kept of an arrangement.
KEPT = 10


@dataclass(frozen=True, slots=True)
class StoredHandOut:
    """`how` it left ("PDF"), the `engine` that had computed it, its bars as plain data, and when."""

    id: int
    how: str
    engine: str
    document: dict[str, Any]
    made_at: str


def newest_hand_out(connection: sqlite3.Connection, setup_id: int, engine: str) -> StoredHandOut | None:
    """The newest hand-out of an arrangement where another engine computed it; None where it was this one."""
    row = connection.execute(
        "SELECT id, how, engine, document, made_at FROM handed_out WHERE setup_id = ? ORDER BY id DESC LIMIT 1",
        (setup_id,),
    ).fetchone()
    if row is None or row["engine"] == engine:
        return None
    return StoredHandOut(row["id"], row["how"], row["engine"], json.loads(row["document"]), row["made_at"])


def every_hand_out(connection: sqlite3.Connection, setup_id: int) -> list[StoredHandOut]:
    """All that are kept of an arrangement, oldest first."""
    rows = connection.execute(
        "SELECT id, how, engine, document, made_at FROM handed_out WHERE setup_id = ? ORDER BY id", (setup_id,)
    )
    return [
        StoredHandOut(row["id"], row["how"], row["engine"], json.loads(row["document"]), row["made_at"]) for row in rows
    ]


def record_hand_out(
    connection: sqlite3.Connection, setup_id: int, how: str, engine: str, document: dict[str, Any]
) -> None:
    """Keep what left now. The same bars handed out again are one row, with the newest date; the oldest rows go."""
    text = json.dumps(document, ensure_ascii=False, separators=(",", ":"), sort_keys=True)
    newest = connection.execute(
        "SELECT id, engine, document FROM handed_out WHERE setup_id = ? ORDER BY id DESC LIMIT 1", (setup_id,)
    ).fetchone()
    if newest and newest["engine"] == engine and newest["document"] == text:
        connection.execute(
            "UPDATE handed_out SET how = ?, made_at = strftime('%Y-%m-%dT%H:%M:%SZ', 'now') WHERE id = ?",
            (how, newest["id"]),
        )
        return
    connection.execute(
        "INSERT INTO handed_out (setup_id, how, engine, document) VALUES (?, ?, ?, ?)", (setup_id, how, engine, text)
    )
    connection.execute(
        """
        DELETE FROM handed_out WHERE setup_id = ? AND id NOT IN
            (SELECT id FROM handed_out WHERE setup_id = ? ORDER BY id DESC LIMIT ?)
        """,
        (setup_id, setup_id, KEPT),
    )
