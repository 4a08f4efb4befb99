"""Fingers that stay down: a stopped place that is struck again before anything else wants its finger or its string."""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.values import ArrangedBar, FrettedNote, KeptFinger, Stroke
from nailhead.core.music.metre import Time


def keep_down(bar: ArrangedBar, following: ArrangedBar | None = None) -> ArrangedBar:
    """The bar with its kept fingers; `following` is what is played next, for a finger kept over the bar line.

    Fingers of a held shape are kept by the shape and are not listed again.
    """
    in_shapes = {(string, fret) for shape in bar.shapes for string, fret, _ in shape.stops}
    kept = []
    for index, stroke in enumerate(bar.strokes):
        for note in stroke.notes:
            if note.finger and not note.held and tuple(note.place) not in in_shapes:
                until = _kept_until(note, bar, index, following)
                if until is not None:
                    kept.append(KeptFinger(note.place, note.finger, stroke.onset, until))
    return replace(bar, kept=tuple(kept))


def _kept_until(note: FrettedNote, bar: ArrangedBar, index: int, following: ArrangedBar | None) -> Time | None:
    later = bar.strokes[index + 1 :]
    again = _wanted_again(note, later)
    if again:
        return again.onset
    if following and _stays_free(note, later):
        opens = following.strokes[0].notes
        return bar.length if any(_same(note, other) and not other.held for other in opens) else None
    return None


def _same(note: FrettedNote, other: FrettedNote) -> bool:
    return note.place == other.place and note.finger == other.finger


def _wanted_again(note: FrettedNote, later: tuple[Stroke, ...]) -> Stroke | None:
    """The stroke that takes the same place with the same finger, if nothing lifts it before."""
    for index, stroke in enumerate(later):
        if any(_same(note, other) for other in stroke.notes):
            # Struck at once again is no keeping: the finger has not moved anyway.
            return stroke if index else None
        if any(_lifts(note, other) for other in stroke.notes):
            return None
    return None


def _stays_free(note: FrettedNote, later: tuple[Stroke, ...]) -> bool:
    return bool(later) and not any(_lifts(note, other) for stroke in later for other in stroke.notes)


def _lifts(note: FrettedNote, other: FrettedNote) -> bool:
    """Does another note need the finger, or its string at a lower fret?"""
    if other.finger == note.finger:
        return True
    return other.place.string == note.place.string and other.place.fret <= note.place.fret
