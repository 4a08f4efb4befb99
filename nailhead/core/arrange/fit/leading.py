"""The blue third: a filler a count before the open third is hammered from fret 2 to 3 of the string beside it.

Over a major chord on an open string, before the melody's open third on the next one: in open G string 3, then open
string 2 (common practice). It is an ornament and need not be in the chord or the key.
"""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.rows.left_hand import LeftHand
from nailhead.core.arrange.values import FrettedNote, Ornament, Role, Slur, Stroke
from nailhead.core.fretboard.setup import Place

#: A major third between the open strings, in cents; the frets, and the finger on the second of them.
THIRD = 400
START, BLUE, FINGER = 2, 3, 2


def with_blue_thirds(strokes: tuple[Stroke, ...], grid: Grid, left: LeftHand) -> tuple[Stroke, ...]:
    """Fillers that lead into the open third hammered, where the left hand has nothing else to do."""
    if left.one_finger or Ornament.HAMMER not in left.ornaments:
        return strokes
    led = [
        stroke.with_notes(lambda note: _blue(note, grid)) if _leads(stroke, following, grid) else stroke
        for stroke, following in pairwise(strokes)
    ]
    return (*led, *strokes[-1:])


def _leads(stroke: Stroke, following: Stroke, grid: Grid) -> bool:
    """Is it a filler alone, right before the open third of the chord on its open string?"""
    melody = [note for note in following.notes if note.role is Role.MELODY and not note.held]
    if len(stroke.notes) != 1 or len(melody) != 1 or not stroke.struck or stroke.duration != grid.clock.count:
        return False
    (note,), (goal,) = stroke.notes, melody
    setup, chord = grid.context.setup, grid.chord(grid.tick(stroke.onset))
    string = setup.string(note.place.string)
    if note.role is not Role.CHORD or goal.place != Place(string.number - 1, 0) or string.drone or chord is None:
        return False
    apart = setup.sounding_cents(goal.place) - setup.sounding_cents(Place(string.number, 0))
    tones = grid.context.tones
    on_root = tones.is_root(setup.sounding_cents(Place(string.number, 0)), chord)
    return (
        apart == THIRD and on_root and tones.in_chord(setup.sounding_cents(goal.place), chord) and _idle(stroke, grid)
    )


def _idle(stroke: Stroke, grid: Grid) -> bool:
    """Is no finger down, neither of a shape nor on the melody that rings?"""
    at = grid.tick(stroke.onset)
    spot = grid.spots[grid.sounding(at)]
    return not grid.hand(at).fingers and (spot is None or not spot.place.fret)


def _blue(note: FrettedNote, grid: Grid) -> FrettedNote:
    context, place = grid.context, Place(note.place.string, BLUE)
    pitch = context.tones.name(context.setup.sounding_cents(place), context.key)
    return replace(
        note, place=place, pitch=pitch, role=Role.FILL, finger=FINGER, slur=Slur(Ornament.HAMMER, START, grace=True)
    )
