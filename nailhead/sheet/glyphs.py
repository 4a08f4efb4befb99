"""The signs of staff notation: outlines of a music font under their SMuFL names, taken out when Nailhead is built."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from nailhead.sheet.fonts import FOLDER, FontError

#: Written by tools/signs.py.
FILE = FOLDER / "signs.json"

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


def glyph(name: str) -> Glyph:
    """A sign by its SMuFL name; raises FontError where the build has not brought it."""
    found = all_glyphs().get(name)
    if found is None:
        raise FontError(
            f"The music sign {name} is missing.", field="font", remedy="Run `make demo` again; it brings it."
        )
    return found


@lru_cache(maxsize=1)
def all_glyphs() -> dict[str, Glyph]:
    """Every sign that the build has taken out of the font; none where it has not."""
    if not FILE.is_file():
        return {}
    signs = json.loads(FILE.read_text(encoding="utf-8"))
    return {name: _glyph(row) for name, row in signs.items()}


def _glyph(row: dict[str, Any]) -> Glyph:
    left, top, right, bottom = map(float, row["box"])
    outline = tuple((str(command), tuple((x, y) for x, y in points)) for command, points in row["outline"])
    return Glyph(outline, left, top, right, bottom)


def placed(name: str, x: float, y: float, em: float) -> Iterator[tuple[str, tuple[Point, ...]]]:
    """The outline of a sign where it stands, in mm."""
    for command, points in glyph(name).outline:
        yield command, tuple((x + em * px, y + em * py) for px, py in points)
