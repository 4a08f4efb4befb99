"""What a slot may be: every touch of its voices that could be there, together and with their price."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from fractions import Fraction
from itertools import product
from typing import NamedTuple

from nailhead.core.arrange.fit.grid import Filler, Grid
from nailhead.core.arrange.fit.strings import Strings, longest_run, swept
from nailhead.core.arrange.left.ornaments import may_slur
from nailhead.core.arrange.rows.costs import COSTS, IMPOSSIBLE
from nailhead.core.arrange.rows.hands import Adds, Catch, Idiom, Reach
from nailhead.core.arrange.rows.patterns import Slot, Voice, Want, Where
from nailhead.core.arrange.values import PLAIN, Finger, Role, Way

#: So many of the cheapest strikes are looked at where any finger will do.
_FREE = 5
#: A finger as a bit, so that the search compares numbers.
BITS: dict[Finger | None, int] = {
    None: 0,
    Finger.THUMB: 1,
    Finger.INDEX: 2,
    Finger.MIDDLE: 4,
    Finger.NAIL: 8,
    Finger.RING: 16,
    Finger.PICK: 32,
}
#: Fingers that strike at once stand in this order from the bass strings to the treble ones.
_IN_ORDER = (Finger.THUMB, Finger.INDEX, Finger.MIDDLE, Finger.RING)


class Grip(NamedTuple):
    """A touch before it is laid out: who, how, which strings."""

    by: Finger | None
    way: Way
    strings: tuple[int, ...]
    optional: bool = False
    loudness: int = PLAIN
    muted: bool = False


class Strike(NamedTuple):
    """What happens at one count. `melody` is the segment that begins here, -1 for none.

    `strings` and `fingers` (as bits) are those of all touches; `strays` is true where a finger is away from its home
    strings, `drags` where it runs on from the string before, `left` where the left hand sounds it alone, `plucks` where
    on a string that was not struck, and `behind` where that must be right behind a finger that falls on beats. Without
    touches a slot found nothing to play, and `missed` says what a player calls what was wanted.
    """

    at: int
    touches: tuple[Grip, ...]
    strings: tuple[int, ...]
    melody: int
    cost: int
    fingers: int = 0
    strays: bool = False
    left: bool = False
    missed: str = ""
    drags: bool = False
    plucks: bool = False
    behind: bool = False

    @property
    def fills(self) -> bool:
        """Is anything beside the melody struck?"""
        return len(self.strings) > (self.melody >= 0)


class _Part(NamedTuple):
    """One voice's share of a strike."""

    grip: Grip
    melody: bool
    cost: int


