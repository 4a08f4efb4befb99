"""Double stops: a chord tone under a strong melody note, struck with it (handbook §5, rung 6)."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import replace
from functools import reduce
from operator import or_

from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.fit.offering import BITS
from nailhead.core.arrange.fit.strings import NEAREST, WIDEST
from nailhead.core.arrange.rows.hands import Doubling, RightHand
from nailhead.core.arrange.values import Finger, FrettedNote, Role, Stroke, Touch, Way
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.metre import Time

#: From this string on towards the bass a pinch takes its second note from the treble side (common practice).
LOW = 3
#: A finger that reaches a string only at this price does not double on it.
UNEASY = 5
#: In cents: it sounds full too where two fingers strike.
OCTAVE = 1200


def with_double_stops(
    strokes: tuple[Stroke, ...], grid: Grid, right: RightHand, where: Collection[Time], before: int, far: bool = False
) -> tuple[Stroke, ...]:
    """A chord tone beside each melody note on one of the onsets `where`, if there is one and a finger free for it.

    The one below it first; a hand that sweeps, or a low melody note, takes the string above else, unless the melody is
    on top; fingers pinch as `far` apart as an octave.
    `before` are the fingers (as bits) that strike just before the bar.
    """
    if right.doubling is None:
        return strokes
    result = list(strokes)
    for index, stroke in enumerate(strokes):
        if stroke.onset not in where or len(stroke.notes) != 1 or stroke.tuplet or stroke.duration < grid.clock.count:
            continue
        (note,) = stroke.notes
        if note.role is not Role.MELODY or note.held or note.slur or note.bend or not stroke.struck:
            continue
        if any(one.slur and one.slur.slow for other in strokes[index + 1 : index + 5] for one in other.notes):
            continue  # a finger that is about to slide slowly is left alone
        if any(other.dragged for other in strokes[index + 1 : index + 2]):
            continue  # a nail runs on from one string
        at = grid.tick(stroke.onset)
        others = [one for away in _aways(note, right, far) if (one := _beside(note, grid, at, away))]
        others = others if far else others[:1]
        others = [one for one in others if not _struck_next(one.place.string, strokes[index : index + 2], grid)]
        (touch,) = stroke.touches
        if right.doubling is Doubling.FREE:
            if index + 1 == len(strokes) and stroke.duration <= grid.clock.count:
                continue  # which finger comes next is the next bar's affair
            around = [*result[max(0, index - 1) : index], stroke, *strokes[index + 1 : index + 2]]
            pinched = next(_pinched(others, around, before if index == 0 else 0, right), None)
            if pinched:
                result[index] = replace(stroke, touches=(touch, pinched))
        elif others and not _strays(strokes[index + 1 : index + 2], others[0].place.string, right):
            result[index] = replace(stroke, touches=(_swept(touch, right, note, others[0]),))
    return tuple(result)


def _aways(note: FrettedNote, right: RightHand, far: bool) -> tuple[int, ...]:
    """How many strings towards the bass (or, below 0, the treble) the second note may lie, best first."""
    if right.doubling is Doubling.SAME:
        return (1,) if right.on_top else (1, -1)
    if note.place.string >= LOW and not right.on_top:  # two low strings pinched together are thick
        return (-1,)
    return (1, 2, 3) if far else (1,)


def _pinched(others: Sequence[FrettedNote], around: Sequence[Stroke], before: int, right: RightHand) -> Iterator[Touch]:
    """The touches that may join a stroke, each by a finger that is free and lies across none of those `around` it.

    `around` are the stroke and its neighbours.
    """
    busy = _fingers(around) | before
    for note in others:
        by = _free_finger(note.place.string, busy, right)
        if by and not any(_across(by, note.place.string, one, right) for one in around):
            yield Touch(by, right.way_of(by), (note,))


def _struck_next(string: int, strokes: tuple[Stroke, ...], grid: Grid) -> bool:
    """Does the string sound again one count later, or is it plucked by the left hand next?"""
    plucked = any(touch.left_pluck for other in strokes[1:] for touch in other.touches)
    soon = len(strokes) > 1 and (plucked or strokes[1].onset - strokes[0].onset <= grid.clock.count)
    return soon and any(note.place.string == string for note in strokes[1].notes)


def _swept(touch: Touch, right: RightHand, *notes: FrettedNote) -> Touch:
    """One movement over both strings; what plucked the one leaves both to the finger that sweeps."""
    if touch.way is not Way.PLUCK:
        return replace(touch, notes=tuple(sorted(notes, key=lambda note: note.place.string)))
    by = right.plain[0]
    return Touch(by, right.way_of(by), notes)


def _fingers(strokes: Sequence[Stroke]) -> int:
    """The fingers (as bits) that strike in these strokes."""
    return reduce(or_, (BITS[touch.by] for stroke in strokes for touch in stroke.touches), 0)


def _free_finger(string: int, busy: int, right: RightHand) -> Finger | None:
    """The finger nearest to a string of those that do not strike just before, with it, or just behind."""
    free = [
        (reach[string], finger)
        for finger, reach in right.chords.items()
        if reach.get(string, UNEASY) < UNEASY and not busy & BITS[finger]
    ]
    return min(free, key=lambda option: option[0])[1] if free else None


def _across(by: Finger, string: int, other: Stroke, right: RightHand) -> bool:
    """Would a finger on a string lie across those of a stroke, at the same time or beside it?"""
    order, apart = right.follows.order, right.follows.apart
    return any(
        touch.by in order
        and by in order
        and not {string, touch.notes[0].place.string} & apart
        and (touch.notes[0].place.string - string) * (order.index(touch.by) - order.index(by)) > 0
        for touch in other.touches
        if touch.by and touch.notes
    )


def _strays(following: tuple[Stroke, ...], string: int, right: RightHand) -> bool:
    """Does a finger with a home come next, on a string that is not on the bass side of this one?"""
    return any(
        touch.by in right.home and touch.notes[0].place.string <= string
        for stroke in following
        for touch in stroke.touches
        if touch.way is not Way.LEFT and touch.notes
    )


def _beside(note: FrettedNote, grid: Grid, at: int, away: int) -> FrettedNote | None:
    """The chord tone so many strings towards the bass, or the treble (below 0), where the left hand has it."""
    string = note.place.string + away
    offered = grid.fillers(at).get(string)
    if offered is None or offered.role is not Role.CHORD:
        return None
    place = Place(string, offered.fret)
    cents = grid.context.setup.sounding_cents(place)
    apart = (note.pitch.cents - cents) * (1 if away > 0 else -1)
    if not NEAREST <= apart <= WIDEST and not (away > 1 and apart == OCTAVE):
        return None
    finger = grid.finger(at, string) if place.fret else 0
    return FrettedNote(place, grid.context.tones.name(cents, grid.context.key), Role.CHORD, finger)
