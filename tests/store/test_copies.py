"""The studio in one file: whole while somebody writes, looked into, brought back with the present state kept aside."""

from __future__ import annotations

import io
import json
import shutil
import sqlite3
import threading
import zipfile
from datetime import date, timedelta
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from nailhead.cli import main
from nailhead.demo.shelf import fill_shelf
from nailhead.store.copies import DAYS, bring_back, copies_of, daily_copy, keep_copy, look_into
from nailhead.store.database import MIGRATIONS, Database, migration_files
from nailhead.store.opening import DataFileError
from nailhead.store.tunes import add_tune, delete_tune, every_tune
from nailhead.web.app import create_app
from nailhead.web.reading_through import read_through
from tests.web.conftest import HERE, problem


@pytest.fixture
def database(tmp_path: Path) -> Database:
    made = Database(tmp_path / "data" / "x.sqlite3")
    fill_shelf(made)
    return made


def content(path: Path) -> list[str]:
    """Everything in a file, as SQL."""
    connection = sqlite3.connect(path)
    lines = list(connection.iterdump())
    connection.close()
    return lines


def titles(database: Database) -> list[str]:
    with database.read() as connection:
        return [tune.title for tune in every_tune(connection)]


def test_a_copy_is_the_whole_file(database: Database, tmp_path: Path) -> None:
    """Every table and row of it; made again it takes the place of the old one; nothing else is left behind."""
    copy = keep_copy(database, tmp_path / "copy.sqlite3")
    assert content(copy) == content(database.path)
    with database.write() as connection:
        add_tune(connection, "another", "X:1\nK:G\nG8|\n")
    assert content(keep_copy(database, copy)) == content(database.path)
    assert [file.name for file in tmp_path.iterdir() if file.is_file()] == ["copy.sqlite3"]
    held = look_into(copy)
    assert (held.tunes, held.arrangements) == (len(titles(database)), 20)
    with pytest.raises(DataFileError, match="cannot be written"):
        keep_copy(database, Path("/proc/none/copy.sqlite3"))


def test_a_copy_is_of_one_moment(database: Database, tmp_path: Path) -> None:
    """Two tunes at a time are written by another thread: a copy has both of a pair or neither."""
    done = threading.Event()

    def write() -> None:
        number = 0
        while not done.is_set():
            with database.write() as connection:
                for half in ("left", "right"):
                    add_tune(connection, f"{half} {number}", "X:1\nK:G\nG8|\n")
            number += 1

    writer = threading.Thread(target=write)
    writer.start()
    try:
        for _ in range(10):
            found = [line for line in content(keep_copy(database, tmp_path / "copy.sqlite3")) if "INSERT INTO" in line]
            assert sum("'left " in line for line in found) == sum("'right " in line for line in found)
    finally:
        done.set()
        writer.join()


def test_what_was_kept_comes_back(database: Database, tmp_path: Path) -> None:
    """And what was there is kept aside, and comes back as well; the application goes on with the same file."""
    before = titles(database)
    copy = keep_copy(database, tmp_path / "copy.sqlite3")
    with database.write() as connection:
        delete_tune(connection, 1)
        add_tune(connection, "new", "X:1\nK:G\nG8|\n")
    after = titles(database)
    aside = bring_back(database, copy, read_through)
    assert titles(database) == before != after
    assert content(database.path) == content(copy)
    bring_back(database, aside, read_through)
    assert titles(database) == after
    with database.write() as connection:
        add_tune(connection, "newer", "X:1\nK:G\nG8|\n")
    connection = sqlite3.connect(database.path)
    assert connection.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
    assert connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    connection.close()


def test_a_copy_of_an_older_nailhead_is_brought_up_to_date(database: Database, tmp_path: Path) -> None:
    """One without a mark, of a version some migrations back; what it holds is there afterwards."""
    copy = tmp_path / "copy.sqlite3"
    connection = sqlite3.connect(copy, isolation_level=None)
    for number, file in migration_files(MIGRATIONS):
        if number <= 6:
            connection.executescript(file.read_text(encoding="utf-8"))
            connection.execute(f"PRAGMA user_version = {number}")
    connection.execute("INSERT INTO tune (title, abc) VALUES ('Kept', 'X:1\nK:G\nG|')")
    connection.close()
    bring_back(database, copy, read_through)
    assert look_into(database.path).version == look_into(keep_copy(database, tmp_path / "y")).version > 6
    with database.read() as opened:
        assert [row["title"] for row in opened.execute("SELECT title FROM tune")] == ["Kept"]


@pytest.mark.parametrize("kind", ["text", "empty", "other", "later", "cut"])
def test_what_is_no_copy_changes_nothing(database: Database, tmp_path: Path, kind: str) -> None:
    """It is refused before anything is kept aside."""
    copy = keep_copy(database, tmp_path / "copy.sqlite3")
    if kind == "later":
        connection = sqlite3.connect(copy)
        connection.execute("PRAGMA user_version = 99")
        connection.close()
    elif kind == "other":
        copy.unlink()
        connection = sqlite3.connect(copy)
        connection.execute("CREATE TABLE notes (text)")
        connection.commit()
        connection.close()
    else:
        copy.write_bytes({"text": b"X:1\n" * 99, "empty": b"", "cut": copy.read_bytes()[:20000]}[kind])
    before = content(database.path)
    with pytest.raises(DataFileError) as refused:
        bring_back(database, copy, read_through)
    assert refused.value.remedy and content(database.path) == before
    assert not copies_of(database.path).exists()


