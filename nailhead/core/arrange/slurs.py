"""Left-hand ornaments: what comes to a note from another fret of its string, and where a melody has room for it."""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.grid import Grid
from nailhead.core.arrange.values import FrettedNote, Hand, Ornament, Role, Slur, Stroke
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.metre import Time

#: A slow slide goes so far at most: the whole hand travels with it.
SLIDE_FRETS = 2
#: A slide that begins so many counts before its note is a slow one: two beats (handbook §4).
SLOW = 4
#: A grace slide starts two frets below (handbook §3), a grace hammer from the open string at most so far.
GRACE_SLIDE, GRACE_HAMMER = 2, 3
#: A note must last so many counts to have room for a grace.
ROOM = 2


def slur_into(before: FrettedNote, note: FrettedNote) -> FrettedNote:
    """The note sounded by the left hand from the one before on its string, which is at most three counts back.

    From an open string it is a hammer-on, to one a pull-off; between fingers it is whichever they allow, and a slide
    where one finger takes both.
    """
    low, high = before.place.fret, note.place.fret
    if high == 0:
        return replace(note, slur=Slur(Ornament.PULL, low))
    if low == 0:
        return replace(note, slur=Slur(Ornament.HAMMER, 0))
    if high > low and note.finger > before.finger:
        return replace(note, slur=Slur(Ornament.HAMMER, low))
    if high < low and note.finger < before.finger:
        return replace(note, slur=Slur(Ornament.PULL, low))
    return replace(note, finger=before.finger, slur=Slur(Ornament.SLIDE, low))


def grace_into(note: FrettedNote, setup: Setup, barred: bool) -> Slur | None:
    """A quick ornament that arrives at a struck note's own pitch, or None where the neck offers none.

    From the open string to the first frets a hammer-on, higher up a slide from two frets below. Under a finger that
    stops other strings as well (`barred`) there is neither.
    """
    fret, string = note.place.fret, setup.string(note.place.string)
    if fret == 0 or string.drone or barred:
        return None
    if fret <= GRACE_HAMMER:
        return Slur(Ornament.HAMMER, 0, grace=True)
    return Slur(Ornament.SLIDE, fret - GRACE_SLIDE, grace=True)


def with_slow_slides(strokes: tuple[Stroke, ...], count: Time) -> tuple[Stroke, ...]:
    """A long stopped melody note that goes up a fret or two on its string slides there under the same finger.

    The note it comes to is struck as ever; the slide takes the two beats before it. `count` is the clock's.
    """
    result = list(strokes)
    last: tuple[int, FrettedNote] | None = None
    for index, stroke in enumerate(strokes):
        note = next((note for note in stroke.notes if note.role is Role.MELODY and not note.held), None)
        if note is None:
            continue
        if last and stroke.hand is not Hand.LEFT and len(stroke.notes) == 1 and note.slur is None:
            began, before = last
            climbs = note.place.string == before.place.string and before.place.fret > 0
            between = [other for later in strokes[began + 1 : index] for other in later.notes]
            free = not any(other.place.string == note.place.string or other.finger for other in between)
            far = note.place.fret - before.place.fret
            if climbs and free and 1 <= far <= SLIDE_FRETS and stroke.onset - strokes[began].onset >= SLOW * count:
                slid = replace(note, finger=before.finger, slur=Slur(Ornament.SLIDE, before.place.fret, slow=True))
                result[index] = replace(stroke, notes=(slid,))
        last = (index, note)
    return tuple(result)


def with_graces(strokes: tuple[Stroke, ...], grid: Grid, strong: tuple[Time, ...]) -> tuple[Stroke, ...]:
    """A grace for a bar without slurs: into the first melody note on a strong beat that is stopped, long and new.

    A note that is only repeated has no use for one.
    """
    if any(note.slur for stroke in strokes for note in stroke.notes):
        return strokes
    before: Place | None = None
    for index, stroke in enumerate(strokes):
        note = next((note for note in stroke.notes if note.role is Role.MELODY and not note.held), None)
        if note is None:
            continue
        roomy = (
            note.slur is None
            and stroke.onset in strong
            and _lasts(strokes, index) >= ROOM * grid.clock.count
            and stroke.hand is not Hand.LEFT
        )
        new = note.place != before and stroke.tuplet is None
        slur = grace_into(note, grid.context.setup, _barred(note, stroke, grid)) if roomy and new else None
        if slur and len(stroke.notes) == 1:
            changed = replace(stroke, notes=(replace(note, slur=slur),))
            return (*strokes[:index], changed, *strokes[index + 1 :])
        before = note.place
    return strokes


def _barred(note: FrettedNote, stroke: Stroke, grid: Grid) -> bool:
    """Does the note's finger stop another string too?"""
    fingers = grid.hand(grid.tick(stroke.onset)).fingers
    return list(fingers.values()).count(note.finger) > 1


def _lasts(strokes: tuple[Stroke, ...], index: int) -> Time:
    """How long until the next melody note."""
    following = [
        stroke.onset
        for stroke in strokes[index + 1 :]
        if any(note.role is Role.MELODY and not note.held for note in stroke.notes)
    ]
    return (following[0] if following else strokes[-1].end) - strokes[index].onset
