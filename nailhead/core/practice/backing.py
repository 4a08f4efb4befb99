"""Company to play with: bass, chords, a drone, a frame drum, by rows over the tune's chords (rows are common practice).

b  the chord's root in the bass     f  its fifth     c  the chord     d  tonic and fifth of the key, ringing
D  the drum's middle     t  its rim     .  rings on, or nothing

A row has a text for each kind of group; a figure over several groups is repeated until the bar is full. All of it is in
the key that sounds, as exact times within the bar and cents above C-1, and holds at every tempo.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from itertools import cycle

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.errors import PathError
from nailhead.core.fretboard.setup import Setup
from nailhead.core.fretboard.shapes import tones_of
from nailhead.core.music.chord import Chord
from nailhead.core.music.clock import clock_of
from nailhead.core.music.key import Key
from nailhead.core.music.metre import Metre, Time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.structure import chord_at

_OCTAVE = 1200
#: Lowest bass, chord and drone note, in cents: E2, E3 and C3, so that they keep below most melodies (ours).
LOWEST_BASS, LOWEST_CHORD, LOWEST_DRONE = 4000, 5200, 4800
#: Semitones of a fifth above its root, in cents.
_FIFTH = 700


class Part(StrEnum):
    """Who plays it."""

    BASS = "bass"
    CHORD = "chord"
    DRONE = "drone"
    DRUM = "drum"
    RIM = "rim"


@dataclass(frozen=True, slots=True)
class BackingNote:
    """What one player does at a moment of a bar, for how long; `cents` are the pitches, () for a drum."""

    onset: Time
    duration: Time
    part: Part
    cents: tuple[Fraction, ...]


@dataclass(frozen=True, slots=True)
class BackingRow:
    """A way to accompany: for a bar of twos, of threes, and each group of others by its size."""

    name: str
    twos: str = ""
    threes: str = ""
    groups: Mapping[int, str] | None = None

    def text(self, groups: tuple[int, ...]) -> str | None:
        """The signs of a bar, one a count; None where the row has nothing for such a bar."""
        if self.groups is not None:
            return "".join(self.groups[size] for size in groups)
        figure = {2: self.twos, 3: self.threes}.get(groups[0], "") if len(set(groups)) == 1 else ""
        counts = sum(groups)
        if not figure or (len(figure) > counts and figure[:counts] == "." * counts):
            return None
        return "".join(sign for sign, _ in zip(cycle(figure), range(counts), strict=False))


ROWS: tuple[BackingRow, ...] = (
    BackingRow("boom-chuck", "b.c.f.c.", "b.cf.c"),
    BackingRow("waltz", "b.c.c."),
    BackingRow("reel", "b.ccf.cc"),
    BackingRow("jig", "", "b.cf.c"),
    BackingRow("chop", "..c.", "..c"),
    BackingRow("long chords", "c.......", "c....."),
    BackingRow("drone", groups={2: "d.", 3: "d..", 4: "d..."}),
    BackingRow("frame drum", groups={2: "Dt", 3: "Dtt", 4: "D.tt"}),
)
_PARTS = {"b": Part.BASS, "f": Part.BASS, "c": Part.CHORD, "d": Part.DRONE, "D": Part.DRUM, "t": Part.RIM}


def rows_for(metre: Metre) -> tuple[BackingRow, ...]:
    """The rows that suit a metre, the usual one first: waltz in three, drum and drone where groups differ."""
    groups = clock_of(metre).groups
    fitting = [row for row in ROWS if row.text(groups) is not None]
    waltz = set(groups) == {2} and len(groups) % 3 == 0
    fitting = [row for row in fitting if waltz or row.name != "waltz"]
    usual = "waltz" if waltz else "jig" if set(groups) == {3} else "boom-chuck"
    return tuple(sorted(fitting, key=lambda row: row.name != usual))


def backing_of(ladder: Ladder, name: str) -> tuple[tuple[BackingNote, ...], ...]:
    """What a row plays in each written bar; raises PathError for one that is not there. Upbeats rest, and so do bass
    and chords where no chord is known.
    """
    row = next((row for row in ROWS if row.name == name), None)
    if row is None:
        known = ", ".join(row.name for row in ROWS)
        raise PathError(f"There is no backing “{name}”.", field="backing", remedy=f"Choose one of: {known}.")
    return tuple(tuple(_bar(ladder, index, row)) for index in range(len(ladder.tune.bars)))


def _bar(ladder: Ladder, index: int, row: BackingRow) -> Iterator[BackingNote]:
    bar, harmony = ladder.tune.bars[index], ladder.structure.harmony[index]
    clock = clock_of(bar.metre)
    text = row.text(clock.groups)
    if text is None or ladder.structure.offsets[index]:
        return
    setup = ladder.fit.setup
    begins = [at for at, sign in enumerate(text) if sign != "."]
    for at, following in zip(begins, [*begins[1:], len(text)], strict=True):
        onset = at * clock.count
        if onset >= bar.length:
            return
        length = min(following * clock.count, bar.length) - onset
        pitches = _pitches(setup, text[at], chord_at(harmony, onset), ladder.fit.sounding_key)
        if pitches is not None:
            yield BackingNote(onset, length, _PARTS[text[at]], pitches)


def _pitches(setup: Setup, sign: str, chord: Chord | None, key: Key) -> tuple[Fraction, ...] | None:
    """The pitches of a sign in cents; None where there is no chord for it."""
    if sign in "Dt":
        return ()
    if sign == "d":
        tonic = setup.cents_of(Pitch(key.tonic.step, key.tonic.alter, 4)) % _OCTAVE
        return _above(LOWEST_DRONE, tonic), _above(LOWEST_DRONE, tonic + _FIFTH)
    if chord is None:
        return None
    tones = tones_of(chord, setup)
    if sign == "c":
        return tuple(sorted(_above(LOWEST_CHORD, tone) for tone in tones))
    fifth = next((tone for tone in tones if (tone - tones[0]) % _OCTAVE == _FIFTH), tones[-1])
    return (_above(LOWEST_BASS, fifth if sign == "f" else tones[0]),)


def _above(lowest: int, tone: Fraction | int) -> Fraction:
    """The first height at or above a lowest one with a place in the octave."""
    return Fraction(lowest + (tone - lowest) % _OCTAVE)
