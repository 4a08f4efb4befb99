"""What crosses the border for instruments: chord shapes, the key table, necks by themselves, the tuner."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from nailhead.web.models import Model
from nailhead.web.plan_models import Fret, NeckFret, Short


class BareSetup(Model):
    """A setup for no tune in particular. `fifth` null leaves the short string as the tuning has it."""

    tuning: Short
    capo: Fret = 0
    fifth: Short | None = None


class ShapesWish(BareSetup):
    """Shapes of a chord for a hand; the chord is named as it sounds, or with `as_shape` as the hands know it."""

    chord: Short
    hand: Short = "medium"
    as_shape: bool = True
    most: Annotated[int, Field(ge=1, le=40)] = 12


class BarreModel(Model):
    finger: int
    fret: int
    first: int
    last: int


class ShapeString(Model):
    """One string of a shape: `fret` from the capo (null: left out), its name, the finger (0 none), the note."""

    number: int
    fret: int | None
    name: str
    finger: int
    pitch: str
    drone: bool


class ShapeModel(Model):
    """One way to hold a chord. `span_mm` lies between the outer stops; `said` tells it in words."""

    strings: list[ShapeString]
    barres: list[BarreModel]
    lowest: int
    highest: int
    span_mm: float
    fingers: int
    cost: int
    said: str


class ShapesModel(Model):
    """A chord by the name of its shape and as it sounds, with its shapes best first."""

    shape_name: str
    sounding_name: str
    shapes: list[ShapeModel]


class PlacesWish(BareSetup):
    """Every place of a pitch ("D4"), or with no octave of a note in every octave ("D")."""

    pitch: Short


class PlaceModel(Model):
    """A place: `at` is where the finger goes, as a share of the drawn neck."""

    string: int
    fret: str
    pitch: str
    at: float


class BareNeck(Model):
    """A neck to scale, with what has been asked for on it."""

    strings: list[str]
    courses: list[int]
    starts: list[float]
    frets: list[NeckFret]
    capo: float | None
    hook: float | None
    left_handed: bool
    places: list[PlaceModel]


class KeyWayModel(Model):
    """A way into a key, as a teacher reads it from a table."""

    tuning: str
    moved: int
    capo: int
    shape: str
    fifth: str | None
    hook_fret: int | None
    tonic: str


class KeyRowModel(Model):
    key: str
    ways: list[list[KeyWayModel]]


class TuningHead(Model):
    id: str
    name: str


class KeyTableModel(Model):
    """Twelve keys by tunings."""

    instrument: str
    mode: str
    tunings: list[TuningHead]
    rows: list[KeyRowModel]


class TunerString(Model):
    """A string to be tuned: where it is, where it goes, what that does to it. `cents` from here to there."""

    number: int
    pitch: str
    hertz: float
    from_pitch: str
    semitones: int
    tension_percent: float
    tension_n: float | None
    before_n: float | None
    caution: str


class TunerModel(Model):
    """The strings of a tuning as the tuner goes through them, string n first, and what to heed."""

    instrument: str
    tuning: str
    strings: list[TunerString]
    cautions: list[str]


class ListenWish(BareSetup):
    """A string that stands `off_cents` beside its pitch, in a room with so much noise."""

    string: Annotated[int, Field(ge=1, le=24)]
    off_cents: float
    noise_db: float = -45.0


class HeardModel(Model):
    """A pitch that was measured: in Hz, the string it is nearest to, how far beside it, and what to do."""

    hertz: float
    spread_cents: float
    string: int
    pitch: str
    off_cents: float
    said: str
