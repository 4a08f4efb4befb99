"""The faces of the sheet: where their files lie, how wide their letters are, which signs they lack."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

from nailhead.core.errors import NailheadError
from nailhead.sheet.marks import Face

FOLDER = Path(__file__).parent / "fonts"
#: (face, bold) -> (file, family and weight as CSS names them). The files are put here when the application is built.
FILES: dict[tuple[Face, bool], tuple[str, str, int]] = {
    (Face.TEXT, False): ("text.ttf", "Atkinson Hyperlegible", 400),
    (Face.TEXT, True): ("text-bold.ttf", "Atkinson Hyperlegible", 700),
    (Face.TITLE, False): ("title.ttf", "Zilla Slab", 500),
    (Face.TITLE, True): ("title-bold.ttf", "Zilla Slab", 600),
    (Face.FIGURE, False): ("figures.ttf", "Noto Sans Figures", 700),
    (Face.FIGURE, True): ("figures.ttf", "Noto Sans Figures", 700),
    (Face.OTHER, False): ("other.ttf", "Noto Sans", 400),
    (Face.OTHER, True): ("other-bold.ttf", "Noto Sans", 700),
}


class FontError(NailheadError):
    """A face that is not there."""


@lru_cache(maxsize=16)
def font(face: Face, bold: bool) -> TTFont:
    """A face, registered for PDF under its file's name; raises FontError where the build has not brought it."""
    name = FILES[face, bold][0]
    path = FOLDER / name
    if not path.is_file():
        raise FontError(f"The font {name} is missing.", field="font", remedy="Run `make demo` again; it brings it.")
    found = TTFont(name, path)
    pdfmetrics.registerFont(found)
    return found


def has(sign: str, face: Face, bold: bool) -> bool:
    """Does the face have a sign?"""
    return ord(sign) in font(face, bold).face.charToGlyph


@lru_cache(maxsize=8192)
def width(text: str, face: Face, bold: bool) -> float:
    """Width of a text in ems, every sign of which the face has."""
    return float(font(face, bold).stringWidth(text, 1))
