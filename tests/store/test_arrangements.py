"""Steps of an arrangement on a real file: undo and redo over a reload, two windows, copies, sudden death."""

from __future__ import annotations

import sqlite3
import subprocess
import sys
import time
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nailhead.store.arrangements import copy_setup, get_arrangement, go_step, name_setup, save_step
from nailhead.store.database import MIGRATIONS, ConflictError, Database, NotFoundError, StoreError, migration_files
from nailhead.store.setups import get_setup, setups_of_tune
from nailhead.store.tunes import add_tune
from tests.store.test_store import a_setup


@pytest.fixture
def database(tmp_path: Path) -> Database:
    return Database(tmp_path / "x.sqlite3")


def new_setup(connection: sqlite3.Connection) -> int:
    return a_setup(connection, add_tune(connection, "Alder", "X:1"))


def test_steps_go_back_and_forth_over_a_reload(database: Database) -> None:
    """Undo and redo say what they would do; another change forgets what could be redone."""
    with database.write() as connection:
        setup = new_setup(connection)
        assert get_arrangement(connection, setup).document is None
        save_step(connection, setup, {"at": 0}, {"at": 1}, "Raise bar 1", 0)
        save_step(connection, setup, {"at": 1}, {"at": 2}, "Raise bar 2", 1)
    with Database(database.path).write() as connection:
        now = get_arrangement(connection, setup)
        assert (now.document, now.undo, now.redo, now.revision) == ({"at": 2}, "Raise bar 2", "", 2)
        back = go_step(connection, setup, -1, 2)
        assert (back.document, back.undo, back.redo) == ({"at": 1}, "Raise bar 1", "Raise bar 2")
        first = go_step(connection, setup, -1, 3)
        assert (first.document, first.undo, first.redo) == ({"at": 0}, "", "Raise bar 1")
        with pytest.raises(StoreError, match="nothing to undo"):
            go_step(connection, setup, -1, 4)
    with Database(database.path).write() as connection:
        assert go_step(connection, setup, 1, 4).document == {"at": 1}
        other = save_step(connection, setup, {"at": 1}, {"at": 9}, "Lower bar 1", 5)
        assert (other.redo, other.undo) == ("", "Lower bar 1")
        with pytest.raises(StoreError, match="nothing to redo"):
            go_step(connection, setup, 1, 6)


@settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(moves=st.lists(st.sampled_from(["change", "undo", "redo"]), max_size=25))
def test_any_way_through_the_steps_is_that_of_a_list(database: Database, moves: list[str]) -> None:
    """The store against the obvious model: a list and a place in it."""
    with database.write() as connection:
        setup = new_setup(connection)
        model, at = [0], 0
        for count, move in enumerate(moves, start=1):
            revision = get_arrangement(connection, setup).revision
            if move == "change":
                save_step(connection, setup, {"n": model[at]}, {"n": count}, str(count), revision)
                model, at = [*model[: at + 1], count], at + 1
            elif 0 <= at + (by := 1 if move == "redo" else -1) < len(model):
                at += by
                go_step(connection, setup, by, revision)
            else:
                with pytest.raises(StoreError):
                    go_step(connection, setup, by, revision)
            stored = get_arrangement(connection, setup)
            assert stored.document in ({"n": model[at]}, None if len(model) == 1 else {"n": model[at]})
            assert (stored.undo != "", stored.redo != "") == (at > 0, at + 1 < len(model))


def test_a_second_window_is_refused_and_loses_nothing(database: Database) -> None:
    """A change, an undo and a redo from an old revision are all refused."""
    with database.write() as connection:
        setup = new_setup(connection)
        save_step(connection, setup, {}, {"by": "first"}, "First", 0)
        for stale in (
            lambda: save_step(connection, setup, {}, {"by": "second"}, "Second", 0),
            lambda: go_step(connection, setup, -1, 0),
            lambda: go_step(connection, setup, 1, 0),
        ):
            with pytest.raises(ConflictError, match="another window"):
                stale()
        assert get_arrangement(connection, setup).document == {"by": "first"}


def test_a_step_takes_setup_and_choices_along(database: Database) -> None:
    """What a step says of tuning and options becomes the setup's own, and goes back with undo."""
    first = {"setup": {"tuning": "gDGBD", "capo": 0, "fifth": "G4", "sounding_key": "G"}, "options": {}}
    after = {"setup": {"tuning": "gCGCD", "capo": 2, "fifth": "A4", "sounding_key": "D"}, "options": {"nail": "middle"}}
    with database.write() as connection:
        setup = new_setup(connection)
        save_step(connection, setup, first, after, "Set up", 0)
        now = get_setup(connection, setup)
        assert (now.tuning, now.capo, now.fifth, now.options) == ("gCGCD", 2, "A4", {"nail": "middle"})
        go_step(connection, setup, -1, 1)
        then = get_setup(connection, setup)
        assert (then.tuning, then.capo, then.options) == ("gDGBD", 0, {})


