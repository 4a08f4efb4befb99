"""Reads tablature of any MusicXML score whose tuning is known: where every note was fretted, and a melody out of it.

A score does not say which of its notes are the tune. Read as melody is the highest note of each stroke, but for drone
strings and for strums off the beat, which accompany; so does every strum but a bar's first where a drone string is
struck in between. The teacher can mend it on the desk.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass, field, replace
from fractions import Fraction
from xml.etree.ElementTree import Element

from nailhead.core.arrange.teacher.entering import Entered, EnteredBar, EnteredStroke
from nailhead.core.arrange.tones import tones_on
from nailhead.core.arrange.values import Finger, Ornament, Shake, Slur, Way
from nailhead.core.figures import read_exact, read_whole
from nailhead.core.fretboard.instruments import Instrument
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.key import Key, move_key
from nailhead.core.music.metre import Time
from nailhead.core.music.pitch import Pitch, PitchClass, transpose
from nailhead.core.music.tune import Event, Tune, Tuplet
from nailhead.formats.musicxml.archive import open_document
from nailhead.formats.musicxml.errors import MusicXmlError
from nailhead.formats.musicxml.measure import MeasureReader
from nailhead.formats.musicxml.measured import Measure, State
from nailhead.formats.musicxml.reader import part_names, read_part, score_of
from nailhead.formats.musicxml.shakes import read_shake
from nailhead.formats.musicxml.signs import tuplet_ratio
from nailhead.formats.musicxml.staff_tuning import read_setup

#: `pluck` as classical guitarists write it, and bow marks as plectrum players use them.
PLUCKS = {"p": Finger.THUMB, "i": Finger.INDEX, "m": Finger.MIDDLE, "a": Finger.RING}
BOWS = {"up-bow": Way.UP, "down-bow": Way.DOWN}
#: A stroke of so many notes is a strum.
_FULL = 3


@dataclass(frozen=True)
class TabReading:
    """The tune as read, the setup, and each written bar as it was fretted; `fingers` tells a thumb-and-finger style."""

    tune: Tune
    setup: Setup
    bars: tuple[EnteredBar, ...]
    fingers: bool
    notices: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class _Fretted:
    """A note as it stands in a measure."""

    onset: Time
    duration: Time
    place: Place
    pitch: Pitch
    goes_on: bool
    ties: bool
    finger: int
    by: Finger | None
    way: Way | None
    swept: bool
    slur: Slur | None
    bend: int
    harmonic: bool
    tuplet: Tuplet | None
    words: tuple[str, ...]
    shake: Shake | None


#: Where a note says its fret.
_FRET = "measure/note/notations/technical/fret"


def _bend(technical: Sequence[Element]) -> int:
    """How far a note is bent, in cents; 0 where it is not, or where it says no number."""
    alter = next((sign.findtext("bend-alter", "") for sign in technical if sign.tag == "bend"), "")
    return round(100 * float(alter)) if re.fullmatch(r" *\d{1,2}(\.\d{1,4})? *", alter) else 0


def has_tablature(raw: bytes) -> bool:
    """Does a score say where its notes are fretted? Raises MusicXmlError for what is no MusicXML."""
    return open_document(raw).find(f"part/{_FRET}") is not None


def read_tablature(raw: bytes, instruments: Iterable[Instrument]) -> TabReading:
    """The first part with frets, for the first of `instruments` that has its tuning; raises MusicXmlError."""
    root = open_document(raw)
    parts, names = root.findall("part"), part_names(root)
    chosen = next((at for at, part in enumerate(parts) if part.find(_FRET) is not None), None)
    if chosen is None:
        raise MusicXmlError("The score has no tablature.", remedy="Bring it in as a tune, for its melody.")
    setup = read_setup(parts[chosen], names[chosen] if chosen < len(names) else "", instruments)
    offset = _offset(parts[chosen], setup)
    hand = _Hand(setup, (offset, move_key(Key(PitchClass("C")), offset)[1]))
    score, state = score_of(root), State(ours=False, voice="1", keys={}, move=hand.move)
    if len(parts) > 1:
        state.say(f"Only part {chosen + 1} of {len(parts)} is read.")
    tune = read_part(score, parts[chosen], state, lambda *at: _TabMeasure(hand, *at))
    bars = tuple(hand.bars)
    hands = {note.by for bar in bars for stroke in bar for note in stroke.notes}
    if not hands & set(PLUCKS.values()):
        state.say("The score does not say which finger strikes; that is worked out.")
    state.say("The melody is the highest note of each stroke, without drones and strums between. Check it on the desk.")
    return TabReading(tune, setup, bars, Finger.MIDDLE in hands, tuple(state.notices))


def _offset(part: Element, setup: Setup) -> int:
    """Semitones that the places sound above the written notes, without octaves; 0 where the score has none."""
    found: Counter[int] = Counter()
    for note in part.iterfind("measure/note"):
        with suppress(ValueError):  # told with its measure when that is read
            place, pitch = _place(note), note.find("pitch")
            if place is None or pitch is None or not 1 <= place.string <= setup.instrument.strings:
                continue
            written = Pitch(pitch.findtext("step", "C").strip(), 0, 4)
            alter = float(read_exact(pitch.findtext("alter", "0"), -4, 4))
            cents = float(setup.sounding_cents(_on_neck(setup, place)) - written.cents)
            found[round(cents / 100 - alter) % 12] += 1
    return found.most_common(1)[0][0] if found else 0


def _on_neck(setup: Setup, place: Place) -> Place:
    """The place, or the open string where there is no such fret: for a count only."""
    return place if place.fret <= setup.string(place.string).last_fret else Place(place.string, 0)


def _place(note: Element) -> Place | None:
    for technical in note.iterfind("notations/technical"):
        string, fret = technical.findtext("string"), technical.findtext("fret")
        if string and fret:
            return Place(read_whole(string, 0, 99, "string"), read_whole(fret, 0, 99, "fret"))
    return None


@dataclass(slots=True)
class _Hand:
    """What goes on from measure to measure: frets last struck, graces waiting, the melody note that is tied.

    `move` leads from written to sounding names: semitones, and steps on the line of fifths.
    """

    setup: Setup
    move: tuple[int, int]
    bars: list[EnteredBar] = field(default_factory=list)
    last: dict[int, int] = field(default_factory=dict)
    graces: dict[int, int] = field(default_factory=dict)
    tied: Place | None = None


class _TabMeasure(MeasureReader):
    """Walks a measure for what is fretted, whatever voice and staff it stands in."""

    def __init__(self, hand: _Hand, state: State, element: Element, index: int) -> None:
        super().__init__(state, element, index)
        self.hand = hand
        self.fretted: list[_Fretted] = []
        self.longest = Fraction(0)
        self.start = Fraction(0)

    def read(self) -> Measure:
        read = super().read()
        if not self.longest:
            return read
        strokes = _in_tuplets(list(self._strokes()))
        read.events = self._melody(strokes)
        self.hand.bars.append(tuple(strokes))
        return read

    def _read_attributes(self, element: Element) -> None:
        """Keys and chords go with the notes, from how they are written to how the places sound."""
        super()._read_attributes(element)
        self.state.move = self.hand.move
        if (key := element.find("key")) is not None:
            self.state.key = self._key(key)

    # -- notes as they come

    def _read_note(self, element: Element) -> None:
        place = _place(element)
        if element.find("cue") is not None:
            return
        if element.find("grace") is not None:
            if place:
                self.hand.graces[place.string] = place.fret
            return
        if element.find("chord") is None:
            self.start = self.at
            self.at += self._time(element.findtext("duration"))
            self.longest = max(self.longest, self.at)
        if place:
            self._fret(element, place, self._time(element.findtext("duration")))

    def _fret(self, element: Element, place: Place, duration: Time) -> None:
        setup = self.hand.setup
        if not 1 <= place.string <= setup.instrument.strings:
            raise MusicXmlError(
                f"Measure {self._number}: the {setup.instrument.name.lower()} has no string {place.string}."
            )
        last = setup.string(place.string).last_fret
        if not 0 <= place.fret <= last:
            raise MusicXmlError(
                f"Measure {self._number}: fret {place.fret} is not on string {place.string}, which has {last}."
            )
        place = self._by_pitch(element, place)
        technical = [sign for marks in element.iterfind("notations/technical") for sign in marks]
        tags = {sign.tag for sign in technical}
        finger = next((sign.text or "" for sign in technical if sign.tag == "fingering"), "").strip()
        by = next((PLUCKS.get((sign.text or "").strip()) for sign in technical if sign.tag == "pluck"), None)
        way = next((way for tag, way in BOWS.items() if tag in tags), None)
        swept = element.find("notations/arpeggiate") is not None
        goes_on = any(tie.get("type") == "stop" for tie in element.iterfind("tie"))
        self.fretted.append(
            _Fretted(
                self.start,
                duration,
                place,
                self._sounding(element, place),
                goes_on,
                self._starts_tie(element),
                int(finger) if finger in ("1", "2", "3", "4") else 0,
                by,
                way,
                swept,
                None if goes_on else self._slur(element, technical, place),
                0 if goes_on else _bend(technical),
                any(sign.tag == "harmonic" and sign.find("artificial") is None for sign in technical),
                self._tuplet(element),
                self._words(element),
                None if goes_on else read_shake(element),
            )
        )
        self.hand.last[place.string] = place.fret

    def _by_pitch(self, element: Element, place: Place) -> Place:
        """On frets that are no semitones a written pitch says more than a number that may count semitones."""
        setup, pitch = self.hand.setup, self._pitch(element)
        frets = setup.instrument.fret_cents
        if pitch is None or all(cents == 100 * at for at, cents in enumerate(frets)):
            return place
        if setup.holds(_on_neck(setup, place), pitch):
            return place
        same = [found for found in setup.places(setup.cents_of(pitch)) if found.string == place.string]
        return same[0] if same else place

    def _sounding(self, element: Element, place: Place) -> Pitch:
        """What the place sounds, spelt as it is written where that is the same note."""
        setup, written = self.hand.setup, self._pitch(element)
        on_neck = _on_neck(setup, place)
        if written is not None:
            for octave in (0, -12, 12):
                moved = transpose(written, octave, 0)
                if setup.holds(on_neck, moved):
                    return moved
        return tones_on(setup).name(setup.sounding_cents(on_neck), self.state.key)

    def _slur(self, element: Element, technical: Sequence[Element], place: Place) -> Slur | None:
        """What the left hand does to come here, from a grace or from the note before on the string."""
        grace = self.hand.graces.pop(place.string, None)
        start = self.hand.last.get(place.string) if grace is None else grace
        if start is None or start == place.fret:
            return None
        stops = {sign.tag for sign in technical if sign.get("type") == "stop"}
        slides = [sign for sign in element.iterfind("notations/slide") if sign.get("type") == "stop"]
        if slides or "slide" in stops:
            return Slur(Ornament.SLIDE, start, grace=grace is not None)
        if stops & {"hammer-on", "pull-off"} or grace is not None:
            ornament = Ornament.HAMMER if start < place.fret else Ornament.PULL
            return Slur(ornament, start, grace=grace is not None)
        return None

    @staticmethod
    def _tuplet(element: Element) -> Tuplet | None:
        ratio = tuplet_ratio(element)
        return Tuplet(*ratio, ratio[0]) if ratio else None

    # -- strokes of the measure

    def _strokes(self) -> Iterator[EnteredStroke]:
        """One stroke at every onset, a rest where nothing sounds any more; they fill the measure."""
        struck = [note for note in self.fretted if not note.goes_on or self._rings_in(note)]
        onsets = {note.onset for note in struck} | {Fraction(0)} | set(self._silences())
        times = sorted(onset for onset in onsets if onset < self.longest)
        for onset, end in zip(times, [*times[1:], self.longest], strict=True):
            here = {note.place.string: note for note in struck if note.onset == onset}
            notes = tuple(
                Entered(note.place, note.finger, note.by, note.slur, note.goes_on, note.bend, note.harmonic)
                for note in here.values()
            )
            tuplet = next((note.tuplet for note in here.values()), None)
            way = next((note.way for note in here.values() if note.way), None)
            shake = next((note.shake for note in here.values() if note.shake), None)
            swept = any(note.swept for note in here.values()) and (shake is None or shake.fills)
            yield EnteredStroke(onset, end - onset, notes, way, swept, tuplet, shake)

    def _rings_in(self, note: _Fretted) -> bool:
        """Is it the melody note of the measure before, going on?"""
        return note.onset == 0 and note.place == self.hand.tied

    def _silences(self) -> Iterator[Time]:
        """Where the last sounding note ends before the measure does or another begins."""
        until = Fraction(0)
        for note in sorted(self.fretted, key=lambda note: note.onset):
            if note.onset > until:
                yield until
            until = max(until, note.onset + note.duration)
        if until < self.longest:
            yield until

    # -- the melody among them

    def _melody(self, strokes: Sequence[EnteredStroke]) -> list[Event]:
        """Events that fill the measure: each melody note lasts until the next one, or until all is silent."""
        words = {note.onset: note.words for note in self.fretted if note.words}
        pitches = {note.place: note.pitch for note in self.fretted}
        events: list[Event] = []
        sounding: Place | None = None
        for stroke in strokes:
            note = self._top(stroke)
            if note is None and events and not stroke.tuplet and (stroke.notes or not events[-1].pitch):
                events[-1] = replace(events[-1], duration=events[-1].duration + stroke.duration)
            elif note is None:
                events.append(Event(stroke.onset, stroke.duration, tuplet=stroke.tuplet))
                sounding = None
            else:
                events.append(
                    Event(
                        stroke.onset,
                        stroke.duration,
                        pitches[note.place],
                        tuplet=stroke.tuplet,
                        words=words.get(stroke.onset, ()),
                    )
                )
                sounding = note.place
        ends = any(
            note.ties and note.place == sounding and note.onset + note.duration == self.longest for note in self.fretted
        )
        self.hand.tied = sounding if ends else None
        if ends:
            events[-1] = replace(events[-1], tied=True)
        return events

    def _top(self, stroke: EnteredStroke) -> Entered | None:
        """The melody note of a stroke, if it has one: of those in a tuplet all do."""
        setup = self.hand.setup
        held = [note for note in stroke.notes if note.held]
        if held or not stroke.notes:
            return held[0] if held else None
        drones = {string.number for string in setup.strings if string.drone}
        found = [note for note in stroke.notes if note.place.string not in drones or note.place.fret]
        beats = (Fraction(0),) if drones or self.state.metre.free else self.state.metre.beat_onsets
        if len(stroke.notes) >= _FULL and stroke.onset not in beats:
            found = []
        if not found and stroke.tuplet:
            found = list(stroke.notes)
        return max(found, key=lambda note: setup.sounding_cents(note.place), default=None)


def _in_tuplets(strokes: list[EnteredStroke]) -> list[EnteredStroke]:
    """The strokes with tuplets of the size they have: those of one ratio until they are back on the straight grid."""
    done: list[EnteredStroke] = []
    at = 0
    while at < len(strokes):
        ratio, stop, span = strokes[at].tuplet, at + 1, strokes[at].duration
        while ratio and stop < len(strokes) and span.denominator & (span.denominator - 1):
            span += strokes[stop].duration
            stop += 1
        whole = ratio is not None and not span.denominator & (span.denominator - 1) and stop - at > 1
        size = Tuplet(ratio.actual, ratio.normal, stop - at) if ratio and whole else None
        done += [replace(stroke, tuplet=size) for stroke in strokes[at:stop]]
        at = stop
    return done
