"""The data file: migrations, transactions, tunes, setups and paths, on real files."""

from __future__ import annotations

import shutil
import sqlite3
from pathlib import Path

import pytest

from nailhead.core.fretboard.instruments import INSTRUMENTS
from nailhead.demo.shelf import TUNES, fill_shelf
from nailhead.store.arrangements import get_arrangement, save_step
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
from nailhead.store.opening import DataFileError
from nailhead.store.setups import (
    add_setup,
    delete_setup,
    get_setup,
    setups_of_tune,
)
from nailhead.store.shelf import Facts, all_tags, find_tunes, fold, put_facts, set_tags, tags_of, tunes_without_facts
from nailhead.store.tunes import (
    add_tune,
    delete_tune,
    get_tune,
    purge_deleted,
    restore_tune,
    save_text,
    set_archived,
)


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
    migrate(connection, MIGRATIONS, version)
    assert connection.execute("PRAGMA user_version").fetchone()[0] == version
    connection.close()
    with Database(path).read() as opened:
        assert opened.execute("PRAGMA user_version").fetchone()[0] == migration_files(MIGRATIONS)[-1][0]
        tables = {row[0] for row in opened.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")}
        assert {"tune", "setup", "step"} <= tables
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


@pytest.mark.parametrize("journal", ["DELETE", "WAL"])
def test_a_newer_file_is_left_byte_for_byte(tmp_path: Path, journal: str) -> None:
    """A file of a later Nailhead is refused with a remedy: not one of its bytes changes, nothing stands beside it."""
    path = tmp_path / "new.sqlite3"
    Database(path)
    connection = sqlite3.connect(path)
    connection.execute("PRAGMA user_version = 999")
    connection.execute(f"PRAGMA journal_mode = {journal}")
    connection.close()
    before = path.read_bytes()
    with pytest.raises(DataFileError, match="version 999") as refused:
        Database(path)
    assert refused.value.remedy and path.read_bytes() == before
    assert list(tmp_path.iterdir()) == [path]


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
        assert find_tunes(connection).total == 0
    raw = sqlite3.connect(database.path, isolation_level=None)
    with transaction(raw):
        raw.execute("INSERT INTO tune (title, abc) VALUES ('Whole', 'X:1')")
    raw.close()
    with database.read() as connection:
        assert [row.title for row in find_tunes(connection).rows] == ["Whole"]


def test_tunes_come_by_title_with_their_setups(database: Database) -> None:
    """Order without regard to case; setups counted; text bound, never built."""
    with database.write() as connection:
        add_tune(connection, "b'); DROP TABLE tune; --", "X:1")
        first = add_tune(connection, "Alder", "X:2")
        a_setup(connection, first)
        a_setup(connection, first)
    with database.read() as connection:
        assert [(row.title[:5], row.setups) for row in find_tunes(connection).rows] == [("Alder", 2), ("b'); ", 0)]
        assert get_tune(connection, first).abc == "X:2"
        assert [setup.capo for setup in setups_of_tune(connection, first)] == [2, 2]


def test_taking_a_tune_off_takes_its_setups_and_paths(database: Database) -> None:
    """Foreign keys are on."""
    with database.write() as connection:
        tune = add_tune(connection, "Alder", "X:1")
        setup = a_setup(connection, tune)
        save_step(connection, setup, {"a": 0}, {"a": 1}, "Raise", 0)
        delete_tune(connection, tune)
        connection.execute("UPDATE tune SET deleted_at = '2020-01-01T00:00:00Z'")
        assert purge_deleted(connection, 30) == 1
        assert connection.execute("SELECT count(*) FROM step").fetchone()[0] == 0
        with pytest.raises(NotFoundError):
            get_setup(connection, setup)


def test_what_is_not_there_is_said(database: Database) -> None:
    """Wrong ids are typed errors."""
    with database.write() as connection:
        for call in (get_tune, delete_tune, restore_tune, get_setup, delete_setup):
            with pytest.raises(NotFoundError):
                call(connection, 77)  # type: ignore[operator]


def test_the_demo_shelf_is_filled_once(database: Database) -> None:
    """A second start adds nothing."""
    fill_shelf(database)
    fill_shelf(database)
    with database.read() as connection:
        tunes = find_tunes(connection).rows
    assert len(tunes) == len(list(TUNES.glob("*.abc"))) >= 6
    assert all(tune.setups for tune in tunes)
    assert {name for tune in tunes for name in tune.instruments} == set(INSTRUMENTS)


def test_the_demo_paths_are_mixed(database: Database) -> None:
    """Where the ladder has its seven rungs, the invented teacher has gone up from phrase to phrase; she can undo it."""
    fill_shelf(database)
    mixed = set()
    with database.read() as connection:
        for tune in find_tunes(connection).rows:
            for setup in setups_of_tune(connection, tune.id):
                stored = get_arrangement(connection, setup.id)
                if stored.document:
                    assert len(set(stored.document["decisions"]["rungs"])) > 1 and stored.undo
                    mixed.add((setup.instrument, setup.idiom))
    assert mixed >= {("mandolin", "plectrum"), ("guitar", "plectrum"), ("dulcimer", "noter"), ("saz", "plectrum")}


# -- the shelf and the desk


def shelved(connection: sqlite3.Connection, title: str, **known: object) -> int:
    tune = add_tune(connection, title, "X:1")
    put_facts(connection, tune, title, Facts(**known), "test")  # type: ignore[arg-type]
    return tune


def test_a_deleted_tune_comes_back_whole(database: Database) -> None:
    """Gone from the shelf and out of reach, then back with its setups; for good only after thirty days."""
    with database.write() as connection:
        tune = shelved(connection, "Alder", key="G major")
        a_setup(connection, tune)
        delete_tune(connection, tune)
        assert find_tunes(connection).total == 0
        with pytest.raises(NotFoundError):
            get_tune(connection, tune)
        assert purge_deleted(connection, 30) == 0
        restore_tune(connection, tune)
        assert [(row.title, row.setups) for row in find_tunes(connection).rows] == [("Alder", 1)]


def test_the_archive_is_a_shelf_of_its_own(database: Database) -> None:
    """A tune is on one of the two."""
    with database.write() as connection:
        tune = shelved(connection, "Alder")
        shelved(connection, "Birch")
        set_archived(connection, tune, True)
        assert [row.title for row in find_tunes(connection).rows] == ["Birch"]
        assert [row.title for row in find_tunes(connection, archived=True).rows] == ["Alder"]
        set_archived(connection, tune, False)
        assert find_tunes(connection).total == 2


def test_every_word_must_be_found_somewhere(database: Database) -> None:
    """Title, key, metre, rhythm, form, origin or tag; capitals, accents and signs do not matter; nothing is SQL."""
    with database.write() as connection:
        first = shelved(connection, "Brún na Coille", key="F♯ minor", metre="6/8", rhythm="jig", form="AABB")
        shelved(connection, "100 % Rye", key="G major", metre="4/4", origin="Nowhere Town")
        set_tags(connection, first, ["Tuesday  Group", "EASY"])
        for words, titles in (
            ("brun", ["Brún na Coille"]),
            ("BRÚN jig", ["Brún na Coille"]),
            ("f#", ["Brún na Coille"]),
            ("tuesday easy", ["Brún na Coille"]),
            ("nowhere", ["100 % Rye"]),
            ("%", ["100 % Rye"]),
            ("jig nowhere", []),
            ("'; DROP TABLE tune; --", []),
            ("", ["100 % Rye", "Brún na Coille"]),
        ):
            assert [row.title for row in find_tunes(connection, words).rows] == titles, words
        assert find_tunes(connection, narrowed={"tag": "easy"}).total == 1
        assert all_tags(connection) == [("easy", 1), ("tuesday group", 1)]


def test_the_shelf_is_sorted_and_paged(database: Database) -> None:
    """Each order of the table both ways; pages follow on each other; an unknown order is refused."""
    from nailhead.store.shelf import SORTS

    with database.write() as connection:
        for number in range(5):
            shelved(connection, f"Tune {number}", bars=10 - number, semitones=number)
        for sort in SORTS:
            there = [row.title for row in find_tunes(connection, sort=sort).rows]
            assert sorted(there) == [f"Tune {number}" for number in range(5)]
        assert [row.facts.bars for row in find_tunes(connection, sort="bars", descending=True).rows] == [10, 9, 8, 7, 6]
        pages = [find_tunes(connection, offset=at, limit=2) for at in (0, 2, 4)]
        assert [[row.title[-1] for row in page.rows] for page in pages] == [["0", "1"], ["2", "3"], ["4"]]
        assert {page.total for page in pages} == {5}
        with pytest.raises(StoreError, match="sort order"):
            find_tunes(connection, sort="title; DROP TABLE tune")


def test_tags_are_tidied(database: Database) -> None:
    """Blanks, capitals and doubles; too long a tag is refused and the old ones stay."""
    with database.write() as connection:
        tune = shelved(connection, "Alder")
        assert set_tags(connection, tune, ["  Easy ", "easy", "", "Slow air"]) == ("easy", "slow air")
        with pytest.raises(StoreError):
            set_tags(connection, tune, ["x" * 41])
        assert tags_of(connection, tune) == ("easy", "slow air")


def test_a_text_is_saved_over_the_one_it_was_made_from(database: Database) -> None:
    """Readable text replaces, unreadable text lies beside as a draft, an old revision is refused."""
    with database.write() as connection:
        tune = add_tune(connection, "Alder", "one")
        assert save_text(connection, tune, 1, "two", title="Birch").text == "two"
        draft = save_text(connection, tune, 2, "thr", title=None)
        assert (draft.text, draft.abc, draft.title, draft.revision) == ("thr", "two", "Birch", 3)
        with pytest.raises(ConflictError):
            save_text(connection, tune, 2, "other", title="Cedar")
        assert get_tune(connection, tune).text == "thr"
        assert save_text(connection, tune, 3, "three", title="Birch").draft is None


def test_facts_are_made_again_when_they_are_old(database: Database) -> None:
    """Only those that an older version has written, or none."""
    with database.write() as connection:
        shelved(connection, "Alder")
        bare = add_tune(connection, "Birch", "X:2")
        assert tunes_without_facts(connection, "test") == [(bare, "Birch", "X:2")]
        assert len(tunes_without_facts(connection, "newer")) == 2


def test_tunes_of_an_old_file_stay_and_get_their_facts(tmp_path: Path) -> None:
    """A shelf of version 1 with a path opens whole, and the new columns are filled in."""
    from nailhead.web.shelf import catch_up

    path = tmp_path / "old.sqlite3"
    connection = sqlite3.connect(path, isolation_level=None)
    connection.executescript(migration_files(MIGRATIONS)[0][1].read_text(encoding="utf-8"))
    connection.execute("PRAGMA user_version = 1")
    old = "X:1\nT:Old\nM:4/4\nL:1/8\nK:Ador\nA8|]\n"
    connection.execute("INSERT INTO tune (title, abc) VALUES ('Old', ?)", (old,))
    connection.execute("INSERT INTO tune (title, abc) VALUES ('Broken', 'K:')")
    connection.close()
    database = Database(path)
    catch_up(database)
    with database.read() as opened:
        rows = find_tunes(opened).rows
        assert [(row.title, row.facts.key) for row in rows] == [("Broken", ""), ("Old", "A dorian")]
        assert all(get_tune(opened, row.id).changed_at == get_tune(opened, row.id).created_at for row in rows)


def test_folding() -> None:
    """Accents and musical signs fold to plain letters."""
    assert fold("BRÚN F♯ B♭ Ährenfeld") == "brun f# bb ahrenfeld"


# -- migrations that build a table anew, and readers of one moment

REBUILD = """
CREATE TABLE new_setup AS SELECT * FROM setup;
DROP TABLE setup;
CREATE TABLE setup (
    id INTEGER PRIMARY KEY, tune_id INTEGER NOT NULL REFERENCES tune (id) ON DELETE CASCADE, instrument TEXT NOT NULL,
    idiom TEXT NOT NULL, tuning TEXT NOT NULL, capo INTEGER NOT NULL, fifth TEXT, sounding_key TEXT NOT NULL,
    created_at TEXT NOT NULL, options TEXT NOT NULL, name TEXT NOT NULL, revision INTEGER NOT NULL,
    step INTEGER NOT NULL, patterns TEXT NOT NULL, practice TEXT NOT NULL, first_rung INTEGER NOT NULL
) STRICT;
INSERT INTO setup SELECT * FROM new_setup;
DROP TABLE new_setup;
"""


def with_a_step(path: Path) -> int:
    """A data file with one tune, one setup and two steps; gives the setup."""
    with Database(path).write() as connection:
        setup = a_setup(connection, add_tune(connection, "One", "X:1\nK:C\nC|\n"))
        save_step(connection, setup, {"decisions": {"rungs": [2]}}, {"decisions": {"rungs": [3]}}, "Raise", 0)
    return setup


def migrated(path: Path, folder: Path) -> sqlite3.Connection:
    connection = sqlite3.connect(path, isolation_level=None)
    connection.execute("PRAGMA foreign_keys = ON")
    migrate(connection, folder)
    return connection


def one_more_migration(tmp_path: Path, script: str) -> Path:
    folder = tmp_path / "migrations"
    shutil.copytree(MIGRATIONS, folder)
    (folder / "9000_rebuild.sql").write_text(script, encoding="utf-8")
    return folder


def test_a_table_built_anew_keeps_the_rows_that_hang_on_it(tmp_path: Path) -> None:
    """DROP TABLE takes what refers to it along while foreign keys are on (SQLite, ALTER TABLE, §7): a teacher's steps
    are all there after it, and keys are on again.
    """
    path = tmp_path / "x.sqlite3"
    setup = with_a_step(path)
    connection = migrated(path, one_more_migration(tmp_path, REBUILD))
    said = [row[0] for row in connection.execute("SELECT said FROM step WHERE setup_id = ? ORDER BY number", (setup,))]
    assert said == ["", "Raise"]
    assert connection.execute("PRAGMA foreign_keys").fetchone()[0] == 1
    assert connection.execute("PRAGMA foreign_key_check").fetchall() == []
    connection.close()


def test_a_migration_that_would_lose_rows_is_refused_whole(tmp_path: Path) -> None:
    """One that leaves steps without their setup is taken back, with the file and what is lost named."""
    path = tmp_path / "x.sqlite3"
    setup = with_a_step(path)
    with pytest.raises(StoreError, match=r"9000_rebuild\.sql would leave 2 rows of step") as refused:
        migrated(path, one_more_migration(tmp_path, "DELETE FROM setup;"))
    assert refused.value.remedy
    with Database(path).read() as connection:
        assert get_setup(connection, setup).id == setup
        assert connection.execute("PRAGMA user_version").fetchone()[0] == migration_files(MIGRATIONS)[-1][0]


def test_an_older_file_is_copied_before_it_is_changed(tmp_path: Path) -> None:
    """The copy beside it is of the version it had; a new file and one that is up to date are not copied."""
    path = tmp_path / "old.sqlite3"
    connection = sqlite3.connect(path, isolation_level=None)
    newest = migration_files(MIGRATIONS)[-1][0]
    for number, file in migration_files(MIGRATIONS)[:-1]:
        connection.executescript(file.read_text(encoding="utf-8"))
        connection.execute(f"PRAGMA user_version = {number}")
    connection.execute("INSERT INTO tune (title, abc) VALUES ('Kept', 'X:1')")
    connection.close()
    for _ in range(2):
        Database(path)
        assert [file.name for file in tmp_path.glob("*before*")] == [f"old.sqlite3.before-v{newest}"]
    copy = sqlite3.connect(tmp_path / f"old.sqlite3.before-v{newest}")
    assert copy.execute("PRAGMA user_version").fetchone()[0] == migration_files(MIGRATIONS)[-2][0]
    assert copy.execute("SELECT title FROM tune").fetchone() == ("Kept",)
    copy.close()


def test_a_reader_sees_one_moment(database: Database) -> None:
    """What another connection keeps between two reads is not half seen; the next reader sees all of it."""
    with database.write() as connection:
        setup = a_setup(connection, add_tune(connection, "One", "X:1\nK:C\nC|\n"))
    with database.read() as reader:
        before = get_setup(reader, setup)
        with database.write() as connection:
            after = {"decisions": {"rungs": [3]}, "options": {"nail": "middle"}}
            save_step(connection, setup, {"decisions": {"rungs": [2]}}, after, "Choose", 0)
        assert get_setup(reader, setup) == before
        assert reader.execute("SELECT count(*) FROM step").fetchone()[0] == 0
    with database.read() as reader:
        assert get_setup(reader, setup).options == {"nail": "middle"}
        assert reader.execute("SELECT count(*) FROM step").fetchone()[0] == 2
