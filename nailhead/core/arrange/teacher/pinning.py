"""A bar arranged anew around what the teacher sets: a melody note's place, a pattern, a chord shape."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from nailhead.core.arrange.fit.bare import arrange_bare
from nailhead.core.arrange.fit.building import RungBuilder, choose_shapes, place_words
from nailhead.core.arrange.fit.candidates import Candidate
from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.fit.moving import Placing, usual
from nailhead.core.arrange.fit.search import Fitter
from nailhead.core.arrange.fit.versions import Versions
from nailhead.core.arrange.left.context import BarContext, Spots
from nailhead.core.arrange.left.placing import NoteToPlace, place_melody
from nailhead.core.arrange.left.staying import keep_down
from nailhead.core.arrange.rows.hands import Adds, Idiom
from nailhead.core.arrange.rows.patterns import Pattern
from nailhead.core.arrange.teacher.cells import graded
from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.errors import PathError
from nailhead.core.fretboard.setup import Place
from nailhead.core.fretboard.shapes import Shape
from nailhead.core.music.metre import Time
from nailhead.core.music.structure import HarmonySpan

#: What a pattern that was asked for is worth beside the others, so that it is taken wherever it fits.
ASKED = 60


@dataclass(frozen=True, slots=True)
class ShapeOffer:
    """A way to hold the chord from `onset` on: as a player writes it, string 5 (or the last) first, x left out."""

    onset: Time
    chord: str
    frets: str
    used: bool


def _context(ladder: Ladder, index: int, rung: int, onset: Time | None = None) -> BarContext:
    """The bar's notes of the layer that the rung plays, or the version of them in which one begins at `onset`."""
    ladder.cell(index, rung)  # refuses a rung that there is none of
    first = ladder.structure.classes[index]
    base = ladder.ground.layers.of(ladder.idiom.rung(rung))[first]
    if onset is None or _begins(base, onset) or len(ladder.rungs) == 1:
        return base
    found = Versions(ladder.ground.layers, ladder.idiom).of(first, rung)
    return next((version.context for version in found if _begins(version.context, onset)), base)


def _begins(context: BarContext, onset: Time) -> bool:
    return any(part.onset == onset and part.spot and not part.held for part in context.segments)


def _refuse(ladder: Ladder, index: int, said: str, field: str, remedy: str) -> PathError:
    number = ladder.tune.bars[index].number
    return PathError(f"Bar {number}: {said}", field=field, bar=number, remedy=remedy)


def _played(ladder: Ladder, index: int, field: str) -> Idiom:
    """The ladder's way of playing; refuses one that has the bare rung alone."""
    if len(ladder.rungs) == 1:
        raise _refuse(ladder, index, f"{ladder.idiom.name} has the bare rung alone.", field, "Edit the bar by hand.")
    return ladder.idiom


def _builder(ladder: Ladder, idiom: Idiom) -> RungBuilder:
    ground = ladder.ground
    return RungBuilder(ground.layers, ground.structure, ground.joins, idiom)


def _done(ladder: Ladder, index: int, rung: int, bar: ArrangedBar) -> ArrangedBar:
    number = ladder.tune.bars[index].number
    return keep_down(graded(ladder, index, replace(bar, number=number, rung=rung)))


def with_note_at(ladder: Ladder, index: int, rung: int, onset: Time, place: Place) -> ArrangedBar:
    """The bar with a melody note on another place of its pitch; fingers, strokes and fillers follow.

    Raises PathError where no melody note begins at `onset` or the place does not sound it.
    """
    context = _context(ladder, index, rung, onset)
    at = next(
        (at for at, part in enumerate(context.segments) if part.onset == onset and part.spot and not part.held), None
    )
    if at is None:
        raise _refuse(
            ladder, index, "no melody note begins there.", "onset", "Choose a melody note that this rung plays."
        )
    pitch = context.segments[at].pitch
    assert pitch is not None
    if place not in context.setup.places(context.setup.cents_of(pitch)):
        said = f"{pitch} is not on string {place.string} fret {place.fret}."
        raise _refuse(ladder, index, said, "place", "Choose one of its places.")
    spots = _placed_again(context, at, place)
    if len(ladder.rungs) == 1:
        segments = tuple(replace(part, spot=spot) for part, spot in zip(context.segments, spots, strict=True))
        bare = arrange_bare(replace(context, segments=segments), ladder.idiom)
        return _done(ladder, index, rung, bare)
    shapes = choose_shapes(context, spots) if ladder.idiom.has(Adds.SHAPES, rung) else {}
    placing = Placing(spots, 0, ((at, "the teacher wants it there"),))
    found = _candidates(ladder, context, rung, placing, shapes)
    if not found:
        said = f"the melody note cannot be played on {place_words(place, context)} here."
        raise _refuse(ladder, index, said, "place", "Choose another place.")
    return _done(ladder, index, rung, found[0][1])


def _candidates(
    ladder: Ladder, context: BarContext, rung: int, placing: Placing, shapes: Mapping[HarmonySpan, Shape]
) -> list[tuple[int, ArrangedBar]]:
    """(cost, bar) of the ways to play a bar with its melody and shapes as given, cheapest first."""
    builder, grid = _builder(ladder, ladder.idiom), Grid(context, placing.spots, shapes)
    found = []
    for cell in sorted(Fitter(ladder.idiom, rung).cells(grid), key=lambda cell: cell.cost):
        candidate = Candidate(cell.cost, cell, grid, placing, cell.first, cell.last, ())
        found.append((cell.cost, builder.lay_out(candidate, rung)))
    return found


