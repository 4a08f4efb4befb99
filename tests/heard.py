"""What a tune sounds, as rows to compare with other programs' views of it."""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction

from nailhead.core.music.tune import Tune

#: (onset, duration, key number), times in whole notes.
Heard = list[tuple[Fraction, Fraction, int]]


def notes_written(tune: Tune) -> Heard:
    """Every written note by itself, ties not joined."""
    rows: Heard = []
    at = Fraction(0)
    for bar in tune.bars:
        rows += [(at + event.onset, event.duration, event.pitch.midi) for event in bar.events if event.pitch]
        at += bar.length
    return rows


def notes_heard(tune: Tune, order: Iterable[int] | None = None) -> Heard:
    """Ties joined; the bars in written order, or in the order given."""
    rows: Heard = []
    at, tie = Fraction(0), None
    for index in range(len(tune.bars)) if order is None else order:
        for event in tune.bars[index].events:
            if event.pitch and tie == event.pitch:
                start, length, midi = rows[-1]
                rows[-1] = (start, length + event.duration, midi)
            elif event.pitch:
                rows.append((at + event.onset, event.duration, event.pitch.midi))
            tie = event.pitch if event.tied else None
        at += tune.bars[index].length
    return rows
