"""Reads one measure of a part: its events in one voice, its chords, bar lines and signs."""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from xml.etree.ElementTree import Element

from nailhead.core.figures import is_digits, read_exact, read_whole
from nailhead.core.music.chord import QUALITIES, Chord
from nailhead.core.music.key import MODES, Key, transpose_key
from nailhead.core.music.metre import FREE_METRE, Metre, Time, make_metre, parse_metre
from nailhead.core.music.pitch import Pitch, PitchClass, transpose
from nailhead.core.music.tune import ChordAt, Event, Tuplet
from nailhead.formats.musicxml.elements import KINDS
from nailhead.formats.musicxml.errors import MusicXmlError
from nailhead.formats.musicxml.measured import Measure, State
from nailhead.formats.musicxml.signs import (
    BEATS,
    KIND_QUALITIES,
    LEFT_OUT,
    SIGN_NAMES,
    STYLES,
    nearest_commas,
    read_tempo,
    tuplet_ratio,
)

_MOST_EVENTS = 2_000
_LONGEST = 64
#: The largest number of divisions, of a quarter or of anything in a measure.
_MOST_DIVISIONS = 1_000_000_000


@dataclass(slots=True)
class _Bracket:
    """A tuplet being read: where it began, and its ratio."""

    first: int
    actual: int
    normal: int


