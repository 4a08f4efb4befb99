"""Hand edits of a bar: one note at a time, each a function to a new bar that still adds up.

Nothing awkward is forbidden here (`awkward.py` says it); refused is only what cannot be written at all.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property

from nailhead.core.arrange.fit.bare import Single, single_touch
from nailhead.core.arrange.fit.gracing import QUARTER_TONE
from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.left.context import BarContext
from nailhead.core.arrange.rows.hands import Idiom, RightHand
from nailhead.core.arrange.rows.touches import TouchRow
from nailhead.core.arrange.tones import note_cents, tones_on
from nailhead.core.arrange.values import (
    ArrangedBar,
    Finger,
    FrettedNote,
    HeldShape,
    Ornament,
    Role,
    Slur,
    Stroke,
    Touch,
    Way,
    single,
)
from nailhead.core.errors import PathError
from nailhead.core.fretboard.harmonics import harmonic_cents
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.metre import Time
from nailhead.core.music.pitch import Pitch

#: Largest number of a left finger.
LITTLE = 4


@dataclass(frozen=True)
class Desk:
    """What an edit needs to know of the bar it is made in."""

    ladder: Ladder
    index: int

    @property
    def setup(self) -> Setup:
        return self.ladder.fit.setup

    @property
    def idiom(self) -> Idiom:
        return self.ladder.idiom

    @property
    def right(self) -> RightHand:
        return self.ladder.idiom.right

    @cached_property
    def context(self) -> BarContext:
        ground = self.ladder.ground
        return ground.contexts[ground.structure.classes[self.index]]

    @cached_property
    def melody(self) -> dict[Time, Pitch]:
        """The pitch of each melody note that begins in the bar."""
        parts = self.context.segments
        return {part.onset: part.pitch for part in parts if part.pitch is not None and not part.held}

    @property
    def number(self) -> int:
        return self.ladder.tune.bars[self.index].number

    def refuse(self, said: str, field: str, remedy: str) -> PathError:
        return PathError(f"Bar {self.number}: {said}", field=field, bar=self.number, remedy=remedy)


@dataclass(frozen=True, slots=True)
class Edit:
    """One change of one note, named by where it stands; what a change does not use is left at its default."""

    do: str
    onset: Time
    string: int
    fret: int = 0
    to_string: int = 0
    finger: int = 0
    touch: str = ""
    ornament: Ornament | None = None
    start: int = 0
    slow: bool = False


def edited(desk: Desk, bar: ArrangedBar, edit: Edit) -> ArrangedBar:
    """The bar after one edit; raises PathError for a note or a place that is not there."""
    if edit.do not in EDITS:
        raise desk.refuse(f"“{edit.do}” is no edit.", "do", f"Choose one of: {', '.join(EDITS)}.")
    if not 1 <= edit.string <= desk.setup.instrument.strings:
        raise desk.refuse(f"there is no string {edit.string}.", "string", f"Use 1 to {desk.setup.instrument.strings}.")
    strokes = EDITS[edit.do](desk, bar.strokes, edit)
    return replace(bar, strokes=slurs_checked(strokes), shapes=_still_held(bar, strokes), moved=(), plainer="")


Strokes = tuple[Stroke, ...]


def _at(desk: Desk, strokes: Strokes, edit: Edit) -> tuple[int, FrettedNote]:
    """The stroke and the note an edit means."""
    for index, stroke in enumerate(strokes):
        if stroke.onset == edit.onset:
            for note in stroke.notes:
                if note.place.string == edit.string:
                    return index, note
    raise desk.refuse(f"no note on string {edit.string} at {edit.onset}.", "onset", "Choose a note of the bar.")


def placed(desk: Desk, place: Place, onset: Time, near: Strokes, touched: bool = False) -> FrettedNote:
    """A struck note on a place, with the role it has there and a finger for it; a harmonic where it is `touched`."""
    string = desk.setup.string(place.string)
    if place.fret and not string.first_fret < place.fret <= string.last_fret:
        low = string.first_fret + 1
        raise desk.refuse(
            f"fret {place.fret} is not on string {place.string}.", "fret", f"Use 0, or {low} to {string.last_fret}."
        )
    partial = harmonic_cents(desk.setup, place) if touched else None
    cents = desk.setup.sounding_cents(place) if partial is None else partial
    finger, wanted = finger_near(desk, place, onset, near), desk.melody.get(onset)
    if wanted is not None and desk.setup.cents_of(wanted) == cents:
        return FrettedNote(place, wanted, Role.MELODY, finger, harmonic=partial is not None)
    role = Role.DRONE if string.drone and not place.fret else Role.CHORD
    pitch = tones_on(desk.setup).name(cents, desk.ladder.fit.sounding_key)
    return FrettedNote(place, pitch, role, finger, harmonic=partial is not None)


def finger_near(desk: Desk, place: Place, onset: Time, strokes: Strokes) -> int:
    """The finger that stops a place with the hand where it is for the stopped notes nearest in time; 0 open."""
    if not place.fret:
        return 0
    each = desk.setup.instrument.frets_per_finger
    stopped = [
        (abs(stroke.onset - onset), stroke.onset != onset, note)
        for stroke in strokes
        for note in stroke.notes
        if note.finger and note.place.fret and note.place.string != place.string
    ]
    if not stopped:
        return min(LITTLE, max(1, (place.fret - 1) // each + 1)) if place.fret <= LITTLE * each else 1
    _, _, nearest = min(stopped, key=lambda item: item[:2])
    index_at = nearest.place.fret - each * (nearest.finger - 1)
    return max(1, min(LITTLE, (place.fret - index_at) // each + 1))


def _swap(strokes: Strokes, index: int, old: FrettedNote, new: FrettedNote | None) -> Strokes:
    """One note of one stroke replaced or taken out; a touch that is left without a note goes with it."""
    touches = []
    for touch in strokes[index].touches:
        notes = tuple(new if note is old else note for note in touch.notes)
        kept = tuple(sorted((note for note in notes if note is not None), key=_string_of))
        if kept or not touch.notes:
            touches.append(replace(touch, notes=kept))
    return _with(strokes, index, replace(strokes[index], touches=tuple(touches)))


def _string_of(note: FrettedNote) -> int:
    return note.place.string


def _with(strokes: Strokes, index: int, stroke: Stroke) -> Strokes:
    return (*strokes[:index], stroke, *strokes[index + 1 :])


def _fret(desk: Desk, strokes: Strokes, edit: Edit) -> Strokes:
    """Another fret on the same string."""
    index, note = _at(desk, strokes, edit)
    new = placed(desk, Place(edit.string, edit.fret), edit.onset, strokes)
    return _swap(strokes, index, note, new)


def _string(desk: Desk, strokes: Strokes, edit: Edit) -> Strokes:
    """The same pitch on another string; the right hand goes along."""
    index, note = _at(desk, strokes, edit)
    cents = note_cents(desk.setup, note)
    place = next((one for one in desk.setup.places(cents) if one.string == edit.to_string), None)
    if place is None:
        raise desk.refuse(
            f"{note.pitch} is not on string {edit.to_string}.", "to_string", "Choose another string, or type a fret."
        )
    if any(other.place.string == edit.to_string for other in strokes[index].notes):
        raise desk.refuse(f"string {edit.to_string} is struck there already.", "to_string", "Delete that note first.")
    new = placed(desk, place, edit.onset, strokes)
    moved = _swap(strokes, index, note, new if note.role is Role.MELODY else replace(new, role=note.role))
    stroke = moved[index]
    if stroke.sounded and len(stroke.notes) == 1:
        by, way = usual_touch(desk, strokes, index, place)
        moved = _with(moved, index, replace(stroke, touches=single(by, way, *stroke.notes)))
    return moved


def usual_touch(desk: Desk, strokes: Strokes, index: int, place: Place) -> tuple[Finger, Way]:
    """How the idiom's right hand strikes a place by itself."""
    if desk.setup.string(place.string).drone:
        return Finger.THUMB, Way.PLUCK
    before = next((stroke.touches[-1] for stroke in reversed(strokes[:index]) if stroke.struck), None)
    at = strokes[index].onset + desk.context.offset
    return single_touch(desk.right, Single(place, at, desk.context.bar.metre, before))


