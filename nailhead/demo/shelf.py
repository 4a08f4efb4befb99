"""Puts the invented shelf into an empty data file."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from contextlib import suppress
from pathlib import Path

from nailhead.core.arrange.fit.planned import planned, wished
from nailhead.core.arrange.rows.hands import Idiom
from nailhead.core.arrange.rows.ways import find_idiom
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.errors import FitError
from nailhead.core.fretboard.fit import Fit, Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.music.alignment import bar_marks
from nailhead.core.music.structure import read_structure
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_book
from nailhead.formats.arrangement_json import pitch_name
from nailhead.formats.decisions_json import decisions_document
from nailhead.store.arrangements import save_step
from nailhead.store.database import Database
from nailhead.store.setups import add_setup
from nailhead.store.shelf import set_tags
from nailhead.store.tunes import add_tune, came_together, shelf_is_empty

TUNES = Path(__file__).parent / "tunes"
#: Tunes that are set up for other instruments too, or in another way of playing, or in a tuning that is not the first.
ALSO_FOR = {
    "yonder-go-the-drovers": ("guitar fingerstyle DGDGBD",),
    "hazel-at-the-window": ("guitar fingerstyle DADF#AD",),
    "the-lockkeepers-candle": ("ukulele",),
    "lantern-on-the-weir": ("banjo three-finger",),
    "three-steps-to-the-ferry": ("mandolin",),
    "the-millers-short-cut": ("dulcimer", "dulcimer chord-melody"),
    "low-tide-at-annisk": ("ukulele", "guitar", "ukulele-baritone"),
    "walnut-court": ("saz-short", "saz"),
}
#: On those the invented teacher has mixed her path: the rung of each phrase, the last one's for all behind it.
MIXED = (3, 4, 5, 6)
#: What an invented teacher has tagged.
TAGS = {
    "lantern-on-the-weir": ("easy", "tuesday group"),
    "the-millers-short-cut": ("easy",),
    "three-steps-to-the-ferry": ("tuesday group",),
    "low-tide-at-annisk": ("slow",),
}


def fill_shelf(database: Database) -> None:
    """Add the demo tunes, tagged and set up, unless anything is there already."""
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
                _set_up(connection, tune_id, entry.tune, ALSO_FOR.get(file.stem, ()))
        came_together(connection)


def _set_up(connection: sqlite3.Connection, tune_id: int, tune: Tune, instruments: Sequence[str]) -> None:
    """For the banjo at the tune's own key where its notes are on it, for the others as the planner answers first."""
    with suppress(FitError):  # commas have no fret on a banjo
        banjo = find_instrument("banjo")
        _keep(connection, tune_id, fit_tune(tune, banjo, Wish()), find_idiom(None, banjo))
    for name in instruments:
        kind, way, tuning, *_ = (*name.split(), None, None)
        instrument = find_instrument(str(kind))
        idiom = find_idiom(way, instrument)
        fit = fit_tune(tune, instrument, planned(tune, instrument, idiom, wished(idiom, tuning)))
        setup_id = _keep(connection, tune_id, fit, idiom)
        if kind != "banjo" and len(idiom.rungs) >= max(MIXED):
            _mix(connection, setup_id, tune)


def _keep(connection: sqlite3.Connection, tune_id: int, fit: Fit, idiom: Idiom) -> int:
    return add_setup(
        connection,
        tune_id,
        instrument=fit.setup.instrument.id,
        idiom=idiom.id,
        tuning=fit.setup.tuning.id,
        capo=fit.setup.capo,
        fifth=pitch_name(fit.setup.fifth) if fit.setup.fifth else None,
        sounding_key=str(fit.sounding_key.tonic).replace("♯", "#").replace("♭", "b"),
    )


def _mix(connection: sqlite3.Connection, setup_id: int, tune: Tune) -> None:
    """A path that rises from phrase to phrase; a bar that comes back keeps its rung."""
    structure = read_structure(tune)
    rungs = [MIXED[0]] * len(tune.bars)
    for number, (start, stop) in enumerate(structure.phrases):
        rungs[start:stop] = [MIXED[min(number, len(MIXED) - 1)]] * (stop - start)
    mixed = tuple(rungs[first] for first in structure.classes)
    plain, path = (
        {"decisions": decisions_document(Arrangement(rows, bars=bar_marks(tune)))}
        for rows in ((MIXED[0],) * len(rungs), mixed)
    )
    save_step(connection, setup_id, plain, path, "Mixed the path", 0)
