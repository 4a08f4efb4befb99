"""Writes a tune that has been played through as it is printed: a stretch that comes twice becomes a repeat.

What is heard stays the same; where only the last bar differs, the two become first and second ending.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from nailhead.core.music.tune import Bar, Tune, number_bars

#: Lengths of parts that are looked for, longest first (common practice: eight and sixteen bars).
SIZES = (32, 16, 12, 8, 4)


def fold_repeats(tune: Tune) -> Tune:
    """The tune with repeats where a stretch is played twice on end; a tune with signs of its own is left alone."""
    if any(bar.opens_repeat or bar.closes_repeat or bar.endings for bar in tune.bars):
        return tune
    bars = tune.bars
    at = 1 if tune.has_pickup else 0
    written: list[Bar] = list(bars[:at])
    while at < len(bars):
        found = next((size for size in SIZES if _comes_twice(bars, at, size)), None)
        if found is None:
            written.append(bars[at])
            at += 1
            continue
        written += _folded(bars[at : at + found], bars[at + found : at + 2 * found])
        at += 2 * found
    if len(written) == len(bars):
        return tune
    return replace(tune, bars=_lines(number_bars(written)))


def _content(bar: Bar) -> object:
    return bar.events, bar.chords, bar.metre, bar.key


def _comes_twice(bars: Sequence[Bar], at: int, size: int) -> bool:
    """Equal bar by bar but perhaps for the last, full bars all, and no tie that leads over the seam."""
    first, second = bars[at : at + size], bars[at + size : at + 2 * size]
    if len(second) < size or any(bar.length != bar.metre.length for bar in (*first, *second[:-1])):
        return False
    if first[-1].events[-1].tied or second[-1].events[-1].tied:
        return False
    return all(_content(one) == _content(other) for one, other in zip(first[:-1], second[:-1], strict=True))


def _folded(first: Sequence[Bar], second: Sequence[Bar]) -> list[Bar]:
    inner = [replace(bar, barline="single", opens_repeat=index == 0) for index, bar in enumerate(first[:-1])]
    if _content(first[-1]) == _content(second[-1]):
        opens = len(first) == 1
        return [*inner, replace(second[-1], closes_repeat=2, barline="double", opens_repeat=opens)]
    last = "final" if second[-1].barline == "final" else "double"
    return [
        *inner,
        replace(first[-1], endings=(1,), closes_repeat=2, barline="double"),
        replace(second[-1], endings=(2,), barline=last),
    ]


def _lines(bars: tuple[Bar, ...]) -> tuple[Bar, ...]:
    """Four bars to a line, a second ending with the line of the first."""
    lined, count = [], 0
    for index, bar in enumerate(bars):
        following = bars[index + 1] if index + 1 < len(bars) else None
        count += 0 if bar.number == 0 or bar.endings == (2,) else 1
        ends = (count and count % 4 == 0 and not (following and following.endings == (2,))) or following is None
        lined.append(replace(bar, new_line=bool(ends)))
    return tuple(lined)
