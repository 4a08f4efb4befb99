"""An arrangement in the order it is played: repeats, endings, the second time's own way."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from nailhead.core.arrange.arrangement import Arrangement, second_path
from nailhead.core.arrange.building import SOLO
from nailhead.core.arrange.ladder import Ladder
from nailhead.core.arrange.path import bars_on_path
from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.music.tune import performance


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
    for index in performance(ladder.tune.bars):
        times[index] += 1
        bar = again.get(index, first[index]) if times[index] > 1 else first[index]
        played.append(Played(index, times[index], bar))
    return tuple(played)


def second_bars(ladder: Ladder, arrangement: Arrangement) -> dict[int, ArrangedBar]:
    """The written bars that are played otherwise the second time."""
    path = second_path(arrangement)
    bars = bars_on_path(ladder, path)
    times = Counter(performance(ladder.tune.bars))
    found = {}
    for index, (rung, first) in enumerate(zip(path, arrangement.rungs, strict=True)):
        if times[index] < 2:
            continue
        if rung == SOLO and index in ladder.second and (index, SOLO) not in arrangement.cells:
            found[index] = ladder.second[index]
        elif rung != first:
            found[index] = bars[index]
    return found
