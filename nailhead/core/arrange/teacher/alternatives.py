"""What else could be played: other cells for a bar, other places for a note, each with its price and in words."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from itertools import chain

from nailhead.core.arrange.fit.building import RungBuilder, place_words
from nailhead.core.arrange.fit.candidates import Candidate
from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.fit.moving import Placing, placings, spot_near, usual
from nailhead.core.arrange.fit.search import Fitter
from nailhead.core.arrange.fit.versions import Version
from nailhead.core.arrange.grade import grade_bar
from nailhead.core.arrange.left.context import BarContext
from nailhead.core.arrange.left.held_shapes import ShapeBook
from nailhead.core.arrange.left.melody import notes_to_place
from nailhead.core.arrange.left.placing import NoteToPlace, place_melody
from nailhead.core.arrange.left.staying import keep_down
from nailhead.core.arrange.rows.costs import COSTS
from nailhead.core.arrange.rows.hands import Adds
from nailhead.core.arrange.rows.touches import touch_row
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Role, Stroke
from nailhead.core.errors import PathError
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.layers import Layer
from nailhead.core.music.metre import Time
from nailhead.core.music.structure import beat_words
from nailhead.core.music.tune import sounding_notes

#: An alternative may be so many points dearer than the ladder's own way.
DEAREST = 45
#: Frets from the hand's place within which a unison is offered in a cell.
NEAR = 7
#: Frets between which a bar is played up the neck.
LOWEST_UP, HIGHEST_UP = 4, 12
#: What the bar with all its notes is called.
EVERY_NOTE = "All its notes here."
MELODIC = "The melodic way: all its notes, the run on other strings."
#: Notes on either side that are free to move when a unison is priced.
AROUND = 8


@dataclass(frozen=True, slots=True)
class Alternative:
    """Another way to play a bar: `price` in points above the ladder's own, `difference` in words."""

    bar: ArrangedBar
    price: int
    difference: str


@dataclass(frozen=True, slots=True)
class UnisonPlace:
    """A place of a melody note's pitch. `price` is what the whole placement costs more with the note there."""

    place: Place
    price: int
    words: str


def alternatives(ladder: Ladder, index: int, rung: int, most: int = 5) -> tuple[Alternative, ...]:
    """Other good ways to play written bar `index` on a rung, best first; none where the idiom has one rung.

    The first ones differ in kind: another pattern, another place, an ornament more or less; then the next cheapest.
    """
    here = ladder.cell(index, rung)
    idiom, ground = ladder.idiom, ladder.ground
    if len(ladder.rungs) == 1:
        return ()
    builder = RungBuilder(ground.layers, ground.structure, ground.joins, idiom)
    first = ground.structure.classes[index]
    context = ground.contexts[first]
    fitter = Fitter(idiom, rung, keep=24)
    found = builder.candidates(fitter, first, _other_places(rung, idiom.first(Adds.MOVES)))
    own = min((c.cost for c in found if _same(builder.lay_out(c, rung), here)), default=found[0].cost)
    offered: dict[str, Alternative] = {}
    for candidate, bar in _laid(builder, found, rung):
        price = candidate.cost - own
        if price > DEAREST or _same(bar, here):
            continue
        words = difference(here, bar, context)
        if words and words not in offered:
            grade = grade_bar(bar, ladder.fit.setup, ladder.tune, context.bar.metre, idiom)
            done = keep_down(replace(bar, number=here.number, grade=grade, join=here.join))
            offered[words] = Alternative(done, max(0, price), words)
    whole = _with_every_note(ladder, builder, fitter, index, own)
    found_ones = (*_varied(tuple(offered.values()), most - len(whole)), *whole)
    return tuple(sorted(found_ones, key=lambda alternative: alternative.price))


def _with_every_note(
    ladder: Ladder, builder: RungBuilder, fitter: Fitter, index: int, own: int
) -> tuple[Alternative, ...]:
    """The bar with all its notes, where the rung leaves some of them out, and where they run also spread over the
    strings; `own` is what the ladder's way costs.
    """
    here, rung, idiom = ladder.cell(index, fitter.rung), fitter.rung, ladder.idiom
    context = builder.contexts[ladder.structure.classes[index]]
    onsets = {part.onset for part in context.segments if part.spot and not part.held}
    if onsets <= here.tune_onsets:
        return ()
    reach = idiom.first(Adds.MOVES)
    found = []
    for words, places in (
        (EVERY_NOTE, (usual(context),)),
        (MELODIC, tuple(one for one in placings(context, reach, idiom) if one.spreads)),
    ):
        candidates = builder.fit(Fitter(idiom, rung), [Version(context, places)])
        for candidate in sorted(candidates, key=lambda one: one.cost):
            bar = replace(builder.lay_out(candidate, rung), layer=Layer.FULL)
            if onsets <= bar.tune_onsets:
                grade = grade_bar(bar, ladder.fit.setup, ladder.tune, context.bar.metre, idiom)
                done = keep_down(replace(bar, number=here.number, grade=grade, join=here.join))
                found.append(Alternative(done, max(0, candidate.cost - own), words))
                break
    return tuple(found)


