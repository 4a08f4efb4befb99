"""The teacher's tunes, kept as ABC text: the newest that could be read, and a draft while it cannot."""

from __future__ import annotations

import sqlite3
from dataclasses import dataclass

from nailhead.store.database import ConflictError, NotFoundError


@dataclass(frozen=True, slots=True)
class StoredTune:
    """`abc` is the newest text that could be read ("" where none could yet), `draft` a newer one that cannot."""

    id: int
    title: str
    abc: str
    draft: str | None
    revision: int
    archived: bool
    created_at: str
    changed_at: str

    @property
    def text(self) -> str:
        """What the teacher typed last."""
        return self.abc if self.draft is None else self.draft


_COLUMNS = "id, title, abc, draft, revision, archived, created_at, changed_at"
_NOW = "strftime('%Y-%m-%dT%H:%M:%SZ', 'now')"


def add_tune(connection: sqlite3.Connection, title: str, abc: str, draft: str | None = None) -> int:
    """Put a tune on the shelf and return its id."""
    cursor = connection.execute(
        f"INSERT INTO tune (title, abc, draft, changed_at) VALUES (?, ?, ?, {_NOW})", (title, abc, draft)
    )
    assert cursor.lastrowid is not None
    return cursor.lastrowid


def came_together(connection: sqlite3.Connection) -> None:
    """All tunes count as brought in at one moment, however long it took: none stands first for its second."""
    connection.execute("UPDATE tune SET created_at = (SELECT max(created_at) FROM tune)")


def shelf_is_empty(connection: sqlite3.Connection) -> bool:
    """True before the first tune; deleted ones count, so that an emptied shelf is not filled again."""
    return connection.execute("SELECT 1 FROM tune LIMIT 1").fetchone() is None


def get_tune(connection: sqlite3.Connection, tune_id: int) -> StoredTune:
    """One tune; raises NotFoundError, for a deleted one too."""
    row = connection.execute(f"SELECT {_COLUMNS} FROM tune WHERE id = ? AND deleted_at IS NULL", (tune_id,)).fetchone()
    if row is None:
        raise _missing(tune_id)
    return _stored(row)


def all_tunes(connection: sqlite3.Connection) -> list[StoredTune]:
    """Every tune that is kept, those that were taken off the shelf included."""
    return [_stored(row) for row in connection.execute(f"SELECT {_COLUMNS} FROM tune ORDER BY id")]


def every_tune(connection: sqlite3.Connection) -> list[StoredTune]:
    """All that are on the shelf or in the archive, oldest first."""
    rows = connection.execute(f"SELECT {_COLUMNS} FROM tune WHERE deleted_at IS NULL ORDER BY id")
    return [_stored(row) for row in rows]


def _stored(row: sqlite3.Row) -> StoredTune:
    return StoredTune(**{**dict(row), "archived": bool(row["archived"])})


def save_text(
    connection: sqlite3.Connection, tune_id: int, revision: int, text: str, *, title: str | None
) -> StoredTune:
    """Keep a text worked out from `revision`; `title` is None where the text cannot be read: it is then a draft.

    The text that is there already is kept as it is, whatever the revision: a save whose answer was lost is sent again.
    Raises ConflictError when another window has changed the tune since; nothing is overwritten.
    """
    current = get_tune(connection, tune_id)
    if current.revision != revision and text == current.text:
        return current
    if current.revision != revision:
        raise ConflictError(
            "The tune has been changed in another window.",
            field="text",
            remedy="Load the other text, or keep yours over it.",
        )
    values = (text, None, title, tune_id) if title is not None else (current.abc, text, current.title, tune_id)
    connection.execute(
        f"UPDATE tune SET abc = ?, draft = ?, title = ?, revision = revision + 1, changed_at = {_NOW} WHERE id = ?",
        values,
    )
    return get_tune(connection, tune_id)


def note_opened(connection: sqlite3.Connection, tune_id: int) -> None:
    """The tune is being worked on now; raises NotFoundError."""
    now = "strftime('%Y-%m-%dT%H:%M:%fZ', 'now')"
    _change(connection, f"UPDATE tune SET opened_at = {now} WHERE id = ? AND deleted_at IS NULL", (tune_id,))


def set_archived(connection: sqlite3.Connection, tune_id: int, archived: bool) -> None:
    """Put a tune into the archive or back on the shelf; raises NotFoundError."""
    _change(connection, "UPDATE tune SET archived = ? WHERE id = ? AND deleted_at IS NULL", (archived, tune_id))


def delete_tune(connection: sqlite3.Connection, tune_id: int) -> None:
    """Take a tune off the shelf; it can be brought back until it is purged. Raises NotFoundError."""
    _change(connection, f"UPDATE tune SET deleted_at = {_NOW} WHERE id = ? AND deleted_at IS NULL", (tune_id,))


def restore_tune(connection: sqlite3.Connection, tune_id: int) -> None:
    """Bring a deleted tune back with its setups and paths; raises NotFoundError."""
    _change(connection, "UPDATE tune SET deleted_at = NULL WHERE id = ? AND deleted_at IS NOT NULL", (tune_id,))


def purge_deleted(connection: sqlite3.Connection, days: int) -> int:
    """Forget for good what was deleted more than so many days ago; returns how many tunes."""
    before = f"-{days:d} days"
    return connection.execute(
        "DELETE FROM tune WHERE deleted_at < strftime('%Y-%m-%dT%H:%M:%SZ', 'now', ?)", (before,)
    ).rowcount


def texts_on_shelf(connection: sqlite3.Connection) -> frozenset[str]:
    """Every text on the shelf and in the archive, to see what is there already."""
    return frozenset(row["abc"] for row in connection.execute("SELECT abc FROM tune WHERE deleted_at IS NULL"))


def tune_of_text(connection: sqlite3.Connection, abc: str) -> int | None:
    """The tune on the shelf with just that text, the oldest of several; None where there is none."""
    row = connection.execute(
        "SELECT id FROM tune WHERE abc = ? AND deleted_at IS NULL ORDER BY id LIMIT 1", (abc,)
    ).fetchone()
    return row["id"] if row else None


def _change(connection: sqlite3.Connection, statement: str, values: tuple[object, ...]) -> None:
    if connection.execute(statement, values).rowcount == 0:
        raise _missing(values[-1])


def _missing(tune_id: object) -> NotFoundError:
    return NotFoundError(f"There is no tune {tune_id}.", field="tune", remedy="Go back to the shelf.")
