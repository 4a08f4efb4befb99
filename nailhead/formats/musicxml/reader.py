"""Reads the melody of a MusicXML score: one part, one voice, with chords, words, repeats, endings and signs.

What a score holds beside that is told in notices, not dropped in silence.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from fractions import Fraction
from xml.etree.ElementTree import Element

from nailhead.core.errors import NailheadError
from nailhead.core.figures import is_digits
from nailhead.core.music.key import Key
from nailhead.core.music.metre import COMMON_TIME, Metre, Time
from nailhead.core.music.pitch import PitchClass
from nailhead.core.music.tune import Bar, Tempo, Tune, number_bars
from nailhead.formats.abc.header import FIELD_LINE, Header, read_field, read_key
from nailhead.formats.musicxml.archive import open_document
from nailhead.formats.musicxml.errors import MusicXmlError
from nailhead.formats.musicxml.measure import MeasureReader
from nailhead.formats.musicxml.measured import Measure, State
from nailhead.formats.musicxml.melody import HEADER_FIELD, KEY_FIELD

_MOST_MEASURES = 2_000
_C = PitchClass("C")


@dataclass(frozen=True, slots=True)
class MusicXmlReading:
    """A tune and what was left out of it; `parts` are the names of the score's parts, `part` the one that was read."""

    tune: Tune
    notices: tuple[str, ...]
    parts: tuple[str, ...]
    part: int = 0


@dataclass(slots=True)
class Score:
    """A document and what our own writer kept in it beside the notes."""

    root: Element
    ours: bool
    header: Header | None
    keys: dict[int, Key] = field(default_factory=dict)


#: The title of a score that has none.
UNTITLED = "Untitled"


def read_musicxml(raw: bytes, part: int | None = None) -> MusicXmlReading:
    """The melody of a score, of the part with that index or of the first one with notes; raises MusicXmlError."""
    root = open_document(raw)
    score, names, parts = score_of(root), part_names(root), root.findall("part")
    chosen = _choose(parts, part)
    state = State(ours=score.ours, voice=_main_voice(parts[chosen]), keys=score.keys)
    if len(parts) > 1:
        state.say(f"Only part {chosen + 1} of {len(parts)} is read{_named(names, chosen)}.")
    tune = read_part(score, parts[chosen], state)
    return MusicXmlReading(tune, tuple(state.notices), names, chosen)


def score_of(root: Element) -> Score:
    """A document with what our own writer put aside in it; raises MusicXmlError for one of another kind."""
    if root.tag == "score-timewise":
        raise MusicXmlError("The score is written time by time, which this does not read.",
                            remedy="Export it part by part (score-partwise).")  # fmt: skip
    if root.tag != "score-partwise":
        raise MusicXmlError(f"This is no MusicXML: its root is “{root.tag[:40]}”.", remedy="Choose a .musicxml file.")
    score = Score(root, _written_here(root), None)
    _read_kept(score)
    return score


def part_names(root: Element) -> tuple[str, ...]:
    return tuple((element.findtext("part-name") or "").strip() for element in root.findall("part-list/score-part"))


def _named(names: tuple[str, ...], index: int) -> str:
    return f" ({names[index]})" if index < len(names) and names[index] else ""


def _written_here(root: Element) -> bool:
    return any((element.text or "").startswith("Nailhead ") for element in root.iterfind(".//encoding/software"))


def _read_kept(score: Score) -> None:
    """The ABC header and the keys that our own writer put aside."""
    if not score.ours:
        return
    for element in score.root.iterfind("identification/miscellaneous/miscellaneous-field"):
        name, text = element.get("name", ""), element.text or ""
        try:
            if name == HEADER_FIELD:
                score.header = Header()
                for line in text.replace("\\%", "%").splitlines():
                    if match := FIELD_LINE.fullmatch(line):
                        read_field(score.header, match[1], match[2], 1, [])
            elif name.startswith(KEY_FIELD) and is_digits(name.removeprefix(KEY_FIELD)):
                score.keys[int(name.removeprefix(KEY_FIELD))] = read_key(text, 1)
        except NailheadError:
            continue  # somebody changed the field; the score itself still counts


