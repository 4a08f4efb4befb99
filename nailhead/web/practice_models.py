"""A plan of learning at the boundary."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from nailhead.core.practice.drills import Drill
from nailhead.core.practice.material import Material
from nailhead.core.practice.plan import Order, Plan, Step
from nailhead.core.practice.spans import Loop, Span, loop_of
from nailhead.core.practice.tempo import Progress, Said, TempoSteps, begun
from nailhead.store.practice import PracticeWish
from nailhead.web.change_models import ChangeId
from nailhead.web.models import Model


class SpanModel(Model):
    """A stretch of written bar `place`, in whole notes from its beginning; `again` as it is played the second time."""

    place: int
    again: bool
    start: float
    end: float


class LoopModel(Model):
    """What is played round and round, and what once before; `pickup` where a round ends in the upbeat."""

    spans: list[SpanModel]
    lead_in: list[SpanModel]
    pickup: bool


class ProgressModel(Model):
    """How far a step has come: in percent of the tempo, times clean running, times played."""

    percent: int
    clean: int
    played: int
    done: bool


class StepModel(Model):
    """A step of the plan, with its loop and how far it has come."""

    id: str
    kind: str
    title: str
    numbers: list[int]
    returns: list[int]
    grade: int
    why: str
    minutes: float
    loop: LoopModel
    progress: ProgressModel


class DrillModel(Model):
    """An exercise out of the path, and the numbers of the bars that it serves."""

    kind: str
    title: str
    said: str
    serves: list[int]


class TempoModel(Model):
    """From `start` to `goal` percent by `step`, up when played clean `clean` times running."""

    start: int = 60
    step: int = 5
    goal: int = 100
    clean: int = 3


class PracticeModel(Model):
    """The plan of an arrangement."""

    words: str
    minutes: float
    order: Order
    orders: list[Order]
    tempo: TempoModel
    steps: list[StepModel]
    drills: list[DrillModel]


class PracticeWishModel(Model):
    """What a player sets."""

    order: Order = Order.TUNE
    tempo: TempoModel = Field(default_factory=TempoModel)

    def wish(self) -> PracticeWish:
        """Raises PathError for a tempo out of bounds."""
        return PracticeWish(TempoSteps(**self.tempo.model_dump()), self.order)


class SaidModel(Model):
    """What a player says of the time just played; sent again under the same `id` it counts once."""

    said: Said
    id: ChangeId | None = None


#: A step's id in a path.
StepId = Annotated[str, Field(pattern="^[0-9a-f]{12}$")]


def practice_model(
    material: Material, plan: Plan, drills: tuple[Drill, ...], wish: PracticeWish, progress: dict[str, Progress]
) -> PracticeModel:
    """Everything that the practice room shows of a plan."""
    first = begun(wish.tempo)
    return PracticeModel(
        words=plan.words,
        minutes=plan.minutes,
        order=plan.order,
        orders=list(Order),
        tempo=TempoModel(start=wish.tempo.start, step=wish.tempo.step, goal=wish.tempo.goal, clean=wish.tempo.clean),
        steps=[_step(material, step, progress.get(step.id, first)) for step in plan.steps],
        drills=[
            DrillModel(kind=drill.kind, title=drill.title, said=drill.said, serves=list(drill.serves))
            for drill in drills
        ],
    )


def _step(material: Material, step: Step, progress: Progress) -> StepModel:
    return StepModel(
        id=step.id,
        kind=step.kind,
        title=step.title,
        numbers=list(step.numbers),
        returns=list(step.returns),
        grade=step.grade,
        why=step.why,
        minutes=step.minutes,
        loop=_loop(loop_of(material, step.spans)),
        progress=progress_model(progress),
    )


def progress_model(progress: Progress) -> ProgressModel:
    return ProgressModel(percent=progress.percent, clean=progress.clean, played=progress.played, done=progress.done)


def _loop(loop: Loop) -> LoopModel:
    return LoopModel(
        spans=[_span(span) for span in loop.spans], lead_in=[_span(span) for span in loop.lead_in], pickup=loop.pickup
    )


def _span(span: Span) -> SpanModel:
    return SpanModel(place=span.spot.index, again=span.spot.again, start=float(span.start), end=float(span.end))
