"""The signs of staff notation: outlines of a music font under their SMuFL names.

The font is the one that comes with the verovio package; its outlines are read one by one, so no font file is embedded.
"""

from __future__ import annotations

import importlib.util
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from xml.etree import ElementTree

from fontTools.pens.boundsPen import BoundsPen
from fontTools.pens.recordingPen import RecordingPen
from fontTools.svgLib.path import parse_path

from nailhead.sheet.fonts import FontError

FONT = "Bravura"
#: SMuFL 1.4, names and code points.
CODES = {
    "gClef": 0xE050,
    "gClef8vb": 0xE052,
    "noteheadDoubleWhole": 0xE0A0,
    "noteheadWhole": 0xE0A2,
    "noteheadHalf": 0xE0A3,
    "noteheadBlack": 0xE0A4,
    "accidentalDoubleFlat": 0xE264,
    "accidentalFlat": 0xE260,
    "accidentalNatural": 0xE261,
    "accidentalSharp": 0xE262,
    "accidentalDoubleSharp": 0xE263,
    "restDoubleWhole": 0xE4E2,
    "restWhole": 0xE4E3,
    "restHalf": 0xE4E4,
    "restQuarter": 0xE4E5,
    **{f"rest{name}": 0xE4E6 + at for at, name in enumerate(("8th", "16th", "32nd", "64th", "128th", "256th"))},
    **{
        f"flag{name}{way}": 0xE240 + 2 * at + down
        for at, name in enumerate(("8th", "16th", "32nd", "64th", "128th", "256th"))
        for down, way in enumerate(("Up", "Down"))
    },
}
#: Units of an em in the outlines.
_UNITS = 1000

Point = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Glyph:
    """An outline in ems, y downwards from the sign's own line: (command, points) with M, L, C and Z as in SVG.

    `left`, `top`, `right`, `bottom` bound it. An em is four spaces of the staff.
    """

    outline: tuple[tuple[str, tuple[Point, ...]], ...]
    left: float
    top: float
    right: float
    bottom: float


_COMMANDS = {"moveTo": "M", "lineTo": "L", "curveTo": "C", "closePath": "Z", "endPath": ""}


@lru_cache(maxsize=len(CODES))
def glyph(name: str) -> Glyph:
    """A sign by its SMuFL name; raises FontError where the font is not installed."""
    path = _path(_folder() / f"{CODES[name]:X}.xml")
    pen, bounds = RecordingPen(), BoundsPen(None)
    parse_path(path, pen)
    pen.replay(bounds)
    left, low, right, high = (value / _UNITS for value in bounds.bounds)
    outline = tuple(
        (_COMMANDS[command], tuple((x / _UNITS, -y / _UNITS) for x, y in points))
        for command, points in pen.value
        if _COMMANDS[command]
    )
    return Glyph(outline, left, -high, right, -low)


def placed(name: str, x: float, y: float, em: float) -> Iterator[tuple[str, tuple[Point, ...]]]:
    """The outline of a sign where it stands, in mm."""
    for command, points in glyph(name).outline:
        yield command, tuple((x + em * px, y + em * py) for px, py in points)


def _path(file: Path) -> str:
    """The SVG path of a glyph file."""
    if not file.is_file():
        raise FontError(f"The music sign {file.stem} is missing.", field="font", remedy="Run `make demo` again.")
    found = ElementTree.parse(file).getroot().find("path")
    assert found is not None
    return str(found.get("d"))


@lru_cache(maxsize=1)
def _folder() -> Path:
    spec = importlib.util.find_spec("verovio")
    if spec is None or not spec.submodule_search_locations:
        raise FontError("The music font is missing.", field="font", remedy="Run `make demo` again; it brings it.")
    return Path(spec.submodule_search_locations[0]) / "data" / FONT
