"""What crosses the border for the shelf and for bringing in, and a tune as it is kept."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nailhead.formats.abc.reader import MOST_CHARACTERS as MOST_OF_ONE
from nailhead.web.models import Model, SetupSummary

#: Characters of ABC in one request; a book of 1,000 tunes has about 500,000.
MOST_CHARACTERS = 4_000_000
Text = Annotated[str, Field(max_length=MOST_CHARACTERS)]
OneTune = Annotated[str, Field(max_length=MOST_OF_ONE)]
Short = Annotated[str, Field(max_length=200)]


# -- the shelf


class FactsModel(Model):
    """What is known of a tune; empty where its text cannot be read yet."""

    key: str
    metre: str
    rhythm: str
    form: str
    bars: int
    different_bars: int
    wrong_bars: int
    lowest: str
    highest: str
    chords: bool


class ShelfRowModel(FactsModel):
    id: int
    title: str
    draft: bool
    archived: bool
    changed_at: str
    opened_at: str
    tags: list[str]
    setups: int
    instruments: list[str]


class KindModel(Model):
    """Something to narrow the shelf by: what is asked for, how it is called, how many tunes there are of it."""

    value: str
    name: str
    tunes: int


class ShelfModel(Model):
    """A page of the shelf. `total` counts everything found; the others are what there is to narrow it by."""

    tunes: list[ShelfRowModel]
    total: int
    tags: list[KindModel]
    keys: list[KindModel]
    metres: list[KindModel]
    instruments: list[KindModel]


class TagSeveral(Model):
    """A tag that each of several tunes is given, or that is taken from each."""

    tunes: Annotated[list[Annotated[int, Field(ge=1, le=2**53)]], Field(min_length=1, max_length=1000)]
    tag: Annotated[str, Field(max_length=200)]
    given: bool = True


class TagsChange(Model):
    tags: list[Annotated[str, Field(max_length=200)]]


class ArchivedChange(Model):
    archived: bool


# -- bringing in


class NewTunes(Model):
    abc: Text


class BlankTune(Model):
    """A tune to be written: what its header says."""

    title: Annotated[str, Field(min_length=1, max_length=200)]
    key: Short = "G"
    metre: Short = "4/4"


class RefusedTune(Model):
    number: int
    title: str
    line: int
    column: int
    message: str
    remedy: str


class AddedTune(Model):
    id: int
    title: str


class BroughtIn(Model):
    """What became of a text: tunes on the shelf, and tunes refused."""

    added: list[AddedTune]
    refused: list[RefusedTune]


class PreviewStart(Model):
    """First line of a preview: what the file is, and how many tunes are coming.

    `tablature` says that it could be brought in as an arrangement too.
    """

    kind: Literal["start"] = "start"
    format: Literal["abc", "musicxml", "midi"]
    total: int
    tablature: bool = False


class PreviewTune(Model):
    """One tune of a file: its ABC if it can be read, else what is wrong.

    `left_out` lists what was dropped, `staff` is the text for drawing.
    """

    kind: Literal["tune"] = "tune"
    place: int
    number: int
    title: str
    line: int
    abc: str
    staff: str
    facts: FactsModel | None
    left_out: list[str]
    on_shelf: bool
    refused: RefusedTune | None


class TrackModel(Model):
    index: int
    name: str
    notes: int
    lowest: str
    highest: str
    drums: bool
    together: int


class PreviewChoices(Model):
    """What a file leaves open: the parts of a score; for MIDI track, grid, metre, pickup and key.

    `guessed` names those that nobody has decided; `repeats` is true where what is played twice is written once.
    """

    kind: Literal["choices"] = "choices"
    parts: list[str]
    part: int
    tracks: list[TrackModel]
    track: int
    grid: str
    triplets: bool
    metre: str
    pickup: str
    key: str
    repeats: bool
    guessed: list[str]


PreviewLine = Annotated[PreviewStart | PreviewTune | PreviewChoices, Field(discriminator="kind")]


class PreviewLines(Model):
    """A preview comes as one line of JSON after the other, so that progress can be shown."""

    lines: list[PreviewLine]


# -- one tune


class TuneDetail(Model):
    """A tune as it lies on the desk. `text` is what was typed last, `readable` false while there is no readable one."""

    id: int
    title: str
    text: str
    readable: bool
    draft: bool
    revision: int
    archived: bool
    tags: list[str]
    setups: list[SetupSummary]


class TextChange(Model):
    """The whole text, worked out from `revision`."""

    text: OneTune
    revision: int


class Saved(Model):
    """`draft` is true where the text cannot be read and is kept beside the last readable one."""

    title: str
    revision: int
    draft: bool


# -- the studio in one file


class HoldingsModel(Model):
    """What a data file holds; `changed_at` is when a tune of it was changed last."""

    tunes: int
    archived: int
    arrangements: int
    steps: int
    instruments: int
    tunings: int
    changed_at: str
    version: int


class CopyModel(Model):
    """A copy beside the data file."""

    name: str
    kilobytes: int


class StudioModel(Model):
    """The data file, what it holds, and the copies beside it."""

    file: str
    holdings: HoldingsModel
    copies: list[CopyModel]


class BroughtBackStudio(Model):
    """What is there now, and the name of the copy that holds what was there."""

    holdings: HoldingsModel
    aside: str
