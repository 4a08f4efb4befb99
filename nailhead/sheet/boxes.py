"""The room that marks take, by the metrics of the faces themselves."""

from __future__ import annotations

from nailhead.sheet.glyphs import glyph
from nailhead.sheet.marks import Curve, Disc, Line, Mark, Polygon, Sign, Text
from nailhead.sheet.setting import measure


def box(mark: Mark) -> tuple[float, float, float, float]:
    """(left, top, right, bottom) of a mark in mm."""
    match mark:
        case Line():
            return min(mark.x1, mark.x2), min(mark.y1, mark.y2), max(mark.x1, mark.x2), max(mark.y1, mark.y2)
        case Curve():
            ys = (mark.y1, mark.y2, (mark.y1 + 2 * mark.cy + mark.y2) / 4)
            return min(mark.x1, mark.x2), min(ys), max(mark.x1, mark.x2), max(ys)
        case Polygon():
            across, down = [x for x, _ in mark.points], [y for _, y in mark.points]
            return min(across), min(down), max(across), max(down)
        case Disc():
            r = mark.radius
            return mark.x - r, mark.y - r, mark.x + r, mark.y + r
        case Sign():
            sign, em = glyph(mark.name), mark.em
            x, y = mark.x, mark.y
            return x + em * sign.left, y + em * sign.top, x + em * sign.right, y + em * sign.bottom
        case Text():
            width = measure(mark.text, mark.size, mark.bold, mark.face)
            left = mark.x - {"start": 0.0, "middle": width / 2, "end": width}[mark.anchor]
            descent = 0.02 if mark.text.isdigit() else 0.22
            return left, mark.y - 0.75 * mark.size, left + width, mark.y + descent * mark.size
