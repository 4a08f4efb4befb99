"""Writes an arrangement as MusicXML 4.0: one part on a TAB staff at sounding pitch.

Element order follows the MusicXML 4.0 definition; `staff-tuning` is written without the capo, which
`capo` then adds (MusicXML 4.0, element capo).
"""

from __future__ import annotations

from fractions import Fraction
from math import lcm
from xml.etree.ElementTree import Element, SubElement, indent, tostring

from nailhead import __version__
from nailhead.core.arrange.ladder import Ladder
from nailhead.core.arrange.path import Path, bars_on_path
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Hand, Stroke
from nailhead.core.fretboard.setup import Setup, spell
from nailhead.core.music.chord import Chord
from nailhead.core.music.key import Key
from nailhead.core.music.metre import Metre, Time
from nailhead.core.music.notation import NoteValue, note_values
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.tune import Bar, Event

_HEADER = (
    '<?xml version="1.0" encoding="UTF-8"?>\n'
    '<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" '
    '"http://www.musicxml.org/dtds/partwise.dtd">\n'
)
#: Chord quality -> the kind of MusicXML 4.0.
KINDS = {
    "": "major", "m": "minor", "7": "dominant", "m7": "minor-seventh", "maj7": "major-seventh",
    "6": "major-sixth", "m6": "minor-sixth", "9": "dominant-ninth", "m9": "minor-ninth", "add9": "major",
    "sus4": "suspended-fourth", "sus2": "suspended-second", "7sus4": "suspended-fourth", "5": "power",
    "dim": "diminished", "dim7": "diminished-seventh", "m7b5": "half-diminished", "aug": "augmented",
    "mmaj7": "major-minor",
}  # fmt: skip
#: What plucks: the thumb is p, the striking finger i.
_PLUCK = {Hand.THUMB: "p", Hand.DOWN: "i", Hand.BRUSH: "i"}


def write_musicxml(ladder: Ladder, path: Path) -> str:
    """The arrangement on a path as a MusicXML document."""
    bars = bars_on_path(ladder, path)
    root = Element("score-partwise", version="4.0")
    SubElement(SubElement(root, "work"), "work-title").text = ladder.tune.title
    software = SubElement(SubElement(SubElement(root, "identification"), "encoding"), "software")
    software.text = f"Nailhead {__version__}"
    part_list = SubElement(SubElement(root, "part-list"), "score-part", id="P1")
    SubElement(part_list, "part-name").text = ladder.fit.setup.instrument.name
    part = SubElement(root, "part", id="P1")
    divisions = _divisions(bars)
    for index, bar in enumerate(bars):
        _MeasureWriter(ladder, divisions).write(part, index, bar)
    indent(root)
    return _HEADER + tostring(root, encoding="unicode") + "\n"


def _divisions(bars: tuple[ArrangedBar, ...]) -> int:
    """Divisions of a quarter note in which every printed note is whole."""
    result = 1
    for bar in bars:
        for stroke in bar.strokes:
            for value in note_values(stroke.duration, stroke.tuplet):
                result = lcm(result, (value.duration * 4).denominator)
    return result


def _text(parent: Element, name: str, value: object, **attributes: str) -> Element:
    element = SubElement(parent, name, attributes)
    element.text = str(value)
    return element


