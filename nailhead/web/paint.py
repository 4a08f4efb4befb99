"""Marks of a layout as models of the API."""

from __future__ import annotations

from collections.abc import Iterable

from nailhead.sheet.glyphs import placed
from nailhead.sheet.marks import Curve, Disc, Line, Mark, Polygon, Sign, Text
from nailhead.web.models import DiscMark, LineMark, MarkModel, PathMark, TextMark


def mark_models(marks: Iterable[Mark]) -> list[MarkModel]:
    """Marks with lengths rounded to a hundredth of a millimetre."""
    return [_model(mark) for mark in marks]


def _model(mark: Mark) -> MarkModel:
    match mark:
        case Line():
            return LineMark(
                x1=_r(mark.x1), y1=_r(mark.y1), x2=_r(mark.x2), y2=_r(mark.y2), width=_r(mark.width), ink=mark.ink
            )
        case Disc():
            return DiscMark(
                x=_r(mark.x),
                y=_r(mark.y),
                radius=_r(mark.radius),
                ink=mark.ink,
                fill=mark.fill,
                width=_r(mark.width),
            )
        case Text():
            return TextMark(
                x=_r(mark.x),
                y=_r(mark.y),
                text=mark.text,
                size=_r(mark.size),
                ink=mark.ink,
                anchor=mark.anchor,
                bold=mark.bold,
                face=mark.face,
            )
        case Polygon():
            corners = " L".join(f"{_r(x)} {_r(y)}" for x, y in mark.points)
            return PathMark(d=f"M{corners}Z", ink=mark.ink, width=0)
        case Sign():
            way = placed(mark.name, mark.x, mark.y, mark.em)
            outline = "".join(command + " ".join(f"{_r(x)} {_r(y)}" for x, y in points) for command, points in way)
            return PathMark(d=outline, ink=mark.ink, width=0)
        case Curve():
            d = f"M{_r(mark.x1)} {_r(mark.y1)}Q{_r(mark.cx)} {_r(mark.cy)} {_r(mark.x2)} {_r(mark.y2)}"
            return PathMark(d=d, ink=mark.ink, width=_r(mark.width))


def _r(value: float) -> float:
    return round(value, 2)
