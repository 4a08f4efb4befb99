"""A path: the rung chosen for each bar, the bars it picks, and how hard it is."""

from __future__ import annotations

from dataclasses import dataclass, replace

from nailhead.core.arrange.fit.ladder import Ladder, count_of, first_steps
from nailhead.core.arrange.grade import grade_join
from nailhead.core.arrange.left.staying import keep_down
from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.errors import PathError

Path = tuple[int, ...]


@dataclass(frozen=True, slots=True)
class HardSpot:
    """A place to practise: the written bar `index`, or the join behind it, its grade and the heaviest reason."""

    index: int
    join: bool
    grade: int
    why: str


@dataclass(frozen=True, slots=True)
class PathGrade:
    """The grade of a path: nearer its hardest bars than its mean (handbook §6). `spots` are its hardest three."""

    value: int
    hardest: tuple[int, ...]
    spots: tuple[HardSpot, ...] = ()


def level_path(ladder: Ladder, rung: int) -> Path:
    """Every bar on one rung."""
    ladder.cell(0, rung)
    return (rung,) * len(ladder.tune.bars)


def check_path(ladder: Ladder, path: Path) -> Path:
    """The path itself if it names a rung for every bar; raises PathError."""
    if len(path) != len(ladder.tune.bars):
        raise PathError(
            f"The path has {len(path)} bars and the tune {len(ladder.tune.bars)}.",
            field="path",
            remedy="Name one rung for each written bar.",
        )
    for bar, rung in zip(ladder.tune.bars, path, strict=True):
        if not 1 <= rung <= len(ladder.rungs):
            raise PathError(
                f"Bar {bar.number} is set to rung {rung}.",
                field="path",
                bar=bar.number,
                remedy=f"Choose 1 to {len(ladder.rungs)}.",
            )
    return path


def bars_on_path(ladder: Ladder, path: Path) -> tuple[ArrangedBar, ...]:
    """The arranged bars a path picks, in written order; where it changes rung the join is graded as it then is."""
    picked = [ladder.cell(index, rung) for index, rung in enumerate(check_path(ladder, path))]
    following = first_steps(ladder.ground.joins)
    return tuple(
        keep_down(
            replace(bar, join=grade_join(bar, picked[after], ladder.idiom, count_of(ladder.tune, index))), picked[after]
        )
        if (after := following.get(index)) is not None and path[after] != path[index]
        else bar
        for index, bar in enumerate(picked)
    )


def grade_path(bars: tuple[ArrangedBar, ...], classes: tuple[int, ...]) -> PathGrade:
    """Mean of the hardest quarter of the *different* bars, joins counted with their bars.

    Bars with the same number in `classes` are one bar to practise, with the hardest of their joins.
    """
    grades: dict[int, int] = {}
    first: dict[int, int] = {}
    for index, (bar, number) in enumerate(zip(bars, classes, strict=True)):
        at = first.setdefault(number, index)
        grades[at] = max(grades.get(at, 0), bar.grade.value, bar.join.value)
    hardest = sorted(grades, key=lambda at: (-grades[at], at))
    quarter = hardest[: max(1, len(hardest) // 4)]
    value = round(sum(grades[at] for at in quarter) / len(quarter))
    return PathGrade(value, tuple(hardest[:3]), _hardest_spots(bars, classes))


def _hardest_spots(bars: tuple[ArrangedBar, ...], classes: tuple[int, ...]) -> tuple[HardSpot, ...]:
    """The three highest grades among different bars and joins; of equals the heavier, then the earlier."""
    found: dict[tuple[int, int, bool], tuple[int, int, HardSpot]] = {}
    for index, bar in enumerate(bars):
        after = classes[index + 1] if index + 1 < len(bars) else -1
        for grade, key, join in (
            (bar.grade, (classes[index], -1, False), False),
            (bar.join, (classes[index], after, True), True),
        ):
            points = sum(reason.points for reason in grade.reasons)
            why = grade.reasons[0].sentence if grade.reasons else ""
            if why and key not in found:
                found[key] = (grade.value, points, HardSpot(index, join, grade.value, why))
    ranked = sorted(found.values(), key=lambda item: (-item[0], -item[1], item[2].index))
    return tuple(spot for _, _, spot in ranked[:3])