class Offers:
    """The strikes that an idiom's right hand can offer on a rung."""

    def __init__(self, idiom: Idiom, rung: int) -> None:
        self.idiom = idiom
        self.right = idiom.right
        self.slurs = idiom.has(Adds.SLURS, rung)
        self.slurs_thin = idiom.right.slurs_thin and idiom.has(Adds.FLOW, rung)
        self.drops = idiom.has(Adds.DROPS, rung)
        self.plucks = Catch.PLUCK in idiom.rung(rung).catches
        self.brushes = idiom.rung(rung).brushes
        self.along = rung >= idiom.right.takes_along
        self.strings = Strings(idiom.right)
        self._lines = self._priced(idiom.right.lines)
        self._chords = self._priced(idiom.right.chords)
        self._ways = {finger: idiom.right.way_of(finger) for finger in Finger}

    def _priced(self, reach: Mapping[Finger, Reach]) -> dict[Finger, dict[int, int]]:
        """What each string costs under each finger, leaving its home included."""
        return {
            finger: {
                string: cost + (COSTS["drop thumb"] if self.right.leaves_home(finger, string) else 0)
                for string, cost in strings.items()
            }
            for finger, strings in reach.items()
        }

    # -- strikes

    def strike(self, at: int, grip: Grip, melody: int, cost: int) -> Strike:
        """A strike of one touch; `melody` is the segment it begins, -1 for none."""
        by = grip.by
        strays = bool(self.right.home) and self.right.leaves_home(by, grip.strings[0])
        plucks = by is None and grip.way is Way.PLUCK
        drags = grip.way is Way.DRAG
        left = plucks or grip.way is Way.LEFT
        return Strike(at, (grip,), grip.strings, melody, cost, BITS[by], strays, left, "", drags, plucks)

    def slot(self, grid: Grid, slot: Slot, at: int, first: bool) -> list[Strike]:
        """What a slot of a pattern may be at a tick; [] where the pattern does not fit there."""
        melody = grid.onsets.get(at, -1)
        if len(slot.voices) > 1:
            return self._voices(grid, slot, at, melody)
        (voice,) = slot.voices
        if melody >= 0:
            slurs = voice.by is None or (voice.want is Want.LEAD and not first and not voice.begins)
            found = self.melody(grid, melody, at, voice, slurs)
            return [one for one in found if one.left] if voice.want is Want.SLUR else found
        if voice.begins:
            return []
        found = [self.strike(at, part.grip, -1, part.cost) for part in self._beside(grid, voice, slot.accent, at)]
        if voice.instead and not self._beside(grid, voice.instead, slot.accent, at):
            return [*found, _nothing(at, voice.instead.called)]
        if voice.by is None:
            found = sorted(found, key=_cost)[:_FREE]
        if voice.want is Want.JOIN and not voice.instead:
            return [] if voice.must else [Strike(at, (), (), -1, 0)]
        return found or ([] if voice.must else [_nothing(at, voice.called)])

    def _voices(self, grid: Grid, slot: Slot, at: int, melody: int) -> list[Strike]:
        """The product of a slot's voices; a melody note that begins there is one's, the others accompany it."""
        if melody < 0:
            if any(voice.must and voice.takes for voice in slot.voices):
                return []
            beside = [voice for voice in slot.voices if voice.want is not Want.JOIN]
            lanes = [self._beside(grid, voice, slot.accent, at) for voice in beside]
            if any(voice.must and not lane for voice, lane in zip(beside, lanes, strict=True)):
                return []
            found = list(self._products(grid, at, -1, lanes))
            return found or [_nothing(at, slot.voices[0].called)]
        found = []
        for taker in slot.voices:
            if not taker.takes:
                continue
            own = [_Part(one.touches[0], True, one.cost) for one in self.melody(grid, melody, at, taker, slurs=False)]
            others = [
                [*self._beside(grid, voice, slot.accent, at), *(() if voice.must else (None,))]
                for voice in slot.voices
                if voice is not taker and not voice.takes
            ]
            found += self._products(grid, at, melody, [own, *others])
        return found

    def _products(self, grid: Grid, at: int, melody: int, lanes: Sequence[Sequence[_Part | None]]) -> Iterator[Strike]:
        for parts in product(*lanes):
            sounding = [part for part in parts if part]
            if not sounding or not self._together(grid, at, melody, sounding):
                continue
            cost = sum(part.cost for part in sounding) + COSTS["nothing there"] * (len(parts) - len(sounding))
            grips = tuple(part.grip for part in sounding)
            strings = tuple(string for grip in grips for string in grip.strings)
            bits = sum(BITS[grip.by] for grip in grips)
            strays = any(self.right.leaves_home(grip.by, grip.strings[0]) for grip in grips if grip.strings)
            yield Strike(at, grips, strings, melody, cost, bits, strays)

    def _together(self, grid: Grid, at: int, melody: int, parts: Sequence[_Part]) -> bool:
        """Can these touches be made at once? Strings, fingers, the highest pitch and the left hand are asked here."""
        strings = [string for part in parts for string in part.grip.strings]
        fingers = [part.grip.by for part in parts if part.grip.by]
        if len(set(strings)) < len(strings) or len(set(fingers)) < len(fingers):
            return False
        order = [
            part.grip.strings[0]
            for finger in _IN_ORDER
            for part in parts
            if part.grip.by is finger and len(part.grip.strings) == 1
        ]
        if order != sorted(order, reverse=True):
            return False
        held = grid.hand(at).frets
        beside = [string for part in parts for string in part.grip.strings if not part.melody]
        if melody >= 0:
            spot = grid.spots[melody]
            assert spot is not None
            if self.right.on_top and any(self.strings.above(grid, at, string, spot.place) for string in beside):
                return False
        offered, reached = grid.fillers(at, self.right.yields_place), grid.hops(at)
        return all(string in held or string in reached or offered.get(string, _OPEN).fret == 0 for string in beside)

    # -- accompaniment

    def _beside(self, grid: Grid, voice: Voice, accent: bool, at: int) -> list[_Part]:
        """What a voice plays where no melody note of its own begins."""
        if voice.want is Want.STRUM:
            return self._strum(grid, voice, at)
        if voice.want is Want.DRONE:
            return self._drone(grid, voice, at)
        if voice.want is Want.LEAD:
            again = self._again(grid, voice, at)
            instead = voice.instead
            if instead is None:
                return again
            return again + [
                part._replace(cost=part.cost + voice.extra) for part in self._beside(grid, instead, accent, at)
            ]
        if voice.want is Want.JOIN and voice.instead:
            return self._beside(grid, voice.instead, accent, at)
        return [] if voice.want in (Want.JOIN, Want.SLUR) else self._fill(grid, voice, accent, at)

    def _fill(self, grid: Grid, voice: Voice, accent: bool, at: int) -> list[_Part]:
        """A tone of the chord or a drone under the voice's finger, or under any."""
        offered, found = grid.fillers(at, self.right.yields_place), []
        for finger in (voice.by,) if voice.by else self.right.plain:
            reach = self._chords[finger]
            for rank, string in enumerate(self.strings.of(grid, voice, finger, at)):
                if string in offered and string in reach and not (voice.chordal and offered[string].role is Role.DRONE):
                    # On a strong slot the roll may well strike the melody's string again.
                    again = accent and offered[string].role is Role.CHORD
                    cost = reach[string] + (0 if again else self._price(offered[string]))
                    cost += rank * COSTS["later choice"]
                    found.append(_Part(self._grip(voice, finger, (string,)), False, cost))
        return found

    def _price(self, filler: Filler) -> int:
        return filler.cost + (self.right.covers if filler.rings else 0)

    def _grip(self, voice: Voice, finger: Finger | None, strings: tuple[int, ...]) -> Grip:
        way = voice.way if voice.by or finger is None else self._ways[finger]
        return Grip(finger, way, strings, voice.optional, voice.loudness, voice.muted)

    def _drone(self, grid: Grid, voice: Voice, at: int) -> list[_Part]:
        offered = grid.fillers(at, self.right.yields_place)
        return [
            _Part(self._grip(voice, voice.by, (number,)), False, 0)
            for number in self.strings.drone_strings(grid)
            if number in offered
        ]

    def _strum(self, grid: Grid, voice: Voice, at: int) -> list[_Part]:
        """Neighbouring strings that sound chord tones only; where no two do, one of them or one open string.

        One string by itself is no brush over the melody that it would strike again: the first string's stroke is
        (handbook §4), any other is dearer than the open first.
        """
        offered, found = grid.fillers(at, self.right.yields_place), []
        for rank, strings in enumerate(self._sets(grid, voice, at)):
            if strings and all(string in offered and offered[string].role is Role.CHORD for string in strings):
                again = len(strings) == 1 and strings != (1,) and offered[strings[0]].rings
                found.append(_Part(self._grip(voice, voice.by, strings), False, rank + again * COSTS["again"]))
        if voice.where is not Where.BRUSH or any(len(part.grip.strings) > 1 for part in found):
            return found
        taken = {part.grip.strings for part in found}
        for string in (1,) if found else (1, 2, 3):
            if string in offered and offered[string].fret == 0 and (string,) not in taken:
                return [*found, _Part(self._grip(voice, voice.by, (string,)), False, COSTS["open string instead"])]
        return found

    def _sets(self, grid: Grid, voice: Voice, at: int) -> Sequence[tuple[int, ...]]:
        """The strings of a strum, best first, in the direction of its way."""
        if voice.where is Where.BRUSH:
            return self.brushes
        strings = sorted(self.strings.of(grid, voice, voice.by, at), reverse=voice.way is not Way.UP)
        offered = grid.fillers(at, self.right.yields_place)
        clear = self.right.covers >= IMPOSSIBLE
        found = [
            string
            for string in strings
            if string in offered and offered[string].role is Role.CHORD and not (clear and offered[string].rings)
        ]
        run = longest_run(found)
        if voice.most:
            treble = sorted(run)[: voice.most]
            run = tuple(string for string in run if string in treble)
        return [run]

    def _again(self, grid: Grid, voice: Voice, at: int) -> list[_Part]:
        """The melody's note struck again under a long tone, where it is a chord tone; or the listed strings."""
        spot, offered = grid.spots[grid.sounding(at)], grid.fillers(at, self.right.yields_place)
        strings = voice.strings or ((spot.place.string,) if spot else ())
        found = []
        for string in strings:
            tone = string in offered and offered[string].role is Role.CHORD
            if tone or (self.right.restrikes and spot and string == spot.place.string):
                for finger in (voice.by,) if voice.by else self.right.plain:
                    more = self.strings.along(grid, voice, string, at)
                    found.append(
                        _Part(self._grip(voice, finger, swept((string, *more), voice.way)), False, COSTS["again"])
                    )
        return found

    # -- melody

    def _rather_slurs(self, grid: Grid, at: int) -> bool:
        """Is the left hand asked first for an off-beat note? Where slurs are thin, in every second group of a bar."""
        return self.slurs and not (self.slurs_thin and grid.place_in_bar(at) % 2)

    def plain(self, grid: Grid, index: int, at: int) -> list[Strike]:
        """How melody segment `index` may be sounded by itself: with what a hand takes along that has time for it."""
        if not self.along or at % grid.count or grid.context.segments[index].tuplet:
            return self.melody(grid, index, at, None, slurs=True)
        (finger,) = self.right.plain
        way = self._own_way(grid, None, finger, at)
        return self.melody(grid, index, at, Voice(finger, way, Want.LEAD, Where.MELODY, also=Where.SHAPE), slurs=True)

    def melody(self, grid: Grid, index: int, at: int, voice: Voice | None, slurs: bool) -> list[Strike]:
        """How melody segment `index` may be sounded: by each finger that reaches it, slurred, by one off its home."""
        spot = grid.spots[index]
        assert spot is not None
        string, right = spot.place.string, self.right
        off_beat = at not in grid.beats and bool(grid.beats)
        found: list[Strike] = []
        if voice and voice.want is Want.DRONE and not grid.context.setup.string(string).drone:
            return found
        for finger in (voice.by,) if voice and voice.by else right.plain:
            # A sweep over the strings ends where it will.
            cost = 0 if voice and voice.also else self._lines[finger].get(string)
            if cost is None:
                continue
            if off_beat and finger in right.on_beat and not (voice and voice.way is Way.DRAG):
                cost += COSTS["struck off the beat" if grid.in_twos else "struck behind the beat"]
            if off_beat and slurs and self._rather_slurs(grid, at):
                cost += right.rather_slurs
            if voice is None or voice.also is None:
                way = voice.way if voice and voice.by else self._own_way(grid, voice, finger, at)
                found.append(self.strike(at, Grip(finger, way, (string,)), index, cost))
            else:
                for grip, more in self._taking_along(grid, voice, finger, string, at):
                    found.append(self.strike(at, grip, index, cost + more))
        if not slurs or not off_beat:
            return found
        if self.slurs and self._slurs(grid, index, at):
            found.append(self.strike(at, Grip(None, Way.LEFT, (string,)), index, COSTS["slur"]))
        if self.plucks and not spot.place.fret and not grid.context.setup.string(string).drone:
            pluck = self.strike(at, Grip(None, Way.PLUCK, (string,)), index, COSTS["left pluck"])
            # Except in twos the finger that strikes has time to get back, but for a note right behind its own.
            found.append(pluck._replace(behind=grid.size(at) != 2))
        catches = right.catches
        if catches and string in right.lines[catches] and catches not in right.plain:
            leaves = right.leaves_home(catches, string)
            if self.drops or not leaves:
                caught = Grip(catches, right.way_of(catches), (string,))
                found.append(self.strike(at, caught, index, COSTS["drop thumb"] if leaves else 0))
        return found

    def _taking_along(
        self, grid: Grid, voice: Voice, finger: Finger, string: int, at: int
    ) -> Iterator[tuple[Grip, int]]:
        """The melody's own touch with what else it takes along, or alone; and what that costs."""
        more = self.strings.along(grid, voice, string, at)
        way = voice.way if voice.by else self._ways[finger]
        if more:
            offered = grid.fillers(at, self.right.yields_place)
            yield Grip(finger, way, swept((string, *more), way)), sum(offered[one].cost for one in more)
        yield Grip(finger, way, (string,)), COSTS["nothing there"]

    def _own_way(self, grid: Grid, voice: Voice | None, finger: Finger, at: int) -> Way:
        """Which way a finger goes that no sign tells: by itself by the clock, where the hand follows it."""
        if voice or not self.right.single.clocked:
            return self._ways[finger]
        count = grid.clock.in_group(Fraction(at, grid.count))
        return Way.UP if count is None or count % 2 != self.right.single.inward else Way.DOWN

    def _slurs(self, grid: Grid, index: int, at: int) -> bool:
        """Can the left hand sound this note from the one before: on its string, in reach, in time?"""
        before, spot, left = grid.spots[index - 1] if index else None, grid.spots[index], self.idiom.left
        if before is None or spot is None or grid.context.segments[index - 1].held:
            return False
        if at - grid.starts[index - 1] > left.slur_counts * grid.count:
            return False
        return may_slur(left, before.place, spot.place, grid.context.setup)


def _cost(strike: Strike) -> int:
    return strike.cost


_OPEN = Filler(0, Role.DRONE, 0, False)


def _nothing(at: int, called: str) -> Strike:
    return Strike(at, (), (), -1, COSTS["nothing there"], missed=called)
