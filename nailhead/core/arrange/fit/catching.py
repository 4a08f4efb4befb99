"""Catching the notes between the beats, where the finger that strikes falls on beats by nature (clawhammer).

What comes between is sounded by the left hand, is the drone string's own pitch, or the thumb drops to it; what none of
these reaches waits, or is left out with a remark. A shortest path over the bar's notes, their places and how each is
sounded, exact for the prices below.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Mapping
from dataclasses import dataclass
from typing import NamedTuple

from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.fit.moving import DRONE_SOUNDS, HIGHEST, Placing, spot_near, usual
from nailhead.core.arrange.left.context import BarContext
from nailhead.core.arrange.left.layered import Kept
from nailhead.core.arrange.left.ornaments import may_slur
from nailhead.core.arrange.left.placing import Spot
from nailhead.core.arrange.rows.costs import COSTS
from nailhead.core.arrange.rows.hands import Adds, Catch, Idiom
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.layers import Layer
from nailhead.core.music.metre import Time

#: Points: a note of the rung's layer left out, one that may come back and does not, one struck between the beats, and
#: a bar in which the drone string has no room.
LEFT_OUT, NOT_BACK, STRUCK, NO_DRONE = 10, 3, 40, 14
#: One that is struck on its beat instead.
EVENED = 3
#: What is said then.
EVEN = "Evens out a figure, so that the hand falls on the beat."
#: What each way of sounding a note costs.
PRICE = {Catch.SLUR: 0, Catch.DRONE: -1, Catch.DROP: 2, Catch.PLUCK: COSTS["left pluck"]}
#: Frets from the hand within which a note is looked for elsewhere.
NEAR = 5
_WHY = {
    Catch.SLUR: "the left hand can sound it there",
    Catch.DRONE: DRONE_SOUNDS,
    Catch.DROP: "the thumb can drop to it there",
    Catch.PLUCK: "the left hand can pluck it there",
}


class _Note(NamedTuple):
    """A note that may be played: its tick, its segment in the full melody, whether it is of the rung's layer.

    `even` is the beat on which it may be struck instead.
    """

    at: int
    part: int
    ours: bool
    moved: Time | None
    even: Time | None = None


class _State(NamedTuple):
    """The last note that was kept, how it was sounded, and whether the drone string has room in the bar by now.

    `behind` when it was struck between the beats by the finger that falls on them.
    """

    at: int
    spot: Spot | None
    how: Catch | None
    room: bool
    behind: bool = False


class _Path(NamedTuple):
    cost: int
    kept: tuple[tuple[_Note, Place, Catch | None], ...]


@dataclass(frozen=True)
class Caught:
    """A bar's melody with what a rung brings back: its context, where its notes lie, and what is said of it."""

    context: BarContext
    placing: Placing
    cost: int
    said: str = ""


def caught(
    grid: Grid,
    base: BarContext,
    evened: Mapping[Time, Time],
    core: Collection[Time],
    idiom: Idiom,
    rung: int,
    keep: Callable[[Kept], BarContext],
) -> Caught:
    """The notes of the rung's layer (`base`) and those of the full melody (`grid`) that the rung can catch.

    Those that the rung below plays (`core`, own onsets) are never left out; those of `evened` may be struck on that
    beat. `keep` makes the bar of the kept notes.
    """
    bar, full = _Bar(grid, base, evened, core, idiom, rung), grid.context
    best = bar.cheapest()
    kept = {full.segments[note.part].onset: _own(full, note) for note, _, _ in best.kept}
    context = keep(kept)
    places = {full.segments[note.part].onset: (place, how) for note, place, how in best.kept}
    placing = _placing(context, places)
    even = EVEN if any(note.even is not None and note.moved == note.even for note, _, _ in best.kept) else ""
    return Caught(context, placing, best.cost, f"{_left_out_words(bar, best)} {even}".strip())


def _own(full: BarContext, note: _Note) -> Time:
    return full.segments[note.part].onset if note.moved is None else note.moved


