"""Why a melody note is not stopped by the finger it would have by itself: what the others hold under it."""

from __future__ import annotations

from collections.abc import Iterator

from nailhead.core.arrange.left.context import BarContext
from nailhead.core.arrange.values import ArrangedBar, Role
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.metre import Time
from nailhead.core.music.structure import beat_words

#: Left-hand fingers by their figures.
NAMES = {1: "index", 2: "middle", 3: "ring", 4: "little"}


def finger_reasons(bar: ArrangedBar, context: BarContext) -> Iterator[str]:
    """A sentence for each place that another finger takes because its own one holds a string of the chord."""
    usual = {part.onset: part.spot for part in context.segments if part.spot}
    told: set[tuple[Place, int]] = set()
    for stroke in bar.strokes:
        spot = usual.get(stroke.onset)
        for note in stroke.notes if spot else ():
            assert spot is not None
            own = note.role is Role.MELODY and not note.held and note.place == spot.place
            if not own or note.finger in (0, spot.finger) or (note.place, note.finger) in told:
                continue
            held = _held_by(bar, stroke.onset, spot.finger, note.place.string)
            if held:
                told.add((note.place, note.finger))
                where = beat_words(stroke.onset, context.offset, context.bar.metre.unit)
                fret = context.setup.fret_name(note.place.fret)
                yield (
                    f"The {NAMES[note.finger]} finger takes fret {fret} of string {note.place.string} {where}, "
                    f"because the {NAMES[spot.finger]} finger holds string {held}."
                )


def _held_by(bar: ArrangedBar, onset: Time, finger: int, beside: int) -> int:
    """The string that a finger holds of the chord's shape at a moment; 0 for none."""
    stops = (
        stop for shape in bar.shapes if shape.onset <= onset < shape.onset + shape.duration for stop in shape.stops
    )
    return next((string for string, _, by in stops if by == finger and string != beside), 0)
