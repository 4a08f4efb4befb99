"""What belongs to a chord, a scale or a drone on a setup, asked of one value in cents.

A note may sound beside the melody (rule H2) if it is in the chord of the moment, or if it is an open string at the
tonic or fifth of the key that is not a semitone from the chord's root (common practice: such a drone "rings through
almost everything"). Names have their own heights on an instrument with commas, so everything goes through the setup.
"""

from __future__ import annotations

from fractions import Fraction
from functools import lru_cache
from itertools import chain

from nailhead.core.arrange.values import FrettedNote
from nailhead.core.fretboard.harmonics import harmonic_cents
from nailhead.core.fretboard.setup import Setup
from nailhead.core.fretboard.shapes import tones_of
from nailhead.core.music.chord import Chord
from nailhead.core.music.key import Key, spell
from nailhead.core.music.pitch import STEPS, Pitch, PitchClass

_OCTAVE = 1200
#: What is a semitone from a root, in cents: on a saz a step of four to seven commas (weights ours).
_SEMITONE = (80, 160)
#: Octave in which names are measured; only the place within the octave counts.
_MIDDLE = 4
#: Most commas that a name carries.
_COMMAS = 8


class Tones:
    """The tones of one setup. Answers are kept: the same few are asked for again and again."""

    def __init__(self, setup: Setup) -> None:
        self.setup = setup
        self._chords: dict[Chord, frozenset[int]] = {}
        self._scales: dict[Key, frozenset[int]] = {}
        self._names: dict[tuple[Fraction, Key], Pitch] = {}
        self._classes: dict[PitchClass, int] = {}

    def in_chord(self, cents: Fraction, chord: Chord | None) -> bool:
        """Is a height (cents above C-1) a tone of the chord?"""
        if chord is None:
            return False
        if chord not in self._chords:
            self._chords[chord] = frozenset(tones_of(chord, self.setup))
        return _class(cents) in self._chords[chord]

    def in_scale(self, cents: Fraction, key: Key) -> bool:
        """Is it a note of the key, with the accidentals that are written beside it?"""
        if key not in self._scales:
            self._scales[key] = frozenset(self._scale(key))
        return _class(cents) in self._scales[key]

    def drones(self, cents: Fraction, chord: Chord | None, key: Key) -> bool:
        """May an open string of that height ring over the chord?"""
        if (_class(cents) - self._of(key.tonic)) % _OCTAVE not in (0, self._fifth(key)):
            return self.in_chord(cents, chord)
        if chord is None:
            return True
        away = (_class(cents) - self._of(chord.root)) % _OCTAVE
        return not any(
            low <= away <= high for low, high in (_SEMITONE, (_OCTAVE - _SEMITONE[1], _OCTAVE - _SEMITONE[0]))
        )

    def is_root(self, cents: Fraction, chord: Chord) -> bool:
        """Is it the chord's root, or the bass that the chord names?"""
        return _class(cents) == self._of(chord.bass or chord.root)

    def interval(self, cents: Fraction, chord: Chord) -> int:
        """How far above the chord's root a height lies within the octave, in semitones."""
        return round((_class(cents) - self._of(chord.root)) % _OCTAVE / 100) % 12

    def name(self, cents: Fraction, key: Key) -> Pitch:
        """The name of a height in a key: a note of its scale, else in as few commas as can be."""
        if (cents, key) not in self._names:
            self._names[cents, key] = self._spelt(cents, key)
        return self._names[cents, key]

    def _spelt(self, cents: Fraction, key: Key) -> Pitch:
        plain = spell(cents, key)
        if self.setup.cents_of(plain) == cents:
            return plain
        written = (
            Pitch(step, alter, plain.octave + octave, commas)
            for step in STEPS
            for alter, commas in (key.accidentals.get(step, (0, 0)),)
            for octave in (0, 1, -1)
        )
        near = (
            Pitch(step, alter, plain.octave + octave, commas)
            for commas in sorted(range(-_COMMAS, _COMMAS + 1), key=abs)
            for alter in (0, 1, -1)
            for octave in (0, 1, -1)
            for step in STEPS
        )
        return next((pitch for pitch in chain(written, near) if self.setup.cents_of(pitch) == cents), plain)

    def _of(self, name: PitchClass) -> int:
        if name not in self._classes:
            self._classes[name] = _class(self.setup.cents_of(Pitch(name.step, name.alter, _MIDDLE)))
        return self._classes[name]

    def _fifth(self, key: Key) -> int:
        """The fifth above the tonic, in cents as this instrument has it."""
        fifth = PitchClass.from_fifths(key.tonic.fifths + 1)
        simple = fifth if abs(fifth.alter) <= 2 else PitchClass.from_fifths(fifth.fifths - 12)
        return (self._of(simple) - self._of(key.tonic)) % _OCTAVE

    def _scale(self, key: Key) -> set[int]:
        found = set()
        for step in STEPS:
            alter, commas = key.accidentals.get(step, (0, 0))
            found.add(_class(self.setup.cents_of(Pitch(step, alter, _MIDDLE, commas))))
        return found


def _class(cents: Fraction) -> int:
    """The place within the octave, in whole cents: tones are further apart than that."""
    return int(cents) % _OCTAVE


def note_cents(setup: Setup, note: FrettedNote) -> Fraction:
    """What a note sounds in cents: its place stopped, or touched where it is a harmonic."""
    touched = harmonic_cents(setup, note.place) if note.harmonic else None
    return setup.sounding_cents(note.place) if touched is None else touched


@lru_cache(maxsize=256)
def tones_on(setup: Setup) -> Tones:
    """The tones of a setup, shared by all that ask."""
    return Tones(setup)
