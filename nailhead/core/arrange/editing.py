"""Hand edits of a bar: one note at a time, each a function to a new bar that still adds up.

Nothing awkward is forbidden here (`awkward.py` says it); refused is only what cannot be written at all.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cached_property

from nailhead.core.arrange.grid import BarContext
from nailhead.core.arrange.idioms import Idiom, Struck
from nailhead.core.arrange.ladder import Ladder
from nailhead.core.arrange.righthand import right_hand
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Hand, HeldShape, Ornament, Role, Slur, Stroke
from nailhead.core.errors import PathError
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.key import Key, spell
from nailhead.core.music.metre import Time
from nailhead.core.music.pitch import STEPS, Pitch

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
    hand: Hand | None = None
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


def placed(desk: Desk, place: Place, onset: Time, near: Strokes) -> FrettedNote:
    """A struck note on a place, with the role it has there and a finger for it."""
    string = desk.setup.string(place.string)
    if place.fret and not string.first_fret < place.fret <= string.last_fret:
        low = string.first_fret + 1
        raise desk.refuse(
            f"fret {place.fret} is not on string {place.string}.", "fret", f"Use 0, or {low} to {string.last_fret}."
        )
    cents = desk.setup.sounding_cents(place)
    wanted = desk.melody.get(onset)
    if wanted is not None and desk.setup.cents_of(wanted) == cents:
        return FrettedNote(place, wanted, Role.MELODY, finger_near(desk, place, onset, near))
    role = Role.DRONE if string.drone and not place.fret else Role.CHORD
    pitch = spelt(desk.setup, cents, desk.ladder.fit.sounding_key)
    return FrettedNote(place, pitch, role, finger_near(desk, place, onset, near))


def spelt(setup: Setup, cents: Fraction, key: Key) -> Pitch:
    """The name of a sounding pitch in a key; between the semitones in commas, as few as can be."""
    pitch = spell(cents, key)
    if setup.cents_of(pitch) == cents:
        return pitch
    near = [
        Pitch(step, alter, pitch.octave + octave, commas)
        for commas in sorted(range(-8, 9), key=abs)
        for alter in (0, 1, -1)
        for octave in (0, 1, -1)
        for step in STEPS
    ]
    return next((one for one in near if setup.cents_of(one) == cents), pitch)


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
    """One note of one stroke replaced or taken out."""
    notes = [new if note is old else note for note in strokes[index].notes]
    kept = tuple(sorted((note for note in notes if note is not None), key=lambda note: note.place.string))
    return (*strokes[:index], replace(strokes[index], notes=kept), *strokes[index + 1 :])


def _fret(desk: Desk, strokes: Strokes, edit: Edit) -> Strokes:
    """Another fret on the same string."""
    index, note = _at(desk, strokes, edit)
    new = placed(desk, Place(edit.string, edit.fret), edit.onset, strokes)
    return _swap(strokes, index, note, replace(new, by=note.by))


def _string(desk: Desk, strokes: Strokes, edit: Edit) -> Strokes:
    """The same pitch on another string; the right hand goes along."""
    index, note = _at(desk, strokes, edit)
    cents = desk.setup.sounding_cents(note.place)
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
    if stroke.hand and len(stroke.notes) == 1:
        moved = (*moved[:index], replace(stroke, hand=usual_hand(desk, strokes, index, place)), *moved[index + 1 :])
    return moved


def usual_hand(desk: Desk, strokes: Strokes, index: int, place: Place) -> Hand:
    """How the idiom's right hand strikes a place by itself."""
    if desk.setup.string(place.string).drone:
        return Hand.THUMB
    before = next((stroke.hand for stroke in reversed(strokes[:index]) if stroke.hand), None)
    at = strokes[index].onset + desk.context.offset
    return desk.idiom.right_hand(Struck(place, at, desk.context.bar.metre, before))


def _delete(desk: Desk, strokes: Strokes, edit: Edit) -> Strokes:
    """The note goes; where it was alone, what came before goes on sounding."""
    index, note = _at(desk, strokes, edit)
    left = _swap(strokes, index, note, None)
    stroke = left[index]
    if stroke.notes:
        single = stroke.hand in (Hand.BRUSH, Hand.PINCH) and len(stroke.notes) == 1
        if single:
            (rest,) = stroke.notes
            hand = rest.by or usual_hand(desk, strokes, index, rest.place)
            stroke = replace(stroke, notes=(replace(rest, by=None),), hand=hand)
        return (*left[:index], stroke, *left[index + 1 :])
    before = left[index - 1] if index else None
    if before is None or stroke.tuplet or before.tuplet:
        return (*left[:index], replace(stroke, notes=(), hand=None), *left[index + 1 :])
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
        if not stroke.hand:
            notes: tuple[FrettedNote, ...] = (new,)
            hand = None
        else:
            notes = tuple(sorted((*_unslurred(stroke.notes), new), key=lambda note: note.place.string))
            hand = joint_hand(desk, stroke)
        done = replace(stroke, notes=notes, hand=hand)
        done = done if hand else replace(done, hand=usual_hand(desk, strokes, index, new.place))
        return (*strokes[:index], fingered_pinch(done), *strokes[index + 1 :])
    if stroke.tuplet:
        raise desk.refuse("a triplet is not divided.", "onset", "Add the note where one of its notes begins.")
    first = replace(stroke, duration=edit.onset - stroke.onset)
    second = Stroke(edit.onset, stroke.end - edit.onset, (new,))
    halves = (*strokes[:index], first, second, *strokes[index + 1 :])
    hand = edit.hand or usual_hand(desk, halves, index + 1, new.place)
    return (*strokes[:index], first, replace(second, hand=hand), *strokes[index + 1 :])


