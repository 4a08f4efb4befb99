"""Bars as they were handed out, on a ladder that a newer engine computes: a pupil's sheet stays true."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.teacher.arrangement import Arrangement, KeptCell, Kind, melody_onsets, second_path
from nailhead.core.arrange.teacher.cells import bring_along
from nailhead.core.music.alignment import align, bar_marks
from nailhead.core.music.tune import Tune

#: A bar by what it was made from, on a rung.
Renewed = frozenset[tuple[str, int]]


@dataclass(frozen=True)
class HandedOut:
    """`bars` holds every bar of both paths as a kept cell; `sources` says of each written bar what it was made from."""

    bars: Arrangement
    sources: tuple[str, ...]


def hand_out(ladder: Ladder, arrangement: Arrangement, written: Tune) -> HandedOut:
    """What stands on a sheet now. `ladder` has the kept cells in it, `written` is the tune as the teacher wrote it."""
    keys = {
        (index, path[index]) for path in (arrangement.rungs, second_path(arrangement)) for index in range(len(path))
    }
    cells = {
        (index, rung): KeptCell(Kind.LOCKED, ladder.cell(index, rung), melody=melody_onsets(ladder, index))
        for index, rung in sorted(keys)
    }
    bare = Arrangement(arrangement.rungs, arrangement.second, cells=cells, bars=bar_marks(ladder.tune))
    return HandedOut(bare, sources_of(written))


def sources_of(written: Tune) -> tuple[str, ...]:
    """For each written bar a digest of what a teacher wrote in it and in its neighbours: notes, chords, metre, key.

    Chords that are suggested are the engine's, and do not count; those that are written hold until the next one.
    """
    alone, chord = [], ""
    for bar in written.bars:
        notes = " ".join(f"{event.onset} {event.duration} {event.pitch} {event.tied:d}" for event in bar.events)
        chords = " ".join(f"{entry.onset} {entry.chord}" for entry in bar.chords)
        alone.append(f"{notes}|{chord}|{chords}|{bar.metre}|{bar.key}|{bar.length}")
        chord = str(bar.chords[-1].chord) if bar.chords else chord
    around = zip(["", *alone[:-1]], alone, [*alone[1:], ""], strict=True)
    return tuple(hashlib.sha256("\n".join(three).encode()).hexdigest()[:16] for three in around)


def changed_since(
    ladder: Ladder, arrangement: Arrangement, handed: HandedOut, written: Tune, renewed: Renewed
) -> Mapping[tuple[int, int], KeptCell]:
    """The bars that are computed otherwise now than when they were handed out, as they were then.

    Bars count that were made from the same notes and chords; not those that the teacher keeps a cell for, or has
    `renewed`. `ladder` is as it is computed.
    """
    now = sources_of(written)
    places = align(handed.bars.bars, bar_marks(ladder.tune))
    cells = {
        (place, rung): cell
        for (index, rung), cell in handed.bars.cells.items()
        if (place := places[index] if index < len(places) else None) is not None
        and handed.sources[index] == now[place]
        and rung <= len(ladder.rungs)
    }
    there = bring_along(ladder, Arrangement(_level(ladder), cells=cells, bars=bar_marks(ladder.tune))).cells
    return {
        key: replace(cell, kind=Kind.HANDED_OUT)
        for key, cell in there.items()
        if key not in arrangement.cells and (now[key[0]], key[1]) not in renewed and not _alike(cell, ladder, key)
    }


def _level(ladder: Ladder) -> tuple[int, ...]:
    return (1,) * len(ladder.tune.bars)


def _alike(cell: KeptCell, ladder: Ladder, key: tuple[int, int]) -> bool:
    """Is the bar struck and held just as it was? Grades and remarks follow from that, and do not count."""
    computed = ladder.cell(*key)
    return (cell.bar.strokes, cell.bar.shapes) == (computed.strokes, computed.shapes)


def as_handed_out(arrangement: Arrangement, cells: Mapping[tuple[int, int], KeptCell]) -> Arrangement:
    """The arrangement with those bars in it."""
    return replace(arrangement, cells={**cells, **arrangement.cells})


def decided(arrangement: Arrangement) -> Arrangement:
    """What the teacher herself decided: without the bars that are only as they were handed out."""
    return replace(
        arrangement,
        cells={key: cell for key, cell in arrangement.cells.items() if cell.kind is not Kind.HANDED_OUT},
    )


def kept_as_handed_out(arrangement: Arrangement, places: Sequence[int], said: str) -> Arrangement:
    """Bars as they were handed out become cells that the teacher keeps."""
    return replace(
        arrangement,
        cells={
            key: replace(cell, kind=Kind.ALTERNATIVE, said=said)
            if cell.kind is Kind.HANDED_OUT and key[0] in places
            else cell
            for key, cell in arrangement.cells.items()
        },
    )
