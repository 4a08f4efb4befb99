"""What an arrangement is made of: notes on strings, strokes, bars."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from enum import StrEnum

from nailhead.core.fretboard.setup import Place
from nailhead.core.music.chord import Chord
from nailhead.core.music.layers import Layer
from nailhead.core.music.metre import Time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.tune import Tuplet


class Role(StrEnum):
    """Why a note is there; the sheet draws each role in its own shape. FILL is a note of a named fill."""

    MELODY = "melody"
    CHORD = "chord"
    DRONE = "drone"
    FILL = "fill"


class Finger(StrEnum):
    """What strikes. NAIL is the back of whichever finger's nail strikes down in clawhammer."""

    THUMB = "thumb"
    INDEX = "index"
    MIDDLE = "middle"
    RING = "ring"
    NAIL = "nail"
    PICK = "pick"

    # A key in the innermost loops; the hash of an enumeration is made anew each time.
    __hash__ = str.__hash__


class Way(StrEnum):
    """How a touch goes: a pick, a nail or a thumb swings DOWN or UP, a finger PLUCKs or SLAPs, or plucks under a palm
    that DAMPs the string.

    DRAG is a nail that runs on over the next string in the movement it is in; a PLUCK by no finger of the right hand
    is the left hand's, on a string that was not struck. LEFT is the left hand by itself: a string that is hammered,
    pulled or slid to without being struck. RINGS is no touch at all: the melody note of a tie that goes on sounding.
    """

    DOWN = "down"
    UP = "up"
    DRAG = "drag"
    PLUCK = "pluck"
    SLAP = "slap"
    DAMP = "damp"
    LEFT = "left"
    RINGS = "rings"


class Trembling(StrEnum):
    """Ways to shake a note: struck again and again, once more and quickly, or against a fret above; and a chord whose
    strings follow one another.
    """

    TREMOLO = "tremolo"
    TREBLE = "treble"
    TRILL = "trill"
    ROLLED = "rolled"


class Ornament(StrEnum):
    """What the left hand does to come to a note; a BEND pushes the string aside behind its onset."""

    HAMMER = "hammer-on"
    PULL = "pull-off"
    SLIDE = "slide"
    BEND = "bend"


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
    """A note on a string. `finger` is the left hand's: 0 for an open string, 1 (index) to 4 (little).

    `held` marks the melody note of a tie that goes on sounding and is not struck again; `optional` a note that may be
    left out and leaves the melody whole. `bend` is how far the string is pushed up behind the onset, in cents. A
    `harmonic` is touched over its fret, not stopped.
    """

    place: Place
    pitch: Pitch
    role: Role
    finger: int = 0
    held: bool = False
    slur: Slur | None = None
    optional: bool = False
    bend: int = 0
    harmonic: bool = False


#: A touch as loud as any other, in percent.
PLAIN = 100


@dataclass(frozen=True, slots=True)
class Touch:
    """One finger's (or the pick's) movement over one string, or several in a strum: DOWN runs towards string 1.

    `by` is None where nothing strikes: Way.LEFT and Way.RINGS. `loudness` in percent of what the notes' roles ask;
    a `muted` touch is heard without pitch.
    """

    by: Finger | None
    way: Way
    notes: tuple[FrettedNote, ...] = ()
    loudness: int = PLAIN
    muted: bool = False

    @property
    def struck(self) -> bool:
        """Does the right hand do anything?"""
        return self.by is not None

    @property
    def left_pluck(self) -> bool:
        """Is it the left hand that plucks a string?"""
        return self.by is None and self.way is Way.PLUCK

    @property
    def signed(self) -> bool:
        """Is it written what strikes here?"""
        return self.struck or self.left_pluck


@dataclass(frozen=True, slots=True)
class Shake:
    """A stroke that is shaken; `fret` is the other one of a trill, on the string of its melody note."""

    trembling: Trembling
    fret: int | None = None

    @property
    def fills(self) -> bool:
        """Is the stroke's whole time filled?"""
        return self.trembling is not Trembling.ROLLED


@dataclass(frozen=True, slots=True)
class Stroke:
    """What happens at one onset; strokes follow each other without a gap and fill the bar.

    A pinch is two touches, a strum one over several notes; without a touch the stroke is a rest.
    """

    onset: Time
    duration: Time
    touches: tuple[Touch, ...] = ()
    tuplet: Tuplet | None = None
    shake: Shake | None = None
    #: The notes of all touches, in their order.
    notes: tuple[FrettedNote, ...] = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        notes = tuple(note for touch in self.touches for note in touch.notes)
        object.__setattr__(self, "notes", notes)

    @property
    def end(self) -> Time:
        return self.onset + self.duration

    @property
    def struck(self) -> bool:
        """Does the right hand strike? Not in a rest, a held note, or one that the left hand sounds."""
        return any(touch.by is not None for touch in self.touches)

    @property
    def sounded(self) -> bool:
        """Does anything begin to sound, by either hand?"""
        return any(touch.way is not Way.RINGS for touch in self.touches)

    @property
    def slurred(self) -> bool:
        """Is it the left hand alone that sounds it?"""
        return bool(self.touches) and all(touch.way is Way.LEFT for touch in self.touches)

    @property
    def fingers(self) -> tuple[Finger, ...]:
        """Everything that strikes, each finger once."""
        if len(self.touches) == 1:
            by = self.touches[0].by
            return (by,) if by else ()
        return tuple(dict.fromkeys(touch.by for touch in self.touches if touch.by))

    @property
    def swept(self) -> bool:
        """Does one touch run over several strings?"""
        return any(touch.by is not None and len(touch.notes) > 1 for touch in self.touches)

    @property
    def dragged(self) -> bool:
        """Does a nail run on to it from the string before?"""
        return any(touch.way is Way.DRAG for touch in self.touches)

    def with_notes(self, change: Callable[[FrettedNote], FrettedNote]) -> Stroke:
        """The same touches with every note changed."""
        touches = tuple(replace(touch, notes=tuple(map(change, touch.notes))) for touch in self.touches)
        return replace(self, touches=touches)


def single(by: Finger | None, way: Way, *notes: FrettedNote) -> tuple[Touch, ...]:
    """The touches of a stroke that is one movement."""
    return (Touch(by, way, notes),)


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
    `plainer` is the reason a bar plays less than its rung would; "" where it plays all of it. `layer` is how much of
    the melody the rung plays at least; `early` are the melody notes struck elsewhere than the tune has them, as
    (onset here, onset in the tune).
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
    layer: Layer = Layer.FULL
    early: tuple[tuple[Time, Time], ...] = ()

    @property
    def length(self) -> Time:
        return self.strokes[-1].end

    @property
    def tune_onsets(self) -> frozenset[Time]:
        """Where the tune has the melody notes that begin to sound in the bar."""
        early = dict(self.early)
        return frozenset(
            early.get(stroke.onset, stroke.onset)
            for stroke in self.strokes
            for note in stroke.notes
            if note.role is Role.MELODY and not note.held
        )
