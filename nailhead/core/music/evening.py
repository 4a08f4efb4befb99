"""Dotted and syncopated figures evened out: where a hand that falls on beats strikes what a layer has between them.

A player gives a pupil the short note of a dotted figure on its beat, and brings the figure back when the left hand or
the thumb can sound it (common practice).
"""

from __future__ import annotations

from collections.abc import Sequence

from nailhead.core.music.core_options import Option
from nailhead.core.music.melody_facts import Note
from nailhead.core.music.windows import Window


def evened(beats: Option, notes: Sequence[Note], windows: Sequence[Window], gap: int) -> dict[int, int]:
    """The notes of a bar's beat layer that are struck on a beat when the hand falls nowhere else: place -> tick.

    In twos alone, and where two counts follow each other in fewer ticks than `gap`: a hand in its first month has time
    for the others. A note goes to the beat it falls in, or on to the next one that it rings over, where the layer
    strikes nothing there.
    """
    taken = {pick.at for pick in beats}
    found: dict[int, int] = {}
    for window, after in zip(windows, (*windows[1:], None), strict=True):
        count = (window.end - window.start) // 2
        if window.counts != 2 or count >= gap:
            continue
        between = [pick for pick in beats if window.start < pick.at < window.end]
        first, last = (notes[between[0].place], notes[between[-1].place]) if between else (None, None)
        if first and not first.tuplet and window.start not in taken:
            found[first.place] = window.start
            taken.add(window.start)
        elif last and not last.tuplet and after and after.start < last.end and after.start not in taken:
            found[last.place] = after.start
            taken.add(after.start)
    return found
