"""What has been practised is kept, on a real file."""

from __future__ import annotations

from pathlib import Path

import pytest

from nailhead.core.practice.plan import Order
from nailhead.core.practice.tempo import Progress, Said, TempoSteps, after, begun
from nailhead.store.database import Database, NotFoundError
from nailhead.store.practice import PracticeWish, get_progress, get_wish, keep_progress, set_wish
from nailhead.store.setups import add_setup, delete_setup
from nailhead.store.tunes import add_tune


@pytest.fixture
def db(tmp_path: Path) -> Database:
    return Database(tmp_path / "practice.sqlite3")


def setup_in(db: Database) -> int:
    with db.write() as connection:
        tune = add_tune(connection, "Gate", "X:1\nT:Gate\nK:G\nG8|\n")
        return add_setup(
            connection,
            tune,
            instrument="banjo",
            idiom="clawhammer",
            tuning="gDGBD",
            capo=0,
            fifth=None,
            sounding_key="G",
        )


def test_progress_is_counted_and_kept(db: Database) -> None:
    """Three times clean: a step up, after another opening of the file too; another step is untouched."""
    setup, steps = setup_in(db), TempoSteps()
    for _ in range(3):
        with db.write() as connection:
            keep_progress(connection, setup, "a" * 12, lambda one: after(one or begun(steps), Said.CLEAN, steps))
    with Database(db.path).read() as connection:
        assert get_progress(connection, setup) == {"a" * 12: Progress(65, 0, 3)}


def test_what_a_player_sets_is_kept(db: Database) -> None:
    """Defaults where nothing is set; what is not known any more is passed over; a setup that is not there is told."""
    setup = setup_in(db)
    with db.read() as connection:
        assert get_wish(connection, setup) == PracticeWish()
    wish = PracticeWish(TempoSteps(40, 10, 120, 2), Order.HARDEST)
    with db.write() as connection:
        set_wish(connection, setup, wish)
        assert get_wish(connection, setup) == wish
        connection.execute("""UPDATE setup SET practice = '{"order": "backwards", "hum": 3}' WHERE id = ?""", (setup,))
        assert get_wish(connection, setup) == PracticeWish()
        for call in (lambda: get_wish(connection, 77), lambda: set_wish(connection, 77, wish)):
            with pytest.raises(NotFoundError):
                call()


def test_it_goes_with_its_setup(db: Database) -> None:
    """Nothing of it is left behind."""
    setup = setup_in(db)
    with db.write() as connection:
        keep_progress(connection, setup, "b" * 12, lambda _: Progress(60))
        delete_setup(connection, setup)
        assert connection.execute("SELECT count(*) FROM practised").fetchone()[0] == 0
