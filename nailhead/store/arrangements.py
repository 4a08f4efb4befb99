"""What a teacher decided on the ladder of a setup, with every step that led there."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass
from typing import Any

from nailhead.store.database import ConflictError, NotFoundError, StoreError
from nailhead.store.setups import get_setup

#: Steps older than this are forgotten when another is made; the newest always stays.
KEPT_DAYS = 30
#: Columns of a setup that a step may change.
_DECIDED = ("tuning", "capo", "fifth", "sounding_key")

Document = dict[str, Any]


@dataclass(frozen=True, slots=True)
class StoredArrangement:
    """`document` is None before anything has been decided. `undo` and `redo` say what would be, "" where nothing."""

    document: Document | None
    revision: int
    undo: str = ""
    redo: str = ""


def get_arrangement(connection: sqlite3.Connection, setup_id: int) -> StoredArrangement:
    """The decisions of a setup as they stand; raises NotFoundError."""
    at, revision = _at(connection, setup_id)
    rows = {
        row["number"]: row
        for row in connection.execute(
            "SELECT number, said, document FROM step WHERE setup_id = ? AND number BETWEEN ? AND ?",
            (setup_id, at - 1, at + 1),
        )
    }
    now = rows.get(at)
    undo = now["said"] if now and at - 1 in rows else ""
    redo = rows[at + 1]["said"] if at + 1 in rows else ""
    return StoredArrangement(json.loads(now["document"]) if now else None, revision, undo, redo)


def _at(connection: sqlite3.Connection, setup_id: int) -> tuple[int, int]:
    row = connection.execute("SELECT step, revision FROM setup WHERE id = ?", (setup_id,)).fetchone()
    if row is None:
        raise NotFoundError(f"There is no setup {setup_id}.", field="setup", remedy="Go back to the tune.")
    return row["step"], row["revision"]


def applied_revision(connection: sqlite3.Connection, setup_id: int, change_id: str | None) -> int | None:
    """The revision that a change led to; None without an id, and where no change with that id has been made."""
    row = connection.execute(
        "SELECT revision FROM applied_change WHERE setup_id = ? AND id = ?", (setup_id, change_id)
    ).fetchone()
    return row["revision"] if row else None


def record_change(connection: sqlite3.Connection, setup_id: int, change_id: str | None, revision: int = 0) -> None:
    """Remember that a change has been made, so that it is not made again when it is sent again."""
    if not change_id:
        return
    connection.execute(
        "INSERT INTO applied_change (setup_id, id, revision) VALUES (?, ?, ?)", (setup_id, change_id, revision)
    )
    connection.execute(
        "DELETE FROM applied_change WHERE setup_id = ? AND made_at < strftime('%Y-%m-%dT%H:%M:%SZ', 'now', ?)",
        (setup_id, f"-{KEPT_DAYS} days"),
    )


def save_step(
    connection: sqlite3.Connection,
    setup_id: int,
    before: Document,
    after: Document,
    said: str,
    revision: int,
    change_id: str | None = None,
) -> StoredArrangement:
    """Keep a change that was worked out from `revision`; what could be redone is forgotten.

    `before` is kept as the first step where there is none. `after` may hold "setup", "options" and "patterns", which
    become those of the setup. A change whose `change_id` has been made already is not made again. Raises ConflictError
    when another window has changed the arrangement since.
    """
    if applied_revision(connection, setup_id, change_id) is not None:
        return get_arrangement(connection, setup_id)
    at = _check_revision(connection, setup_id, revision)
    connection.execute("DELETE FROM step WHERE setup_id = ? AND number > ?", (setup_id, at))
    first = connection.execute("SELECT 1 FROM step WHERE setup_id = ? AND number = ?", (setup_id, at)).fetchone()
    if first is None:
        _insert(connection, setup_id, at, "", before)
    _insert(connection, setup_id, at + 1, said, after)
    _stand(connection, setup_id, at + 1, after)
    connection.execute(
        "DELETE FROM step WHERE setup_id = ? AND number < ? AND made_at < strftime('%Y-%m-%dT%H:%M:%SZ', 'now', ?)",
        (setup_id, at, f"-{KEPT_DAYS} days"),
    )
    record_change(connection, setup_id, change_id, revision + 1)
    return get_arrangement(connection, setup_id)


def _check_revision(connection: sqlite3.Connection, setup_id: int, revision: int) -> int:
    at, current = _at(connection, setup_id)
    if current != revision:
        raise ConflictError(
            "The arrangement has been changed in another window.",
            field="revision",
            remedy="It has been loaded as it is now; make your change again if you still want it.",
        )
    return at


def _insert(connection: sqlite3.Connection, setup_id: int, number: int, said: str, document: Document) -> None:
    connection.execute(
        "INSERT INTO step (setup_id, number, said, document) VALUES (?, ?, ?, ?)",
        (setup_id, number, said, json.dumps(document, ensure_ascii=False, separators=(",", ":"))),
    )


def _stand(connection: sqlite3.Connection, setup_id: int, number: int, document: Document) -> None:
    """The setup stands at a step: its own columns follow what the step says of them."""
    connection.execute("UPDATE setup SET step = ?, revision = revision + 1 WHERE id = ?", (number, setup_id))
    if "setup" in document:
        values = [document["setup"][name] for name in _DECIDED]
        assigned = ", ".join(f"{name} = ?" for name in _DECIDED)
        connection.execute(f"UPDATE setup SET {assigned} WHERE id = ?", (*values, setup_id))
    if "options" in document:
        options = json.dumps(document["options"], sort_keys=True)
        connection.execute("UPDATE setup SET options = ? WHERE id = ?", (options, setup_id))
    if "patterns" in document:
        patterns = json.dumps(document["patterns"], ensure_ascii=False)
        connection.execute("UPDATE setup SET patterns = ? WHERE id = ?", (patterns, setup_id))


def go_step(
    connection: sqlite3.Connection, setup_id: int, by: int, revision: int, change_id: str | None = None
) -> StoredArrangement:
    """Undo (-1) or redo (1); raises StoreError where there is nothing to, ConflictError as `save_step`.

    A step whose `change_id` has been made already is not made again.
    """
    if applied_revision(connection, setup_id, change_id) is not None:
        return get_arrangement(connection, setup_id)
    at = _check_revision(connection, setup_id, revision) + by
    row = connection.execute("SELECT document FROM step WHERE setup_id = ? AND number = ?", (setup_id, at)).fetchone()
    if row is None:
        raise StoreError(
            f"There is nothing to {'undo' if by < 0 else 'redo'}.", field="step", remedy="This is as far as it goes."
        )
    _stand(connection, setup_id, at, json.loads(row["document"]))
    record_change(connection, setup_id, change_id, revision + 1)
    return get_arrangement(connection, setup_id)


def copy_setup(connection: sqlite3.Connection, setup_id: int, name: str) -> int:
    """Another arrangement of the same tune that begins as this one stands; gives its id."""
    get_setup(connection, setup_id)
    copied = "tune_id, instrument, idiom, tuning, capo, fifth, sounding_key, options, patterns, first_rung"
    cursor = connection.execute(
        f"INSERT INTO setup ({copied}, name) SELECT {copied}, ? FROM setup WHERE id = ?", (name, setup_id)
    )
    new = cursor.lastrowid
    assert new is not None
    document = get_arrangement(connection, setup_id).document
    if document is not None:
        _insert(connection, new, 0, "", document)
    connection.execute(
        """
        INSERT INTO handed_out (setup_id, how, engine, document, made_at)
        SELECT ?, how, engine, document, made_at FROM handed_out WHERE setup_id = ? ORDER BY id
        """,
        (new, setup_id),
    )
    return new


def name_setup(connection: sqlite3.Connection, setup_id: int, name: str) -> None:
    """Call an arrangement something; raises NotFoundError."""
    if connection.execute("UPDATE setup SET name = ? WHERE id = ?", (name, setup_id)).rowcount == 0:
        raise NotFoundError(f"There is no setup {setup_id}.", field="setup", remedy="Go back to the tune.")