def _delete(desk: Desk, strokes: Strokes, edit: Edit) -> Strokes:
    """The note goes; where it was alone, what came before goes on sounding."""
    index, note = _at(desk, strokes, edit)
    left = _swap(strokes, index, note, None)
    stroke = left[index]
    if stroke.notes:
        if len(stroke.notes) == 1 and strokes[index].swept:
            by, way = usual_touch(desk, strokes, index, stroke.notes[0].place)
            stroke = replace(stroke, touches=single(by, way, *stroke.notes))
        return _with(left, index, stroke)
    before = left[index - 1] if index else None
    if before is None or stroke.tuplet or before.tuplet:
        return _with(left, index, replace(stroke, touches=()))
    return (*left[: index - 1], replace(before, duration=before.duration + stroke.duration), *left[index + 1 :])


def _add(desk: Desk, strokes: Strokes, edit: Edit) -> Strokes:
    """A note more: with a stroke that begins there, or in the middle of one."""
    length = desk.context.bar.length
    if not 0 <= edit.onset < length:
        raise desk.refuse(f"{edit.onset} is outside the bar.", "onset", f"Use 0 up to {length}.")
    new = placed(desk, Place(edit.string, edit.fret), edit.onset, strokes)
    index = max(at for at, stroke in enumerate(strokes) if stroke.onset <= edit.onset)
    stroke = strokes[index]
    if stroke.onset == edit.onset:
        if any(note.place.string == edit.string for note in stroke.notes):
            raise desk.refuse(f"string {edit.string} is struck there already.", "string", "Change its fret.")
        if stroke.sounded:
            notes = tuple(sorted((*_unslurred(stroke.notes), new), key=_string_of))
            touches = joined(desk, notes)
        else:
            touches = single(*usual_touch(desk, strokes, index, new.place), new)
        return _with(strokes, index, replace(stroke, touches=touches))
    if stroke.tuplet:
        raise desk.refuse("a triplet is not divided.", "onset", "Add the note where one of its notes begins.")
    first = replace(stroke, duration=edit.onset - stroke.onset)
    second = Stroke(edit.onset, stroke.end - edit.onset)
    halves = (*strokes[:index], first, second, *strokes[index + 1 :])
    row = _row(desk, edit.touch) if edit.touch else None
    by, way = (row.by, row.way) if row else usual_touch(desk, halves, index + 1, new.place)
    return _with(halves, index + 1, replace(second, touches=single(by, way, new)))


