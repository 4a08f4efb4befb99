"""Hammer-ons, pull-offs and slides: an arc or a line to the note, its letter above, a grace's own small number."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Ornament, Role, Stroke
from nailhead.sheet.columns import Column, Need
from nailhead.sheet.marks import Curve, Face, Ink, Line, Mark, Polygon, Text
from nailhead.sheet.style import Style

#: The letter over each ornament; a slow slide is written out so that it is not taken for a quick one.
LETTERS = {Ornament.HAMMER: "H", Ornament.PULL: "P", Ornament.SLIDE: "S"}
BENDS = {50: "¼", 100: "½"}
SLOW_SLIDE = "slow S"
#: Em of a letter and of a grace's number, in gaps.
LETTER, GRACE = 0.86, 0.92
#: Gaps between slurred notes where finger numbers are printed.
FINGERED = 3.6
#: Gaps before a note that is come to by a grace, and how many more where the note before it has its finger number.
GRACED, GRACE_FINGERED = 2.8, 0.5
#: Gaps behind a note that is bent or trilled, and how much further off the arc is where the note has its finger number.
BENT, BENT_FINGERED = 3.4, 0.75
#: Gaps before a stroke over several strings, so that its arrow stands clear of the heads before it.
SWEPT_ROOM = 2.0
#: Gaps from a note with its finger number to the next one beside it, and how many more for each sign of a wider label.
BESIDE, BESIDE_WIDER = 2.2, 0.3


def slur_needs(bar: ArrangedBar, style: Style, fingers: bool) -> list[Need]:
    """The room for a grace's number or a sweep's arrow before its notes, and with finger numbers for a slur's letter
    between two.
    """
    needs = []
    last: dict[int, Stroke] = {}
    for before, stroke in zip((None, *bar.strokes), bar.strokes, strict=False):
        for note in stroke.notes:
            start = last.get(note.place.string)
            if note.slur and note.slur.grace and before:
                room = GRACED + GRACE_FINGERED * fingers
                needs.append(Need(before.onset, stroke.onset, room * style.gap))
            elif note.slur and start and fingers:
                needs.append(Need(start.onset, stroke.onset, FINGERED * style.gap))
            last[note.place.string] = stroke
        if before and any(touch.struck and len(touch.notes) > 1 for touch in stroke.touches):
            needs.append(Need(before.onset, stroke.onset, SWEPT_ROOM * style.gap))
        trilled = before and before.shake and before.shake.fret is not None
        if before and (trilled or any(note.bend for note in before.notes)):
            needs.append(Need(before.onset, stroke.onset, (BENT + BENT_FINGERED * fingers) * style.gap))
        if before and fingers and _finger_beside(before, stroke):
            signs = max(_signs(stroke) - 1, 0) + max(_signs(before) - 2, 0)
            needs.append(Need(before.onset, stroke.onset, (BESIDE + BESIDE_WIDER * signs) * style.gap))
    return needs


def _signs(stroke: Stroke) -> int:
    """Of how many signs its widest label is."""
    return max((1 + (note.place.fret > 9) + 2 * note.optional for note in stroke.notes), default=1)


def _finger_beside(before: Stroke, stroke: Stroke) -> bool:
    """Does a note stand where the finger number of the one before is: on its string, or on a neighbour?"""
    strings = {note.place.string for note in stroke.notes}
    return any(note.finger and strings & {note.place.string + step for step in (-1, 0, 1)} for note in before.notes)


def slur_marks(
    bar: ArrangedBar,
    column: Column,
    style: Style,
    y_of: Callable[[int], float],
    fret_name: Callable[[int], str],
    fingers: bool,
) -> Iterator[Mark]:
    """The marks of every slur of a bar; one from the bar before begins at the left edge."""
    last: dict[int, float] = {}
    for stroke in bar.strokes:
        x = column.x(stroke.onset)
        for note in stroke.notes:
            string = note.place.string
            if note.slur and note.slur.grace:
                yield from _grace(note, x, y_of(string), style, fret_name)
            elif note.slur:
                start = last.get(string, x - 2.4 * style.gap)
                yield from _joined(note, start, x, y_of(string), style)
            if note.bend:
                yield from _bent(note, x + BENT_FINGERED * style.gap * fingers, y_of(string), style)
            trilled = stroke.shake.fret if stroke.shake and note.role is Role.MELODY else None
            if trilled is not None and not note.held:
                yield from _trilled(fret_name(trilled), x + BENT_FINGERED * style.gap * fingers, y_of(string), style)
            last[string] = x


def bend_word(cents: int) -> str:
    """How far in tones, as a player says it: a quarter, a half."""
    return BENDS.get(cents, f"{cents / 200:g}")


def _bent(note: FrettedNote, x: float, y: float, style: Style) -> Iterator[Mark]:
    """An arc up and away behind the numeral, and how far."""
    gap = style.gap
    left, right, top = x + 1.05 * style.head, x + 1.05 * style.head + 0.7 * gap, y - 0.75 * gap
    yield Curve(left, y, right, y, right, top, 1.4 * style.stem, Ink.HAND)
    wing = 0.2 * gap
    yield Polygon(((right - wing, top), (right + wing, top), (right, top - 1.6 * wing)), Ink.HAND)
    yield Text(right + 0.3 * gap, y - 0.3 * gap, bend_word(note.bend), LETTER * gap, Ink.HAND, "start", bold=True)


def trill_marks(x: float, y: float, width: float, style: Style) -> Iterator[Mark]:
    """A wave of three crests from a point to the right."""
    step, rise = width / 6, 0.16 * style.gap
    for crest in range(6):
        left, top = x + crest * step, y + (rise if crest % 2 else -rise)
        yield Curve(left, y, left + step / 2, 2 * top - y, left + step, y, 1.3 * style.stem, Ink.HAND)


def roll_marks(x: float, top: float, bottom: float, style: Style) -> Iterator[Mark]:
    """A wave from the highest string of a chord down to the lowest, before its numerals: the sign of an arpeggio."""
    crests = max(3, round((bottom - top) / (0.5 * style.gap)))
    step, swing = (bottom - top) / crests, 0.26 * style.gap
    for crest in range(crests):
        y, side = top + crest * step, swing if crest % 2 else -swing
        yield Curve(x, y, x + 2 * side, y + step / 2, x, y + step, 1.3 * style.stem, Ink.HAND)


def _trilled(fret: str, x: float, y: float, style: Style) -> Iterator[Mark]:
    """A wave behind the numeral and the other fret, small."""
    gap = style.gap
    left = x + 0.9 * style.head
    yield from trill_marks(left, y - 0.62 * gap, 0.9 * gap, style)
    yield Text(left + 1.05 * gap, y - 0.36 * gap, fret, GRACE * gap, Ink.HAND, "start", bold=True, face=Face.FIGURE)


def _joined(note: FrettedNote, start: float, x: float, y: float, style: Style) -> Iterator[Mark]:
    assert note.slur
    gap = style.gap
    letter = SLOW_SLIDE if note.slur.slow else LETTERS[note.slur.ornament]
    middle = (start + x) / 2
    if note.slur.ornament is Ornament.SLIDE:
        rise = 0.28 * gap * (1 if note.place.fret > note.slur.start else -1)
        left, right = start + 1.05 * style.head, x - 1.15 * style.head
        yield Line(left, y + rise, right, y - rise, 1.4 * style.stem, Ink.HAND)
    else:
        top = y - 1.05 * style.head
        yield Curve(start + 0.3 * gap, top, middle, top - 0.7 * gap, x - 0.3 * gap, top, 1.4 * style.stem, Ink.HAND)
    yield Text(middle, y + 0.3 * gap, letter, LETTER * gap, Ink.HAND, bold=True)


def _grace(note: FrettedNote, x: float, y: float, style: Style, fret_name: Callable[[int], str]) -> Iterator[Mark]:
    """The fret it comes from, small, with a stroke or an arc to the note."""
    assert note.slur
    gap, size = style.gap, GRACE * style.gap
    left = x - 1.6 * gap
    yield Text(left, y - 0.18 * gap, fret_name(note.slur.start), size, Ink.HAND, bold=True, face=Face.FIGURE)
    if note.slur.ornament is Ornament.SLIDE:
        yield Line(left + 0.3 * gap, y - 0.05 * gap, x - 1.1 * style.head, y - 0.35 * gap, style.stem, Ink.HAND)
    else:
        top = y - 0.75 * gap
        yield Curve(left, top - 0.1 * gap, (left + x) / 2, top - 0.6 * gap, x - 0.1 * gap, top, style.stem, Ink.HAND)
