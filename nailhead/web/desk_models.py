"""What crosses the border for the desk: readings of a text, changes of it, entries into it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nailhead.web.models import Model
from nailhead.web.shelf_models import OneTune, Short

Place = Annotated[int, Field(ge=0, le=100_000)]


class DeskText(Model):
    abc: OneTune


class Trouble(Model):
    """Something to mark in the text: from `start` to `end`."""

    level: Literal["error", "warning", "note"]
    message: str
    remedy: str
    start: int
    end: int
    bar: int | None


class EndingModel(Model):
    times: list[int]
    start: int
    stop: int


class PartModel(Model):
    """A part: written bars `start` to, not with, `stop`, by place."""

    letter: str
    start: int
    stop: int
    first_bar: int
    last_bar: int
    times: int
    upbeat: str
    endings: list[EndingModel]


class PhraseLine(Model):
    letter: str
    start: int
    stop: int


class BarRowModel(Model):
    """One written bar: lengths in whole notes as "3/4", chords as letters and as numbers, `events` as text offsets."""

    place: int
    number: int
    letter: str
    new: bool
    first: int
    length: str
    needed: str
    missing: str
    letters: str
    numbers: str
    under: str
    part: str
    opens_repeat: bool
    closes_repeat: int
    endings: list[int]
    events: list[tuple[int, int]]


class KeyGuessModel(Model):
    """A key by its likeliness; `abc` is what K: would say."""

    name: str
    abc: str
    score: float


class CoreNoteModel(Model):
    """A note of the tune and how far it belongs to the core: bar by place, onset in it as "1/8", its place in the text.

    `layer` is the lowest it is of, `why` the engine's or the teacher's reason, `decided` whether it is hers.
    """

    place: int
    number: int
    onset: str
    pitch: str
    layer: Literal["bones", "beat", "pairs", "full"]
    why: str
    decided: bool
    start: int
    end: int


class DeskReading(Model):
    """Everything the desk says of a text. Where it cannot be read, only `troubles` and `staff` say something.

    `order` is the order as written, `order_twice` the one that plays the whole tune twice.
    """

    readable: bool
    title: str
    troubles: list[Trouble]
    staff: str
    key: str
    metre: str
    lowest: str
    highest: str
    form: str
    order: str
    order_twice: str
    order_as_played: list[int]
    sentences: list[str]
    parts: list[PartModel]
    phrases: list[PhraseLine]
    bars: list[BarRowModel]
    core: list[CoreNoteModel]
    key_guesses: list[KeyGuessModel]
    key_warning: str
    verses: list[str]
    music_lines: int
    seconds: float


class ProposalModel(Model):
    """Chords for every bar, as letters and numbers, with what they cost by name."""

    name: str
    description: str
    cost: int
    costs: dict[str, int]
    letters: list[str]
    numbers: list[str]


class SoundModel(Model):
    """A note to be heard: seconds from the start, length, pitch in Hz, and its place in the text."""

    at: float
    length: float
    hertz: float
    start: int
    end: int


class Transpose(Model):
    kind: Literal["transpose"] = "transpose"
    semitones: Annotated[int, Field(ge=-24, le=24)]


class ToKey(Model):
    """To another tonic, the nearer way or as asked; the mode stays."""

    kind: Literal["to_key"] = "to_key"
    tonic: Short
    upwards: bool | None = None


class RenameKey(Model):
    """The same notes under another key."""

    kind: Literal["rename_key"] = "rename_key"
    key: Short


class Respell(Model):
    kind: Literal["metre"] = "metre"
    metre: Short


class Chart(Model):
    """Chords of every written bar: letters or numbers, "" for none."""

    kind: Literal["chart"] = "chart"
    texts: list[Short]


class Order(Model):
    kind: Literal["order"] = "order"
    order: Short


class PartLabel(Model):
    kind: Literal["part"] = "part"
    place: Place
    label: Short


class Repeat(Model):
    kind: Literal["repeat"] = "repeat"
    first: Place
    last: Place
    times: int


class Endings(Model):
    kind: Literal["endings"] = "endings"
    place: Place
    times: list[Annotated[int, Field(ge=1, le=99)]]


class Words(Model):
    """A text for each verse, a line of it for each line of music."""

    kind: Literal["words"] = "words"
    verses: Annotated[list[OneTune], Field(max_length=20)]


class CoreWord(Model):
    """A note into the core (True), out of it (False), or as the engine has it (None): its bar by place, its onset."""

    kind: Literal["core"] = "core"
    place: Place
    onset: Short
    taken: bool | None


Change = Annotated[
    Transpose | ToKey | RenameKey | Respell | Chart | Order | PartLabel | Repeat | Endings | Words | CoreWord,
    Field(discriminator="kind"),
]


class DeskChange(Model):
    abc: OneTune
    change: Change


class Changed(Model):
    """The text written anew, and what of the old one it does not hold."""

    abc: str
    said: list[str]


class EnterNote(Model):
    """A letter, a fret, or (with neither) a rest; `length` as a fraction of a whole note."""

    kind: Literal["note"] = "note"
    length: Short
    step: Annotated[str, Field(pattern="^[A-G]?$")] = ""
    alter: Annotated[int, Field(ge=-1, le=1)] | None = None
    commas: Annotated[int, Field(ge=-8, le=8)] = 0
    octave: Annotated[int, Field(ge=-3, le=3)] = 0
    triplet: bool = False
    instrument: Short = ""
    tuning: Short = ""
    capo: Annotated[int, Field(ge=0, le=24)] = 0
    string: Annotated[int, Field(ge=0, le=12)] = 0
    fret: Annotated[int, Field(ge=0, le=40)] = 0


class EnterTie(Model):
    kind: Literal["tie"] = "tie"


class EnterBar(Model):
    kind: Literal["bar"] = "bar"


class EnterOctave(Model):
    kind: Literal["octave"] = "octave"
    by: Annotated[int, Field(ge=-1, le=1)]


class DeskEntry(Model):
    """Something entered at an offset of the text."""

    abc: OneTune
    at: Annotated[int, Field(ge=0)]
    entry: Annotated[EnterNote | EnterTie | EnterBar | EnterOctave, Field(discriminator="kind")]


class EnteredModel(Model):
    abc: str
    at: int


class BoardString(Model):
    """A string as a neck shows it: its number, the fret where it begins, and a name for each fret from there."""

    number: int
    first_fret: int
    names: list[str]


class BoardModel(Model):
    """A neck to enter notes on."""

    instrument: str
    tuning: str
    capo: int
    strings: list[BoardString]
