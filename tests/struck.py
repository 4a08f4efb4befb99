"""What strikes a stroke, in the letters of a tab: for tests that compare strokes without the engine's own values."""

from __future__ import annotations

from nailhead.core.arrange.values import Hand, Stroke

_LETTERS = {
    Hand.DOWN: "d",
    Hand.UP: "u",
    Hand.BRUSH: "B",
    Hand.THUMB: "T",
    Hand.INDEX: "I",
    Hand.MIDDLE: "M",
    Hand.LEFT: "-",
}


def letters(stroke: Stroke) -> str:
    """ "d", "B", "T1M5" for a pinch (finger and string of each note), "-" for the left hand, "" for rest or tie."""
    if stroke.hand is None:
        return ""
    if stroke.hand is Hand.PINCH:
        by_string = sorted((note.place.string, _LETTERS[note.by]) for note in stroke.notes if note.by)
        return "".join(f"{letter}{string}" for string, letter in by_string)
    return _LETTERS[stroke.hand]
