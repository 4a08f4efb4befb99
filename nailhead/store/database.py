"""The data file: connections, migrations, one writer at a time."""

from __future__ import annotations

import re
import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from nailhead.core.errors import NailheadError

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
    """A data file at `path`, brought up to date when opened. Connections are short-lived."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._writer = threading.Lock()
        path.parent.mkdir(parents=True, exist_ok=True)
        with self._connected() as connection:
            connection.execute("PRAGMA journal_mode = WAL")
            migrate(connection, MIGRATIONS)

    @contextmanager
    def read(self) -> Iterator[sqlite3.Connection]:
        """A connection for reading."""
        with self._connected() as connection:
            yield connection

    @contextmanager
    def write(self) -> Iterator[sqlite3.Connection]:
        """A connection inside one transaction: all of it is kept, or nothing."""
        with self._writer, self._connected() as connection, transaction(connection):
            yield connection

    @contextmanager
    def _connected(self) -> Iterator[sqlite3.Connection]:
        connection = sqlite3.connect(self.path, timeout=10, isolation_level=None)
        try:
            connection.row_factory = sqlite3.Row
            connection.execute("PRAGMA foreign_keys = ON")
            yield connection
        finally:
            connection.close()


@contextmanager
def transaction(connection: sqlite3.Connection) -> Iterator[None]:
    """BEGIN IMMEDIATE … COMMIT, or ROLLBACK when anything is raised."""
    connection.execute("BEGIN IMMEDIATE")
    try:
        yield
    except BaseException:
        connection.execute("ROLLBACK")
        raise
    connection.execute("COMMIT")


def migration_files(folder: Path) -> list[tuple[int, Path]]:
    """Migrations in order: (number, file). Files are named NNNN_what.sql and are only ever added."""
    return sorted((int(path.name[:4]), path) for path in folder.glob("[0-9]*.sql"))


def migrate(connection: sqlite3.Connection, folder: Path) -> None:
    """Bring a file to the newest version; each migration and its record share one transaction.

    Raises StoreError for a file that a later Nailhead has written.
    """
    files = migration_files(folder)
    newest = files[-1][0] if files else 0
    version = connection.execute("PRAGMA user_version").fetchone()[0]
    if version > newest:
        raise StoreError(
            f"The data file is of version {version}, this Nailhead knows {newest}.",
            field="data",
            remedy="Start the newer Nailhead, or choose another data file.",
        )
    for number, file in files:
        if number <= version:
            continue
        with transaction(connection):
            for statement in statements(file.read_text(encoding="utf-8")):
                connection.execute(statement)
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
