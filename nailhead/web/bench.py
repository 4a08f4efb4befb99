"""An arrangement on the bench: stored decisions on a computed ladder."""

from __future__ import annotations

import sqlite3
from collections.abc import Collection, Mapping, Sequence
from dataclasses import asdict, dataclass, field, replace
from functools import cached_property
from typing import Any

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.teacher.arrangement import Arrangement, Kind
from nailhead.core.arrange.teacher.cells import bring_along, with_kept
from nailhead.core.arrange.teacher.handed_out import (
    HandedOut,
    as_handed_out,
    changed_since,
    decided,
    hand_out,
    kept_as_handed_out,
    sources_of,
)
from nailhead.core.arrange.teacher.leaving_out import without_fillers
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.errors import PathError
from nailhead.core.music.alignment import bar_marks
from nailhead.formats.arrangement_file import Source
from nailhead.formats.decisions_json import decisions_document, read_decisions
from nailhead.sheet.options import SheetOptions, read_options
from nailhead.store.arrangements import StoredArrangement, get_arrangement
from nailhead.store.database import Database
from nailhead.store.handed_out import StoredHandOut, newest_hand_out
from nailhead.store.setups import StoredSetup, get_setup, setups_of_tune
from nailhead.store.teacher import sheet_defaults
from nailhead.store.tunes import StoredTune, get_tune
from nailhead.web.kept_ladders import engine
from nailhead.web.ladders import ladder_of, read_stored
from nailhead.web.naming import names_of
from nailhead.web.workshop import Workshop

Document = dict[str, Any]
#: A bar that a teacher has taken as it is computed now: the hand-out, what the bar was made from, its rung.
Renewal = tuple[int, str, int]


@dataclass(frozen=True)
class Bench:
    """A setup's tune, its computed ladder, and what has been decided on it. `ladder` has the kept cells in place.

    `called` tells it from the tune's other arrangements, where there are `several`. `handed` is what left last, where
    another engine had computed it: bars that would be otherwise now are in the arrangement as they were, but for those
    that the teacher has `renewed`.
    """

    setup: StoredSetup
    tune: StoredTune
    computed: Ladder
    arrangement: Arrangement
    stored: StoredArrangement
    sheet: SheetOptions = field(default_factory=SheetOptions)
    called: str = ""
    several: bool = False
    handed: StoredHandOut | None = None
    renewed: tuple[Renewal, ...] = ()

    @property
    def file_name(self) -> str:
        """What a file of it is called, without an ending: the tune, and of several arrangements which one."""
        title = self.computed.tune.title
        return f"{title}, {self.called}" if self.several else title

    @cached_property
    def ladder(self) -> Ladder:
        return with_kept(self.computed, self.arrangement)

    @cached_property
    def shown(self) -> Ladder:
        """The ladder as the sheet has it."""
        return self.ladder if self.sheet.fillers else without_fillers(self.ladder)

    def check(self, place: int) -> int:
        """The place itself where the tune has a bar there; raises PathError."""
        if not 0 <= place < len(self.computed.tune.bars):
            raise PathError(f"There is no bar at place {place}.", field="place", remedy="Choose a bar of the tune.")
        return place

    def number_of(self, index: int) -> int:
        """The number of a written bar, or the one it would have where the tune has become shorter."""
        bars = self.computed.tune.bars
        return bars[index].number if index < len(bars) else bars[-1].number + index + 1 - len(bars)

    def standing(self, stored: StoredArrangement) -> Bench:
        """The same once it has been kept."""
        return replace(self, stored=stored)

    def document(self) -> Document:
        """Everything a step keeps."""
        return step_document(self.setup, self.arrangement, self.sheet, self.renewed)


def step_document(
    setup: StoredSetup, arrangement: Arrangement, sheet: SheetOptions, renewed: Sequence[Renewal] = ()
) -> Document:
    """What a step keeps of a setup, of what was decided on its ladder, of its sheet, and of what was handed out."""
    document: Document = {
        "decisions": decisions_document(decided(arrangement)),
        "setup": where_document(setup),
        "options": setup.options,
        "patterns": [list(row) for row in setup.patterns],
        "sheet": asdict(sheet),
    }
    return document | ({"renewed": [list(row) for row in renewed]} if renewed else {})


def where_document(setup: StoredSetup) -> Document:
    """Where an arrangement is played."""
    return {
        "tuning": setup.tuning,
        "capo": setup.capo,
        "fifth": setup.fifth,
        "sounding_key": setup.sounding_key,
    }


def first_arrangement(computed: Ladder, rung: int) -> Arrangement:
    """What stands before anything is decided: every bar on one rung, as far as there is one."""
    return Arrangement(level_path(computed, min(rung, len(computed.rungs))), bars=bar_marks(computed.tune))


