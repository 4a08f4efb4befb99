"""What one bar's arrangement depends on: its melody in segments with their places, its harmony, what comes after."""

from __future__ import annotations

from dataclasses import dataclass

from nailhead.core.arrange.clock import clock_of
from nailhead.core.arrange.left.held_shapes import ShapeBook
from nailhead.core.arrange.left.placing import Spot
from nailhead.core.arrange.tones import Tones
from nailhead.core.fretboard.setup import Setup
from nailhead.core.music.key import Key
from nailhead.core.music.metre import Time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.structure import HarmonySpan
from nailhead.core.music.tune import Bar, Tuplet


@dataclass(frozen=True, slots=True)
class Segment:
    """A stretch of one bar's melody: a note (ties within the bar joined) or a rest (`spot` None).

    `held` when it carries on a note from the bar before; `fill` for a note of a named fill, which is no melody.
    """

    onset: Time
    duration: Time
    pitch: Pitch | None
    spot: Spot | None
    held: bool = False
    tuplet: Tuplet | None = None
    fill: bool = False


#: Melody places of a bar, one a segment; None for rests.
Spots = tuple[Spot | None, ...]


@dataclass(frozen=True)
class BarContext:
    """Everything one bar's arrangement depends on; equal contexts give equal bars.

    `cadence` marks a bar that ends a phrase, `lead_in` the melody pitch that follows it. `drones` are strings that
    ring open whatever the chord.
    """

    shapes: ShapeBook
    key: Key
    bar: Bar
    offset: Time
    segments: tuple[Segment, ...]
    harmony: tuple[HarmonySpan, ...]
    cadence: bool = False
    lead_in: Pitch | None = None
    drones: tuple[int, ...] = ()

    @property
    def setup(self) -> Setup:
        return self.shapes.setup

    @property
    def tones(self) -> Tones:
        return self.shapes.tones

    @property
    def count(self) -> Time:
        """The shortest stroke of the bar's metre."""
        return clock_of(self.bar.metre).count
