"""Ornaments on a bar that is laid out: slow slides between its melody notes, a grace where it has room for one."""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.left.ornaments import grace_into
from nailhead.core.arrange.rows.hands import RightHand
from nailhead.core.arrange.rows.left_hand import LeftHand
from nailhead.core.arrange.values import FrettedNote, Ornament, Role, Slur, Stroke
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.metre import Time

#: A slide that begins so many counts before its note is a slow one: two beats (handbook §4).
SLOW = 4
#: Highest fret of a unison that is slid into, and the finger that slides there.
UNISON, RING = 5, 3
#: Degrees that are bent, in semitones above the tonic, and how far, in cents.
BLUE, MINOR_THIRD, QUARTER_TONE = (10,), 3, 50
#: The finger that has none behind it.
LITTLE = 4
#: A note must last so many counts to have room for a grace.
ROOM = 2
#: So many strings slide as one shape.
SHAPE = 3


def with_slow_slides(strokes: tuple[Stroke, ...], count: Time, left: LeftHand) -> tuple[Stroke, ...]:
    """A long stopped melody note that goes up a fret or two on its string slides there under the same finger.

    The note it comes to is struck as ever; the slide takes the two beats before it. `count` is the clock's.
    """
    if Ornament.SLIDE not in left.ornaments:
        return strokes
    result = list(strokes)
    last: tuple[int, FrettedNote] | None = None
    for index, stroke in enumerate(strokes):
        note = next((note for note in stroke.notes if note.role is Role.MELODY and not note.held), None)
        if note is None:
            continue
        if last and stroke.struck and len(stroke.notes) == 1 and note.slur is None:
            began, before = last
            climbs = note.place.string == before.place.string and before.place.fret > 0
            between = [other for later in strokes[began + 1 : index] for other in later.notes]
            free = not any(other.place.string == note.place.string or other.finger for other in between)
            far = note.place.fret - before.place.fret
            if climbs and free and 1 <= far <= left.slow_slide and stroke.onset - strokes[began].onset >= SLOW * count:
                slid = replace(note, finger=before.finger, slur=Slur(Ornament.SLIDE, before.place.fret, slow=True))
                result[index] = _with_note(stroke, note, slid)
        last = (index, note)
    return tuple(result)


def with_graces(
    strokes: tuple[Stroke, ...],
    grid: Grid,
    strong: tuple[Time, ...],
    left: LeftHand,
    right: RightHand,
    most: int = 1,
    shapes: bool = False,
    pulls: bool = False,
) -> tuple[Stroke, ...]:
    """Graces for a bar without slurs or bends, into the first `most` melody notes on a strong beat that are stopped and
    long. A note that is only repeated has no use for one. With `shapes` two or three neighbours slide as one, and with
    `pulls` an open note is pulled off to.
    """
    if any(note.slur or note.bend for stroke in strokes for note in stroke.notes):
        return strokes
    result = list(strokes)
    before: Place | None = None
    for index, stroke in enumerate(strokes):
        if not most:
            break
        note = next((note for note in stroke.notes if note.role is Role.MELODY and not note.held), None)
        if note is None:
            continue
        roomy = (
            note.slur is None
            and stroke.onset in strong
            and lasts(strokes, index) >= ROOM * grid.clock.count
            and stroke.struck
        )
        new = note.place != before and stroke.tuplet is None
        slur = _grace(left, note, grid, _barred(note, stroke, grid)) if roomy and new else None
        others_open = all(one is note or not one.place.fret for one in stroke.notes)
        by_sweeper = all(touch.by in right.plain for touch in stroke.touches)
        graced: Stroke | None = None
        hammered = right.chords_plucked and slur is not None and slur.ornament is Ornament.HAMMER
        if slur and (others_open or hammered):
            graced = _with_note(stroke, note, replace(note, slur=slur))
        elif pulls and roomy and new and others_open and not note.place.fret:
            pulled = _pulled_open(left, note, grid)
            graced = _with_note(stroke, note, replace(note, slur=pulled)) if pulled else None
        elif slur and shapes and slur.ornament is Ornament.SLIDE:
            graced = _slid_whole(stroke, note.place.fret - slur.start, grid.context.setup)
        elif roomy and others_open and right.sweeps and by_sweeper and not note.place.fret:
            graced = _into_unison(strokes, index, note, grid, left)
        if graced:
            result[index], most = graced, most - 1
        before = note.place
    return tuple(result)


def _pulled_open(left: LeftHand, note: FrettedNote, grid: Grid) -> Slur | None:
    """A pull-off from the scale's next note to an open string."""
    above = scale_fret_above(note, grid, left.trill_cents) if Ornament.PULL in left.ornaments else None
    return Slur(Ornament.PULL, above, grace=True) if above is not None else None


def _slid_whole(stroke: Stroke, frets: int, setup: Setup) -> Stroke | None:
    """All notes of a stroke come to from as many frets below: neighbouring strings that keep their intervals."""
    strings = sorted(note.place.string for note in stroke.notes)
    starts = {note.place: Place(note.place.string, note.place.fret - frets) for note in stroke.notes}
    pairs = [(place, start) for place, start in starts.items() if start.fret > 0]
    rises = {setup.sounding_cents(place) - setup.sounding_cents(start) for place, start in pairs}
    whole = len(pairs) == len(starts) and len(rises) == 1
    if not whole or len(strings) > SHAPE or strings[-1] - strings[0] != len(strings) - 1:
        return None
    return stroke.with_notes(lambda note: replace(note, slur=Slur(Ornament.SLIDE, starts[note.place].fret, grace=True)))


