"""The ladders behind the handlers: computed on demand, kept in memory by what they depend on."""

from __future__ import annotations

from collections.abc import Hashable
from threading import Condition, Lock

from cachetools import LRUCache, cached

from nailhead.core.arrange.fit.ladder import Ladder, Searched, build_ladder, restore_ladder
from nailhead.core.arrange.fit.planned import wished
from nailhead.core.arrange.rows.ways import USUAL, Options, OwnRows, find_idiom, options_of
from nailhead.core.fretboard.fit import Fit, fit_tune
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.music.pitch import parse_pitch
from nailhead.formats.abc import Entry, read_tune
from nailhead.store.setups import StoredSetup
from nailhead.store.tunes import StoredTune
from nailhead.web.kept_ladders import KeptLadders
from nailhead.web.workshop import Workshop

#: The path a new setup begins with: the basic stroke.
FIRST_RUNG = 2


#: Bytes that a tune takes for each sign of its text (measured on the demo shelf: 83 to 145), and all that are kept.
_BYTES_A_SIGN, MOST_OF_TUNES = 150, 8_000_000
_TUNES: LRUCache[Hashable, Entry] = LRUCache(MOST_OF_TUNES, getsizeof=lambda entry: _BYTES_A_SIGN * len(entry.text))


@cached(_TUNES, lock=Lock())
def read_stored(abc: str) -> Entry:
    """A stored tune, read again; it was readable when it was stored."""
    return read_tune(abc)


def fit_stored(
    abc: str,
    instrument: Instrument,
    idiom: str | None,
    tuning: str | None,
    capo: int | None,
    fifth: str | None,
    key: str | None,
) -> Fit:
    """A stored tune on a setup."""
    tune = read_stored(abc).tune
    assert tune is not None
    pitch = parse_pitch(fifth, "fifth") if fifth else None
    return fit_tune(tune, instrument, wished(find_idiom(idiom, instrument), tuning, capo, pitch, key))


#: Bytes that a different bar takes on all rungs, and one that is equal to another (measured on 20 arrangements).
_BYTES_A_BAR, _BYTES_AN_EQUAL = 130_000, 7_000
#: Bytes of all ladders that are kept in one process; others are restored from the disk in a tenth of building them.
MOST_BYTES = 30_000_000


def _size(ladder: Ladder) -> int:
    return _BYTES_A_BAR * ladder.structure.different + _BYTES_AN_EQUAL * len(ladder.tune.bars)


#: Where ladders outlive the process.
_DISK: KeptLadders | None = None


def keep_ladders(place: KeptLadders | None) -> None:
    """From now on ladders of this process are kept there too."""
    global _DISK
    _DISK = place


#: Ladders are built once: whoever asks for one that is being built waits for it, others are not held up.
_LADDERS: LRUCache[Hashable, Ladder] = LRUCache(MOST_BYTES, getsizeof=_size)


@cached(_LADDERS, condition=Condition())
def ladder_at(
    abc: str,
    instrument: Instrument,
    idiom: str,
    tuning: str,
    capo: int,
    fifth: str | None,
    key: str,
    options: Options = USUAL,
    patterns: OwnRows = (),
) -> Ladder:
    """The ladder of a text on a setup, kept by all that it depends on: in memory, on disk where there is a place."""
    fit = fit_stored(abc, instrument, idiom, tuning, capo, fifth, key)
    if _DISK is None:
        return build_ladder(fit, idiom, options, patterns)
    where = (abc, instrument, idiom, tuning, capo, fifth, key, options, patterns)
    if searched := _DISK.get(where):
        return restore_ladder(fit, searched, idiom, options, patterns)
    built = build_ladder(fit, idiom, options, patterns)
    _DISK.put(where, Searched(built.rungs, dict(built.second)))
    return built


def ladder_of(tune: StoredTune, setup: StoredSetup, shop: Workshop) -> Ladder:
    """The ladder of a kept setup."""
    where = (setup.tuning, setup.capo, setup.fifth, setup.sounding_key)
    options = options_of(setup.options)
    return ladder_at(tune.abc, shop.find(setup.instrument), setup.idiom, *where, options, setup.patterns)
