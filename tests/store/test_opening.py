"""What is no data file of ours, or cannot be one now, is refused in one sentence, and nothing is changed."""

from __future__ import annotations

import sqlite3
from pathlib import Path

import pytest

from nailhead.cli import main
from nailhead.store.database import Database
from nailhead.store.opening import APPLICATION_ID, DataFileError, LockedError, NoRoomError, check_file, locked
from nailhead.store.tunes import add_tune
from nailhead.web.app import STATIC


def other_program(path: Path, mark: int = 0) -> None:
    connection = sqlite3.connect(path)
    connection.execute("CREATE TABLE notes (text)")
    connection.execute(f"PRAGMA application_id = {mark:d}")
    connection.commit()
    connection.close()


def ours(path: Path) -> None:
    database = Database(path)
    with database.write() as connection:
        for number in range(300):
            add_tune(connection, f"tune {number}", "X:1\nK:G\n" + "GABc" * 100)
    closed = sqlite3.connect(path)
    closed.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    closed.execute("PRAGMA journal_mode = DELETE")
    closed.close()


def make(path: Path, kind: str) -> None:
    if kind == "text":
        path.write_text("X:1\nT:a tune\n" * 100)
    elif kind == "folder":
        path.mkdir()
    elif kind == "other":
        other_program(path)
    elif kind == "other with a mark":
        other_program(path, 0x1234)
    else:
        ours(path)
        raw = bytearray(path.read_bytes())
        if kind == "truncated":
            raw = raw[: len(raw) // 2]
        else:
            raw[5000:9000] = b"x" * 4000
        path.write_bytes(raw)


SAID = {
    "text": "is not a Nailhead data file",
    "folder": "is a folder",
    "other": "belongs to another program",
    "other with a mark": "belongs to another program",
    "truncated": "is damaged",
    "corrupt": "is damaged",
}


@pytest.mark.parametrize("kind", SAID)
def test_what_is_not_ours_is_left_alone(tmp_path: Path, kind: str, capsys: pytest.CaptureFixture[str]) -> None:
    """By the store and by the command: one sentence with the file and the remedy, exit code 2, not a byte changed."""
    path = tmp_path / "x.sqlite3"
    make(path, kind)
    before = path.read_bytes() if path.is_file() else b""
    with pytest.raises(DataFileError, match=SAID[kind]) as refused:
        Database(path)
    assert str(path) in refused.value.message and refused.value.remedy
    if (STATIC / "index.html").exists():
        assert main(["serve", "--data", str(path)]) == 2
        (line,) = capsys.readouterr().err.splitlines()
        assert SAID[kind] in line and str(path) in line
    assert (path.read_bytes() if path.is_file() else b"") == before
    assert [one for one in tmp_path.iterdir() if one.suffix != ".lock"] == [path]


@pytest.mark.parametrize("port", ["0", "65536", "99999999999999999999", "²", "-1", "x"])
def test_a_port_that_cannot_be(port: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["serve", f"--port={port}", "--data", str(tmp_path / "x")]) == 2
    assert "There is no port" in capsys.readouterr().err
    assert not list(tmp_path.iterdir())


def test_a_file_says_that_it_is_ours(tmp_path: Path) -> None:
    """From now on; one of before, without the mark, is known by its tables."""
    path = tmp_path / "x.sqlite3"
    ours(path)
    connection = sqlite3.connect(path)
    assert connection.execute("PRAGMA application_id").fetchone()[0] == APPLICATION_ID == int.from_bytes(b"Nail", "big")
    connection.execute("PRAGMA application_id = 0")
    connection.close()
    check_file(path)
    assert Database(path)
    check_file(tmp_path / "new" / "y.sqlite3")
    (tmp_path / "empty").touch()
    check_file(tmp_path / "empty")


def test_a_file_has_one_server(tmp_path: Path) -> None:
    path = tmp_path / "x.sqlite3"
    with locked(path), pytest.raises(LockedError, match="is open in another Nailhead"), locked(path):
        pass
    with locked(path):
        pass


def test_a_full_disk_and_a_file_that_may_not_be_written(tmp_path: Path) -> None:
    """SQLite's own limits stand in for a disk's: the sentence says what to do, and what was there is still there."""
    database = Database(tmp_path / "x.sqlite3")
    with database.write() as connection:
        add_tune(connection, "one", "X:1\nK:G\n")
    with pytest.raises(NoRoomError, match="no room"), database.write() as connection:
        connection.execute("PRAGMA max_page_count = 1")
        add_tune(connection, "two", "GABc" * 100_000)
    with pytest.raises(NoRoomError, match="may not be written to"), database.write() as connection:
        connection.execute("PRAGMA query_only = ON")
        add_tune(connection, "two", "GABc")
    with database.read() as connection:
        assert [row["title"] for row in connection.execute("SELECT title FROM tune")] == ["one"]
