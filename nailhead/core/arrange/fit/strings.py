"""The strings of a voice: as a list, or by their relation to the melody that sounds and to the chord of the moment."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction

from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.left.hopping import FIFTH
from nailhead.core.arrange.rows.hands import RightHand
from nailhead.core.arrange.rows.patterns import Voice, Where
from nailhead.core.arrange.values import Finger, Role, Way
from nailhead.core.fretboard.setup import Place

#: Thirds to sixths and octaves below the melody sound full; anything else muddies or hides it (common practice), in
#: cents.
NEAREST, WIDEST, OCTAVE = 300, 900, 1200
#: Which of the basses in turn a letter asks for.
_BASSES = {Where.ROOT: 0, Where.OTHER_BASS: 1, Where.THIRD_BASS: 2}


class Strings:
    """Finds the strings of one right hand's voices."""

    def __init__(self, right: RightHand) -> None:
        self.right = right

    def of(self, grid: Grid, voice: Voice, finger: Finger | None, at: int) -> Sequence[int]:
        """The strings a voice may take for what is no melody, best first."""
        if voice.where is Where.LISTED:
            return voice.strings
        if voice.where is Where.REACH:
            return tuple(self.right.chords[finger]) if finger else ()
        if voice.where in _BASSES:
            return self.bass(grid, at, _BASSES[voice.where], finger)
        return self.related(grid, voice.where, at)

    def related(self, grid: Grid, where: Where, at: int) -> Sequence[int]:
        """Strings by their relation to the melody that sounds, or to the chord of the moment."""
        offered, spot = grid.fillers(at, self.right.yields_place), grid.spots[grid.sounding(at)]
        melody = spot.place.string if spot else 0
        if where is Where.OPEN:
            return self.drone_strings(grid)
        if where is Where.SHAPE:
            return [string for string in offered if string != melody or not spot]
        if where is Where.LOWEST:
            return [string for string in self.tones(grid, at) if string != melody]
        if not melody:
            return ()
        if where is Where.ABOVE:
            return [string for string in offered if string < melody]
        away = {Where.BASS_SIDE: 1, Where.TREBLE_SIDE: -1, Where.NEXT_BUT_ONE: -2, Where.MELODY: 0}[where]
        return (melody + away,)

    def tones(self, grid: Grid, at: int) -> dict[int, Fraction]:
        """Strings that sound a tone of the chord, lowest first, and how high."""
        setup, offered = grid.context.setup, grid.fillers(at, self.right.yields_place)
        heights = {
            string: setup.sounding_cents(Place(string, filler.fret))
            for string, filler in offered.items()
            if filler.role is Role.CHORD
        }
        return dict(sorted(heights.items(), key=lambda one: one[1]))

    def bass(self, grid: Grid, at: int, turn: int, finger: Finger | None) -> Sequence[int]:
        """The string of a bass in turn that the finger reaches below the melody: the chord's lowest root, its fifth,
        its other tones, those above the root first; where they are fewer they begin again.
        """
        spot, heights = grid.spots[grid.sounding(at)], self.tones(grid, at)
        reach = self.right.chords[finger] if finger else heights
        there = [string for string in heights if string in reach and not (spot and spot.place.string == string)]
        chord, tones = grid.chord(at), grid.context.tones
        if turn and at in grid.changes:
            return ()  # a new chord begins with its root
        root = next((string for string in there if chord and tones.is_root(heights[string], chord)), None)

        def order(string: int) -> tuple[bool, bool, bool, Fraction]:
            fifth = chord is not None and tones.interval(heights[string], chord) == FIFTH
            return string != root, string > (root or 0), not fifth, heights[string]

        ordered = sorted(there, key=order)
        return ordered and [ordered[turn % len(ordered)]]

    def along(self, grid: Grid, voice: Voice, string: int, at: int) -> tuple[int, ...]:
        """What the movement that strikes the melody on a string takes along."""
        if voice.also is None:
            return ()
        offered = grid.fillers(at, self.right.yields_place)
        beside = [one for one in self.related(grid, voice.also, at) if one in offered and one != string]
        spot = grid.spots[grid.sounding(at)]
        if spot and self.right.on_top:
            beside = [one for one in beside if not self.above(grid, at, one, spot.place)]
        if spot and voice.also is Where.BASS_SIDE:
            beside = [one for one in beside if self.sounds_full(grid, at, one, spot.place)]
        reached = _neighbours(string, beside)
        return tuple(one for one in reached if one != string)

    def sounds_full(self, grid: Grid, at: int, string: int, melody: Place) -> bool:
        setup, fret = grid.context.setup, grid.fillers(at, self.right.yields_place)[string].fret
        apart = setup.sounding_cents(melody) - setup.sounding_cents(Place(string, fret))
        return NEAREST <= apart <= WIDEST or apart == OCTAVE

    def drone_strings(self, grid: Grid) -> list[int]:
        own = [string.number for string in grid.context.setup.strings if string.drone]
        return own + [number for number in grid.context.drones if number not in own]

    def above(self, grid: Grid, at: int, string: int, melody: Place) -> bool:
        """Does a string sound higher than the melody's place?"""
        setup, fret = grid.context.setup, grid.hand(at).frets.get(string, 0)
        return setup.sounding_cents(Place(string, fret)) > setup.sounding_cents(melody)


def swept(strings: tuple[int, ...], way: Way) -> tuple[int, ...]:
    """Strings in the direction of a movement: down goes from the bass, up from the treble."""
    return tuple(sorted(strings, reverse=way is not Way.UP)) if len(strings) > 1 else strings


def longest_run(strings: Sequence[int]) -> tuple[int, ...]:
    """The longest row of neighbouring strings, the first of equals, in their order."""
    runs: list[list[int]] = []
    for string in strings:
        if runs and abs(runs[-1][-1] - string) == 1:
            runs[-1].append(string)
        else:
            runs.append([string])
    longest = max(runs, key=lambda run: len(run), default=[])
    return tuple(longest)


def _neighbours(string: int, others: Sequence[int]) -> tuple[int, ...]:
    """The strings that one movement takes along: those that join on without a gap on either side."""
    found = [string]
    for way in (1, -1):
        at = string + way
        while at in others:
            found.append(at)
            at += way
    return tuple(found)
