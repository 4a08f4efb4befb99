"""Writes the melody of a tune as MusicXML 4.0; `read_musicxml` reads it back equal.

What MusicXML has no element for (unit note, part order, rhythm, header lines) is kept as the tune's ABC header in a
`miscellaneous-field`, where other programs leave it alone. A note that needs several printed values keeps them
together by an `id` that begins with "cont".
"""

from __future__ import annotations

from collections.abc import Sequence
from math import lcm
from xml.etree.ElementTree import Element, SubElement

from nailhead.core.music.key import Key
from nailhead.core.music.metre import Time
from nailhead.core.music.notation import note_values
from nailhead.core.music.tune import Bar, Event, Tune
from nailhead.core.plain import plain
from nailhead.formats.abc.writer import header_lines, key_text
from nailhead.formats.musicxml import elements as xml

#: Names of our own fields in `miscellaneous`.
HEADER_FIELD, KEY_FIELD = "abc-header", "abc-key-of-measure-"
#: Decoration -> (group, element) of `notations`; others are written as other-notation.
DECORATIONS = {
    "staccato": ("articulations", "staccato"),
    "tenuto": ("articulations", "tenuto"),
    "accent": ("articulations", "accent"),
    "breath": ("articulations", "breath-mark"),
    "trill": ("ornaments", "trill-mark"),
    "turn": ("ornaments", "turn"),
    "mordent": ("ornaments", "mordent"),
    "upbow": ("technical", "up-bow"),
    "downbow": ("technical", "down-bow"),
    "fermata": ("", "fermata"),
}
_MOST_SLURS = 16


def write_melody(tune: Tune) -> str:
    """The melody with chords, words, form and signs as a MusicXML document."""
    root, part = xml.score(tune, "Melody")
    _keep_header(root, tune)
    writer = _MelodyWriter(tune)
    for index in range(len(tune.bars)):
        writer.measure(part, index)
    return xml.document(root)


def _keep_header(root: Element, tune: Tune) -> None:
    identification = root.find("identification")
    assert identification is not None
    composers = [value for letter, value in tune.fields if letter == "C"]
    for place, name in enumerate(composers):
        creator = Element("creator", type="composer")
        creator.text = plain(name)
        identification.insert(place, creator)
    kept = SubElement(identification, "miscellaneous")
    xml.text(kept, "miscellaneous-field", "\n".join(header_lines(tune)), name=HEADER_FIELD)
    before: Key | None = None
    for index, bar in enumerate(tune.bars):
        if bar.key != before and bar.key.extra:
            xml.text(kept, "miscellaneous-field", key_text(bar.key), name=f"{KEY_FIELD}{index}")
        before = bar.key


