"""Rung 1 of every way of playing: the melody alone, one stroke a note, as the idiom's right hand strikes it."""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.grid import BarContext
from nailhead.core.arrange.idioms import Idiom, Struck
from nailhead.core.arrange.options import USUAL, Options
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Hand, Role, Stroke

#: How a pick plays a triplet that leads into the first bar, so that the bar starts down (handbook §4 and §10).
TRIPLETS: dict[str, tuple[Hand, ...]] = {
    "up down up": (Hand.UP, Hand.DOWN, Hand.UP),
    "down up down": (Hand.DOWN, Hand.UP, Hand.DOWN),
}


def arrange_bare(context: BarContext, idiom: Idiom, options: Options = USUAL) -> ArrangedBar:
    """One bar of the bare melody; rests and ties as written."""
    strokes: list[Stroke] = []
    before: Hand | None = None
    for part in context.segments:
        if part.spot is None or part.pitch is None:
            strokes.append(Stroke(part.onset, part.duration, tuplet=part.tuplet))
            continue
        place, finger = part.spot.place, part.spot.finger
        hand = None
        if not part.held:
            at = part.onset + context.offset
            hand = before = idiom.right_hand(Struck(place, at, context.bar.metre, before))
        note = FrettedNote(place, part.pitch, Role.MELODY, finger if place.fret else 0, part.held)
        strokes.append(Stroke(part.onset, part.duration, (note,), hand, part.tuplet))
    if idiom.picks and context.offset:
        strokes = _triplet_pickup(strokes, TRIPLETS[options.triplet])
    return ArrangedBar(context.bar.number, 1, tuple(strokes))


def _triplet_pickup(strokes: list[Stroke], hands: tuple[Hand, ...]) -> list[Stroke]:
    """The last three strokes of an upbeat, where they are a triplet."""
    last = strokes[-3:]
    if len(last) < 3 or not all(stroke.hand and stroke.tuplet and stroke.tuplet.actual == 3 for stroke in last):
        return strokes
    return strokes[:-3] + [replace(stroke, hand=hand) for stroke, hand in zip(last, hands, strict=True)]
