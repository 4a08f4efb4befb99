"""Copies of the whole data file: kept on request and once a day of use, looked into, and brought back.

A copy is a data file itself, whole and tidy (SQLite's VACUUM INTO), made while the server runs.
"""

from __future__ import annotations

import sqlite3
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, date, datetime
from pathlib import Path

from nailhead.store.database import MIGRATIONS, Database, migrate, newest_version, version_of
from nailhead.store.opening import DataFileError, check_file, told

#: So many of the copies that are made by themselves are kept.
DAYS = 7


@dataclass(frozen=True, slots=True)
class Holdings:
    """What is in a data file. `changed_at` is when a tune of it was changed last, "" where there is none."""

    tunes: int
    archived: int
    arrangements: int
    steps: int
    instruments: int
    tunings: int
    changed_at: str
    version: int


def keep_copy(database: Database, target: Path) -> Path:
    """The whole data file as it stands, in a file that was not there or is replaced; raises DataFileError."""
    part = target.with_name(f"{target.name}.part")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        part.unlink(missing_ok=True)
        with told(target), closing(sqlite3.connect(database.path, timeout=10, isolation_level=None)) as connection:
            connection.execute("VACUUM INTO ?", (str(part),))
        part.replace(target)
    except OSError as error:
        raise DataFileError(
            f"{target} cannot be written: {error.strerror or error}.", field="target", remedy="Name another file."
        ) from error
    finally:
        part.unlink(missing_ok=True)
    return target


class CopyError(DataFileError):
    """A file that is no copy of Nailhead's, or none that can be brought back."""


def look_into(path: Path) -> Holdings:
    """What a copy holds; raises CopyError for what is none, or of a later Nailhead."""
    if not path.is_file() or not path.stat().st_size:
        raise CopyError(f"{path.name} is no copy of Nailhead's.", field="file", remedy="Choose another file.")
    try:
        return _look_into(path)
    except CopyError:
        raise
    except DataFileError as error:
        said = error.message.replace(str(path), path.name)
        raise CopyError(said, field="file", remedy="Choose another file.") from error


def _look_into(path: Path) -> Holdings:
    check_file(path)
    with told(path), closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)) as connection:
        version = version_of(connection)
        if version > newest_version(MIGRATIONS):
            raise CopyError(
                f"The copy is of version {version}, this Nailhead knows {newest_version(MIGRATIONS)}.",
                field="file",
                remedy="Bring it back with the newer Nailhead.",
            )
        tables = {row[0] for row in connection.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")}

        def count(table: str, where: str = "1") -> int:
            if table not in tables:
                return 0
            return int(connection.execute(f"SELECT count(*) FROM {table} WHERE {where}").fetchone()[0])

        there = "deleted_at IS NULL" if version > 1 else "1"
        last = connection.execute("SELECT max(changed_at) FROM tune").fetchone()[0] if version > 1 else ""
        return Holdings(
            count("tune", there),
            count("tune", f"{there} AND archived") if version > 1 else 0,
            count("setup"),
            count("step"),
            count("own_instrument"),
            count("own_tuning"),
            last or "",
            version,
        )


def bring_back(database: Database, copy: Path) -> Path:
    """Puts what a copy holds in the place of what is there, and gives the file in which that is kept aside.

    All of it or nothing: SQLite's own backup into the open file, in one transaction. Raises DataFileError.
    """
    look_into(copy)
    aside = keep_copy(database, _free(copies_of(database.path), f"before-{_now():%Y-%m-%d-%H%M%S}"))
    fresh = copy.with_name(f"{copy.name}.fresh")
    try:
        with told(copy), closing(sqlite3.connect(copy)) as source, closing(sqlite3.connect(fresh)) as target:
            source.backup(target)
        with told(fresh), closing(sqlite3.connect(fresh, isolation_level=None)) as connection:
            migrate(connection, MIGRATIONS)
        with (
            told(database.path),
            database.alone(),
            closing(sqlite3.connect(fresh)) as source,
            closing(sqlite3.connect(database.path, timeout=10)) as target,
        ):
            source.backup(target)
    finally:
        fresh.unlink(missing_ok=True)
    return aside


def daily_copy(database: Database, today: date | None = None) -> Path | None:
    """A copy of today where there is none yet; the oldest go. None where it is there, or nothing is in the file."""
    folder = copies_of(database.path)
    target = folder / f"{today or _now().date()}.sqlite3"
    if target.exists() or not look_into(database.path).tunes:
        return None
    keep_copy(database, target)
    for old in sorted(folder.glob("[0-9]*.sqlite3"))[:-DAYS]:
        old.unlink()
    return target


def copies_of(path: Path) -> Path:
    """The folder with the copies that are made by themselves."""
    return path.with_name(f"{path.name}.copies")


def _free(folder: Path, name: str) -> Path:
    """A file of that name, or with a number behind it, that is not there yet."""
    names = (name, *(f"{name}-{number}" for number in range(2, 10_000)))
    return next(path for one in names if not (path := folder / f"{one}.sqlite3").exists())


def _now() -> datetime:
    return datetime.now(UTC)
