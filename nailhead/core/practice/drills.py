"""Exercises out of the path itself: one thing at a time, each with the bars that it serves (handbook §8)."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import TypeVar

from nailhead.core.arrange.fit.bare import Single, single_touch
from nailhead.core.arrange.tones import note_cents
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Ornament, Role, Slur, Stroke, Touch, Way, single
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.clock import clock_of
from nailhead.core.music.metre import Metre, Time
from nailhead.core.practice.material import Material, Spot
from nailhead.core.practice.shapes import BookShape, open_note, shapes_of, struck_shape
from nailhead.core.practice.spans import cut, join_span, join_title

#: So many joins are drilled, the hardest.
HARDEST_JOINS = 3
#: So many chord changes, crossings and rolls at most; the most frequent are kept.
MOST_OF_A_KIND = 8

K = TypeVar("K")


class Kind(StrEnum):
    """What a drill is for."""

    CHANGE = "chord change"
    HAND = "right hand alone"
    NOTES = "the notes of the tune"
    SLUR = "slur"
    UNISON = "unison"
    THUMB = "thumb there and back"
    CROSSING = "over the strings"
    JOIN = "join"


@dataclass(frozen=True)
class Drill:
    """Bars to play round and round in a metre. `serves` are the written bars it is for."""

    kind: Kind
    title: str
    said: str
    bars: tuple[ArrangedBar, ...]
    metre: Metre
    serves: tuple[int, ...]


def drills_of(material: Material) -> tuple[Drill, ...]:
    """Every drill that the path asks for, in the order of the kinds."""
    drills = (drill for make in MAKERS for drill in make(material))
    return tuple(replace(drill, title=drill.title[:1].upper() + drill.title[1:]) for drill in drills)


def _numbers(material: Material, spots: Sequence[Spot]) -> tuple[int, ...]:
    return tuple(sorted({material.written(one).number for spot in spots for one in material.same_as(spot)}))


def _row(material: Material, sounds: Sequence[tuple[Touch, ...]], length: Time) -> tuple[ArrangedBar, ...]:
    """Strokes of one length laid into bars of the tune's metre, the last one filled up by its last stroke."""
    full = max(material.ladder.tune.metre.length, length)
    size = max(1, int(full / length))
    bars: list[ArrangedBar] = []
    for at in range(0, len(sounds), size):
        part = sounds[at : at + size]
        strokes = [Stroke(place * length, length, touches) for place, touches in enumerate(part)]
        last = strokes[-1]
        strokes[-1] = Stroke(last.onset, full - last.onset, last.touches)
        bars.append(ArrangedBar(len(bars) + 1, 1, tuple(strokes)))
    return tuple(bars)


def _alone(material: Material, notes: Sequence[FrettedNote], length: Time) -> list[tuple[Touch, ...]]:
    """Each note struck by itself as the hand does it, one after another."""
    right, metre = material.ladder.idiom.right, material.ladder.tune.metre
    found: list[tuple[Touch, ...]] = []
    before: Touch | None = None
    for place, note in enumerate(notes):
        at = place * length % metre.length
        touches = single(*single_touch(right, Single(note.place, at, metre, before)), note)
        (before,) = touches
        found.append(touches)
    return found


def _beat(metre: Metre) -> Time:
    """A quarter, or in threes the count: what a slow drill moves in."""
    clock = clock_of(metre)
    return clock.count if 3 in clock.groups else 2 * clock.count


def _changes(material: Material) -> Iterator[Drill]:
    """Open, chord, open, chord for each change between two shapes of the path (handbook §8)."""
    changes: dict[tuple[BookShape, BookShape], list[Spot]] = {}
    alone: dict[BookShape, list[Spot]] = {}
    last: BookShape | None = None
    for spot in material.order:
        for shape in shapes_of(material.bars[spot]):
            alone.setdefault(shape, []).append(spot)
            if last and shape.stops != last.stops:
                one, other = sorted((last, shape), key=lambda one: one.name)
                changes.setdefault((one, other), []).append(spot)
            last = shape
    changes |= {(shape, shape): spots for shape, spots in alone.items() if not any(shape in pair for pair in changes)}
    ladder, beat = material.ladder, _beat(material.ladder.tune.metre)
    for (one, other), spots in _most(changes):
        sounds = [touch for shape in (one, other) for touch in struck_shape(ladder, shape)] * 2
        yield Drill(
            Kind.CHANGE,
            _named(one, other),
            "Open, chord, open, chord: all fingers down at once.",
            _row(material, sounds, beat),
            ladder.tune.metre,
            _numbers(material, spots),
        )


def _named(one: BookShape, other: BookShape) -> str:
    if one == other:
        return one.name
    return f"{one.name} and {other.name}" if one.name != other.name else f"{one.name}, two ways"


