"""The ladder: every bar of a tune on every rung, and what a solo has around it."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

from nailhead.core.arrange.fit.bare import arrange_bare
from nailhead.core.arrange.fit.building import RungBuilder
from nailhead.core.arrange.fit.frame import Neck, ending, kick_off
from nailhead.core.arrange.fit.optional import bar_without_fillers
from nailhead.core.arrange.fit.second_time import vary, written_again
from nailhead.core.arrange.grade import grade_bar, grade_join, not_below, whole_notes_a_second
from nailhead.core.arrange.left.context import BarContext
from nailhead.core.arrange.left.held_shapes import ShapeBook
from nailhead.core.arrange.left.layered import Layers, lay_layers
from nailhead.core.arrange.left.looking_ahead import looking_ahead
from nailhead.core.arrange.left.melody import bar_contexts, place_tune
from nailhead.core.arrange.left.placing import Placement
from nailhead.core.arrange.left.staying import keep_down
from nailhead.core.arrange.rows.frames import ENDINGS, KICK_OFFS, frame_row
from nailhead.core.arrange.rows.hands import Idiom
from nailhead.core.arrange.rows.ways import USUAL, Options, OwnRows, find_idiom
from nailhead.core.arrange.values import ArrangedBar, Grade
from nailhead.core.errors import PathError
from nailhead.core.fretboard.fit import Fit
from nailhead.core.music.clock import clock_of
from nailhead.core.music.core_melody import core_of
from nailhead.core.music.decisions import decisions_of
from nailhead.core.music.form import ENDING, KICK_OFF, played_bars
from nailhead.core.music.harmonise import suggest_chords
from nailhead.core.music.layers import Core, Decisions
from nailhead.core.music.metre import Time
from nailhead.core.music.structure import Structure, read_structure
from nailhead.core.music.tune import Tune


@dataclass(frozen=True)
class Frame:
    """Bars around the tune, with their melody as a tune of its own."""

    tune: Tune
    bars: tuple[ArrangedBar, ...]
    core: Core


@dataclass(frozen=True)
class Groundwork:
    """What all rungs of a tune stand on: its structure, the bare melody's places, each different bar's context.

    `contexts` are those of the full melody, by the first of equal bars, `layers` those of every layer that a rung
    plays; `joins` the steps from bar to bar in the order of playing.
    """

    tune: Tune
    structure: Structure
    placement: Placement
    core: Core
    contexts: Mapping[int, BarContext]
    layers: Layers
    joins: tuple[tuple[int, int], ...]


@dataclass(frozen=True)
class Ladder:
    """`rungs[r - 1][i]` is written bar i on rung r. `tune` sounds as set up; its chords may be suggested.

    `idiom` is the way of playing in the school of `options`, a teacher's own patterns among its own.

    `second` holds the solo's bars that are played otherwise the second time, by written bar. `kick_off` and `ending`
    are worked out when they are asked for; None where the idiom has no solo or the tune brings its own. Without
    `fillers` both leave out what may be left out.
    """

    fit: Fit
    idiom: Idiom
    ground: Groundwork
    rungs: tuple[tuple[ArrangedBar, ...], ...]
    chords_suggested: bool
    options: Options = USUAL
    second: Mapping[int, ArrangedBar] = field(default_factory=dict)
    fillers: bool = True

    @property
    def tune(self) -> Tune:
        return self.ground.tune

    @property
    def structure(self) -> Structure:
        return self.ground.structure

    @property
    def placement(self) -> Placement:
        return self.ground.placement

    @property
    def solo(self) -> int | None:
        """The number of the rung that is a solo, if the ladder has one."""
        return self.idiom.solo

    @cached_property
    def kick_off(self) -> Frame | None:
        """Bars at tempo before the tune, as its solo plays them."""
        row = frame_row(KICK_OFFS, self.idiom.kick_off)
        return _frame(self, lambda tune, neck: kick_off(tune, neck, row), KICK_OFF)

    @cached_property
    def ending(self) -> Frame | None:
        """Bars behind the tune, as its solo plays them."""
        row = frame_row(ENDINGS, self.idiom.ending)
        return _frame(self, lambda tune, neck: ending(tune, neck, row), ENDING)

    def cell(self, index: int, rung: int) -> ArrangedBar:
        """Written bar `index` on a rung; raises PathError for what is not there."""
        if not 1 <= rung <= len(self.rungs):
            raise PathError(f"There is no rung {rung}.", field="rung", remedy=f"Choose 1 to {len(self.rungs)}.")
        return self.rungs[rung - 1][index]


@dataclass(frozen=True)
class Searched:
    """What takes long to find of a ladder: its bars on every rung, and those of the second time."""

    rungs: tuple[tuple[ArrangedBar, ...], ...]
    second: Mapping[int, ArrangedBar]


def lay_ground(
    fit: Fit, way: Idiom, shapes: ShapeBook, decisions: Decisions | None = None, stops: bool = False
) -> Groundwork:
    """Reads a tune, finds its core and places its melody for an idiom; `stops` keeps its rests silent."""
    tune = suggest_chords(fit.tune)
    structure = read_structure(tune)
    placement = place_tune(tune, fit, structure, shapes, way)
    joins = joins_of(tune)
    following = first_steps(joins)
    contexts = bar_contexts(tune, shapes, structure, placement, following, way.drones, way.strings, stops, way.runs)
    core = core_of(tune, structure, decisions_of(tune).kept if decisions is None else decisions)
    layers = lay_layers(contexts, structure, core, way, following)
    return Groundwork(tune, structure, placement, core, contexts, layers, joins)


def build_ladder(
    fit: Fit,
    idiom: str | Idiom | None = None,
    options: Options = USUAL,
    own: OwnRows = (),
    decisions: Decisions | None = None,
) -> Ladder:
    """All rungs of a tune on a setup, in the instrument's usual idiom where none is named.

    `options` are the schools where players differ, `own` a teacher's patterns beside those of the idiom. An Idiom that
    is given as a value is played as it stands. `decisions` are her word on notes of the core, where it is not that
    which the tune carries.
    """
    way, ground = _way_and_ground(fit, idiom, options, own, decisions)
    builder = RungBuilder(ground.layers, ground.structure, ground.joins, way) if len(way.rungs) > 1 else None
    rungs: list[tuple[ArrangedBar, ...]] = []
    for rung in range(1, len(way.rungs) + 1):
        if builder:
            made = builder.build(rung)
        else:
            bare = ground.layers.of(way.rung(rung))
            made = {first: arrange_bare(context, way) for first, context in bare.items()}
        rungs.append(_grade_rung(made, ground, fit, way, rungs[-1] if rungs else None))
    ladder = Ladder(fit, way, ground, tuple(rungs), not fit.tune.has_chords, options)
    if builder is None or way.solo is None:
        return ladder
    second, solo = _second_time(builder, way.solo, ground, fit, *rungs[:-3:-1])
    return replace(ladder, second=second, rungs=(*rungs[:-1], solo))


def restore_ladder(
    fit: Fit, searched: Searched, idiom: str | Idiom | None = None, options: Options = USUAL, own: OwnRows = ()
) -> Ladder:
    """The ladder that `build_ladder` gave, from what was found then: a tenth of the work."""
    way, ground = _way_and_ground(fit, idiom, options, own, None)
    return Ladder(fit, way, ground, searched.rungs, not fit.tune.has_chords, options, second=searched.second)


def _way_and_ground(
    fit: Fit, idiom: str | Idiom | None, options: Options, own: OwnRows, decisions: Decisions | None
) -> tuple[Idiom, Groundwork]:
    """The way of playing at the tune's speed, and what all rungs stand on."""
    way = idiom if isinstance(idiom, Idiom) else find_idiom(idiom, fit.setup.instrument, options, own)
    count = clock_of(fit.tune.bars[0].metre).count
    right = way.right.at_speed(float(count / whole_notes_a_second(fit.tune.tempo)))
    way = way if right is way.right else replace(way, right=right)
    return way, lay_ground(fit, way, ShapeBook(fit.setup, way.left), decisions)


