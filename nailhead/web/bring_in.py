"""Bringing tunes in: what kind of file it is, and every tune in it as a line of a preview. Nothing is kept here.

Every function takes and gives plain values, so that a worker can do it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from nailhead.core.errors import NailheadError
from nailhead.core.figures import read_exact
from nailhead.core.music.key import Key, parse_key, spell
from nailhead.core.music.metre import parse_metre
from nailhead.core.music.pitch import PitchClass
from nailhead.core.music.quantise import TimeGrid
from nailhead.core.music.repeats import fold_repeats
from nailhead.core.music.tune import Tune
from nailhead.core.sniffing import Content, NotATuneError, content_of
from nailhead.formats.abc import Entry, write_tune
from nailhead.formats.abc.reader import NO_TUNE, read_entry, split_book
from nailhead.formats.abc.source import staff_text
from nailhead.formats.abc.writer import key_text
from nailhead.formats.midi import MidiChoices, MidiTrack, open_midi, read_midi
from nailhead.formats.musicxml.reader import UNTITLED, read_musicxml
from nailhead.formats.musicxml.tab_reader import has_tablature
from nailhead.store.shelf import Facts
from nailhead.web import shelf_models as models
from nailhead.web.shelf import facts_of

#: Bytes of an upload of any kind; an ABC book of a thousand tunes has about 700 kB.
MOST_BYTES = 8_000_000
MOST_TUNES = 5_000

#: One tune of a book: the number of its first line, its lines.
Piece = tuple[int, list[str]]


@dataclass(frozen=True, slots=True)
class Choices:
    """What the teacher decided of a file, as texts; None leaves it to the file or to a guess."""

    part: int | None = None
    track: int | None = None
    grid: str | None = None
    triplets: bool = True
    metre: str | None = None
    pickup: str | None = None
    key: str | None = None
    repeats: bool = True


@dataclass(frozen=True, slots=True)
class Opened:
    """The first lines of a preview, and the tunes of a book that are still to be read."""

    lines: tuple[models.PreviewLine, ...]
    book: tuple[Piece, ...] = ()


def open_file(raw: bytes, name: str, choices: Choices) -> Opened:
    """What a file is, and its tune where it holds one; raises NailheadError for a file that is refused whole."""
    if not raw.strip():
        raise NailheadError("The file is empty.", field="file", remedy="Choose another one.")
    content = content_of(raw)
    if content is Content.MIDI:
        return Opened(_open_midi(raw, _stem(name), choices))
    if content in (Content.XML, Content.ZIP):
        return Opened(_open_musicxml(raw, _stem(name), choices))
    if content is Content.SQLITE:
        raise NotATuneError(
            "The file seems to be a backup of Nailhead, or another program's data.",
            field="file",
            remedy="Restore a backup under Backups.",
        )
    book = open_book(decode(raw))
    return Opened((models.PreviewStart(format="abc", total=len(book)),), book)


def open_book(text: str) -> tuple[Piece, ...]:
    """The tunes of an ABC text, not read yet; raises NailheadError where there are none or too many."""
    book = split_book(text)
    if not book:
        raise NO_TUNE
    if len(book) > MOST_TUNES:
        raise NailheadError(
            f"The file holds {len(book)} tunes.", field="file", remedy=f"Split it: at most {MOST_TUNES} at a time."
        )
    return tuple(book)


@dataclass(frozen=True, slots=True)
class ReadPiece:
    """A tune that has been read: its line of the preview, and what the shelf will say of it."""

    line: models.PreviewTune
    facts: Facts | None


def read_pieces(first: int, pieces: Sequence[Piece]) -> list[ReadPiece]:
    """Some tunes of a book; `first` is the place of the first of them."""
    found = []
    for place, (line, lines) in enumerate(pieces, first):
        entry = read_entry(line, lines)
        facts = facts_of(entry.tune) if entry.tune else None
        found.append(ReadPiece(_line(place, entry, facts, [str(notice) for notice in entry.notices]), facts))
    return found


def _stem(name: str) -> str:
    return name.rsplit("/", 1)[-1].rsplit(".", 1)[0].replace("_", " ").strip()[:80]


def decode(raw: bytes) -> str:
    """UTF-8 (or UTF-16 with its mark), or Latin-1 for older files; line ends made one."""
    if raw[:2] in (b"\xff\xfe", b"\xfe\xff"):
        text = raw.decode("utf-16", errors="replace")
    else:
        try:
            text = raw.decode("utf-8-sig")
        except UnicodeDecodeError:
            text = raw.decode("latin-1")
    return text.replace("\r\n", "\n").replace("\r", "\n").replace("\0", "")


def _line(place: int, entry: Entry, facts: Facts | None, left_out: list[str]) -> models.PreviewTune:
    """One tune of a file as a line of the preview; whether the shelf has its text is not known here."""
    return models.PreviewTune(
        place=place,
        number=entry.number,
        title=entry.title,
        line=entry.line,
        abc=entry.text,
        staff=staff_text(entry.text),
        facts=facts_model(facts) if facts else None,
        left_out=left_out,
        on_shelf=False,
        refused=refused(entry) if entry.error else None,
    )


def refused(entry: Entry) -> models.RefusedTune:
    """Why a tune could not be read, and where."""
    assert entry.error is not None
    return models.RefusedTune(
        number=entry.number,
        title=entry.title,
        line=entry.error.line,
        column=entry.error.column,
        message=entry.error.message,
        remedy=entry.error.remedy,
    )


def facts_model(facts: Facts) -> models.FactsModel:
    return models.FactsModel(**{name: getattr(facts, name) for name in models.FactsModel.model_fields})


# -- scores and MIDI: one tune, turned into ABC


def _single(title: str, abc: str, tune: Tune, left_out: Sequence[str]) -> models.PreviewTune:
    return _line(0, Entry(tune.number, title, 1, abc, tune), facts_of(tune), list(left_out))


def _open_musicxml(raw: bytes, name: str, choices: Choices) -> tuple[models.PreviewLine, ...]:
    reading = read_musicxml(raw, choices.part)
    tune = reading.tune
    if tune.title == UNTITLED and name:
        tune = replace(tune, title=name)
    part = choices.part if choices.part is not None else reading.part
    return (
        models.PreviewStart(format="musicxml", total=1, tablature=has_tablature(raw)),
        models.PreviewChoices(
            parts=list(reading.parts),
            part=part,
            tracks=[],
            track=0,
            grid="",
            triplets=True,
            metre="",
            pickup="",
            key="",
            repeats=False,
            guessed=[],
        ),
        _single(tune.title, write_tune(tune), tune, reading.notices),
    )


def _open_midi(raw: bytes, name: str, choices: Choices) -> tuple[models.PreviewLine, ...]:
    file = open_midi(raw)
    wanted = MidiChoices(
        choices.track,
        TimeGrid(_fraction(choices.grid, "grid"), choices.triplets) if choices.grid else None,
        parse_metre(choices.metre) if choices.metre else None,
        _fraction(choices.pickup, "pickup") if choices.pickup else None,
        parse_key(choices.key) if choices.key else None,
    )
    reading = read_midi(file, wanted, file.title or name)
    taken, tune = reading.choices, fold_repeats(reading.tune) if choices.repeats else reading.tune
    assert taken.track is not None and taken.grid and taken.metre and taken.key and taken.pickup is not None
    return (
        models.PreviewStart(format="midi", total=1),
        models.PreviewChoices(
            parts=[],
            part=0,
            tracks=[_track(track) for track in file.tracks],
            track=taken.track,
            grid=str(taken.grid.step),
            triplets=taken.grid.triplets,
            metre=str(taken.metre),
            pickup=str(taken.pickup),
            key=key_text(taken.key),
            repeats=choices.repeats,
            guessed=list(reading.guessed),
        ),
        _single(tune.title, write_tune(tune), tune, reading.notices),
    )


def _track(track: MidiTrack) -> models.TrackModel:
    keys = [note.midi for note in track.notes]
    low, high = (str(spell(Fraction(100 * midi), Key(PitchClass("C")))) for midi in (min(keys), max(keys)))
    return models.TrackModel(
        index=track.index,
        name=track.name,
        notes=len(track.notes),
        lowest=low,
        highest=high,
        drums=track.drums,
        together=track.together,
    )


def _fraction(text: str, field: str) -> Fraction:
    low, high = (Fraction(1, 64), Fraction(1, 2)) if field == "grid" else (Fraction(0), Fraction(4))
    return read_exact(text, low, high, field)
