"""Kept cells on a ladder: put in their places, joins graded anew; set aside where tune or setup no longer fit them."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace

from nailhead.core.arrange.arrangement import (
    Arrangement,
    Aside,
    KeptCell,
    fitted_path,
    melody_onsets,
)
from nailhead.core.arrange.editing import spelt
from nailhead.core.arrange.grade import grade_bar, grade_join
from nailhead.core.arrange.keeping import keep_down
from nailhead.core.arrange.ladder import Ladder, first_steps
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Role, Stroke
from nailhead.core.errors import NailheadError
from nailhead.core.music.structure import beat_words
from nailhead.core.music.tune import sounding_notes


def with_kept(ladder: Ladder, arrangement: Arrangement) -> Ladder:
    """The ladder with the teacher's cells in it; their joins, and those into them, graded as they then are."""
    rungs = [list(rung) for rung in ladder.rungs]
    for (index, rung), cell in arrangement.cells.items():
        number = ladder.tune.bars[index].number
        rungs[rung - 1][index] = replace(cell.bar, number=number, rung=rung)
    following = first_steps(ladder.ground.joins)
    for index, rung in sorted(touched(ladder, arrangement.cells)):
        bar, after = rungs[rung - 1][index], following.get(index)
        if after is not None:
            rungs[rung - 1][index] = keep_down(replace(bar, join=grade_join(bar, rungs[rung - 1][after])))
    return replace(ladder, rungs=tuple(map(tuple, rungs)))


def touched(ladder: Ladder, cells: Collection[tuple[int, int]]) -> set[tuple[int, int]]:
    """Some cells, and those played just before them on their rung: their joins hang together."""
    steps = first_steps(ladder.ground.joins).items()
    return set(cells) | {(index, rung) for index, after in steps for at, rung in cells if at == after}


def bring_along(ladder: Ladder, arrangement: Arrangement) -> Arrangement:
    """The arrangement on a ladder whose tune or setup may have changed.

    Cells that still play their bar's melody come along; the others are set aside with the reason, and those that
    were set aside and fit again come back. The path grows or shrinks with the tune.
    """
    count, top = len(ladder.tune.bars), len(ladder.rungs)
    moved = replace(
        arrangement,
        rungs=fitted_path(ladder, arrangement.rungs, otherwise=2),
        second=_fitted_second(arrangement.second, count, top),
        split=frozenset(index for index in arrangement.split if index < count),
        locked=frozenset(index for index in arrangement.locked if index < count),
        cells={},
        aside=(),
    )
    cells: dict[tuple[int, int], KeptCell] = {}
    aside: list[Aside] = []
    waiting = [(one.index, one.rung, one.cell) for one in arrangement.aside]
    offered = [(index, rung, cell) for (index, rung), cell in sorted(arrangement.cells.items())]
    for index, rung, cell in [*offered, *waiting]:
        found, why = _at_home(ladder, index, rung, cell)
        if found is not None and (index, rung) not in cells:
            cells[index, rung] = found
        else:
            aside.append(Aside(index, rung, cell, why or "another cell is kept there."))
    moved = replace(moved, cells=cells, aside=tuple(aside))
    return replace(moved, locked=frozenset(at for at in moved.locked if (at, moved.rungs[at]) in cells))


def _fitted_second(second: tuple[int, ...], count: int, top: int) -> tuple[int, ...]:
    if not second:
        return ()
    path = [min(top, rung) for rung in second[:count]]
    return tuple(path + [0] * (count - len(path)))


def _at_home(ladder: Ladder, index: int, rung: int, cell: KeptCell) -> tuple[KeptCell | None, str]:
    """The cell on its bar as that is now, or why it cannot be."""
    if index >= len(ladder.tune.bars):
        return None, "the tune no longer has this bar."
    if rung > len(ladder.rungs):
        return None, f"this way of playing has no rung {rung}."
    written = ladder.tune.bars[index]
    if cell.bar.length != written.length or cell.melody != melody_onsets(ladder, index):
        return None, f"the melody of bar {written.number} has changed."
    pitches = {note.onset: note.pitch for note in sounding_notes(ladder.tune) if note.bar == index}
    setup, offset = ladder.fit.setup, ladder.structure.offsets[index]
    strokes = []
    for stroke in cell.bar.strokes:
        notes = []
        for note in stroke.notes:
            try:
                cents = setup.sounding_cents(note.place)
            except (NailheadError, LookupError, ValueError):
                return None, f"string {note.place.string} fret {note.place.fret} is not on this neck."
            wanted = pitches.get(stroke.onset)
            if note.role is Role.MELODY and not note.held and wanted and setup.cents_of(wanted) != cents:
                where = beat_words(stroke.onset, offset, written.metre.unit)
                return (
                    None,
                    f"the melody's {wanted} {where} is not on string {note.place.string} fret {note.place.fret}.",
                )
            notes.append(_sounding(note, wanted, ladder))
        strokes.append(replace(stroke, notes=tuple(notes)))
    bar = replace(cell.bar, number=written.number, strokes=tuple(strokes))
    return replace(cell, bar=graded(ladder, index, bar)), ""


def _sounding(note: FrettedNote, wanted: object, ladder: Ladder) -> FrettedNote:
    """The note with the pitch its place has now, spelt in the key."""
    cents = ladder.fit.setup.sounding_cents(note.place)
    if ladder.fit.setup.cents_of(note.pitch) == cents:
        return note
    return replace(note, pitch=spelt(ladder.fit.setup, cents, ladder.fit.sounding_key))


def graded(ladder: Ladder, index: int, bar: ArrangedBar) -> ArrangedBar:
    """The bar with the grade it has now; H6 binds what the engine makes, not what a teacher decides."""
    return replace(bar, grade=grade_bar(bar, ladder.fit.setup, ladder.tune, ladder.tune.bars[index].metre))


def fresh_notes(bar: ArrangedBar, below: ArrangedBar | None) -> tuple[tuple[Stroke, FrettedNote], ...]:
    """The notes of a cell that the rung below does not strike at that moment on that place."""
    if below is None:
        return ()
    known = {(stroke.onset, note.place) for stroke in below.strokes for note in stroke.notes if not note.held}
    return tuple(
        (stroke, note)
        for stroke in bar.strokes
        for note in stroke.notes
        if not note.held and (stroke.onset, note.place) not in known
    )
