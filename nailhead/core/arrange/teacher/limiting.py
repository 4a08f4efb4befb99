"""The richest path that no bar and no join takes above a grade."""

from __future__ import annotations

from dataclasses import dataclass, replace

from nailhead.core.arrange.fit.ladder import Ladder, count_of, first_steps
from nailhead.core.arrange.grade import grade_join
from nailhead.core.arrange.teacher.arrangement import Arrangement, groups_of
from nailhead.core.choosing import choose_cells

#: What one rung is worth, beside a step between rungs at a bar line, and what it costs to be above the grade.
RUNG, STEP, ABOVE = 100, 1, 1_000_000


@dataclass(frozen=True, slots=True)
class _OnRung:
    rung: int
    cost: int


def limit_grade(ladder: Ladder, arrangement: Arrangement, most: int) -> tuple[Arrangement, tuple[int, ...]]:
    """The path with the greatest sum of rungs on which no bar and no join is graded above `most`.

    Locked bars stay. Also gives the written bars that are above it all the same, alone or by their join, because
    nothing easier is on the ladder; as few as can be.
    """
    groups = groups_of(ladder, arrangement)
    first = {group: index for index, group in reversed(list(enumerate(groups)))}
    candidates = {}
    for group, index in first.items():
        own = arrangement.rungs[index]
        free = range(1, len(ladder.rungs) + 1)
        candidates[group] = [
            _OnRung(rung, ABOVE * (ladder.cell(index, rung).grade.value > most) - RUNG * rung)
            for rung in ((own,) if index in arrangement.locked else free)
        ]
    steps = first_steps(ladder.ground.joins)
    written = {(groups[before], groups[after]): (before, after) for before, after in reversed(steps.items())}

    def price(before: int, one: _OnRung, after: int, two: _OnRung) -> int:
        above = _join(ladder, *written[before, after], one.rung, two.rung) > most
        return ABOVE * above + STEP * abs(one.rung - two.rung)

    chosen = choose_cells(groups, candidates, tuple(steps.items()), price).cells
    rungs = tuple(chosen[group].rung for group in groups)
    limited = replace(arrangement, rungs=rungs)
    still = [
        index
        for index, rung in enumerate(rungs)
        if ladder.cell(index, rung).grade.value > most
        or (index in steps and _join(ladder, index, steps[index], rung, rungs[steps[index]]) > most)
    ]
    return limited, tuple(still)


def _join(ladder: Ladder, before: int, after: int, one: int, two: int) -> int:
    """The grade of a join as the path shows it."""
    bar = ladder.cell(before, one)
    return (
        bar.join.value
        if one == two
        else grade_join(bar, ladder.cell(after, two), ladder.idiom, count_of(ladder.tune, before)).value
    )
