"""What a measure of a score holds once it has been read, and what goes on from one measure to the next."""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction

from nailhead.core.music.key import Key
from nailhead.core.music.metre import Metre, parse_metre
from nailhead.core.music.pitch import PitchClass
from nailhead.core.music.tune import ChordAt, Event, Tempo


@dataclass(slots=True)
class State:
    """What goes on from measure to measure. `quarters` is the first sounding tempo, in quarters a minute."""

    ours: bool
    voice: str
    keys: dict[int, Key]
    divisions: Fraction = Fraction(1)
    key: Key = field(default_factory=lambda: Key(PitchClass("C")))
    metre: Metre = field(default_factory=lambda: parse_metre("4/4"))
    move: tuple[int, int] = (0, 0)
    tempo: Tempo | None = None
    quarters: float = 0
    notices: list[str] = field(default_factory=list)

    def say(self, notice: str) -> None:
        """Note something left out, once."""
        if notice not in self.notices:
            self.notices.append(notice)


@dataclass(slots=True)
class Measure:
    """A measure as read; empty `events` where the voice is silent and has no rests."""

    events: list[Event] = field(default_factory=list)
    chords: list[ChordAt] = field(default_factory=list)
    metre: Metre | None = None
    key: Key | None = None
    part: str = ""
    opens_repeat: bool = False
    closes_repeat: int = 0
    endings: tuple[int, ...] = ()
    barline: str = "single"
    starts_line: bool = False
    ends_line: bool = False
