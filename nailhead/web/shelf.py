"""What the shelf says of a tune, worked out from its text and kept beside it."""

from __future__ import annotations

import sqlite3
from functools import lru_cache

from nailhead import __version__
from nailhead.core.music.form import read_form
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import AbcError
from nailhead.store.database import Database
from nailhead.store.shelf import Facts, put_facts, tunes_without_facts
from nailhead.store.tunes import purge_deleted
from nailhead.web.bench import read_stored

#: Goes up when facts are worked out otherwise than before; what older versions kept is then made again.
MADE_BY = f"{__version__}/1"
#: How long a deleted tune can be brought back.
KEPT_DAYS = 30


def facts_of(tune: Tune) -> Facts:
    """Key, metre, form, range and how many bars are new."""
    form = read_form(tune)
    low, high = (pick(tune.pitches, key=lambda pitch: pitch.cents) for pick in (min, max))
    return Facts(
        key=str(tune.key),
        metre=str(tune.metre),
        rhythm=tune.rhythm,
        form=form.text,
        bars=len(form.bars),
        different_bars=sum(row.new for row in form.bars),
        wrong_bars=sum(bool(row.missing) for row in form.bars),
        lowest=str(low),
        highest=str(high),
        semitones=int((high.cents - low.cents) // 100),
        chords=tune.has_chords,
        origin=" ".join(text for letter, text in tune.fields if letter in "COS"),
    )


@lru_cache(maxsize=4096)
def facts_of_text(abc: str) -> Facts:
    """The facts of a text; nothing is known of one that cannot be read."""
    try:
        tune = read_stored(abc).tune if abc else None
    except AbcError:
        tune = None
    return facts_of(tune) if tune else Facts()


def keep_facts(connection: sqlite3.Connection, tune_id: int, title: str, abc: str) -> None:
    """Write down what the text of a tune says, in the transaction that changes the text."""
    put_facts(connection, tune_id, title, facts_of_text(abc), MADE_BY)


def catch_up(database: Database) -> None:
    """At the start: work out what is not known, and forget what was deleted long ago."""
    with database.read() as connection:
        missing = tunes_without_facts(connection, MADE_BY)
    for _, _, abc in missing:
        facts_of_text(abc)
    with database.write() as connection:
        purge_deleted(connection, KEPT_DAYS)
        for tune_id, title, abc in missing:
            keep_facts(connection, tune_id, title, abc)
