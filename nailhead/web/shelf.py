"""What the shelf says of a tune, worked out from its text and kept beside it."""

from __future__ import annotations

import sqlite3
import threading
from collections import OrderedDict

from nailhead import __version__
from nailhead.core.music.form import read_form
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import Entry, read_book
from nailhead.formats.abc.reader import read_entry
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


def facts_of_entry(entry: Entry) -> Facts | None:
    """The facts of a tune as read, remembered by its text; None where it was refused."""
    if entry.tune is None:
        return None
    facts = facts_of(entry.tune)
    _KNOWN.put(entry.text, entry.title, facts)
    return facts


def known_or_read(line: int, lines: list[str]) -> tuple[str, str, Facts | None, Entry | None]:
    """(text, title, facts, entry) of one tune of a book; the entry is None where the text was met before."""
    text = "\n".join(lines) + "\n"
    if known := _KNOWN.get(text):
        return text, known[0], known[1], None
    entry = read_entry(line, lines)
    return text, entry.title, facts_of_entry(entry), entry


def facts_of_text(abc: str) -> Facts:
    """The facts of a text; nothing is known of one that cannot be read."""
    if known := _KNOWN.get(abc):
        return known[1]
    entries = read_book(abc)
    return (facts_of_entry(entries[0]) if entries else None) or Facts()


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
