"""What strikes a stroke, in the letters of a tab: for tests that compare strokes without the engine's own values."""

from __future__ import annotations

from nailhead.core.arrange.rows.touches import touch_row
from nailhead.core.arrange.values import Stroke, Way


def letters(stroke: Stroke) -> str:
    """ "d", "B", "M1T5" for a pinch (finger and string of each note), "-" for the left hand, "" for rest or tie."""
    if len(stroke.touches) > 1:
        touched = sorted((touch.notes[0].place.string, touch_row(touch).letter) for touch in stroke.touches)
        return "".join(f"{letter}{string}" for string, letter in touched)
    struck = [touch for touch in stroke.touches if touch.way is not Way.RINGS]
    return touch_row(struck[0]).letter if struck else ""
