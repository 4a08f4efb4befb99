"""A solo's second time through: what comes again is played otherwise, and its joins still work."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import pairwise
from typing import NamedTuple

from nailhead.core.arrange.fit.building import RungBuilder
from nailhead.core.arrange.fit.candidates import Candidate
from nailhead.core.arrange.fit.moving import usual
from nailhead.core.arrange.fit.search import Fitter
from nailhead.core.arrange.fit.versions import Version
from nailhead.core.arrange.rows.costs import IMPOSSIBLE
from nailhead.core.arrange.rows.hands import Follows
from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.choosing import choose_cells
from nailhead.core.music.metre import Time
from nailhead.core.music.structure import Structure
from nailhead.core.music.tune import Tune

#: A second time through may cost so much more than the first.
VARIETY = 14


class _Step(NamedTuple):
    """One step of the performance from a written bar to the next, and which of the two is there again."""

    before: int
    after: int
    again_before: bool
    again_after: bool


def vary(builder: RungBuilder, solo: int, order: Sequence[int]) -> dict[int, ArrangedBar]:
    """By class, another way to play each bar that comes again than the solo just built, where there is a good one.

    `order` are the written bars as played. Joins into and out of bars that stay are weighed with those; the last bar
    of all rests on its last note.
    """
    classes, fitter = builder.structure.classes, Fitter(builder.idiom, solo)
    visits = _visits(order)
    again = dict.fromkeys(classes[index] for index, comes_again in visits if comes_again)
    steps = [_Step(one, two, first, second) for (one, first), (two, second) in pairwise(visits) if first or second]
    last = classes[order[-1]] if visits and visits[-1][1] else None
    others = {first: _others(builder, fitter, first, first == last) for first in again}
    for step in steps:
        if step.again_before != step.again_after:
            side = classes[step.before if step.again_before else step.after]
            others[side] = [_with_join(builder, fitter, found, step) for found in others[side]]
    joins = [(step.before, step.after) for step in steps if step.again_before and step.again_after]
    chosen = choose_cells(
        classes, others, joins, lambda *step: builder.join_price(fitter, *step), ends=Candidate.ends
    ).cells
    hands = builder.last_fingers({**builder.chosen, **chosen})
    made = {
        first: builder.report_moves(builder.lay_out(found, solo, hands[first]), first)
        for first, found in chosen.items()
        if found.cell != builder.chosen[first].cell
    }
    while (clash := _clash(builder, made, steps)) is not None:
        del made[clash]
    return made


def written_again(tune: Tune, structure: Structure) -> dict[int, int]:
    """For each bar of a part that has been written out before, the bar that it repeats."""
    parts: list[list[int]] = [[]]
    for index, bar in enumerate(tune.bars):
        parts[-1].append(index)
        if bar.ends_section:
            parts.append([])
    seen: dict[tuple[int, ...], list[int]] = {}
    twins: dict[int, int] = {}
    for part in parts:
        row = tuple(structure.classes[index] for index in part)
        if row in seen:
            twins |= dict(zip(part, seen[row], strict=True))
        elif len(part) > 1:
            seen[row] = part
    return twins


def _visits(order: Sequence[int]) -> list[tuple[int, bool]]:
    """Each bar as played, and whether it has been played before."""
    seen: set[int] = set()
    visits = []
    for index in order:
        visits.append((index, index in seen))
        seen.add(index)
    return visits


def _others(builder: RungBuilder, fitter: Fitter, first: int, last: bool) -> list[Candidate]:
    """What the second time may play: not what the first did; at the very end the melody without a fill."""
    if last:
        context = builder.versions.base(first, fitter.rung)
        return builder.fit(fitter, [Version(context, (usual(context),))])
    chosen = builder.chosen[first]
    found = [other for other in builder.offered[first] if other.played != chosen.played]
    return [other for other in found if other.cost <= chosen.cost + VARIETY] or [chosen]


def _with_join(builder: RungBuilder, fitter: Fitter, found: Candidate, step: _Step) -> Candidate:
    """A candidate with the price of a join whose other side stays as it is."""
    one, two = builder.structure.classes[step.before], builder.structure.classes[step.after]
    left, right = (found, builder.chosen[two]) if step.again_before else (builder.chosen[one], found)
    return replace(found, cost=found.cost + builder.join_price(fitter, one, left, two, right))


def _clash(builder: RungBuilder, made: Mapping[int, ArrangedBar], steps: Sequence[_Step]) -> int | None:
    """A varied bar beside which a finger, that of a double stop perhaps, would have to strike twice at once."""
    follows = builder.idiom.right.follows
    for step in steps:
        one, two = builder.structure.classes[step.before], builder.structure.classes[step.after]
        varied = [name for name, again in ((two, step.again_after), (one, step.again_before)) if again and name in made]
        left = made[one] if one in varied else builder.made[one]
        right = made[two] if two in varied else builder.made[two]
        if varied and _finger_again(follows, left, right, builder.contexts[one].count):
            return varied[0]
    return None


def _finger_again(follows: Follows, one: ArrangedBar, two: ArrangedBar, count: Time) -> bool:
    """Does a finger that strikes at the end of a bar strike at once again, and cannot?"""
    last, first = one.strokes[-1], two.strokes[0]
    return last.duration <= count and any(
        follows(before, after) >= IMPOSSIBLE for before in last.touches for after in first.touches
    )
