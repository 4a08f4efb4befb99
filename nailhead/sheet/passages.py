"""What is printed, in order: kick-off, the tune, what is otherwise the second time, ending; as rows of bars."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from nailhead.core.arrange.fit.backing import backing_part
from nailhead.core.arrange.fit.ladder import Frame, Ladder
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.path import bars_on_path
from nailhead.core.arrange.teacher.performing import second_bars
from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.music.key import Key
from nailhead.core.music.metre import Time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.tune import Bar, held_at_start
from nailhead.sheet.options import SheetOptions


@dataclass(frozen=True, slots=True)
class Item:
    """One bar to print: as written, as arranged, how far into the full bar it begins.

    A new metre is shown; `held` says that its first note is tied from the bar before, `rings_on` which notes the next
    bar does not strike again, `old_key` which key ends here.
    """

    written: Bar
    bar: ArrangedBar
    offset: Time
    shows_metre: bool = False
    numbered: bool = True
    held: bool = False
    old_key: Key | None = None
    rings_on: frozenset[Pitch] = frozenset()


@dataclass(frozen=True, slots=True)
class Passage:
    """Bars that belong together under a heading ("" for the tune itself), phrase by phrase."""

    heading: str
    rows: tuple[tuple[Item, ...], ...]


def passages_of(ladder: Ladder, arrangement: Arrangement, options: SheetOptions) -> list[Passage]:
    """Everything an arrangement has to print, or its chord part; the frame of a solo where the path has a solo bar."""
    if options.backs:
        return [Passage("", tuple(rows_written(ladder, backing_part(ladder, options.part))))]
    solo = ladder.solo in arrangement.rungs
    found = []
    if solo and options.kick_off and ladder.kick_off:
        found.append(Passage("Kick-off", (_frame(ladder.kick_off),)))
    found.append(Passage("", tuple(rows_written(ladder, bars_on_path(ladder, arrangement.rungs)))))
    again = second_bars(ladder, arrangement)
    if options.second and again:
        found.append(Passage("Second time through", tuple(rows_again(ladder, again))))
    if solo and options.ending and ladder.ending:
        found.append(Passage("Ending", (_frame(ladder.ending),)))
    return found


def _frame(frame: Frame) -> tuple[Item, ...]:
    return tuple(
        Item(written, bar, Time(0), numbered=False) for written, bar in zip(frame.tune.bars, frame.bars, strict=True)
    )


def rows_written(ladder: Ladder, bars: Sequence[ArrangedBar]) -> Iterator[tuple[Item, ...]]:
    """The tune's bars, phrase by phrase."""
    written = ladder.tune.bars
    held = held_at_start(written)
    for start, stop in ladder.structure.phrases:
        yield tuple(
            Item(
                written[at],
                bars[at],
                ladder.structure.offsets[at],
                at == 0 or written[at].metre != written[at - 1].metre,
                held=held[at],
                old_key=written[at - 1].key if at and written[at].key != written[at - 1].key else None,
                rings_on=_held(bars[at + 1]) if at + 1 < len(bars) else frozenset(),
            )
            for at in range(start, stop)
        )


def rows_again(ladder: Ladder, again: Mapping[int, ArrangedBar]) -> Iterator[tuple[Item, ...]]:
    """The bars that differ, those of a phrase side by side, without repeat signs of their own."""
    held = held_at_start(ladder.tune.bars)
    for start, stop in ladder.structure.phrases:
        row = tuple(
            Item(
                _plain(ladder.tune.bars[at]),
                again[at],
                ladder.structure.offsets[at],
                held=held[at],
                rings_on=_held(again[at + 1]) if at + 1 in again else frozenset(),
            )
            for at in range(start, stop)
            if at in again
        )
        if row:
            yield row


def _held(bar: ArrangedBar) -> frozenset[Pitch]:
    """The notes that ring into a bar."""
    return frozenset(note.pitch for note in bar.strokes[0].notes if note.held)


def _plain(bar: Bar) -> Bar:
    return replace(bar, part="", opens_repeat=False, closes_repeat=0, endings=(), barline="single")
