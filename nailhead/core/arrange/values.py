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
    """Why a note is there; the sheet draws each role in its own shape. FILL is a note of a named fill."""

    MELODY = "melody"
    CHORD = "chord"
    DRONE = "drone"
    FILL = "fill"


class Hand(StrEnum):
    """What sounds a stroke. DOWN and UP are strokes on one string, BRUSH runs over two or three.

    PINCH is two fingers together, told apart on their notes. LEFT is the left hand: a string that is hammered,
    pulled or slid to without being struck.
    """

    DOWN = "down"
    UP = "up"
    BRUSH = "brush"
    THUMB = "thumb"
    INDEX = "index"
    MIDDLE = "middle"
    PINCH = "pinch"
    LEFT = "left"


class Ornament(StrEnum):
    """What the left hand does to come to a note."""

    HAMMER = "hammer-on"
    PULL = "pull-off"
    SLIDE = "slide"


@dataclass(frozen=True, slots=True)
class Slur:
    """How a note is come to from another fret of its string.

    `start` is the fret it comes from. `slow` is a slide that takes two beats and is seen to move; a quick one lies
    inside the shortest count. `grace` marks a start that is no melody note: struck an instant before, so that the
    melody's own pitch is there at the onset.
    """

    ornament: Ornament
    start: int
    slow: bool = False
    grace: bool = False


@dataclass(frozen=True, slots=True)
class FrettedNote:
    """A note on a string. `finger` is 0 for an open string, 1 (index) to 4 (little).

    `held` marks the melody note of a tie that goes on sounding and is not struck again. `by` is the right-hand
    finger of a note in a pinch; everywhere else the stroke's hand says it.
    """

    place: Place
    pitch: Pitch
    role: Role
    finger: int = 0
    held: bool = False
    slur: Slur | None = None
    by: Hand | None = None


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
class KeptFinger:
    """A finger that stays down from `onset` because its place is struck again at `until`.

    `until` may be the bar's length: the place is wanted at once in the bar that follows.
    """

    place: Place
    finger: int
    onset: Time
    until: Time


@dataclass(frozen=True, slots=True)
class Moved:
    """A melody note taken elsewhere than in the bare melody, and why."""

    onset: Time
    usual: Place
    place: Place
    why: str


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
    """One written bar on one rung. `number` is the tune's; `patterns` name what the right hand plays, in order.

    `join` grades the step into the next bar in playing order. `remarks` say what was left out or moved, and why.
    `plainer` is the reason a bar plays less than its rung would; "" where it plays all of it.
    """

    number: int
    rung: int
    strokes: tuple[Stroke, ...]
    patterns: tuple[str, ...] = ()
    shapes: tuple[HeldShape, ...] = ()
    remarks: tuple[str, ...] = ()
    grade: Grade = Grade(1)
    join: Grade = Grade(1)
    kept: tuple[KeptFinger, ...] = ()
    moved: tuple[Moved, ...] = ()
    plainer: str = ""

    @property
    def length(self) -> Time:
        return self.strokes[-1].end