def test_a_copy_a_day_and_no_more_than_a_week(database: Database) -> None:
    """Once a day of use; the oldest go, what was kept aside stays."""
    first = date(2026, 1, 1)
    keep_copy(database, copies_of(database.path) / "before-2020-01-01-000000.sqlite3")
    for day in range(10):
        assert daily_copy(database, first + timedelta(days=day))
        assert daily_copy(database, first + timedelta(days=day)) is None
    names = sorted(file.stem for file in copies_of(database.path).iterdir())
    assert names == [*(f"2026-01-{day:02}" for day in range(4, 4 + DAYS)), "before-2020-01-01-000000"]


def test_by_the_command(database: Database, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Kept, and brought back into a file that is new."""
    copy, other = tmp_path / "copy.sqlite3", tmp_path / "other.sqlite3"
    assert main(["keep-copy", "--data", str(database.path), "-o", str(copy)]) == 0
    assert main(["bring-back", str(copy), "--data", str(other)]) == 0
    assert "20 arrangements" in capsys.readouterr().out
    assert titles(Database(other)) == titles(database)
    assert main(["keep-copy", "--data", str(tmp_path / "none"), "-o", str(copy)]) == 2
    assert main(["bring-back", str(tmp_path / "none"), "--data", str(other)]) == 2


# -- over the API


def test_by_the_page(database: Database, tmp_path: Path) -> None:
    """Downloaded, looked into, brought back; and one of those that were made by themselves."""
    daily_copy(database)
    with TestClient(create_app(database), HERE) as client:
        answer = client.get("/api/studio/copy")
        assert answer.headers["content-disposition"].endswith('.sqlite3"') and answer.content[:6] == b"SQLite"
        before = client.get("/api/tunes").json()["total"]
        client.delete("/api/tunes/1")
        held = client.post("/api/studio/look", files={"file": ("x", answer.content)}).json()
        assert (held["tunes"], client.get("/api/tunes").json()["total"]) == (before, before - 1)
        back = client.post("/api/studio/bring-back", files={"file": ("x", answer.content)}).json()
        assert back["holdings"] == held and client.get("/api/tunes").json()["total"] == before
        studio = client.get("/api/studio").json()
        assert studio["holdings"]["tunes"] == before and studio["file"] == str(database.path)
        assert studio["copies"][0]["name"] == back["aside"] and len(studio["copies"]) == 2
        assert client.get(f"/api/studio/copies/{back['aside']}").json()["tunes"] == before - 1
        client.post(f"/api/studio/copies/{back['aside']}/bring-back")
        assert client.get("/api/tunes").json()["total"] == before - 1
        assert problem(client.get("/api/studio/copies/..%2Fx"))["status"] == 404
        assert problem(client.post("/api/studio/copies/none/bring-back"))["status"] == 404
        assert problem(client.post("/api/studio/bring-back", files={"file": ("x", b"none")}))["status"] == 422
        large = b"SQLite" + b"x" * 9_000_000
        assert "too large" not in client.post("/api/studio/look", files={"file": ("x", large)}).text


def test_the_readable_copy_has_everything(database: Database, tmp_path: Path) -> None:
    """Every text as typed; every arrangement comes back into an empty studio by its own file."""
    with TestClient(create_app(database), HERE) as client:
        lock = {"change": {"do": "lock", "places": [1]}, "revision": 0}
        assert client.post("/api/setups/1/changes", json=lock).status_code == 200
        assert client.put("/api/teacher/settings", json={"hand": "large"}).status_code == 200
        archive = zipfile.ZipFile(io.BytesIO(client.get("/api/studio/readable").content))
        was = client.get("/api/setups/1/ladder").json()
    assert json.loads(archive.read("settings.json"))["hand"] == "large"
    index = json.loads(archive.read("index.json"))
    assert [row["title"] for row in index] == titles(database)
    with database.read() as connection:
        for row, tune in zip(index, every_tune(connection), strict=True):
            assert archive.read(row["file"]).decode() == tune.text
    names = [name for row in index for name in row["arrangements"]]
    assert len(names) == 20 == look_into(database.path).arrangements
    with TestClient(create_app(Database(tmp_path / "empty.sqlite3")), HERE) as client:
        for name in names:
            back = client.post("/api/arrangements", json={"text": archive.read(name).decode()})
            assert back.status_code == 201 and back.json()["aside"] == [], back.text
        first = client.get("/api/setups/1/ladder").json()
        assert first["label"] == was["label"] and first["path"]["locked"] == was["path"]["locked"] != []
    shutil.rmtree(tmp_path / "data")