class MeasureReader:
    """Walks the elements of a measure with a clock of its own."""

    def __init__(self, state: State, element: Element, index: int) -> None:
        self.state, self.element, self.index = state, element, index
        self.out = Measure()
        self.at = Fraction(0)
        self.furthest = Fraction(0)
        self.grace: list[Pitch] = []
        self.remarks: list[str] = []
        self.bracket: _Bracket | None = None
        self.ratios: dict[int, tuple[int, int]] = {}

    def read(self) -> Measure:
        """The measure; raises NailheadError or ValueError for numbers that make no sense."""
        for child in self.element:
            handler = (
                getattr(self, "_read_" + child.tag.replace("-", "_"), None) if isinstance(child.tag, str) else None
            )
            if handler:
                handler(child)
        self._fill()
        self._group_unmarked()
        self.out.metre, self.out.key = self.state.metre, self.state.key
        return self.out

    def _fill(self) -> None:
        """A rest where other voices, or a gap, go on when the melody ends."""
        end = self.furthest if self.state.metre.free else min(self.furthest, self.state.metre.length)
        if self.out.events and self._end < end:
            self._add(Event(self._end, end - self._end))

    # -- time and place

    def _time(self, text: str | None) -> Time:
        value = read_exact(text or "0", -_MOST_DIVISIONS, _MOST_DIVISIONS, "duration") / self.state.divisions / 4
        if abs(value) > _LONGEST:
            raise MusicXmlError(f"Measure {self._number}: a length of {text} divisions is longer than any note.")
        return value

    @property
    def _number(self) -> str:
        return self.element.get("number", str(self.index + 1))

    @property
    def _end(self) -> Time:
        return self.out.events[-1].end if self.out.events else Fraction(0)

    def _read_backup(self, element: Element) -> None:
        self.at = max(Fraction(0), self.at - self._time(element.findtext("duration")))

    def _read_forward(self, element: Element) -> None:
        self.at += self._time(element.findtext("duration"))
        self.furthest = max(self.furthest, self.at)

    # -- attributes

    def _read_attributes(self, element: Element) -> None:
        state = self.state
        if divisions := element.findtext("divisions"):
            state.divisions = read_exact(divisions, 0, _MOST_DIVISIONS, "divisions")
            if not state.divisions:
                raise MusicXmlError(f"Measure {self._number}: {divisions} divisions cannot be.")
        if (move := element.find("transpose")) is not None:
            chromatic = int(read_exact(move.findtext("chromatic", "0"), -99, 99, "chromatic"))
            octaves, steps = (
                read_whole(move.findtext(name, "0"), -99, 99, name) for name in ("octave-change", "diatonic")
            )
            fifths = 7 * chromatic - 12 * steps
            if abs(chromatic) > 36 or abs(octaves) > 4 or abs(fifths) > 14:
                raise MusicXmlError(f"Measure {self._number}: the transposition makes no sense.")
            state.move = (chromatic + 12 * octaves, fifths)
            state.say("The part transposes; its notes are read as they sound.")
        if (key := element.find("key")) is not None:
            state.key = self._key(key)
        if (time := element.find("time")) is not None:
            state.metre = self._metre(time)

    def _key(self, element: Element) -> Key:
        if self.index in self.state.keys:
            return self.state.keys[self.index]
        mode = (element.findtext("mode") or "").strip().lower()
        if element.find("fifths") is None:
            self.state.say("A key signature of single accidentals is left out; the notes keep theirs.")
            return Key(PitchClass("C"))
        fifths = read_whole(element.findtext("fifths", "0"), -99, 99, "fifths")
        if not -7 <= fifths <= 7:
            raise MusicXmlError(f"Measure {self._number}: a key of {fifths} fifths cannot be.")
        if mode not in MODES:
            mode = {"ionian": "major", "aeolian": "minor"}.get(mode, "major")
            self.state.say("The key has no mode; it is read as major. Check it on the desk.")
        key = Key(PitchClass.from_fifths(fifths - MODES[mode][0]), mode)
        return transpose_key(key, self.state.move[1]) if self.state.move[1] else key

    def _metre(self, element: Element) -> Metre:
        if element.find("senza-misura") is not None:
            return FREE_METRE
        if len(element.findall("beats")) > 1:
            self.state.say("A metre of several fractions is read as its first one.")
        beats, unit = (element.findtext(name, "4").strip() for name in ("beats", "beat-type"))
        metre = parse_metre(f"{beats}/{unit}")
        symbol = {"common": "C", "cut": "C|"}.get(element.get("symbol", ""), "")
        return make_metre(metre.beats, metre.unit, metre.grouping, symbol) if symbol else metre

    # -- notes

    def _read_note(self, element: Element) -> None:
        if element.find("cue") is not None:
            return self.state.say("Cue notes are left out.")
        own = element.findtext("voice", "1").strip() == self.state.voice
        own = own and element.findtext("staff", "1").strip() == "1"
        if element.find("grace") is not None:
            if own and (pitch := self._pitch(element)):
                self.grace.append(pitch)
            return None
        duration = self._time(element.findtext("duration"))
        if element.find("chord") is not None:
            return self._add_to_chord(element) if own else None
        start, self.at = self.at, self.at + duration
        self.furthest = max(self.furthest, self.at)
        if not own:
            return self.state.say("Other voices and staves than the melody's are left out.")
        if duration <= 0:
            return self.state.say("Notes without a length are left out.")
        if element.get("id", "").startswith("cont") and self.state.ours and self.out.events:
            return self._carry_on(element, duration)
        if start < self._end:
            return self.state.say("Notes that overlap in one voice are left out.")
        if start > self._end:
            self._add(Event(self._end, start - self._end))
        return self._add_note(element, start, duration)

    def _add(self, event: Event) -> None:
        if len(self.out.events) >= _MOST_EVENTS:
            raise MusicXmlError(f"Measure {self._number} holds more than {_MOST_EVENTS} notes.", remedy="Split it.")
        self.out.events.append(event)

    def _add_note(self, element: Element, start: Time, duration: Time) -> None:
        pitch = self._pitch(element)
        if pitch is None and element.find("rest") is None:
            self.state.say("Notes without pitch are read as rests.")
        notations = element.findall("notations")
        event = Event(
            start,
            duration,
            pitch,
            bool(pitch) and self._starts_tie(element),
            None,
            tuple(self.grace),
            self._decorations(notations) if pitch else (),
            self._words(element) if pitch else (),
            self._slurs(notations),
            tuple(self.remarks),
        )
        self.grace, self.remarks = [], []
        self._open_tuplet(element, notations)
        self._add(event)
        self._close_tuplet(notations)

    def _carry_on(self, element: Element, duration: Time) -> None:
        """A further printed value of the note before."""
        last, notations = self.out.events[-1], element.findall("notations")
        slurs = (last.slurs[0], last.slurs[1] + self._slurs(notations)[1])
        tied = bool(last.pitch) and self._starts_tie(element)
        self.out.events[-1] = replace(last, duration=last.duration + duration, tied=tied, slurs=slurs)
        self._close_tuplet(notations)

    def _add_to_chord(self, element: Element) -> None:
        """Of several notes at once the highest is the melody."""
        self.state.say("Of several notes at once the highest is kept as the melody.")
        pitch = self._pitch(element)
        last = self.out.events[-1] if self.out.events else None
        if pitch and last and last.pitch and pitch.cents > last.pitch.cents:
            self.out.events[-1] = replace(last, pitch=pitch, tied=self._starts_tie(element))

    @staticmethod
    def _starts_tie(element: Element) -> bool:
        return any(tie.get("type") == "start" for tie in element.findall("tie"))

    def _pitch(self, element: Element) -> Pitch | None:
        found = element.find("pitch")
        if found is None:
            return None
        semitones = read_exact(found.findtext("alter", "0"), -9, 9, "alter")
        alter, commas = nearest_commas(semitones)
        octave = read_whole(found.findtext("octave", "4"), -99, 99, "octave")
        if not 0 <= octave <= 9:
            raise MusicXmlError(f"Measure {self._number}: octave {octave} is far outside what can be played.")
        pitch = Pitch(found.findtext("step", "C").strip(), alter, octave, commas)
        return transpose(pitch, *self.state.move) if any(self.state.move) else pitch

    def _words(self, element: Element) -> tuple[str, ...]:
        verses: dict[int, str] = {}
        for place, lyric in enumerate(element.findall("lyric")):
            number = lyric.get("number", "")
            verse = int(number) if is_digits(number) and 0 < int(number) <= 40 else place + 1
            text = " ".join((part.text or "").strip() for part in lyric.findall("text")).strip()
            if text:
                verses[verse] = text + ("-" if lyric.findtext("syllabic") in ("begin", "middle") else "")
            elif lyric.find("extend") is not None:
                verses[verse] = "_"
        return tuple(verses.get(verse, "") for verse in range(1, max(verses, default=0) + 1))

    @staticmethod
    def _slurs(notations: list[Element]) -> tuple[int, int]:
        kinds = [slur.get("type") for group in notations for slur in group.findall("slur")]
        return kinds.count("start"), kinds.count("stop")

    @staticmethod
    def _decorations(notations: list[Element]) -> tuple[str, ...]:
        names: list[str] = []
        for group in notations:
            for element in group:
                inside = list(element) if element.tag in ("articulations", "ornaments", "technical") else [element]
                names += [SIGN_NAMES[sign.tag] for sign in inside if sign.tag in SIGN_NAMES]
                if element.tag == "other-notation" and (element.text or "").strip():
                    names.append((element.text or "").strip())
        return tuple(names)

    # -- tuplets

    def _open_tuplet(self, element: Element, notations: list[Element]) -> None:
        place = len(self.out.events)
        if ratio := tuplet_ratio(element):
            self.ratios[place] = ratio
        for mark in (mark for group in notations for mark in group.findall("tuplet") if mark.get("type") == "start"):
            inner = [mark.findtext(f"tuplet-{name}/tuplet-number", "") for name in ("actual", "normal")]
            whole = [read_whole(text, 0, 999) for text in inner if text]
            given = (whole[0], whole[1]) if len(whole) == 2 else self.ratios.get(place)
            if given and given[0] > 1 and given[1] > 0:
                self.bracket = _Bracket(place, *given)

    def _close_tuplet(self, notations: list[Element]) -> None:
        stops = any(mark.get("type") == "stop" for group in notations for mark in group.findall("tuplet"))
        if stops and self.bracket:
            self._mark(self.bracket.first, len(self.out.events), self.bracket.actual, self.bracket.normal)
            self.bracket = None

    def _mark(self, first: int, stop: int, actual: int, normal: int) -> None:
        for place in range(first, stop):
            self.ratios.pop(place, None)
            self.out.events[place] = replace(self.out.events[place], tuplet=Tuplet(actual, normal, stop - first))

    def _group_unmarked(self) -> None:
        """Tuplets without a bracket: notes of one ratio, until they are back on the straight grid."""
        if self.state.ours:
            return
        place = 0
        while place < len(self.out.events):
            ratio = self.ratios.get(place)
            stop = place + 1
            if ratio:
                span = self.out.events[place].duration
                while self.ratios.get(stop) == ratio and span.denominator & (span.denominator - 1):
                    span += self.out.events[stop].duration
                    stop += 1
                self._mark(place, stop, *ratio)
            place = stop

    # -- chords, directions, bar lines

    def _read_harmony(self, element: Element) -> None:
        root = element.find("root")
        kind = element.find("kind")
        if root is None or kind is None:
            return self.state.say("Chords written as functions are left out.")
        if element.find("degree") is not None:
            self.state.say("Added and altered degrees of chords are left out.")
        name = (kind.text or "").strip()
        written = kind.get("text", "")
        quality = written if written in QUALITIES and KINDS[written] == name else KIND_QUALITIES.get(name)
        if quality is None:
            return self.state.say(f"A chord of the kind “{name[:40]}” is left out.")
        onset = max(Fraction(0), self.at + self._time(element.findtext("offset")))
        bass = element.find("bass")
        chord = Chord(self._name(root, "root"), quality, self._name(bass, "bass") if bass is not None else None)
        self.out.chords = [entry for entry in self.out.chords if entry.onset != onset] + [ChordAt(onset, chord)]
        return None

    def _name(self, element: Element, prefix: str) -> PitchClass:
        alter = int(read_exact(element.findtext(f"{prefix}-alter", "0"), -4, 4, "alter"))
        name = Pitch(element.findtext(f"{prefix}-step", "C").strip(), alter, 4)
        return (transpose(name, *self.state.move) if any(self.state.move) else name).pitch_class

    def _read_direction(self, element: Element) -> None:
        for kind in element.iterfind("direction-type/*"):
            text = " ".join((kind.text or "").split())
            if kind.tag == "rehearsal" and text:
                self.out.part = text
            elif kind.tag == "words" and text:
                self.remarks.append(("_" if element.get("placement") == "below" else "^") + text.replace('"', "”"))
            elif kind.tag == "metronome":
                self._metronome(kind)
            elif kind.tag in LEFT_OUT:
                self.state.say(LEFT_OUT[kind.tag])
        sound = element.find("sound")
        if sound is not None and sound.get("tempo") and not self.state.quarters:
            found = read_tempo(Fraction(1, 4), sound.get("tempo", ""))
            self.state.quarters = float(read_exact(sound.get("tempo", ""), 0, 1000)) if found else 0
            self.state.tempo = self.state.tempo or found

    def _metronome(self, element: Element) -> None:
        beat = BEATS.get(element.findtext("beat-unit", "").strip())
        if beat and self.state.tempo is None:
            dots = len(element.findall("beat-unit-dot"))
            longer = 2 - Fraction(1, 2 ** min(dots, 4))
            self.state.tempo = read_tempo(beat * longer, element.findtext("per-minute", ""))

    def _read_print(self, element: Element) -> None:
        if element.get("new-system") == "yes" or element.get("new-page") == "yes":
            if self.out.events:
                self.out.ends_line = True
            else:
                self.out.starts_line = True

    def _read_barline(self, element: Element) -> None:
        style = element.findtext("bar-style", "").strip()
        repeat, ending = element.find("repeat"), element.find("ending")
        if ending is not None and ending.get("type") == "start":
            numbers = [int(part) for part in ending.get("number", "").replace(" ", ",").split(",") if is_digits(part)]
            self.out.endings = tuple(number for number in numbers if 0 < number < 100)
        if repeat is not None and repeat.get("direction") == "forward":
            self.out.opens_repeat = True
        elif repeat is not None:
            times = repeat.get("times", "2")
            self.out.closes_repeat = max(2, min(16, int(times))) if is_digits(times) else 2
            self.out.barline = "double"
        elif element.get("location", "right") == "right" and style in STYLES:
            self.out.barline = STYLES[style]
