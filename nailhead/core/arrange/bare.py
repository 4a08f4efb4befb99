"""Rung 1 of every way of playing: the melody alone, one stroke a note, as the idiom's right hand strikes it."""

from __future__ import annotations

from nailhead.core.arrange.clawhammer import BarContext
from nailhead.core.arrange.idioms import Idiom, Struck
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Hand, Role, Stroke


def arrange_bare(context: BarContext, idiom: Idiom) -> ArrangedBar:
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
    return ArrangedBar(context.bar.number, 1, tuple(strokes))
