"""Grades a bar and its join: named terms in points, ten points to a grade, 1 to 8 (handbook §6)."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Grade, Hand, Reason, Role, Stroke
from nailhead.core.fretboard.setup import Setup
from nailhead.core.music.metre import Metre, Time
from nailhead.core.music.tune import Tempo, Tune

#: Points of each term (weights ours, order after handbook §6).
POINTS = {
    "speed": 6,  # per stroke a second above a walking two
    "high frets": 1,  # per fret above the instrument's first position
    "stopped notes": 1,  # each note the left hand stops
    "shape": 4,  # each chord shape held
    "barre": 8,
    "span": 4,  # a stretch over four frets
    "finger again": 2,  # the same finger strikes twice running at speed
    "hand moves": 3,  # per change of place of the hand
    "thumb and finger": 1,  # each thumb stroke, brush and pinch
    "off the beat": 2,
    "slurs": 2,  # each note the left hand sounds, …
    "quick slurs": 1,  # … more where it has a count or less for it, graces among them
    "drop thumb": 3,  # each time the thumb leaves the drone string, with the way back
    "string skips": 1,  # each jump over two strings or more at speed
    "pattern changes": 4,  # each change of motion inside the bar
    "fill": 3,  # a run that is not the melody
}
TOP = 8
_PER_GRADE = 10
_FAST = Fraction(1, 8)
#: Quarter notes a minute when a tune gives no tempo: a teacher's practice tempo (common practice).
PRACTICE_BPM = 88


#: The finger behind a stroke of one string or several; a thumb or a pick that goes both ways is never tired so.
_FINGERS = {Hand.DOWN: "finger", Hand.BRUSH: "finger", Hand.INDEX: "index", Hand.MIDDLE: "middle"}


def _finger(hand: Hand | None) -> str | None:
    return _FINGERS.get(hand) if hand else None


def _fingers_of(stroke: Stroke) -> set[str]:
    """Every finger of a stroke by name, the thumb and both of a pinch among them."""
    hands = [note.by or stroke.hand for note in stroke.notes]
    return {"thumb" if hand is Hand.THUMB else _FINGERS[hand] for hand in hands if hand in (Hand.THUMB, *_FINGERS)}


def whole_notes_a_second(tempo: Tempo | None) -> Fraction:
    """How much of a whole note passes in a second."""
    used = tempo or Tempo(Fraction(1, 4), PRACTICE_BPM)
    return used.beat * used.bpm / 60


def grade_bar(bar: ArrangedBar, setup: Setup, tune: Tune, metre: Metre) -> Grade:
    """The bar by itself."""
    struck = [stroke for stroke in bar.strokes if stroke.hand]
    reasons = [
        _speed(struck, bar.length, whole_notes_a_second(tune.tempo)),
        _left_hand(struck),
        _high(struck, setup),
        _moves(struck, setup),
        _again(struck),
        _shapes(bar),
        _right_hand(struck),
        _off_beat(struck, metre),
        _slurs(struck),
        _drops(struck),
        _skips(struck),
        _changes(bar),
        _fill(struck),
    ]
    return _grade([reason for reason in reasons if reason and reason.points])


def _grade(reasons: Sequence[Reason]) -> Grade:
    total = sum(reason.points for reason in reasons)
    value = max(1, min(TOP, 1 + total // _PER_GRADE))
    return Grade(value, tuple(sorted(reasons, key=lambda reason: (-reason.points, reason.term))))


def _speed(struck: list[Stroke], length: Time, pace: Fraction) -> Reason | None:
    if not struck:
        return None
    strokes_a_second = len(struck) / (length / pace)
    points = int(max(Fraction(0), strokes_a_second - 2) * POINTS["speed"])
    return Reason("speed", points, f"{float(strokes_a_second):.1f} strokes a second at tempo.")


def _stopped(struck: list[Stroke]) -> list[FrettedNote]:
    return [note for stroke in struck for note in stroke.notes if note.place.fret]


def _left_hand(struck: list[Stroke]) -> Reason | None:
    places = {note.place for note in _stopped(struck)}
    count = len(places)
    return Reason(
        "stopped notes", count * POINTS["stopped notes"], f"{count} stopped place{'s' * (count > 1)} to find."
    )


def _high(struck: list[Stroke], setup: Setup) -> Reason | None:
    top = max((note.place.fret for note in _stopped(struck)), default=0)
    above = max(0, top - setup.instrument.first_position_top)
    return Reason("high frets", above * POINTS["high frets"], f"Goes up to fret {setup.fret_name(top)}.")


def _index_at(stroke: Stroke) -> int | None:
    """Where the index finger stands for the lowest stopped note; None on open strings."""
    stopped = [note for note in stroke.notes if note.place.fret and note.finger]
    return min((note.place.fret - note.finger + 1 for note in stopped), default=None)


def _moves(struck: list[Stroke], setup: Setup) -> Reason | None:
    positions = [place for place in map(_index_at, struck) if place is not None]
    moves = sum(abs(after - before) > 1 for before, after in itertools.pairwise(positions))
    return Reason("hand moves", moves * POINTS["hand moves"], f"The left hand moves {moves} time{'s' * (moves > 1)}.")


def _again(struck: list[Stroke]) -> Reason | None:
    again = sum(
        _finger(before.hand) == _finger(after.hand) is not None and before.duration <= _FAST
        for before, after in itertools.pairwise(struck)
    )
    return Reason("finger again", again * POINTS["finger again"], f"The striking finger comes twice running {again}×.")


def _shapes(bar: ArrangedBar) -> Reason | None:
    points = len(bar.shapes) * POINTS["shape"] + sum(shape.barre for shape in bar.shapes) * POINTS["barre"]
    names = ", ".join(str(shape.chord) for shape in bar.shapes)
    return Reason("shape", points, f"Holds {names}.") if bar.shapes else None


def _right_hand(struck: list[Stroke]) -> Reason | None:
    counted = {
        "by the thumb": sum(stroke.hand is Hand.THUMB for stroke in struck),
        "brushed": sum(stroke.hand is Hand.BRUSH for stroke in struck),
        "pinched": sum(stroke.hand is Hand.PINCH for stroke in struck),
    }
    said = ", ".join(f"{count} {what}" for what, count in counted.items() if count)
    return Reason("thumb and finger", sum(counted.values()) * POINTS["thumb and finger"], f"Strokes: {said}.")


def _slurs(struck: list[Stroke]) -> Reason | None:
    """Quick where the note before lasts a count or less; a grace always is."""
    slurred = quick = 0
    before: Stroke | None = None
    for stroke in struck:
        for note in stroke.notes:
            if note.slur:
                slurred += 1
                quick += note.slur.grace or bool(before and before.duration <= _FAST and not note.slur.slow)
        before = stroke
    points = slurred * POINTS["slurs"] + quick * POINTS["quick slurs"]
    return Reason("slurs", points, f"{slurred} note{'s' * (slurred > 1)} slurred, {quick} of them quick.")


def _drops(struck: list[Stroke]) -> Reason | None:
    drops = sum(
        stroke.hand is Hand.THUMB and before.hand is not Hand.THUMB and _inner(stroke)
        for before, stroke in itertools.pairwise(struck)
        if _nailed(struck)
    )
    times = "once" if drops == 1 else f"{drops} times"
    return Reason("drop thumb", drops * POINTS["drop thumb"], f"The thumb leaves the fifth string {times}.")


def _nailed(struck: Sequence[Stroke]) -> bool:
    """Does the nail strike, with the thumb at home on the drone string?"""
    return any(stroke.hand in (Hand.DOWN, Hand.BRUSH) for stroke in struck)


def _inner(stroke: Stroke) -> bool:
    return all(note.role is not Role.DRONE for note in stroke.notes)


def _skips(struck: list[Stroke]) -> Reason | None:
    """Jumps of one finger over two strings or more; from finger to finger the hand need not move."""
    skips = sum(
        before.duration <= _FAST
        and _finger(before.hand) is not None
        and _finger(before.hand) == _finger(after.hand)
        and abs(before.notes[0].place.string - after.notes[0].place.string) > 2
        for before, after in itertools.pairwise(struck)
    )
    said = f"{skips} jump{'s' * (skips > 1)} across the strings."
    return Reason("string skips", skips * POINTS["string skips"], said)


def _changes(bar: ArrangedBar) -> Reason | None:
    changes = max(0, len(bar.patterns) - 1)
    said = ", then ".join(bar.patterns)
    return Reason("pattern changes", changes * POINTS["pattern changes"], f"Changes its pattern: {said}.")


def _fill(struck: list[Stroke]) -> Reason | None:
    notes = sum(note.role is Role.FILL for stroke in struck for note in stroke.notes)
    return Reason("fill", POINTS["fill"], f"A fill of {notes} notes.") if notes else None


def _off_beat(struck: list[Stroke], metre: Metre) -> Reason | None:
    fine = metre.compound or len(set(metre.grouping)) > 1
    grid = Fraction(1, metre.unit) if fine else Fraction(1, 4)
    off = sum(stroke.hand is Hand.DOWN and stroke.onset % grid != 0 for stroke in struck)
    return Reason("off the beat", off * POINTS["off the beat"], f"{off} melody stroke{'s' * (off > 1)} off the beat.")


def grade_join(bar: ArrangedBar, following: ArrangedBar) -> Grade:
    """The step from one bar into the next: what the left hand and the striking finger must do."""
    last = next((stroke for stroke in reversed(bar.strokes) if stroke.hand), None)
    first = next((stroke for stroke in following.strokes if stroke.hand), None)
    if last is None or first is None:
        return Grade(1)
    reasons = []
    before, after = _index_at(last), _index_at(first)
    if before is not None and after is not None and abs(after - before) > 1:
        distance = abs(after - before)
        reasons.append(Reason("hand moves", 6 + 3 * distance, f"The hand moves {distance} frets over the bar line."))
    if last.duration <= _FAST and (again := _fingers_of(last) & _fingers_of(first)):
        said = f"The {sorted(again)[0]} strikes twice running over the bar line."
        reasons.append(Reason("finger again", 2 * POINTS["finger again"], said))
    if bar.patterns and following.patterns and bar.patterns[-1] != following.patterns[0]:
        said = f"The right hand goes from {bar.patterns[-1]} to {following.patterns[0]}."
        reasons.append(Reason("pattern changes", POINTS["pattern changes"], said))
    if last.hand is Hand.THUMB and _inner(last) and last.duration <= _FAST and _nailed(bar.strokes):
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
