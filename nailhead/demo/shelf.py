"""Puts the invented shelf into an empty data file."""

from __future__ import annotations

import sqlite3
from pathlib import Path

from nailhead.core.errors import FitError
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_book
from nailhead.formats.arrangement_json import pitch_name
from nailhead.store.database import Database
from nailhead.store.setups import add_setup
from nailhead.store.shelf import set_tags
from nailhead.store.tunes import add_tune, shelf_is_empty

TUNES = Path(__file__).parent / "tunes"
#: What an invented teacher has tagged.
TAGS = {
    "lantern-on-the-weir": ("easy", "tuesday group"),
    "the-millers-short-cut": ("easy",),
    "three-steps-to-the-ferry": ("tuesday group",),
    "low-tide-at-annisk": ("slow",),
}


def fill_shelf(database: Database) -> None:
    """Add the demo tunes, tagged, each set up for the banjo where its notes are on it, unless anything is there."""
    with database.write() as connection:
        if not shelf_is_empty(connection):
            return
        for file in sorted(TUNES.glob("*.abc")):
            for entry in read_book(file.read_text(encoding="utf-8")):
                if entry.error:
                    raise entry.error
                assert entry.tune is not None
                tune_id = add_tune(connection, entry.tune.title, entry.text)
                set_tags(connection, tune_id, TAGS.get(file.stem, ()))
                _set_up(connection, tune_id, entry.tune)


def _set_up(connection: sqlite3.Connection, tune_id: int, tune: Tune) -> None:
    try:
        fit = fit_tune(tune, find_instrument("banjo"), Wish())
    except FitError:
        return  # quarter tones and commas have no fret on a banjo
    add_setup(
        connection,
        tune_id,
        instrument="banjo",
        idiom="clawhammer",
        tuning=fit.setup.tuning.id,
        capo=fit.setup.capo,
        fifth=pitch_name(fit.setup.fifth) if fit.setup.fifth else None,
        sounding_key=str(fit.sounding_key.tonic).replace("♯", "#").replace("♭", "b"),
    )
