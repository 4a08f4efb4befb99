"""How an arrangement is played: the pace asked for, or the tune's own, and the bars in playing order."""

from __future__ import annotations

from collections.abc import Sequence

from nailhead.core.arrange.teacher.performing import Played
from nailhead.core.sound.playing import Pace, PlayedBar, pace_at
from nailhead.web.bench import Bench


def pace_of(bench: Bench, tempo: int | None, swing: float, count_in: int) -> Pace:
    """The pace asked for; raises PlayingError for one that nobody plays."""
    return pace_at(bench.computed.tune, tempo, swing, count_in)


def measures_of(bench: Bench, played: Sequence[Played]) -> list[PlayedBar]:
    """Bars as they are played, each with its metre and where in the full bar it begins."""
    bars, offsets = bench.computed.tune.bars, bench.computed.structure.offsets
    return [PlayedBar(one.bar, bars[one.index].metre, offsets[one.index]) for one in played]
