"""Grades a bar and its join: named terms in points, ten points to a grade, 1 to 8 (handbook §6)."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from nailhead.core.arrange.rows.hands import Idiom, RightHand
from nailhead.core.arrange.values import ArrangedBar, Finger, FrettedNote, Grade, Reason, Role, Stroke
from nailhead.core.fretboard.setup import Setup
from nailhead.core.music.clock import clock_of
from nailhead.core.music.metre import ZERO, Metre, Time
from nailhead.core.music.tune import Tempo, Tune

#: Points of each term (weights ours, order after handbook §6).
POINTS = {
    "speed": 6,  # per stroke a second above a walk, …
    "fast": 3,  # … and per stroke above a run, where the hand goes by itself
    "high frets": 1,  # per fret above the instrument's first position
    "stopped notes": 1,  # each note the left hand stops
    "shape": 4,  # each chord shape held
    "barre": 8,
    "finger again": 2,  # the same finger strikes twice running at speed
    "hand moves": 3,  # per change of place of the hand
    "thumb and finger": 2,  # each brush, pinch, and stroke of the thumb that is not the melody's
    "woven in": 3,  # each other stroke that is not the melody's: the tune has to be kept apart from it
    "off the beat": 2,
    "slurs": 3,  # each note the left hand sounds, …
    "quick slurs": 2,  # … more where it has a count or less for it, graces among them
    "drop thumb": 4,  # each time the thumb leaves the drone string, with the way back
    "string skips": 1,  # each jump over two strings or more at speed
    "pattern changes": 7,  # each change of motion inside the bar
    "early": 8,  # each melody note struck a count before its beat
    "fill": 14,  # a run that is not the melody
}
TOP = 8
_PER_GRADE = 10
#: Strokes a second (weights ours).
WALKING, RUNNING = Fraction(5, 2), 4
#: With so much time the hand moves at its ease, and that costs half.
UNHURRIED = Fraction(1, 4)
#: Quarter notes a minute when a tune gives no tempo: a teacher's practice tempo (common practice).
PRACTICE_BPM = 88


def whole_notes_a_second(tempo: Tempo | None) -> Fraction:
    """How much of a whole note passes in a second."""
    used = tempo or Tempo(Fraction(1, 4), PRACTICE_BPM)
    return used.beat * used.bpm / 60


@dataclass(frozen=True, slots=True)
class Graded:
    """What a term looks at: a bar, the strokes of it that sound, and what they are played on and by."""

    bar: ArrangedBar
    struck: list[Stroke]
    setup: Setup
    pace: Fraction
    metre: Metre
    right: RightHand

    @property
    def count(self) -> Time:
        """What comes within a count of the clock comes at speed, unless the tune walks."""
        return clock_of(self.metre).count

    @property
    def soon(self) -> Time:
        """How long a stroke lasts at most behind which the same finger is in haste."""
        return min(self.count, self.pace / WALKING)


def grade_bar(bar: ArrangedBar, setup: Setup, tune: Tune, metre: Metre, idiom: Idiom) -> Grade:
    """The bar by itself, played in an idiom."""
    struck = [stroke for stroke in bar.strokes if stroke.sounded]
    graded = Graded(bar, struck, setup, whole_notes_a_second(tune.tempo), metre, idiom.right)
    reasons = [term(graded) for term in TERMS]
    return _grade([reason for reason in reasons if reason and reason.points])


def _grade(reasons: Sequence[Reason]) -> Grade:
    total = sum(reason.points for reason in reasons)
    value = max(1, min(TOP, 1 + total // _PER_GRADE))
    return Grade(value, tuple(sorted(reasons, key=lambda reason: (-reason.points, reason.term))))


def _speed(at: Graded) -> Reason | None:
    if not at.struck:
        return None
    # A pickup of a note or two is no faster than what it leads into.
    strokes_a_second = len(at.struck) / (max(at.bar.length, at.metre.length / 2) / at.pace)
    walking, running = max(ZERO, strokes_a_second - WALKING), max(ZERO, strokes_a_second - RUNNING)
    points = int(walking * POINTS["speed"] - running * (POINTS["speed"] - POINTS["fast"]))
    return Reason("speed", points, f"{float(strokes_a_second):.1f} strokes a second at tempo.")


def _stopped(struck: list[Stroke]) -> list[FrettedNote]:
    return [note for stroke in struck for note in stroke.notes if note.place.fret]


def _left_hand(at: Graded) -> Reason | None:
    places = {note.place for note in _stopped(at.struck)}
    count = len(places)
    return Reason(
        "stopped notes", count * POINTS["stopped notes"], f"{count} stopped place{'s' * (count > 1)} to find."
    )


def _high(at: Graded) -> Reason | None:
    top = max((note.place.fret for note in _stopped(at.struck)), default=0)
    above = max(0, top - at.setup.instrument.first_position_top)
    return Reason("high frets", above * POINTS["high frets"], f"Goes up to fret {at.setup.fret_name(top)}.")


def _index_at(stroke: Stroke) -> int | None:
    """Where the index finger stands for the lowest stopped note; None on open strings."""
    stopped = [note for note in stroke.notes if note.place.fret and note.finger]
    return min((note.place.fret - note.finger + 1 for note in stopped), default=None)


def _moves(at: Graded) -> Reason | None:
    positions = [place for place in map(_index_at, at.struck) if place is not None]
    moves = sum(abs(after - before) > 1 for before, after in itertools.pairwise(positions))
    return Reason("hand moves", moves * POINTS["hand moves"], f"The left hand moves {moves} time{'s' * (moves > 1)}.")


def _again(at: Graded) -> Reason | None:
    """A finger twice running, stroke by single stroke; one that may come as often as it likes is never tired so."""
    tireless = at.right.follows.tireless
    again = sum(
        before.duration <= at.soon
        and len(before.touches) == len(after.touches) == 1
        and bool(set(_same_fingers(at.right, before, after)) - tireless)
        for before, after in itertools.pairwise(at.struck)
    )
    return Reason("finger again", again * POINTS["finger again"], f"The striking finger comes twice running {again}×.")


def _same_fingers(right: RightHand, before: Stroke, after: Stroke) -> list[Finger]:
    """The fingers of a stroke that strike in the next one too, as far as that is a burden to them."""
    if after.dragged:
        return []
    return [finger for finger in before.fingers if finger in right.follows.again and finger in after.fingers]


def _shapes(at: Graded) -> Reason | None:
    bar = at.bar
    points = len(bar.shapes) * POINTS["shape"] + sum(shape.barre for shape in bar.shapes) * POINTS["barre"]
    names = ", ".join(str(shape.chord) for shape in bar.shapes)
    return Reason("shape", points, f"Holds {names}.") if bar.shapes else None


def _right_hand(at: Graded) -> Reason | None:
    counted = {
        "by the thumb": sum(
            stroke.fingers == (Finger.THUMB,) and not stroke.swept and stroke.notes[0].role is not Role.MELODY
            for stroke in at.struck
        ),
        "brushed": sum(stroke.swept and len(stroke.touches) == 1 for stroke in at.struck),
        "pinched": sum(len(stroke.touches) > 1 for stroke in at.struck),
    }
    said = ", ".join(f"{count} {what}" for what, count in counted.items() if count)
    return Reason("thumb and finger", sum(counted.values()) * POINTS["thumb and finger"], f"Strokes: {said}.")


def _woven(at: Graded) -> Reason | None:
    """Single strokes of the fingers between the melody's."""
    woven = sum(
        len(stroke.notes) == 1
        and stroke.fingers != (Finger.THUMB,)
        and stroke.notes[0].role in (Role.CHORD, Role.DRONE)
        for stroke in at.struck
    )
    whose = "fingers" if at.right.fingered else "pick"
    said = f"{woven} stroke{'s' * (woven > 1)} of the {whose} between the melody's."
    return Reason("woven in", woven * POINTS["woven in"], said)


