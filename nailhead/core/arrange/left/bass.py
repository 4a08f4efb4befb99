"""Where the bass of a chord lies: its root, and what goes in turn with it."""

from __future__ import annotations

from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.fretboard.shapes import tones_of
from nailhead.core.music.chord import Chord

#: Highest fret of a bass note, and of the lowest stop of a shape that goes with it.
HIGHEST = 5
_OCTAVE = 1200


def bass_place(setup: Setup, chord: Chord, other: bool) -> Place | None:
    """The lowest root on the bass half of the strings; with `other` the fifth (else the third) on the lowest fret."""
    root = tones_of(Chord(chord.root if other or not chord.bass else chord.bass), setup)[0]
    found = _places(setup, root)
    if not other:
        return min(found, key=setup.sounding_cents, default=None)
    tones = dict(zip(chord.intervals, tones_of(chord, setup), strict=False))
    wanted = next((tones[step] for step in (7, 6, 8, 4, 3) if step in tones), root)
    low = min(found, key=setup.sounding_cents, default=None)
    others = [place for place in _places(setup, wanted) if place != low]
    if low is None:
        return min(others, key=setup.sounding_cents, default=None)
    return min(others, key=lambda place: (place.fret, abs(place.string - low.string)), default=low)


def _places(setup: Setup, tone: int) -> list[Place]:
    strings = [string for string in setup.strings if not string.drone]
    bass = strings[len(strings) // 2 :]
    return [
        Place(string.number, fret)
        for string in bass
        for fret in range(min(HIGHEST, string.last_fret) + 1)
        if int(setup.sounding_cents(Place(string.number, fret))) % _OCTAVE == tone
    ]
