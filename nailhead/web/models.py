"""What crosses the border: Pydantic models of requests and answers. The front end's types come from these."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field


class Model(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Health(Model):
    """A server that answers, and its version."""

    version: str


class Problem(BaseModel):
    """A problem document (RFC 9457) with the place and the remedy."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    field: str = ""
    remedy: str = ""
    bar: int | None = None
    line: int | None = None
    column: int | None = None


class SetupSummary(Model):
    """A kept setup, in words. `name` is the teacher's, "" where she gave none, `called` that or what tells it from the
    tune's others. `trouble` says why it no longer fits the tune, "" where it does.
    """

    id: int
    name: str
    called: str
    instrument: str
    label: str
    idiom: str
    shape_key: str
    sounding_key: str
    trouble: str = ""


class TuningModel(Model):
    """`strings` are the open pitches of 1 to n; `own` the number of a teacher's own tuning."""

    id: str
    name: str
    strings: list[str]
    usual: bool
    own: int | None = None


class IdiomModel(Model):
    id: str
    name: str


class OwnTuningModel(Model):
    """A tuning as a teacher writes it: `open` has the pitches of strings n to 1."""

    name: Annotated[str, Field(max_length=80)]
    open: Annotated[str, Field(max_length=120)]


class OwnInstrumentModel(Model):
    """An instrument as a teacher describes it (see nailhead.core.fretboard.own)."""

    name: Annotated[str, Field(max_length=80)]
    kind: Annotated[str, Field(max_length=40)]
    strings: Annotated[int, Field(ge=0, le=24)]
    scale_mm: Annotated[float, Field(ge=0, le=10_000)]
    frets: Annotated[int, Field(ge=-100, le=100)]
    half_frets: Annotated[list[Annotated[str, Field(max_length=6)]], Field(max_length=8)] = Field(default_factory=list)
    gauges: Annotated[str, Field(max_length=120)] = ""
    courses: Annotated[list[int], Field(max_length=24)] = Field(default_factory=list)
    left_handed: bool = False
    tuning: OwnTuningModel | None = None


class InstrumentModel(Model):
    """What can be set up. `whole` bounds how far all strings are moved together, in semitones; where `relative` the
    written names stay and any of it is as good. `own` is the number of a teacher's own instrument, `made` how she
    described it; `kind` the id of the one it is played like.
    """

    id: str
    name: str
    kind: str
    strings: int
    frets: int
    scale_mm: float
    courses: list[int]
    gauges: str
    half_frets: list[str]
    fewest_strings: int
    most_strings: int
    whole: list[int]
    relative: bool
    left_handed: bool
    own: int | None
    made: OwnInstrumentModel | None
    highest_capo: int
    capos: list[int]
    drone_choices: list[str]
    tunings: list[TuningModel]
    idioms: list[IdiomModel]


class SetupWish(Model):
    """What the teacher has decided; left out means “choose for me”."""

    instrument: str = "banjo"
    idiom: str | None = None
    tuning: str | None = None
    capo: Annotated[int, Field(ge=0, le=24)] | None = None
    fifth: str | None = None
    key: str | None = None


class SetupAnswer(Model):
    """A setup that works for the tune, with both keys and what was chosen."""

    instrument: str
    idiom: str
    tuning: str
    tuning_label: str
    capo: int
    fifth: str | None
    hook_fret: int | None
    sounding_key: str
    sounding_tonic: str
    shape_key: str
    lowest_fret: str
    highest_fret: str
    open_share: float
    remarks: list[str]
    cautions: list[str]


# -- marks of a layout (see nailhead.sheet.marks)


class LineMark(Model):
    kind: Literal["line"] = "line"
    x1: float
    y1: float
    x2: float
    y2: float
    width: float
    ink: str


class DiscMark(Model):
    kind: Literal["disc"] = "disc"
    x: float
    y: float
    radius: float
    ink: str
    fill: str
    width: float


class TextMark(Model):
    kind: Literal["text"] = "text"
    x: float
    y: float
    text: str
    size: float
    ink: str
    anchor: str
    bold: bool
    face: str


class PathMark(Model):
    """A filled outline (`width` 0) or a stroked curve, as SVG path data."""

    kind: Literal["path"] = "path"
    d: str
    ink: str
    width: float


MarkModel = Annotated[LineMark | DiscMark | TextMark | PathMark, Field(discriminator="kind")]


