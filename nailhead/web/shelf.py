"""What the shelf says of a tune, worked out from its text and kept beside it."""

from __future__ import annotations

import sqlite3
import threading
from collections import OrderedDict

from nailhead import __version__
from nailhead.core.music.form import read_form
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_book
from nailhead.store.database import Database
from nailhead.store.shelf import Facts, put_facts, tunes_without_facts
from nailhead.store.tunes import purge_deleted

#: Goes up when facts are worked out otherwise than before; what older versions kept is then made again.
MADE_BY = f"{__version__}/1"
#: How long a deleted tune can be brought back.
KEPT_DAYS = 30


def facts_of(tune: Tune) -> Facts:
    """Key, metre, form, range and how many bars are new."""
    form = read_form(tune)
    low, high = tune.range
    return Facts(
        key=tune.key.label,
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


class _Known:
    """The facts of texts met lately: a book is previewed, then brought in, and need not be worked out twice."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._facts: OrderedDict[str, tuple[str, Facts]] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, abc: str) -> tuple[str, Facts] | None:
        with self._lock:
            return self._facts.get(abc)

    def put(self, abc: str, title: str, facts: Facts) -> None:
        with self._lock:
            self._facts[abc] = (title, facts)
            while len(self._facts) > self._most:
                self._facts.popitem(last=False)


_KNOWN = _Known(6_000)


def remember(abc: str, title: str, facts: Facts) -> None:
    """Keeps in mind what has been worked out of a text."""
    _KNOWN.put(abc, title, facts)


def met_before(abc: str) -> tuple[str, Facts] | None:
    """Title and facts of a text that was met lately."""
    return _KNOWN.get(abc)


def facts_of_text(abc: str) -> Facts:
    """The facts of a text; nothing is known of one that cannot be read."""
    if known := _KNOWN.get(abc):
        return known[1]
    entries = read_book(abc)
    if not entries or entries[0].tune is None:
        return Facts()
    facts = facts_of(entries[0].tune)
    remember(abc, entries[0].title, facts)
    return facts


def keep_facts(connection: sqlite3.Connection, tune_id: int, title: str, abc: str) -> None:
    """Write down what the text of a tune says, in the transaction that changes the text."""
    put_facts(connection, tune_id, title, facts_of_text(abc), MADE_BY)


def catch_up(database: Database) -> None:
    """At the start: work out what is not known, and forget what was deleted long ago."""
    with database.read() as connection:
        missing = tunes_without_facts(connection, MADE_BY)
    found = [(tune_id, title, facts_of_text(abc)) for tune_id, title, abc in missing]
    with database.write() as connection:
        purge_deleted(connection, KEPT_DAYS)
        for tune_id, title, facts in found:
            put_facts(connection, tune_id, title, facts, MADE_BY)
