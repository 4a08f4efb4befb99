"""Finds the core of a tune, what one would hum: bones, beats and pairs out of the full melody.

Each window of a bar keeps the note that costs least, and what is left out counts too. Bars with the same motif are one
choice, so the choice for all bars and the steps between them is made together by eliminating one after another
(`nailhead.core.choosing`); that is exact for COSTS. The bones are then chosen out of the beats the same way. Which
notes carry a tune is common practice; the weights are ours, measured on settings of one tune in several collections
(docs/engine.md).
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import NamedTuple

from nailhead.core.choosing import choose_cells
from nailhead.core.music.core_options import Option, Pick, beat_window, begun_in, bone_window, figured_tune
from nailhead.core.music.core_words import left_out, taken
from nailhead.core.music.decisions import decisions_of
from nailhead.core.music.evening import evened
from nailhead.core.music.harmonise import suggest_chords
from nailhead.core.music.layers import Core, CoreNote, Decisions, Layer
from nailhead.core.music.melody_facts import LEAP, Facts, Note, read_facts
from nailhead.core.music.structure import Structure, read_structure
from nailhead.core.music.tune import Tune
from nailhead.core.music.windows import Window, running_gap, stroke_units

#: Points (weights ours). A note that must stay costs so much that nothing outweighs it.
COSTS = {
    "off the beat": 9,  # a note between the beats stands for one
    "not first in its unit": 11,  # a bone that stands for the beat before it
    "shorter than its neighbours": 2,
    "not in the chord": 1,
    "outside the scale": 2,
    "peak left out": 2,
    "trough left out": 2,
    "end of a phrase left out": 6,
    "long note left out": 3,  # one of those that are as long as any in their window
    "leap the melody does not make": 2,
    "pitch again where the melody moves": 1,
    "two notes in a beat": 2,
    "long and short evened out": 4,
    "must stay": 10_000,
}


class _Way(NamedTuple):
    """What a bar keeps in all its windows."""

    cost: int
    picks: Option


@dataclass(frozen=True)
class _Task:
    """What each window of each bar may keep, and the facts it is weighed by; `motifs` are the bars' first equals."""

    facts: Facts
    motifs: tuple[int, ...]
    bones: bool
    windows: tuple[tuple[tuple[int, tuple[Note, ...], tuple[Option, ...]], ...], ...]


def find_core(tune: Tune, decisions: Decisions | None = None) -> Core:
    """The layers of a tune's melody, by its chords or the usual ones, with the teacher's decisions laid over: those
    that the tune carries where none are given.
    """
    tune = suggest_chords(tune)
    told = decisions_of(tune).kept if decisions is None else decisions
    return core_of(tune, read_structure(tune), told)


def core_of(tune: Tune, structure: Structure, decisions: Decisions) -> Core:
    """As `find_core`, for a tune with chords whose structure is read already.

    A decision is good for all equal bars. Only the window it falls in changes, and there every note that is kept comes
    back to its own onset; the bones are chosen out of what the beats are then.
    """
    facts = read_facts(tune, structure)
    windows = facts.windows
    decided = _spread(structure, decisions, facts.ticks)
    motifs = motifs_of(facts, structure, tune)
    gap, figured = running_gap(tune, facts.ticks), figured_tune(tune, facts)
    rows = [
        tuple(beat_window(facts, bar, window, gap, figured) for window in windows[bar])
        for bar in range(len(facts.bars))
    ]
    beats, beat_costs = _solve(_Task(facts, motifs, False, tuple(rows)))
    beats = [_decided(picks, facts.bars[bar], windows[bar], decided, bar) for bar, picks in enumerate(beats)]
    units = [stroke_units(tune, structure, bar, windows[bar]) for bar in range(len(facts.bars))]
    rows = [
        tuple(bone_window(unit, facts.bars[bar], beats[bar], len(units[bar])) for unit in units[bar])
        for bar in range(len(facts.bars))
    ]
    bones, bone_costs = _solve(_Task(facts, motifs, True, tuple(rows)))
    pairs = [_pairs(facts.bars[bar], windows[bar], beats[bar], decided, bar) for bar in range(len(facts.bars))]
    notes = []
    for bar, row in enumerate(facts.bars):
        kept = [dict(layer[bar]) for layer in (bones, beats, pairs)]
        even = evened(beats[bar], row, windows[bar], gap)
        notes += [_core_note(tune, structure, facts, note, kept, even, decided) for note in row]
    return Core(tuple(notes), dict(beat_costs + bone_costs))


def windows_of(facts: Facts) -> range:
    """The written bars."""
    return range(len(facts.bars))


