"""A plan of learning and its drills as text, for a terminal or a notebook."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import groupby

from nailhead.core.practice.drills import Drill
from nailhead.core.practice.plan import Plan, Step


def write_plan(title: str, plan: Plan, drills: Sequence[Drill]) -> str:
    """Title, what is new, every step with its minutes and reason, then the drills by kind."""
    lines = [title, f"{plan.words} About {plan.minutes:.0f} minutes, {plan.order}.", ""]
    width = max(len(step.title) for step in plan.steps)
    lines += [_step(number, step, width) for number, step in enumerate(plan.steps, 1)]
    if drills:
        lines += ["", "Drills", *_drills(drills)]
    return "\n".join(lines) + "\n"


def _step(number: int, step: Step, width: int) -> str:
    comes_back = f"  comes back in {_numbers(step.returns)}" if step.returns else ""
    why = f"  {step.why}" if step.why else ""
    return f"{number:3}  {step.title:{width}}  grade {step.grade}  {step.minutes:4.1f} min{comes_back}{why}"


def _drills(drills: Sequence[Drill]) -> Iterator[str]:
    for kind, several in groupby(drills, key=lambda drill: drill.kind):
        yield f"{str(kind).capitalize()}:"
        for drill in several:
            yield f"  {drill.title}. {drill.said} Bars {_numbers(drill.serves)}."


def _numbers(numbers: Sequence[int]) -> str:
    """ "1 to 4, 7": runs of three and more are drawn together."""
    runs: list[list[int]] = []
    for number in numbers:
        if runs and number == runs[-1][-1] + 1:
            runs[-1].append(number)
        else:
            runs.append([number])
    return ", ".join(f"{run[0]} to {run[-1]}" if len(run) > 2 else ", ".join(map(str, run)) for run in runs)
