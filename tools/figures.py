"""Takes the figures of the frets out of a text face, when the application is built.

    python tools/figures.py nailhead/sheet/fonts/other-bold.ttf nailhead/sheet/fonts/figures.ttf

The face (Noto Sans Bold, SIL Open Font License) has a plain zero and figures of one width. What comes out has a name of
its own, so that a PDF can hold both.
"""

from __future__ import annotations

import sys
from pathlib import Path

from fontTools.subset import Options, Subsetter
from fontTools.ttLib import TTFont

NAME = "Noto Sans Figures"
#: Frets, a dulcimer's half frets, what may be left out, damped strings.
SIGNS = "0123456789+½()×/"
#: Name records: family, unique, full and PostScript name.
_NAMES = {1: NAME, 3: NAME, 4: NAME, 6: "NotoSansFigures-Bold", 16: NAME}


def main(source: Path, target: Path) -> None:
    face = TTFont(source)
    subsetter = Subsetter(Options(layout_features=[], name_IDs=[0, *_NAMES], hinting=False))
    subsetter.populate(text=SIGNS)
    subsetter.subset(face)
    for record in face["name"].names:
        record.string = _NAMES.get(record.nameID, str(record))
    face.save(target)


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]))
