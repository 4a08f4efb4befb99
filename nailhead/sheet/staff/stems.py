"""Stems, beams and flags of the staff. Lengths in spaces, y downwards from the top line."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from nailhead.sheet.beaming import flagged_runs
from nailhead.sheet.marks import Line, Mark, Polygon, Sign
from nailhead.sheet.staff.stacks import EM, Stack

#: An octave; and the least under a beam (common practice).
STEM, SHORTEST = 3.5, 2.6
STEM_WIDTH, BEAM, BEAM_STEP = 0.12, 0.5, 0.75
#: How far a beam may rise or fall, in spaces, and which share of the way between its outer notes.
_STEEPEST, _SLOPE = 1.0, 0.4
_FLAGS = ("8th", "16th", "32nd", "64th", "128th", "256th")


def height(step: float) -> float:
    """y of a step of the staff, in spaces from the top line."""
    return 4 - step / 2


def stem_x(stack: Stack, x: float, space: float) -> float:
    """Where the stem of a stack at x stands."""
    return x + (1 if stack.up else -1) * (stack.half - STEM_WIDTH / 2) * space


def outer(stack: Stack) -> int:
    """The head nearest to the stem's end."""
    return max(stack.steps) if stack.up else min(stack.steps)


def free_tip(stack: Stack) -> float:
    """Where a stem by itself ends: an octave on, at least at the middle line, longer for many flags."""
    way = -1 if stack.up else 1
    length = STEM + 0.75 * max(0, stack.moment.value.flags - 2)
    tip = height(outer(stack)) + way * length
    return min(tip, 2.0) if stack.up else max(tip, 2.0)


def beam_tips(group: Sequence[Stack], xs: Sequence[float]) -> list[float]:
    """The stems' ends along a beam that slopes gently as the outer notes go.

    Stems are as long as free ones on the whole, and none is too short.
    """
    way = -1 if group[0].up else 1
    free = [free_tip(stack) for stack in group]
    rise = max(-_STEEPEST, min(_STEEPEST, _SLOPE * (free[-1] - free[0])))
    if max(way * tip for tip in free) > max(way * free[0], way * free[-1]):
        rise = 0.0
    along = [rise * (x - xs[0]) / (xs[-1] - xs[0]) for x in xs]
    least = SHORTEST + BEAM_STEP * (max(stack.moment.value.flags for stack in group) - 1)
    usual = sum(way * (tip - add) for tip, add in zip(free, along, strict=True)) / len(group)
    needed = max(way * (height(outer(stack)) - add) + least for stack, add in zip(group, along, strict=True))
    start = way * max(usual, needed)
    return [start + add for add in along]


def stems(group: Sequence[Stack], xs: Sequence[float], space: float) -> list[Mark]:
    """Stems of a beam group (or one note) with its beams or flags; `xs` are the stems' places in mm."""
    if group[0].moment.value.name in ("whole", "breve"):
        return []
    tips = [free_tip(group[0])] if len(group) == 1 else beam_tips(group, xs)
    marks: list[Mark] = []
    for stack, x, tip in zip(group, xs, tips, strict=True):
        foot = height(min(stack.steps) if stack.up else max(stack.steps))
        marks.append(Line(x, foot * space, x, tip * space, STEM_WIDTH * space))
    if len(group) > 1:
        return [*marks, *_beams(group, xs, tips, space)]
    return [*marks, *_flag(group[0], xs[0], tips[0], space)]


def _flag(stack: Stack, x: float, tip: float, space: float) -> Iterator[Mark]:
    flags = stack.moment.value.flags
    if flags:
        name = f"flag{_FLAGS[min(flags, len(_FLAGS)) - 1]}{'Up' if stack.up else 'Down'}"
        yield Sign(x - STEM_WIDTH / 2 * space, tip * space, name, EM * space)


def _beams(group: Sequence[Stack], xs: Sequence[float], tips: Sequence[float], space: float) -> Iterator[Mark]:
    inward = 1 if group[0].up else -1
    slope = (tips[-1] - tips[0]) * space / (xs[-1] - xs[0])
    moments = [stack.moment for stack in group]
    half = STEM_WIDTH / 2 * space

    def line(x: float, level: int) -> float:
        return tips[0] * space + slope * (x - xs[0]) + inward * BEAM_STEP * level * space

    for level in range(max(moment.value.flags for moment in moments)):
        for first, last in flagged_runs(moments, level):
            left, right = xs[first], xs[last]
            if first == last:
                left, right = (left - 1.1 * space, left) if first else (left, left + 1.1 * space)
            left, right = left - half, right + half
            thick = inward * BEAM * space
            yield Polygon(
                (
                    (left, line(left, level)),
                    (right, line(right, level)),
                    (right, line(right, level) + thick),
                    (left, line(left, level) + thick),
                )
            )
