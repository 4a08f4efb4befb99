"""The desk behind the handlers: reads a text, changes it, enters notes. Text in, text out; nothing is kept."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from fractions import Fraction

from nailhead.core.errors import SetupError, TuneError
from nailhead.core.figures import read_exact
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.setup import Place, Setup, plain_setup
from nailhead.core.music.decisions import decide
from nailhead.core.music.edit import (
    chart_texts,
    full_chart,
    move_to_key,
    rename_key,
    set_chart,
    set_endings,
    set_order,
    set_part,
    set_repeat,
)
from nailhead.core.music.form import Form, read_form
from nailhead.core.music.harmonise import propose_chords, with_chords
from nailhead.core.music.key import Key, parse_key, spell
from nailhead.core.music.keyfinding import key_warning, rank_keys
from nailhead.core.music.metre import parse_metre, parse_time
from nailhead.core.music.pitch import PitchClass, parse_pitch_class
from nailhead.core.music.respell import respell_metre
from nailhead.core.music.sound import sounds_of
from nailhead.core.music.transpose import transpose_tune
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import Entry, read_book, write_tune
from nailhead.formats.abc.entry import (
    EnteredText,
    NewNote,
    enter_bar_line,
    enter_note,
    move_octave,
    toggle_tie,
)
from nailhead.formats.abc.reader import NO_TUNE
from nailhead.formats.abc.source import Span, bar_span, comments_of, event_spans, line_starts, offset_of, staff_text
from nailhead.formats.abc.words import set_verses, word_lines
from nailhead.formats.abc.writer import key_text, music_lines
from nailhead.web import desk_models as models
from nailhead.web.desk_core import core_aside, core_notes, with_core
from nailhead.web.workshop import Workshop

#: Keys offered beside the written one.
GUESSES = 4
#: Bars that chords are proposed for; the search grows with them, and no dance has more.
MOST_HARMONISED = 500


def read_one(abc: str) -> Entry:
    """The first tune of a text; raises AbcError."""
    entries = read_book(abc)
    if not entries:
        raise NO_TUNE
    if entries[0].error:
        raise entries[0].error
    return entries[0]


def tune_of(abc: str) -> Tune:
    """The first tune of a text; raises AbcError."""
    tune = read_one(abc).tune
    assert tune is not None
    return tune


# -- reading


def read_desk(abc: str) -> models.DeskReading:
    """Everything the desk says of a text, its troubles marked by their place."""
    entries = read_book(abc)
    starts = line_starts(abc)
    entry = entries[0] if entries else None
    troubles = list(_troubles(abc, starts, entry))
    if len(entries) > 1:
        at = offset_of(starts, entries[1].line, 1)
        troubles.append(_trouble("warning", "Only the first tune of this text is kept on the desk.", at, at + 1))
    if entry is None or entry.tune is None:
        title = entry.title if entry else "Untitled"
        return _unread(title, troubles, abc)
    tune, spans = entry.tune, event_spans(abc, entry)
    form, guesses = read_form(tune), rank_keys(tune)
    low, high = tune.range
    lines = list(music_lines(tune.bars))
    sounds = sounds_of(tune)
    return models.DeskReading(
        readable=True,
        title=tune.title,
        troubles=[*troubles, *_wrong_bars(form, spans), *core_aside(tune, abc)],
        staff=staff_text(abc),
        key=tune.key.label,
        metre=str(tune.metre),
        lowest=str(low),
        highest=str(high),
        form=form.text,
        order=tune.order,
        order_twice=_twice(form),
        order_as_played=list(form.order),
        sentences=list(form.sentences),
        parts=_parts(tune, form),
        phrases=[models.PhraseLine(letter=row.letter, start=row.start, stop=row.stop) for row in form.phrases],
        bars=_bars(tune, form, spans),
        core=core_notes(tune, spans) if len(tune.bars) <= MOST_HARMONISED else [],
        key_guesses=[
            models.KeyGuessModel(name=str(guess.key), abc=key_text(guess.key), score=round(guess.score, 3))
            for guess in guesses[:GUESSES]
        ],
        key_warning=key_warning(tune),
        verses=_verses(lines),
        music_lines=len(lines),
        seconds=max((sound.at_s + sound.length_s for sound in sounds), default=0),
    )


def _unread(title: str, troubles: list[models.Trouble], abc: str) -> models.DeskReading:
    lists = dict.fromkeys(("order_as_played", "sentences", "parts", "phrases", "bars", "core"), ())
    texts = dict.fromkeys(("key", "metre", "lowest", "highest", "form", "order", "order_twice", "key_warning"), "")
    return models.DeskReading(
        readable=False,
        title=title,
        troubles=troubles,
        staff=staff_text(abc),
        key_guesses=[],
        verses=[],
        music_lines=0,
        seconds=0,
        **lists,  # type: ignore[arg-type]
        **texts,  # type: ignore[arg-type]
    )


def _trouble(
    level: str, message: str, start: int, end: int, remedy: str = "", bar: int | None = None
) -> models.Trouble:
    return models.Trouble(level=level, message=message, remedy=remedy, start=start, end=end, bar=bar)  # type: ignore[arg-type]


def _troubles(abc: str, starts: list[int], entry: Entry | None) -> Iterator[models.Trouble]:
    """The error that refuses a text, and what the reader left out of it."""
    error = entry.error if entry else NO_TUNE
    if error:
        start = min(offset_of(starts, error.line, error.column), len(abc))
        end = abc.find("\n", start)
        yield _trouble("error", error.message, start, max(start, len(abc) if end < 0 else end), error.remedy)
    for notice in entry.notices if entry else ():
        start = min(offset_of(starts, notice.line, notice.column), len(abc))
        yield _trouble("note", notice.message, start, min(start + 1, len(abc)))


def _wrong_bars(form: Form, spans: tuple[tuple[Span, ...], ...]) -> Iterator[models.Trouble]:
    for row, places in zip(form.bars, spans, strict=True):
        if row.missing:
            short = row.missing > 0
            said = f"Bar {row.number}: {abs(row.missing)} of a whole note {'missing' if short else 'too much'}."
            remedy = "Lengthen a note or add a rest." if short else "Shorten a note or move the bar line."
            yield _trouble("warning", said, *bar_span(places), remedy, row.number)


def _twice(form: Form) -> str:
    gap = " " if any(len(part.letter.rstrip("′")) > 1 for part in form.parts) else ""
    once = gap.join(part.letter + (str(part.times) if part.times > 1 else "") for part in form.parts)
    return f"({once})2"


def _parts(tune: Tune, form: Form) -> list[models.PartModel]:
    return [
        models.PartModel(
            letter=part.letter,
            start=part.start,
            stop=part.stop,
            first_bar=tune.bars[part.start].number,
            last_bar=tune.bars[part.stop - 1].number,
            times=part.times,
            upbeat=str(part.upbeat) if part.upbeat else "",
            endings=[models.EndingModel(times=list(e.times), start=e.start, stop=e.stop) for e in part.endings],
        )
        for part in form.parts
    ]


def _bars(tune: Tune, form: Form, spans: tuple[tuple[Span, ...], ...]) -> list[models.BarRowModel]:
    letters, numbers = chart_texts(tune, numbers=False), chart_texts(tune, numbers=True)
    under = full_chart(tune)
    return [
        models.BarRowModel(
            place=place,
            number=row.number,
            letter=row.letter,
            new=row.new,
            first=row.first,
            length=str(row.length),
            needed=str(row.needed),
            missing=str(row.missing) if row.missing else "",
            letters=letters[place],
            numbers=numbers[place],
            under=under[place],
            part=bar.part,
            opens_repeat=bar.opens_repeat,
            closes_repeat=bar.closes_repeat,
            endings=list(bar.endings),
            events=list(spans[place]),
        )
        for place, (row, bar) in enumerate(zip(form.bars, tune.bars, strict=True))
    ]


def _verses(lines: list[list]) -> list[str]:  # type: ignore[type-arg]
    rows = [word_lines(line) for line in lines]
    count = max((len(row) for row in rows), default=0)
    return ["\n".join(row[verse] if verse < len(row) else "" for row in rows).rstrip() for verse in range(count)]


# -- proposals and sounds


def propose(abc: str) -> list[models.ProposalModel]:
    """Ranked chords for a tune, as if it had none."""
    tune = tune_of(abc)
    if len(tune.bars) > MOST_HARMONISED:
        raise TuneError(
            f"The tune has {len(tune.bars)} bars, too many for a proposal.", field="abc", remedy="Split it into tunes."
        )
    bare = with_chords(tune, [()] * len(tune.bars))
    found = []
    for proposal in propose_chords(bare):
        chorded = with_chords(tune, proposal.chords)
        found.append(
            models.ProposalModel(
                name=proposal.name,
                description=proposal.description,
                cost=proposal.cost,
                costs={name: amount for name, amount in proposal.costs if amount},
                letters=list(chart_texts(chorded, numbers=False)),
                numbers=list(chart_texts(chorded, numbers=True)),
            )
        )
    return found


def sounds(abc: str) -> list[models.SoundModel]:
    """The melody in time, each note with its place in the text."""
    entry = read_one(abc)
    assert entry.tune is not None
    spans = event_spans(abc, entry)
    return [
        models.SoundModel(
            at=sound.at_s,
            length=sound.length_s,
            hertz=sound.hertz,
            start=spans[sound.bar][sound.event][0],
            end=spans[sound.bar][sound.event][1],
        )
        for sound in sounds_of(entry.tune)
    ]


# -- changes


def _to_key(tune: Tune, change: models.ToKey) -> Tune:
    return move_to_key(tune, parse_pitch_class(change.tonic), upwards=change.upwards)


def _words(tune: Tune, change: models.Words) -> Tune:
    return set_verses(tune, list(music_lines(tune.bars)), change.verses)


#: Kind of change -> what it makes of a tune.
CHANGES: dict[str, Callable[..., Tune]] = {
    "transpose": lambda tune, change: transpose_tune(tune, change.semitones),
    "to_key": _to_key,
    "rename_key": lambda tune, change: rename_key(tune, parse_key(change.key)),
    "metre": lambda tune, change: respell_metre(tune, parse_metre(change.metre)),
    "chart": lambda tune, change: set_chart(tune, change.texts),
    "order": lambda tune, change: set_order(tune, change.order),
    "part": lambda tune, change: set_part(tune, change.place, change.label),
    "repeat": lambda tune, change: set_repeat(tune, change.first, change.last, change.times),
    "endings": lambda tune, change: set_endings(tune, change.place, change.times),
    "words": _words,
    "core": lambda tune, change: decide(tune, (change.place, parse_time(change.onset, "onset")), change.taken),
}


def change_text(abc: str, change: models.Change) -> models.Changed:
    """The text written anew with a change in it; what of the old text is not kept is said."""
    entry = read_one(abc)
    assert entry.tune is not None
    changed = CHANGES[change.kind](entry.tune, change)
    if change.kind == "core":
        return models.Changed(abc=with_core(abc, changed), said=[])
    said = [notice.message for notice in entry.notices]
    if comments := comments_of(abc):
        said.append(f"{comments} {'comment is' if comments == 1 else 'comments are'} not kept.")
    return models.Changed(abc=write_tune(changed), said=said)


# -- entering


def _enter_note(abc: str, at: int, entry: models.EnterNote, shop: Workshop) -> EnteredText:
    length = read_exact(entry.length, Fraction(1, 1024), 64, "length")
    cents = None
    if entry.string:
        cents = _fretted(_board(shop.find(entry.instrument), entry.tuning, entry.capo), Place(entry.string, entry.fret))
    return enter_note(
        abc, at, NewNote(length, entry.step, entry.alter, entry.commas, entry.octave, cents, entry.triplet)
    )


def _fretted(setup: Setup, place: Place) -> Fraction:
    """What a place sounds; raises SetupError where there is no such place."""
    strings = {string.number: string for string in setup.strings}
    string = strings.get(place.string)
    if string is None or not (place.fret == 0 or string.first_fret < place.fret <= string.last_fret):
        raise SetupError(
            f"There is no fret {place.fret} on string {place.string}.",
            field="fret",
            remedy="Choose a place on the neck.",
        )
    return setup.sounding_cents(place)


#: Kind of entry -> what it makes of a text and a place.
ENTRIES: dict[str, Callable[..., EnteredText]] = {
    "note": _enter_note,
    "tie": lambda abc, at, entry, shop: toggle_tie(abc, at),
    "bar": lambda abc, at, entry, shop: enter_bar_line(abc, at),
    "octave": lambda abc, at, entry, shop: move_octave(abc, at, entry.by),
}


def enter(request: models.DeskEntry, shop: Workshop) -> models.EnteredModel:
    """The text with something entered, and where the cursor goes."""
    entered = ENTRIES[request.entry.kind](request.abc, request.at, request.entry, shop)
    return models.EnteredModel(abc=entered.text, at=entered.at)


def _board(row: Instrument, tuning: str, capo: int) -> Setup:
    return plain_setup(row, row.tuning(tuning) if tuning else row.tunings[0], capo)


def board(instrument: Instrument, tuning: str, capo: int) -> models.BoardModel:
    """A neck to enter notes on: every place with the name it has in C."""
    setup = _board(instrument, tuning, capo)
    key = Key(PitchClass("C"))
    return models.BoardModel(
        instrument=setup.instrument.name,
        tuning=f"{setup.tuning.name} ({setup.tuning.id})",
        capo=capo,
        strings=[
            models.BoardString(
                number=string.number,
                first_fret=string.first_fret,
                names=[
                    str(spell(setup.sounding_cents(Place(string.number, fret)), key))
                    for fret in range(string.first_fret, string.last_fret + 1)
                ],
            )
            for string in setup.strings
        ],
    )
