"""Chord shapes of a path as a drill strikes them, and single notes beside them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.rows.hands import RightHand
from nailhead.core.arrange.tones import tones_on
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Role, Touch
from nailhead.core.fretboard.setup import Place


@dataclass(frozen=True, slots=True)
class BookShape:
    """A shape that the left hand holds: its chord's name and (string, fret, finger) of every stop."""

    name: str
    stops: tuple[tuple[int, int, int], ...]


def shapes_of(bar: ArrangedBar) -> Iterator[BookShape]:
    """The shapes of a bar in order, those with nothing stopped left out."""
    for shape in bar.shapes:
        if shape.stops:
            yield BookShape(str(shape.chord), tuple(sorted(shape.stops)))


def open_note(
    ladder: Ladder, string: int, shape: BookShape | None = None, fret: int = 0, finger: int = 0
) -> FrettedNote:
    """A note of a string: open, stopped at a fret, or where a shape stops it."""
    found = next(((at, by) for one, at, by in shape.stops if one == string), None) if shape else None
    fret, finger = found or (fret, finger)
    place = Place(string, fret)
    setup = ladder.fit.setup
    pitch = tones_on(setup).name(setup.sounding_cents(place), ladder.fit.sounding_key)
    return FrettedNote(place, pitch, Role.CHORD, finger if fret else 0)


def struck_shape(ladder: Ladder, shape: BookShape) -> tuple[tuple[Touch, ...], tuple[Touch, ...]]:
    """The strings of a shape, open and then stopped, as the hand strikes several at once."""
    strings = sorted((string for string, _, _ in shape.stops), reverse=True)
    right = ladder.idiom.right
    return (
        _at_once(right, [open_note(ladder, string) for string in strings]),
        _at_once(right, [open_note(ladder, string, shape) for string in strings]),
    )


def _at_once(right: RightHand, notes: list[FrettedNote]) -> tuple[Touch, ...]:
    """Notes from the bass to the treble: a finger for each, or one sweep; with fewer fingers the highest."""
    if right.fingered:
        few = notes[-len(right.plain) :]
        fingers = right.plain[-len(few) :] if len(few) < len(right.plain) else right.plain
        return tuple(Touch(by, right.way_of(by), (note,)) for by, note in zip(fingers, few, strict=True))
    by = right.plain[0]
    return (Touch(by, right.way_of(by), tuple(notes)),)
