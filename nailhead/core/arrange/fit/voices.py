"""A bar under the fingers as voices: the melody, the chord's notes under it, the soft fillers between."""

from __future__ import annotations

from collections.abc import Set
from dataclasses import replace

from nailhead.core.arrange.rows.plectrum import SOFT
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Role, Stroke, Touch
from nailhead.core.music.metre import Time
from nailhead.core.music.tune import Bar

MELODY, CHORD, FILLERS = range(3)
#: Which way the stems of each voice go where there are several (engraving practice).
STEMS = ("up", "down", "down")


def voices_of(bar: ArrangedBar, written: Bar) -> tuple[tuple[int, ArrangedBar], ...]:
    """(which, bar) of each voice that has notes: every note lasts until its voice goes on, the melody's until it rests.

    A bar with triplets stays one voice, as their notes end where the next begins.
    """
    if any(stroke.tuplet for stroke in bar.strokes):
        return ((MELODY, bar),)
    found = ((which, _voice(bar, written, {which})) for which in (MELODY, CHORD, FILLERS))
    sounding = tuple((which, one) for which, one in found if any(stroke.notes for stroke in one.strokes))
    return sounding or ((MELODY, bar),)


def above_and_below(bar: ArrangedBar, written: Bar) -> tuple[ArrangedBar, ArrangedBar | None]:
    """The melody, and all that is struck beside it as one voice below; None where there is nothing of it."""
    if all(which == MELODY for which, _ in voices_of(bar, written)):
        return bar, None
    return _voice(bar, written, {MELODY}), _voice(bar, written, {CHORD, FILLERS})


def _which(touch: Touch, note: FrettedNote) -> int:
    if note.role in (Role.MELODY, Role.FILL):
        return MELODY
    return FILLERS if note.optional or touch.loudness <= SOFT else CHORD


def _part(touch: Touch, which: Set[int]) -> Touch:
    return replace(touch, notes=tuple(note for note in touch.notes if _which(touch, note) in which))


def _voice(bar: ArrangedBar, written: Bar, which: Set[int]) -> ArrangedBar:
    strokes: list[Stroke] = []
    for stroke in bar.strokes:
        touches = tuple(touch for one in stroke.touches if (touch := _part(one, which)).notes)
        rests = not stroke.touches or (MELODY in which and _rests(written, stroke.onset))
        if touches or not strokes or (rests and strokes[-1].touches):
            strokes.append(replace(stroke, touches=touches, shake=stroke.shake if touches else None))
        else:
            strokes[-1] = replace(strokes[-1], duration=strokes[-1].duration + stroke.duration)
    return replace(bar, strokes=tuple(strokes))


def _rests(written: Bar, onset: Time) -> bool:
    return any(event.pitch is None and event.onset <= onset < event.end for event in written.events)
