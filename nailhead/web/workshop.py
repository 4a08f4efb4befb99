"""The instruments a teacher can set up: those of the table with her own tunings, and her own instruments."""

from __future__ import annotations

import sqlite3
from collections.abc import Mapping
from contextlib import nullcontext, suppress
from dataclasses import dataclass
from functools import lru_cache, partial
from typing import Annotated

from fastapi import Depends, Request

from nailhead.core.errors import NailheadError, SetupError
from nailhead.core.fretboard.instruments import INSTRUMENTS, Instrument, find_instrument
from nailhead.core.fretboard.own import OwnInstrument, OwnTuning, build_instrument, build_tuning, with_tuning
from nailhead.store.database import Database, NotFoundError
from nailhead.store.own import PREFIX, StoredInstrument, StoredTuning, own_instruments, own_tunings
from nailhead.store.own import add_instrument as keep_instrument
from nailhead.store.own import add_tuning as keep_tuning
from nailhead.store.own import change_instrument as keep_change
from nailhead.store.own import delete_tuning as forget_tuning


@dataclass(frozen=True)
class Workshop:
    """`instruments` by id; `own` the number and description of her own ones, by id; `tunings` (instrument, tuning) of
    each own tuning, by its number.
    """

    instruments: Mapping[str, Instrument]
    own: Mapping[str, tuple[int, OwnInstrument]]
    tunings: Mapping[int, tuple[str, str]]

    def find(self, name: str) -> Instrument:
        """The instrument of that id; raises SetupError with the ids there are."""
        if name not in self.instruments:
            known = ", ".join(row.name for row in self.instruments.values())
            raise SetupError(f"There is no instrument “{name}”.", field="instrument", remedy=f"Choose one of: {known}.")
        return self.instruments[name]

    def short_name(self, name: str) -> str:
        """What a list calls an instrument: the id of one of the table, the name of an own one."""
        return self.instruments[name].name if name in self.own else name

    def number_of(self, instrument: str, tuning: str) -> int | None:
        """The number of an own tuning, None for one of the table."""
        return next((number for number, at in self.tunings.items() if at == (instrument, tuning)), None)


def open_workshop(connection: sqlite3.Connection, strict: bool = False) -> Workshop:
    """Everything that can be set up, as it is kept now.

    What could be built once and no longer can is passed over, so that it takes nothing else with it; with `strict` it
    raises its SetupError.
    """
    return _workshop(tuple(own_instruments(connection)), tuple(own_tunings(connection)), strict)


@lru_cache(maxsize=8)
def _workshop(own: tuple[StoredInstrument, ...], tunings: tuple[StoredTuning, ...], strict: bool) -> Workshop:
    passing = nullcontext if strict else partial(suppress, NailheadError, KeyError)
    found = dict(INSTRUMENTS)
    made, letters = {}, {}
    for row in own:
        with passing():
            found[row.name] = build_instrument(row.own, row.name, find_instrument(row.own.kind))
            made[row.name] = (row.id, row.own)
    for tuning in tunings:
        with passing():
            instrument = with_tuning(found[tuning.instrument], tuning.own)
            found[tuning.instrument] = instrument
            letters[tuning.id] = (tuning.instrument, instrument.tunings[-1].id)
    return Workshop(found, made, letters)


def workshop(request: Request) -> Workshop:
    """For handlers: the workshop of the data file the application was started with."""
    db: Database = request.app.state.database
    with db.read() as connection:
        return open_workshop(connection)


Shop = Annotated[Workshop, Depends(workshop)]


def add_instrument(connection: sqlite3.Connection, own: OwnInstrument) -> Instrument:
    """Check and keep an instrument; raises SetupError at the field."""
    _refuse_twin(connection, own, None)
    build_instrument(own, "own", find_instrument(own.kind))
    number = keep_instrument(connection, own)
    return open_workshop(connection).find(f"{PREFIX}{number}")


def change_instrument(connection: sqlite3.Connection, number: int, own: OwnInstrument) -> Instrument:
    """Describe an instrument anew; raises SetupError where its further tunings would no longer fit it."""
    _refuse_twin(connection, own, number)
    build_instrument(own, "own", find_instrument(own.kind))
    keep_change(connection, number, own)
    return open_workshop(connection, strict=True).find(f"{PREFIX}{number}")


def _refuse_twin(connection: sqlite3.Connection, own: OwnInstrument, number: int | None) -> None:
    names = {row.name.lower() for row in INSTRUMENTS.values()}
    names |= {row.own.name.lower() for row in own_instruments(connection) if row.id != number}
    if own.name.strip().lower() in names:
        raise SetupError(
            f"There is a “{own.name.strip()}” already.", field="name", remedy="Give this one another name."
        )


def add_tuning(connection: sqlite3.Connection, instrument: str, own: OwnTuning) -> Instrument:
    """Check and keep a tuning; raises SetupError at the field."""
    build_tuning(own, open_workshop(connection).find(instrument))
    keep_tuning(connection, instrument, own)
    return open_workshop(connection).find(instrument)


def delete_tuning(connection: sqlite3.Connection, number: int) -> None:
    """Forget a tuning that no setup uses."""
    shop = open_workshop(connection)
    if number not in shop.tunings:
        raise NotFoundError(f"There is no own tuning {number}.", field="tuning", remedy="Go back to the list.")
    forget_tuning(connection, number, shop.tunings[number][1])
