"""What is awkward in a bar, as sentences: for hand edits, which may do what the engine would not."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from nailhead.core.arrange.rows.touches import touch_row
from nailhead.core.arrange.teacher.editing import Desk
from nailhead.core.arrange.tones import note_cents, tones_on
from nailhead.core.arrange.values import ArrangedBar, Finger, FrettedNote, Ornament, Role, Stroke, Touch
from nailhead.core.fretboard.fingering import finger_stops
from nailhead.core.music.layers import Layer
from nailhead.core.music.metre import Time
from nailhead.core.music.structure import beat_words, chord_at


def awkward(desk: Desk, bar: ArrangedBar) -> tuple[str, ...]:
    """What a player would stumble over, in the order of the rules H1 to H3; each said once."""
    found = [*_melody(desk, bar), *_harmony(desk, bar), *_left(desk, bar), *_right(desk, bar)]
    return tuple(dict.fromkeys(found))


def _where(desk: Desk, onset: Time) -> str:
    return beat_words(onset, desk.context.offset, desk.context.bar.metre.unit)


def _melody(desk: Desk, bar: ArrangedBar) -> Iterator[str]:
    """Rule H1."""
    sounding = {
        (stroke.onset, note_cents(desk.setup, note)) for stroke in bar.strokes for note in stroke.notes if not note.held
    }
    # A bar that says that it leaves out notes owes the core alone.
    says_so = any(remark.startswith("Leaves out") for remark in bar.remarks)
    layer = Layer.BEAT if says_so else bar.layer
    for note in desk.ladder.ground.core.of_layer(layer, desk.index):
        cents = desk.setup.cents_of(note.pitch)
        if not any((at, cents) in sounding for at in (note.at(layer), note.onset, note.even)):
            yield f"The melody's {note.pitch} {_where(desk, note.at(layer))} is not played."


def _harmony(desk: Desk, bar: ArrangedBar) -> Iterator[str]:
    """Rule H2."""
    key, tones = desk.ladder.fit.sounding_key, tones_on(desk.setup)
    for stroke in bar.strokes:
        chord = chord_at(desk.context.harmony, stroke.onset)
        for note in stroke.notes:
            cents = note_cents(desk.setup, note)
            if note.held or note.role in (Role.MELODY, Role.FILL) or chord is None:
                continue
            free = note.place.fret == 0 and (
                note.place.string in desk.context.drones or tones.drones(cents, chord, key)
            )
            if not free and not tones.in_chord(cents, chord):
                yield f"{note.pitch.pitch_class} {_where(desk, stroke.onset)} does not belong to {chord}."


def _left(desk: Desk, bar: ArrangedBar) -> Iterator[str]:
    """Rule H3, left hand."""
    last: dict[int, FrettedNote] = {}
    for stroke in bar.strokes:
        where = _where(desk, stroke.onset)
        stops = {note.place.string: note.place.fret for note in stroke.notes if note.place.fret}
        if len(stops) > 1 and finger_stops(stops, desk.setup) is None:
            frets = " and ".join(desk.setup.fret_name(fret) for fret in sorted(set(stops.values())))
            yield f"Frets {frets} {where} are further apart than a hand reaches."
        fingers = [(note.finger, note.place.fret) for note in stroke.notes if note.finger]
        for finger in sorted({finger for finger, _ in fingers}):
            if len({fret for other, fret in fingers if other == finger}) > 1:
                yield f"Finger {finger} is wanted in two places {where}."
        if any(touch.left_pluck and note.place.fret for touch in stroke.touches for note in touch.notes):
            yield f"The left hand plucks open strings only, and not {where}."
        for note in stroke.notes:
            yield from _slur(note, last.get(note.place.string), stroke, where)
            last[note.place.string] = note


def _slur(note: FrettedNote, before: FrettedNote | None, stroke: Stroke, where: str) -> Iterator[str]:
    slur, fret = note.slur, note.place.fret
    if note.bend and not fret:
        yield f"A bend {where} needs a stopped note."
    if stroke.slurred and (slur is None or (before is None and not slur.grace)):
        yield f"Nothing sounds on string {note.place.string} to slur from {where}."
    if slur is None:
        return
    if slur.ornament is Ornament.HAMMER and slur.start >= fret:
        yield f"A hammer-on {where} has to go up the string."
    if slur.ornament is Ornament.PULL and slur.start <= fret:
        yield f"A pull-off {where} has to go down the string."
    if slur.ornament is Ornament.SLIDE and 0 in (slur.start, fret):
        yield f"A slide {where} needs two stopped frets."


def _right(desk: Desk, bar: ArrangedBar) -> Iterator[str]:
    """Rule H3, right hand: what the idiom's rows say of fingers that come again, and of where each reaches."""
    struck = [stroke for stroke in bar.strokes if stroke.struck]
    follows = desk.right.follows
    for one, other in pairwise(struck):
        tired = [
            before.by
            for before in one.touches
            if before.by
            and before.by not in follows.tireless
            and any(follows(before, after) for after in other.touches)
        ]
        if tired and one.duration <= desk.context.count:
            yield f"The {tired[0]} strikes twice running {_where(desk, other.onset)}."
    for before, other in zip((None, *struck), struck, strict=False):
        if other.dragged and not _runs_on(before, other, desk.context.count):
            yield f"A drag {_where(desk, other.onset)} has to run on from the next string towards the bass."
    for stroke in struck:
        for touch in stroke.touches:
            for note in touch.notes:
                if not _reaches(desk, touch, note):
                    who, string = touch_row(touch).id, note.place.string
                    yield f"The {who} comes to string {string} {_where(desk, stroke.onset)}: far from its own."


def _runs_on(one: Stroke | None, other: Stroke, count: Time) -> bool:
    """Does a nail that drags come at once from the one string beside it?"""
    if one is None or other.onset - one.onset > count or one.fingers != other.fingers or len(one.notes) != 1:
        return False
    return one.notes[0].place.string == other.notes[0].place.string + 1


def _reaches(desk: Desk, touch: Touch, note: FrettedNote) -> bool:
    """Does the finger come to the string? Where nothing is said of it, it does; the thumb is at home on a drone."""
    reach = desk.right.lines.get(touch.by) if touch.by else None
    home = touch.by is Finger.THUMB and desk.setup.string(note.place.string).drone
    return not reach or home or note.place.string in reach
