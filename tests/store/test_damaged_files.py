"""A damaged file is refused when it is restored and when it is opened, with what is wrong; nothing is changed."""

from __future__ import annotations

import shutil
import socket
import sqlite3
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from nailhead.cli import main
from nailhead.demo.shelf import fill_shelf
from nailhead.store.copies import DAYS, bring_back, copies_of, keep_copy
from nailhead.store.database import Database
from nailhead.web.app import STATIC, create_app
from nailhead.web.reading_through import read_through
from tests.web.conftest import HERE, change, problem


@pytest.fixture(scope="module")
def whole(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A backup in which something of everything is kept."""
    database = Database(tmp_path_factory.mktemp("whole") / "x.sqlite3")
    fill_shelf(database)
    with TestClient(create_app(database), HERE) as client:
        change(client, 3, "lock", places=[1])
        step = client.get("/api/setups/3/practice").json()["steps"][0]["id"]
        client.post(f"/api/setups/3/practice/steps/{step}/said", json={"said": "clean"})
        client.put("/api/teacher/settings", json=client.get("/api/teacher/settings").json()["settings"])
        own = {"name": "My banjo", "kind": "banjo", "strings": 5, "scale_mm": 660, "frets": 20}
        assert client.post("/api/instruments", json=own).status_code == 201
    return keep_copy(database, database.path.with_name("whole.sqlite3"))


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    database = Database(tmp_path / "data.sqlite3")
    fill_shelf(database)
    with TestClient(create_app(database), HERE, raise_server_exceptions=False) as opened:
        yield opened


#: What was done to a file -> what is said of it. Statements run with every check of SQLite's own switched off.
DAMAGES: dict[str, tuple[str, ...]] = {
    "the table tag is missing": ("DROP TABLE tag",),
    "the table practised is missing": ("DROP TABLE practised",),
    "the index setup_of_tune is missing": ("DROP INDEX setup_of_tune",),
    "the column practice of the table setup is missing": ("ALTER TABLE setup DROP COLUMN practice",),
    "the table facts is a view": ("DROP TABLE facts", "CREATE VIEW facts AS SELECT id AS tune_id FROM tune"),
    "no Nailhead makes its trigger later": (
        "CREATE TRIGGER later AFTER INSERT ON step BEGIN DELETE FROM tune; END",
    ),
    "no Nailhead makes its table notes": ("CREATE TABLE notes (text)",),
    "no Nailhead makes the column more": ("ALTER TABLE tune ADD COLUMN more TEXT",),
    "it says that it is of version -5": ("PRAGMA user_version = -5",),
    "is of version 999": ("PRAGMA user_version = 999",),
    "belongs to another program": ("PRAGMA application_id = 7",),
    "belongs to one of tune that is missing": ("UPDATE setup SET tune_id = 999999 WHERE id = 3",),
    "arrangement 3 of “Lantern": ("UPDATE step SET document = '{\"decisions\": 7}' WHERE setup_id = 3 AND number = 1",),
    "step 0 of arrangement 3": ("UPDATE step SET document = '[]' WHERE setup_id = 3 AND number = 0",),
    "arrangement 3 of": ("UPDATE setup SET practice = '[]' WHERE id = 3",),
    "arrangement 4 of": ("UPDATE setup SET idiom = 'nothing' WHERE id = 4",),
    "CHECK constraint failed in setup": ("UPDATE setup SET options = 'x', patterns = '[[1]]' WHERE id = 4",),
    "what is settled": ("UPDATE setting SET value = '{\"a\": 1}' WHERE name = 'tunings'",),
    "the instruments and tunings": ("UPDATE own_instrument SET courses = '7'",),
    "the tune “": ("UPDATE tune SET abc = 'no tune' WHERE id = 2",),
}  # fmt: skip


def damage(path: Path, statements: tuple[str, ...]) -> Path:
    connection = sqlite3.connect(path, isolation_level=None)
    connection.execute("PRAGMA ignore_check_constraints = ON")
    connection.execute("PRAGMA legacy_alter_table = ON")
    for statement in statements:
        connection.execute(statement)
    connection.close()
    return path


@pytest.mark.parametrize("said", DAMAGES)
def test_a_damaged_backup_is_refused(client: TestClient, whole: Path, tmp_path: Path, said: str) -> None:
    """When it is looked into and when it is restored: 422 and what is wrong; the shelf is as it was, no copy made."""
    path = damage(Path(shutil.copy(whole, tmp_path / "backup.sqlite3")), DAMAGES[said])
    database: Database = client.app.state.database  # type: ignore[attr-defined]
    before = client.get("/api/tunes").json()
    for address in ("look", "bring-back"):
        answer = client.post(f"/api/studio/{address}", files={"file": ("backup.sqlite3", path.read_bytes())})
        told = problem(answer)
        assert told["status"] == 422 and said in told["detail"] and told["remedy"], told
        assert str(tmp_path) not in told["detail"]
    assert client.get("/api/tunes").json() == before
    assert not copies_of(database.path).exists()


#: Damages of a text or of an earlier step are not looked for at every start.
AT_START = [said for said in DAMAGES if not said.startswith(("step 0", "the tune “"))]


@pytest.mark.skipif(not (STATIC / "index.html").exists(), reason="the front end is not built")
@pytest.mark.parametrize("said", AT_START)
def test_a_damaged_data_file_is_not_opened(
    whole: Path, tmp_path: Path, said: str, capsys: pytest.CaptureFixture[str]
) -> None:
    """At the start: one sentence, exit code 2, no traceback."""
    path = damage(Path(shutil.copy(whole, tmp_path / "x.sqlite3")), DAMAGES[said])
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    assert main(["serve", "--data", str(path), "--port", str(port)]) == 2
    (line,) = capsys.readouterr().err.splitlines()
    assert line.startswith("nailhead: ") and said in line, line


@pytest.mark.parametrize("statement", ["DROP TABLE tag", "UPDATE step SET document = '[]'"])
def test_a_backup_is_restored_over_a_damaged_file(
    whole: Path, tmp_path: Path, statement: str, capsys: pytest.CaptureFixture[str]
) -> None:
    """In a terminal, as the refusal says: the damaged file is kept aside, the shelf is that of the backup."""
    path = damage(Path(shutil.copy(whole, tmp_path / "x.sqlite3")), (statement,))
    assert main(["bring-back", str(whole), "--data", str(path)]) == 0
    said = capsys.readouterr().out
    (aside,) = (file for file in copies_of(path).iterdir() if file.suffix == ".sqlite3")
    assert str(aside) in said
    with Database(path).read() as connection:
        read_through(connection)


def test_flipped_bytes_break_nothing(client: TestClient, whole: Path) -> None:
    """A byte changed at 120 places through the file: each is refused, or restored to a shelf that works."""
    raw = whole.read_bytes()
    answers = []
    for number in range(120):
        at = 16 + (len(raw) - 17) * number // 120
        broken = raw[:at] + bytes([raw[at] ^ 0x55]) + raw[at + 1 :]
        answer = client.post("/api/studio/bring-back", files={"file": ("x.sqlite3", broken)})
        answers.append(answer.status_code)
        if answer.status_code == 422:
            assert problem(answer)["remedy"]
            continue
        assert answer.status_code == 200, (at, answer.text)
        shown = client.get("/api/tunes").json()["tunes"]
        for tune in shown[:3]:
            assert client.get(f"/api/tunes/{tune['id']}").status_code == 200
            assert client.get(f"/api/tunes/{tune['id']}/arrangements").status_code == 200
    assert 422 in answers and 200 in answers


@pytest.mark.parametrize("raw", [b"\xff\xd8\xff\xe0" + b"x" * 500, b"X:1\nK:G\n", b"", b"SQLite format 3\0"])
def test_what_is_no_backup_is_named(client: TestClient, raw: bytes) -> None:
    """A photo, a tune, nothing, a header alone."""
    told = problem(client.post("/api/studio/look", files={"file": ("x.sqlite3", raw)}))
    assert told["status"] == 422 and told["detail"].startswith("x.sqlite3 is ")
    assert "photo" in told["detail"] or not raw.startswith(b"\xff")


def test_backups_from_before_a_restore_are_thinned(whole: Path, tmp_path: Path) -> None:
    """The newest seven stay, as with the daily ones, which are counted by themselves."""
    database = Database(tmp_path / "x.sqlite3")
    fill_shelf(database)
    daily = copies_of(database.path) / "2026-01-01.sqlite3"
    keep_copy(database, daily)
    made = [bring_back(database, whole, read_through) for _ in range(DAYS + 3)]
    assert sorted(copies_of(database.path).glob("before-*")) == sorted(made[-DAYS:])
    assert daily.exists()