class ReasonModel(Model):
    term: str
    points: int
    text: str


class CellModel(Model):
    """One bar on one rung. `fresh` are the middles of notes that the rung below does not strike (mm).

    `kept` says why the cell is not as computed ("alternative", "edited", "locked"; "" where it is), `said` how.
    """

    rung: int
    kept: str
    said: str
    fresh: list[tuple[float, float]]
    grade: int
    reasons: list[ReasonModel]
    join: int
    join_reasons: list[ReasonModel]
    patterns: list[str]
    shapes: list[str]
    remarks: list[str]
    marks: list[MarkModel]


class BarFrame(Model):
    """One written bar without its marks: `equal_to` is the place of the first bar equal to it.

    `grades[r - 1]` is its grade on rung r; `again` whether it is played more than once.
    """

    place: int
    number: int
    letter: str
    equal_to: int
    part: str
    endings: list[int]
    again: bool
    width: float
    grades: list[int]


class ColumnModel(Model):
    """The marks of one written bar: its chords, and its cells from rung 1 up."""

    place: int
    head: list[MarkModel]
    cells: list[CellModel]


class PhraseModel(Model):
    """A phrase: where its bars stand, and what is in them once it has been asked for."""

    index: int
    width: float
    bars: list[BarFrame]
    columns: list[ColumnModel] | None


class RungModel(Model):
    """A rung: its name, how much of the melody it plays, as "the beats", and what a tune wholly on it is called."""

    number: int
    name: str
    plays: str
    version: str


class SpotModel(Model):
    """A hard place to practise: a bar, or the join behind it, and why."""

    place: int
    bar: int
    join: bool
    grade: int
    why: str


class KeptModel(Model):
    """A cell the teacher keeps as it is."""

    place: int
    rung: int
    kind: str
    said: str


class AsideModel(Model):
    """A kept cell that no longer fits its bar, and why."""

    bar: int
    rung: int
    kind: str
    why: str


class HandedOutModel(Model):
    """Bars of the path that are as they left on a date, `how` ("PDF"), and would be otherwise by now."""

    date: str
    how: str
    places: list[int]
    numbers: list[int]


class PathModel(Model):
    """The arrangement as it stands. `revision` must come back with a change.

    `rungs` has the rung of each written bar, `second` that of the second time through (the same where nothing else
    is chosen), `groups` a number for each bar that those share which move together. `undo` and `redo` name the step
    that would be taken back or made again. `second_grade` is that of the second time where it is played otherwise;
    `solo` says that the path has a solo bar, and with it a kick-off and an ending.
    """

    rungs: list[int]
    second: list[int]
    groups: list[int]
    split: list[int]
    locked: list[int]
    kept: list[KeptModel]
    aside: list[AsideModel]
    revision: int
    undo: str
    redo: str
    grade: int
    second_grade: int | None
    solo: bool
    hardest_bars: list[int]
    spots: list[SpotModel]
    handed_out: HandedOutModel | None = None


class OwnPatternModel(Model):
    """A right-hand pattern of the teacher's own."""

    name: str
    text: str


class LadderModel(Model):
    """`signs` are those that patterns of this way of playing are written in, `sample` one of its own."""

    setup_id: int
    tune_id: int
    name: str
    called: str
    title: str
    label: str
    idiom: str
    tempo: int
    shape_key: str
    sounding_key: str
    metre: str
    bars: int
    different_bars: int
    chords_suggested: bool
    cautions: list[str]
    rungs: list[RungModel]
    signs: list[str]
    sample: str
    patterns: list[OwnPatternModel]
    cell_height: float
    cell_top: float
    head_height: float
    phrases: list[PhraseModel]
    path: PathModel


class SheetOptionsModel(Model):
    """What a sheet shows, and for each choice of words the ways there are."""

    part: str
    paper: str
    size: str
    colours: str
    chords: str
    feel: str
    staff: str
    names: str
    letters: str
    diagrams: bool
    fingers: bool
    hands: bool
    upside_down: bool
    words: bool
    kick_off: bool
    second: bool
    ending: bool
    key: bool
    fillers: bool
    ways: dict[str, list[str]]


class SheetModel(Model):
    """Pages as SVG in mm; `optional` where notes may be left out; `revision` comes back with a change of options."""

    title: str
    called: str
    width: float
    height: float
    pages: list[str]
    options: SheetOptionsModel
    rungs: list[int]
    phrases: int
    optional: bool
    revision: int
