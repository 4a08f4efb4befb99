"""Double stops: a chord tone under a strong melody note, struck with it (handbook §5, rung 6)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import reduce
from operator import or_

from nailhead.core.arrange.grid import Grid
from nailhead.core.arrange.righthand import RightHand
from nailhead.core.arrange.values import FrettedNote, Hand, Role, Stroke
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.key import spell
from nailhead.core.music.metre import Time

#: Thirds to sixths below the melody sound full; anything else muddies or hides it (common practice), in cents.
NEAREST, WIDEST = 300, 900
#: A finger that reaches a string only at this price does not double on it.
UNEASY = 5


def with_double_stops(
    strokes: tuple[Stroke, ...], grid: Grid, right: RightHand, strong: tuple[Time, ...], before: int
) -> tuple[Stroke, ...]:
    """A lower chord tone under each strong melody note that has one beside it and a finger free for it.

    `before` are the fingers (as bits) that strike just before the bar.
    """
    result = list(strokes)
    for index, stroke in enumerate(strokes):
        if stroke.onset not in strong or len(stroke.notes) != 1 or stroke.tuplet or stroke.duration < grid.clock.count:
            continue
        (note,) = stroke.notes
        if note.role is not Role.MELODY or note.held or note.slur or stroke.hand in (None, Hand.LEFT):
            continue
        under = _under(note, grid, grid.tick(stroke.onset))
        if under is None:
            continue
        if right.melodic:
            if index + 1 == len(strokes) and stroke.duration <= grid.clock.count:
                continue  # which finger comes next is the next bar's affair
            around = [*result[max(0, index - 1) : index], stroke, *strokes[index + 1 : index + 2]]
            busy = _fingers(around, right) | (before if index == 0 else 0)
            by = _free_finger(under.place.string, busy, right)
            if by:
                notes = (replace(note, by=stroke.hand), replace(under, by=by))
                result[index] = replace(stroke, notes=notes, hand=Hand.PINCH)
        elif not _thumb_drops(strokes[index + 1 : index + 2], under.place.string):
            result[index] = replace(stroke, notes=(note, under), hand=Hand.BRUSH)
    return tuple(result)


def _fingers(strokes: Sequence[Stroke], right: RightHand) -> int:
    """The fingers (as bits) that strike in these strokes."""
    hands = [note.by or stroke.hand for stroke in strokes for note in stroke.notes]
    return reduce(or_, (int(right.fingers[hand]) for hand in hands if hand and hand in right.fingers), 0)


def _free_finger(string: int, busy: int, right: RightHand) -> Hand | None:
    """The finger nearest to a string of those that do not strike just before, with it, or just behind."""
    free = [
        (reach[string], hand)
        for hand, reach in right.reach.items()
        if reach.get(string, UNEASY) < UNEASY and not busy & int(right.fingers[hand])
    ]
    return min(free, key=lambda option: option[0])[1] if free else None


def _thumb_drops(following: tuple[Stroke, ...], string: int) -> bool:
    """Does the thumb come next, on a string that is not on the bass side of this one?"""
    return any(stroke.hand is Hand.THUMB and stroke.notes[0].place.string <= string for stroke in following)


def _under(note: FrettedNote, grid: Grid, at: int) -> FrettedNote | None:
    """The chord tone on the next string down, where the left hand has it."""
    string = note.place.string + 1
    offered = grid.fillers(at).get(string)
    if offered is None or offered.role is not Role.CHORD:
        return None
    place = Place(string, offered.fret)
    cents = grid.context.setup.sounding_cents(place)
    if not NEAREST <= note.pitch.cents - cents <= WIDEST:
        return None
    finger = grid.hand(at).fingers.get(string, 0) if place.fret else 0
    return FrettedNote(place, spell(cents, grid.context.key), Role.CHORD, finger)
