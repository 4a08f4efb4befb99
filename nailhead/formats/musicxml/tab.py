"""Writes an arrangement as MusicXML 4.0: one part on a TAB staff at sounding pitch.

Element order follows the MusicXML 4.0 definition; `staff-tuning` is written without the capo, which
`capo` then adds (MusicXML 4.0, element capo).
"""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from math import lcm
from xml.etree.ElementTree import Element, SubElement

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.fit.voices import MELODY, STEMS, voices_of
from nailhead.core.arrange.teacher.path import Path, bars_on_path
from nailhead.core.arrange.values import ArrangedBar, FrettedNote, Ornament, Role, Shake, Slur, Stroke, Touch
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.key import spell
from nailhead.core.music.metre import Time
from nailhead.core.music.notation import note_values
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.tune import Bar, Event
from nailhead.formats.musicxml import elements as xml
from nailhead.formats.musicxml.carried import LAYERS_FIELD, Document, carry, keep_field
from nailhead.formats.musicxml.shakes import write_shake


def write_musicxml(ladder: Ladder, path: Path, source: Document | None = None) -> str:
    """The arrangement on a path as a MusicXML document; `source` is carried along to be read back."""
    root = _score(ladder, bars_on_path(ladder, path))
    plays = (f"rung {rung}: {ladder.idiom.plays(rung)}" for rung in sorted(set(path)))
    keep_field(root, LAYERS_FIELD, "; ".join(plays))
    if source is not None:
        carry(root, source)
    return xml.document(root)


def write_musicxml_part(ladder: Ladder, bars: Sequence[ArrangedBar]) -> str:
    """A part beside the tune, one bar for each written one."""
    return xml.document(_score(ladder, bars))


def _score(ladder: Ladder, bars: Sequence[ArrangedBar]) -> Element:
    root, part = xml.score(ladder.tune, ladder.fit.setup.instrument.name)
    divisions = _divisions(bars)
    for index, bar in enumerate(bars):
        _MeasureWriter(ladder, divisions).write(part, index, bar)
    return root


def _divisions(bars: Sequence[ArrangedBar]) -> int:
    """Divisions of a quarter note in which every printed note is whole."""
    result = 1
    for bar in bars:
        for stroke in bar.strokes:
            for value in note_values(stroke.duration, stroke.tuplet):
                result = lcm(result, (value.duration * 4).denominator)
    return result


