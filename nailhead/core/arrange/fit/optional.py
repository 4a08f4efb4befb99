"""What may be left out of a bar, left out: the melody with its chords stays."""

from __future__ import annotations

from dataclasses import replace

from nailhead.core.arrange.values import ArrangedBar, Stroke, Touch


def bar_without_fillers(bar: ArrangedBar) -> ArrangedBar:
    """The bar without its optional notes; what was struck before them rings on through their time."""
    if not any(note.optional for stroke in bar.strokes for note in stroke.notes):
        return bar
    strokes: list[Stroke] = []
    for stroke in bar.strokes:
        left = replace(stroke, touches=_touches(stroke))
        if strokes and stroke.touches and not left.touches and stroke.tuplet is None:
            strokes[-1] = replace(strokes[-1], duration=strokes[-1].duration + stroke.duration)
        else:
            strokes.append(left)
    return replace(bar, strokes=tuple(strokes))


def _touches(stroke: Stroke) -> tuple[Touch, ...]:
    kept = (replace(one, notes=tuple(note for note in one.notes if not note.optional)) for one in stroke.touches)
    return tuple(one for one, whole in zip(kept, stroke.touches, strict=True) if one.notes or not whole.notes)