def _grade_rung(
    made: Mapping[int, ArrangedBar],
    ground: Groundwork,
    fit: Fit,
    idiom: Idiom,
    below: Sequence[ArrangedBar] | None,
) -> tuple[ArrangedBar, ...]:
    """Every written bar with its grade and that of its join, neither lower than on the rung below (rule H6)."""
    following, classes = first_steps(ground.joins), ground.structure.classes
    if not idiom.left.one_finger:
        made = looking_ahead(made, classes, ground.joins, ground.contexts)
    graded: dict[int, ArrangedBar] = {}
    for first, bar in made.items():
        grade = grade_bar(bar, fit.setup, fit.tune, ground.contexts[first].bar.metre, idiom)
        graded[first] = replace(bar, grade=not_below(grade, below[first].grade) if below else grade)
    bars = []
    for index, first in enumerate(classes):
        bar = graded[first]
        after = graded[classes[following[index]]] if index in following else None
        join = grade_join(bar, after, idiom, count_of(ground.tune, index)) if after else Grade(1)
        join = not_below(join, below[index].join) if below else join
        bar = replace(bar, number=ground.tune.bars[index].number, join=join)
        bars.append(keep_down(bar, after))
    return tuple(bars)


def _second_time(
    builder: RungBuilder,
    rung: int,
    ground: Groundwork,
    fit: Fit,
    solo: Sequence[ArrangedBar],
    below: Sequence[ArrangedBar],
) -> tuple[dict[int, ArrangedBar], tuple[ArrangedBar, ...]]:
    """The varied bars of what is played more than once, and the solo with those of parts that are written twice."""
    order = list(played_bars(ground.tune))
    again = written_again(ground.tune, ground.structure)
    times = Counter(order)
    varied = vary(builder, rung, [again.get(index, index) for index in order])
    second: dict[int, ArrangedBar] = {}
    rewritten: dict[int, ArrangedBar] = {}
    for index, first in enumerate(ground.structure.classes):
        if first in varied and (times[index] > 1 or index in again):
            bar = varied[first]
            grade = grade_bar(bar, fit.setup, fit.tune, ground.contexts[first].bar.metre, builder.idiom)
            grade = not_below(grade, below[index].grade)
            done = keep_down(replace(bar, number=solo[index].number, grade=grade, join=solo[index].join))
            (rewritten if index in again else second)[index] = done
    return second, tuple(rewritten.get(index, bar) for index, bar in enumerate(solo))


