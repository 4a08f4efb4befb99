"""Natural harmonics: where an open string is touched, and what it sounds then.

A string touched at a half, a third or a quarter of its length sounds its second, third or fourth partial: an octave, an
octave and a fifth, two octaves above it open. The fifth is given as the frets have it; the partial lies 1.955 cents
above (1200 log2 3 = 1901.955), which no player corrects.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from fractions import Fraction

from nailhead.core.fretboard.setup import Place, Setup

#: Semitone of the neck over which the string is touched -> cents above it open, the fullest first.
NODES: Mapping[int, int] = {12: 1200, 7: 1900, 5: 2400}


def harmonic_cents(setup: Setup, place: Place) -> Fraction | None:
    """What a string sounds that is touched over a fret; None where that is no harmonic."""
    above = NODES.get(place.fret)
    return None if above is None else setup.sounding_cents(Place(place.string, 0)) + above


def harmonics_of(setup: Setup, cents: Fraction) -> Iterator[Place]:
    """The places whose harmonics have a pitch, the fullest first, of equals on the highest string."""
    for fret in NODES:
        for string in setup.strings:
            if not string.drone and fret <= string.last_fret:
                place = Place(string.number, fret)
                if harmonic_cents(setup, place) == cents:
                    yield place
