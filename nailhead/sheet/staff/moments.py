"""What stands on the staff: the melody alone, or every note that is played, at the pitch it is written at."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.values import FrettedNote
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.key import Key, spell, transpose_key
from nailhead.core.music.metre import Time
from nailhead.core.music.notation import NoteValue, note_values
from nailhead.core.music.pitch import Pitch, transpose
from nailhead.core.music.tune import Tuplet
from nailhead.sheet.beaming import Printed
from nailhead.sheet.passages import Item

#: Below this open string (G3) an instrument is written an octave above its sound (common practice).
_LOW = Fraction(5500)


@dataclass(frozen=True, slots=True)
class Moment(Printed):
    """A printed chord, note or rest: written `pitches`, lowest first; `ties` lead on from those pitches,
    `tied` come from the printed note before. `graces` are struck just before it."""

    pitches: tuple[Pitch, ...] = ()
    ties: tuple[Pitch, ...] = ()
    tied: tuple[Pitch, ...] = ()
    graces: tuple[Pitch, ...] = ()


@dataclass(frozen=True, slots=True)
class Writing:
    """How sounding pitches are written: as the hands play behind a capo, low instruments an octave up; for the voice,
    without a setup, as they are.
    """

    setup: Setup | None
    fifths: int
    key: Key

    @property
    def octave_up(self) -> bool:
        if self.setup is None:
            return False
        return min(string.open_cents for string in self.setup.strings) - 100 * self.setup.raised < _LOW

    @property
    def clef(self) -> str:
        return "gClef8vb" if self.octave_up else "gClef"

    def pitch(self, sounding: Pitch) -> Pitch:
        raised = self.setup.raised if self.setup else 0
        return transpose(sounding, 12 * self.octave_up - raised, self.fifths)

    def signature(self, key: Key) -> Key:
        return transpose_key(key, self.fifths)

    def start(self, note: FrettedNote) -> Pitch:
        """Where the ornament of a note comes from."""
        assert note.slur and self.setup
        place = Place(note.place.string, note.slur.start)
        return self.pitch(spell(self.setup.sounding_cents(place), self.key))


def writing_of(ladder: Ladder) -> Writing:
    return Writing(ladder.fit.setup, ladder.fit.shape_fifths, ladder.fit.sounding_key)


def melody_moments(item: Item, writing: Writing) -> list[Moment]:
    """The written melody of a bar with its graces."""
    found: list[Moment] = []
    events = item.written.events
    for at, event in enumerate(events):
        pitches = (writing.pitch(event.pitch),) if event.pitch else ()
        before = events[at - 1] if at else None
        joined = bool(before.tied and before.pitch == event.pitch) if before else item.held
        found += _pieces(
            event.onset,
            note_values(event.duration, event.tuplet),
            event.tuplet,
            pitches,
            pitches if event.tied else (),
            pitches if joined else (),
            tuple(writing.pitch(grace) for grace in event.grace),
        )
    return found


def played_moments(item: Item, writing: Writing) -> list[Moment]:
    """Every stroke of a bar; an ornament's start is a grace, a held melody note is tied."""
    found: list[Moment] = []
    strokes = item.bar.strokes
    held = [{note.pitch for note in stroke.notes if note.held} for stroke in strokes]
    for at, stroke in enumerate(strokes):
        notes = {writing.pitch(note.pitch): note for note in stroke.notes}
        pitches = tuple(sorted(notes, key=lambda pitch: (pitch.diatonic, pitch.cents)))
        onward = held[at + 1] if at + 1 < len(strokes) else item.rings_on
        found += _pieces(
            stroke.onset,
            note_values(stroke.duration, stroke.tuplet),
            stroke.tuplet,
            pitches,
            tuple(pitch for pitch in pitches if notes[pitch].pitch in onward),
            tuple(pitch for pitch in pitches if notes[pitch].held),
            tuple(writing.start(note) for note in stroke.notes if note.slur and note.slur.grace),
        )
    return found


def _pieces(
    onset: Time,
    values: tuple[NoteValue, ...],
    tuplet: Tuplet | None,
    pitches: tuple[Pitch, ...],
    ties: tuple[Pitch, ...],
    tied: tuple[Pitch, ...],
    graces: tuple[Pitch, ...],
) -> list[Moment]:
    """The printed notes of one sounding one, tied among themselves."""
    found = []
    for at, value in enumerate(values):
        leads_on = ties if at + 1 == len(values) else pitches
        comes_from = pitches if at else tied
        first_graces = () if at else graces
        found.append(
            Moment(onset, value, not pitches, bool(leads_on), tuplet, pitches, leads_on, comes_from, first_graces)
        )
        onset += value.duration
    return found
