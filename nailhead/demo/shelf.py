"""Puts the invented shelf into an empty data file."""

from __future__ import annotations

from pathlib import Path

from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.formats.abc import read_book
from nailhead.formats.arrangement_json import pitch_name
from nailhead.store.database import Database
from nailhead.store.setups import add_setup
from nailhead.store.tunes import add_tune, shelf_is_empty

TUNES = Path(__file__).parent / "tunes"


def fill_shelf(database: Database) -> None:
    """Add the demo tunes, each set up for the banjo, unless the shelf holds anything already."""
    with database.write() as connection:
        if not shelf_is_empty(connection):
            return
        for file in sorted(TUNES.glob("*.abc")):
            for entry in read_book(file.read_text(encoding="utf-8")):
                if entry.error:
                    raise entry.error
                assert entry.tune is not None
                tune_id = add_tune(connection, entry.tune.title, entry.text)
                fit = fit_tune(entry.tune, find_instrument("banjo"), Wish())
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
