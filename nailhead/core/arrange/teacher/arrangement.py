"""What a teacher decides on a ladder: the path, a second time through, bars that go their own way, cells she keeps.

Everything here is small and is never recomputed; the ladder around it is. Changes are functions to a new arrangement.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.teacher.path import Path, check_path, level_path
from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.errors import PathError
from nailhead.core.music.form import played_bars
from nailhead.core.music.metre import Time
from nailhead.core.music.tune import sounding_notes


class Kind(StrEnum):
    """Why a cell is kept: another way the engine offered, a hand edit, a lock on what was there, a sheet that left."""

    ALTERNATIVE = "alternative"
    EDITED = "edited"
    LOCKED = "locked"
    #: Never stored: it holds as long as nothing else has been decided (see teacher.handed_out).
    HANDED_OUT = "handed out"


@dataclass(frozen=True, slots=True)
class KeptCell:
    """A bar on a rung as the teacher wants it. `said` names the difference; `melody` the onsets it was made for."""

    kind: Kind
    bar: ArrangedBar
    said: str = ""
    melody: tuple[Time, ...] = ()


@dataclass(frozen=True, slots=True)
class Aside:
    """A kept cell that no longer fits its bar, and why; it waits until it does or is thrown away.

    `mark` tells the bar it was made for by what it was (see music.alignment); "" where that was not kept.
    """

    index: int
    rung: int
    cell: KeptCell
    why: str
    mark: str = ""


@dataclass(frozen=True)
class Arrangement:
    """`rungs` is the path; `second` that of the second time through, 0 where it is as the first.

    `split` bars no longer move with those equal to them; `locked` bars stay as they are. `cells` are by written bar
    and rung; equal bars that move together each hold the same one. `bars` tells each written bar that this was decided
    on by what it is (see music.alignment); () where that was not kept.
    """

    rungs: Path
    second: Path = ()
    split: frozenset[int] = frozenset()
    locked: frozenset[int] = frozenset()
    cells: Mapping[tuple[int, int], KeptCell] = field(default_factory=dict)
    aside: tuple[Aside, ...] = ()
    bars: tuple[str, ...] = ()


def groups_of(ladder: Ladder, arrangement: Arrangement) -> tuple[int, ...]:
    """For each written bar a number that it shares with the bars that move with it."""
    classes = ladder.structure.classes
    return tuple(index + len(classes) if index in arrangement.split else first for index, first in enumerate(classes))


def together(ladder: Ladder, arrangement: Arrangement, index: int) -> tuple[int, ...]:
    """The written bars that move with one, itself among them; raises PathError for a bar that is not there."""
    _check_index(ladder, index)
    groups = groups_of(ladder, arrangement)
    return tuple(at for at, group in enumerate(groups) if group == groups[index])


def _check_index(ladder: Ladder, index: int) -> None:
    if not 0 <= index < len(ladder.tune.bars):
        raise PathError(f"There is no bar at place {index}.", field="place", remedy="Choose a bar of the tune.")


def _all_together(ladder: Ladder, arrangement: Arrangement, places: Iterable[int]) -> list[int]:
    return sorted({other for index in places for other in together(ladder, arrangement, index)})


def set_rungs(
    ladder: Ladder, arrangement: Arrangement, places: Collection[int], rung: int, second: bool = False
) -> Arrangement:
    """Bars and those that move with them on a rung. Raises PathError for one locked bar; of several it is left out."""
    ladder.cell(0, rung)
    return _with_rungs(ladder, arrangement, places, lambda now: rung, second)


def raise_rungs(
    ladder: Ladder, arrangement: Arrangement, places: Collection[int], by: int, second: bool = False
) -> Arrangement:
    """Bars, and those that move with them, so many rungs up (or down), as far as the ladder goes."""
    top = len(ladder.rungs)
    return _with_rungs(ladder, arrangement, places, lambda now: max(1, min(top, now + by)), second)


def _with_rungs(
    ladder: Ladder, arrangement: Arrangement, places: Collection[int], rung_of: Callable[[int], int], second: bool
) -> Arrangement:
    chosen = _all_together(ladder, arrangement, places)
    free = [index for index in chosen if index not in arrangement.locked]
    if chosen and not free:
        number = ladder.tune.bars[chosen[0]].number
        raise PathError(f"Bar {number} is locked.", field="place", bar=number, remedy="Unlock it first.")
    if second:
        again = played_again(ladder)
        free = [index for index in free if index in again]
        if chosen and not free:
            number = ladder.tune.bars[chosen[0]].number
            raise PathError(
                f"Bar {number} is played once.", field="place", bar=number, remedy="Choose a bar that is repeated."
            )
    path = list(second_path(arrangement) if second else arrangement.rungs)
    for index in free:
        path[index] = rung_of(path[index])
    if not second:
        return replace(arrangement, rungs=tuple(path))
    own = tuple(rung if rung != first else 0 for rung, first in zip(path, arrangement.rungs, strict=True))
    return replace(arrangement, second=own if any(own) else ())


def second_path(arrangement: Arrangement) -> Path:
    """The rung of each written bar the second time it is played."""
    if not arrangement.second:
        return arrangement.rungs
    return tuple(own or first for own, first in zip(arrangement.second, arrangement.rungs, strict=True))


def played_again(ladder: Ladder) -> frozenset[int]:
    """The written bars that are played more than once."""
    order = list(played_bars(ladder.tune))
    seen: set[int] = set()
    again: set[int] = set()
    for index in order:
        (again if index in seen else seen).add(index)
    return frozenset(again)


def part_places(ladder: Ladder, index: int) -> tuple[int, ...]:
    """The written bars of every part that bears the same letter as the one bar `index` is in."""
    _check_index(ladder, index)
    letters, letter = [], ""
    for bar in ladder.tune.bars:
        letter = bar.part or letter
        letters.append(letter.rstrip("0123456789'′ "))
    return tuple(at for at, other in enumerate(letters) if other == letters[index])


def split_bar(ladder: Ladder, arrangement: Arrangement, index: int) -> Arrangement:
    """The bar moves alone from now on."""
    if len(together(ladder, arrangement, index)) == 1:
        number = ladder.tune.bars[index].number
        raise PathError(f"Bar {number} moves alone already.", field="place", bar=number, remedy="Nothing to split.")
    return replace(arrangement, split=arrangement.split | {index})


def join_bar(ladder: Ladder, arrangement: Arrangement, index: int) -> Arrangement:
    """A split bar goes with its equals again: their rung and what is kept for them become its own."""
    _check_index(ladder, index)
    joined = replace(arrangement, split=arrangement.split - {index})
    others = [other for other in together(ladder, joined, index) if other != index]
    if not others:
        return joined
    like = others[0]
    cells = {key: cell for key, cell in joined.cells.items() if key[0] != index}
    cells |= {(index, rung): cell for (at, rung), cell in joined.cells.items() if at == like}
    rungs = tuple(joined.rungs[like] if at == index else rung for at, rung in enumerate(joined.rungs))
    second = tuple(joined.second[like] if at == index else rung for at, rung in enumerate(joined.second))
    locked = joined.locked | {index} if like in joined.locked else joined.locked - {index}
    return replace(joined, cells=cells, rungs=rungs, second=second, locked=locked)


def lock_bars(ladder: Ladder, arrangement: Arrangement, places: Collection[int]) -> Arrangement:
    """The bars stay on their rung and just as they are, whatever is recomputed."""
    cells = dict(arrangement.cells)
    chosen = _all_together(ladder, arrangement, places)
    for index in chosen:
        key = (index, arrangement.rungs[index])
        there = cells.get(key)
        if there is None:
            cells[key] = KeptCell(Kind.LOCKED, ladder.cell(*key), melody=melody_onsets(ladder, index))
        elif there.kind is Kind.HANDED_OUT:
            cells[key] = replace(there, kind=Kind.LOCKED)
    return replace(arrangement, cells=cells, locked=arrangement.locked | set(chosen))


def unlock_bars(ladder: Ladder, arrangement: Arrangement, places: Collection[int]) -> Arrangement:
    """The bars may change again; what was kept for the lock alone is computed anew."""
    chosen = set(_all_together(ladder, arrangement, places))
    cells = {
        key: cell for key, cell in arrangement.cells.items() if key[0] not in chosen or cell.kind is not Kind.LOCKED
    }
    return replace(arrangement, cells=cells, locked=arrangement.locked - chosen)


def keep_cell(
    ladder: Ladder, arrangement: Arrangement, index: int, rung: int, kind: Kind, bar: ArrangedBar, said: str = ""
) -> Arrangement:
    """A cell as the teacher wants it, for the bar and those that move with it; raises PathError on a locked bar."""
    ladder.cell(0, rung)
    cells = dict(arrangement.cells)
    for at in together(ladder, arrangement, index):
        if at in arrangement.locked:
            number = ladder.tune.bars[at].number
            raise PathError(f"Bar {number} is locked.", field="place", bar=number, remedy="Unlock it first.")
        numbered = replace(bar, number=ladder.tune.bars[at].number)
        cells[at, rung] = KeptCell(kind, numbered, said, melody_onsets(ladder, at))
    return replace(arrangement, cells=cells)


def release_cell(ladder: Ladder, arrangement: Arrangement, index: int, rung: int) -> Arrangement:
    """The cell as the ladder computes it."""
    chosen = {(at, rung) for at in together(ladder, arrangement, index)}
    locked = {at for at, _ in chosen} & arrangement.locked
    if locked:
        number = ladder.tune.bars[min(locked)].number
        raise PathError(f"Bar {number} is locked.", field="place", bar=number, remedy="Unlock it first.")
    return replace(arrangement, cells={key: cell for key, cell in arrangement.cells.items() if key not in chosen})


def melody_onsets(ladder: Ladder, index: int) -> tuple[Time, ...]:
    """Where melody notes begin in a written bar."""
    return tuple(note.onset for note in sounding_notes(ladder.tune) if note.bar == index)


def level(ladder: Ladder, arrangement: Arrangement, rung: int) -> Arrangement:
    """The whole path on one rung, locked bars excepted."""
    path = level_path(ladder, rung)
    kept = [now if at in arrangement.locked else rung for at, now in enumerate(arrangement.rungs)]
    return replace(arrangement, rungs=tuple(kept) if arrangement.locked else path)


def fitted_path(ladder: Ladder, rungs: Sequence[int], otherwise: int) -> Path:
    """A kept path on a tune that may have more bars or fewer rungs by now."""
    count, top = len(ladder.tune.bars), len(ladder.rungs)
    path = [max(1, min(top, rung)) for rung in rungs[:count]]
    path += [path[-1] if path else min(otherwise, top)] * (count - len(path))
    return check_path(ladder, tuple(path))
