"""The ladder: every bar of a tune on every rung, and the path through it."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from nailhead.core.arrange.bare import arrange_bare
from nailhead.core.arrange.clawhammer import BarContext, Segment, arrange_bar
from nailhead.core.arrange.grade import grade_bar, grade_join, not_below
from nailhead.core.arrange.holding import ShapeBook
from nailhead.core.arrange.idioms import Idiom, find_idiom
from nailhead.core.arrange.placing import NoteToPlace, Placement, Spot, place_melody
from nailhead.core.arrange.values import ArrangedBar, Grade
from nailhead.core.errors import PathError
from nailhead.core.fretboard.fit import Fit
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.harmonise import suggest_chords
from nailhead.core.music.structure import Structure, chord_at, read_structure
from nailhead.core.music.tune import Tune, performance, sounding_notes

#: Names of the rungs this version builds (handbook §5).
RUNGS: dict[int, str] = {1: "Bare", 2: "Basic stroke", 3: "Chords"}
#: Idiom -> what arranges one bar of it above the bare melody; without one, rung 1 is all there is yet.
ARRANGERS: dict[str, Callable[[BarContext, int], ArrangedBar]] = {"clawhammer": arrange_bar}


@dataclass(frozen=True)
class Ladder:
    """`rungs[r - 1][i]` is written bar i on rung r. `tune` sounds as set up; chords may be suggested."""

    fit: Fit
    idiom: Idiom
    tune: Tune
    structure: Structure
    placement: Placement
    rungs: tuple[tuple[ArrangedBar, ...], ...]
    chords_suggested: bool

    def cell(self, index: int, rung: int) -> ArrangedBar:
        """Written bar `index` on a rung; raises PathError for what is not there."""
        if not 1 <= rung <= len(self.rungs):
            raise PathError(f"There is no rung {rung}.", field="rung", remedy=f"Choose 1 to {len(self.rungs)}.")
        return self.rungs[rung - 1][index]


def build_ladder(fit: Fit, idiom: str | None = None) -> Ladder:
    """All rungs of a tune on a setup, in the instrument's usual idiom where none is named."""
    way = find_idiom(idiom, fit.setup.instrument.id)
    arrange = ARRANGERS.get(way.id, lambda context, rung: arrange_bare(context, way))
    tune = suggest_chords(fit.tune)
    structure = read_structure(tune)
    shapes = ShapeBook(fit.setup)
    placement = _place(tune, fit, structure, shapes, way)
    contexts = _contexts(tune, shapes, structure, placement)
    following = _following(tune)
    rungs: list[tuple[ArrangedBar, ...]] = []
    for rung in range(1, way.rungs + 1):
        below = rungs[-1] if rungs else None
        rungs.append(_build_rung(contexts, structure, fit, arrange, rung, below, following))
    return Ladder(fit, way, tune, structure, placement, tuple(rungs), not fit.tune.has_chords)


def _build_rung(
    contexts: dict[int, BarContext],
    structure: Structure,
    fit: Fit,
    arrange: Callable[[BarContext, int], ArrangedBar],
    rung: int,
    below: tuple[ArrangedBar, ...] | None,
    following: dict[int, int],
) -> tuple[ArrangedBar, ...]:
    made: dict[int, ArrangedBar] = {}
    for index, context in contexts.items():
        bar = arrange(context, rung)
        grade = grade_bar(bar, fit.setup, fit.tune, context.bar.metre)
        made[index] = replace(bar, grade=not_below(grade, below[index].grade) if below else grade)
    bars = []
    for index, first in enumerate(structure.classes):
        bar = made[first]
        join = Grade(1)
        if index in following:
            join = grade_join(bar, made[structure.classes[following[index]]])
        join = not_below(join, below[index].join) if below else join
        bars.append(replace(bar, number=fit.tune.bars[index].number, join=join))
    return tuple(bars)


def _following(tune: Tune) -> dict[int, int]:
    """The bar that is played after each written bar, the first time through."""
    following: dict[int, int] = {}
    order = list(performance(tune.bars))
    for before, after in itertools.pairwise(order):
        following.setdefault(before, after)
    return following


