"""Compares an open data file with what the migrations make, and checks that it is whole."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path

from nailhead.store.opening import DataFileError


class DamagedError(DataFileError):
    """A data file whose tables or rows are not as they should be."""


@dataclass(frozen=True, slots=True)
class _Column:
    """A column as SQLite describes it; `key` is its place in the primary key, 0 for none."""

    name: str
    kind: str
    not_null: bool
    key: int


@dataclass(frozen=True, slots=True)
class _Table:
    columns: frozenset[_Column]
    #: (column, table, column there, what happens on deletion)
    keys: frozenset[tuple[str, str, str, str]]


def verify(connection: sqlite3.Connection, fresh: sqlite3.Connection) -> None:
    """Raises DamagedError unless a file has the tables of a `fresh` one of its version, sound pages and keys.

    Views and triggers are refused: no Nailhead makes any, and a trigger would act on what is written later.
    """
    try:
        _same_schema(connection, fresh)
        (found,) = connection.execute("PRAGMA integrity_check(1)").fetchone()
    except UnicodeDecodeError as error:
        raise _damaged("a name in it is no text") from error
    if found != "ok":
        raise _damaged(f"SQLite finds: {found}")
    lost = connection.execute("PRAGMA foreign_key_check").fetchone()
    if lost:
        raise _damaged(f"a row of the table {lost[0]} belongs to one of {lost[2]} that is missing")


def _same_schema(connection: sqlite3.Connection, fresh: sqlite3.Connection) -> None:
    found, wanted = _kinds(connection), _kinds(fresh)
    for name, kind in wanted.items():
        if found.get(name) != kind:
            there = f"is a {found[name]}" if name in found else "is missing"
            raise _damaged(f"the {kind} {name} {there}")
    strange = sorted(found.keys() - wanted.keys())
    if strange:
        raise _damaged(f"no Nailhead makes its {found[strange[0]]} {strange[0]}")
    for name in (name for name, kind in wanted.items() if kind == "table"):
        have, need = _table(connection, name), _table(fresh, name)
        if missing := sorted(column.name for column in need.columns - have.columns):
            raise _damaged(f"the column {missing[0]} of the table {name} is missing or of another kind")
        if extra := sorted(column.name for column in have.columns - need.columns):
            raise _damaged(f"no Nailhead makes the column {extra[0]} of the table {name}")
        if have.keys != need.keys:
            raise _damaged(f"the table {name} has other foreign keys")


def _kinds(connection: sqlite3.Connection) -> dict[str, str]:
    """Everything that a schema names, but what SQLite makes for itself: name -> table, index, view, trigger."""
    rows = connection.execute("SELECT name, type FROM sqlite_schema WHERE name NOT LIKE 'sqlite\\_%' ESCAPE '\\'")
    return {str(name): str(kind) for name, kind in rows}


def _table(connection: sqlite3.Connection, name: str) -> _Table:
    columns = connection.execute('SELECT name, type, "notnull", pk FROM pragma_table_xinfo(?)', (name,))
    keys = connection.execute('SELECT "from", "table", "to", on_delete FROM pragma_foreign_key_list(?)', (name,))
    return _Table(
        frozenset(_Column(str(row[0]), str(row[1]), bool(row[2]), int(row[3])) for row in columns),
        frozenset((str(row[0]), str(row[1]), str(row[2]), str(row[3])) for row in keys),
    )


def _damaged(said: str) -> DamagedError:
    return DamagedError(
        f"The data file is damaged: {said}.", field="file", remedy="Restore a backup that was made before."
    )


def copy_between(source: Path, target: Path) -> None:
    """What a file holds in the place of what another one holds (SQLite's online backup)."""
    with closing(sqlite3.connect(source)) as from_, closing(sqlite3.connect(target, timeout=10)) as to:
        from_.backup(to)
