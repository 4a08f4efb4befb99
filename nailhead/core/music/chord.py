"""Chord symbols: root, quality, bass, and the pitch classes they ask for."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from nailhead.core.errors import TheoryError
from nailhead.core.music.pitch import PitchClass, parse_pitch_class

#: Quality as written -> semitones above the root. Spelling variants share a row's intervals.
QUALITIES: dict[str, tuple[int, ...]] = {
    "": (0, 4, 7),
    "m": (0, 3, 7),
    "7": (0, 4, 7, 10),
    "m7": (0, 3, 7, 10),
    "maj7": (0, 4, 7, 11),
    "6": (0, 4, 7, 9),
    "m6": (0, 3, 7, 9),
    "9": (0, 4, 7, 10, 2),
    "m9": (0, 3, 7, 10, 2),
    "add9": (0, 4, 7, 2),
    "sus4": (0, 5, 7),
    "sus2": (0, 2, 7),
    "7sus4": (0, 5, 7, 10),
    "5": (0, 7),
    "dim": (0, 3, 6),
    "dim7": (0, 3, 6, 9),
    "m7b5": (0, 3, 6, 10),
    "aug": (0, 4, 8),
    "mmaj7": (0, 3, 7, 11),
}
ALIASES = {
    "maj": "", "M": "", "min": "m", "mi": "m", "-": "m", "min7": "m7", "mi7": "m7", "-7": "m7",
    "M7": "maj7", "Maj7": "maj7", "sus": "sus4", "+": "aug", "o": "dim", "°": "dim", "o7": "dim7",
    "dom7": "7", "no3": "5", "ø": "m7b5", "m7♭5": "m7b5", "mM7": "mmaj7", "major": "", "minor": "m",
}  # fmt: skip
_SYMBOL = re.compile(r"([A-G])(#|♯|b|♭)?([^/]*)(?:/([A-G])(#|♯|b|♭)?)?")


@dataclass(frozen=True, slots=True)
class Chord:
    """A chord symbol. `quality` is a row of QUALITIES; `bass` is None unless written after a slash."""

    root: PitchClass
    quality: str = ""
    bass: PitchClass | None = None

    def __post_init__(self) -> None:
        if self.quality not in QUALITIES:
            raise TheoryError(f"“{self.quality}” is not a chord quality.", field="chord")

    @property
    def tones(self) -> frozenset[int]:
        """Pitch classes 0 to 11 that belong to the chord, the bass included."""
        tones = {(self.root.semitone + interval) % 12 for interval in QUALITIES[self.quality]}
        return frozenset(tones | ({self.bass.semitone} if self.bass else set()))

    @property
    def intervals(self) -> tuple[int, ...]:
        """Semitones of its tones above the root, the root first, without the bass."""
        return QUALITIES[self.quality]

    @property
    def minor(self) -> bool:
        return 3 in QUALITIES[self.quality] and 4 not in QUALITIES[self.quality]

    def __str__(self) -> str:
        return f"{self.root}{self.quality}" + (f"/{self.bass}" if self.bass else "")


@lru_cache(maxsize=1024)
def parse_chord(text: str) -> Chord:
    """Read "G", "Em7", "D7/F#", "Bb"; raises TheoryError for anything else."""
    match = _SYMBOL.fullmatch(text.strip())
    quality = ALIASES.get(match[3].strip("() "), match[3].strip("() ")) if match else None
    if not match or quality not in QUALITIES:
        raise TheoryError(
            f"“{text}” is not a chord this reads.",
            field="chord",
            remedy="Write a root and a quality: G, Em7, D7/F#.",
        )
    bass = parse_pitch_class(match[4] + (match[5] or "")) if match[4] else None
    return Chord(parse_pitch_class(match[1] + (match[2] or "")), quality, bass)


@lru_cache(maxsize=1024)
def transpose_chord(chord: Chord, fifths: int) -> Chord:
    """Move a chord along the line of fifths, spellings kept to single accidentals."""

    def moved(name: PitchClass) -> PitchClass:
        place = name.fifths + fifths
        while place > 8:
            place -= 12
        while place < -8:
            place += 12
        return PitchClass.from_fifths(place)

    return Chord(moved(chord.root), chord.quality, moved(chord.bass) if chord.bass else None)
