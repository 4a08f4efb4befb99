"""Raising the tempo: steps that the player sets, and what one word after each time does (handbook §8).

Start slow, evenly; raise the tempo only when it is clean.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

from nailhead.core.errors import PathError

#: In percent of the tune's tempo.
SLOWEST, FASTEST = 30, 150
MOST_TIMES = 10


class Said(StrEnum):
    """What a player says of the time just played."""

    CLEAN = "clean"
    AGAIN = "again"
    BACK = "back"


@dataclass(frozen=True, slots=True)
class TempoSteps:
    """From `start` to `goal` percent of the tempo by `step`; up when played clean `clean` times running."""

    start: int = 60
    step: int = 5
    goal: int = 100
    clean: int = 3

    def __post_init__(self) -> None:
        for field, low, high in (
            ("start", SLOWEST, FASTEST),
            ("goal", SLOWEST, FASTEST),
            ("step", 1, 50),
            ("clean", 1, MOST_TIMES),
        ):
            value = getattr(self, field)
            if not low <= value <= high:
                raise PathError(f"The {field} is {value}.", field=field, remedy=f"Use {low} to {high}.")
        if self.goal < self.start:
            raise PathError(
                f"The goal, {self.goal} %, is slower than the start, {self.start} %.",
                field="goal",
                remedy="Begin slower, or aim higher.",
            )


@dataclass(frozen=True, slots=True)
class Progress:
    """How far a step of the plan has come: its tempo in percent, times clean running, times played, and done or not."""

    percent: int
    clean: int = 0
    played: int = 0
    done: bool = False


def every_way(steps: TempoSteps) -> dict[Progress, dict[Said, Progress]]:
    """What each word makes of every state that can be come to, times played left at 0: for a page without a server."""
    found: dict[Progress, dict[Said, Progress]] = {}
    waiting = [begun(steps)]
    while waiting:
        progress = waiting.pop()
        if progress not in found:
            found[progress] = {said: replace(after(progress, said, steps), played=0) for said in Said}
            waiting += found[progress].values()
    return found


def begun(steps: TempoSteps) -> Progress:
    return Progress(steps.start)


def after(progress: Progress, said: Said, steps: TempoSteps) -> Progress:
    """What a word makes of it. The last clean time at the goal does it; `back` is a step slower and no longer done."""
    played = progress.played + 1
    if said is Said.AGAIN:
        return replace(progress, clean=0, played=played)
    if said is Said.BACK:
        return Progress(max(SLOWEST, min(progress.percent, steps.goal) - steps.step), 0, played)
    clean = progress.clean + 1
    if clean < steps.clean:
        return replace(progress, clean=clean, played=played)
    if progress.percent >= steps.goal:
        return Progress(progress.percent, steps.clean, played, done=True)
    return Progress(min(steps.goal, progress.percent + steps.step), 0, played)
