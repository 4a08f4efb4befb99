"""One tune from its ABC to the files of it: pure work, the same in any process on any machine."""

from __future__ import annotations

import gc
import hashlib
import json
from collections.abc import Callable, Sequence
from functools import lru_cache
from pathlib import Path

import nailhead
from nailhead.books.orders import Orders, Outcome, Task
from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.fit.planned import planned, wished
from nailhead.core.arrange.rows.ways import find_idiom
from nailhead.core.arrange.teacher.arrangement import Arrangement, groups_of
from nailhead.core.arrange.teacher.path import bars_on_path, grade_path, level_path
from nailhead.core.errors import NailheadError
from nailhead.core.fretboard.fit import fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.formats.abc.reader import NO_TUNE, read_entry
from nailhead.formats.arrangement_json import arrangement_document
from nailhead.formats.musicxml import write_musicxml
from nailhead.formats.text_tab import write_text
from nailhead.sheet.inks import INKS
from nailhead.sheet.page import Sheet, layout_sheet
from nailhead.sheet.pdf import write_pdf

#: Packages whose code decides what a file of a book looks like.
_DECIDING = ("books", "core", "formats", "sheet")


@lru_cache(maxsize=1)
def engine_mark() -> str:
    """A digest of the code that arranges and prints: two that have the same one give the same files."""
    root = Path(nailhead.__file__).parent
    digest = hashlib.sha256(nailhead.__version__.encode())
    for package in _DECIDING:
        for path in sorted((root / package).rglob("*.py")):
            digest.update(path.relative_to(root).as_posix().encode())
            digest.update(path.read_bytes())
    return digest.hexdigest()[:16]


@lru_cache(maxsize=1)
def settle() -> None:
    """Makes a process one for this work: it is all small values that stay, so garbage is looked for less often."""
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)


def make(task: Task) -> Outcome:
    """Arranges a tune on the rungs that are wanted and writes its files; what cannot be done is said in the outcome."""
    try:
        ladder = _ladder(task)
        paths = [level_path(ladder, rung) for rung in task.orders.rungs]
        sheets = [layout_sheet(ladder, Arrangement(path), task.orders.sheet) for path in paths if _prints(task.orders)]
        files = tuple(file for kind in task.orders.kinds for file in _WRITERS[kind](ladder, paths, sheets, task.orders))
    except NailheadError as error:
        return Outcome(task.place, task.title, refused=" ".join(str(error).split()))
    grades = tuple(grade_path(bars_on_path(ladder, path), groups_of(ladder, Arrangement(path))).value for path in paths)
    pages = sum(len(sheet.pages) for sheet in sheets)
    return Outcome(task.place, ladder.tune.title, ladder.fit.setup.label, grades, pages, files)


def _prints(orders: Orders) -> bool:
    return "pdf" in orders.kinds


def _ladder(task: Task) -> Ladder:
    orders = task.orders
    instrument = find_instrument(orders.instrument)
    idiom = find_idiom(orders.idiom or None, instrument, orders.options)
    entry = read_entry(task.line, task.text.split("\n"))
    if entry.error or entry.tune is None:
        raise entry.error or NO_TUNE
    tune = entry.tune
    wish = planned(tune, instrument, idiom, wished(idiom, orders.tuning, orders.capo, None, orders.key))
    return build_ladder(fit_tune(tune, instrument, wish), idiom, orders.options)


_Files = list[tuple[str, bytes]]


def _pdf(ladder: Ladder, paths: Sequence[tuple[int, ...]], sheets: Sequence[Sheet], orders: Orders) -> _Files:
    return [("pdf", write_pdf(sheets, ladder.tune.title, INKS[orders.sheet.colours]))]


def _text(ladder: Ladder, paths: Sequence[tuple[int, ...]], sheets: Sequence[Sheet], orders: Orders) -> _Files:
    return [("txt", "\n\n".join(write_text(ladder, path) for path in paths).encode())]


def _musicxml(ladder: Ladder, paths: Sequence[tuple[int, ...]], sheets: Sequence[Sheet], orders: Orders) -> _Files:
    return [
        (f"rung{rung}.musicxml", write_musicxml(ladder, path).encode())
        for rung, path in zip(orders.rungs, paths, strict=True)
    ]


def _json(ladder: Ladder, paths: Sequence[tuple[int, ...]], sheets: Sequence[Sheet], orders: Orders) -> _Files:
    return [
        (f"rung{rung}.json", (json.dumps(arrangement_document(ladder, path), ensure_ascii=False) + "\n").encode())
        for rung, path in zip(orders.rungs, paths, strict=True)
    ]


_WRITERS: dict[str, Callable[[Ladder, Sequence[tuple[int, ...]], Sequence[Sheet], Orders], _Files]] = {
    "pdf": _pdf,
    "text": _text,
    "musicxml": _musicxml,
    "json": _json,
}
