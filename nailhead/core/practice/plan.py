"""A plan of learning, computed from the path: chunk by chunk, what is new, the joins as units of their own.

Half a bar where need be, the bar, two bars, the line, the part, the whole (handbook §8). Bars that come back are learnt
once; what has nothing new in it is no step of its own, and is played with the whole.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum

from nailhead.core.arrange.grade import whole_notes_a_second
from nailhead.core.arrange.values import Grade
from nailhead.core.errors import PathError
from nailhead.core.music.form import parts_of
from nailhead.core.practice.material import Material, Spot, name_of
from nailhead.core.practice.spans import Span, halves, join_span, join_title, whole

#: A bar of this grade or above is taken in halves first (ours).
IN_HALVES = 5
#: How often something is played until it holds: so many times, and more for each grade (ours, from practice).
TIMES, TIMES_A_GRADE = 6, 3
#: It is learnt at about this share of its tempo, and nothing takes less than this (minutes).
LEARNT_AT, LEAST_MINUTES = 0.6, 0.5


class Kind(StrEnum):
    """What a step takes in."""

    HALF = "half a bar"
    BAR = "bar"
    JOIN = "join"
    TWO = "two bars"
    LINE = "line"
    PART = "part"
    WHOLE = "whole"


class Order(StrEnum):
    """In which order the steps come."""

    TUNE = "as in the tune"
    HARDEST = "hardest first"
    EASIEST = "easiest part first"


@dataclass(frozen=True, slots=True)
class Step:
    """Something to learn. `id` is that of its content; `spans` are what is looped.

    `numbers` are the written bars in it, `returns` the numbers of others that are learnt with it; `why` is the heaviest
    reason of its `grade`.
    """

    id: str
    kind: Kind
    title: str
    spans: tuple[Span, ...]
    numbers: tuple[int, ...]
    returns: tuple[int, ...]
    grade: int
    why: str
    minutes: float


@dataclass(frozen=True)
class Plan:
    """All steps in their order, with what they say of the whole."""

    order: Order
    steps: tuple[Step, ...]
    new: int
    written: int

    @property
    def minutes(self) -> float:
        return sum(step.minutes for step in self.steps)

    @property
    def words(self) -> str:
        """ "Learn 8 bars of 32." """
        return f"Learn {self.new} {'bar' if self.new == 1 else 'bars'} of {self.written}."

    def step(self, name: str) -> Step:
        """Raises PathError for a step that is not in the plan."""
        for step in self.steps:
            if step.id == name:
                return step
        raise PathError("That step is not in the plan.", field="step", remedy="Load the plan again.")


def plan_of(material: Material, order: Order = Order.TUNE) -> Plan:
    """The plan of an arrangement."""
    maker = _Maker(material)
    lines = [maker.line(start, stop) for start, stop in material.ladder.structure.phrases]
    again = maker.again()
    parts = [maker.part(*span) for span in _parts(material)]
    steps: list[Step] = []
    if order is Order.HARDEST:
        steps = sorted(itertools.chain(*lines, again), key=_hardest)
        steps = [*(step for step in steps if step.kind in (Kind.HALF, Kind.BAR)), *_joined(steps)]
        steps += [part for part in parts if part]
    else:
        places = _parts(material)
        turns = list(range(len(places)))
        if order is Order.EASIEST:
            inside = [_inside(lines, material, *span) for span in places]
            turns.sort(key=lambda at: (sum(step.minutes for step in inside[at]), at))
        for at in turns:
            steps += _inside(lines, material, *places[at])
            steps += [part] if (part := parts[at]) else []
        steps += again
    steps += maker.outer_joins()
    steps.append(maker.whole())
    new = len({spot.index for spot in material.new if not spot.again and not maker.rides(spot)})
    full = sum(not maker.rides(Spot(index)) for index in range(len(material.ladder.tune.bars)))
    return Plan(order, tuple({step.id: step for step in steps}.values()), new, full)


def _hardest(step: Step) -> tuple[int, int]:
    return -step.grade, step.numbers[0] if step.numbers else 0


def _joined(steps: Sequence[Step]) -> Iterator[Step]:
    """What comes when the bars are known: joins, then larger and larger chunks."""
    for kind in (Kind.JOIN, Kind.TWO, Kind.LINE):
        yield from (step for step in steps if step.kind is kind)


def _parts(material: Material) -> list[tuple[int, int]]:
    """The tune's parts as written bars (start, stop)."""
    return [(part.start, part.stop) for part in parts_of(material.ladder.tune)]


def _inside(lines: Sequence[list[Step]], material: Material, start: int, stop: int) -> list[Step]:
    """The steps of the lines that begin in a part."""
    phrases = material.ladder.structure.phrases
    return [step for (begins, _), steps in zip(phrases, lines, strict=True) if start <= begins < stop for step in steps]


