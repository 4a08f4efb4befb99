"""Changes of an arrangement as the front end asks for them, and what it gets back."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Base64Bytes, Field

from nailhead.web.models import Model, PathModel, PhraseModel

Places = Annotated[list[int], Field(min_length=1, max_length=4096)]
#: A text that the server itself has offered.
Offered = Annotated[str, Field(max_length=300)]


class SetRungs(Model):
    do: Literal["rungs"]
    places: Places
    rung: int
    second: bool = False


class RaiseRungs(Model):
    do: Literal["raise"]
    places: Places
    by: Annotated[int, Field(ge=-6, le=6)]
    second: bool = False


class RaisePart(Model):
    """Every part of the same letter as the one the bar is in."""

    do: Literal["raise part"]
    place: int
    by: Annotated[int, Field(ge=-6, le=6)]


class Level(Model):
    do: Literal["level"]
    rung: Annotated[int, Field(ge=1, le=7)]


class AtMost(Model):
    """The richest path on which no bar and no join is above a grade."""

    do: Literal["at most"]
    grade: Annotated[int, Field(ge=1, le=8)]


class OneBar(Model):
    do: Literal["split", "join"]
    place: int


class Lock(Model):
    do: Literal["lock", "unlock"]
    places: Places


class OneCell(Model):
    """A bar on a rung."""

    place: int
    rung: int


class Release(OneCell):
    """The cell as the ladder computes it."""

    do: Literal["release"]


class KeepHandedOut(Model):
    """Bars stay as they were handed out, whatever is computed."""

    do: Literal["keep handed out"]
    places: Places


class TakeNew(Model):
    """Bars that are as they were handed out become what is computed now."""

    do: Literal["take new"]
    places: Places


class TakeAlternative(OneCell):
    do: Literal["alternative"]
    difference: Offered


class MoveNote(OneCell):
    """A melody note to another place of its pitch; what follows is fingered anew."""

    do: Literal["unison"]
    onset: str
    string: int
    fret: int


class TakePattern(OneCell):
    do: Literal["pattern"]
    pattern: Offered


class TakeShape(OneCell):
    do: Literal["shape"]
    onset: str
    frets: Offered


class NoteEdit(Model):
    """One edit of one note, named by its onset and string."""

    do: Literal["fret", "string", "delete", "add", "finger", "touch", "technique"]
    onset: str
    string: int
    fret: Annotated[int, Field(ge=0, le=60)] = 0
    to_string: int = 0
    finger: int = 0
    touch: Annotated[str, Field(max_length=40)] = ""
    ornament: Literal["hammer-on", "pull-off", "slide", "bend"] | None = None
    start: Annotated[int, Field(ge=0, le=60)] = 0
    slow: bool = False


class EditNote(OneCell):
    do: Literal["edit"]
    edit: NoteEdit


class Choose(Model):
    """One way of a choice where players differ."""

    do: Literal["choose"]
    name: Offered
    way: Offered


class OwnPattern(Model):
    """A right-hand pattern of the teacher's own, in the signs of the way of playing."""

    do: Literal["own pattern"]
    name: Annotated[str, Field(min_length=1, max_length=40)]
    text: Annotated[str, Field(min_length=1, max_length=200)]


class DropPattern(Model):
    do: Literal["drop pattern"]
    name: Annotated[str, Field(min_length=1, max_length=40)]


class Retune(Model):
    """Another tuning, capo, fifth string or key for the same arrangement."""

    do: Literal["setup"]
    tuning: str | None = None
    capo: int | None = None
    fifth: str | None = None
    key: str | None = None


class SheetWish(Model):
    """What the sheet shows; what is left out stays as it is."""

    part: str | None = None
    paper: str | None = None
    size: str | None = None
    colours: str | None = None
    chords: str | None = None
    feel: str | None = None
    staff: str | None = None
    names: str | None = None
    letters: str | None = None
    diagrams: bool | None = None
    fingers: bool | None = None
    hands: bool | None = None
    upside_down: bool | None = None
    words: bool | None = None
    kick_off: bool | None = None
    second: bool | None = None
    ending: bool | None = None
    key: bool | None = None
    fillers: bool | None = None


class ChooseSheet(Model):
    do: Literal["sheet"]
    options: SheetWish


class ThrowAway(Model):
    """What was set aside because it no longer fits."""

    do: Literal["throw away"]
    number: int


AnyChange = Annotated[
    SetRungs
    | RaiseRungs
    | RaisePart
    | Level
    | AtMost
    | OneBar
    | Lock
    | Release
    | KeepHandedOut
    | TakeNew
    | TakeAlternative
    | MoveNote
    | TakePattern
    | TakeShape
    | EditNote
    | Choose
    | OwnPattern
    | DropPattern
    | Retune
    | ThrowAway
    | ChooseSheet,
    Field(discriminator="do"),
]


#: Chosen by the sender; a change that arrives twice under one id is made once.
ChangeId = Annotated[str, Field(pattern="^[A-Za-z0-9_-]{1,64}$")]


class ChangeWish(Model):
    """A change worked out from a revision of the arrangement."""

    change: AnyChange
    revision: int
    id: ChangeId | None = None


class StepWish(Model):
    revision: int
    id: ChangeId | None = None


class Undo(Model):
    do: Literal["undo"]


class Redo(Model):
    do: Literal["redo"]


AnyQueued = Annotated[AnyChange | Undo | Redo, Field(discriminator="do")]


class QueuedChange(Model):
    """A change, an undo or a redo that waits in the page's queue."""

    id: ChangeId
    change: AnyQueued


class QueueWish(Model):
    """Everything that waited when the page was left, in order; the first begins at `revision`."""

    changes: Annotated[list[QueuedChange], Field(min_length=1, max_length=500)]
    revision: int


class QueueAnswer(Model):
    """The ids of the changes that are kept, and the arrangement's revision."""

    kept: list[str]
    revision: int


class ChangeAnswer(Model):
    """The path as it now is and the phrases that look different; with `reload` the whole ladder does."""

    path: PathModel
    phrases: list[PhraseModel]
    reload: bool
    said: str
    remarks: list[str]


class NameWish(Model):
    name: Annotated[str, Field(min_length=1, max_length=80)]


class FileWish(Model):
    """The text of an arrangement's JSON file or score; `packed` the bytes of a compressed score, in base 64."""

    text: Annotated[str, Field(max_length=20_000_000)] = ""
    packed: Annotated[Base64Bytes, Field(max_length=12_000_000)] = b""


class BroughtBack(Model):
    """An arrangement brought in: its setup and tune, whether the tune was there, and what had to wait aside.

    `notices` say what was read otherwise than it was written.
    """

    setup: int
    tune: int
    title: str
    known: bool
    aside: list[str]
    notices: list[str]


class ArrangementRow(Model):
    """One arrangement of a tune and what it is called there."""

    id: int
    called: str
    label: str
    idiom: str
    grade: int
    trouble: str = ""
