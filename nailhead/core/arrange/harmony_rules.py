"""Which notes may sound beside the melody: rule H2.

A note belongs if it is in the chord of the moment, or if it is an open string at the tonic or fifth of
the key that is not a semitone from the chord's root (common practice: such a drone "rings through
almost everything").
"""

from __future__ import annotations

from fractions import Fraction

from nailhead.core.music.chord import Chord
from nailhead.core.music.key import Key


def pitch_class_of(cents: Fraction) -> int | None:
    """0 to 11, or None for a pitch between the semitones."""
    semitones, rest = divmod(cents, 100)
    return None if rest else int(semitones) % 12


def in_chord(cents: Fraction, chord: Chord | None) -> bool:
    return chord is not None and pitch_class_of(cents) in chord.tones


def tolerated_drone(cents: Fraction, chord: Chord | None, key: Key) -> bool:
    """May an open string of that pitch ring over the chord?"""
    sounding = pitch_class_of(cents)
    if sounding is None or (sounding - key.tonic.semitone) % 12 not in (0, 7):
        return in_chord(cents, chord)
    return chord is None or (sounding - chord.root.semitone) % 12 not in (1, 11)
