"""Which bar of a changed tune is which bar of the tune as it was: by what the bars are, not by where they stand.

The cheapest way to turn one row of bars into the other (Needleman and Wunsch, 1970): a bar stays, is changed, comes in
or goes out. A bar is told by its melody as heard from the tonic, so that another key changes nothing.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

from nailhead.core.music.tune import Tune, sounding_notes

#: Points: a bar that comes or goes; one that is changed altogether. Two bars that share something are cheaper changed
#: than taken out and put in (weights ours).
COMES, CHANGED = 10, 24


def bar_marks(tune: Tune) -> tuple[str, ...]:
    """For each written bar its melody as text: length, then onset and height above the tonic of each note."""
    tonic = tune.key.tonic.semitone
    marks = [[str(bar.length)] for bar in tune.bars]
    for note in sounding_notes(tune):
        above = (note.pitch.cents - 100 * tonic) % 1200
        marks[note.bar].append(f"{note.onset}:{above}")
    return tuple(" ".join(parts) for parts in marks)


@lru_cache(maxsize=8192)
def _difference(one: str, other: str) -> int:
    """0 for the same bar, CHANGED for bars that have nothing in common."""
    if one == other:
        return 0
    left, right = set(one.split()[1:]), set(other.split()[1:])
    shared = len(left & right) / max(1, len(left | right))
    return max(1, round(CHANGED * (1 - shared)))


def align(before: Sequence[str], after: Sequence[str]) -> tuple[int | None, ...]:
    """For each bar as it was, its place in the tune as it is; None where it has gone.

    Of equally cheap ways the one in which bars stay as early as they can.
    """
    if tuple(before) == tuple(after):
        return tuple(range(len(before)))
    head = 0
    while head < min(len(before), len(after)) and before[head] == after[head]:
        head += 1
    tail = 0
    while tail < min(len(before), len(after)) - head and before[-1 - tail] == after[-1 - tail]:
        tail += 1
    middle = _cheapest(before[head : len(before) - tail], after[head : len(after) - tail])
    moved = [None if place is None else place + head for place in middle]
    return (*range(head), *moved, *(len(after) - tail + place for place in range(tail)))


def _cheapest(before: Sequence[str], after: Sequence[str]) -> list[int | None]:
    costs = [[COMES * column for column in range(len(after) + 1)]]
    for row, mark in enumerate(before, start=1):
        line = [COMES * row]
        for column, other in enumerate(after, start=1):
            line.append(
                min(
                    costs[-1][column - 1] + _difference(mark, other),
                    costs[-1][column] + COMES,
                    line[-1] + COMES,
                )
            )
        costs.append(line)
    found: list[int | None] = [None] * len(before)
    row, column = len(before), len(after)
    while row and column:
        stays = costs[row - 1][column - 1] + _difference(before[row - 1], after[column - 1])
        if costs[row][column] == costs[row][column - 1] + COMES and costs[row][column] < stays:
            column -= 1
        elif costs[row][column] == stays:
            found[row - 1] = column - 1
            row, column = row - 1, column - 1
        elif costs[row][column] == costs[row - 1][column] + COMES:
            row -= 1
        else:
            column -= 1
    return found
