"""What one bar's arrangement depends on: its melody in segments with their places, its harmony, what comes after."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from math import lcm
from typing import NamedTuple

from nailhead.core.arrange.left.held_shapes import ShapeBook
from nailhead.core.arrange.left.placing import Spot
from nailhead.core.arrange.tones import Tones
from nailhead.core.arrange.values import Slur
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.music.chord import Chord
from nailhead.core.music.clock import clock_of
from nailhead.core.music.key import Key
from nailhead.core.music.metre import Time
from nailhead.core.music.pitch import Pitch
from nailhead.core.music.structure import HarmonySpan
from nailhead.core.music.tune import Bar, Tuplet


@dataclass(frozen=True, slots=True)
class Segment:
    """A stretch of one bar's melody: a note (ties within the bar joined) or a rest (`spot` None).

    `held` when it carries on a note from the bar before; `fill` for a note of a named fill, which is no melody. `own`
    is where the tune itself has the note, where that is elsewhere; `grace` how a note of a fill is come to, `bend` how
    far it is pushed up, in cents.
    """

    onset: Time
    duration: Time
    pitch: Pitch | None
    spot: Spot | None
    held: bool = False
    tuplet: Tuplet | None = None
    fill: bool = False
    own: Time | None = None
    grace: Slur | None = None
    bend: int = 0

    @property
    def source(self) -> Time:
        """The note's own onset in the tune."""
        return self.onset if self.own is None else self.own


#: Melody places of a bar, one a segment; None for rests.
Spots = tuple[Spot | None, ...]


class Ticks(NamedTuple):
    """A bar in whole ticks, `per_count` to a count of the clock, from the start of the full bar: an upbeat begins late.

    `starts` are those of the segments, `changes` those of the harmony.
    """

    per_count: int
    start: int
    end: int
    starts: tuple[int, ...]
    changes: tuple[int, ...]


@dataclass(frozen=True)
class BarContext:
    """Everything one bar's arrangement depends on; equal contexts give equal bars.

    `cadence` marks a bar that ends a phrase, `lead_in` the melody pitch that follows it. `drones` are strings that
    ring open whatever the chord, `strings` those that are stopped, () all. Where it `stops`, nothing is struck but the
    melody. `next_chord` is what a bass run leads to: that of the bar behind, where it is another.
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
    strings: tuple[int, ...] = ()
    stops: bool = False
    next_chord: Chord | None = None

    @property
    def setup(self) -> Setup:
        return self.shapes.setup

    @property
    def tones(self) -> Tones:
        return self.shapes.tones

    def places(self, cents: Fraction) -> tuple[Place, ...]:
        """Where a pitch is played on the strings that are stopped."""
        found = self.setup.places(cents)
        return tuple(place for place in found if place.string in self.strings) if self.strings else found

    @cached_property
    def out_of_tune(self) -> tuple[str, ...]:
        """What is said of the melody notes for which no fret is in tune, once each."""
        if not self.setup.instrument.commas:
            return ()
        return tuple(dict.fromkeys(filter(None, map(self._off, self.segments))))

    def _off(self, part: Segment) -> str:
        if part.spot is None or part.pitch is None:
            return ""
        place = part.spot.place
        off = self.setup.commas_off(place, part.pitch)
        where = f"string {place.string} fret {self.setup.fret_name(place.fret)}"
        way = "high" if off > 0 else "low"
        return f"{part.pitch.name} is a comma {way} on {where}: no fret has it in tune." if off else ""

    @cached_property
    def ticks(self) -> Ticks:
        """The fewest ticks in which everything in the bar begins on one."""
        clock = clock_of(self.bar.metre).count
        starts = [(self.offset + part.onset) / clock for part in self.segments]
        bounds = [self.offset / clock, (self.offset + self.bar.length) / clock]
        changes = [(self.offset + span.onset) / clock for span in self.harmony]
        count = lcm(*(time.denominator for time in starts + bounds + changes))
        start, end = (int(time * count) for time in bounds)
        whole = (tuple(int(time * count) for time in times) for times in (starts, changes))
        return Ticks(count, start, end, *whole)

    @property
    def count(self) -> Time:
        """The shortest stroke of the bar's metre."""
        return clock_of(self.bar.metre).count