@dataclass(frozen=True)
class Kept:
    """What the data file has of an arrangement, all of one moment; `sheet` is how the teacher has sheets by default."""

    setup: StoredSetup
    tune: StoredTune
    stored: StoredArrangement
    siblings: tuple[StoredSetup, ...]
    sheet: Mapping[str, object] = field(default_factory=dict)
    handed: StoredHandOut | None = None

    def called(self, shop: Workshop) -> str:
        """What tells the arrangement from the tune's others."""
        return names_of(self.siblings, shop)[self.setup.id]


def read_kept(connection: sqlite3.Connection, setup_id: int) -> Kept:
    """An arrangement as it is kept; raises NotFoundError."""
    setup = get_setup(connection, setup_id)
    siblings = tuple(setups_of_tune(connection, setup.tune_id))
    tune, stored = get_tune(connection, setup.tune_id), get_arrangement(connection, setup_id)
    handed = newest_hand_out(connection, setup_id, engine())
    return Kept(setup, tune, stored, siblings, sheet_defaults(connection), handed)


def open_bench(db: Database, setup_id: int, shop: Workshop) -> Bench:
    """An arrangement as it stands: read in one transaction, computed outside it.

    Raises NotFoundError, and FitError where the tune has left the setup.
    """
    with db.read() as connection:
        kept = read_kept(connection, setup_id)
    return bench_of(kept, shop)


def bench_of(kept: Kept, shop: Workshop) -> Bench:
    """The same from what has been read already."""
    setup, tune, stored = kept.setup, kept.tune, kept.stored
    computed = ladder_of(tune, setup, shop)
    if stored.document is None:
        arrangement = first_arrangement(computed, setup.first_rung)
    else:
        arrangement = bring_along(computed, read_decisions(stored.document["decisions"], computed.idiom.right))
    options = read_options({**kept.sheet, **(stored.document or {}).get("sheet", {})})
    called, several = kept.called(shop), len(kept.siblings) > 1
    renewed = tuple(
        (int(id), str(source), int(rung)) for id, source, rung in (stored.document or {}).get("renewed", ())
    )
    bench = Bench(setup, tune, computed, arrangement, stored, options, called, several, kept.handed, renewed)
    return with_handed_out(bench)


# -- what was handed out


def with_handed_out(bench: Bench) -> Bench:
    """The same with the bars as they were handed out, where a newer engine computes them otherwise."""
    handed = bench.handed
    if handed is None or handed.document.get("from") != _made_from(bench.setup):
        return bench
    written = read_stored(bench.tune.abc).tune
    assert written is not None
    left = HandedOut(
        read_decisions(handed.document["bars"], bench.computed.idiom.right), tuple(handed.document["sources"])
    )
    renewed = frozenset((source, rung) for id, source, rung in bench.renewed if id == handed.id)
    arrangement = decided(bench.arrangement)
    cells = changed_since(bench.computed, arrangement, left, written, renewed)
    return replace(bench, arrangement=as_handed_out(arrangement, cells))


def handed_out_words(bench: Bench) -> str:
    """What a bar is called that is kept as it was handed out."""
    return f"as handed out on {bench.handed.made_at[:10]}" if bench.handed else ""


def renew(bench: Bench, places: Collection[int]) -> Bench:
    """Bars that were as they were handed out become what is computed now."""
    written = read_stored(bench.tune.abc).tune
    assert written is not None and bench.handed is not None
    sources = sources_of(written)
    given_up = [
        (bench.handed.id, sources[index], rung)
        for (index, rung), cell in sorted(bench.arrangement.cells.items())
        if cell.kind is Kind.HANDED_OUT and index in places
    ]
    return with_handed_out(replace(bench, renewed=tuple(dict.fromkeys([*bench.renewed, *given_up]))))


def hand_out_engine(bench: Bench) -> str:
    """The engine that what leaves now counts as computed by: an older one where bars are still as it played them."""
    still = any(cell.kind is Kind.HANDED_OUT for cell in bench.arrangement.cells.values())
    return bench.handed.engine if bench.handed and still else engine()


def hand_out_document(bench: Bench) -> Document:
    """What is kept of an arrangement when it leaves."""
    written = read_stored(bench.tune.abc).tune
    assert written is not None
    left = hand_out(bench.ladder, bench.arrangement, written)
    return {
        "from": _made_from(bench.setup),
        "sources": list(left.sources),
        "bars": decisions_document(left.bars),
    }


def _made_from(setup: StoredSetup) -> Document:
    """What decides, beside the tune and the engine, how a bar is played."""
    return {
        "instrument": setup.instrument,
        "idiom": setup.idiom,
        **where_document(setup),
        "options": setup.options,
        "patterns": [list(row) for row in setup.patterns],
    }


def source_of(bench: Bench) -> Source:
    """What the arrangement is made from, to be taken elsewhere."""
    setup = bench.setup
    return Source(
        bench.tune.abc,
        setup.name,
        setup.instrument,
        setup.idiom,
        setup.tuning,
        setup.capo,
        setup.fifth,
        setup.sounding_key,
        setup.options,
        asdict(bench.sheet),
        kept_as_handed_out(bench.arrangement, range(len(bench.computed.tune.bars)), handed_out_words(bench)),
        setup.patterns,
    )