def _placing(context: BarContext, places: Mapping[Time, tuple[Place, Catch | None]]) -> Placing:
    """The spots of a version: where the path puts each note, and why where that is not its usual place."""
    spots, why, cost = list(usual(context).spots), [], 0
    before: Spot | None = None
    for index, part in enumerate(context.segments):
        spot = spots[index]
        if spot is None or part.held or part.source not in places:
            before = spot or before
            continue
        place, how = places[part.source]
        if place != spot.place:
            spots[index] = spot_near(place, before or spot)
            why.append((index, _WHY[how] if how else "what comes next can be caught from there"))
        before = spots[index]
    return Placing(tuple(spots), cost, tuple(why))


def _left_out_words(bar: _Bar, path: _Path) -> str:
    """What is said where notes of the rung's own layer are gone."""
    gone = sum(note.ours for note in bar.notes) - sum(note.ours for note, _, _ in path.kept)
    if not gone:
        return ""
    notes = "a note" if gone == 1 else f"{gone} notes"
    return f"Leaves out {notes} between the beats, so that the thumb keeps its place and nothing is forced."


class _Bar:
    """One bar on its way through the search."""

    def __init__(
        self,
        grid: Grid,
        base: BarContext,
        evened: Mapping[Time, Time],
        core: Collection[Time],
        idiom: Idiom,
        rung: int,
    ) -> None:
        self.full, self.grid, self.idiom = grid.context, grid, idiom
        self.core = core
        self.catches = idiom.rung(rung).catches
        self.may_leave = idiom.rung(rung).layer is Layer.FULL
        self.moves = idiom.has(Adds.MOVES, rung)
        self.flows = idiom.has(Adds.FLOW, rung)
        self.drones = {string.number for string in self.full.setup.strings if string.drone}
        self.sizes = dict(self.grid.groups)
        self.notes = self._notes(base, evened)
        taken = {note.at for note in self.notes}
        between = {low + count * self.grid.count for low, size in self.grid.groups for count in range(1, size)}
        self.begins_with_room = not self.drones or not between or bool(between - taken)

    def _notes(self, base: BarContext, evened: Mapping[Time, Time]) -> list[_Note]:
        ours = {part.source: part for part in base.segments if part.spot and not part.held}
        found = []
        for index, part in enumerate(self.full.segments):
            if part.spot is None or part.held:
                continue
            mine = ours.get(part.onset)
            if mine is not None:
                moved = mine.own and mine.onset
                found.append(_Note(self.grid.tick(mine.onset), index, True, moved, evened.get(part.onset)))
        taken = {note.at for note in found}
        for index, part in enumerate(self.full.segments):
            at = self.grid.starts[index]
            if part.spot is None or part.held or part.onset in ours or at in taken or part.tuplet:
                continue
            if at % self.grid.count == 0 and self.grid.beats and at not in self.grid.beats:
                found.append(_Note(at, index, False, None))
        return sorted(found)

    def cheapest(self) -> _Path:
        """The best way through the bar."""
        ways = {_State(-1, None, None, self.begins_with_room): _Path(0, ())}
        for note in self.notes:
            found: dict[_State, _Path] = {}
            for state, path in ways.items():
                for after, cost, taken in self._steps(state, note):
                    total = path.cost + cost
                    if after not in found or total < found[after].cost:
                        found[after] = _Path(total, (*path.kept, taken) if taken else path.kept)
            ways = found
        best = min(ways.items(), key=lambda item: item[1].cost + (0 if item[0].room else NO_DRONE))
        return best[1]

    def _steps(
        self, state: _State, note: _Note
    ) -> Iterator[tuple[_State, int, tuple[_Note, Place, Catch | None] | None]]:
        spot = self.grid.spots[note.part]
        assert spot is not None
        on_beat = not self.grid.beats or note.at in self.grid.beats
        between = not on_beat and note.at % self.grid.count == 0
        for place, price in self._places(note, spot):
            near = spot if place == spot.place else spot_near(place, state.spot or spot)
            for how, cost in self._ways(state, note, place, on_beat):
                room = state.room or how is Catch.DRONE
                behind = how is None and not on_beat
                yield _State(note.at, near, how, room, behind), cost + price, (note, place, how)
            if note.even is not None and (beat := self.grid.tick(note.even)) > state.at:
                moved = note._replace(at=beat, moved=note.even)
                yield _State(beat, near, None, state.room or between), EVENED + price, (moved, place, None)
        if note.ours and on_beat:
            return
        if self.full.segments[note.part].onset in self.core:
            return
        if not note.ours or self.may_leave:
            cost = LEFT_OUT + self._weight(note) if note.ours else NOT_BACK
            yield state._replace(room=state.room or between), cost, None

    def _places(self, note: _Note, spot: Spot) -> Iterator[tuple[Place, int]]:
        """Where a note may lie, and what it costs to have it elsewhere than usual."""
        yield spot.place, 0
        pitch = self.full.segments[note.part].pitch
        assert pitch is not None
        cents = self.full.setup.cents_of(pitch)
        if Catch.DRONE in self.catches:
            for string in self.full.setup.strings:
                if string.drone and string.open_cents == cents and Place(string.number, 0) != spot.place:
                    yield Place(string.number, 0), 0
        if not self.moves:
            return
        for place in self.full.setup.places(cents):
            if place != spot.place and place.fret <= HIGHEST and abs(place.fret - spot.place.fret) <= NEAR:
                yield place, COSTS["moved note"] + COSTS["moved note per fret"] * max(0, place.fret - spot.place.fret)

    def _ways(self, state: _State, note: _Note, place: Place, on_beat: bool) -> Iterator[tuple[Catch | None, int]]:
        """How a note may be sounded on a place, and the price."""
        grid, right = self.grid, self.idiom.right
        striker = right.plain[0]
        if on_beat:
            yield None, 0 if place.string in right.lines[striker] else STRUCK
            return
        gap = note.at - state.at
        if Catch.SLUR in self.catches and state.spot and not self._rested(note):
            in_time = gap <= self.idiom.left.slur_counts * grid.count
            if in_time and may_slur(self.idiom.left, state.spot.place, place, grid.context.setup):
                yield Catch.SLUR, PRICE[Catch.SLUR] + self._thumbs_count(note)
        on_count = note.at % grid.count == 0
        thumb_free = state.how in (None, Catch.SLUR, Catch.PLUCK) or gap > grid.count
        if on_count and thumb_free and place.string in self.drones:
            if Catch.DRONE in self.catches and place.fret == 0:
                yield Catch.DRONE, PRICE[Catch.DRONE]
        elif on_count and thumb_free and Catch.DROP in self.catches and state.spot and gap <= grid.count:
            drops = right.catches and place.string in right.lines[right.catches]
            if drops and state.how is None and state.spot.place.string < place.string:
                yield Catch.DROP, PRICE[Catch.DROP]
        threes = grid.size(note.at) == 3
        plucked = on_count and Catch.PLUCK in self.catches and place.fret == 0 and place.string not in self.drones
        # Except in twos the finger that strikes has time to get back, but for a note right behind its own.
        plucked = plucked and not (grid.size(note.at) != 2 and (gap > grid.count or state.how))
        if plucked and state.spot and place.string != state.spot.place.string and state.how is not Catch.PLUCK:
            yield Catch.PLUCK, PRICE[Catch.PLUCK]
        if note.ours:
            back = threes and not (state.behind and gap <= grid.count)
            free = back and on_count and place.string in right.lines[striker]
            yield None, COSTS["struck behind the beat"] if free else STRUCK

    def _rested(self, note: _Note) -> bool:
        """Is there a rest right before it, from which nothing rings that a slur could begin on?"""
        return note.part > 0 and self.full.segments[note.part - 1].spot is None

    def _weight(self, note: _Note) -> int:
        """What more it costs to leave out a note that the line turns on, and less one outside the chord."""
        spots = self.full.segments
        pitch = spots[note.part].pitch
        beside = [spots[other].pitch for other in (note.part - 1, note.part + 1) if 0 <= other < len(spots)]
        heights = [one.cents for one in beside if one]
        assert pitch is not None
        turns = len(heights) == 2 and (pitch.cents > max(heights) or pitch.cents < min(heights))
        belongs = self.full.tones.in_chord(self.full.setup.cents_of(pitch), self.grid.chord(note.at))
        return 2 * turns + belongs

    def _thumbs_count(self, note: _Note) -> int:
        """Until the hand flows, the last count of a stroke unit is rather the thumb's."""
        if self.flows or note.ours:
            return 0
        for place, (low, size) in enumerate(self.grid.groups):
            if note.at == low + (size - 1) * self.grid.count:
                if size == 3:
                    return NOT_BACK + 1
                return int(place % 2 == 1 or place + 1 == len(self.grid.groups))
        return 0