class _MelodyWriter:
    """Keeps what goes on over bar lines: ties, slurs, syllables, the place in a tuplet."""

    def __init__(self, tune: Tune) -> None:
        self.tune = tune
        self.divisions = 1
        for bar in tune.bars:
            times = [value.duration for event in bar.events for value in note_values(event.duration, event.tuplet)]
            times += [entry.onset for entry in bar.chords]
            self.divisions = lcm(self.divisions, *((time * 4).denominator for time in times))
        self.tie_from: Event | None = None
        self.slurs: list[int] = []
        self.words: tuple[str, ...] = ()
        self.left_in_tuplet = 0

    def measure(self, part: Element, index: int) -> None:
        bars = self.tune.bars
        bar, before = bars[index], bars[index - 1] if index else None
        measure = SubElement(part, "measure", number=str(bar.number))
        if bar.number == 0:
            measure.set("implicit", "yes")
        if before and before.new_line:
            SubElement(measure, "print", {"new-system": "yes"})
        xml.left_barline(measure, bar)
        self._attributes(measure, bar, before)
        if before is None:
            xml.tempo(measure, self.tune.tempo)
        xml.rehearsal(measure, bar.part)
        self._events(measure, index, bar)
        if bar.new_line and index + 1 == len(bars):
            SubElement(measure, "print", {"new-system": "yes"})
        xml.right_barline(measure, bars, index)

    def _attributes(self, measure: Element, bar: Bar, before: Bar | None) -> None:
        new_key, new_metre = before is None or bar.key != before.key, before is None or bar.metre != before.metre
        if not new_key and not new_metre:
            return
        attributes = SubElement(measure, "attributes")
        if before is None:
            xml.text(attributes, "divisions", self.divisions)
        if new_key:
            xml.key(attributes, bar.key)
        if new_metre:
            xml.metre(attributes, bar.metre)
        if before is None:
            clef = SubElement(attributes, "clef")
            xml.text(clef, "sign", "G")
            xml.text(clef, "line", 2)

    def _events(self, measure: Element, index: int, bar: Bar) -> None:
        chords = list(bar.chords)
        for place, event in enumerate(bar.events):
            while chords and chords[0].onset < event.end:
                entry = chords.pop(0)
                xml.harmony(measure, entry.chord, self._count(entry.onset - event.onset))
            for remark in event.remarks:
                _remark(measure, remark)
            for pitch in event.grace:
                note = SubElement(measure, "note")
                SubElement(note, "grace")
                xml.pitch(note, pitch)
                xml.text(note, "voice", 1)
                xml.text(note, "type", "eighth")
            self._event(measure, f"cont{index}-{place}", event, bar.events[place + 1 :])

    def _count(self, time: Time) -> int:
        return int(time * 4 * self.divisions)

    def _event(self, measure: Element, name: str, event: Event, following: Sequence[Event]) -> None:
        values = note_values(event.duration, event.tuplet)
        opens, closes = self._tuplet(event, following)
        arrives = self.tie_from is not None and self.tie_from.pitch == event.pitch
        for piece, value in enumerate(values):
            first, last = piece == 0, piece + 1 == len(values)
            note = SubElement(measure, "note", {} if first else {"id": f"{name}-{piece}"})
            if event.pitch:
                xml.pitch(note, event.pitch)
            else:
                SubElement(note, "rest")
            ties = (bool(event.pitch) and (arrives or not first), bool(event.pitch) and (event.tied or not last))
            xml.value(note, self.divisions, value, ties)
            notations = Element("notations")
            xml.tied(notations, ties)
            if first:
                self._signs(notations, event)
            if last:
                self._close_slurs(notations, event)
            if (opens and first) or (closes and last):
                _tuplet(notations, event, opens and first, closes and last)
            if len(notations):
                note.append(notations)
            if first:
                xml.lyrics(note, event.words, self.words)
        if event.pitch:
            self.words = event.words or self.words
        self.tie_from = event if event.tied else None

    def _tuplet(self, event: Event, following: Sequence[Event]) -> tuple[bool, bool]:
        """Does the event open, and does it close, the bracket of its tuplet?"""
        if event.tuplet is None:
            self.left_in_tuplet = 0
            return False, False
        opens = self.left_in_tuplet == 0
        self.left_in_tuplet = (self.left_in_tuplet or event.tuplet.size) - 1
        goes_on = self.left_in_tuplet and following and following[0].tuplet == event.tuplet
        if not goes_on:
            self.left_in_tuplet = 0
        return opens, not goes_on

    def _signs(self, notations: Element, event: Event) -> None:
        for _ in range(event.slurs[0]):
            number = next((n for n in range(1, _MOST_SLURS + 1) if n not in self.slurs), None)
            if number:
                self.slurs.append(number)
                SubElement(notations, "slur", type="start", number=str(number))
        for name in event.decorations:
            group, element = DECORATIONS.get(name, ("", ""))
            if element:
                SubElement(SubElement(notations, group) if group else notations, element)
            else:
                xml.text(notations, "other-notation", name, type="single")

    def _close_slurs(self, notations: Element, event: Event) -> None:
        for _ in range(min(event.slurs[1], len(self.slurs))):
            SubElement(notations, "slur", type="stop", number=str(self.slurs.pop()))


def _tuplet(notations: Element, event: Event, opens: bool, closes: bool) -> None:
    assert event.tuplet is not None
    if opens:
        bracket = SubElement(notations, "tuplet", type="start")
        xml.text(SubElement(bracket, "tuplet-actual"), "tuplet-number", event.tuplet.actual)
        xml.text(SubElement(bracket, "tuplet-normal"), "tuplet-number", event.tuplet.normal)
    if closes:
        SubElement(notations, "tuplet", type="stop")


def _remark(measure: Element, remark: str) -> None:
    placement = "below" if remark[0] == "_" else "above"
    direction = SubElement(measure, "direction", placement=placement)
    xml.text(SubElement(direction, "direction-type"), "words", remark[1:])
