"""An arrangement in the order it is played: repeats, endings, the second time's own way."""

from __future__ import annotations

import itertools
from collections import Counter
from dataclasses import dataclass, replace

from nailhead.core.arrange.fit.ladder import Ladder, count_of
from nailhead.core.arrange.grade import grade_join
from nailhead.core.arrange.teacher.arrangement import Arrangement, groups_of, second_path
from nailhead.core.arrange.teacher.path import PathGrade, bars_on_path, grade_path
from nailhead.core.arrange.values import ArrangedBar, Grade
from nailhead.core.music.form import played_bars


@dataclass(frozen=True, slots=True)
class Played:
    """Written bar `index` as it is played the `time`-th time (1 the first)."""

    index: int
    time: int
    bar: ArrangedBar


def perform(ladder: Ladder, arrangement: Arrangement) -> tuple[Played, ...]:
    """Every bar in playing order. `ladder` has the kept cells in it.

    From the second time on the second path is played; where both are the solo, its varied bars, unless the teacher
    keeps a cell of her own there.
    """
    first = bars_on_path(ladder, arrangement.rungs)
    again = second_bars(ladder, arrangement)
    times: Counter[int] = Counter()
    played = []
    for index in played_bars(ladder.tune):
        times[index] += 1
        bar = again.get(index, first[index]) if times[index] > 1 else first[index]
        played.append(Played(index, times[index], bar))
    return tuple(played)


def second_bars(ladder: Ladder, arrangement: Arrangement) -> dict[int, ArrangedBar]:
    """The written bars that are played otherwise the second time."""
    path = second_path(arrangement)
    bars = bars_on_path(ladder, path)
    times = Counter(played_bars(ladder.tune))
    found = {}
    for index, (rung, first) in enumerate(zip(path, arrangement.rungs, strict=True)):
        if times[index] < 2:
            continue
        if rung == ladder.solo and index in ladder.second and (index, rung) not in arrangement.cells:
            found[index] = ladder.second[index]
        elif rung != first:
            found[index] = bars[index]
    return found


def grade_second(ladder: Ladder, arrangement: Arrangement) -> PathGrade | None:
    """The grade of what is played from the second time on, where that is something else.

    Its joins are those of the playing order, the ones from the first time into the second among them.
    """
    if not second_bars(ladder, arrangement):
        return None
    played = perform(ladder, arrangement)
    bars = {one.index: replace(one.bar, join=Grade(1)) for one in played}
    for before, after in itertools.pairwise(played):
        join = grade_join(before.bar, after.bar, ladder.idiom, count_of(ladder.tune, before.index))
        if max(before.time, after.time) > 1 and join.value > bars[before.index].join.value:
            bars[before.index] = replace(bars[before.index], join=join)
    numbers = groups_of(ladder, arrangement)
    order = sorted(bars)
    return grade_path(tuple(bars[index] for index in order), tuple(numbers[index] for index in order))
