"""The shape of decisions as JSON: every field with its type and bounds, looked at before anything is made of them.

What is out of bounds is said with its place, as `cells.0.cell.strokes.3.duration`. Fields of other versions are passed
over, so that a newer file may say more.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, StringConstraints, ValidationError

from nailhead.core.arrange.values import Finger, Ornament, Role, Trembling, Way
from nailhead.core.errors import NailheadError
from nailhead.core.music.layers import Layer

#: More than any tune of ours has.
MOST_BARS = 4096
MOST_STROKES = 512
MOST_CELLS = 8 * MOST_BARS


class DecisionsError(NailheadError):
    """Decisions that cannot be read."""


def _no_number(value: Any) -> Any:
    """Commas are written as text; the first version wrote whole numbers."""
    return str(value) if isinstance(value, int) and not isinstance(value, bool) else value


Exact = Annotated[str, StringConstraints(pattern=r"^\d{1,6}(/[1-9]\d{0,5})?$")]
Commas = Annotated[str, StringConstraints(pattern=r"^-?\d{1,6}(/[1-9]\d{0,5})?$"), BeforeValidator(_no_number)]
Short = Annotated[str, StringConstraints(max_length=2000)]
String = Annotated[int, Field(ge=1, le=40)]
Fret = Annotated[int, Field(ge=0, le=99)]
OnHand = Annotated[int, Field(ge=0, le=5)]
Rung = Annotated[int, Field(ge=0, le=20)]
Place = Annotated[int, Field(ge=0, lt=MOST_BARS)]


class _Shape(BaseModel):
    model_config = ConfigDict(extra="ignore")


class SlurShape(_Shape):
    """Written `with` what, `from` which fret."""

    ornament: Annotated[Ornament, Field(alias="with")]
    start: Annotated[Fret, Field(alias="from")]
    slow: bool
    grace: bool


class NoteShape(_Shape):
    """`pitch` is step, accidental, octave and commas."""

    string: String
    fret: Fret
    pitch: tuple[
        Literal["C", "D", "E", "F", "G", "A", "B"],
        Annotated[int, Field(ge=-2, le=2)],
        Annotated[int, Field(ge=-1, le=10)],
        Commas,
    ]
    role: Role
    finger: OnHand
    held: bool = False
    optional: bool = False
    bend: Annotated[int, Field(ge=0, le=400)] = 0
    harmonic: bool = False
    slur: SlurShape | None = None


class TouchShape(_Shape):
    """What one finger does."""

    way: Way
    notes: Annotated[list[NoteShape], Field(max_length=40)]
    by: Finger | None = None
    loudness: Annotated[int, Field(ge=0, le=100)] | None = None
    muted: bool = False


class StrokeShape(_Shape):
    """What sounds from a moment on."""

    onset: Exact
    duration: Exact
    touches: Annotated[list[TouchShape], Field(max_length=40)]
    tuplet: tuple[Annotated[int, Field(ge=1, le=64)], ...] | None = Field(None, min_length=3, max_length=3)
    shake: tuple[Trembling, Fret | None] | None = None


class HeldShapeShape(_Shape):
    """A chord's shape."""

    onset: Exact
    duration: Exact
    chord: Short
    stops: Annotated[list[tuple[String, Fret, OnHand]], Field(max_length=40)]
    barre: bool


class KeptFingerShape(_Shape):
    """A finger that stays down."""

    place: tuple[String, Fret]
    finger: OnHand
    onset: Exact
    until: Exact


class BarShape(_Shape):
    """A bar with everything in it."""

    rung: Rung
    strokes: Annotated[list[StrokeShape], Field(min_length=1, max_length=MOST_STROKES)]
    patterns: Annotated[list[Short], Field(max_length=MOST_STROKES)]
    shapes: Annotated[list[HeldShapeShape], Field(max_length=MOST_STROKES)]
    kept: Annotated[list[KeptFingerShape], Field(max_length=MOST_STROKES)]
    remarks: Annotated[list[Short], Field(max_length=MOST_STROKES)]
    layer: Layer = Layer.FULL
    early: Annotated[list[tuple[Exact, Exact]], Field(max_length=MOST_STROKES)] = []


class CellShape(BarShape):
    """A kept cell."""

    kind: Literal["alternative", "edited", "locked"]
    said: Short
    melody: Annotated[list[Exact], Field(max_length=MOST_STROKES)]


class KeptShape(_Shape):
    """The bars that hold a cell."""

    bars: Annotated[list[Place], Field(max_length=MOST_BARS)]
    rung: Rung
    cell: CellShape


class AsideShape(_Shape):
    """A cell that waits."""

    bar: Place
    rung: Rung
    why: Short
    mark: str = ""
    cell: CellShape


class DecisionsShape(_Shape):
    """Everything that was decided on a ladder."""

    rungs: Annotated[list[Rung], Field(max_length=MOST_BARS)]
    second: Annotated[list[Rung], Field(max_length=MOST_BARS)] = []
    split: Annotated[list[Place], Field(max_length=MOST_BARS)] = []
    locked: Annotated[list[Place], Field(max_length=MOST_BARS)] = []
    cells: Annotated[list[KeptShape], Field(max_length=MOST_CELLS)] = []
    aside: Annotated[list[AsideShape], Field(max_length=MOST_CELLS)] = []
    bars: Annotated[list[str], Field(max_length=MOST_BARS)] = []


def check_shape(document: Any, shape: type[BaseModel] = DecisionsShape) -> None:
    """Raises DecisionsError with the first place at fault."""
    try:
        shape.model_validate(document, strict=None)
    except ValidationError as error:
        first = error.errors(include_url=False, include_input=False)[0]
        place = ".".join(str(part) for part in first["loc"]) or "they"
        raise DecisionsError(
            f"The decisions cannot be read: {place}: {first['msg']}.",
            field="decisions",
            remedy="Export them again from Nailhead.",
        ) from error
