"""What a layout is made of: lines, discs, texts and filled outlines, in millimetres, y downwards.

`ink` names what a mark means; the painter chooses the colour. Polygon carries the meaning as well, so
that a black-and-white printer loses nothing.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import StrEnum


class Ink(StrEnum):
    INK = "ink"
    FAINT = "faint"
    STRING = "string"
    MELODY = "melody"
    ON_MELODY = "on-melody"
    CHORD = "chord"
    PAPER = "paper"
    HAND = "hand"
    TROUBLE = "trouble"


class Face(StrEnum):
    """A layout asks for TEXT, TITLE or FIGURE, which has a plain zero for the frets; OTHER sets the letters that they
    lack (Greek, Cyrillic, İ …).
    """

    TEXT = "text"
    TITLE = "title"
    FIGURE = "figure"
    OTHER = "other"


@dataclass(frozen=True, slots=True)
class Line:
    x1: float
    y1: float
    x2: float
    y2: float
    width: float
    ink: Ink = Ink.INK


@dataclass(frozen=True, slots=True)
class Disc:
    """A circle: filled with `fill`, drawn round with `ink`."""

    x: float
    y: float
    radius: float
    ink: Ink
    fill: Ink
    width: float = 0.0


@dataclass(frozen=True, slots=True)
class Text:
    """A text whose baseline is at y; `anchor` is start, middle or end; `size` the height of an em."""

    x: float
    y: float
    text: str
    size: float
    ink: Ink = Ink.INK
    anchor: str = "middle"
    bold: bool = False
    face: Face = Face.TEXT


@dataclass(frozen=True, slots=True)
class Polygon:
    """A closed outline filled with `ink`: corners in order."""

    points: tuple[tuple[float, float], ...]
    ink: Ink = Ink.INK


@dataclass(frozen=True, slots=True)
class Curve:
    """A quadratic arc from one point to another, pulled towards (cx, cy)."""

    x1: float
    y1: float
    cx: float
    cy: float
    x2: float
    y2: float
    width: float
    ink: Ink = Ink.INK


@dataclass(frozen=True, slots=True)
class Sign:
    """A sign of staff notation by its SMuFL name; `x` is where its em begins, `y` its own line, `em` in mm."""

    x: float
    y: float
    name: str
    em: float
    ink: Ink = Ink.INK


Mark = Line | Disc | Text | Polygon | Curve | Sign


def moved(marks: Iterable[Mark], dx: float, dy: float) -> list[Mark]:
    """The marks at another place."""
    return [_move(mark, dx, dy) for mark in marks]


def _move(mark: Mark, dx: float, dy: float) -> Mark:
    match mark:
        case Line():
            return replace(mark, x1=mark.x1 + dx, x2=mark.x2 + dx, y1=mark.y1 + dy, y2=mark.y2 + dy)
        case Curve():
            return Curve(
                mark.x1 + dx,
                mark.y1 + dy,
                mark.cx + dx,
                mark.cy + dy,
                mark.x2 + dx,
                mark.y2 + dy,
                mark.width,
                mark.ink,
            )
        case Polygon():
            return Polygon(tuple((x + dx, y + dy) for x, y in mark.points), mark.ink)
        case _:
            return replace(mark, x=mark.x + dx, y=mark.y + dy)
