"""Models of what can be chosen for a bar, a note and a whole arrangement."""

from __future__ import annotations

from nailhead.web.models import MarkModel, Model, ReasonModel


class AlternativeModel(Model):
    """Another way to play a bar: `difference` in words, `price` in points above the ladder's own, drawn small."""

    difference: str
    price: int
    grade: int
    reasons: list[ReasonModel]
    patterns: list[str]
    strokes: str
    width: float
    marks: list[MarkModel]


class UnisonModel(Model):
    """A place of a melody note's pitch and what the whole placement costs more with the note there."""

    string: int
    fret: int
    fret_name: str
    price: int
    words: str


class ChoiceModel(Model):
    """One thing in which players differ: the ways there are, the usual one first, and the one taken."""

    name: str
    label: str
    ways: list[str]
    taken: str


class NoteModel(Model):
    """A note of a bar: where it stands (mm), how it is played, and its `name` as the teacher has notes called.

    `touch` is "" where it is slurred or held.
    """

    onset: str
    x: float
    string: int
    fret: int
    fret_name: str
    pitch: str
    name: str
    role: str
    finger: int
    touch: str
    held: bool
    ornament: str | None
    start: int
    slow: bool
    grace: bool


class MomentModel(Model):
    """A count of the bar and where it stands: a note may be added there."""

    onset: str
    x: float


class ShapeOfferModel(Model):
    """A way to hold the chord from `onset` on, frets from the last string to the first."""

    onset: str
    chord: str
    frets: str
    used: bool


class TouchModel(Model):
    """A movement of the right hand that this way of playing makes: its name and what it is called."""

    name: str
    word: str


class CellDetail(Model):
    """One bar on one rung, large: notes one by one, what is awkward, what could be chosen. Lengths in mm."""

    place: int
    rung: int
    width: float
    marks: list[MarkModel]
    strings: int
    gap: float
    notes: list[NoteModel]
    moments: list[MomentModel]
    kept: str
    said: str
    awkward: list[str]
    touches: list[TouchModel]


class CellChoices(Model):
    """What could be taken for a bar on a rung: patterns that go with its melody, shapes for each of its chords."""

    patterns: list[str]
    playing: list[str]
    shapes: list[ShapeOfferModel]


class WhenModel(Model):
    """Written bar `place`, played the `time`-th time, begins `at` seconds into the sound."""

    place: int
    time: int
    at: float


class TimelineModel(Model):
    bars: list[WhenModel]
    seconds: float


class StripModel(Model):
    """Some bars in a row by themselves; string 1 lies `top` mm under the upper edge."""

    name: str
    width: float
    top: float
    height: float
    marks: list[MarkModel]


class SignModel(Model):
    """A sign of the tab, about the origin, and what it means."""

    what: str
    marks: list[MarkModel]


class BesideCell(Model):
    place: int
    rung: int
    grade: int
    marks: list[MarkModel]


class BesideModel(Model):
    """The bars of another arrangement's path under a phrase; `top` is where string 1 lies (mm)."""

    name: str
    height: float
    top: float
    cells: list[BesideCell]
