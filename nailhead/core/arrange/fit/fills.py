"""Fills: a walk in the key from a held note to the melody note that comes next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.fit.moving import usual
from nailhead.core.arrange.left.context import BarContext, Segment
from nailhead.core.arrange.left.placing import NoteToPlace, place_melody
from nailhead.core.music.metre import Time
from nailhead.core.music.structure import chord_at

#: The price of a step of so many notes of the scale: neighbours best, a note again or a leap worst (weights ours).
STEPS = {0: 7, 1: 0, 2: 2, 3: 4, 4: 6}
LEAP = 12
#: Price of a turn, and of a note on a beat that is no chord tone.
TURN, OUTSIDE = 1, 3
#: A fill has at least so many notes.
LEAST = 2


def with_fill(context: BarContext) -> BarContext | None:
    """The bar with a walk after the first pulse of its last, held note; None where it has no room or nowhere to go."""
    last = context.segments[-1]
    if not context.cadence or context.lead_in is None or last.pitch is None or last.spot is None or last.tuplet:
        return None
    grid = Grid(context, usual(context).spots, {})
    begins = [low for low, _ in grid.groups if low > grid.starts[-1] and low >= grid.starts[-1] + 2 * grid.count]
    if not begins:
        return None
    ticks = range(begins[0], grid.end, grid.count)
    if len(ticks) < LEAST or (grid.end - begins[0]) % grid.count:
        return None
    walk = walk_between(context, last.pitch.cents, context.lead_in.cents, [grid.time(at) for at in ticks])
    if walk is None:
        return None
    setup = context.setup
    notes = [NoteToPlace(last.pitch.cents, grid.clock.count, (last.spot.place,))]
    notes += [NoteToPlace(cents, grid.clock.count, setup.places(cents)) for cents in walk]
    spots = place_melody(notes, setup).spots[1:]
    kept = replace(last, duration=grid.time(begins[0]) - last.onset)
    fill = tuple(
        Segment(grid.time(at), grid.clock.count, context.tones.name(cents, context.key), spot, fill=True)
        for at, cents, spot in zip(ticks, walk, spots, strict=True)
    )
    return replace(context, segments=(*context.segments[:-1], kept, *fill))


def scale_on(context: BarContext) -> list[Fraction]:
    """The key's notes that the neck has, in cents, lowest first."""
    return sorted(cents for cents in context.setup.reachable if context.tones.in_scale(cents, context.key))


def walk_between(
    context: BarContext, start: Fraction, goal: Fraction, onsets: Sequence[Time]
) -> tuple[Fraction, ...] | None:
    """The smoothest row of scale notes (cents) for the onsets, from one pitch to another: a shortest path, exact."""
    scale = scale_on(context)
    near = [cents for cents in scale if min(start, goal) - 700 <= cents <= max(start, goal) + 700]
    if not near:
        return None
    beats = {onset - context.offset for onset in context.bar.metre.beat_onsets}
    # (place in the scale, direction) -> (cost, path)
    ways: dict[tuple[float, int], tuple[int, tuple[Fraction, ...]]] = {(_degree(scale, start), 0): (0, ())}
    for onset in onsets:
        chord = chord_at(context.harmony, onset)
        found: dict[tuple[float, int], tuple[int, tuple[Fraction, ...]]] = {}
        for (place, direction), (cost, path) in ways.items():
            for cents in near:
                to = scale.index(cents)
                total = (
                    cost
                    + _step(place, to)
                    + (OUTSIDE if onset in beats and not context.tones.in_chord(cents, chord) else 0)
                )
                way = (to > place) - (to < place)
                total += TURN if direction and way and way != direction else 0
                if (to, way) not in found or total < found[(to, way)][0]:
                    found[(to, way)] = (total, (*path, cents))
        ways = found
    end = _degree(scale, goal)
    return min(ways.items(), key=lambda item: (item[1][0] + _step(item[0][0], end), item[1][1]))[1][1]


def _step(place: float, to: float) -> int:
    return STEPS.get(round(abs(to - place)), LEAP)


def _degree(scale: Sequence[Fraction], cents: Fraction) -> float:
    """The place of a pitch in a scale; between two of its notes for one that is not in it."""
    below = [index for index, note in enumerate(scale) if note <= cents]
    index = below[-1] if below else 0
    return index if scale[index] == cents else index + 0.5