def test_a_copy_begins_where_the_first_stands_and_goes_its_own_way(database: Database) -> None:
    """A pupil's arrangement from the teacher's; each has its own steps and name."""
    with database.write() as connection:
        setup = new_setup(connection)
        save_step(connection, setup, {"at": 0}, {"at": 1}, "Raise", 0)
        copy = copy_setup(connection, setup, "Easy one")
        assert get_arrangement(connection, copy).document == {"at": 1}
        assert get_arrangement(connection, copy).undo == ""
        save_step(connection, copy, {"at": 1}, {"at": 5}, "Lower", 0)
        name_setup(connection, setup, "Mine")
        assert get_arrangement(connection, setup).document == {"at": 1}
        kept = setups_of_tune(connection, get_setup(connection, setup).tune_id)
        assert [one.name for one in kept] == ["Mine", "Easy one"]
        for call in (lambda: copy_setup(connection, 99, "x"), lambda: name_setup(connection, 99, "x")):
            with pytest.raises(NotFoundError, match="no setup 99"):
                call()


def test_old_steps_are_forgotten_but_never_where_it_stands(database: Database) -> None:
    """After thirty days undo no longer reaches back; the arrangement itself stays."""
    with database.write() as connection:
        setup = new_setup(connection)
        for at in range(4):
            save_step(connection, setup, {"at": at}, {"at": at + 1}, f"Step {at + 1}", at)
        connection.execute("UPDATE step SET made_at = '2020-01-01T00:00:00Z'")
        save_step(connection, setup, {"at": 4}, {"at": 5}, "Step 5", 4)
        numbers = [row[0] for row in connection.execute("SELECT number FROM step ORDER BY number")]
        assert numbers == [4, 5]
        assert go_step(connection, setup, -1, 5).document == {"at": 4}


def test_a_path_of_an_older_file_becomes_the_first_step(tmp_path: Path) -> None:
    """What was chosen before there were steps is still chosen, with its revision."""
    path = tmp_path / "old.sqlite3"
    connection = sqlite3.connect(path, isolation_level=None)
    for number, file in migration_files(MIGRATIONS)[:4]:
        connection.executescript(file.read_text(encoding="utf-8"))
        connection.execute(f"PRAGMA user_version = {number}")
    connection.execute("INSERT INTO tune (title, abc) VALUES ('Old', 'X:1')")
    for _ in range(2):
        connection.execute(
            "INSERT INTO setup (tune_id, instrument, idiom, tuning, capo, sounding_key) "
            "VALUES (1, 'b', 'x', 'g', 0, 'G')"
        )
    connection.execute("INSERT INTO path (setup_id, rungs, revision) VALUES (1, '[1,2,3]', 7)")
    connection.close()
    with Database(path).read() as opened:
        kept = get_arrangement(opened, 1)
        assert kept.document == {"decisions": {"rungs": [1, 2, 3]}} and kept.revision == 7
        assert get_arrangement(opened, 2).document is None


_WRITER = """
import sys
from pathlib import Path
from nailhead.store.arrangements import get_arrangement, save_step
from nailhead.store.database import Database
database = Database(Path(sys.argv[1]))
while True:
    with database.write() as connection:
        now = get_arrangement(connection, 1)
        step = now.revision + 1
        save_step(connection, 1, {"n": 0}, {"n": step, "pad": "x" * 2000}, f"Step {step}", now.revision)
    print(step, flush=True)
"""


def test_killed_in_the_middle_nothing_confirmed_is_lost(database: Database) -> None:
    """kill -9 while steps are written, three times over: the file opens, and holds every step it had confirmed."""
    with database.write() as connection:
        new_setup(connection)
    for _ in range(3):
        writer = subprocess.Popen(
            [sys.executable, "-c", _WRITER, str(database.path)], stdout=subprocess.PIPE, text=True
        )
        assert writer.stdout is not None
        first = writer.stdout.readline()
        time.sleep(0.15)
        writer.kill()
        confirmed = [int(line) for line in (first + writer.stdout.read()).split()]
        writer.wait()
        with Database(database.path).read() as opened:
            assert opened.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            stored = get_arrangement(opened, 1)
            assert stored.document is not None
            assert confirmed[-1] <= stored.revision <= confirmed[-1] + 1
            assert stored.document["n"] == stored.revision