def _most(found: Mapping[K, list[Spot]]) -> list[tuple[K, list[Spot]]]:
    """The most frequent, in the order in which they are met."""
    ranked = sorted(found.items(), key=lambda item: -len(item[1]))[:MOST_OF_A_KIND]
    return [item for item in found.items() if item in ranked]


def _patterns(material: Material) -> Iterator[Drill]:
    """Each stroke or roll of the path by itself, over open strings and the shape that is held there."""
    found: dict[str, list[Spot]] = {}
    for spot in (spot for spot in material.new if not material.offset(spot)):
        for name in dict.fromkeys(material.bars[spot].patterns):
            found.setdefault(name, []).append(spot)
    for name, spots in _most(found):
        easiest = min(spots, key=lambda spot: (len(set(material.bars[spot].patterns)), material.bars[spot].grade.value))
        bar = right_hand_alone(material, easiest)
        if bar:
            said = "The right hand alone, evenly, until it goes by itself."
            yield Drill(Kind.HAND, name, said, (bar,), material.written(easiest).metre, _numbers(material, spots))


def right_hand_alone(material: Material, spot: Spot) -> ArrangedBar | None:
    """What strikes in a bar, on open strings and those of its first shape; None where nothing does."""
    bar, ladder = material.bars[spot], material.ladder
    shape = next(iter(shapes_of(bar)), None)
    strokes: list[Stroke] = []
    for stroke in bar.strokes:
        struck = tuple(
            Touch(
                touch.by,
                touch.way,
                tuple(open_note(ladder, note.place.string, shape) for note in touch.notes),
                touch.loudness,
                touch.muted,
            )
            for touch in stroke.touches
            if touch.struck
        )
        if struck or not strokes:
            strokes.append(Stroke(stroke.onset, stroke.duration, struck, stroke.tuplet))
        else:
            last = strokes[-1]
            strokes[-1] = Stroke(last.onset, last.duration + stroke.duration, last.touches, last.tuplet)
    return ArrangedBar(bar.number, 1, tuple(strokes)) if any(stroke.touches for stroke in strokes) else None


def _melody(material: Material) -> Iterator[tuple[Spot, FrettedNote]]:
    for spot in material.new:
        for stroke in material.bars[spot].strokes:
            for note in stroke.notes:
                if note.role is Role.MELODY and not note.held:
                    yield spot, note


def _notes(material: Material) -> Iterator[Drill]:
    """The notes of the tune as a finger map: once up and once down, each where it is played most."""
    setup = material.ladder.fit.setup
    places: dict[Place, list[FrettedNote]] = {}
    for _, note in _melody(material):
        places.setdefault(note.place, []).append(note)
    by_pitch: dict[object, list[FrettedNote]] = {}
    for notes in places.values():
        by_pitch.setdefault(note_cents(setup, notes[0]), []).append(max(notes, key=notes.count))
    usual = [max(notes, key=lambda note: len(places[note.place])) for notes in by_pitch.values()]
    scale = [_plain(note) for note in sorted(usual, key=lambda note: note_cents(setup, note))]
    if len(scale) < 2:
        return
    beat = _beat(material.ladder.tune.metre)
    sounds = _alone(material, [*scale, *scale[-2::-1]], beat)
    numbers = tuple(dict.fromkeys(material.written(spot).number for spot in material.order))
    said = f"All {len(scale)} notes of the tune, up and down, before the tune."
    title = "The notes of the tune"
    yield Drill(Kind.NOTES, title, said, _row(material, sounds, beat), material.ladder.tune.metre, numbers)


def _plain(note: FrettedNote) -> FrettedNote:
    """The note by itself, struck."""
    return FrettedNote(note.place, note.pitch, note.role, note.finger, harmonic=note.harmonic)


_SLURS = {Ornament.HAMMER: "Hammer-on", Ornament.PULL: "Pull-off", Ornament.SLIDE: "Slide"}


def _slurs(material: Material) -> Iterator[Drill]:
    """Each slide, hammer-on and pull-off by itself, four times."""
    found: dict[tuple[Ornament, int, int, int], list[tuple[Spot, FrettedNote]]] = {}
    for spot in material.new:
        for note in (note for stroke in material.bars[spot].strokes for note in stroke.notes):
            if note.slur and note.slur.ornament in _SLURS:
                key = (note.slur.ornament, note.place.string, note.slur.start, note.place.fret)
                found.setdefault(key, []).append((spot, note))
    ladder = material.ladder
    beat = _beat(ladder.tune.metre)
    for (ornament, string, start, fret), uses in found.items():
        _, note = uses[0]
        first = open_note(ladder, string, None, start, note.finger if ornament is Ornament.SLIDE else 0)
        to = FrettedNote(note.place, note.pitch, note.role, note.finger, slur=Slur(ornament, start))
        (struck,) = _alone(material, [first], beat)
        sounds = [struck, single(None, Way.LEFT, to)] * 4
        name, fret_name = _SLURS[ornament], ladder.fit.setup.fret_name
        title = f"{name} on string {string}, {fret_name(start)} to {fret_name(fret)}"
        said = "Both notes as loud as each other." if ornament is not Ornament.SLIDE else "Keep the finger down."
        numbers = _numbers(material, [spot for spot, _ in uses])
        yield Drill(Kind.SLUR, title, said, _row(material, sounds, beat), ladder.tune.metre, numbers)