def _laid(builder: RungBuilder, found: list[Candidate], rung: int) -> Iterator[tuple[Candidate, ArrangedBar]]:
    """Every candidate as a bar; from the rung of slurs on also without its grace."""
    for candidate in found:
        yield candidate, builder.lay_out(candidate, rung)
        if builder.idiom.has(Adds.SLURS, rung):
            yield candidate, builder.lay_out(candidate, rung, graces=False)


def _other_places(rung: int, reach: int) -> Callable[[BarContext], Iterator[Placing]]:
    """Single notes at their unisons; from the rung of reach on also the whole bar up the neck."""
    if rung < 2:
        return lambda context: iter(())
    if rung < reach:
        return _unisons
    return lambda context: chain(_unisons(context), _up_the_neck(context))


def _unisons(context: BarContext) -> Iterator[Placing]:
    """The melody with one note taken at another place of its pitch, not far from the hand."""
    base = usual(context)
    for index, (part, spot) in enumerate(zip(context.segments, base.spots, strict=True)):
        if spot is None or part.held or part.pitch is None:
            continue
        for place in context.setup.places(context.setup.cents_of(part.pitch)):
            if place != spot.place and abs(place.fret - spot.position) <= NEAR:
                spots = (*base.spots[:index], spot_near(place, spot), *base.spots[index + 1 :])
                price = COSTS["moved note"] + COSTS["moved note per fret"] * max(0, place.fret - spot.place.fret)
                yield Placing(spots, price, ((index, _why(spot.place, place)),))


def _up_the_neck(context: BarContext) -> Iterator[Placing]:
    """The whole bar away from the open strings, where every note of it has a place there."""
    base = usual(context)
    notes, moving = [], []
    for index, (part, spot) in enumerate(zip(context.segments, base.spots, strict=True)):
        if spot is None or part.pitch is None or part.held:
            continue
        cents = context.setup.cents_of(part.pitch)
        high = tuple(place for place in context.setup.places(cents) if LOWEST_UP <= place.fret <= HIGHEST_UP)
        if not high:
            return
        notes.append(NoteToPlace(cents, part.duration, high))
        moving.append(index)
    placed = dict(zip(moving, place_melody(notes, context.setup).spots, strict=True))
    moved = {index for index, spot in placed.items() if spot.place != context.segments[index].spot.place}  # type: ignore[union-attr]
    if len(moved) > 1:
        spots = tuple(placed.get(index, spot) for index, spot in enumerate(base.spots))
        why = tuple((index, "up the neck the hand keeps one place") for index in sorted(moved))
        yield Placing(spots, COSTS["moved note"], why)


def _why(old: Place, new: Place) -> str:
    if new.fret == 0:
        return "the open string rings and frees the left hand"
    if old.fret == 0:
        return "the fretted unison keeps the right hand moving between strings"
    return "the hand may stand better there"


def _same(one: ArrangedBar, other: ArrangedBar) -> bool:
    return one.strokes == other.strokes


def _varied(found: tuple[Alternative, ...], most: int) -> tuple[Alternative, ...]:
    """The cheapest of each kind (by the first words of the difference), then the next cheapest; by price."""
    firsts: dict[str, Alternative] = {}
    for alternative in found:
        firsts.setdefault(_kind(alternative.difference), alternative)
    chosen = list(firsts.values())[:most]
    chosen += [alternative for alternative in found if alternative not in chosen][: most - len(chosen)]
    return tuple(sorted(chosen, key=lambda alternative: alternative.price))


def _kind(words: str) -> str:
    return words.split(":")[0]


def difference(here: ArrangedBar, other: ArrangedBar, context: BarContext) -> str:
    """What a teacher hears and sees when `other` is played for `here`, most telling first; "" where it is nothing."""
    said = [*_places_words(here, other, context), *_pattern_words(here, other), *_slur_words(here, other, context)]
    if not said:
        said = _strings_words(here, other, context)
    text = "; ".join(said[:2])
    return text[:1].upper() + text[1:] + "." if text else ""


def _melody(bar: ArrangedBar) -> dict[Time, tuple[Stroke, FrettedNote]]:
    return {
        stroke.onset: (stroke, note)
        for stroke in bar.strokes
        for note in stroke.notes
        if note.role is Role.MELODY and not note.held
    }


def _at(onset: Time, context: BarContext) -> str:
    return beat_words(onset, context.offset, context.bar.metre.unit)


