"""Fills from a held note to the melody note that comes next: a walk in the key, or a figure of the chord."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from fractions import Fraction

from nailhead.core.arrange.fit.grid import Grid
from nailhead.core.arrange.fit.moving import usual
from nailhead.core.arrange.left.bass import bass_place
from nailhead.core.arrange.left.context import BarContext, Segment
from nailhead.core.arrange.left.placing import NoteToPlace, place_melody
from nailhead.core.arrange.rows.figures import FIGURES, Figure
from nailhead.core.arrange.values import Slur
from nailhead.core.fretboard.setup import Place
from nailhead.core.fretboard.tunings import base_id
from nailhead.core.music.metre import Time
from nailhead.core.music.structure import chord_at

#: The price of a step of so many notes of the scale: neighbours best, a note again or a leap worst (weights ours).
STEPS = {0: 7, 1: 0, 2: 2, 3: 4, 4: 6}
LEAP = 12
#: Price of a turn, and of a note on a beat that is no chord tone.
TURN, OUTSIDE = 1, 3
#: A fill has at least so many notes.
LEAST = 2
#: The widest step of a bass run, in cents.
SEMITONE, WHOLE_TONE = 100, 200
#: A figure ends so many steps at most from the note that follows: a third.
NEAR = 2


def with_fill(context: BarContext) -> BarContext | None:
    """The bar with a walk after the first pulse of its last, held note; None where it has no room or nowhere to go."""
    grid, ticks = _room(context)
    last, goal = context.segments[-1].pitch, context.lead_in
    if not ticks or last is None or goal is None:
        return None
    walk = walk_between(context, last.cents, goal.cents, [grid.time(at) for at in ticks])
    if walk is None:
        return None
    places = tuple(context.places(cents) for cents in walk)
    return _filled(context, grid, ticks, [(found, None, 0) for found in places])


def with_figures(context: BarContext) -> Iterator[tuple[Figure, BarContext]]:
    """The bar with each figure that fits its room and its chord and ends near the note that follows, or on a string
    that rings on by itself.
    """
    grid, ticks = _room(context)
    setup, goal = context.setup, context.lead_in
    if not ticks or goal is None:
        return
    chords = {grid.chord(at) for at in ticks}
    for figure in FIGURES:
        if len(figure.notes) != len(ticks) or figure.tuning != base_id(setup.tuning) or len(chords) > 1:
            continue
        (chord,) = chords
        if chord is None or chord.minor or not context.tones.is_root(setup.sounding_cents(figure.root), chord):
            continue
        last, *_ = figure.notes[-1]
        apart = abs(context.tones.name(setup.sounding_cents(last), context.key).diatonic - goal.diatonic)
        if setup.string(last.string).drone or 0 < apart <= NEAR:
            yield figure, _filled(context, grid, ticks, [((place,), slur, bend) for place, slur, bend in figure.notes])


def with_run(context: BarContext, chromatic: bool = False) -> BarContext | None:
    """The bar with two notes of the scale, or `chromatic` ones, on its last two counts, which step in the bass to the
    root of the next chord, from below where the neck goes so far; None where nothing changes or there is no time.
    """
    grid, last = Grid(context, usual(context).spots, {}), context.segments[-1]
    ticks = range(grid.end - 2 * grid.count, grid.end, grid.count)
    if context.next_chord is None or last.pitch is None or last.spot is None or last.tuplet or last.held:
        return None
    if not grid.full or grid.starts[-1] > ticks[0] - 2 * grid.count or grid.end % grid.count:
        return None
    root = bass_place(context.setup, context.next_chord, other=False)
    if root is None:
        return None
    goal, scale = context.setup.sounding_cents(root), scale_on(context)
    below = [cents for cents in scale if cents < goal][-2:]
    above = [cents for cents in scale if cents > goal][:2][::-1]
    if chromatic:
        below, above = ([goal + way * step for step in (2 * SEMITONE, SEMITONE)] for way in (-1, 1))
        below = below if all(map(context.places, below)) else []
    for walk in (below, above):
        if len(walk) == len(ticks) and abs(walk[-1] - goal) <= WHOLE_TONE and abs(walk[0] - walk[1]) <= WHOLE_TONE:
            return _filled(context, grid, ticks, [(context.places(cents), None, 0) for cents in walk])
    return None


def _room(context: BarContext) -> tuple[Grid, range]:
    """The ticks behind the first pulse of a phrase's last note, where it is held for more; none where it is not."""
    grid, last = Grid(context, usual(context).spots, {}), context.segments[-1]
    nowhere = grid, range(0)
    if not context.cadence or context.lead_in is None or last.pitch is None or last.spot is None or last.tuplet:
        return nowhere
    begins = [low for low, _ in grid.groups if low > grid.starts[-1] and low >= grid.starts[-1] + 2 * grid.count]
    if not begins or (grid.end - begins[0]) % grid.count:
        return nowhere
    ticks = range(begins[0], grid.end, grid.count)
    return (grid, ticks) if len(ticks) >= LEAST else nowhere