def _unisons(material: Material) -> Iterator[Drill]:
    """Two places of one pitch that the path uses both: one after the other, until they sound alike."""
    setup = material.ladder.fit.setup
    places: dict[object, dict[Place, tuple[FrettedNote, list[Spot]]]] = {}
    for spot in material.new:
        for note in (note for stroke in material.bars[spot].strokes for note in stroke.notes if not note.held):
            same = places.setdefault(note_cents(setup, note), {})
            same.setdefault(note.place, (_plain(note), []))[1].append(spot)
    beat = _beat(material.ladder.tune.metre)
    for same in places.values():
        for (one, here), (other, there) in itertools.combinations(same.values(), 2):
            if one.place.string == other.place.string:
                continue
            title = " and ".join(f"string {note.place.string} {_fret(material, note)}" for note in (one, other))
            sounds = _alone(material, [one, other] * 4, beat)
            said = "The same pitch twice: let the one ring into the other."
            numbers = _numbers(material, [*here, *there])
            yield Drill(Kind.UNISON, title, said, _row(material, sounds, beat), material.ladder.tune.metre, numbers)


def _fret(material: Material, note: FrettedNote) -> str:
    return f"fret {material.ladder.fit.setup.fret_name(note.place.fret)}" if note.place.fret else "open"


def _thumbs(material: Material) -> Iterator[Drill]:
    """The bars in which a finger leaves its home string: lifted at once, back in time."""
    right = material.ladder.idiom.right
    spots = [
        spot
        for spot in material.new
        if any(
            touch.by and touch.notes and right.leaves_home(touch.by, touch.notes[0].place.string)
            for stroke in material.bars[spot].strokes
            for touch in stroke.touches
        )
    ]
    if spots:
        spot = min(spots, key=lambda spot: material.bars[spot].grade.value)
        bar = right_hand_alone(material, spot)
        if bar:
            title, said = f"The thumb in bar {bar.number}", "Lift the thumb at once, and be back in time."
            yield Drill(Kind.THUMB, title, said, (bar,), material.written(spot).metre, _numbers(material, spots))


def _crossings(material: Material) -> Iterator[Drill]:
    """From string to string under a hand that goes down and up by the clock: each crossing on open strings."""
    ladder = material.ladder
    if not ladder.idiom.clocked:
        return
    found: dict[tuple[int, int, Way], list[Spot]] = {}
    for spot in material.new:
        count = clock_of(material.written(spot).metre).count
        for before, after in itertools.pairwise(material.bars[spot].strokes):
            alone = len(before.touches) == len(after.touches) == 1 and before.struck and after.struck
            if not alone or after.onset - before.onset > count:
                continue
            (one,), (other,) = before.touches, after.touches
            strings = one.notes[0].place.string, other.notes[0].place.string
            if len(one.notes) == len(other.notes) == 1 and strings[0] != strings[1]:
                found.setdefault((*strings, one.way), []).append(spot)
    count = clock_of(ladder.tune.metre).count
    for (start, end, way), spots in _most(found):
        by, back = ladder.idiom.right.plain[0], Way.UP if way is Way.DOWN else Way.DOWN
        pair = [single(by, way, open_note(ladder, start)), single(by, back, open_note(ladder, end))]
        title = f"From string {start} to {end}, {'down and up' if way is Way.DOWN else 'up and down'}"
        said = "Slowly, the hand by the clock, no louder on the one than on the other."
        numbers = _numbers(material, spots)
        yield Drill(Kind.CROSSING, title, said, _row(material, pair * 4, count), ladder.tune.metre, numbers)


def _joins(material: Material) -> Iterator[Drill]:
    """The hardest joins, half a bar on either side."""
    ranked = sorted(material.joins, key=lambda pair: -material.bars[pair[0]].join.value)
    for before, after in ranked[:HARDEST_JOINS]:
        left, right = join_span(material, before, after)
        bars = cut(material.bars[before], left.start, left.end), cut(material.bars[after], right.start, right.end)
        reasons = material.bars[before].join.reasons
        numbers = material.written(before).number, material.written(after).number
        title = join_title(material, before, after)
        said = reasons[0].sentence if reasons else "Only the step from the one to the other."
        yield Drill(Kind.JOIN, title, said, bars, material.written(before).metre, tuple(sorted(set(numbers))))


#: One maker for each kind.
MAKERS: tuple[Callable[[Material], Iterator[Drill]], ...] = (
    _changes,
    _patterns,
    _notes,
    _slurs,
    _unisons,
    _thumbs,
    _crossings,
    _joins,
)