def _places_words(here: ArrangedBar, other: ArrangedBar, context: BarContext) -> list[str]:
    said = []
    old, new = _melody(here), _melody(other)
    frets = [note.place.fret for _, note in new.values()]
    elsewhere = any(old[onset][1].place != note.place for onset, (_, note) in new.items() if onset in old)
    if elsewhere and len(frets) > 1 and min(frets) >= LOWEST_UP:
        return [f"up the neck: frets {min(frets)} to {max(frets)}, where the hand keeps one place"]
    for onset in sorted(old.keys() & new.keys()):
        before, after = old[onset][1], new[onset][1]
        if before.place == after.place:
            continue
        where = _at(onset, context)
        slid = before.slur and before.slur.ornament.value
        if after.place.fret == 0:
            instead = f" instead of the {slid}" if slid else ""
            said.append(f"open string {where}{instead}: it rings and frees the left hand")
        elif before.place.fret == 0:
            said.append(f"fretted unison {where}, {place_words(after.place, context)}: it keeps the roll moving")
        else:
            said.append(f"another place {where}: {place_words(after.place, context)}")
    return said


def _pattern_words(here: ArrangedBar, other: ArrangedBar) -> list[str]:
    if here.patterns == other.patterns:
        return []
    new = [name for name in other.patterns if name not in here.patterns]
    gone = [name for name in here.patterns if name not in other.patterns]
    if new and gone:
        return [f"another pattern: {' and '.join(new)} instead of {' and '.join(gone)}"]
    if new:
        return [f"another pattern: {' and '.join(new)} as well"]
    return [f"plainer: without the {' and '.join(gone)}"]


def _slur_words(here: ArrangedBar, other: ArrangedBar, context: BarContext) -> list[str]:
    said = []
    old, new = _melody(here), _melody(other)
    for onset in sorted(old.keys() & new.keys()):
        (_, before), (stroke, after) = old[onset], new[onset]
        if before.slur == after.slur or before.place != after.place:
            continue
        where = _at(onset, context)
        if after.slur and before.slur:
            said.append(f"ornament: {after.slur.ornament} instead of the {before.slur.ornament} {where}")
        elif after.slur:
            said.append(f"ornament: {after.slur.ornament} {where} instead of a plain note")
        elif before.slur:
            how = "plain" if stroke.slurred else "struck"
            said.append(f"ornament: {how} {where} instead of the {before.slur.ornament}")
    return said


def _strings_words(here: ArrangedBar, other: ArrangedBar, context: BarContext) -> list[str]:
    """Where the same pattern takes other strings or fingers."""
    here_at = {stroke.onset: stroke for stroke in here.strokes}
    other_at = {stroke.onset: stroke for stroke in other.strokes}
    for onset in sorted(here_at.keys() | other_at.keys()):
        before, after = here_at.get(onset), other_at.get(onset)
        where = _at(onset, context)
        if before is None or after is None:
            return [f"rests: {'nothing' if after is None else 'a note more'} {where}"]
        strings = [note.place.string for note in after.notes]
        if strings != [note.place.string for note in before.notes]:
            on = " and ".join(map(str, strings)) or "none"
            return [f"other strings: {on} {where}"]
        old, new = (" and ".join(touch_row(touch).word for touch in one.touches) for one in (before, after))
        if old != new:
            return [f"other fingers: {new} {where} instead of {old}"]
    return []


def unison_places(ladder: Ladder, index: int, onset: Time) -> tuple[UnisonPlace, ...]:
    """Every place of the melody note that begins at `onset` of written bar `index`, with what it costs there.

    The price lets the notes around it move along, as far as eight on either side. Raises PathError where none begins.
    """
    fit, ground = ladder.fit, ladder.ground
    heard = sounding_notes(ground.tune)
    at = next((place for place, note in enumerate(heard) if (note.bar, note.onset) == (index, onset)), None)
    if at is None:
        number = ground.tune.bars[index].number
        raise PathError("No melody note begins there.", field="onset", bar=number, remedy="Choose a melody note.")
    shapes = ShapeBook(fit.setup, ladder.idiom.left)
    notes = list(notes_to_place(ground.tune, fit, ground.structure, shapes, ladder.idiom))
    low, high = max(0, at - AROUND), min(len(notes), at + AROUND + 1)
    for edge in {low, high - 1} - {at}:
        notes[edge] = replace(notes[edge], places=(ground.placement.spots[edge].place,))
    window = notes[low:high]
    costs = {}
    for place in notes[at].places:
        pinned = [*window[: at - low], replace(notes[at], places=(place,)), *window[at - low + 1 :]]
        costs[place] = place_melody(pinned, fit.setup).cost
    best = min(costs.values())
    now = ground.placement.spots[at].place
    found = [UnisonPlace(place, cost - best, _unison_words(place, now)) for place, cost in costs.items()]
    return tuple(sorted(found, key=lambda unison: (unison.price, unison.place)))


def _unison_words(place: Place, now: Place) -> str:
    if place == now:
        return "Where it lies now."
    if place.fret == 0:
        return "Open: it rings and frees the left hand."
    if now.fret == 0:
        return "Fretted unison: it keeps a rolling hand moving between strings."
    return "Higher up the neck." if place.fret > now.fret else "Nearer the nut."
