"""Looks over the bar line: the last stop of a bar takes a finger that the next bar does not want elsewhere."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

from nailhead.core.arrange.left.context import BarContext
from nailhead.core.arrange.left.finger_reasons import NAMES
from nailhead.core.arrange.left.held_shapes import in_order
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Role, Stroke
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.structure import beat_words

#: What a finger stops: its place.
Wanted = Mapping[int, Place]


def looking_ahead(
    made: Mapping[int, ArrangedBar],
    classes: Sequence[int],
    joins: Sequence[tuple[int, int]],
    contexts: Mapping[int, BarContext],
) -> dict[int, ArrangedBar]:
    """The bars of each class, the last finger of each chosen for what is played next (handbook §3).

    `joins` are steps from a written bar to the next one played, `classes` the class of each. A bar that leads to more
    than one takes the finger that is free in most of them.
    """
    following: dict[int, dict[int, None]] = {}
    for before, after in joins:
        following.setdefault(classes[before], {})[classes[after]] = None
    return {
        first: _ahead(bar, [made[after] for after in following.get(first, ())], contexts[first])
        for first, bar in made.items()
    }


def _ahead(bar: ArrangedBar, following: Sequence[ArrangedBar], context: BarContext) -> ArrangedBar:
    last = bar.strokes[-1] if bar.strokes else None
    stops = [note for note in last.notes if note.place.fret] if last else []
    note = next((note for note in stops if note.role is Role.MELODY), None)
    if last is None or note is None or not 1 <= note.finger <= 4 or any(_rings_on(note, after) for after in following):
        return bar
    run = list(_run(bar.strokes, note))
    in_shape = any(stop[:2] == note.place for at, _ in run for stop in _held(bar, bar.strokes[at]))
    if in_shape or any(one.slur and not one.slur.grace for _, one in run):
        return bar
    wanted = [_wanted(after) for after in following]
    held = [_beside(bar, bar.strokes[at], one) for at, one in run]
    before = bar.strokes[: run[-1][0]]

    def price(finger: int) -> tuple[int, int]:
        clashes = sum(after.get(finger, note.place) != note.place for after in wanted)
        return clashes, abs(finger - note.finger)

    free = [finger for finger in NAMES if finger == note.finger or _fits(finger, note, held, before)]
    best = min(free, key=price)
    if best == note.finger:
        return bar
    strokes = list(bar.strokes)
    for at, one in run:
        fingered = replace(one, finger=best)
        strokes[at] = strokes[at].with_notes(lambda other, old=one, new=fingered: new if other is old else other)  # type: ignore[misc]
    where = beat_words(bar.strokes[run[-1][0]].onset, context.offset, context.bar.metre.unit)
    fret = context.setup.fret_name(note.place.fret)
    said = (
        f"The {NAMES[best]} finger takes fret {fret} of string {note.place.string} {where}, because the "
        f"{NAMES[note.finger]} finger is wanted elsewhere in the next bar."
    )
    return replace(bar, strokes=tuple(strokes), remarks=(*bar.remarks, said))


def _run(strokes: Sequence[Stroke], last: FrettedNote) -> Iterator[tuple[int, FrettedNote]]:
    """The last note and those before it that its finger stops without having moved, from the last on."""
    for at in range(len(strokes) - 1, -1, -1):
        same = next((one for one in strokes[at].notes if one.place == last.place and one.finger == last.finger), None)
        if same is None:
            return
        yield at, same


def _rings_on(note: FrettedNote, after: ArrangedBar) -> bool:
    """Does the next bar hold the note, or come from it by a slur?"""
    return any(
        (other.place == note.place and other.held)
        or (other.slur and not other.slur.grace and other.place.string == note.place.string)
        for stroke in after.strokes[:1]
        for other in stroke.notes
    )


def _wanted(bar: ArrangedBar) -> Wanted:
    """What the fingers stop when a bar begins: its first stroke and the shape it begins with."""
    first = next((stroke for stroke in bar.strokes if stroke.notes), None)
    if first is None or first.onset != bar.strokes[0].onset:
        return {}
    found = {by: Place(string, fret) for string, fret, by in _held(bar, first)}
    return found | {note.finger: note.place for note in first.notes if note.place.fret and note.finger}


def _held(bar: ArrangedBar, at: Stroke) -> list[tuple[int, int, int]]:
    """(string, fret, finger) of the shape that is held at a stroke."""
    return [
        stop for shape in bar.shapes if shape.onset <= at.onset < shape.onset + shape.duration for stop in shape.stops
    ]


def _beside(bar: ArrangedBar, stroke: Stroke, note: FrettedNote) -> tuple[tuple[int, int, int], ...]:
    """(string, fret, finger) of all that is stopped beside a note: the shape that is held, what else is struck."""
    held = [stop for stop in _held(bar, stroke) if stop[0] != note.place.string]
    struck = [(*other.place, other.finger) for other in stroke.notes if other.place.fret and other is not note]
    return (*held, *struck)


def _fits(
    finger: int, note: FrettedNote, held: Sequence[tuple[tuple[int, int, int], ...]], before: Sequence[Stroke]
) -> bool:
    """May a finger stop the note beside all that is held while it lies there, coming from what was stopped before?"""
    for stops in held:
        frets = {string: fret for string, fret, _ in stops}
        fingers = {string: by for string, _, by in stops}
        if finger in fingers.values() or not in_order(frets, fingers, note.place.fret, finger):
            return False
    came = next((one for stroke in reversed(before) for one in stroke.notes if one.place.fret and one.finger), None)
    return came is None or in_order({0: came.place.fret}, {0: came.finger}, note.place.fret, finger)