class _Maker:
    """Makes steps; what was made once is known by its content and not made again."""

    def __init__(self, material: Material) -> None:
        self.material = material
        self.made: set[str] = set()
        self.steps_played = frozenset(itertools.pairwise(material.order))
        self.pace = float(whole_notes_a_second(material.ladder.tune.tempo))

    def line(self, start: int, stop: int) -> list[Step]:
        """Everything new of one line: its bars, the joins inside it, pairs, and the line."""
        spots = [Spot(index) for index in range(start, stop) if Spot(index) in self.material.bars]
        groups = list(self._with_upbeats(spots))
        steps = [step for group in groups for step in self._bars(group)]
        steps += [step for before, after in itertools.pairwise(spots) if (step := self._join(before, after))]
        for at in range(0, len(groups) - 1, 2):
            steps += self._chunk(Kind.TWO, [*groups[at], *groups[at + 1]])
        if len(groups) > 2:
            steps += self._chunk(Kind.LINE, spots)
        before = Spot(start - 1)
        if spots and (before, spots[0]) in self.steps_played and (join := self._join(before, spots[0])):
            steps.append(join)  # from the line before
        return steps

    def part(self, start: int, stop: int) -> Step | None:
        spots = [Spot(index) for index in range(start, stop) if Spot(index) in self.material.bars]
        return next(iter(self._chunk(Kind.PART, spots)), None) if len(spots) > 1 else None

    def again(self) -> list[Step]:
        """The bars that are played otherwise from the second time on."""
        spots = [spot for spot in self.material.new if spot.again]
        return [step for spot in spots for step in self._bars([spot])]

    def outer_joins(self) -> list[Step]:
        """The joins that no line has: into repeats, endings and parts that are not written behind one another."""
        return [step for pair in self.material.joins if (step := self._join(*pair))]

    def whole(self) -> Step:
        return self._step(Kind.WHOLE, [whole(self.material, spot) for spot in self.material.order])

    def rides(self, spot: Spot) -> bool:
        """Is it an upbeat, learnt with the bar it leads into?"""
        return bool(self.material.offset(spot))

    def _with_upbeats(self, spots: Sequence[Spot]) -> Iterator[list[Spot]]:
        group: list[Spot] = []
        for spot in spots:
            group.append(spot)
            if not self.rides(spot):
                yield group
                group = []
        if group:
            yield group

    def _bars(self, group: list[Spot]) -> list[Step]:
        """A bar that is new, with its upbeat; in halves before where it is hard. A new upbeat into a bar that is known
        is learnt with the join.
        """
        last = group[-1]
        content = name_of("bar", self.material.content[last])
        if content in self.made:
            return []
        self.made.add(content)
        step = self._step(Kind.BAR, [whole(self.material, spot) for spot in group])
        parts = halves(self.material, last)
        if not parts or self.material.bars[last].grade.value < IN_HALVES:
            return [step]
        return [*(self._step(Kind.HALF, [part]) for part in parts), step]

    def _chunk(self, kind: Kind, spots: Sequence[Spot]) -> list[Step]:
        """One step over whole bars, unless the same was made before."""
        content = name_of(*(self.material.content[spot] for spot in spots))
        if content in self.made:
            return []
        self.made.add(content)
        return [self._step(kind, [whole(self.material, spot) for spot in spots])]

    def _join(self, before: Spot, after: Spot) -> Step | None:
        content = name_of("join", self.material.content[before], self.material.content[after])
        if content in self.made:
            return None
        self.made.add(content)
        return self._step(Kind.JOIN, list(join_span(self.material, before, after)))

    def _step(self, kind: Kind, spans: Sequence[Span]) -> Step:
        spots = [span.spot for span in spans]
        numbers = tuple(dict.fromkeys(self.material.written(spot).number for spot in spots))
        grade = self._grade(kind, spots)
        seconds = float(sum(span.length for span in spans)) / self.pace / LEARNT_AT
        times = TIMES + TIMES_A_GRADE * (grade.value - 1)
        if kind is Kind.WHOLE:
            times = 1 + grade.value // 2
        minutes = max(LEAST_MINUTES, round(2 * seconds * times / 60) / 2)
        content = (f"{self.material.content[span.spot]} {span.start} {span.end}" for span in spans)
        returns = self._returns(kind, spots, numbers)
        why = grade.reasons[0].sentence if grade.reasons else ""
        title = _title(kind, numbers, spans, self.material)
        name = name_of(kind, *content)
        return Step(name, kind, title, tuple(spans), numbers, returns, grade.value, why, minutes)

    def _grade(self, kind: Kind, spots: Sequence[Spot]) -> Grade:
        """The hardest bar of it, or the join itself."""
        bars = [self.material.bars[spot] for spot in spots]
        if kind is Kind.JOIN:
            return bars[0].join
        return max((bar.grade for bar in bars), key=lambda grade: grade.value)

    def _returns(self, kind: Kind, spots: Sequence[Spot], numbers: Sequence[int]) -> tuple[int, ...]:
        """The other written bars that are learnt with a bar."""
        if kind is not Kind.BAR:
            return ()
        same = self.material.same_as(spots[-1])
        found = dict.fromkeys(self.material.written(spot).number for spot in same)
        return tuple(number for number in found if number not in numbers)


def _title(kind: Kind, numbers: Sequence[int], spans: Sequence[Span], material: Material) -> str:
    first, last = numbers[0], numbers[-1]
    full = [span for span in spans if not material.offset(span.spot)]
    if full and kind in (Kind.TWO, Kind.LINE, Kind.PART):  # an upbeat has no number that anybody says
        first = material.written(full[0].spot).number
    again = ", second time" if any(span.spot.again for span in spans) and kind is not Kind.WHOLE else ""
    if kind is Kind.WHOLE:
        return "The whole, as it is played"
    if kind is Kind.JOIN:
        return join_title(material, spans[0].spot, spans[1].spot) + again
    if kind is Kind.HALF:
        return f"Bar {first}, {'first' if not spans[0].start else 'second'} half{again}"
    if kind is Kind.PART:
        part = next((material.written(span.spot).part for span in spans if material.written(span.spot).part), "")
        return f"Part {part}, bars {first} to {last}" if part else f"Bars {first} to {last}"
    if kind is Kind.BAR:
        number = material.written(full[-1].spot).number if full else last
        return f"Bar {number}{' with its upbeat' if len(spans) > 1 else ''}{again}"
    return f"Line, bars {first} to {last}" if kind is Kind.LINE else f"Bars {first} and {last}"