def _unslurred(notes: tuple[FrettedNote, ...]) -> tuple[FrettedNote, ...]:
    return tuple(replace(note, slur=None) for note in notes)


def joined(desk: Desk, notes: tuple[FrettedNote, ...], way: Way | None = None) -> tuple[Touch, ...]:
    """How several strings are struck at once: by a finger each where the idiom has fingers, else in one movement.

    The lowest string is the thumb's, the highest that of the finger furthest from it. `way` asks for one movement.
    """
    right = desk.right
    if right.fingered and way is None:
        low_first = sorted(notes, key=_string_of, reverse=True)
        spare = len(right.plain) - len(notes)
        fingers = [*right.plain[: len(notes) - 1], right.plain[-1]] if spare >= 0 else [*right.plain]
        fingers = [right.plain[0]] * (len(notes) - len(fingers)) + fingers
        return tuple(
            Touch(finger, right.way_of(finger), (note,)) for finger, note in zip(fingers, low_first, strict=True)
        )[::-1]
    row = right.touch(None, way, several=True) or right.touch(None, None, several=True)
    if row is not None:
        return (Touch(row.by, row.way, notes),)
    return (Touch(right.plain[0], right.way_of(right.plain[0]), notes),)


def _finger(desk: Desk, strokes: Strokes, edit: Edit) -> Strokes:
    """Another left finger on the note."""
    index, note = _at(desk, strokes, edit)
    if not note.place.fret:
        raise desk.refuse("an open string has no finger.", "finger", "Choose a stopped note.")
    if not 1 <= edit.finger <= LITTLE:
        raise desk.refuse(f"there is no finger {edit.finger}.", "finger", f"Use 1 to {LITTLE}.")
    return _swap(strokes, index, note, replace(note, finger=edit.finger))


