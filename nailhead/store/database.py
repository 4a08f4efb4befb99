"""The data file: connections, migrations, one writer at a time."""

from __future__ import annotations

import re
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from nailhead.core.errors import NailheadError
from nailhead.store.opening import check_file, check_version, told
from nailhead.store.verifying import verify

MIGRATIONS = Path(__file__).parent / "migrations"


class StoreError(NailheadError):
    """Something the data file does not have or does not allow."""


class NotFoundError(StoreError):
    """The row asked for is not there."""


class InUseError(StoreError):
    """The row cannot go while others need it."""


class ConflictError(StoreError):
    """The row has changed since it was read."""


class Database:
    """A data file at `path`, brought up to date when opened. Connections are short-lived.

    A `guest` opens a file that its server has brought up to date; in another process it is one.
    """

    def __init__(self, path: Path, guest: bool = False) -> None:
        self.path = path
        self._writer = threading.Lock()
        if guest:
            return
        check_file(path, newest_version(MIGRATIONS))
        with self._connected() as connection:
            version = check_version(version_of(connection), newest_version(MIGRATIONS))
            if version:
                verify_version(connection, version)
            connection.execute("PRAGMA journal_mode = WAL")
            if 0 < version < newest_version(MIGRATIONS):
                copy_file(connection, path.with_name(f"{path.name}.before-v{newest_version(MIGRATIONS)}"))
            migrate(connection, MIGRATIONS)

    def __reduce__(self) -> tuple[object, tuple[object, ...]]:
        return Database, (self.path, True)

    @contextmanager
    def read(self) -> Iterator[sqlite3.Connection]:
        """A connection inside one transaction for reading: all that is read is of one moment.

        Nothing is computed in it; a reader that stays keeps the file from being tidied.
        """
        with self._connected() as connection:
            connection.execute("BEGIN")
            try:
                yield connection
            finally:
                connection.execute("ROLLBACK")

    @contextmanager
    def write(self) -> Iterator[sqlite3.Connection]:
        """A connection inside one transaction: all of it is kept, or nothing."""
        with self._writer, self._connected() as connection, transaction(connection):
            yield connection

    @contextmanager
    def alone(self) -> Iterator[None]:
        """No other thread of this process writes meanwhile."""
        with self._writer:
            yield

    @contextmanager
    def _connected(self) -> Iterator[sqlite3.Connection]:
        with told(self.path):
            connection = sqlite3.connect(self.path, timeout=10, isolation_level=None)
            try:
                connection.row_factory = sqlite3.Row
                connection.execute("PRAGMA foreign_keys = ON")
                yield connection
            except OverflowError as error:  # no row has a number of more than 64 bits
                raise NotFoundError(
                    "There is nothing with that number.", field="id", remedy="Go back to the shelf."
                ) from error
            finally:
                connection.close()


@contextmanager
def transaction(connection: sqlite3.Connection) -> Iterator[None]:
    """BEGIN IMMEDIATE … COMMIT, or ROLLBACK when anything is raised."""
    connection.execute("BEGIN IMMEDIATE")
    try:
        yield
    except BaseException:
        if connection.in_transaction:  # a disk that is full has taken it back already
            connection.execute("ROLLBACK")
        raise
    connection.execute("COMMIT")


def migration_files(folder: Path) -> list[tuple[int, Path]]:
    """Migrations in order: (number, file). Files are named NNNN_what.sql and are only ever added."""
    return sorted((int(path.name[:4]), path) for path in folder.glob("[0-9]*.sql"))


def newest_version(folder: Path) -> int:
    """The version that the migrations of a folder lead to."""
    return max((number for number, _ in migration_files(folder)), default=0)


def version_of(connection: sqlite3.Connection) -> int:
    """The version of an open data file; 0 for an empty one."""
    return int(connection.execute("PRAGMA user_version").fetchone()[0])


def copy_file(connection: sqlite3.Connection, target: Path) -> None:
    """A copy of the open data file as it stands (SQLite's online backup), in place of an older one."""
    part = target.with_name(f"{target.name}.part")
    part.unlink(missing_ok=True)
    copy = sqlite3.connect(part)
    try:
        connection.backup(copy)
    finally:
        copy.close()
    part.replace(target)


def verify_version(connection: sqlite3.Connection, version: int) -> None:
    """Raises DamagedError where a file is not what the migrations up to its version make, or is not whole."""
    with closing(sqlite3.connect(":memory:", isolation_level=None)) as fresh:
        migrate(fresh, MIGRATIONS, version)
        verify(connection, fresh)


def migrate(connection: sqlite3.Connection, folder: Path, to: int | None = None) -> None:
    """Bring a file to the newest version, or `to` one; each migration and its record share one transaction.

    Foreign keys are off meanwhile, so that a table can be built anew without its rows' rows going with it; before a
    migration is kept every key must lead somewhere. Raises StoreError where one does not, and DataFileError for a file
    that a later Nailhead has written.
    """
    files = [(number, file) for number, file in migration_files(folder) if to is None or number <= to]
    version = check_version(version_of(connection), newest_version(folder))
    # A migration may ask which version the file had when it was opened.
    connection.execute("CREATE TEMP TABLE IF NOT EXISTS opened_as (version INTEGER NOT NULL)")
    connection.execute("DELETE FROM temp.opened_as")
    connection.execute("INSERT INTO temp.opened_as (version) VALUES (?)", (version,))
    keys = connection.execute("PRAGMA foreign_keys").fetchone()[0]
    connection.execute("PRAGMA foreign_keys = OFF")
    try:
        for number, file in files:
            if number > version:
                with transaction(connection):
                    _run(connection, number, file)
    finally:
        connection.execute(f"PRAGMA foreign_keys = {keys:d}")


def _run(connection: sqlite3.Connection, number: int, file: Path) -> None:
    """One migration inside a transaction, its keys checked."""
    for statement in statements(file.read_text(encoding="utf-8")):
        connection.execute(statement)
    lost = connection.execute("PRAGMA foreign_key_check").fetchall()
    if lost:
        tables = ", ".join(sorted({str(row[0]) for row in lost}))
        raise StoreError(
            f"The migration {file.name} would leave {len(lost)} rows of {tables} without what they belong to.",
            field="data",
            remedy="The data file is as it was. Keep it and the copy beside it, and report this.",
        )
    connection.execute(f"PRAGMA user_version = {number:d}")


def statements(script: str) -> Iterator[str]:
    """The single statements of a script; `executescript` would commit behind our back."""
    pending = ""
    for piece in re.split(r"(?<=;)", script):
        pending += piece
        if sqlite3.complete_statement(pending):
            yield pending.strip()
            pending = ""
    if any(line.strip() and not line.strip().startswith("--") for line in pending.splitlines()):
        yield pending.strip()
