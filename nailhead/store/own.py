"""The teacher's own instruments and tunings."""

from __future__ import annotations

import json
import sqlite3
from dataclasses import dataclass

from nailhead.core.fretboard.own import OwnInstrument, OwnTuning
from nailhead.store.database import InUseError, NotFoundError

#: Ids of own instruments wherever an instrument is named.
PREFIX = "own-"


@dataclass(frozen=True, slots=True)
class StoredInstrument:
    id: int
    own: OwnInstrument

    @property
    def name(self) -> str:
        """What setups and requests call it."""
        return f"{PREFIX}{self.id}"


@dataclass(frozen=True, slots=True)
class StoredTuning:
    id: int
    instrument: str
    own: OwnTuning


def own_instruments(connection: sqlite3.Connection) -> list[StoredInstrument]:
    """All of them, oldest first."""
    rows = connection.execute("SELECT * FROM own_instrument ORDER BY id")
    return [_instrument(row) for row in rows]


def _instrument(row: sqlite3.Row) -> StoredInstrument:
    tuning = OwnTuning(row["tuning_name"], row["open_strings"]) if row["open_strings"] else None
    own = OwnInstrument(
        row["name"],
        row["kind"],
        row["strings"],
        row["scale_mm"],
        row["frets"],
        tuple(json.loads(row["half_frets"])),
        row["gauges"],
        tuple(json.loads(row["courses"])),
        bool(row["left_handed"]),
        tuning,
    )
    return StoredInstrument(row["id"], own)


def add_instrument(connection: sqlite3.Connection, own: OwnInstrument) -> int:
    """Keep an instrument and return its number."""
    cursor = connection.execute(
        """
        INSERT INTO own_instrument
            (name, kind, strings, scale_mm, frets, half_frets, gauges, courses, left_handed, tuning_name, open_strings)
        VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
        """,
        _values(own),
    )
    assert cursor.lastrowid is not None
    return cursor.lastrowid


def change_instrument(connection: sqlite3.Connection, number: int, own: OwnInstrument) -> None:
    """Describe an instrument anew; raises NotFoundError."""
    found = connection.execute(
        """
        UPDATE own_instrument SET
            name = ?, kind = ?, strings = ?, scale_mm = ?, frets = ?, half_frets = ?, gauges = ?, courses = ?,
            left_handed = ?, tuning_name = ?, open_strings = ?
        WHERE id = ?
        """,
        (*_values(own), number),
    )
    if found.rowcount == 0:
        raise _no_instrument(number)


def _values(own: OwnInstrument) -> tuple[object, ...]:
    tuning = own.tuning or OwnTuning("", "")
    return (
        own.name.strip(),
        own.kind,
        own.strings,
        own.scale_mm,
        own.frets,
        json.dumps(own.half_frets, ensure_ascii=False),
        own.gauges,
        json.dumps(own.courses),
        int(own.left_handed),
        tuning.name.strip(),
        tuning.open,
    )


def delete_instrument(connection: sqlite3.Connection, number: int) -> None:
    """Forget an instrument and its tunings; raises InUseError while tunes are set up for it, NotFoundError."""
    name = f"{PREFIX}{number}"
    _refuse_used(connection, "instrument", name)
    connection.execute("DELETE FROM own_tuning WHERE instrument = ?", (name,))
    if connection.execute("DELETE FROM own_instrument WHERE id = ?", (number,)).rowcount == 0:
        raise _no_instrument(number)


def _no_instrument(number: int) -> NotFoundError:
    return NotFoundError(f"There is no own instrument {number}.", field="instrument", remedy="Go back to the list.")


#: What an instrument or tuning is named by in a setup; one that is let down as a whole still counts.
_USED = {
    "instrument": """
        SELECT DISTINCT tune.title FROM setup JOIN tune ON tune.id = setup.tune_id
        WHERE setup.instrument = ? ORDER BY tune.title
        """,
    "tuning": """
        SELECT DISTINCT tune.title FROM setup JOIN tune ON tune.id = setup.tune_id
        WHERE setup.instrument = ? AND rtrim(setup.tuning, '0123456789') IN (?, ? || '↓', ? || '↑')
        ORDER BY tune.title
        """,
}


def _refuse_used(connection: sqlite3.Connection, what: str, *names: str) -> None:
    titles = [row["title"] for row in connection.execute(_USED[what], names)]
    if titles:
        more = f" and {len(titles) - 3} more" if len(titles) > 3 else ""
        raise InUseError(
            f"It is used by {', '.join(f'“{title}”' for title in titles[:3])}{more}.",
            field=what,
            remedy="Forget those setups first.",
        )


def own_tunings(connection: sqlite3.Connection) -> list[StoredTuning]:
    """All of them, oldest first."""
    rows = connection.execute("SELECT id, instrument, name, open_strings FROM own_tuning ORDER BY id")
    return [StoredTuning(row["id"], row["instrument"], OwnTuning(row["name"], row["open_strings"])) for row in rows]


def add_tuning(connection: sqlite3.Connection, instrument: str, own: OwnTuning) -> int:
    """Keep a tuning of an instrument and return its number."""
    cursor = connection.execute(
        "INSERT INTO own_tuning (instrument, name, open_strings) VALUES (?, ?, ?)",
        (instrument, own.name.strip(), own.open),
    )
    assert cursor.lastrowid is not None
    return cursor.lastrowid


def delete_tuning(connection: sqlite3.Connection, number: int, letters: str) -> None:
    """Forget a tuning that setups call `letters`; raises InUseError while one does, NotFoundError."""
    row = connection.execute("SELECT instrument FROM own_tuning WHERE id = ?", (number,)).fetchone()
    if row is None:
        raise NotFoundError(f"There is no own tuning {number}.", field="tuning", remedy="Go back to the list.")
    _refuse_used(connection, "tuning", row["instrument"], letters, letters, letters)
    connection.execute("DELETE FROM own_tuning WHERE id = ?", (number,))