def _choose(parts: list[Element], wanted: int | None) -> int:
    if wanted is not None and not 0 <= wanted < len(parts):
        raise MusicXmlError(f"There is no part {wanted + 1}.", remedy=f"The score has {len(parts)} parts.")
    for index, part in enumerate(parts):
        if (wanted is None and part.find("measure/note/pitch") is not None) or index == wanted:
            return index
    raise MusicXmlError("The score has no notes.", remedy="Choose a score with a melody.")


def _main_voice(part: Element) -> str:
    """The voice of the first staff with the most notes; the lowest number among equals."""
    counted: Counter[str] = Counter()
    for note in part.iterfind("measure/note"):
        if note.find("pitch") is not None and note.findtext("staff", "1").strip() == "1":
            counted[note.findtext("voice", "1").strip()] += 1
    return min(counted, key=lambda voice: (-counted[voice], voice)) if counted else "1"


def read_part(
    score: Score, part: Element, state: State, reader_of: Callable[[State, Element, int], MeasureReader] = MeasureReader
) -> Tune:
    """The tune of a part, its measures read by what `reader_of` makes; those without a note or rest are passed over."""
    measures = part.findall("measure")
    if len(measures) > _MOST_MEASURES:
        raise MusicXmlError(f"The score has more than {_MOST_MEASURES} measures.", remedy="Split it.")
    bars: list[Bar] = []
    for index, element in enumerate(measures):
        reader = reader_of(state, element, index)
        try:
            read = reader.read()
        except MusicXmlError:
            raise
        except (NailheadError, ValueError, ZeroDivisionError, OverflowError) as error:
            said = error.message if isinstance(error, NailheadError) else "A number in it makes no sense."
            raise MusicXmlError(
                f"Measure {element.get('number', index + 1)}: {said}", bar=index, remedy="Mend it in its editor."
            ) from error
        if read.starts_line and bars:
            bars[-1] = replace(bars[-1], new_line=True)
        if read.events:
            bars.append(_bar(read, state))
    if not any(event.pitch for bar in bars for event in bar.events):
        raise MusicXmlError("The score has no notes.", remedy="Choose a score with a melody.")
    return _tune(score, bars, state)


def _bar(read: Measure, state: State) -> Bar:
    metre, key = read.metre or COMMON_TIME, read.key or Key(_C)
    last = tuple(entry for entry in read.chords if entry.onset < read.events[-1].end)
    if len(last) < len(read.chords):
        state.say("A chord after the last note of its bar is left out.")
    return Bar(
        0,
        metre,
        key,
        tuple(read.events),
        last,
        part=read.part,
        opens_repeat=read.opens_repeat,
        closes_repeat=read.closes_repeat,
        endings=read.endings,
        barline=read.barline,
        new_line=read.ends_line,
    )


def _tune(score: Score, bars: list[Bar], state: State) -> Tune:
    header, numbered = score.header, number_bars(bars)
    key, metre = numbered[0].key, numbered[0].metre
    title = _title(score.root)
    if header is None:
        fields = tuple(("C", name) for name in _composers(score.root))
        return Tune(title, key, metre, numbered, _unit(metre), tempo=state.tempo, fields=fields)
    tempo = header.tempo if header.tempo and _same_speed(header.tempo, state.quarters) else state.tempo
    return Tune(
        title,
        header.key if header.key and str(header.key) == str(key) else key,
        metre,
        numbered,
        header.unit,
        number=header.number,
        tempo=tempo,
        order=header.order,
        rhythm=header.rhythm,
        fields=tuple(header.fields),
    )


def _same_speed(tempo: Tempo, quarters: float) -> bool:
    """Is a tempo so many quarters a minute, to the digits that are written?"""
    return abs(float(tempo.beat * tempo.bpm * 4) - quarters) <= 0.001 * quarters


def _unit(metre: Metre) -> Time:
    return Fraction(1, 4) if not metre.free and metre.unit <= 4 and metre.beats == 3 else Fraction(1, 8)


def _title(root: Element) -> str:
    for path in ("work/work-title", "movement-title", "credit/credit-words"):
        if text := re.sub(r"\s*\n\s*", " ", (root.findtext(path) or "").strip()):
            return text
    return UNTITLED


def _composers(root: Element) -> list[str]:
    found = [element for element in root.iterfind("identification/creator") if element.get("type") == "composer"]
    return [" ".join((element.text or "").split()) for element in found if (element.text or "").strip()]
