"""One bar on the right hand's clock: where melody notes begin, what the left hand holds, what may be filled in.

Inside a bar time is counted in whole ticks, `count` of them to a count of the clock, so that the search adds integers.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterator, Mapping
from itertools import cycle
from typing import Any, NamedTuple

from nailhead.core.arrange.left.context import BarContext, Spots
from nailhead.core.arrange.left.held_shapes import HeldFrets
from nailhead.core.arrange.left.hopping import hops
from nailhead.core.arrange.left.placing import Spot
from nailhead.core.arrange.rows.costs import COSTS
from nailhead.core.arrange.values import Role
from nailhead.core.fretboard.setup import Place
from nailhead.core.fretboard.shapes import Shape
from nailhead.core.music.chord import Chord
from nailhead.core.music.clock import Clock, clock_of
from nailhead.core.music.metre import Time
from nailhead.core.music.structure import HarmonySpan


class Filler(NamedTuple):
    """What a string offers beside the melody: its fret, why it belongs, its cost; whether the melody rings on it."""

    fret: int
    role: Role
    cost: int
    rings: bool


class Window(NamedTuple):
    """A stretch of a bar: where melody notes begin in it; whether anything begins off the clock or rests there.

    `held_through` when nothing begins after its first tick.
    """

    onsets: tuple[int, ...]
    off_clock: bool
    silent: bool
    held_through: bool


class LooseEnd(NamedTuple):
    """From `low` to `high` lies what a bar has of a pulse group that begins at `group` and has `size` counts."""

    low: int
    high: int
    group: int
    size: int


class Grid:
    """A bar in ticks. They run from the start of the full bar, so an upbeat begins late.

    `spots` places the melody (the placement's own, or moved); `shapes` are the chords held, by their span. It is `full`
    where no beat is missing.
    """

    def __init__(self, context: BarContext, spots: Spots, shapes: Mapping[HarmonySpan, Shape]) -> None:
        self.context = context
        self.spots = spots
        self.shapes = shapes
        self.clock: Clock = clock_of(context.bar.metre)
        self.count, self.start, self.end, self.starts, changes = context.ticks
        self.onsets: dict[int, int] = {
            at: index
            for index, (at, part) in enumerate(zip(self.starts, context.segments, strict=True))
            if part.spot is not None and not part.held
        }
        self.full = self.end - self.start >= context.bar.metre.length / self.clock.count * self.count
        self.groups = self._groups()
        self.sizes = tuple(size for _, size in self.groups)
        self.beats = frozenset(low for low, _ in self.groups)
        on_counts = {at // self.count for at in self.onsets}
        self.has_holes = any(
            low // self.count + place not in on_counts for low, size in self.groups for place in range(size)
        )
        self.in_twos = set(self.clock.groups) == {2}
        self.has_off_beat = any(at not in self.beats for at in self.onsets)
        self._ticks = self.count / self.clock.count  # to a whole note
        self._tick = self.clock.count / self.count
        self._times: dict[int, Time] = {}
        self._windows: dict[tuple[int, int], Window] = {}
        self.changes = changes
        self._spans = list(zip(changes, context.harmony, strict=True))
        #: Rows already solved on this grid, by what a search through them depends on; kept by the fitter.
        self.solved: dict[object, Any] = {}
        #: What a slot may be at a tick, by the slot and the tick; kept by the fitter too.
        self.lanes: dict[object, Any] = {}
        self._hands: dict[tuple[int, int], HeldFrets] = {}
        self._fillers: dict[tuple[int, int], dict[int, Filler]] = {}
        self._untaken: dict[tuple[int, bool], dict[int, Filler]] = {}

    def tick(self, onset: Time) -> int:
        """The tick of a time in the bar."""
        return self.start + onset.numerator * self._ticks.numerator // (onset.denominator * self._ticks.denominator)

    def time(self, at: int) -> Time:
        """The time in the bar of a tick."""
        if at not in self._times:
            self._times[at] = (at - self.start) * self._tick
        return self._times[at]

    def _bounds(self) -> Iterator[tuple[int, int]]:
        """(start, counts) of the pulse groups from the start of the full bar to beyond the end of this one."""
        low = 0
        for size in cycle(self.clock.groups):
            yield low, size
            low += size * self.count
            if low >= self.end:
                return

    def _groups(self) -> tuple[tuple[int, int], ...]:
        """(start, counts) of the pulse groups that lie wholly in the bar."""
        return tuple(
            (low, size) for low, size in self._bounds() if low >= self.start and low + size * self.count <= self.end
        )

    def size(self, at: int) -> int:
        """How many counts the pulse group around a tick has; 0 in a loose end."""
        return next((size for low, size in self.groups if low <= at < low + size * self.count), 0)

    def loose(self) -> tuple[LooseEnd, ...]:
        """What the bar has of groups that do not lie wholly in it: upbeats, and what is left of odd bars."""
        ends = ((low, low + size * self.count, size) for low, size in self._bounds())
        return tuple(
            LooseEnd(max(low, self.start), min(high, self.end), low, size)
            for low, high, size in ends
            if (low < self.start or high > self.end) and max(low, self.start) < min(high, self.end)
        )

    def place_in_bar(self, low: int) -> int:
        """How many pulse groups of the full bar lie before a tick."""
        place, at = 0, 0
        while at < low:
            at += self.clock.groups[place % len(self.clock.groups)] * self.count
            place += 1
        return place % len(self.clock.groups)

    def sounding(self, at: int) -> int:
        """Index of the segment that sounds (or rests) at a tick."""
        return bisect_right(self.starts, at) - 1

    def window(self, low: int, high: int) -> Window:
        """What the melody does between two ticks."""
        key = (low, high)
        if key not in self._windows:
            parts = self.context.segments
            ends = [*self.starts[1:], self.end]
            inside = [(at, part) for at, part in zip(self.starts, parts, strict=True) if low <= at < high]
            self._windows[key] = Window(
                tuple(at for at in self.onsets if low <= at < high),
                any(at % self.count or part.tuplet or (part.held and at != self.start) for at, part in inside),
                any(
                    part.spot is None and at < high and end > low
                    for part, at, end in zip(parts, self.starts, ends, strict=True)
                ),
                all(at == low for at in self.onsets if low <= at < high),
            )
        return self._windows[key]

    def _span(self, at: int) -> int:
        return bisect_right(self.changes, at) - 1

    def chord(self, at: int) -> Chord | None:
        """The chord of the moment."""
        return self._spans[self._span(at)][1].chord

    def hand(self, at: int) -> HeldFrets:
        """What the left hand holds at a tick: the melody note with as much of the shape as can stay down."""
        key = (self.sounding(at), self._span(at))
        if key not in self._hands:
            self._hands[key] = self._hold(self.spots[key[0]], self.shapes.get(self._spans[key[1]][1]))
        return self._hands[key]

    def _hold(self, spot: Spot | None, shape: Shape | None) -> HeldFrets:
        if spot is None:
            return HeldFrets(dict(shape.frets), dict(shape.fingers)) if shape else HeldFrets({}, {})
        held = self.context.shapes.together(shape, spot.place) if shape else None
        if held:
            return held
        place = spot.place
        return HeldFrets({place.string: place.fret}, {place.string: spot.finger} if place.fret else {})

    def hops(self, at: int) -> Mapping[int, tuple[int, int]]:
        """(fret, finger) of the strings that a bass finger hops to."""
        book, spot = self.context.shapes, self.spots[self.sounding(at)]
        if not book.left.hops:
            return {}
        melody = spot.place.string if spot else 0
        return hops(self.hand(at), self.chord(at), book.tones, book.left.roots, melody)

    def finger(self, at: int, string: int) -> int:
        """Which finger of the left hand stops a string beside the melody; 0 for none."""
        return self.hand(at).fingers.get(string, 0) or self.hops(at).get(string, (0, 0))[1]

    def fillers(self, at: int, place_only: bool = False) -> dict[int, Filler]:
        """The strings that may sound beside the melody at a tick (rule H2), but for the one the melody strikes next.

        A filler never takes the string that the melody comes to one count later, with `place_only` never its place.
        """
        following = self.onsets.get(at + self.count)
        spot = self.spots[following] if following is not None else None
        if spot is None:
            return self._belonging(at)
        if (at, place_only) not in self._untaken:
            offered, place = self._belonging(at), spot.place
            self._untaken[at, place_only] = {
                number: filler
                for number, filler in offered.items()
                if number != place.string or (place_only and filler.fret != place.fret)
            }
        return self._untaken[at, place_only]

    def _belonging(self, at: int) -> dict[int, Filler]:
        """The strings that may sound beside the melody at a tick."""
        key = (self.sounding(at), self._span(at))
        if key not in self._fillers:
            self._fillers[key] = self._offer(at)
        return self._fillers[key]

    def _offer(self, at: int) -> dict[int, Filler]:
        held, spot = self.hand(at), self.spots[self.sounding(at)]
        context, chord = self.context, self.chord(at)
        setup, tones = context.setup, context.tones
        offered: dict[int, Filler] = {}
        reached = self.hops(at)
        for string in setup.strings:
            number, fret = string.number, held.frets.get(string.number, 0)
            if number in reached:
                offered[number] = Filler(reached[number][0], Role.CHORD, COSTS["hop"], False)
                continue
            cents = setup.sounding_cents(Place(number, fret))
            rings = bool(spot and spot.place.string == number)
            if string.drone or (number in context.drones and not fret):
                if fret == 0 and (number in context.drones or tones.drones(cents, chord, context.key)):
                    offered[number] = Filler(0, Role.DRONE, 0, rings)
            elif tones.in_chord(cents, chord):
                offered[number] = Filler(fret, Role.CHORD, 0, rings)
            elif fret == 0 and tones.drones(cents, chord, context.key):
                offered[number] = Filler(0, Role.DRONE, COSTS["drone"], rings)
        return offered
