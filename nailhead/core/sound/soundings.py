"""What sounds when, in exact musical time: every string of every stroke, before a tempo makes seconds of it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from fractions import Fraction

from nailhead.core.arrange.rows.touches import touch_row
from nailhead.core.arrange.tones import note_cents
from nailhead.core.arrange.values import PLAIN, ArrangedBar, FrettedNote, Role, Stroke, Touch, Trembling, Way
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.metre import ZERO, Time
from nailhead.core.music.pitch import hertz_of

#: How loud each role is beside the melody; the first of a bar is stronger, a grace before its note softer, a muted
#: string hardly more than a tick (by ear, ours). What a touch adds stands with it in `rows.touches`.
LOUD = {Role.MELODY: 1.0, Role.FILL: 0.85, Role.CHORD: 0.55, Role.DRONE: 0.45}
ACCENT, GRACED, MUTED = 1.15, 0.75, 0.35
#: Seconds from string to string of a chord that is rolled.
ROLLED = 0.045
#: Seconds that a grace comes before its note, that a string rings at most, and that a muted one does.
GRACE, RING, TICK = 0.07, 2.6, 0.05
#: Strokes of a tremolo in a second (common practice), and how loud those behind its first one are.
TREMBLING, BEHIND = 10, 0.8
#: When the strokes of a treble come, as shares of its time: down, up in half the time, down (common practice).
TREBLE = (ZERO, Fraction(1, 4), Fraction(1, 2))


@dataclass(frozen=True, slots=True)
class Sounding:
    """A string that begins to sound `onset` whole notes into its bar, and `late_s` seconds behind that moment.

    It rings `seconds` at most; `loud` is 1 for a melody note; `bend` is how far it is pushed up, in cents. What is
    `graced` comes behind a grace, which is `late_s` before its moment. `melody` tells the tune from what goes with it.
    """

    onset: Time
    late_s: float
    seconds: float
    cents: Fraction
    loud: float
    string: int
    bend: int = 0
    melody: bool = False
    graced: bool = False

    @property
    def hertz(self) -> float:
        return hertz_of(self.cents)


def soundings_of(bar: ArrangedBar, setup: Setup, whole_s: float) -> Iterator[Sounding]:
    """All of a bar, stroke by stroke. A shaken stroke is struck as often as its time allows where a whole note lasts
    `whole_s` seconds.
    """
    for stroke in bar.strokes:
        seconds = float(stroke.duration) * whole_s
        first = stroke is bar.strokes[0]
        yield from _trilled(stroke, seconds, setup)
        for share, loud in _shaken(stroke, seconds):
            plain = stroke if not share else stroke.with_notes(lambda note: replace(note, slur=None))
            for one in _struck(plain, setup, first):
                yield replace(one, onset=stroke.onset + share * stroke.duration, loud=one.loud * loud)


def _shaken(stroke: Stroke, seconds: float) -> list[tuple[Fraction, float]]:
    """When a stroke is struck, as shares of its time, and how loud: once, or as often as it is shaken."""
    if stroke.shake is None or stroke.shake.trembling in (Trembling.TRILL, Trembling.ROLLED):
        return [(ZERO, 1.0)]
    count = max(2, round(seconds * TREMBLING))
    even = tuple(Fraction(place, count) for place in range(count))
    shares = TREBLE if stroke.shake.trembling is Trembling.TREBLE else even
    return [(share, BEHIND if share else 1.0) for share in shares]


def _trilled(stroke: Stroke, seconds: float, setup: Setup) -> Iterator[Sounding]:
    """What a trill sounds behind its first note: to and fro between two frets, ending on the melody's own."""
    note = next((note for note in stroke.notes if note.role is Role.MELODY), None)
    if stroke.shake is None or stroke.shake.fret is None or note is None:
        return
    count = max(3, round(seconds * TREMBLING) | 1)
    for place in range(1, count):
        where = Place(note.place.string, stroke.shake.fret if place % 2 else note.place.fret)
        onset = stroke.onset + stroke.duration * Fraction(place, count)
        cents = setup.sounding_cents(where)
        yield Sounding(onset, 0.0, RING, cents, LOUD[note.role] * BEHIND, where.string, melody=True)


def _struck(stroke: Stroke, setup: Setup, first: bool) -> Iterator[Sounding]:
    """The strings of a stroke at its onset, one after another where one movement or a roll takes them so."""
    rolled = stroke.shake is not None and stroke.shake.trembling is Trembling.ROLLED
    touches = sorted(stroke.touches, key=_bass_first) if rolled else stroke.touches
    for turn, touch in enumerate(touches):
        row = touch_row(touch)
        notes = [note for note in touch.notes if not note.held]
        if row.spread_s:
            notes.sort(key=lambda note: note.place.string, reverse=touch.way is not Way.UP)
        for place, note in enumerate(notes):
            loud = LOUD[note.role] * (ACCENT if first else 1) * row.loud * touch.loudness / PLAIN
            late = (ROLLED * turn if rolled else 0.0) + row.spread_s * place
            melody, graced = note.role in (Role.MELODY, Role.FILL), bool(note.slur and note.slur.grace)
            if graced:
                yield _grace(stroke, note, loud, setup)
            seconds, loud = (TICK, loud * MUTED) if touch.muted else (row.rings_s or RING, loud)
            cents, string = note_cents(setup, note), note.place.string
            yield Sounding(stroke.onset, late, seconds, cents, loud, string, note.bend, melody, graced)


def _grace(stroke: Stroke, note: FrettedNote, loud: float, setup: Setup) -> Sounding:
    """What a note is come to from, an instant before."""
    assert note.slur
    cents = setup.sounding_cents(Place(note.place.string, note.slur.start))
    melody = note.role in (Role.MELODY, Role.FILL)
    return Sounding(stroke.onset, -GRACE, RING, cents, loud * GRACED, note.place.string, melody=melody)


def _bass_first(touch: Touch) -> int:
    return -max(note.place.string for note in touch.notes)
