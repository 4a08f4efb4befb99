"""Kept cells on a ladder: put in their places, joins graded anew; set aside where tune or setup no longer fit them."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import replace

from nailhead.core.arrange.fit.ladder import Ladder, count_of, first_steps
from nailhead.core.arrange.grade import grade_bar, grade_join
from nailhead.core.arrange.left.staying import keep_down
from nailhead.core.arrange.teacher.arrangement import (
    Arrangement,
    Aside,
    KeptCell,
    fitted_path,
    melody_onsets,
)
from nailhead.core.arrange.tones import tones_on
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Role, Stroke
from nailhead.core.errors import NailheadError
from nailhead.core.music.alignment import align, bar_marks
from nailhead.core.music.metre import Time
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
            rungs[rung - 1][index] = keep_down(
                replace(bar, join=grade_join(bar, rungs[rung - 1][after], ladder.idiom, count_of(ladder.tune, index)))
            )
    return replace(ladder, rungs=tuple(map(tuple, rungs)))


def touched(ladder: Ladder, cells: Collection[tuple[int, int]]) -> set[tuple[int, int]]:
    """Some cells, and those played just before them on their rung: their joins hang together."""
    steps = first_steps(ladder.ground.joins).items()
    return set(cells) | {(index, rung) for index, after in steps for at, rung in cells if at == after}


def bring_along(ladder: Ladder, arrangement: Arrangement) -> Arrangement:
    """The arrangement on a ladder whose tune or setup may have changed.

    Decisions hang on what a bar is: a bar that moved takes them along, a bar that came in is as its neighbour before.
    Cells that still play their bar's melody come along; the others are set aside with the reason, and those that
    were set aside and fit again come back.
    """
    count, top, marks = len(ladder.tune.bars), len(ladder.rungs), bar_marks(ladder.tune)
    places = align(arrangement.bars, marks) if arrangement.bars else tuple(range(len(arrangement.rungs)))

    def now(index: int) -> int | None:
        """Where a bar is now; one that waits behind the tune's end stays there."""
        return places[index] if index < len(places) else index

    cells: dict[tuple[int, int], KeptCell] = {}
    aside: list[Aside] = []
    old = arrangement.bars
    offered = [
        Aside(index, rung, cell, "", old[index] if index < len(old) else "")
        for (index, rung), cell in sorted(arrangement.cells.items())
    ]
    for one in [*offered, *arrangement.aside]:
        at = _place_of(one, now(one.index), marks, waits=bool(one.why))
        found, why = _at_home(ladder, at, one.rung, one.cell)
        if at is not None and found is not None and (at, one.rung) not in cells:
            cells[at, one.rung] = found
        else:
            index = one.index if at is None else at
            aside.append(replace(one, index=index, why=why or "another cell is kept there."))
    rungs = fitted_path(ladder, _moved(arrangement.rungs, places, count), otherwise=2)
    locked = {at for at in map(now, arrangement.locked) if at is not None and at < count}
    return replace(
        arrangement,
        rungs=rungs,
        second=_fitted_second(_moved(arrangement.second, places, count, new=0), count, top),
        split=frozenset(at for at in map(now, arrangement.split) if at is not None and at < count),
        locked=frozenset(at for at in locked if (at, rungs[at]) in cells),
        cells=cells,
        aside=tuple(aside),
        bars=marks,
    )


def _place_of(one: Aside, now: int | None, marks: Sequence[str], waits: bool) -> int | None:
    """The bar a cell belongs to now; one that waits goes to the nearest bar that is what its own was."""
    if not waits or not one.mark:
        return now
    like = [at for at, mark in enumerate(marks) if mark == one.mark]
    wanted = one.index if now is None else now
    return min(like, key=lambda at: (abs(at - wanted), at), default=now)


def _moved(row: Sequence[int], places: Sequence[int | None], count: int, new: int | None = None) -> tuple[int, ...]:
    """A value for each bar as it stands now; a bar that came in has `new`, or that of its neighbour before it."""
    if not row:
        return ()
    found: list[int | None] = [None] * count
    for value, place in zip(row, places, strict=False):
        if place is not None and place < count:
            found[place] = value
    last = next((value for value in found if value is not None), row[0])
    done: list[int] = []
    for here in found:
        last = last if here is None else here
        done.append(last if here is not None or new is None else new)
    return tuple(done)


def _fitted_second(second: tuple[int, ...], count: int, top: int) -> tuple[int, ...]:
    if not any(second):
        return ()
    path = [min(top, rung) for rung in second[:count]]
    return tuple(path + [0] * (count - len(path)))


def _at_home(ladder: Ladder, index: int | None, rung: int, cell: KeptCell) -> tuple[KeptCell | None, str]:
    """The cell on its bar as that is now, or why it cannot be."""
    if index is None or index >= len(ladder.tune.bars):
        return None, "the tune no longer has this bar."
    if rung > len(ladder.rungs):
        return None, f"this way of playing has no rung {rung}."
    written = ladder.tune.bars[index]
    if cell.bar.length != written.length or cell.melody != melody_onsets(ladder, index):
        return None, f"the melody of bar {written.number} has changed."
    if not _is_sound(cell.bar):
        return None, "its strokes do not follow each other."
    pitches = {note.onset: note.pitch for note in sounding_notes(ladder.tune) if note.bar == index}
    setup, offset, early = ladder.fit.setup, ladder.structure.offsets[index], dict(cell.bar.early)
    for stroke in cell.bar.strokes:
        wanted = pitches.get(early.get(stroke.onset, stroke.onset))
        for note in stroke.notes:
            try:
                there = not wanted or setup.holds(note.place, wanted)
            except (NailheadError, LookupError, ValueError):
                return None, f"string {note.place.string} fret {note.place.fret} is not on this neck."
            if note.role is Role.MELODY and not note.held and not there:
                where = beat_words(stroke.onset, offset, written.metre.unit)
                return (
                    None,
                    f"the melody's {wanted} {where} is not on string {note.place.string} fret {note.place.fret}.",
                )
    strokes = tuple(stroke.with_notes(lambda note: _sounding(note, ladder)) for stroke in cell.bar.strokes)
    return replace(cell, bar=graded(ladder, index, replace(cell.bar, number=written.number, strokes=strokes))), ""


def _is_sound(bar: ArrangedBar) -> bool:
    """Do the strokes fill the bar one after another, each string once, and does every slur come from something?"""
    at, sounded = Time(0), set[int]()
    for stroke in bar.strokes:
        strings = [note.place.string for note in stroke.notes]
        slurred = {note.place.string for note in stroke.notes if note.slur and not note.slur.grace}
        if stroke.onset != at or stroke.duration <= 0 or len(set(strings)) < len(strings) or not slurred <= sounded:
            return False
        at = stroke.end
        sounded |= set(strings)
    return True


def _sounding(note: FrettedNote, ladder: Ladder) -> FrettedNote:
    """The note with the pitch its place has now, spelt in the key."""
    setup = ladder.fit.setup
    if setup.holds(note.place, note.pitch):
        return note
    cents = setup.sounding_cents(note.place)
    return replace(note, pitch=tones_on(setup).name(cents, ladder.fit.sounding_key))


def graded(ladder: Ladder, index: int, bar: ArrangedBar) -> ArrangedBar:
    """The bar with the grade it has now; H6 binds what the engine makes, not what a teacher decides."""
    return replace(
        bar, grade=grade_bar(bar, ladder.fit.setup, ladder.tune, ladder.tune.bars[index].metre, ladder.idiom)
    )


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
