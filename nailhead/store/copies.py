"""Copies of the whole data file: kept on request and once a day of use, looked into, and brought back.

A copy is a data file itself, whole and tidy (SQLite's VACUUM INTO), made while the server runs.
"""

from __future__ import annotations

import sqlite3
import tempfile
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import UTC, date, datetime
from pathlib import Path

from nailhead.store.database import MIGRATIONS, Database, migrate, newest_version, verify_version, version_of
from nailhead.store.opening import DataFileError, check_file, check_version, told
from nailhead.store.verifying import copy_between

#: So many of the backups that are made by themselves are kept: daily ones, and those from before a backup was restored.
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
    """A file that is not a Nailhead backup, or one that cannot be restored."""


_OTHER_FILE = "Choose another file."
#: Reads every row of a data file of the newest version; raises DataFileError for one that cannot be read.
ReadThrough = Callable[[sqlite3.Connection], None]


def look_into(path: Path) -> Holdings:
    """What a backup holds; raises CopyError for what is none, or of a later Nailhead."""
    with _as_backup(path):
        return _look_into(path)


def look_through(path: Path, read_through: ReadThrough) -> Holdings:
    """The same for a backup of which every row can be read, so that it can be restored; raises CopyError."""
    with _as_backup(path), _verified(path, read_through):
        return _look_into(path)


@contextmanager
def _as_backup(path: Path) -> Iterator[None]:
    """Whatever is wrong with a file, as a CopyError that names it as the teacher does."""
    if not path.is_file() or not path.stat().st_size:
        raise CopyError(f"{path.name} is not a Nailhead backup: it is empty.", field="file", remedy=_OTHER_FILE)
    try:
        yield
    except CopyError:
        raise
    except DataFileError as error:
        said = error.message.replace(str(path), path.name).replace("The data file", "The backup")
        said = said.replace("is not a Nailhead data file", "is not a Nailhead backup")
        raise CopyError(said, field="file", remedy=_OTHER_FILE) from error
    except (sqlite3.Error, OSError, ValueError) as error:
        raise CopyError(f"{path.name} is damaged: {error}.", field="file", remedy=_OTHER_FILE) from error


@contextmanager
def _verified(copy: Path, read_through: ReadThrough) -> Iterator[Path]:
    """What a backup holds, in a file of its own, at the newest version and read through row by row."""
    check_file(copy, newest_version(MIGRATIONS))
    with tempfile.TemporaryDirectory() as folder:
        fresh = Path(folder) / "fresh.sqlite3"
        with told(copy):
            copy_between(copy, fresh)
        with told(copy), closing(sqlite3.connect(fresh, isolation_level=None)) as connection:
            connection.row_factory = sqlite3.Row
            verify_version(connection, check_version(version_of(connection), newest_version(MIGRATIONS)))
            migrate(connection, MIGRATIONS)
            read_through(connection)
        yield fresh


def _look_into(path: Path) -> Holdings:
    check_file(path, newest_version(MIGRATIONS))
    with told(path), closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)) as connection:
        version = version_of(connection)
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


def bring_back(database: Database, copy: Path, read_through: ReadThrough) -> Path:
    """Puts what a backup holds in the place of what is there, and gives the file in which that is kept aside.

    All of it or nothing: SQLite's own backup into the open file, in one transaction. Raises DataFileError, CopyError
    where the backup cannot be read through; then nothing has been changed.
    """
    with _as_backup(copy), _verified(copy, read_through) as fresh:
        aside = keep_copy(database, _free(copies_of(database.path), f"before-{_now():%Y-%m-%d-%H%M%S}"))
        with told(database.path), database.alone():
            copy_between(fresh, database.path)
    _thin(copies_of(database.path), "before-*")
    return aside


def set_aside(path: Path) -> Path:
    """Moves a data file that cannot be opened, and what SQLite has beside it, to the backups; gives its new place."""
    folder = copies_of(path)
    folder.mkdir(parents=True, exist_ok=True)
    target = _free(folder, f"damaged-{_now():%Y-%m-%d-%H%M%S}")
    for ending in ("-wal", "-shm", ""):
        beside = path.with_name(f"{path.name}{ending}")
        if beside.exists():
            beside.replace(target.with_name(f"{target.name}{ending}"))
    return target


def daily_copy(database: Database, today: date | None = None) -> Path | None:
    """A copy of today where there is none yet; the oldest go. None where it is there, or nothing is in the file."""
    folder = copies_of(database.path)
    target = folder / f"{today or _now().date()}.sqlite3"
    if target.exists() or not look_into(database.path).tunes:
        return None
    keep_copy(database, target)
    _thin(folder, "[0-9]*")
    return target


def _thin(folder: Path, names: str) -> None:
    """Deletes all but the newest backups that are called so."""
    kept = sorted(folder.glob(f"{names}.sqlite3"), key=lambda file: (file.stat().st_mtime, file.name))
    for old in kept[:-DAYS]:
        old.unlink()


def copies_of(path: Path) -> Path:
    """The folder with the copies that are made by themselves."""
    return path.with_name(f"{path.name}.copies")


def _free(folder: Path, name: str) -> Path:
    """A file of that name, or with a number behind it, that is not there yet."""
    names = (name, *(f"{name}-{number}" for number in range(2, 10_000)))
    return next(path for one in names if not (path := folder / f"{one}.sqlite3").exists())


def _now() -> datetime:
    return datetime.now(UTC)
