"""Bars that another hand has fretted, laid on a ladder as hand-edited cells."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.teacher.arrangement import Arrangement, KeptCell, Kind, melody_onsets, together
from nailhead.core.arrange.teacher.cells import graded
from nailhead.core.arrange.teacher.editing import Desk, joined, placed, slurs_checked, usual_touch
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.values import (
    ArrangedBar,
    Finger,
    FrettedNote,
    Role,
    Shake,
    Slur,
    Stroke,
    Touch,
    Way,
    single,
)
from nailhead.core.errors import NailheadError
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.metre import Time
from nailhead.core.music.tune import Tuplet

#: What is said of a cell that came with a score.
SAID = "as the score has it"
_LEAST_RUNG = 2


class EnteredBarsError(NailheadError):
    """Bars that do not stand beside those of the tune."""


@dataclass(frozen=True, slots=True)
class Entered:
    """A note as it was written: its place, and what else was said of it. `finger` 0 where nothing was."""

    place: Place
    finger: int = 0
    by: Finger | None = None
    slur: Slur | None = None
    held: bool = False
    bend: int = 0
    harmonic: bool = False


@dataclass(frozen=True, slots=True)
class EnteredStroke:
    """What happens at one onset. `way` is None where the way of playing decides; `swept` is one movement over all."""

    onset: Time
    duration: Time
    notes: tuple[Entered, ...] = ()
    way: Way | None = None
    swept: bool = False
    tuplet: Tuplet | None = None
    shake: Shake | None = None


EnteredBar = tuple[EnteredStroke, ...]


def enter_bars(ladder: Ladder, bars: Sequence[EnteredBar]) -> Arrangement:
    """An arrangement whose path is these bars, one for each written bar of the tune.

    They lie on the rung that has as many strokes; equal bars that are played differently are split. Raises PathError
    for a place that is not on the neck, EnteredBarsError where the tune has other bars.
    """
    _check_count(ladder, bars)
    rung = _rung_of(ladder, bars)
    made = [_bar(Desk(ladder, index), entered, rung) for index, entered in enumerate(bars)]
    first: dict[int, EnteredBar] = {}
    split = frozenset(
        index
        for index, group in enumerate(ladder.structure.classes)
        if first.setdefault(group, bars[index]) != bars[index]
    )
    cells = {
        (index, rung): KeptCell(Kind.EDITED, bar, SAID, melody_onsets(ladder, index)) for index, bar in enumerate(made)
    }
    return Arrangement(level_path(ladder, rung), split=split, cells=cells)


def with_changes(ladder: Ladder, arrangement: Arrangement, bars: Sequence[EnteredBar]) -> tuple[Arrangement, list[int]]:
    """The arrangement with those bars of its path that are fretted otherwise in `bars`, and their places.

    `ladder` has the kept cells in it. Raises as `enter_bars`.
    """
    _check_count(ladder, bars)
    cells, split, changed = dict(arrangement.cells), set(arrangement.split), []
    for index, (rung, entered) in enumerate(zip(arrangement.rungs, bars, strict=True)):
        if _struck_places(ladder.cell(index, rung).strokes) == _struck_places(entered):
            continue
        changed.append(index)
        bar = _bar(Desk(ladder, index), entered, rung)
        cells[index, rung] = KeptCell(Kind.EDITED, bar, SAID, melody_onsets(ladder, index))
    for index in changed:
        now = _struck_places(bars[index])
        if any(_struck_places(bars[mate]) != now for mate in together(ladder, arrangement, index)):
            split.add(index)
    return replace(arrangement, cells=cells, split=frozenset(split)), changed


def _struck_places(strokes: Sequence[Stroke] | Sequence[EnteredStroke]) -> set[tuple[Time, Place]]:
    return {(stroke.onset, note.place) for stroke in strokes for note in stroke.notes if not note.held}


def _check_count(ladder: Ladder, bars: Sequence[EnteredBar]) -> None:
    if len(bars) != len(ladder.tune.bars):
        raise EnteredBarsError(
            f"There are {len(bars)} bars for a tune of {len(ladder.tune.bars)}.",
            field="bars",
            remedy="Give one for each bar of the tune.",
        )


def _rung_of(ladder: Ladder, bars: Sequence[EnteredBar]) -> int:
    """The rung with the nearest number of strokes; never the bare melody where there is another."""
    wanted = sum(bool(stroke.notes) for bar in bars for stroke in bar)
    counts = {
        number: sum(bool(stroke.notes) for bar in rung for stroke in bar.strokes)
        for number, rung in enumerate(ladder.rungs, start=1)
        if number >= min(_LEAST_RUNG, len(ladder.rungs))
    }
    return min(counts, key=lambda number: (abs(counts[number] - wanted), number))


def _bar(desk: Desk, entered: EnteredBar, rung: int) -> ArrangedBar:
    strokes: tuple[Stroke, ...] = ()
    for one in entered:
        made = [(_note(desk, one, note, strokes), note.by) for note in one.notes]
        made.sort(key=lambda item: item[0].place.string)
        stroke = Stroke(one.onset, one.duration, tuplet=one.tuplet, shake=_shake(desk, one))
        strokes = (*strokes, replace(stroke, touches=_touches(desk, (*strokes, stroke), one, made)))
    bar = ArrangedBar(desk.number, rung, slurs_checked(strokes))
    return graded(desk.ladder, desk.index, bar)


def _shake(desk: Desk, entered: EnteredStroke) -> Shake | None:
    """How it is shaken; a trill only with a fret that the neck has."""
    shake = entered.shake
    last = desk.setup.string(entered.notes[0].place.string).last_fret if entered.notes else 0
    return None if shake and shake.fret is not None and shake.fret > last else shake


def _note(desk: Desk, stroke: EnteredStroke, entered: Entered, before: tuple[Stroke, ...]) -> FrettedNote:
    note = placed(desk, entered.place, stroke.onset, before, entered.harmonic)
    finger = entered.finger if entered.finger and entered.place.fret else note.finger
    role = Role.MELODY if entered.held else note.role
    return replace(note, finger=finger, role=role, held=entered.held, slur=entered.slur, bend=entered.bend)


def _touches(
    desk: Desk, strokes: tuple[Stroke, ...], entered: EnteredStroke, made: list[tuple[FrettedNote, Finger | None]]
) -> tuple[Touch, ...]:
    """What sounds the last of `strokes`: as written, as its notes show, or as the way of playing does it."""
    notes = tuple(note for note, _ in made)
    if not notes:
        return ()
    if all(note.held for note in notes):
        return single(None, Way.RINGS, *notes)
    if all(note.held or (note.slur and not note.slur.grace and not note.slur.slow) for note in notes):
        return single(None, Way.LEFT, *notes)
    right = desk.right
    if len(notes) == 1:
        ((note, by),) = made
        # A single finger that strikes is told apart only where the others strike too.
        said = by if right.fingered or by is Finger.THUMB else None
        row = right.touch(said, entered.way) if said or entered.way else None
        usual = usual_touch(desk, strokes, len(strokes) - 1, note.place)
        return single(*((row.by, row.way) if row else usual), note)
    if not entered.swept and right.fingered and all(by and right.touch(by, None) for _, by in made):
        return tuple(Touch(by, right.way_of(by), (note,)) for note, by in made if by)
    return joined(desk, notes, entered.way or (Way.DOWN if entered.swept else None))
