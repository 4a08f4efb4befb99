"""The data file: migrations, transactions, tunes, setups and paths, on real files."""

from __future__ import annotations

import sqlite3
from pathlib import Path

import pytest

from nailhead.demo.shelf import TUNES, fill_shelf
from nailhead.store.database import (
    MIGRATIONS,
    ConflictError,
    Database,
    NotFoundError,
    StoreError,
    migrate,
    migration_files,
    statements,
    transaction,
)
from nailhead.store.setups import add_setup, delete_setup, get_path, get_setup, save_path, setups_of_tune
from nailhead.store.tunes import add_tune, delete_tune, get_tune, list_tunes


@pytest.fixture
def database(tmp_path: Path) -> Database:
    return Database(tmp_path / "deep" / "nailhead.sqlite3")


def a_setup(connection: sqlite3.Connection, tune_id: int) -> int:
    return add_setup(
        connection,
        tune_id,
        instrument="banjo",
        idiom="clawhammer",
        tuning="gDGBD",
        capo=2,
        fifth="A4",
        sounding_key="A",
    )


@pytest.mark.parametrize("version", range(len(migration_files(MIGRATIONS)) + 1))
def test_a_file_of_every_version_is_brought_up_to_date(tmp_path: Path, version: int) -> None:
    """From an empty file and from each earlier version the newest schema comes out."""
    path = tmp_path / "old.sqlite3"
    connection = sqlite3.connect(path, isolation_level=None)
    for number, file in migration_files(MIGRATIONS)[:version]:
        connection.executescript(file.read_text(encoding="utf-8"))
        connection.execute(f"PRAGMA user_version = {number}")
    connection.close()
    with Database(path).read() as opened:
        assert opened.execute("PRAGMA user_version").fetchone()[0] == migration_files(MIGRATIONS)[-1][0]
        tables = {row[0] for row in opened.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")}
        assert {"tune", "setup", "path"} <= tables
        assert opened.execute("PRAGMA journal_mode").fetchone()[0] == "wal"


def test_a_failing_migration_leaves_nothing_behind(tmp_path: Path) -> None:
    """The migration and its record share one transaction."""
    folder = tmp_path / "migrations"
    folder.mkdir()
    (folder / "0001_good.sql").write_text("CREATE TABLE a (x INTEGER) STRICT;")
    (folder / "0002_bad.sql").write_text("CREATE TABLE b (x INTEGER) STRICT; CREATE TABLE a (x INTEGER);")
    connection = sqlite3.connect(tmp_path / "x.sqlite3", isolation_level=None)
    with pytest.raises(sqlite3.OperationalError):
        migrate(connection, folder)
    assert connection.execute("PRAGMA user_version").fetchone()[0] == 1
    assert [row[0] for row in connection.execute("SELECT name FROM sqlite_schema")] == ["a"]
    connection.close()


def test_a_newer_file_is_refused(tmp_path: Path) -> None:
    """A file of a later Nailhead is left alone, with a remedy."""
    path = tmp_path / "new.sqlite3"
    connection = sqlite3.connect(path)
    connection.execute("PRAGMA user_version = 999")
    connection.close()
    with pytest.raises(StoreError, match="version 999") as refused:
        Database(path)
    assert refused.value.remedy


def test_statements_are_split_where_they_end() -> None:
    """Semicolons in texts and comments do not split."""
    script = "-- one; two\nINSERT INTO t VALUES (';');\nSELECT 1;\n-- end\n"
    assert len(list(statements(script))) == 2


def test_a_transaction_is_all_or_nothing(database: Database) -> None:
    """What fails half-way leaves no tune."""
    with pytest.raises(RuntimeError), database.write() as connection:
        add_tune(connection, "Half", "X:1")
        raise RuntimeError
    with database.read() as connection:
        assert list_tunes(connection) == []
    raw = sqlite3.connect(database.path, isolation_level=None)
    with transaction(raw):
        raw.execute("INSERT INTO tune (title, abc) VALUES ('Whole', 'X:1')")
    raw.close()
    with database.read() as connection:
        assert [tune.title for tune in list_tunes(connection)] == ["Whole"]


def test_tunes_come_by_title_with_their_setups(database: Database) -> None:
    """Order without regard to case; setups counted; text bound, never built."""
    with database.write() as connection:
        add_tune(connection, "b'); DROP TABLE tune; --", "X:1")
        first = add_tune(connection, "Alder", "X:2")
        a_setup(connection, first)
        a_setup(connection, first)
    with database.read() as connection:
        assert [(tune.title[:5], tune.setups) for tune in list_tunes(connection)] == [("Alder", 2), ("b'); ", 0)]
        assert get_tune(connection, first).abc == "X:2"
        assert [setup.capo for setup in setups_of_tune(connection, first)] == [2, 2]


def test_taking_a_tune_off_takes_its_setups_and_paths(database: Database) -> None:
    """Foreign keys are on."""
    with database.write() as connection:
        tune = add_tune(connection, "Alder", "X:1")
        setup = a_setup(connection, tune)
        save_path(connection, setup, (1, 2, 3), 0)
        delete_tune(connection, tune)
        assert get_path(connection, setup) is None
        with pytest.raises(NotFoundError):
            get_setup(connection, setup)


def test_a_path_survives_and_a_stale_change_is_refused(database: Database) -> None:
    """The second window works from an old revision and is told so; nothing is overwritten."""
    with database.write() as connection:
        setup = a_setup(connection, add_tune(connection, "Alder", "X:1"))
        assert save_path(connection, setup, (1, 1), 0).revision == 1
        assert save_path(connection, setup, (2, 1), 1).revision == 2
        with pytest.raises(ConflictError):
            save_path(connection, setup, (3, 3), 1)
    with Database(database.path).read() as connection:
        kept = get_path(connection, setup)
        assert kept is not None and kept.rungs == (2, 1)


def test_what_is_not_there_is_said(database: Database) -> None:
    """Wrong ids are typed errors."""
    with database.write() as connection:
        for call in (get_tune, delete_tune, get_setup, delete_setup):
            with pytest.raises(NotFoundError):
                call(connection, 77)  # type: ignore[operator]


def test_the_demo_shelf_is_filled_once(database: Database) -> None:
    """A second start adds nothing."""
    fill_shelf(database)
    fill_shelf(database)
    with database.read() as connection:
        tunes = list_tunes(connection)
    assert len(tunes) == len(list(TUNES.glob("*.abc"))) >= 6
    assert all(tune.setups == 1 for tune in tunes)
