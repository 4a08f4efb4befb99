"""Clawhammer: turns placed melody and planned strokes into one bar of tablature."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

from nailhead.core.arrange.harmony_rules import in_chord, tolerated_drone
from nailhead.core.arrange.holding import LeftHand, ShapeBook
from nailhead.core.arrange.patterns import Want, clock_of
from nailhead.core.arrange.placing import Spot
from nailhead.core.arrange.righthand import PlannedStroke, plan_note
from nailhead.core.arrange.shapes import Shape
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Hand, HeldShape, Role, Stroke
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.chord import Chord
from nailhead.core.music.key import Key, spell
from nailhead.core.music.metre import Time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.structure import HarmonySpan, beat_words, chord_at
from nailhead.core.music.tune import Bar, Tuplet

#: Strings of a brush, best first: treble strings, struck in one movement (common practice).
BRUSHES: dict[int, tuple[tuple[int, ...], ...]] = {
    2: ((1, 2), (2, 3), (1, 2, 3), (1,), (2,), (3,)),
    3: ((1, 2, 3), (1, 2), (2, 3), (1,), (2,), (3,)),
}


@dataclass(frozen=True, slots=True)
class Segment:
    """A stretch of one bar's melody: a note (ties within the bar joined) or a rest (`spot` None).

    `held` when it carries on a note from the bar before.
    """

    onset: Time
    duration: Time
    pitch: Pitch | None
    spot: Spot | None
    held: bool = False
    tuplet: Tuplet | None = None


@dataclass(frozen=True)
class BarContext:
    """Everything one bar's arrangement depends on; equal contexts give equal bars."""

    shapes: ShapeBook
    key: Key
    bar: Bar
    offset: Time
    segments: tuple[Segment, ...]
    harmony: tuple[HarmonySpan, ...]

    @property
    def setup(self) -> Setup:
        return self.shapes.setup


def arrange_bar(context: BarContext, rung: int) -> ArrangedBar:
    """One bar on one rung (1 bare, 2 basic stroke, 3 held chords and double thumb)."""
    clock = clock_of(context.bar.metre)
    plans = [
        plan_note(part.onset, part.duration, context.offset, clock, rung) if part.spot and part.tuplet is None else None
        for part in context.segments
    ]
    shapes = _choose_shapes(context, [bool(plan and plan.patterns) for plan in plans]) if rung >= 3 else {}
    strokes: list[Stroke] = []
    names: list[str] = []
    remarks: list[str] = []
    for part, plan in zip(context.segments, plans, strict=True):
        if plan is None or part.spot is None:
            strokes.append(_plain(context, part, shapes))
            continue
        names += plan.patterns
        _play(context, part, plan.strokes, shapes, rung, strokes, remarks)
    held = tuple(
        HeldShape(
            span.onset,
            span.end - span.onset,
            span.chord,
            tuple((string, fret, dict(shape.fingers)[string]) for string, fret in shape.frets if fret),
            shape.barre,
        )
        for span, shape in shapes.items()
        if span.chord and shape.fingers
    )
    return ArrangedBar(
        context.bar.number,
        rung,
        tuple(strokes),
        tuple(dict.fromkeys(names)),
        held,
        tuple(dict.fromkeys(remarks)),
    )


def _shape_at(shapes: Mapping[HarmonySpan, Shape], onset: Time) -> Shape | None:
    return next((shape for span, shape in shapes.items() if span.onset <= onset < span.end), None)


def _choose_shapes(context: BarContext, filled: list[bool]) -> dict[HarmonySpan, Shape]:
    """For each chord of the bar the shape that costs least together with the melody played over it.

    A shape is only held where the right hand will strike something of it.
    """
    chosen = {}
    for span in context.harmony:
        parts = [
            (part, fills)
            for part, fills in zip(context.segments, filled, strict=True)
            if part.spot and span.onset <= part.onset < span.end
        ]
        if span.chord is None or not any(fills for _, fills in parts):
            continue
        places = [part.spot.place for part, _ in parts if part.spot]
        best = context.shapes.cheapest(span.chord, places)
        if best:
            chosen[span] = best
    return chosen


def _left_hand(part: Segment, shape: Shape | None, shapes: ShapeBook) -> LeftHand:
    """The melody note with as much of the shape as can stay down."""
    assert part.spot is not None
    place = part.spot.place
    held = shapes.together(shape, place) if shape else None
    if held:
        return held
    return LeftHand({place.string: place.fret}, {place.string: part.spot.finger} if place.fret else {})


def _melody_note(part: Segment, hand: LeftHand) -> FrettedNote:
    assert part.spot is not None and part.pitch is not None
    place = part.spot.place
    finger = hand.fingers.get(place.string, 0) if place.fret else 0
    return FrettedNote(place, part.pitch, Role.MELODY, finger, part.held)


