"""What a slot may be: every hand and string that could play there, with its price."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from nailhead.core.arrange.grid import Grid
from nailhead.core.arrange.patterns import Slot, Want
from nailhead.core.arrange.righthand import COSTS, RightHand
from nailhead.core.arrange.values import Hand, Role

#: A slur bridges so many frets and counts at most.
SLUR_FRETS, SLUR_COUNTS = 4, 3
#: First rung on which the hand keeps moving, over rests as well.
FLOW = 5
_INNER = (2, 3, 4)
#: So many of the cheapest strikes are looked at where any finger will do.
_FREE = 5


class Strike(NamedTuple):
    """What happens at one count: a hand on strings. `melody` is the segment that begins here, -1 for none.

    `fingers` are those behind the hand as bits (0 for the left hand), `drops` a thumb away from the drone string.
    `hand` None is a slot that found nothing to play; `wanted` then says what was wanted.
    """

    at: int
    hand: Hand | None
    strings: tuple[int, ...]
    melody: int
    cost: int
    fingers: int = 0
    drops: bool = False
    wanted: Want | None = None


class Offers:
    """The strikes that a right hand can offer on a rung."""

    def __init__(self, right: RightHand, rung: int) -> None:
        self.right = right
        self.rung = rung
        self.fingers = {hand: int(finger) for hand, finger in right.fingers.items()}

    def strike(self, at: int, hand: Hand, strings: tuple[int, ...], melody: int, cost: int) -> Strike:
        """A strike with the fingers behind it; `melody` is the segment it begins, -1 for none."""
        drops = self.right.drops and hand is Hand.THUMB and strings[0] in _INNER
        return Strike(at, hand, strings, melody, cost, self.fingers.get(hand, 0), drops)

    def slot(self, grid: Grid, slot: Slot, at: int, first: bool) -> list[Strike]:
        """What a slot of a pattern may be at a tick; [] where the pattern does not fit there."""
        melody = grid.onsets.get(at, -1)
        if melody >= 0:
            hands = (slot.hand,) if slot.hand else self.right.plain
            return self.melody(
                grid, melody, at, hands, slurs=slot.hand is None or (slot.want is Want.LEAD and not first)
            )
        if slot.want is Want.DRONE:
            return self._drone(grid, at)
        if slot.want is Want.BRUSH:
            return self._brush(grid, at)
        if slot.want is Want.PINCH:
            return self._pinch(grid, at)
        if slot.want is Want.LEAD:
            return self._again(grid, slot, at) + self._brush(grid, at, extra=2)
        return self._fill(grid, slot, at)

    def _fill(self, grid: Grid, slot: Slot, at: int) -> list[Strike]:
        """A tone of the chord or the drone under the slot's finger, or under any."""
        offered, found = grid.fillers(at), []
        for hand in (slot.hand,) if slot.hand else self.right.plain:
            reach = self.right.reach[hand]
            wanted = slot.strings or (_INNER if slot.want is Want.INNER else tuple(reach))
            for rank, string in enumerate(wanted):
                if string in offered and string in reach:
                    # On a strong slot the roll may well strike the melody's string again.
                    again = slot.accent and offered[string].role is Role.CHORD
                    beside = 0 if again else offered[string].cost
                    cost = reach[string] + beside + rank * COSTS["later choice"]
                    cost += COSTS["drop thumb"] if slot.want is Want.INNER else 0
                    found.append(self.strike(at, hand, (string,), -1, cost))
        if slot.hand is None:
            found = sorted(found, key=lambda strike: strike.cost)[:_FREE]
        return found or ([] if slot.want is Want.INNER else [_nothing(at, slot.want)])

    def _drone(self, grid: Grid, at: int) -> list[Strike]:
        drones = [string.number for string in grid.context.setup.strings if string.drone]
        return [self.strike(at, Hand.THUMB, (number,), -1, 0) for number in drones if number in grid.fillers(at)] or [
            _nothing(at, Want.DRONE)
        ]

    def _brush(self, grid: Grid, at: int, extra: int = 0) -> list[Strike]:
        """Neighbouring strings that sound chord tones only; else one open drone string."""
        offered = grid.fillers(at)
        found = []
        for rank, strings in enumerate(self.right.brushes[min(self.rung, max(self.right.brushes))]):
            if all(string in offered and offered[string].role is Role.CHORD for string in strings):
                hand = Hand.BRUSH if len(strings) > 1 else Hand.DOWN
                found.append(self.strike(at, hand, strings, -1, rank + extra))
        if not found:
            drones = [string for string in (1, 2, 3) if string in offered]
            found = [self.strike(at, Hand.DOWN, (string,), -1, 6 + extra) for string in drones[:1]]
        return found or [_nothing(at, Want.BRUSH)]

    def _again(self, grid: Grid, slot: Slot, at: int) -> list[Strike]:
        """The slot's own string, or the melody's note struck again under a long tone where it is a chord tone."""
        spot, offered = grid.spots[grid.sounding(at)], grid.fillers(at)
        strings = slot.strings or ((spot.place.string,) if spot else ())
        return [
            self.strike(at, slot.hand or Hand.DOWN, (string,), -1, COSTS["again"])
            for string in strings
            if string in offered and offered[string].role is Role.CHORD
        ]

    def _pinch(self, grid: Grid, at: int) -> list[Strike]:
        offered = grid.fillers(at)
        return [
            self.strike(at, Hand.PINCH, (low[1], high[1]), -1, rank + offered[low[1]].cost + offered[high[1]].cost)
            for rank, (low, high) in enumerate(self.right.pinches)
            if low[1] in offered and high[1] in offered
        ] or [_nothing(at, Want.PINCH)]

    def melody(self, grid: Grid, index: int, at: int, hands: Sequence[Hand], slurs: bool) -> list[Strike]:
        """How melody segment `index` may be sounded: by each hand that reaches it, slurred, by a dropped thumb."""
        spot = grid.spots[index]
        assert spot is not None
        string, right = spot.place.string, self.right
        off_beat = at not in grid.beats and bool(grid.beats)
        found = []
        for hand in hands:
            if string not in right.reach[hand]:
                continue
            cost = right.reach[hand][string]
            if off_beat and hand is Hand.DOWN and self.rung >= right.slur_from:
                cost += COSTS["struck off the beat"]
            if hand is Hand.THUMB and right.drops:
                cost += COSTS["drop thumb"]
            found.append(self.strike(at, hand, (string,), index, cost))
        if not slurs:
            return found
        if self.rung >= right.slur_from and off_beat and self._slurs(grid, index, at):
            found.append(self.strike(at, Hand.LEFT, (string,), index, COSTS["slur"]))
        if self.rung >= right.drop_from and off_beat and string in _INNER:
            found.append(self.strike(at, Hand.THUMB, (string,), index, COSTS["drop thumb"]))
        return found

    def _slurs(self, grid: Grid, index: int, at: int) -> bool:
        """Can the left hand sound this note from the one before: on its string, in reach, in time?"""
        before, spot = grid.spots[index - 1] if index else None, grid.spots[index]
        if (
            before is None
            or spot is None
            or grid.context.segments[index - 1].held
            or at - grid.starts[index - 1] > SLUR_COUNTS * grid.count
        ):
            return False
        apart = abs(before.place.fret - spot.place.fret)
        return before.place.string == spot.place.string and 1 <= apart <= SLUR_FRETS


def _nothing(at: int, want: Want) -> Strike:
    return Strike(at, None, (), -1, COSTS["nothing there"], wanted=want)
