"""How printed notes go together: in beams, and in tuplets. Shared by the tablature and the staff."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import TypeVar

from nailhead.core.arrange.values import Stroke
from nailhead.core.music.metre import Metre, Time
from nailhead.core.music.notation import NoteValue, note_values
from nailhead.core.music.tune import Tuplet


@dataclass(frozen=True, slots=True)
class Printed:
    """One printed note or rest: its onset and value; `tied_on` when a tie leads on to the next printed one."""

    onset: Time
    value: NoteValue
    rest: bool
    tied_on: bool
    tuplet: Tuplet | None


P = TypeVar("P", bound=Printed)


def printed(stroke: Stroke) -> list[Printed]:
    """The note values of a stroke, tied to one another."""
    values = note_values(stroke.duration, stroke.tuplet)
    pieces, at = [], stroke.onset
    for index, value in enumerate(values):
        rest = not stroke.notes
        pieces.append(Printed(at, value, rest, not rest and index + 1 < len(values), stroke.tuplet))
        at += value.duration
    return pieces


def beam_groups(pieces: Sequence[P], metre: Metre, offset: Time) -> list[list[P]]:
    """Neighbours with flags inside one beam window; all else alone; the bar begins `offset` into the full one."""
    groups: list[list[P]] = []
    for piece in pieces:
        window = _window(piece.onset + offset, metre)
        joins = (
            groups
            and piece.value.flags
            and not piece.rest
            and groups[-1][-1].value.flags
            and not groups[-1][-1].rest
            and _window(groups[-1][-1].onset + offset, metre) == window
        )
        if joins:
            groups[-1].append(piece)
        else:
            groups.append([piece])
    return groups


def _window(onset: Time, metre: Metre) -> int:
    """Number of the beam window: half bars in 4/4 and cut time, beats elsewhere."""
    if (metre.beats, metre.unit) in ((4, 4), (2, 2)):
        return int(onset * 2)
    within, bars = onset % metre.length, int(onset / metre.length)
    starts = [start for start in metre.beat_onsets if start <= within]
    return 64 * bars + len(starts)


def flagged_runs(group: Sequence[Printed], level: int) -> list[tuple[int, int]]:
    """Stretches of notes with more flags than `level`, as (first, last)."""
    runs: list[tuple[int, int]] = []
    for index, piece in enumerate(group):
        if piece.value.flags <= level:
            continue
        if runs and runs[-1][1] == index - 1:
            runs[-1] = (runs[-1][0], index)
        else:
            runs.append((index, index))
    return runs


def tuplet_groups(pieces: Sequence[P]) -> Iterator[tuple[Tuplet, Sequence[P]]]:
    """Every tuplet with the printed notes that are in it."""
    index = 0
    while index < len(pieces):
        tuplet = pieces[index].tuplet
        if tuplet is None:
            index += 1
            continue
        last = index
        while last + 1 < len(pieces) and pieces[last + 1].tuplet == tuplet and last + 1 - index < tuplet.size:
            last += 1
        yield tuplet, pieces[index : last + 1]
        index = last + 1