def _slurs(at: Graded) -> Reason | None:
    """Quick where the note before lasts a count or less; a grace always is."""
    slurred = quick = bent = 0
    before: Stroke | None = None
    for stroke in at.struck:
        slurred += any(touch.left_pluck for touch in stroke.touches)
        for note in stroke.notes:
            bent += note.bend > 0
            trilled = stroke.shake is not None and stroke.shake.fret is not None and note.role is Role.MELODY
            bent += trilled
            if note.slur:
                slurred += 1
                quick += note.slur.grace or bool(before and before.duration <= at.count and not note.slur.slow)
        before = stroke
    points = (slurred + bent) * POINTS["slurs"] + quick * POINTS["quick slurs"]
    bends = f" {bent} bent." if bent else ""
    return Reason("slurs", points, f"{slurred} note{'s' * (slurred != 1)} slurred, {quick} of them quick.{bends}")


def _drops(at: Graded) -> Reason | None:
    drops = sum(
        _strays(at.right, stroke) and before.fingers != stroke.fingers
        for before, stroke in itertools.pairwise(at.struck)
    )
    times = "once" if drops == 1 else f"{drops} times"
    return Reason("drop thumb", drops * POINTS["drop thumb"], f"The thumb leaves the fifth string {times}.")


def _strays(right: RightHand, stroke: Stroke) -> bool:
    """Is a finger away from its home strings?"""
    return any(
        right.leaves_home(touch.by, note.place.string)
        for touch in stroke.touches
        for note in touch.notes
        if note.role is not Role.DRONE
    )


