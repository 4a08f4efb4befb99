"""Rung 1 of every way of playing: the melody alone, one stroke a note, as the idiom's right hand strikes it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from nailhead.core.arrange.left.context import BarContext
from nailhead.core.arrange.rows.hands import Idiom, RightHand
from nailhead.core.arrange.values import ArrangedBar, Finger, FrettedNote, Role, Stroke, Touch, Way, single
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.clock import clock_of
from nailhead.core.music.metre import Metre, Time


@dataclass(frozen=True, slots=True)
class Single:
    """A note to be struck by itself: its place, where in a full bar it comes, what struck before."""

    place: Place
    at: Time
    metre: Metre
    before: Touch | None


def single_touch(right: RightHand, note: Single) -> tuple[Finger, Way]:
    """Which finger strikes a note by itself, and which way (handbook §4).

    Fingers that share a string take turns. A clocked hand goes down on the first of each group of counts and up behind
    it, even after a rest; off the grid it goes against its last stroke.
    """
    rule = right.single
    turns = rule.turns.get(note.place.string, rule.others)
    last = note.before.by if note.before else None
    finger = turns[(turns.index(last) + 1) % len(turns)] if last in turns else turns[0]
    if not rule.clocked:
        return finger, right.way_of(finger)
    clock = clock_of(note.metre)
    count = clock.in_group(note.at / clock.count)
    if count is None:
        return finger, Way.UP if note.before and note.before.way is Way.DOWN else Way.DOWN
    return finger, Way.UP if count % 2 != rule.inward else Way.DOWN


def arrange_bare(context: BarContext, idiom: Idiom) -> ArrangedBar:
    """One bar of the bare melody; rests and ties as written."""
    strokes: list[Stroke] = []
    before: Touch | None = None
    for part in context.segments:
        if part.spot is None or part.pitch is None:
            strokes.append(Stroke(part.onset, part.duration, tuplet=part.tuplet))
            continue
        place, finger = part.spot.place, part.spot.finger
        note = FrettedNote(place, part.pitch, Role.MELODY, finger if place.fret else 0, part.held)
        if part.held:
            touches = single(None, Way.RINGS, note)
        else:
            at = part.onset + context.offset
            touches = single(*single_touch(idiom.right, Single(place, at, context.bar.metre, before)), note)
            (before,) = touches
        strokes.append(Stroke(part.onset, part.duration, touches, part.tuplet))
    played = triplet_pickup(strokes, context, idiom)
    layer, early = idiom.rung(1).layer, early_notes(context)
    said = context.out_of_tune
    return ArrangedBar(context.bar.number, 1, tuple(played), remarks=said, layer=layer, early=early)


def early_notes(context: BarContext) -> tuple[tuple[Time, Time], ...]:
    """The melody notes that are struck elsewhere than the tune has them: (onset here, onset in the tune)."""
    return tuple((part.onset, part.own) for part in context.segments if part.own is not None)


def triplet_pickup(strokes: Sequence[Stroke], context: BarContext, idiom: Idiom) -> Sequence[Stroke]:
    """The strokes with those of a triplet that an upbeat ends in as the hand plays it, so that the bar starts down."""
    last, ways = strokes[-3:], idiom.right.single.triplet
    if not ways or not context.offset or len(last) < 3:
        return strokes
    if not all(stroke.struck and stroke.tuplet and stroke.tuplet.actual == 3 for stroke in last):
        return strokes
    turned = [
        replace(stroke, touches=tuple(replace(touch, way=way) for touch in stroke.touches))
        for stroke, way in zip(last, ways, strict=True)
    ]
    return [*strokes[:-3], *turned]