def _filled(
    context: BarContext, grid: Grid, ticks: range, notes: Sequence[tuple[tuple[Place, ...], Slur | None, int]]
) -> BarContext:
    """The bar with notes, each in one of some places, behind what its last one keeps."""
    setup, last = context.setup, context.segments[-1]
    assert last.pitch is not None and last.spot is not None
    to_place = [NoteToPlace(last.pitch.cents, grid.clock.count, (last.spot.place,))]
    to_place += [NoteToPlace(setup.sounding_cents(places[0]), grid.clock.count, places) for places, *_ in notes]
    spots = place_melody(to_place, setup).spots[1:]
    kept = replace(last, duration=grid.time(ticks[0]) - last.onset)
    fill = tuple(
        Segment(
            grid.time(at),
            grid.clock.count,
            context.tones.name(setup.sounding_cents(spot.place), context.key),
            spot,
            fill=True,
            grace=slur,
            bend=bend,
        )
        for at, spot, (_, slur, bend) in zip(ticks, spots, notes, strict=True)
    )
    return replace(context, segments=(*context.segments[:-1], kept, *fill))


def scale_on(context: BarContext) -> list[Fraction]:
    """The key's notes that the neck has, in cents, lowest first."""
    return sorted(
        cents
        for cents in context.setup.reachable
        if context.tones.in_scale(cents, context.key) and context.places(cents)
    )


def walk_between(
    context: BarContext, start: Fraction, goal: Fraction, onsets: Sequence[Time]
) -> tuple[Fraction, ...] | None:
    """The smoothest row of scale notes (cents) for the onsets, from one pitch to another: a shortest path, exact."""
    scale = scale_on(context)
    low, high = min(start, goal) - 700, max(start, goal) + 700
    near = [(to, cents) for to, cents in enumerate(scale) if low <= cents <= high]
    if not near:
        return None
    beats = {onset - context.offset for onset in context.bar.metre.beat_onsets}
    # (place in the scale, direction) -> (cost, path)
    ways: dict[tuple[float, int], tuple[int, tuple[Fraction, ...]]] = {(_degree(scale, start), 0): (0, ())}
    for onset in onsets:
        chord = chord_at(context.harmony, onset) if onset in beats else None
        priced = [
            (to, cents, OUTSIDE if onset in beats and not context.tones.in_chord(cents, chord) else 0)
            for to, cents in near
        ]
        found: dict[tuple[float, int], tuple[int, tuple[Fraction, ...]]] = {}
        for (place, direction), (cost, path) in ways.items():
            for to, cents, outside in priced:
                way = (to > place) - (to < place)
                turn = TURN if direction and way and way != direction else 0
                total = cost + _step(place, to) + outside + turn
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