def _core_note(
    tune: Tune,
    structure: Structure,
    facts: Facts,
    note: Note,
    kept: Sequence[dict[int, int]],
    even: Mapping[int, int],
    decisions: Decided,
) -> CoreNote:
    layer = next((layer for layer, row in zip(Layer, kept, strict=False) if note.place in row), Layer.FULL)
    bones, beat, pairs = (Fraction(row.get(note.place, note.onset), facts.ticks) for row in kept)
    decided = decisions.get((note.bar, note.onset))
    window = next(window for window in facts.windows[note.bar] if window.start <= note.onset < window.end)
    rivals = [other for other in begun_in(facts.bars[note.bar], window) if other is not note]
    words = tune.bars[note.bar].metre, structure.offsets[note.bar]
    if decided is not None:
        why = "You took it into the core." if decided else "You took it out of the core."
    elif layer in (Layer.BONES, Layer.BEAT):
        why = taken(note, beat, note.onset == kept[1][note.place], rivals, *words)
    else:
        winner = next((other for other in rivals if other.place in kept[1]), None)
        why = left_out(note, winner, layer, note.onset == window.start)
    onset, duration = Fraction(note.onset, facts.ticks), Fraction(note.duration, facts.ticks)
    on_beat = Fraction(even[note.place], facts.ticks) if note.place in even and decided is None else None
    places = (bones, beat, pairs)
    return CoreNote(note.bar, onset, duration, note.pitch, layer, places, why, decided is not None, on_beat)


#: Decisions by bar and tick.
Decided = Mapping[tuple[int, int], bool]


def _spread(structure: Structure, decisions: Decisions, ticks: int) -> dict[tuple[int, int], bool]:
    """A decision in one bar holds in all equal ones."""
    found: dict[tuple[int, int], bool] = {}
    for (bar, onset), taken_in in decisions.items():
        if bar < len(structure.classes):
            for other, first in enumerate(structure.classes):
                if first == structure.classes[bar]:
                    found[other, int(onset * ticks)] = taken_in
    return found


# -- weighing


def _alone(task: _Task, start: int, begun: Sequence[Note], option: Option, bar: int) -> Iterator[str]:
    """The names of what an option costs by itself."""
    notes = task.facts.bars[bar]
    longest = max((note.duration for note in begun), default=0)
    kept = {pick.place for pick in option}
    for pick in option:
        note = notes[pick.place]
        if _stands_in(task, start, pick, note.onset) and pick is option[0]:
            yield "not first in its unit" if task.bones else "off the beat"
        if note.duration < longest:
            yield "shorter than its neighbours"
        if not note.chord_tone:
            yield "not in the chord"
        if not note.in_scale:
            yield "outside the scale"
    if len(option) > 1:
        yield "two notes in a beat"
    elif len(begun) == 2 and begun[0].duration == 2 * begun[1].duration and not begun[1].tuplet and not task.bones:
        yield "long and short evened out"
    for note in begun:
        if note.place in kept:
            continue
        if note.anchor or (not task.bones and (note.must or note.word)):
            yield "must stay"
        if note.phrase_end:
            yield "end of a phrase left out"
        if note.peak:
            yield "peak left out"
        if note.trough:
            yield "trough left out"
        if note.duration == longest and len(begun) > 1 and min(one.duration for one in begun) < longest:
            yield "long note left out"


def _stands_in(task: _Task, start: int, pick: Pick, onset: int) -> bool:
    """Does a note stand for a beat that it does not begin or, as a bone, sound on?"""
    if task.bones:
        return pick.at > start or onset > start
    return pick.at == start < onset


def _between(facts: Facts, one: Note, other: Note) -> Iterator[str]:
    """The names of what it costs that one kept note follows another."""
    if facts.leaps(one, other):
        yield "leap the melody does not make"
    if facts.stands(one, other):
        yield "pitch again where the melody moves"


def _priced(names: Iterator[str]) -> int:
    return sum(COSTS[name] for name in names)


# -- choosing


def motifs_of(facts: Facts, structure: Structure, tune: Tune) -> tuple[int, ...]:
    """For each bar the first with the same motif: the same rhythm over the same beats, and the same steps, on whatever
    degree.
    """
    seen: dict[object, int] = {}
    motifs = []
    for bar, notes in enumerate(facts.bars):
        base = notes[0].pitch.diatonic if notes else 0
        row = tuple((note.onset, note.duration, note.pitch.diatonic - base, bool(note.word)) for note in notes)
        leaps = tuple(abs(one.height - notes[-1].height) >= LEAP for one in notes)
        units = tuple(map(len, stroke_units(tune, structure, bar, facts.windows[bar])))
        key = (row, leaps, facts.rests[bar], facts.windows[bar], units)
        motifs.append(seen.setdefault(key, bar))
    return tuple(motifs)