class _MeasureWriter:
    def __init__(self, ladder: Ladder, divisions: int) -> None:
        self.ladder = ladder
        self.divisions = divisions

    def count(self, time: Time) -> int:
        return int(time * 4 * self.divisions)

    def write(self, part: Element, index: int, bar: ArrangedBar) -> None:
        bars = self.ladder.tune.bars
        written, before = bars[index], bars[index - 1] if index else None
        measure = SubElement(part, "measure", number=str(bar.number))
        if bar.number == 0:
            measure.set("implicit", "yes")
        self._left_barline(measure, written)
        self._attributes(measure, written, before)
        if before is None:
            self._tempo(measure)
        if written.part:
            direction = SubElement(SubElement(measure, "direction"), "direction-type")
            _text(direction, "rehearsal", written.part)
        self._notes(measure, written, bar)
        self._right_barline(measure, index)

    def _attributes(self, measure: Element, bar: Bar, before: Bar | None) -> None:
        if before and bar.metre == before.metre and bar.key == before.key:
            return
        attributes = SubElement(measure, "attributes")
        if before is None:
            _text(attributes, "divisions", self.divisions)
        if before is None or bar.key != before.key:
            _key(attributes, bar.key)
        if before is None or bar.metre != before.metre:
            _metre(attributes, bar.metre)
        if before is None:
            clef = SubElement(attributes, "clef")
            _text(clef, "sign", "TAB")
            _text(clef, "line", 5)
            self._staff(attributes, self.ladder.fit.setup)

    def _staff(self, attributes: Element, setup: Setup) -> None:
        details = SubElement(attributes, "staff-details")
        _text(details, "staff-lines", setup.instrument.strings)
        for string in reversed(setup.strings):
            line = setup.instrument.strings - string.number + 1
            open_pitch = spell(Fraction(string.open_cents - 100 * setup.capo), self.ladder.fit.shape_key)
            tuning = SubElement(details, "staff-tuning", line=str(line))
            _text(tuning, "tuning-step", open_pitch.step)
            if open_pitch.alter:
                _text(tuning, "tuning-alter", open_pitch.alter)
            _text(tuning, "tuning-octave", open_pitch.octave)
        if setup.capo:
            _text(details, "capo", setup.capo)

    def _tempo(self, measure: Element) -> None:
        tempo = self.ladder.tune.tempo
        if tempo is None:
            return
        value = note_values(tempo.beat)[0]
        direction = SubElement(measure, "direction", placement="above")
        metronome = SubElement(SubElement(direction, "direction-type"), "metronome")
        _text(metronome, "beat-unit", value.name)
        for _ in range(value.dots):
            SubElement(metronome, "beat-unit-dot")
        _text(metronome, "per-minute", tempo.bpm)
        SubElement(direction, "sound", tempo=str(float(tempo.bpm * tempo.beat * 4)))

    def _notes(self, measure: Element, written: Bar, bar: ArrangedBar) -> None:
        chords = list(written.chords)
        events = {event.onset: event for event in written.events}
        for place, stroke in enumerate(bar.strokes):
            while chords and chords[0].onset < stroke.end:
                entry = chords.pop(0)
                self._harmony(measure, entry.chord, self.count(entry.onset - stroke.onset))
            group = _TupletPlace.find(bar.strokes, place)
            self._stroke(measure, stroke, events.get(stroke.onset), group)

    def _harmony(self, measure: Element, chord: Chord, offset: int) -> None:
        harmony = SubElement(measure, "harmony")
        root = SubElement(harmony, "root")
        _text(root, "root-step", chord.root.step)
        if chord.root.alter:
            _text(root, "root-alter", chord.root.alter)
        _text(harmony, "kind", KINDS[chord.quality], text=chord.quality)
        if chord.bass:
            bass = SubElement(harmony, "bass")
            _text(bass, "bass-step", chord.bass.step)
            if chord.bass.alter:
                _text(bass, "bass-alter", chord.bass.alter)
        if offset:
            _text(harmony, "offset", offset)

    def _stroke(self, measure: Element, stroke: Stroke, event: Event | None, group: str) -> None:
        values = note_values(stroke.duration, stroke.tuplet)
        for piece, value in enumerate(values):
            if not stroke.notes:
                note = SubElement(measure, "note")
                SubElement(note, "rest")
                self._value(note, stroke, value)
                _tuplet_mark(note, group)
                continue
            for rank, fretted in enumerate(stroke.notes):
                ties = (piece > 0 or fretted.held, piece + 1 < len(values) or bool(_goes_on(event, fretted)))
                note = SubElement(measure, "note")
                if rank:
                    SubElement(note, "chord")
                _pitch(note, fretted.pitch)
                self._value(note, stroke, value, ties)
                self._notations(note, stroke, fretted, ties, group if rank == 0 else "")
                if event and piece == 0 and fretted.role == "melody":
                    _words(note, event)

    def _value(self, note: Element, stroke: Stroke, value: NoteValue, ties: tuple[bool, bool] = (False, False)) -> None:
        _text(note, "duration", self.count(value.duration))
        if ties[0]:
            SubElement(note, "tie", type="stop")
        if ties[1]:
            SubElement(note, "tie", type="start")
        _text(note, "voice", 1)
        _text(note, "type", value.name)
        for _ in range(value.dots):
            SubElement(note, "dot")
        if value.ratio:
            change = SubElement(note, "time-modification")
            _text(change, "actual-notes", value.ratio[0])
            _text(change, "normal-notes", value.ratio[1])

    def _notations(
        self, note: Element, stroke: Stroke, fretted: FrettedNote, ties: tuple[bool, bool], group: str
    ) -> None:
        notations = SubElement(note, "notations")
        if ties[0]:
            SubElement(notations, "tied", type="stop")
        if ties[1]:
            SubElement(notations, "tied", type="start")
        if group:
            SubElement(notations, "tuplet", type=group)
        technical = SubElement(notations, "technical")
        if fretted.finger:
            _text(technical, "fingering", fretted.finger)
        if stroke.hand and not ties[0]:
            _text(technical, "pluck", _PLUCK[stroke.hand])
        _text(technical, "string", fretted.place.string)
        _text(technical, "fret", fretted.place.fret)
        if stroke.hand is Hand.BRUSH and not ties[0]:
            SubElement(notations, "arpeggiate", direction="up")

    def _left_barline(self, measure: Element, bar: Bar) -> None:
        if not bar.opens_repeat and not bar.endings:
            return
        barline = SubElement(measure, "barline", location="left")
        if bar.opens_repeat:
            _text(barline, "bar-style", "heavy-light")
        if bar.endings:
            numbers = ",".join(map(str, bar.endings))
            _text(barline, "ending", numbers + ".", number=numbers, type="start")
        if bar.opens_repeat:
            SubElement(barline, "repeat", direction="forward")

    def _right_barline(self, measure: Element, index: int) -> None:
        bars = self.ladder.tune.bars
        bar = bars[index]
        ending = _ending_that_stops(bars, index)
        style = {"double": "light-light", "final": "light-heavy"}.get(bar.barline)
        if bar.closes_repeat:
            style = "light-heavy"
        if not style and not ending:
            return
        barline = SubElement(measure, "barline", location="right")
        if style:
            _text(barline, "bar-style", style)
        if ending:
            kind = "stop" if bar.closes_repeat or bar.barline != "single" else "discontinue"
            SubElement(barline, "ending", number=",".join(map(str, ending)), type=kind)
        if bar.closes_repeat:
            times = {"times": str(bar.closes_repeat)} if bar.closes_repeat > 2 else {}
            SubElement(barline, "repeat", {"direction": "backward", **times})


