"""What a sheet shows: kept with its arrangement, every field with a default that suits a lesson."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace

from nailhead.core.arrange.rows.backing import PARTS
from nailhead.core.errors import NailheadError
from nailhead.core.music.note_names import LETTERS, NOTE_NAMES
from nailhead.sheet.style import Style
from nailhead.sheet.tab import CHORD_NAMES, TabOptions

#: Paper sizes in millimetres (ISO 216; ANSI/ASME Y14.1).
PAPERS: dict[str, tuple[float, float]] = {"A4": (210.0, 297.0), "Letter": (215.9, 279.4)}
#: Gap between two strings in mm: usual, and for those who read from a music stand at some distance.
SIZES = {"usual": 2.5, "large": 3.3}
COLOURS = ("colour", "black")
#: How eighths are played, as the heading says it.
FEELS = ("even", "swing")
#: What a five-line staff above the tablature shows.
STAVES = ("none", "melody", "all notes")
#: Every choice of words and the ways there are, the usual one first.
WAYS: dict[str, tuple[str, ...]] = {
    "part": PARTS,
    "paper": tuple(PAPERS),
    "size": tuple(SIZES),
    "colours": COLOURS,
    "chords": CHORD_NAMES,
    "feel": FEELS,
    "staff": STAVES,
    "names": NOTE_NAMES,
    "letters": LETTERS,
}


@dataclass(frozen=True, slots=True)
class SheetOptions:
    """What is printed: the arrangement or a chord part. `names` are the melody notes', under them,
    `letters` how B is read; `kick_off`, `second`
    and `ending` print what a solo or a second time has beside the written bars, `fillers` what may be left out.
    """

    paper: str = "A4"
    size: str = "usual"
    colours: str = "colour"
    chords: str = "shape and sound"
    feel: str = "even"
    staff: str = "none"
    names: str = "none"
    letters: str = LETTERS[0]
    part: str = PARTS[0]
    diagrams: bool = False
    fingers: bool = False
    hands: bool = True
    upside_down: bool = False
    words: bool = True
    kick_off: bool = True
    second: bool = True
    ending: bool = True
    key: bool = True
    fillers: bool = True

    def __post_init__(self) -> None:
        for field, known in WAYS.items():
            if getattr(self, field) not in known:
                raise NailheadError(
                    f"There is no {field} “{getattr(self, field)}”.",
                    field=field,
                    remedy=f"Choose one of: {', '.join(known)}.",
                )

    def on(self, paper: str, colours: str) -> SheetOptions:
        """The same on other paper, in other ink."""
        return replace(self, paper=paper, colours=colours)

    @property
    def backs(self) -> bool:
        """Is it a chord part that is printed and heard?"""
        return self.part != PARTS[0]

    @property
    def style(self) -> Style:
        return Style(SIZES[self.size])

    @property
    def tab(self) -> TabOptions:
        return TabOptions(self.fingers, self.hands, self.upside_down, self.letters)


def read_options(kept: Mapping[str, object]) -> SheetOptions:
    """Options from what was kept of them; what is not known any more is left at its default."""
    known = {field.name: type(field.default) for field in fields(SheetOptions)}
    return SheetOptions(**{name: value for name, value in kept.items() if isinstance(value, known.get(name, ()))})  # type: ignore[arg-type]
