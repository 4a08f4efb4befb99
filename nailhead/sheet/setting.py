"""Sets a text: runs of letters that the face has, in their exact places, and drawn signs for those it lacks."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from itertools import groupby

from nailhead.sheet.fonts import has, width
from nailhead.sheet.marks import Curve, Face, Ink, Line, Mark, Text

#: Advance of a drawn sign in ems.
DRAWN = {"♯": 0.58, "♭": 0.5, "↓": 0.5}
#: Signs that another text says as well.
SPELT = {"⅓": "1/3", "⅔": "2/3", "‑": "-", "\u00a0": " "}
#: Figures that are set small and high.
RAISED = dict(zip("⁰¹²³⁴⁵⁶⁷⁸⁹⁄", "0123456789/", strict=True))
_RAISED_SIZE, _RAISED_BY = 0.62, 0.34
_MADE = {*DRAWN, *RAISED}
#: What stands for a sign that no face here has.
UNKNOWN = "□"


@dataclass(frozen=True, slots=True)
class Run:
    """Letters from (x, y) to the right, y the baseline; `advance` is their width in mm."""

    x: float
    y: float
    text: str
    size: float
    ink: Ink
    bold: bool
    face: Face
    advance: float


@dataclass(frozen=True, slots=True)
class _Piece:
    """A stretch of a text: letters of a face, or one drawn sign; `scale` of the size, `up` in ems."""

    text: str
    advance: float
    face: Face = Face.TEXT
    drawn: bool = False
    scale: float = 1.0
    up: float = 0.0


def measure(text: str, size: float, bold: bool = False, face: Face = Face.TEXT) -> float:
    """Width in mm of a text as it is set."""
    return size * _width(text, face, bold)


@lru_cache(maxsize=8192)
def _width(text: str, face: Face, bold: bool) -> float:
    return sum(piece.advance for piece in _pieces(text, face, bold))


def set_text(mark: Text) -> Iterator[Run | Mark]:
    """The runs and drawn signs of a text, placed by its anchor."""
    pieces = list(_pieces(mark.text, mark.face, mark.bold))
    total = mark.size * sum(piece.advance for piece in pieces)
    x = mark.x - {"start": 0.0, "middle": total / 2, "end": total}[mark.anchor]
    for piece in pieces:
        advance = mark.size * piece.advance
        if piece.drawn:
            yield from _sign(piece.text, x, mark.y, mark.size, mark.ink, mark.bold)
        else:
            y = mark.y - piece.up * mark.size
            yield Run(x, y, piece.text, piece.scale * mark.size, mark.ink, mark.bold, piece.face, advance)
        x += advance


def _pieces(text: str, face: Face, bold: bool) -> Iterator[_Piece]:
    spelt = "".join(SPELT.get(sign, sign) for sign in text)
    for words, run in groupby(_words(spelt, face, bold), key=lambda word: word[1]):
        yield from _pieces_of("".join(word for word, _ in run), words, bold)


def _words(text: str, face: Face, bold: bool) -> Iterator[tuple[str, Face]]:
    """Words with the spaces after them, each in one face: the one asked for, unless it lacks a letter of the word."""
    for word in re.findall(r"\S*\s*", text):
        lacks = any(not has(sign, face, bold) and has(sign, Face.OTHER, bold) for sign in word if sign not in _MADE)
        yield word, Face.OTHER if lacks else face


def _pieces_of(text: str, face: Face, bold: bool) -> Iterator[_Piece]:
    """Letters of a face, and between them what it lacks: drawn, or raised."""
    for plain, run in groupby(text, key=lambda sign: sign not in DRAWN and has(sign, face, bold)):
        together = "".join(run)
        if plain:
            yield _Piece(together, width(together, face, bold), face)
            continue
        for sign in together:
            if sign in RAISED:
                low = RAISED[sign]
                yield _Piece(low, _RAISED_SIZE * width(low, face, bold), face, scale=_RAISED_SIZE, up=_RAISED_BY)
            elif sign in DRAWN:
                yield _Piece(sign, DRAWN[sign], drawn=True)
            else:
                yield _Piece(UNKNOWN, 0.6, drawn=True)


def _sign(sign: str, x: float, y: float, size: float, ink: Ink, bold: bool) -> Iterator[Mark]:
    """Sharp, flat and arrow as strokes, in the weight of the face."""
    thin, thick = (0.075, 0.12) if bold else (0.055, 0.09)

    def line(x1: float, y1: float, x2: float, y2: float, pen: float) -> Line:
        return Line(x + x1 * size, y - y1 * size, x + x2 * size, y - y2 * size, pen * size, ink)

    def curve(x1: float, y1: float, cx: float, cy: float, x2: float, y2: float, pen: float) -> Curve:
        return Curve(
            x + x1 * size, y - y1 * size, x + cx * size, y - cy * size, x + x2 * size, y - y2 * size, pen * size, ink
        )

    if sign == "♯":
        yield line(0.19, -0.06, 0.19, 0.72, thin)
        yield line(0.37, 0.0, 0.37, 0.78, thin)
        yield line(0.06, 0.18, 0.50, 0.29, thick)
        yield line(0.06, 0.43, 0.50, 0.54, thick)
    elif sign == "♭":
        yield line(0.1, -0.02, 0.1, 0.78, thin)
        yield curve(0.1, 0.34, 0.34, 0.52, 0.38, 0.3, thick)
        yield curve(0.38, 0.3, 0.38, 0.16, 0.1, -0.02, thin)
    elif sign == "↓":
        yield line(0.25, 0.68, 0.25, 0.0, thin)
        yield line(0.25, 0.0, 0.08, 0.22, thin)
        yield line(0.25, 0.0, 0.42, 0.22, thin)
    else:
        for corner in (
            (0.08, 0.0, 0.52, 0.0),
            (0.52, 0.0, 0.52, 0.66),
            (0.52, 0.66, 0.08, 0.66),
            (0.08, 0.66, 0.08, 0.0),
        ):
            yield line(*corner, thin)
