"""The bare melody of a tune on the strings, and each different bar's context for what is built on it."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import replace
from fractions import Fraction
from functools import lru_cache

from nailhead.core.arrange.left.context import BarContext, Segment
from nailhead.core.arrange.left.held_shapes import ShapeBook
from nailhead.core.arrange.left.placing import NoteToPlace, Placement, Spot, place_melody
from nailhead.core.arrange.rows.hands import Idiom
from nailhead.core.errors import FitError
from nailhead.core.fretboard.fit import Fit
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.setup import Place, plain_setup
from nailhead.core.music.chord import Chord
from nailhead.core.music.clock import clock_of
from nailhead.core.music.metre import Time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.structure import HarmonySpan, Structure, chord_at
from nailhead.core.music.tune import Bar, Tune, sounding_notes


def place_tune(tune: Tune, fit: Fit, structure: Structure, shapes: ShapeBook, idiom: Idiom) -> Placement:
    """Places the melody twice: freely, then with equal bars held to the places chosen most often.

    Both runs are exact; the second one makes a repeated phrase use the same places again.
    """
    heard = sounding_notes(tune)
    notes = notes_to_place(tune, fit, structure, shapes, idiom)
    if idiom.left.one_finger:
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


def notes_to_place(
    tune: Tune, fit: Fit, structure: Structure, shapes: ShapeBook, idiom: Idiom
) -> tuple[NoteToPlace, ...]:
    """The sounding notes of a tune in order, with the places the idiom allows each and the chord's shape there.

    Raises FitError where there is none: the tune was fitted for another way of playing.
    """
    heard = sounding_notes(tune)
    starts = _bar_starts(tune)
    onsets = [starts[note.bar] + note.onset for note in heard]
    gaps = [after - before for before, after in itertools.pairwise(onsets)] + [Fraction(1)]
    notes = []
    for note, gap in zip(heard, gaps, strict=True):
        cents = fit.setup.cents_of(note.pitch)
        places = _places(fit, cents, idiom)
        if not places:
            raise FitError(
                f"{note.pitch} in bar {tune.bars[note.bar].number} lies on no melody string of {idiom.name}.",
                remedy="Fit the tune for this way of playing, or choose another key or tuning.",
            )
        chord = chord_at(structure.harmony[note.bar], note.onset)
        options = shapes.of(chord) if chord and len(idiom.rungs) > 1 else ()
        shape = frozenset(place for place in places if options and options[0].fret(place.string) == place.fret)
        notes.append(NoteToPlace(cents, gap, places, shape))
    return tuple(notes)


#: Frets above a tune's highest lowest place at which its notes are still looked for.
_NOT_FAR = 4


def count_shifts(fit: Fit, idiom: Idiom) -> int:
    """How often the hand changes its place in the bare melody: what the planner weighs.

    Only places not far above the tune's lowest are looked at; no shift is saved further up.
    """
    if idiom.left.one_finger:
        return 0
    cents = [fit.setup.cents_of(note.pitch) for note in sounding_notes(fit.tune)]
    places = {sound: _places(fit, sound, idiom) for sound in set(cents)}
    top = max(min(place.fret for place in found) for found in places.values()) + _NOT_FAR
    near = {sound: tuple(place for place in found if place.fret <= top) for sound, found in places.items()}
    return _shifts(tuple(near[sound] for sound in cents), fit.setup.instrument)


@lru_cache(maxsize=512)
def _shifts(places: tuple[tuple[Place, ...], ...], instrument: Instrument) -> int:
    """Shifts between these places on the bare neck, where frets are widest: one count for every capo."""
    notes = [NoteToPlace(Fraction(0), Fraction(1, 8), found) for found in places]
    bare = plain_setup(instrument, instrument.tunings[0])
    stopped = [spot.position for spot in place_melody(notes, bare).spots if spot.finger]
    return sum(before != after for before, after in itertools.pairwise(stopped))


def _places(fit: Fit, cents: Fraction, idiom: Idiom) -> tuple[Place, ...]:
    """The places of a pitch that the idiom allows."""
    places = fit.setup.places(cents)
    if idiom.strings:
        return tuple(place for place in places if place.string in idiom.strings)
    spared = fit.setup.instrument.last_resorts
    usual = tuple(place for place in places if place.string not in spared) or places
    return tuple(place for place in usual if place.string in idiom.prefers) or usual


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


def bar_contexts(
    tune: Tune,
    shapes: ShapeBook,
    structure: Structure,
    placement: Placement,
    following: Mapping[int, int],
    drones: tuple[int, ...] = (),
    strings: tuple[int, ...] = (),
    stops: bool = False,
    runs: bool = False,
) -> dict[int, BarContext]:
    """A context for the first bar of each class of equal bars; `following` is the bar played after each.

    With `stops` a bar that rests is silent there on every rung, with `runs` the bars know the next chord.
    """
    cadences = {stop - 1 for _, stop in structure.phrases}
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
                _under_notes(structure.harmony[index], segments, bar, structure.offsets[index], shapes)
                if shapes.left.reshapes
                else structure.harmony[index],
                index in cadences,
                _first_pitch(tune, following.get(index)),
                drones,
                strings,
                stops and any(event.pitch is None for event in bar.events),
                _next_chord(structure, index, following.get(index)) if runs else None,
            )
    return contexts


def _under_notes(
    harmony: tuple[HarmonySpan, ...], segments: Sequence[Segment], bar: Bar, offset: Time, shapes: ShapeBook
) -> tuple[HarmonySpan, ...]:
    """The chords cut where a stroke unit begins with a melody note of the chord: each gets a shape of its own."""
    clock = clock_of(bar.metre)
    strong = {clock.count * start for start in clock.unit_starts}
    found: list[HarmonySpan] = []
    for span in harmony:
        cuts = [
            part.onset
            for part in segments
            if part.pitch and not part.held and span.onset < part.onset < span.end
            if (part.onset + offset) % bar.metre.length in strong
            if shapes.tones.in_chord(shapes.setup.cents_of(part.pitch), span.chord)
        ]
        found += [HarmonySpan(*ends, span.chord) for ends in itertools.pairwise((span.onset, *cuts, span.end))]
    return tuple(found)


def _next_chord(structure: Structure, index: int, after: int | None) -> Chord | None:
    """The chord of the bar behind, where it is another than the one before it."""
    if after is None or not structure.harmony[after] or not structure.harmony[index]:
        return None
    found = structure.harmony[after][0].chord
    return found if found != structure.harmony[index][-1].chord else None


def _first_pitch(tune: Tune, index: int | None) -> Pitch | None:
    if index is None:
        return None
    return next((event.pitch for event in tune.bars[index].events if event.pitch), None)