def _plain(context: BarContext, part: Segment, shapes: Mapping[HarmonySpan, Shape]) -> Stroke:
    """A rest, or a melody note struck once and left to ring."""
    if part.spot is None:
        return Stroke(part.onset, part.duration, tuplet=part.tuplet)
    hand = _left_hand(part, _shape_at(shapes, part.onset), context.shapes)
    return Stroke(
        part.onset,
        part.duration,
        (_melody_note(part, hand),),
        None if part.held else Hand.DOWN,
        part.tuplet,
    )


def _play(
    context: BarContext,
    part: Segment,
    planned: tuple[PlannedStroke, ...],
    shapes: Mapping[HarmonySpan, Shape],
    rung: int,
    strokes: list[Stroke],
    remarks: list[str],
) -> None:
    """Append the strokes of one melody note; a stroke that finds nothing to play lets the last one ring."""
    end = part.onset + part.duration
    for index, plan in enumerate(planned):
        following = planned[index + 1].onset if index + 1 < len(planned) else end
        hand = _left_hand(part, _shape_at(shapes, plan.onset), context.shapes)
        notes = _notes_for(context, part, plan, hand, rung)
        if notes:
            struck = None if plan.first and part.held else _hand_of(plan, notes)
            strokes.append(Stroke(plan.onset, following - plan.onset, notes, struck))
            continue
        place = beat_words(plan.onset, context.offset, context.bar.metre.unit)
        what = "fifth string" if plan.want is Want.DRONE else "brush"
        remarks.append(f"No {what} at {place}: nothing there belongs to the chord.")
        last = strokes.pop()
        strokes.append(Stroke(last.onset, following - last.onset, last.notes, last.hand, last.tuplet))


def _hand_of(plan: PlannedStroke, notes: tuple[FrettedNote, ...]) -> Hand:
    """The finger's stroke is a brush as soon as it takes two strings."""
    if plan.hand is Hand.THUMB:
        return Hand.THUMB
    return Hand.BRUSH if len(notes) > 1 else Hand.DOWN


def _notes_for(
    context: BarContext, part: Segment, plan: PlannedStroke, hand: LeftHand, rung: int
) -> tuple[FrettedNote, ...]:
    chord = chord_at(context.harmony, plan.onset)
    if plan.first:
        return (_melody_note(part, hand),)
    if plan.want is Want.DRONE:
        return _drone(context, chord)
    if plan.want is Want.LEAD:
        again = _again(context, part, hand, chord)
        if again:
            return again
    return _brush(context, part, hand, chord, rung)


def _drone(context: BarContext, chord: Chord | None) -> tuple[FrettedNote, ...]:
    string = next((string for string in context.setup.strings if string.drone), None)
    if string is None or not tolerated_drone(string.open_cents, chord, context.key):
        return ()
    pitch = spell(string.open_cents, context.key)
    return (FrettedNote(Place(string.number, 0), pitch, Role.DRONE),)


def _again(context: BarContext, part: Segment, hand: LeftHand, chord: Chord | None) -> tuple[FrettedNote, ...]:
    """The melody's own note struck again under a long tone, where it belongs to the chord."""
    assert part.spot is not None and part.pitch is not None
    if not in_chord(part.pitch.cents, chord):
        return ()
    place = part.spot.place
    return (FrettedNote(place, part.pitch, Role.CHORD, hand.fingers.get(place.string, 0)),)


def _brush(
    context: BarContext, part: Segment, hand: LeftHand, chord: Chord | None, rung: int
) -> tuple[FrettedNote, ...]:
    """The first row of strings of BRUSHES that sounds chord tones only; else one open drone string."""
    for strings in BRUSHES[min(rung, 3)]:
        places = [Place(string, hand.frets.get(string, 0)) for string in strings]
        cents = [context.setup.sounding_cents(place) for place in places]
        if all(in_chord(sound, chord) for sound in cents):
            return tuple(
                _accompany(context, place, sound, Role.CHORD, hand) for place, sound in zip(places, cents, strict=True)
            )
    for string in (1, 2, 3):
        place = Place(string, 0)
        sound = context.setup.sounding_cents(place)
        if not hand.frets.get(string, 0) and tolerated_drone(sound, chord, context.key):
            return (_accompany(context, place, sound, Role.DRONE, hand),)
    return ()


def _accompany(context: BarContext, place: Place, cents: Fraction, role: Role, hand: LeftHand) -> FrettedNote:
    finger = hand.fingers.get(place.string, 0) if place.fret else 0
    return FrettedNote(place, spell(cents, context.key), role, finger)