def _solve(task: _Task) -> tuple[list[Option], Counter[str]]:
    """What each bar keeps, and the costs by name."""
    members: dict[int, list[int]] = {}
    for bar, first in enumerate(task.motifs):
        members.setdefault(first, []).append(bar)
    ways = {first: _ways(task, bars) for first, bars in members.items()}
    steps: dict[tuple[int, int], list[tuple[int, int]]] = {}
    for bar in range(len(task.motifs) - 1):
        steps.setdefault((task.motifs[bar], task.motifs[bar + 1]), []).append((bar, bar + 1))

    def price(before: int, one: _Way, after: int, other: _Way) -> int:
        if not one.picks or not other.picks:
            return 0
        return sum(
            _step(task.facts, task.facts.bars[left][one.picks[-1].place], task.facts.bars[right][other.picks[0].place])
            for left, right in steps[before, after]
        )

    # Each motif is one variable, priced for all its bars at once.
    names = list(members)
    order = {first: place for place, first in enumerate(names)}
    chosen = choose_cells(
        list(order.values()),
        {order[first]: found for first, found in ways.items()},
        [(order[one], order[other]) for one, other in steps],
        lambda before, one, after, other: price(names[before], one, names[after], other),
    ).cells
    picks = [chosen[order[first]].picks for first in task.motifs]
    return picks, _named(task, picks)


def _step(facts: Facts, one: Note, other: Note) -> int:
    return 0 if other.number == one.number + 1 else _priced(_between(facts, one, other))


def _ways(task: _Task, bars: Sequence[int]) -> list[_Way]:
    """The cheapest way through a motif for each first and last note it may have, priced for all its bars."""
    best: dict[tuple[Pick | None, Pick | None], _Way] = {(None, None): _Way(0, ())}
    rows = zip(*(task.windows[bar] for bar in bars), strict=True)
    for row in rows:
        options = list(dict.fromkeys(option for _, _, found in row for option in found))
        alone = {
            option: sum(
                _priced(_alone(task, start, begun, option, bar)) if option in found else COSTS["must stay"]
                for bar, (start, begun, found) in zip(bars, row, strict=True)
            )
            for option in options
        }
        found: dict[tuple[Pick | None, Pick | None], _Way] = {}
        for (first, last), way in best.items():
            for option in options:
                cost = way.cost + alone[option]
                if option and last:
                    if option[0].place <= last.place or option[0].at <= last.at:
                        continue
                    cost += sum(
                        _step(task.facts, task.facts.bars[bar][last.place], task.facts.bars[bar][option[0].place])
                        for bar in bars
                    )
                key = (first or (option[0] if option else None), option[-1] if option else last)
                if key not in found or cost < found[key].cost:
                    found[key] = _Way(cost, way.picks + option)
        best = found
    return list(best.values())


def _named(task: _Task, picks: Sequence[Option]) -> Counter[str]:
    """What the choice costs, by name, in points."""
    names: Counter[str] = Counter()
    last: Note | None = None
    for bar, kept in enumerate(picks):
        notes = task.facts.bars[bar]
        for start, begun, options in task.windows[bar]:
            own = tuple(pick for pick in kept if any(pick in option for option in options))
            names.update(_alone(task, start, begun, own, bar))
        for pick in kept:
            if last:
                names.update(_between(task.facts, last, notes[pick.place]))
            last = notes[pick.place]
    return Counter({name: COSTS[name] * times for name, times in names.items()})


# -- pairs, and the teacher's word


def _decided(picks: Option, notes: Sequence[Note], windows: Sequence[Window], decisions: Decided, bar: int) -> Option:
    """The picks of a bar with the teacher's decisions laid over."""
    kept = dict(picks)
    for window in windows:
        inside = begun_in(notes, window)
        if not any((bar, note.onset) in decisions for note in inside):
            continue
        whole = any(note.tuplet and decisions.get((bar, note.onset)) for note in inside)
        for note in inside:
            if decisions.get((bar, note.onset), note.place in kept) or (note.tuplet and whole):
                kept[note.place] = note.onset
            else:
                kept.pop(note.place, None)
    return tuple(sorted((Pick(place, at) for place, at in kept.items()), key=lambda pick: pick.at))


def _pairs(notes: Sequence[Note], windows: Sequence[Window], beats: Option, decisions: Decided, bar: int) -> Option:
    """The beats, and both notes of a beat that is split in two where neither neighbour is split."""
    kept = dict(beats)
    begun = [begun_in(notes, window) for window in windows]
    for place, (window, inside) in enumerate(zip(windows, begun, strict=True)):
        beside = [begun[other] for other in (place - 1, place + 1) if 0 <= other < len(begun)]
        if window.counts != 2 or len(inside) != 2 or any(len(other) > 1 for other in beside):
            continue
        if inside[0].onset != window.start or inside[1].onset * 2 != window.start + window.end:
            continue
        for note in inside:
            if decisions.get((bar, note.onset)) is not False:
                kept[note.place] = note.onset
    return tuple(sorted((Pick(place, at) for place, at in kept.items()), key=lambda pick: pick.at))
