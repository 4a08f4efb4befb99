"""How an arrangement is played: the pace asked for, or the tune's own, and the bars in playing order."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

from nailhead.core.arrange.grade import PRACTICE_BPM
from nailhead.core.arrange.teacher.performing import Played
from nailhead.core.music.tune import Tune
from nailhead.core.sound.playing import Pace, PlayedBar
from nailhead.web.bench import Bench


def tempo_of(tune: Tune) -> int:
    """Beats of the metre a minute: the tune's, or a practice tempo."""
    return round(tune.tempo.bpm) if tune.tempo else PRACTICE_BPM


def pace_of(bench: Bench, tempo: int | None, swing: float, count_in: int) -> Pace:
    """The pace asked for; raises PlayingError for one that nobody plays."""
    tune = bench.computed.tune
    beat = tune.tempo.beat if tune.tempo else Fraction(3, 8) if tune.metre.compound else Fraction(1, 4)
    return Pace(beat, tempo or tempo_of(tune), swing, count_in)


def measures_of(bench: Bench, played: Sequence[Played]) -> list[PlayedBar]:
    """Bars as they are played, each with its metre and where in the full bar it begins."""
    bars, offsets = bench.computed.tune.bars, bench.computed.structure.offsets
    return [PlayedBar(one.bar, bars[one.index].metre, offsets[one.index]) for one in played]
