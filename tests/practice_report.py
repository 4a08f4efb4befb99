"""Plans of learning on real tunes: printed by `make corpus`, and the claims that every plan keeps."""

from __future__ import annotations

import sys
from collections import Counter
from collections.abc import Iterator

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.practice.material import Material, material_of
from nailhead.core.practice.plan import Kind, Order, Plan, plan_of
from tests.arrange_report import ladders_of


def faults(material: Material, plan: Plan) -> Iterator[str]:
    """What a plan leaves out or teaches twice: bars of the path, joins between neighbours in playing order."""
    taught = Counter(material.content[step.spans[-1].spot] for step in plan.steps if step.kind is Kind.BAR)
    yield from (f"taught {times} times as new" for times in taught.values() if times > 1)
    upbeats = {material.content[spot] for spot in material.order if material.offset(spot)}
    joined = {material.content[span.spot] for step in plan.steps if step.kind is Kind.JOIN for span in step.spans}
    reached = {material.content[span.spot] for step in plan.steps if step.kind is Kind.BAR for span in step.spans}
    reached |= joined & upbeats
    yield from (f"bar {spot} is not covered" for spot in material.order if material.content[spot] not in reached)
    joins = {tuple(material.content[span.spot] for span in step.spans) for step in plan.steps if step.kind is Kind.JOIN}
    for before, after in zip(material.order, material.order[1:], strict=False):
        if (material.content[before], material.content[after]) not in joins:
            yield f"no join from {before} to {after}"
    if len({step.id for step in plan.steps}) < len(plan.steps):
        yield "two steps share an id"
    if plan.steps[-1].kind is not Kind.WHOLE:
        yield "the whole does not come last"


def material_at(ladder: Ladder, rung: int) -> Material:
    return material_of(ladder, Arrangement(level_path(ladder, rung)))


def main(count: int = 300) -> None:
    """Prints what there is to learn, how many steps and minutes, and every fault."""
    for idiom in ("clawhammer", "three-finger"):
        ladders = ladders_of(count, idiom)
        for rung in (1, 4, 7):
            wrong: Counter[str] = Counter()
            new = written = steps = 0
            minutes = 0.0
            for ladder in ladders:
                material = material_at(ladder, rung)
                for order in Order:
                    plan = plan_of(material, order)
                    wrong.update(" ".join(text.split()[:2]) for text in faults(material, plan))
                new, written, steps = new + plan.new, written + plan.written, steps + len(plan.steps)
                minutes += plan.minutes
            print(
                f"plans, {idiom}, rung {rung}: {len(ladders)} tunes, faults {dict(wrong)}; {new} of {written} bars"
                f" are new; {steps / len(ladders):.0f} steps and {minutes / len(ladders):.0f} minutes a tune"
            )


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 300)