def _row(desk: Desk, name: str) -> TouchRow:
    """A movement of the idiom's hand by its name."""
    found = next((row for row in desk.right.touches if row.id == name), None)
    if found is None:
        known = ", ".join(row.id for row in desk.right.touches)
        raise desk.refuse(f"“{name}” is no touch of {desk.idiom.name}.", "touch", f"Choose one of: {known}.")
    return found


def _touch(desk: Desk, strokes: Strokes, edit: Edit) -> Strokes:
    """Another finger or way for the touch that the note is in."""
    index, note = _at(desk, strokes, edit)
    row, stroke = _row(desk, edit.touch), strokes[index]
    touches = tuple(
        replace(
            touch,
            by=row.by,
            way=row.way,
            notes=touch.notes if touch.struck else _unslurred(touch.notes),
        )
        if note in touch.notes
        else touch
        for touch in stroke.touches
    )
    return _with(strokes, index, replace(stroke, touches=touches))


def _technique(desk: Desk, strokes: Strokes, edit: Edit) -> Strokes:
    """An ornament on the note, from the note before on its string or, where none is, as a grace; or none."""
    index, note = _at(desk, strokes, edit)
    stroke = strokes[index]
    if edit.ornament is None:
        plain = replace(note, slur=None, bend=0)
        if not stroke.slurred:
            return _swap(strokes, index, note, plain)
        by, way = usual_touch(desk, strokes, index, note.place)
        return _with(strokes, index, replace(stroke, touches=single(by, way, plain)))
    if edit.ornament is Ornament.BEND:
        if not note.place.fret:
            raise desk.refuse("an open string cannot be bent", "ornament", "Choose a stopped note.")
        return _swap(strokes, index, note, replace(note, slur=None, bend=QUARTER_TONE))
    before = _before_on_string(strokes, index, edit.string)
    if before is not None and len(stroke.notes) == 1 and not edit.start:
        slurred = replace(note, slur=Slur(edit.ornament, before.place.fret, edit.slow), bend=0)
        if edit.slow and edit.ornament is Ornament.SLIDE:
            return _swap(strokes, index, note, slurred)
        return _with(strokes, index, replace(stroke, touches=single(None, Way.LEFT, slurred)))
    start = edit.start if edit.start or edit.ornament is Ornament.HAMMER else note.place.fret - 2
    string = desk.setup.string(edit.string)
    if not string.first_fret <= start <= string.last_fret:
        raise desk.refuse(f"there is no fret {start} to come from.", "start", "Choose another ornament.")
    return _swap(strokes, index, note, replace(note, slur=Slur(edit.ornament, start, grace=True), bend=0))


def _before_on_string(strokes: Strokes, index: int, string: int) -> FrettedNote | None:
    """The note that last sounded on a string, not further back than the stroke before the last."""
    for stroke in reversed(strokes[max(0, index - 2) : index]):
        for note in stroke.notes:
            if note.place.string == string:
                return note
    return None


def slurs_checked(strokes: Strokes) -> Strokes:
    """Slurs start where the string was; one whose start an edit took away is struck as it is written."""
    last: dict[int, FrettedNote] = {}
    done = []
    for at, stroke in enumerate(strokes):
        begun = dict(last)

        def checked(note: FrettedNote, at: int = at, begun: dict[int, FrettedNote] = begun) -> FrettedNote:
            before = begun.get(note.place.string)
            if note.slur and not note.slur.grace and before and at:
                return replace(note, slur=replace(note.slur, start=before.place.fret))
            return note

        stroke = stroke.with_notes(checked)
        last |= {note.place.string: note for note in stroke.notes}
        done.append(stroke)
    return tuple(done)


def _still_held(bar: ArrangedBar, strokes: Strokes) -> tuple[HeldShape, ...]:
    """Shapes of which a stop is still struck."""
    places = {note.place for stroke in strokes for note in stroke.notes}
    return tuple(shape for shape in bar.shapes if any(Place(string, fret) in places for string, fret, _ in shape.stops))


#: Name of an edit -> what it does.
EDITS: dict[str, Callable[[Desk, Strokes, Edit], Strokes]] = {
    "fret": _fret,
    "string": _string,
    "delete": _delete,
    "add": _add,
    "finger": _finger,
    "touch": _touch,
    "technique": _technique,
}
