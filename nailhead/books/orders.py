"""What is wanted of a book, as values: read once from the command, sent whole to whoever does the work."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from nailhead.core.arrange.rows.ways import USUAL, Options, find_idiom
from nailhead.core.errors import NailheadError
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.sheet.options import SheetOptions

#: Kinds of file that a tune may be written as, the usual one first.
KINDS = ("pdf", "text", "musicxml", "json")
_USUAL_SHEET = SheetOptions()
_PIECE = re.compile(r"(\d{1,2})(?:-(\d{1,2}))?")


class BookError(NailheadError):
    """A book that cannot be made as it is asked for."""


@dataclass(frozen=True, slots=True)
class Orders:
    """How every tune of a book is arranged and what is written of it.

    Where `tuning` or `capo` is None the planner chooses for each tune. `rungs` are in the order they are printed.
    """

    instrument: str
    idiom: str
    rungs: tuple[int, ...]
    key: str | None = None
    tuning: str | None = None
    capo: int | None = None
    options: Options = USUAL
    kinds: tuple[str, ...] = (KINDS[0],)
    sheet: SheetOptions = _USUAL_SHEET


@dataclass(frozen=True, slots=True)
class Task:
    """One tune of a book: its place from 1 on, the line its ABC begins on, and the ABC itself."""

    place: int
    line: int
    title: str
    text: str
    orders: Orders


@dataclass(frozen=True, slots=True)
class Outcome:
    """What became of a task: files by their ending, or why there are none.

    `pages` counts those of the PDF. `broken` is said of work that was ended or lost, and may do better another time.
    """

    place: int
    title: str
    setup: str = ""
    grades: tuple[int, ...] = ()
    pages: int = 0
    files: tuple[tuple[str, bytes], ...] = ()
    refused: str = ""
    broken: bool = False


def check_orders(orders: Orders) -> Orders:
    """The same with the idiom by its name; raises a NailheadError that names the field where something is unknown."""
    instrument = find_instrument(orders.instrument)
    idiom = find_idiom(orders.idiom or None, instrument, orders.options)
    top = len(idiom.rungs)
    for rung in orders.rungs:
        if not 1 <= rung <= top:
            raise BookError(
                f"There is no rung {rung} for {instrument.name}, {idiom.name}.",
                field="rungs",
                remedy=f"Choose among 1 to {top}." if top > 1 else "It has rung 1 alone.",
            )
    if orders.tuning is not None:
        instrument.tuning(orders.tuning)
    return replace(orders, idiom=idiom.id)


def read_rungs(text: str) -> tuple[int, ...]:
    """ "1-3,6" as 1, 2, 3, 6, each once, in that order; raises BookError."""
    found: dict[int, None] = {}
    for piece in text.replace(" ", "").split(","):
        parts = _PIECE.fullmatch(piece)
        if not parts or (parts[2] and int(parts[2]) < int(parts[1])):
            raise BookError(f"“{text}” names no rungs.", field="rungs", remedy="Write them like 1-7 or 1,3,6.")
        found |= dict.fromkeys(range(int(parts[1]), int(parts[2] or parts[1]) + 1))
    return tuple(found)


def read_kinds(text: str) -> tuple[str, ...]:
    """ "pdf,text" as it stands, each once; raises BookError."""
    found = tuple(dict.fromkeys(text.replace(" ", "").split(",")))
    for kind in found:
        if kind not in KINDS:
            raise BookError(f"There is no kind of file “{kind}”.", field="to", remedy=f"Choose: {', '.join(KINDS)}.")
    return found
