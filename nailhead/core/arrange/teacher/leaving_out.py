"""A ladder without its optional fillers, for who prints, hears or hands on the melody with its chords alone."""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.fit.optional import bar_without_fillers


def without_fillers(ladder: Ladder) -> Ladder:
    """The ladder with every optional note left out, in kick-off and ending too."""
    rungs = tuple(tuple(map(bar_without_fillers, bars)) for bars in ladder.rungs)
    second = {index: bar_without_fillers(bar) for index, bar in ladder.second.items()}
    return replace(ladder, rungs=rungs, second=second, fillers=False)
