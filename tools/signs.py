"""Takes the outlines of the staff's signs out of a music font, when the application is built.

    python tools/signs.py nailhead/sheet/fonts/signs.json

The font is Bravura (SIL Open Font License), as the verovio package brings it; signs go by their SMuFL names and code
points (SMuFL 1.4). The application reads the file that is written here and needs neither package.
"""

from __future__ import annotations

import importlib.util
import json
import sys
from pathlib import Path
from xml.etree import ElementTree

from fontTools.pens.boundsPen import BoundsPen
from fontTools.pens.recordingPen import RecordingPen
from fontTools.svgLib.path import parse_path

FONT = "Bravura"
#: Units of an em in the outlines.
UNITS = 1000
_LENGTHS = ("8th", "16th", "32nd", "64th", "128th", "256th")
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
    **{f"rest{name}": 0xE4E6 + at for at, name in enumerate(_LENGTHS)},
    **{
        f"flag{name}{way}": 0xE240 + 2 * at + down
        for at, name in enumerate(_LENGTHS)
        for down, way in enumerate(("Up", "Down"))
    },
}
_COMMANDS = {"moveTo": "M", "lineTo": "L", "curveTo": "C", "closePath": "Z"}


def sign(path: str) -> dict[str, object]:
    """An outline in ems, y downwards, with what bounds it: left, top, right, bottom."""
    pen, bounds = RecordingPen(), BoundsPen(None)
    parse_path(path, pen)
    pen.replay(bounds)
    left, low, right, high = (value / UNITS for value in bounds.bounds)
    outline = [
        [_COMMANDS[command], [[x / UNITS, -y / UNITS] for x, y in points]]
        for command, points in pen.value
        if command in _COMMANDS
    ]
    return {"outline": outline, "box": [left, -high, right, -low]}


def main(target: Path) -> None:
    spec = importlib.util.find_spec("verovio")
    assert spec and spec.submodule_search_locations, "install what requirements/build.txt names"
    folder = Path(spec.submodule_search_locations[0]) / "data" / FONT
    signs = {}
    for name, code in CODES.items():
        found = ElementTree.parse(folder / f"{code:X}.xml").getroot().find("path")
        assert found is not None, name
        signs[name] = sign(str(found.get("d")))
    target.parent.mkdir(parents=True, exist_ok=True)
    target.write_text(json.dumps(signs, separators=(",", ":")), encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
