"""Whose a file is before it is opened as the data file, and what SQLite's own errors mean to a teacher."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from filelock import FileLock, Timeout

from nailhead.core.errors import NailheadError
from nailhead.core.sniffing import seems_to_be

#: "Nail" in ASCII: what our files have as application_id (migration 7).
APPLICATION_ID = 1315006828
#: A table that every data file of ours has had.
_OURS = "tune"


class DataFileError(NailheadError):
    """A data file that cannot be opened, or no longer be read."""


class NoRoomError(DataFileError):
    """A disk that is full, or may not be written to."""


class LockedError(DataFileError):
    """A data file that something else has to itself."""


#: Names of SQLite's result codes -> (error, what is said of the file, remedy). See sqlite.org/rescode.html.
_MEANINGS: dict[str, tuple[type[DataFileError], str, str]] = {
    "SQLITE_FULL": (
        NoRoomError,
        "There is no room on the disk for {}.",
        "Make room and try again; nothing was changed.",
    ),
    "SQLITE_READONLY": (NoRoomError, "{} may not be written to.", "Allow it, or choose another file with --data."),
    "SQLITE_IOERR": (NoRoomError, "{} cannot be read or written.", "Look at the disk; nothing was changed."),
    "SQLITE_CANTOPEN": (NoRoomError, "{} cannot be opened.", "Choose another file with --data."),
    "SQLITE_BUSY": (LockedError, "{} is being written to by another program.", "Try again in a moment."),
    "SQLITE_LOCKED": (LockedError, "{} is being written to by another program.", "Try again in a moment."),
    "SQLITE_CORRUPT": (DataFileError, "{} is damaged.", "Bring back the copy kept beside it, or one of your own."),
    "SQLITE_NOTADB": (DataFileError, "{} is not a Nailhead data file.", "Choose another file with --data."),
}


@contextmanager
def told(path: Path) -> Iterator[None]:
    """What SQLite says of the file itself as a DataFileError; what is wrong with a statement goes through."""
    try:
        yield
    except sqlite3.DatabaseError as error:
        name = getattr(error, "sqlite_errorname", "") or ""
        for code, (kind, said, remedy) in _MEANINGS.items():
            if name == code or name.startswith(f"{code}_"):
                raise kind(said.format(path), field="data", remedy=remedy) from error
        raise


#: Where the header of a database file keeps its version (SQLite file format 1.3: big-endian, signed).
_VERSION_AT = 60


def header_version(path: Path) -> int | None:
    """The version that a file's header states, None where a write-ahead log may know a newer one.

    Reading the header opens nothing and leaves the file, and the folder, as they are.
    """
    log = path.with_name(f"{path.name}-wal")
    if log.exists() and log.stat().st_size:
        return None
    with path.open("rb") as file:
        head = file.read(100)
    return int.from_bytes(head[_VERSION_AT : _VERSION_AT + 4], "big", signed=True)


def check_version(version: int, newest: int) -> int:
    """The version of a data file; raises DataFileError where this Nailhead does not know it."""
    if version > newest:
        raise DataFileError(
            f"The data file is of version {version}, this Nailhead knows {newest}.",
            field="data",
            remedy="Start the newer Nailhead, or choose another data file.",
        )
    if version < 0:
        raise DataFileError(
            f"The data file is damaged: it says that it is of version {version}.",
            field="data",
            remedy="Restore a backup that was made before.",
        )
    return version


def check_file(path: Path, newest: int | None = None) -> None:
    """Raises DataFileError for what is not ours, damaged, or no file; an empty or a new one is fine.

    With `newest` also for a version that this Nailhead does not know: told from the file's header where that is enough,
    so that a later Nailhead's file is not even opened.
    """
    if path.is_dir():
        raise DataFileError(f"{path} is a folder.", field="data", remedy="Name a file in it: --data FILE.")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        if not path.exists() or not path.stat().st_size:
            return
        with path.open("rb") as file:
            head = file.read(16)
    except OSError as error:
        said = f"{path} cannot be opened: {error.strerror or error}."
        raise DataFileError(said, field="data", remedy="Choose another file with --data.") from error
    if head != b"SQLite format 3\0":
        seems = seems_to_be(head)
        raise DataFileError(
            f"{path} is not a Nailhead data file{f': it seems to be {seems}' if seems else ''}.",
            field="data",
            remedy="Choose another file with --data.",
        )
    if newest is not None and (version := header_version(path)) is not None:
        check_version(version, newest)
    with told(path):
        connection = sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True, timeout=10)
        try:
            _look_inside(connection, path)
        finally:
            connection.close()


def _look_inside(connection: sqlite3.Connection, path: Path) -> None:
    mark = connection.execute("PRAGMA application_id").fetchone()[0]
    version = connection.execute("PRAGMA user_version").fetchone()[0]
    tables = {row[0] for row in connection.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")}
    if mark not in (0, APPLICATION_ID) or (tables and not version) or (mark == 0 and tables and _OURS not in tables):
        raise DataFileError(
            f"{path} belongs to another program.", field="data", remedy="Choose another file with --data."
        )
    (found,) = connection.execute("PRAGMA quick_check(1)").fetchone()
    if found != "ok":
        said, remedy = _MEANINGS["SQLITE_CORRUPT"][1:]
        raise DataFileError(said.format(path), field="data", remedy=remedy)


@contextmanager
def locked(path: Path) -> Iterator[None]:
    """Has a data file to itself, as far as other Nailheads go; raises LockedError where one has it."""
    lock = FileLock(f"{path}.lock")
    try:
        lock.acquire(timeout=0)
    except Timeout as error:
        raise LockedError(
            f"{path} is open in another Nailhead.",
            field="data",
            remedy="Use that one, or end it first; or choose another file with --data.",
        ) from error
    except OSError as error:
        said = f"{path} cannot be opened: {error.strerror or error}."
        raise DataFileError(said, field="data", remedy="Choose another file with --data.") from error
    try:
        yield
    finally:
        lock.release()
