"""Builds a rung: candidates for every different bar, chosen together with their joins, laid out."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace

from nailhead.core.arrange.fit.bare import early_notes, triplet_pickup
from nailhead.core.arrange.fit.candidates import Candidate, with_breath
from nailhead.core.arrange.fit.cell import Cell, best_of_ends
from nailhead.core.arrange.fit.directions import turned_in_threes
from nailhead.core.arrange.fit.dressing import dressed
from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.fit.harmonics import WHY
from nailhead.core.arrange.fit.laying import lay_out
from nailhead.core.arrange.fit.moving import Placing, usual
from nailhead.core.arrange.fit.plainness import why_plainer
from nailhead.core.arrange.fit.search import KEEP, Fitter
from nailhead.core.arrange.fit.versions import Version, Versions
from nailhead.core.arrange.left.context import BarContext, Segment, Spots
from nailhead.core.arrange.left.finger_reasons import finger_reasons
from nailhead.core.arrange.left.layered import Layers
from nailhead.core.arrange.rows.costs import COSTS, HOPELESS
from nailhead.core.arrange.rows.hands import Adds, Idiom
from nailhead.core.arrange.values import ArrangedBar, Moved, Role, Stroke
from nailhead.core.choosing import choose_cells
from nailhead.core.fretboard.setup import Place
from nailhead.core.fretboard.shapes import Shape
from nailhead.core.music.layers import Layer
from nailhead.core.music.metre import Time
from nailhead.core.music.structure import HarmonySpan, Structure, beat_words

#: What a full bar costs in which no drone string sounds.
SILENT = 12
#: What it costs to play a bar just as the rung below does.
STILL, STILL_IN_SOLO = 12, 40
#: What it costs to play a bar of pairs by its beats alone.
FORCED = 100
#: So many ways are looked at for a bar that would stay as it is below.
WIDE = 24
#: So many graces a bar may have that would else be played as below.
MANY = 2


class RungBuilder:
    """Everything about a tune that its rungs share; `build` is called rung by rung, from the bottom up.

    `made` are the bars of the rung built last, by class; `chosen` their candidates, `offered` all there were, `cost`
    what bars and joins cost together. `keep` ways are carried on at each place of the search.
    """

    def __init__(
        self,
        layers: Layers,
        structure: Structure,
        joins: Sequence[tuple[int, int]],
        idiom: Idiom,
        keep: int = KEEP,
    ) -> None:
        self.layers = layers
        self.keep = keep
        self.contexts = layers[Layer.FULL]
        self._first = {context.bar.number: first for first, context in self.contexts.items()}
        self.versions = Versions(layers, idiom)
        setup = next(iter(self.contexts.values())).setup
        self._drones = frozenset(string.number for string in setup.strings if string.drone)
        self.structure = structure
        self.joins = joins
        self.idiom = idiom
        self.made: dict[int, ArrangedBar] = {}
        self._chosen: Mapping[int, Candidate] = {}
        self.cost = 0
        self._hands: Mapping[int, int] = {}
        self.chosen: Mapping[int, Candidate] = {}
        self.offered: Mapping[int, Sequence[Candidate]] = {}
        self._busier: frozenset[int] = frozenset()
        self._grids: dict[object, Grid] = {}
        self._fitted: dict[object, list[Cell]] = {}

    def playing(self, idiom: Idiom) -> RungBuilder:
        """A builder for the same bars under another hand, with the grids that are there already."""
        other = RungBuilder(self.layers, self.structure, self.joins, idiom)
        other._grids = self._grids
        return other

    def build(self, rung: int) -> dict[int, ArrangedBar]:
        """The arranged bar of each class of equal bars."""
        fitter = Fitter(self.idiom, rung, self.keep)
        candidates = {first: self.candidates(fitter, first) for first in self.contexts}
        made = self._choose(fitter, candidates)
        if self._is_forced() and self.idiom.rung(rung).layer is Layer.PAIRS and Layer.BEAT in self.idiom.layers:
            candidates = {first: [*found, *self._with_fewer(fitter, first)] for first, found in candidates.items()}
            made = self._choose(fitter, candidates)
        still = self._still(made)
        if still and self.idiom.has(Adds.SLURS, rung):
            self._busier = still
            made |= {first: self._laid(self._chosen[first], rung, first) for first in still}
            still = self._still(made)
        if still:
            price = STILL_IN_SOLO if rung == self.idiom.solo else STILL
            wide = Fitter(self.idiom, rung, max(WIDE, self.keep), apart=True)
            candidates |= {
                first: [
                    self._stepped(one, self._chosen[first], price)
                    for one in (*candidates[first], *self.candidates(wide, first))
                ]
                for first in still
            }
            made = self._choose(fitter, candidates, made)
        self.chosen, self.offered, self._busier = self._chosen, candidates, frozenset()
        self.made = {first: self.report_moves(bar, first) for first, bar in made.items()}
        return self.made

    def _still(self, made: Mapping[int, ArrangedBar]) -> frozenset[int]:
        """The bars that are played just as on the rung below."""
        below = self.made
        return frozenset(first for first, bar in made.items() if first in below and _heard(bar) == _heard(below[first]))

    def _stepped(self, candidate: Candidate, as_below: Candidate, price: int) -> Candidate:
        """Every rung is a step up: what comes out as on the rung below costs more, and so does what plays less."""
        fewer = as_below.strings_struck - candidate.strings_struck
        less = fewer > self.idiom.right.spares(bool(candidate.placing.why))
        return (
            replace(candidate, cost=candidate.cost + price)
            if less or candidate.played == as_below.played
            else candidate
        )

    def _is_forced(self) -> bool:
        """Does a finger strike twice running anywhere because no other is free?"""
        forced = COSTS["finger forced"]
        return self.cost >= HOPELESS or any(found.cell.cost >= forced for found in self._chosen.values())

    def _with_fewer(self, fitter: Fitter, first: int) -> list[Candidate]:
        """A bar of pairs by its beats alone, for a place where no finger is free for a note between them."""
        fewer = self.layers[Layer.BEAT][first]
        if len(fewer.segments) == len(self.layers[Layer.PAIRS][first].segments):
            return []
        return self.fit(fitter, [Version(fewer, (usual(fewer),), FORCED, "Leaves out what no finger is free for.")])

    def _choose(
        self,
        fitter: Fitter,
        candidates: Mapping[int, Sequence[Candidate]],
        made: Mapping[int, ArrangedBar] | None = None,
    ) -> dict[int, ArrangedBar]:
        """The bars of the cheapest candidates and joins; `made` are those of an earlier choice, to be taken over."""
        choice = choose_cells(
            self.structure.classes,
            candidates,
            self.joins,
            lambda *step: self.join_price(fitter, *step),
            Candidate.ends,
        )
        earlier, earlier_hands, self.cost = self._chosen, self._hands, choice.cost
        self._chosen, self._hands = choice.cells, self.last_fingers(choice.cells)
        return {
            first: made[first]
            if made and found.cell is earlier[first].cell and earlier_hands[first] == self._hands[first]
            else self._laid(found, fitter.rung, first)
            for first, found in choice.cells.items()
        }

    def candidates(
        self, fitter: Fitter, first: int, more: Callable[[BarContext], Iterable[Placing]] = lambda _: ()
    ) -> list[Candidate]:
        """The best ways to play a class of bars, in its usual places and in others; `more` may add further ones."""
        return self.fit(fitter, self.versions.of(first, fitter.rung), more)

    def fit(
        self,
        fitter: Fitter,
        versions: Sequence[Version],
        more: Callable[[BarContext], Iterable[Placing]] = lambda _: (),
    ) -> list[Candidate]:
        """The best ways to play a bar in several versions of its melody."""
        found = []
        for version in versions:
            for placing in (*version.placings, *more(version.context)):
                grid = self._grid(version.context, placing.spots, fitter.rung)
                for cell in self._cells(fitter, grid):
                    motions = tuple(row.family for row, _ in cell.rows if row and row.family)
                    cost = cell.cost + placing.cost + version.cost + self._silent(cell, grid)
                    found.append(Candidate(cost, cell, grid, placing, cell.first, cell.last, motions, version.said))
        return with_breath(best_of_ends(found, fitter.keep))

    def _silent(self, cell: Cell, grid: Grid) -> int:
        """A full bar in which no drone string sounds is no banjo bar."""
        drones = self._drones
        if not drones or not grid.full or grid.context.stops:
            return 0
        return SILENT if all(drones.isdisjoint(strike.strings) for strike in cell.strikes) else 0

    def _cells(self, fitter: Fitter, grid: Grid) -> list[Cell]:
        """The cells of a grid, fitted once for all rungs that would find the same."""
        key = (id(grid), fitter.signature(grid), fitter.keep, fitter.apart)
        if key not in self._fitted:
            self._fitted[key] = fitter.cells(grid)
        return self._fitted[key]

    def _grid(self, context: BarContext, spots: Spots, rung: int) -> Grid:
        """The grid of a bar; rungs that hold shapes share it."""
        holds = self.idiom.has(Adds.SHAPES, rung)
        key = (id(context), spots, holds)
        if key not in self._grids:
            self._grids[key] = Grid(context, spots, choose_shapes(context, spots) if holds else {})
        return self._grids[key]

    def last_fingers(self, chosen: Mapping[int, Candidate]) -> dict[int, int]:
        """The fingers (as bits) that strike just before each class of bars begins."""
        fingers = dict.fromkeys(chosen, 0)
        classes = self.structure.classes
        for before, after in self.joins:
            candidate = chosen[classes[before]]
            last = candidate.last
            if last and candidate.grid.end - last.at <= candidate.grid.count:
                fingers[classes[after]] |= last.fingers
        return fingers

    def _laid(self, candidate: Candidate, rung: int, first: int) -> ArrangedBar:
        return self.lay_out(candidate, rung, self._hands[first], busier=first in self._busier)

    def lay_out(
        self, candidate: Candidate, rung: int, before: int = 0, graces: bool = True, busier: bool = False
    ) -> ArrangedBar:
        """A candidate as a bar, ornaments and all; `before` are the fingers that strike just before it.

        A `busier` one has more graces and wider pinches, below the rung of moves an open note pulled off to: what
        would stay as it is below gets them.
        """
        context = candidate.grid.context
        idiom = self.idiom
        moves = idiom.has(Adds.MOVES, rung)
        most = 0 if not graces else MANY if busier and moves else 1

        def dress(strokes: tuple[Stroke, ...], grid: Grid) -> tuple[Stroke, ...]:
            played = dressed(strokes, grid, idiom, rung, before, most, far=busier and moves, pulls=busier and not moves)
            return turned_in_threes(played, grid, idiom.right)

        bar = lay_out(candidate.grid, candidate.cell, rung, idiom.left, dress)
        bar = replace(bar, strokes=tuple(triplet_pickup(bar.strokes, context, idiom)))
        plainer = why_plainer(candidate.grid, bar, candidate.cell.rows, rung, idiom)
        layer = idiom.rung(rung).thins or idiom.rung(rung).layer
        bar = replace(bar, layer=layer, early=early_notes(context))
        bar = replace(bar, plainer=plainer, remarks=tuple(dict.fromkeys((*bar.remarks, *filter(None, (plainer,))))))
        moved = tuple(
            Moved(context.segments[index].onset, home.place, spot.place, why)
            for index, why in candidate.placing.why
            if (home := context.segments[index].spot) and (spot := candidate.grid.spots[index])
        )
        moved += tuple(_touched(bar, context))
        remarks = bar.remarks + ((candidate.said,) if candidate.said else ())
        remarks += tuple(finger_reasons(bar, context)) if idiom.right.chords_plucked else ()
        bar = replace(bar, moved=moved, remarks=remarks)
        return self._coming_back(bar, context) if idiom.rung(rung).thins else bar

    def _coming_back(self, bar: ArrangedBar, context: BarContext) -> ArrangedBar:
        """A string that is struck beside the melody just when the tune has its pitch plays a note of the tune."""
        full = self.contexts[self._first[context.bar.number]]
        here = {part.source for part in context.segments}
        gone = {part.onset: part for part in full.segments if part.spot and not part.held and part.onset not in here}
        strokes, moved = [], []
        for before, stroke in zip((None, *bar.strokes), bar.strokes, strict=False):
            part = gone.get(stroke.onset)
            if part is None or not _plays(stroke, part) or (before and _strikes(before, stroke.notes[0].place)):
                strokes.append(stroke)
                continue
            strokes.append(stroke.with_notes(lambda one: replace(one, role=Role.MELODY)))
            (note,) = stroke.notes
            if part.spot and note.place != part.spot.place:
                moved.append(Moved(stroke.onset, part.spot.place, note.place, "the right hand strikes it there"))
        return replace(bar, strokes=tuple(strokes), moved=bar.moved + tuple(moved))

    def join_price(self, fitter: Fitter, before: int, one: Candidate, after: int, other: Candidate) -> int:
        """The step over a bar line: the same finger again, another motion."""
        last, first = one.last, other.first
        if last is None or first is None:
            return 0
        cost = 0
        if not first.left:
            gap = (first.at - other.grid.start) * one.grid.count // other.grid.count
            cost += fitter.step(last, first, one.grid.count, one.grid.end + gap - last.at)
        if one.motions and other.motions and one.motions[-1] != other.motions[0]:
            cost += self.idiom.right.change_at_bar_line
        return cost

    def report_moves(self, bar: ArrangedBar, first: int) -> ArrangedBar:
        """Says where a melody note lies elsewhere than on the rung below, and why (rule H5)."""
        below = self.made.get(first)
        if below is None:
            return bar
        context = self.contexts[first]
        here, there = _moves(bar), _moves(below)
        both = bar.tune_onsets & below.tune_onsets
        said = []
        for onset in sorted(here.keys() | there.keys()):
            old, new = there.get(onset), here.get(onset)
            if onset not in both or (old and old.place) == (new and new.place):
                continue
            where = beat_words(onset, context.offset, context.bar.metre.unit)
            place = new.place if new else (old.usual if old else None)
            assert place is not None
            why = new.why if new else "its usual place serves here"
            said.append(f"The melody note {where} is taken on {place_words(place, context)}: {why}.")
        said += _left_words(below.tune_onsets, bar.tune_onsets)
        return replace(bar, remarks=bar.remarks + tuple(said))


def _heard(bar: ArrangedBar) -> tuple[object, ...]:
    """What a bar sounds like: what is struck when and by whom, how notes are come to, which are shaken."""
    return tuple(
        (stroke.onset, stroke.shake, [(touch.by, [(note.place, note.slur) for note in touch.notes])])
        for stroke in bar.strokes
        for touch in stroke.touches
    )


def _touched(bar: ArrangedBar, context: BarContext) -> Iterator[Moved]:
    """The melody notes that are harmonics."""
    usual = {part.onset: part.spot for part in context.segments if part.spot}
    for stroke in bar.strokes:
        for note in stroke.notes:
            if note.harmonic and (spot := usual.get(stroke.onset)) and spot.place != note.place:
                yield Moved(stroke.onset, spot.place, note.place, WHY)


def _strikes(stroke: Stroke, place: Place) -> bool:
    """Is a place struck beside the melody?"""
    return any(note.place == place and note.role is not Role.MELODY for note in stroke.notes)


def _plays(stroke: Stroke, part: Segment) -> bool:
    """Is the one note of a stroke, struck beside the melody, that of a part of the tune?"""
    if len(stroke.notes) != 1 or part.pitch is None:
        return False
    (note,) = stroke.notes
    return note.role in (Role.CHORD, Role.DRONE) and note.pitch.cents == part.pitch.cents


def _left_words(below: frozenset[Time], here: frozenset[Time]) -> list[str]:
    """What is said where a rung leaves notes that the rung below plays."""
    gone = len(below - here)
    if not gone:
        return []
    notes = "a melody note" if gone == 1 else f"{gone} melody notes"
    return [f"Leaves {notes} of the rung below to what the right hand runs on with."]


def _moves(bar: ArrangedBar) -> dict[Time, Moved]:
    """What has moved, by the note's own onset in the tune."""
    early = dict(bar.early)
    return {early.get(moved.onset, moved.onset): moved for moved in bar.moved}


def place_words(place: Place, context: BarContext) -> str:
    """ "string 3 fret 4", "string 2 open"."""
    fret = f"fret {context.setup.fret_name(place.fret)}" if place.fret else "open"
    return f"string {place.string} {fret}"


def choose_shapes(context: BarContext, spots: Spots) -> dict[HarmonySpan, Shape]:
    """For each chord of the bar the shape that costs least together with the melody played over it."""
    chosen = {}
    for span in context.harmony:
        places = [
            spot.place
            for part, spot in zip(context.segments, spots, strict=True)
            if spot and span.onset <= part.onset < span.end
        ]
        best = context.shapes.cheapest(span.chord, places) if span.chord else None
        if best:
            chosen[span] = best
    return chosen