class _MeasureWriter:
    def __init__(self, ladder: Ladder, divisions: int) -> None:
        self.ladder = ladder
        self.divisions = divisions
        self.voice, self.stem = 1, ""

    def count(self, time: Time) -> int:
        return int(time * 4 * self.divisions)

    def write(self, part: Element, index: int, bar: ArrangedBar) -> None:
        bars = self.ladder.tune.bars
        written, before = bars[index], bars[index - 1] if index else None
        measure = SubElement(part, "measure", number=str(bar.number))
        if bar.number == 0:
            measure.set("implicit", "yes")
        xml.left_barline(measure, written)
        self._attributes(measure, written, before)
        if before is None:
            xml.tempo(measure, self.ladder.tune.tempo)
        xml.rehearsal(measure, written.part)
        plucked = self.ladder.idiom.right.chords_plucked
        voices = voices_of(bar, written) if plucked else ((MELODY, bar),)
        for number, (which, one) in enumerate(voices, 1):
            if number > 1:
                xml.text(SubElement(measure, "backup"), "duration", self.count(bar.length))
            self.voice, self.stem = number, STEMS[which] if len(voices) > 1 else ""
            self._notes(measure, written, one, first=number == 1)
        xml.right_barline(measure, bars, index)

    def _attributes(self, measure: Element, bar: Bar, before: Bar | None) -> None:
        if before and bar.metre == before.metre and bar.key == before.key:
            return
        attributes = SubElement(measure, "attributes")
        if before is None:
            xml.text(attributes, "divisions", self.divisions)
        if before is None or bar.key != before.key:
            xml.key(attributes, bar.key)
        if before is None or bar.metre != before.metre:
            xml.metre(attributes, bar.metre)
        if before is None:
            clef = SubElement(attributes, "clef")
            xml.text(clef, "sign", "TAB")
            xml.text(clef, "line", 5)
            self._staff(attributes, self.ladder.fit.setup)

    def _staff(self, attributes: Element, setup: Setup) -> None:
        details = SubElement(attributes, "staff-details")
        xml.text(details, "staff-lines", setup.instrument.strings)
        raised = Fraction(100 * setup.instrument.capo_semitones(setup.capo))
        for string in reversed(setup.strings):
            line = setup.instrument.strings - string.number + 1
            open_pitch = spell(string.open_cents - raised, self.ladder.fit.shape_key)
            tuning = SubElement(details, "staff-tuning", line=str(line))
            xml.text(tuning, "tuning-step", open_pitch.step)
            if open_pitch.alter:
                xml.text(tuning, "tuning-alter", open_pitch.alter)
            xml.text(tuning, "tuning-octave", open_pitch.octave)
        if setup.capo:
            xml.text(details, "capo", setup.capo)

    def _notes(self, measure: Element, written: Bar, bar: ArrangedBar, first: bool) -> None:
        """A voice; the first has the chord names."""
        chords = list(written.chords) if first else []
        events = {event.onset: event for event in written.events}
        endings = {event.end: event for event in written.events}
        starts = _slur_starts(bar)
        for place, stroke in enumerate(bar.strokes):
            while chords and chords[0].onset < stroke.end:
                entry = chords.pop(0)
                xml.harmony(measure, entry.chord, self.count(entry.onset - stroke.onset))
            group = _TupletPlace.find(bar.strokes, place)
            for note in stroke.notes:
                if note.slur and note.slur.grace:
                    self._grace(measure, note)
            goes_on = endings.get(stroke.end)
            tied_on = goes_on.pitch if goes_on and goes_on.tied else None
            self._stroke(measure, stroke, events.get(stroke.onset), tied_on, group, starts.get(place, {}))

    def _grace(self, measure: Element, fretted: FrettedNote) -> None:
        """The fret an ornament starts from, as a grace note."""
        assert fretted.slur
        start = Place(fretted.place.string, fretted.slur.start)
        note = SubElement(measure, "note")
        SubElement(note, "grace", slash="yes")
        xml.pitch(note, spell(self.ladder.fit.setup.sounding_cents(start), self.ladder.fit.sounding_key))
        xml.text(note, "voice", self.voice)
        xml.text(note, "type", "eighth")
        notations = SubElement(note, "notations")
        technical = SubElement(notations, "technical")
        xml.text(technical, "string", start.string)
        xml.text(technical, "fret", start.fret)
        _slur_mark(notations, technical, fretted.slur, "start")

    def _stroke(
        self,
        measure: Element,
        stroke: Stroke,
        event: Event | None,
        tied_on: Pitch | None,
        group: str,
        starts: dict[int, Slur],
    ) -> None:
        """One stroke; `tied_on` is the melody's pitch where its note goes on after the stroke."""
        values = note_values(stroke.duration, stroke.tuplet)
        for piece, value in enumerate(values):
            if not stroke.notes:
                note = SubElement(measure, "note")
                SubElement(note, "rest")
                xml.value(note, self.divisions, value, voice=self.voice)
                _tuplet_mark(note, group)
                continue
            for rank, (touch, fretted) in enumerate(_touched(stroke)):
                goes_on = fretted.role is Role.MELODY and fretted.pitch == tied_on
                ties = (piece > 0 or fretted.held, piece + 1 < len(values) or goes_on)
                note = SubElement(measure, "note")
                if rank:
                    SubElement(note, "chord")
                xml.pitch(note, fretted.pitch)
                xml.value(note, self.divisions, value, ties, self.voice, self.stem)
                _head(note, touch, fretted)
                starting = starts.get(fretted.place.string) if piece + 1 == len(values) else None
                shake = stroke.shake if rank == 0 and piece == 0 else None
                rolled = bool(stroke.shake and not stroke.shake.fills) and piece == 0
                self._notations(note, touch, fretted, ties, group if rank == 0 else "", starting, shake, rolled)
                if event and piece == 0 and fretted.role == "melody":
                    xml.lyrics(note, event.words, ())

    def _notations(
        self,
        note: Element,
        touch: Touch,
        fretted: FrettedNote,
        ties: tuple[bool, bool],
        group: str,
        starting: Slur | None,
        shake: Shake | None,
        rolled: bool,
    ) -> None:
        notations = SubElement(note, "notations")
        xml.tied(notations, ties)
        if group:
            SubElement(notations, "tuplet", type=group)
        if shake:
            write_shake(notations, shake)
        if rolled:
            SubElement(notations, "arpeggiate", direction="up")
        technical = SubElement(notations, "technical")
        if fretted.finger:
            xml.text(technical, "fingering", fretted.finger)
        row = self.ladder.idiom.right.row_of(touch)
        if row.pluck and not ties[0]:
            xml.text(technical, "pluck", row.pluck)
        if row.bow and not ties[0]:
            SubElement(technical, row.bow)
        if fretted.slur and not ties[0]:
            _slur_mark(notations, technical, fretted.slur, "stop")
        if starting:
            _slur_mark(notations, technical, starting, "start")
        if fretted.bend and not ties[0]:
            xml.text(SubElement(technical, "bend"), "bend-alter", f"{fretted.bend / 100:g}")  # in semitones
        if fretted.harmonic:
            SubElement(SubElement(technical, "harmonic"), "natural")
        xml.text(technical, "string", fretted.place.string)
        xml.text(technical, "fret", fretted.place.fret)
        if row.roll and not ties[0]:
            SubElement(notations, "arpeggiate", direction=row.roll)


def _head(note: Element, touch: Touch, fretted: FrettedNote) -> None:
    """A cross for what is muted, parentheses for what may be left out."""
    if touch.muted:
        xml.text(note, "notehead", "x")
    elif fretted.optional:
        head = SubElement(note, "notehead", parentheses="yes")
        head.text = "normal"


def _touched(stroke: Stroke) -> list[tuple[Touch, FrettedNote]]:
    """Every note of a stroke with the touch it is in."""
    return [(touch, note) for touch in stroke.touches for note in touch.notes]


def _slur_starts(bar: ArrangedBar) -> dict[int, dict[int, Slur]]:
    """Where slurs between played notes begin: stroke -> string -> the slur."""
    starts: dict[int, dict[int, Slur]] = {}
    last: dict[int, int] = {}
    for place, stroke in enumerate(bar.strokes):
        for note in stroke.notes:
            string = note.place.string
            if note.slur and not note.slur.grace and string in last:
                starts.setdefault(last[string], {})[string] = note.slur
            last[string] = place
    return starts


def _slur_mark(notations: Element, technical: Element, slur: Slur, end: str) -> None:
    """One end of a hammer-on, pull-off or slide (MusicXML 4.0: a slide stands beside `technical`)."""
    if slur.ornament is Ornament.SLIDE:
        line = SubElement(notations, "slide", type=end)
        line.set("line-type", "solid")
        return
    sign = SubElement(technical, slur.ornament.value, type=end)
    if end == "start":
        sign.text = "H" if slur.ornament is Ornament.HAMMER else "P"


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


def _tuplet_mark(note: Element, group: str) -> None:
    if group:
        SubElement(SubElement(note, "notations"), "tuplet", type=group)
