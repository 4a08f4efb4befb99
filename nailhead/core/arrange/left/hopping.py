"""A bass finger that hops to the fifth below the root: the same fret on the next string, as in a third bass of C."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from nailhead.core.arrange.left.held_shapes import HeldFrets
from nailhead.core.arrange.tones import Tones
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.chord import Chord

#: In semitones above a root.
FIFTH = 7


def hops(
    held: HeldFrets, chord: Chord | None, tones: Tones, strings: Collection[int], melody: int
) -> Mapping[int, tuple[int, int]]:
    """String -> (fret, finger) of the fifth that the finger on the chord's root comes to, where nothing is held.

    Root and fifth lie on the bass `strings`, and the `melody` does not sound on either.
    """
    setup, found = tones.setup, {}
    for string, fret in held.frets.items():
        below = string + 1
        if not fret or chord is None or melody in (string, below) or below in held.frets:
            continue
        if string not in strings or below not in strings or fret > setup.string(below).last_fret:
            continue
        root, fifth = (setup.sounding_cents(Place(one, fret)) for one in (string, below))
        if tones.is_root(root, chord) and tones.interval(fifth, chord) == FIFTH:
            found[below] = (fret, held.fingers[string])
    return found