def _grace(left: LeftHand, note: FrettedNote, grid: Grid, barred: bool) -> Slur | None:
    """A quick ornament into a note: from below, or pulled off from the scale's next note where the hand does that."""
    if not left.grace_pull:
        return grace_into(left, note, grid.context.setup, barred)
    above = None if barred else scale_fret_above(note, grid, left.trill_cents)
    return Slur(Ornament.PULL, above, grace=True) if above is not None else None


def scale_fret_above(note: FrettedNote, grid: Grid, most_cents: int, every: bool = False) -> int | None:
    """The fret of the scale's next note on a note's string, or with `every` the next fret; None where hand or neck have
    none within so many cents.
    """
    setup, place = grid.context.setup, note.place
    fingered = setup.instrument.fingered
    if note.finger == LITTLE or (fingered and place.string not in fingered):
        return None
    own = setup.sounding_cents(place)
    for fret in range(place.fret + 1, setup.string(place.string).last_fret + 1):
        cents = setup.sounding_cents(Place(place.string, fret))
        if cents - own > most_cents:
            return None
        if every or grid.context.tones.in_scale(cents, grid.context.key):
            return fret
    return None


def with_short_slides(
    strokes: tuple[Stroke, ...], grid: Grid, beats: frozenset[Time], left: LeftHand
) -> tuple[Stroke, ...]:
    """A hand of one finger slides quickly into one more struck melody note on a beat, the longest, however short: from
    the fret below, where it does not slide on from there (common practice).
    """
    best: tuple[Time, int, Stroke] | None = None
    before: FrettedNote | None = None
    for index, stroke in enumerate(strokes):
        note = next((note for note in stroke.notes if note.role is Role.MELODY and not note.held), None)
        if note is None:
            continue
        slurred = any(one.slur for other in strokes[index : index + 2] for one in other.notes)
        new = before is None or before.place != note.place
        slur = grace_into(left, note, grid.context.setup, False)
        if slur and new and stroke.struck and not slurred and stroke.onset in beats and stroke.tuplet is None:
            time = lasts(strokes, index)
            if best is None or time > best[0]:
                best = (time, index, _with_note(stroke, note, replace(note, slur=slur)))
        before = note
    if best is None:
        return strokes
    _, index, graced = best
    return (*strokes[:index], graced, *strokes[index + 1 :])


def with_bend(strokes: tuple[Stroke, ...], grid: Grid, left: LeftHand, right: RightHand) -> tuple[Stroke, ...]:
    """One blue note of two beats or more, the key's minor seventh or, in major, its minor third, pushed up a quarter
    tone (common practice).
    """
    if Ornament.BEND not in left.ornaments or left.one_finger:
        return strokes
    context = grid.context
    degrees = BLUE if context.key.minor_third else (*BLUE, MINOR_THIRD)
    for index, stroke in enumerate(strokes):
        alone = len(stroke.notes) == 1 or right.chords_plucked
        note = next((note for note in stroke.notes if note.role is Role.MELODY), None) if alone else None
        if note is None or not stroke.struck or not note.place.fret or note.slur or note.held:
            continue
        degree = (note.pitch.pitch_class.semitone - context.key.tonic.semitone) % 12
        long = degree in degrees and lasts(strokes, index) >= SLOW * grid.clock.count
        if long and not context.setup.string(note.place.string).drone and not _barred(note, stroke, grid):
            return (*strokes[:index], _with_note(stroke, note, replace(note, bend=QUARTER_TONE)), *strokes[index + 1 :])
    return strokes


def _into_unison(
    strokes: tuple[Stroke, ...], index: int, note: FrettedNote, grid: Grid, left: LeftHand
) -> Stroke | None:
    """An open melody string with the next one towards the bass slid up into its unison, both in one movement.

    As on string 3 from fret 2 to 4 beside open string 2; not where that string is wanted before it has rung, nor
    while a shape is held.
    """
    stroke = strokes[index]
    setup, string = grid.context.setup, note.place.string + 1
    if Ornament.SLIDE not in left.ornaments or left.one_finger or setup.string(note.place.string).drone:
        return None
    if len(stroke.touches) != 1:
        return None
    (touch,) = stroke.touches
    place = next((one for one in setup.places(note.pitch.cents) if one.string == string), None)
    if place is None or not left.grace_slide < place.fret <= UNISON or setup.string(string).drone:
        return None
    if any(one.place.fret for one in stroke.notes) or grid.hand(grid.tick(stroke.onset)).fingers:
        return None
    following = strokes[index + 1 : index + 2]
    if any(other.dragged or one.place.string == string for other in following for one in other.notes):
        return None
    slide = Slur(Ornament.SLIDE, place.fret - left.grace_slide, grace=True)
    beside = FrettedNote(place, note.pitch, Role.MELODY, RING, slur=slide)
    others = tuple(one for one in touch.notes if one.place.string < note.place.string)
    return replace(stroke, touches=(replace(touch, notes=(*others, note, beside)),))


def _with_note(stroke: Stroke, old: FrettedNote, new: FrettedNote) -> Stroke:
    """A stroke with one of its notes changed."""
    return stroke.with_notes(lambda note: new if note is old else note)


def _barred(note: FrettedNote, stroke: Stroke, grid: Grid) -> bool:
    """Does the note's finger stop another string too?"""
    fingers = grid.hand(grid.tick(stroke.onset)).fingers
    return list(fingers.values()).count(note.finger) > 1


def lasts(strokes: tuple[Stroke, ...], index: int) -> Time:
    """How long until the next melody note."""
    following = [
        stroke.onset
        for stroke in strokes[index + 1 :]
        if any(note.role is Role.MELODY and not note.held for note in stroke.notes)
    ]
    return (following[0] if following else strokes[-1].end) - strokes[index].onset