def _place(tune: Tune, fit: Fit, structure: Structure, shapes: ShapeBook, idiom: Idiom) -> Placement:
    """Places the melody twice: freely, then with equal bars held to the places chosen most often.

    Both runs are exact; the second one makes a repeated phrase use the same places again.
    """
    heard = sounding_notes(tune)
    starts = _bar_starts(tune)
    onsets = [starts[note.bar] + note.onset for note in heard]
    gaps = [after - before for before, after in itertools.pairwise(onsets)] + [Fraction(1)]
    notes = []
    for note, gap in zip(heard, gaps, strict=True):
        cents = fit.setup.cents_of(note.pitch)
        places = _places(fit, cents, idiom)
        chord = chord_at(structure.harmony[note.bar], note.onset)
        options = shapes.of(chord) if chord and idiom.id in ARRANGERS else ()
        shape = frozenset(place for place in places if options and options[0].fret(place.string) == place.fret)
        notes.append(NoteToPlace(cents, gap, places, shape))
    if idiom.one_finger:
        return _with_one_finger(notes)
    free = place_melody(notes, fit.setup)
    by_bar: dict[int, list[int]] = {}
    for index, note in enumerate(heard):
        by_bar.setdefault(note.bar, []).append(index)
    chosen = _usual_places(by_bar, free, structure)
    pinned = list(notes)
    for bar, members in by_bar.items():
        for index, place in zip(members, chosen[structure.classes[bar]], strict=True):
            pinned[index] = replace(notes[index], places=(place,))
    return place_melody(pinned, fit.setup)


def count_shifts(fit: Fit, idiom: Idiom) -> int:
    """How often the hand changes its place in the bare melody: what the planner weighs."""
    if idiom.one_finger:
        return 0
    cents = [fit.setup.cents_of(note.pitch) for note in sounding_notes(fit.tune)]
    notes = [NoteToPlace(sound, Fraction(1, 8), _places(fit, sound, idiom)) for sound in cents]
    stopped = [spot.position for spot in place_melody(notes, fit.setup).spots if spot.finger]
    return sum(before != after for before, after in itertools.pairwise(stopped))


def _places(fit: Fit, cents: Fraction, idiom: Idiom) -> tuple[Place, ...]:
    """The places of a pitch that the idiom allows."""
    places = fit.setup.places(cents)
    return tuple(place for place in places if place.string in idiom.strings) if idiom.strings else places


def _with_one_finger(notes: Sequence[NoteToPlace]) -> Placement:
    """A finger or noter that slides along one course: the lowest place of each note, the hand behind it."""
    places = [min(note.places, key=lambda place: place.fret) for note in notes]
    spots = tuple(Spot(place, 1 if place.fret else 0, max(1, place.fret)) for place in places)
    return Placement(spots, 0)


def _usual_places(by_bar: dict[int, list[int]], free: Placement, structure: Structure) -> dict[int, tuple[Place, ...]]:
    """For each class of equal bars the places its bars take most often; the earliest wins a tie."""
    votes: dict[int, dict[tuple[Place, ...], int]] = {}
    for bar, members in by_bar.items():
        places = tuple(free.spots[index].place for index in members)
        tally = votes.setdefault(structure.classes[bar], {})
        tally[places] = tally.get(places, 0) + 1
    return {first: max(tally, key=lambda places: tally[places]) for first, tally in votes.items()}


def _bar_starts(tune: Tune) -> list[Fraction]:
    starts, at = [], Fraction(0)
    for bar in tune.bars:
        starts.append(at)
        at += bar.length
    return starts


def _contexts(tune: Tune, shapes: ShapeBook, structure: Structure, placement: Placement) -> dict[int, BarContext]:
    """A context for the first bar of each class of equal bars."""
    spots = iter(placement.spots)
    last: Spot | None = None
    contexts = {}
    for index, bar in enumerate(tune.bars):
        segments: list[Segment] = []
        tied = structure.held[index]
        for event in bar.events:
            joins = tied and bool(segments) and event.pitch == segments[-1].pitch
            if joins and event.tuplet is None and segments[-1].tuplet is None:
                segments[-1] = replace(segments[-1], duration=segments[-1].duration + event.duration)
            elif event.pitch is None:
                segments.append(Segment(event.onset, event.duration, None, None, False, event.tuplet))
            else:
                carried = (tied and not segments) or joins
                last = last if carried else next(spots)
                segments.append(Segment(event.onset, event.duration, event.pitch, last, carried, event.tuplet))
            tied = event.tied
        if structure.classes[index] == index:
            contexts[index] = BarContext(
                shapes,
                bar.key,
                bar,
                structure.offsets[index],
                tuple(segments),
                structure.harmony[index],
            )
    return contexts