def _placed_again(context: BarContext, at: int, place: Place) -> Spots:
    """The bar's melody with one note on a place, the others where they lie, fingered anew."""
    base = usual(context).spots
    notes, struck = [], []
    for index, (part, spot) in enumerate(zip(context.segments, base, strict=True)):
        if spot is None or part.pitch is None:
            continue
        where = place if index == at else spot.place
        notes.append(NoteToPlace(context.setup.cents_of(part.pitch), part.duration, (where,)))
        struck.append(index)
    placed = dict(zip(struck, place_melody(notes, context.setup).spots, strict=True))
    return tuple(placed.get(index, spot) for index, spot in enumerate(base))


def with_pattern(ladder: Ladder, index: int, rung: int, name: str) -> ArrangedBar:
    """The bar with a pattern wherever that goes with the melody; raises PathError where it nowhere does."""
    ladder.cell(index, rung)  # refuses a rung that there is none of
    idiom = _played(ladder, index, "pattern")
    if not any(row.name == name for row in idiom.right.patterns):
        known = ", ".join(dict.fromkeys(row.name for row in idiom.right.patterns))
        raise _refuse(ladder, index, f"there is no pattern “{name}”.", "pattern", f"Choose one of: {known}.")
    bar = _with_asked(_builder(ladder, idiom), ladder.structure.classes[index], rung, name)
    if name not in bar.patterns:
        raise _refuse(
            ladder, index, f"{name} does not go with its melody on rung {rung}.", "pattern", "Choose another pattern."
        )
    return _done(ladder, index, rung, bar)


def _with_asked(builder: RungBuilder, first: int, rung: int, name: str) -> ArrangedBar:
    """The cheapest way to play a bar where a pattern is wanted; it may not be in it."""
    idiom = builder.idiom
    asking = builder.playing(replace(idiom, right=idiom.right.with_patterns(_asked(idiom, name, rung))))
    found = asking.candidates(Fitter(asking.idiom, rung), first)
    return asking.lay_out(min(found, key=lambda one: one.cost), rung)


def _asked(idiom: Idiom, name: str, rung: int) -> tuple[Pattern, ...]:
    """The rows of a pattern as they are wanted: from any rung on, and cheaper than all others."""
    return tuple(
        replace(row, from_rung=1, moving_from=min(row.moving_from, rung), cost=row.cost - ASKED)
        for row in idiom.right.patterns
        if row.name == name
    )


def patterns_that_fit(ladder: Ladder, index: int, rung: int) -> tuple[str, ...]:
    """The patterns that go with a bar's melody on a rung, in the order of their table."""
    if len(ladder.rungs) == 1 or rung < 2:
        return ()
    builder, first = _builder(ladder, ladder.idiom), ladder.structure.classes[index]
    names = dict.fromkeys(row.name for row in ladder.idiom.right.patterns)
    return tuple(name for name in names if name in _with_asked(builder, first, rung, name).patterns)


def shapes_offered(ladder: Ladder, index: int, rung: int, most: int = 6) -> tuple[ShapeOffer, ...]:
    """The best shapes of each chord of a bar of which something is struck on that rung; the one in use is marked."""
    if not ladder.idiom.has(Adds.SHAPES, rung):
        return ()
    context = _context(ladder, index, rung)
    held = {(shape.onset, shape.stops) for shape in ladder.cell(index, rung).shapes}
    offers = []
    for span in context.harmony:
        for shape in context.shapes.of(span.chord)[:most] if span.chord else ():
            frets = frets_text(shape, ladder)
            stops = tuple((string, fret, dict(shape.fingers)[string]) for string, fret in shape.frets if fret)
            if stops and _can_hold(ladder, index, rung, span.onset, frets):
                offers.append(ShapeOffer(span.onset, str(span.chord), frets, (span.onset, stops) in held))
    return tuple(offers)


def _can_hold(ladder: Ladder, index: int, rung: int, onset: Time, frets: str) -> bool:
    try:
        with_shape(ladder, index, rung, onset, frets)
    except PathError:
        return False
    return True


def frets_text(shape: Shape, ladder: Ladder) -> str:
    """ "x-0-2-0-1": frets from the last string to the first, x where a string is left out."""
    setup = ladder.fit.setup
    frets = dict(shape.frets)
    last = setup.instrument.strings
    named = [setup.fret_name(frets[number]) if number in frets else "x" for number in range(last, 0, -1)]
    return "-".join(named)


def with_shape(ladder: Ladder, index: int, rung: int, onset: Time, frets: str) -> ArrangedBar:
    """The bar with a chord held in a certain shape; raises PathError where the shape is not among those offered."""
    _played(ladder, index, "shape")
    context = _context(ladder, index, rung)
    span = next((span for span in context.harmony if span.onset == onset and span.chord), None)
    found = next(
        (
            shape
            for shape in (context.shapes.of(span.chord) if span and span.chord else ())
            if frets_text(shape, ladder) == frets
        ),
        None,
    )
    if span is None or found is None:
        raise _refuse(ladder, index, f"there is no shape {frets} there.", "shape", "Choose one that is offered.")
    placing = usual(context)
    shapes = {**choose_shapes(context, placing.spots), span: found}
    held = [
        bar
        for _, bar in _candidates(ladder, context, rung, placing, shapes)
        if any(shape.onset == onset for shape in bar.shapes)
    ]
    if not held:
        raise _refuse(
            ladder,
            index,
            f"nothing of the shape {frets} would be struck.",
            "shape",
            "Choose another, or a higher rung.",
        )
    return _done(ladder, index, rung, held[0])