def _unslurred(notes: tuple[FrettedNote, ...]) -> tuple[FrettedNote, ...]:
    return tuple(replace(note, slur=None) for note in notes)


def joint_hand(desk: Desk, stroke: Stroke) -> Hand:
    """What strikes two strings at once: a pinch of two fingers where the idiom has one, else a brush."""
    right = right_hand(desk.idiom.id, desk.ladder.options, desk.ladder.own)
    return Hand.PINCH if right and right.pinches else Hand.BRUSH


def fingered_pinch(stroke: Stroke) -> Stroke:
    """A pinch whose notes each have a finger: the lower string the thumb, the highest the middle one."""
    if stroke.hand is not Hand.PINCH:
        return replace(stroke, notes=tuple(replace(note, by=None) for note in stroke.notes))
    order = (Hand.MIDDLE, Hand.THUMB) if len(stroke.notes) == 2 else (Hand.MIDDLE, Hand.INDEX, Hand.THUMB)
    given = (*order, *[Hand.THUMB] * len(stroke.notes))
    notes = tuple(replace(note, by=hand) for note, hand in zip(stroke.notes, given, strict=False))
    return replace(stroke, notes=notes)


def _finger(desk: Desk, strokes: Strokes, edit: Edit) -> Strokes:
    """Another left finger on the note."""
    index, note = _at(desk, strokes, edit)
    if not note.place.fret:
        raise desk.refuse("an open string has no finger.", "finger", "Choose a stopped note.")
    if not 1 <= edit.finger <= LITTLE:
        raise desk.refuse(f"there is no finger {edit.finger}.", "finger", f"Use 1 to {LITTLE}.")
    return _swap(strokes, index, note, replace(note, finger=edit.finger))


def _hand(desk: Desk, strokes: Strokes, edit: Edit) -> Strokes:
    """Another right finger or stroke."""
    index, note = _at(desk, strokes, edit)
    if edit.hand is None or edit.hand is Hand.LEFT:
        raise desk.refuse("a struck note needs a hand.", "hand", "Choose a finger or a stroke.")
    stroke = strokes[index]
    if note.by and len(stroke.notes) > 1:
        return _swap(strokes, index, note, replace(note, by=edit.hand))
    struck = replace(
        stroke, hand=edit.hand, notes=_unslurred(stroke.notes) if stroke.hand is Hand.LEFT else stroke.notes
    )
    return (*strokes[:index], struck, *strokes[index + 1 :])


def _technique(desk: Desk, strokes: Strokes, edit: Edit) -> Strokes:
    """An ornament on the note, from the note before on its string or, where none is, as a grace; or none."""
    index, note = _at(desk, strokes, edit)
    stroke = strokes[index]
    if edit.ornament is None:
        plain = _swap(strokes, index, note, replace(note, slur=None))
        hand = stroke.hand if stroke.hand is not Hand.LEFT else usual_hand(desk, strokes, index, note.place)
        return (*plain[:index], replace(plain[index], hand=hand), *plain[index + 1 :])
    before = _before_on_string(strokes, index, edit.string)
    if before is not None and len(stroke.notes) == 1 and not edit.start:
        slur = Slur(edit.ornament, before.place.fret, edit.slow)
        slurred = _swap(strokes, index, note, replace(note, slur=slur))
        hand = stroke.hand if edit.slow and edit.ornament is Ornament.SLIDE else Hand.LEFT
        return (*slurred[:index], replace(slurred[index], hand=hand), *slurred[index + 1 :])
    start = edit.start if edit.start or edit.ornament is Ornament.HAMMER else note.place.fret - 2
    string = desk.setup.string(edit.string)
    if not string.first_fret <= start <= string.last_fret:
        raise desk.refuse(f"there is no fret {start} to come from.", "start", "Choose another ornament.")
    return _swap(strokes, index, note, replace(note, slur=Slur(edit.ornament, start, grace=True)))


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
        notes = []
        for note in stroke.notes:
            before = last.get(note.place.string)
            if note.slur and not note.slur.grace and before and at:
                note = replace(note, slur=replace(note.slur, start=before.place.fret))
            notes.append(note)
            last[note.place.string] = note
        done.append(replace(stroke, notes=tuple(notes)))
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
    "hand": _hand,
    "technique": _technique,
}