def _frame(ladder: Ladder, write: Callable[[Tune, Neck], Tune], label: str) -> Frame | None:
    """A kick-off or an ending in the ladder's own idiom, unless the tune has a part of that name."""
    free = ladder.tune.metre.free or any(bar.part.lower() == label for bar in ladder.tune.bars)
    if ladder.solo is None or free:
        return None
    setup, strings = ladder.fit.setup, ladder.idiom.strings
    neck = frozenset(
        cents
        for cents in setup.reachable
        if not strings or any(place.string in strings for place in setup.places(cents))
    )
    tune = write(ladder.tune, neck)
    fit = replace(ladder.fit, tune=tune)
    if not all(setup.cents_of(pitch) in neck for pitch in tune.pitches):
        return None
    shapes = next(iter(ladder.ground.contexts.values())).shapes
    ground = lay_ground(fit, ladder.idiom, shapes, stops=True)
    builder = RungBuilder(ground.layers, ground.structure, ground.joins, ladder.idiom)
    bars = _grade_rung(builder.build(ladder.solo), ground, fit, ladder.idiom, None)
    return Frame(tune, bars if ladder.fillers else tuple(map(bar_without_fillers, bars)), ground.core)


def count_of(tune: Tune, index: int) -> Time:
    """The shortest stroke of a written bar."""
    return clock_of(tune.bars[index].metre).count


def joins_of(tune: Tune) -> tuple[tuple[int, int], ...]:
    """Each step from a written bar to the one played next, in the order of their first playing; no step twice."""
    return tuple(dict.fromkeys(itertools.pairwise(played_bars(tune))))


def first_steps(joins: Sequence[tuple[int, int]]) -> dict[int, int]:
    """The bar that is played after each written bar, the first time through."""
    return dict(reversed(joins))