class _TupletPlace:
    """Where tuplet brackets start and stop among the strokes of a bar."""

    @staticmethod
    def find(strokes: tuple[Stroke, ...], place: int) -> str:
        tuplet = strokes[place].tuplet
        if tuplet is None:
            return ""
        first = place
        while first and strokes[first - 1].tuplet == tuplet:
            first -= 1
        within = (place - first) % tuplet.size
        last = place + 1 == len(strokes) or strokes[place + 1].tuplet != tuplet
        if within == 0:
            return "start"
        return "stop" if within == tuplet.size - 1 or last else ""


def _goes_on(event: Event | None, note: FrettedNote) -> bool:
    return bool(event and event.tied and note.role == "melody")


def _ending_that_stops(bars: tuple[Bar, ...], index: int) -> tuple[int, ...]:
    """The ending whose last bar this is, or ()."""
    following = bars[index + 1] if index + 1 < len(bars) else None
    if not (bars[index].ends_section or following is None or following.endings):
        return ()
    for at in range(index, -1, -1):
        if at < index and bars[at].ends_section:
            return ()
        if bars[at].endings:
            return bars[at].endings
    return ()


def _key(attributes: Element, key: Key) -> None:
    element = SubElement(attributes, "key")
    _text(element, "fifths", max(-7, min(7, key.fifths)))
    _text(element, "mode", key.mode)


def _metre(attributes: Element, metre: Metre) -> None:
    names = {"C": "common", "C|": "cut"}
    if metre.free:
        SubElement(SubElement(attributes, "time"), "senza-misura")
        return
    time = SubElement(attributes, "time")
    if metre.symbol in names:
        time.set("symbol", names[metre.symbol])
    additive = "+" in str(metre)
    _text(time, "beats", "+".join(map(str, metre.grouping)) if additive else metre.beats)
    _text(time, "beat-type", metre.unit)


def _pitch(note: Element, pitch: Pitch) -> None:
    element = SubElement(note, "pitch")
    _text(element, "step", pitch.step)
    if pitch.alter:
        _text(element, "alter", pitch.alter)
    _text(element, "octave", pitch.octave)


def _tuplet_mark(note: Element, group: str) -> None:
    if group:
        SubElement(SubElement(note, "notations"), "tuplet", type=group)


def _words(note: Element, event: Event) -> None:
    for verse, word in enumerate(event.words, start=1):
        if word in ("", "_"):
            continue
        lyric = SubElement(note, "lyric", number=str(verse))
        _text(lyric, "syllabic", "begin" if word.endswith("-") else "single")
        _text(lyric, "text", word.rstrip("-"))