def _skips(at: Graded) -> Reason | None:
    """Jumps of one finger over two strings or more; from finger to finger the hand need not move."""
    skips = sum(
        before.duration <= at.count
        and len(before.fingers) == 1
        and before.fingers == after.fingers
        and abs(before.notes[0].place.string - after.notes[0].place.string) > 2
        for before, after in itertools.pairwise(at.struck)
        if before.notes and after.notes
    )
    said = f"{skips} jump{'s' * (skips > 1)} across the strings."
    return Reason("string skips", skips * POINTS["string skips"], said)


def _changes(at: Graded) -> Reason | None:
    bar = at.bar
    changes = max(0, len(bar.patterns) - 1)
    said = ", then ".join(bar.patterns)
    return Reason("pattern changes", changes * POINTS["pattern changes"], f"Changes its pattern: {said}.")


def _fill(at: Graded) -> Reason | None:
    notes = sum(note.role is Role.FILL for stroke in at.struck for note in stroke.notes)
    return Reason("fill", POINTS["fill"], f"A fill of {notes} notes.") if notes > 1 else None


def _early(at: Graded) -> Reason | None:
    """Melody notes that the tune has on a beat and the hand strikes a count before it."""
    clock = clock_of(at.metre)
    early = sum(own - here == at.count and clock.in_group(own / at.count) == 0 for here, own in at.bar.early)
    said = f"{early} melody note{'s' * (early > 1)} a count before the beat."
    return Reason("early", early * POINTS["early"], said)


def _off_beat(at: Graded) -> Reason | None:
    """Single strokes between beats of a finger that falls on them by nature."""
    in_twos = set(clock_of(at.metre).groups) == {2}
    grid = at.count * (2 if in_twos else 1)
    off = sum(
        bool(at.right.on_beat & set(stroke.fingers))
        and not stroke.swept
        and not stroke.dragged
        and stroke.onset % grid != 0
        for stroke in at.struck
    )
    return Reason("off the beat", off * POINTS["off the beat"], f"{off} melody stroke{'s' * (off > 1)} off the beat.")


#: Every term of a bar's grade. What a term counts follows from the idiom's rows: its homes, its tiring fingers.
TERMS: tuple[Callable[[Graded], Reason | None], ...] = (
    _speed,
    _left_hand,
    _high,
    _moves,
    _again,
    _shapes,
    _right_hand,
    _woven,
    _off_beat,
    _slurs,
    _drops,
    _skips,
    _changes,
    _early,
    _fill,
)


def grade_join(bar: ArrangedBar, following: ArrangedBar, idiom: Idiom, count: Time) -> Grade:
    """The step from one bar into the next: what the left hand and the striking finger must do.

    `count` is that of the bar's clock; what comes within it comes at speed.
    """
    last = next((stroke for stroke in reversed(bar.strokes) if stroke.sounded), None)
    first = next((stroke for stroke in following.strokes if stroke.sounded), None)
    if last is None or first is None:
        return Grade(1)
    reasons = []
    before, after = _index_at(last), _index_at(first)
    if before is not None and after is not None and abs(after - before) > 1:
        distance = abs(after - before)
        points = (6 + 3 * distance) // (2 if last.duration >= UNHURRIED else 1)
        reasons.append(Reason("hand moves", points, f"The hand moves {distance} frets over the bar line."))
    if last.duration <= count and (again := _same_fingers(idiom.right, last, first)):
        said = f"The {again[0]} strikes twice running over the bar line."
        reasons.append(Reason("finger again", 2 * POINTS["finger again"], said))
    if bar.patterns and following.patterns and bar.patterns[-1] != following.patterns[0]:
        said = f"The right hand goes from {bar.patterns[-1]} to {following.patterns[0]}."
        reasons.append(Reason("pattern changes", POINTS["pattern changes"], said))
    if _strays(idiom.right, last) and last.duration <= count:
        reasons.append(Reason("drop thumb", POINTS["drop thumb"], "The thumb has to be back at once."))
    old = {(string, fret) for shape in bar.shapes[-1:] for string, fret, _ in shape.stops}
    new = {(string, fret) for shape in following.shapes[:1] for string, fret, _ in shape.stops}
    if new - old:
        name = following.shapes[0].chord
        reasons.append(Reason("shape", 4 * len(new - old), f"{name} must be down at once."))
    return _grade(reasons)


def not_below(grade: Grade, below: Grade) -> Grade:
    """Rule H6: a bar's grade never falls from a rung to the next."""
    return grade if grade.value >= below.value else replace(grade, value=below.value)
