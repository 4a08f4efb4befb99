"""Own instruments and tunings in a real file."""

from __future__ import annotations

from pathlib import Path

import pytest

from nailhead.core.fretboard.own import OwnInstrument, OwnTuning
from nailhead.store.database import Database, InUseError, NotFoundError
from nailhead.store.own import (
    add_instrument,
    add_tuning,
    change_instrument,
    delete_instrument,
    delete_tuning,
    own_instruments,
    own_tunings,
)
from nailhead.store.setups import add_setup, delete_setup
from nailhead.store.tunes import add_tune

CHERRY = OwnInstrument("cherry", "dulcimer", 3, 700.5, 14, ("1½", "8½"), "0.3 0.3 0.5w", (2, 1, 1), True)
SEVEN = OwnInstrument("seven", "guitar", 7, 650.0, 20, tuning=OwnTuning("sevens", "B1 E2 A2 D3 G3 B3 E4"))


def test_what_is_kept_comes_back_after_reopening(tmp_path: Path) -> None:
    """Every field, half frets and gauges included, and a change of all of them."""
    path = tmp_path / "own.sqlite3"
    with Database(path).write() as connection:
        number = add_instrument(connection, CHERRY)
        add_instrument(connection, SEVEN)
        add_tuning(connection, "own-1", OwnTuning("high", "D3 A3 E4"))
    with Database(path).write() as connection:
        assert [row.own for row in own_instruments(connection)] == [CHERRY, SEVEN]
        assert own_instruments(connection)[0].name == f"own-{number}"
        assert [(row.instrument, row.own.open) for row in own_tunings(connection)] == [("own-1", "D3 A3 E4")]
        change_instrument(connection, number, SEVEN)
        assert own_instruments(connection)[0].own == SEVEN


def test_nothing_that_is_used_is_forgotten(tmp_path: Path) -> None:
    """Refused with the tunes that use it, under its plain and its let-down name; forgotten once they are gone."""
    with Database(tmp_path / "own.sqlite3").write() as connection:
        number = add_instrument(connection, CHERRY)
        tuning = add_tuning(connection, f"own-{number}", OwnTuning("high", "D3 A3 E4"))
        tune = add_tune(connection, "Plum Orchard Road", "X:1\n")
        wish = {"idiom": "noter", "capo": 0, "fifth": None, "sounding_key": "D"}
        kept = add_setup(connection, tune, instrument=f"own-{number}", tuning="DAE↓2", **wish)  # type: ignore[arg-type]
        with pytest.raises(InUseError, match="Plum Orchard Road"):
            delete_tuning(connection, tuning, "DAE")
        with pytest.raises(InUseError, match="Plum Orchard Road"):
            delete_instrument(connection, number)
        delete_setup(connection, kept)
        other = add_setup(connection, tune, instrument="dulcimer", tuning="DAE", **wish)  # type: ignore[arg-type]
        assert other
        delete_instrument(connection, number)
        assert own_instruments(connection) == [] and own_tunings(connection) == []


def test_what_is_not_there_cannot_be_changed_or_forgotten(tmp_path: Path) -> None:
    """By name, with the way back."""
    with Database(tmp_path / "own.sqlite3").write() as connection:
        for call in (
            lambda: change_instrument(connection, 9, CHERRY),
            lambda: delete_instrument(connection, 9),
            lambda: delete_tuning(connection, 9, "DAE"),
        ):
            with pytest.raises(NotFoundError) as refused:
                call()
            assert refused.value.remedy
