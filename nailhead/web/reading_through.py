"""Reads every row of a data file through what will read it later, so that damage is found before it is used."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager

from nailhead.core.arrange.rows.hands import RightHand
from nailhead.core.arrange.rows.ways import idiom_named, options_of
from nailhead.core.errors import NailheadError
from nailhead.formats.abc.reader import read_book
from nailhead.formats.decisions_json import read_decisions
from nailhead.sheet.options import read_options
from nailhead.store.arrangements import get_arrangement
from nailhead.store.handed_out import every_hand_out
from nailhead.store.own import own_instruments, own_tunings
from nailhead.store.practice import get_progress, get_wish
from nailhead.store.setups import StoredSetup, setups_of_tune
from nailhead.store.shelf import tags_of
from nailhead.store.teacher import settings_of, sheet_defaults
from nailhead.store.tunes import StoredTune, all_tunes
from nailhead.store.verifying import DamagedError
from nailhead.web.teacher_models import SettingsModel


def read_through(connection: sqlite3.Connection, every_step: bool = True) -> None:
    """Raises DamagedError for the first row that cannot be read.

    Without `every_step` only the step that each arrangement stands at is read, and no tune's text: what a start needs,
    in a hundredth of the time.
    """
    with _told("what is settled"):
        kept = settings_of(connection)
        SettingsModel.model_validate({name: kept[name] for name in SettingsModel.model_fields if name in kept})
        read_options(sheet_defaults(connection))
    with _told("the instruments and tunings of your own"):
        own_instruments(connection)
        own_tunings(connection)
    for tune in all_tunes(connection):
        with _told(f"the tune “{tune.title[:60]}”"):
            tags_of(connection, tune.id)
            if every_step and tune.abc and read_book(tune.abc)[0].tune is None:
                raise ValueError("its text cannot be read")
            setups = setups_of_tune(connection, tune.id)
        for setup in setups:
            _read_setup(connection, tune, setup, every_step)


def _read_setup(connection: sqlite3.Connection, tune: StoredTune, setup: StoredSetup, every_step: bool) -> None:
    named = f"arrangement {setup.id} of “{tune.title[:60]}”"
    with _told(named):
        right = idiom_named(setup.idiom).right
        options_of(setup.options)
        get_wish(connection, setup.id)
        get_progress(connection, setup.id)
        document = get_arrangement(connection, setup.id).document
        if document is not None:
            _read_step(document, right)
        for left in every_hand_out(connection, setup.id):
            read_decisions(left.document["bars"], right)
            if len(left.document["sources"]) != len(left.document["bars"]["rungs"]) or "from" not in left.document:
                raise ValueError("a hand-out is not whole")
    if not every_step:
        return
    for row in connection.execute("SELECT number, document FROM step WHERE setup_id = ?", (setup.id,)).fetchall():
        with _told(f"step {row['number']} of {named}"):
            _read_step(json.loads(row["document"]), right)


def _read_step(document: dict[str, object], right: RightHand) -> None:
    read_decisions(document["decisions"], right)  # type: ignore[arg-type]
    read_options(document.get("sheet", {}))  # type: ignore[arg-type]
    if "setup" in document:
        setup = document["setup"]
        if not isinstance(setup, dict) or {"tuning", "capo", "fifth", "sounding_key"} - setup.keys():
            raise ValueError("its setup is not whole")
    if "options" in document:
        options_of(document["options"])  # type: ignore[arg-type]
    if not all(isinstance(name, str) and isinstance(text, str) for name, text in document.get("patterns", [])):  # type: ignore[attr-defined]
        raise ValueError("its patterns are no texts")


#: What readers of JSON and of texts raise for what they were not made for.
_UNREADABLE = (NailheadError, ArithmeticError, AssertionError, AttributeError, LookupError, TypeError, ValueError)


@contextmanager
def _told(what: str) -> Iterator[None]:
    """Whatever goes wrong with a row becomes one sentence with its name."""
    try:
        yield
    except sqlite3.DatabaseError:
        raise
    except _UNREADABLE as error:
        raise DamagedError(
            f"The data file is damaged: {what} cannot be read.",
            field="file",
            remedy="Restore a backup that was made before.",
        ) from error
