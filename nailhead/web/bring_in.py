"""Bringing tunes in: what kind of file it is, and every tune in it as a line of a preview. Nothing is kept here."""

from __future__ import annotations

from collections.abc import Iterator, Set
from dataclasses import dataclass
from fractions import Fraction

from nailhead.core.errors import NailheadError
from nailhead.core.music.key import Key, parse_key, spell
from nailhead.core.music.metre import parse_metre
from nailhead.core.music.pitch import PitchClass
from nailhead.core.music.quantise import TimeGrid
from nailhead.core.music.repeats import fold_repeats
from nailhead.formats.abc import Entry, write_tune
from nailhead.formats.abc.reader import NO_TUNE, read_entry, split_book
from nailhead.formats.abc.source import staff_text
from nailhead.formats.abc.writer import key_text
from nailhead.formats.midi import MidiChoices, MidiTrack, open_midi, read_midi
from nailhead.formats.musicxml.reader import read_musicxml
from nailhead.formats.musicxml.tab_reader import has_tablature
from nailhead.store.shelf import Facts
from nailhead.web import shelf_models as models
from nailhead.web.shelf import facts_of_entry

#: Bytes of an upload of any kind; an ABC book of a thousand tunes has about 700 kB.
MOST_BYTES = 8_000_000
MOST_TUNES = 5_000

#: The texts that are on the shelf already.
OnShelf = Set[str]


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


def preview(raw: bytes, name: str, choices: Choices, on_shelf: OnShelf) -> Iterator[models.PreviewLine]:
    """The lines of a preview, each as soon as it is known; raises NailheadError for a file that is refused whole."""
    if not raw.strip():
        raise NailheadError("The file is empty.", field="file", remedy="Choose another one.")
    if raw[:4] == b"MThd":
        return _preview_midi(raw, _stem(name), choices, on_shelf)
    if raw[:2] == b"PK" or raw.lstrip(b"\xef\xbb\xbf \r\n\t")[:1] == b"<":
        return _preview_musicxml(raw, choices, on_shelf)
    return _preview_abc(decode(raw), on_shelf)


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


# -- ABC


def _preview_abc(text: str, on_shelf: OnShelf) -> Iterator[models.PreviewLine]:
    book = split_book(text)
    if not book:
        raise NO_TUNE
    if len(book) > MOST_TUNES:
        raise NailheadError(
            f"The file holds {len(book)} tunes.", field="file", remedy=f"Split it: at most {MOST_TUNES} at a time."
        )
    return _abc_lines(book, on_shelf)


def _abc_lines(book: list[tuple[int, list[str]]], on_shelf: OnShelf) -> Iterator[models.PreviewLine]:
    yield models.PreviewStart(format="abc", total=len(book))
    for place, (line, lines) in enumerate(book):
        entry = read_entry(line, lines)
        left_out = [str(notice) for notice in entry.notices]
        yield preview_tune(place, entry, left_out, on_shelf)


def preview_tune(place: int, entry: Entry, left_out: list[str], on_shelf: OnShelf) -> models.PreviewTune:
    """One tune of a file as a line of the preview."""
    facts = facts_of_entry(entry)
    return models.PreviewTune(
        place=place,
        number=entry.number,
        title=entry.title,
        line=entry.line,
        abc=entry.text,
        staff=staff_text(entry.text),
        facts=facts_model(facts) if facts else None,
        left_out=left_out,
        on_shelf=entry.tune is not None and entry.text in on_shelf,
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


def _single(title: str, abc: str, tune, left_out: tuple[str, ...], on_shelf: OnShelf) -> models.PreviewTune:  # type: ignore[no-untyped-def]
    entry = Entry(tune.number, title, 1, abc, tune)
    return preview_tune(0, entry, list(left_out), on_shelf)


def _preview_musicxml(raw: bytes, choices: Choices, on_shelf: OnShelf) -> Iterator[models.PreviewLine]:
    reading = read_musicxml(raw, choices.part)
    tune = reading.tune
    part = choices.part if choices.part is not None else reading.part
    return iter(
        (
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
            _single(tune.title, write_tune(tune), tune, reading.notices, on_shelf),
        )
    )


def _preview_midi(raw: bytes, name: str, choices: Choices, on_shelf: OnShelf) -> Iterator[models.PreviewLine]:
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
    return iter(
        (
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
            _single(tune.title, write_tune(tune), tune, reading.notices, on_shelf),
        )
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
    try:
        value = Fraction(text)
    except (ValueError, ZeroDivisionError) as error:
        raise NailheadError(f"“{text}” is not a length.", field=field, remedy="Write 1/8 or 0.") from error
    if not 0 <= value <= 4 or (field == "grid" and not Fraction(1, 64) <= value <= Fraction(1, 2)):
        raise NailheadError(f"“{text}” is out of range.", field=field, remedy="Write 1/8 or 1/16.")
    return value
