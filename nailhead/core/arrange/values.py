"""What an arrangement is made of: notes on strings, strokes, bars."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from nailhead.core.fretboard.setup import Place
from nailhead.core.music.chord import Chord
from nailhead.core.music.metre import Time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.tune import Tuplet


class Role(StrEnum):
    """Why a note is there; the sheet draws each role in its own shape."""

    MELODY = "melody"
    CHORD = "chord"
    DRONE = "drone"


class Hand(StrEnum):
    """What the right hand does. DOWN and UP are strokes on one string, BRUSH runs over two or three."""

    DOWN = "down"
    UP = "up"
    BRUSH = "brush"
    THUMB = "thumb"
    INDEX = "index"
    MIDDLE = "middle"


@dataclass(frozen=True, slots=True)
class FrettedNote:
    """A note on a string. `finger` is 0 for an open string, 1 (index) to 4 (little).

    `held` marks the melody note of a tie that goes on sounding and is not struck again.
    """

    place: Place
    pitch: Pitch
    role: Role
    finger: int = 0
    held: bool = False


@dataclass(frozen=True, slots=True)
class Stroke:
    """What happens at one onset; strokes follow each other without a gap and fill the bar.

    `hand` is None for a rest (no notes) and for a held note.
    """

    onset: Time
    duration: Time
    notes: tuple[FrettedNote, ...] = ()
    hand: Hand | None = None
    tuplet: Tuplet | None = None

    @property
    def end(self) -> Time:
        return self.onset + self.duration


@dataclass(frozen=True, slots=True)
class HeldShape:
    """A chord shape kept down from `onset` on: (string, fret, finger) of each stopped string."""

    onset: Time
    duration: Time
    chord: Chord
    stops: tuple[tuple[int, int, int], ...]
    barre: bool = False


@dataclass(frozen=True, slots=True)
class Reason:
    """One named term of a grade: its points (10 make one grade) and the sentence a teacher reads."""

    term: str
    points: int
    sentence: str


@dataclass(frozen=True, slots=True)
class Grade:
    """1 (easiest) to 8, with its reasons, heaviest first."""

    value: int
    reasons: tuple[Reason, ...] = ()


@dataclass(frozen=True, slots=True)
class ArrangedBar:
    """One written bar on one rung. `number` is the tune's; `patterns` name what the right hand plays.

    `join` grades the step into the next bar in playing order. `remarks` say what was left out and why.
    """

    number: int
    rung: int
    strokes: tuple[Stroke, ...]
    patterns: tuple[str, ...] = ()
    shapes: tuple[HeldShape, ...] = ()
    remarks: tuple[str, ...] = ()
    grade: Grade = Grade(1)
    join: Grade = Grade(1)

    @property
    def length(self) -> Time:
        return self.strokes[-1].end
