"""Rhythm under the strings, or over them: stems, beams, flags, dots, ties, tuplet numbers and rests."""

from __future__ import annotations

import itertools

from nailhead.core.arrange.values import ArrangedBar, Trembling
from nailhead.core.music.metre import Metre, Time
from nailhead.core.music.notation import NoteValue
from nailhead.sheet.beaming import Printed, beam_groups, flagged_runs, printed, tuplet_groups
from nailhead.sheet.columns import Column
from nailhead.sheet.marks import Curve, Disc, Ink, Line, Mark, Polygon, Text
from nailhead.sheet.style import Stems, Style


def rhythm_marks(
    bar: ArrangedBar, column: Column, metre: Metre, offset: Time, style: Style, stems: Stems, rests_at: float
) -> list[Mark]:
    """All rhythm of a bar that begins `offset` into the full one. Beams join within a beat, or half bars in 4/4."""
    pieces = [piece for stroke in bar.strokes for piece in printed(stroke)]
    marks: list[Mark] = []
    for group in beam_groups(pieces, metre, offset):
        marks += _group_marks(group, column, style, stems, rests_at)
    for stroke in bar.strokes:
        if stroke.shake and stroke.shake.trembling is Trembling.TREMOLO:
            marks += slashes(column.x(stroke.onset), style, stems)
    for piece in pieces:
        if piece.tied_on:
            marks.append(_tie(piece, column, style, stems))
    return marks + _tuplet_numbers(pieces, column, style, stems)


def slashes(x: float, style: Style, stems: Stems) -> list[Mark]:
    """Three strokes through a stem: struck again and again (common engraving practice)."""
    middle, gap = stems.middle, style.gap
    thick, wide, rise = 0.2 * gap, 0.5 * gap, 0.22 * gap
    marks: list[Mark] = []
    for row in (-1, 0, 1):
        y = middle + row * 0.4 * gap
        left, right = (x - wide, y + rise / 2), (x + wide, y - rise / 2)
        marks.append(Polygon((left, right, (right[0], right[1] + thick), (left[0], left[1] + thick))))
    return marks


def _group_marks(group: list[Printed], column: Column, style: Style, stems: Stems, rests_at: float) -> list[Mark]:
    marks: list[Mark] = []
    for piece in group:
        x = column.x(piece.onset)
        if piece.rest:
            marks += _rest(piece.value, x, style, rests_at)
        else:
            marks += _stem(piece, x, style, stems, alone=len(group) == 1)
    if len(group) > 1:
        marks += _beams(group, column, style, stems)
    return marks


def _stem(piece: Printed, x: float, style: Style, stems: Stems, alone: bool) -> list[Mark]:
    far, way, gap = stems.far, stems.way, style.gap
    marks: list[Mark] = []
    if piece.value.name in ("whole", "breve"):
        marks.append(Disc(x, stems.middle, 0.36 * gap, Ink.INK, Ink.PAPER, 1.6 * style.stem))
    else:
        marks.append(Line(x, stems.near, x, far, style.stem))
    if piece.value.name == "half":
        marks.append(Disc(x, far - way * 0.32 * gap, 0.32 * gap, Ink.INK, Ink.PAPER, 1.6 * style.stem))
    for flag in range(piece.value.flags if alone else 0):
        y = far - way * flag * 0.55 * gap
        marks.append(
            Curve(x, y, x + 0.2 * gap, y - way * 0.6 * gap, x + 0.75 * gap, y - way * 0.75 * gap, 2.2 * style.stem)
        )
    for dot in range(piece.value.dots):
        marks.append(Disc(x + (0.5 + 0.35 * dot) * gap, far - way * 0.05 * gap, 0.13 * gap, Ink.INK, Ink.INK))
    return marks


def _beams(group: list[Printed], column: Column, style: Style, stems: Stems) -> list[Mark]:
    thickness = stems.way * 0.34 * style.gap
    marks: list[Mark] = []
    for level in range(max(piece.value.flags for piece in group)):
        y = stems.far - stems.way * level * 0.56 * style.gap
        for first, last in flagged_runs(group, level):
            x1, x2 = column.x(group[first].onset), column.x(group[last].onset)
            if first == last:
                stub = 0.6 * style.gap
                x1, x2 = (x1 - stub, x1) if first else (x1, x1 + stub)
            half = style.stem / 2
            corners = ((x1 - half, y - thickness), (x2 + half, y - thickness), (x2 + half, y), (x1 - half, y))
            marks.append(Polygon(corners))
    return marks


def _tie(piece: Printed, column: Column, style: Style, stems: Stems) -> Mark:
    x1, x2 = column.x(piece.onset), column.x(piece.onset + piece.value.duration)
    y = stems.near - stems.way * 0.15 * style.gap
    return Curve(x1, y, (x1 + x2) / 2, y + stems.way * 0.8 * style.gap, x2, y, 1.3 * style.stem)


def _tuplet_numbers(pieces: list[Printed], column: Column, style: Style, stems: Stems) -> list[Mark]:
    y = stems.far + (0.74 if stems.way > 0 else -0.2) * style.gap
    return [
        Text((column.x(group[0].onset) + column.x(group[-1].onset)) / 2, y, str(tuplet.actual), 0.85 * style.gap)
        for tuplet, group in tuplet_groups(pieces)
    ]


def _rest(value: NoteValue, x: float, style: Style, middle: float) -> list[Mark]:
    gap = style.gap
    if value.name in ("breve", "whole", "half"):
        top = middle - gap if value.name != "half" else middle - 0.45 * gap
        corners = ((x, top), (x + 1.1 * gap, top), (x + 1.1 * gap, top + 0.45 * gap), (x, top + 0.45 * gap))
        marks: list[Mark] = [Polygon(corners)]
    elif value.name == "quarter":
        zigzag = ((0, -1.3), (0.55, -0.55), (0.1, 0.05), (0.6, 0.75), (-0.05, 0.6), (0.2, 1.35))
        points = [(x + dx * gap, middle + dy * gap) for dx, dy in zigzag]
        marks = [Line(*start, *end, 2.4 * style.stem) for start, end in itertools.pairwise(points)]
    else:
        marks = [Line(x + 0.5 * gap, middle - 0.7 * gap, x + 0.1 * gap, middle + 1.1 * gap, 1.6 * style.stem)]
        for flag in range(value.flags):
            y = middle - 0.6 * gap + flag * 0.75 * gap
            shift = 0.16 * gap * flag
            marks.append(Disc(x - 0.15 * gap - shift, y, 0.22 * gap, Ink.INK, Ink.INK))
            marks.append(
                Curve(x - 0.15 * gap - shift, y, x + 0.2 * gap, y + 0.3 * gap, x + 0.5 * gap - shift, y - 0.1 * gap,
                      1.6 * style.stem)
            )  # fmt: skip
    for dot in range(value.dots):
        marks.append(Disc(x + (1.4 + 0.35 * dot) * gap, middle - 0.2 * gap, 0.14 * gap, Ink.INK, Ink.INK))
    return marks
