"""From notes played in time to notes written in bars: grid, metre, pickup, spelling.

Played times are fractions of a whole note at the file's own tempo; nothing is guessed that the teacher cannot
correct: the grid, the metre, the length of the pickup and the key are all arguments of `write_out`.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import pairwise
from math import lcm

from nailhead.core.errors import TuneError
from nailhead.core.music.key import Key, spell
from nailhead.core.music.keyfinding import rank_keys
from nailhead.core.music.metre import ZERO, Metre, Time, parse_metre
from nailhead.core.music.pitch import PitchClass
from nailhead.core.music.tune import Bar, Event, Tune, Tuplet, number_bars

#: Grids a teacher can choose, coarse first.
STEPS = (Fraction(1, 4), Fraction(1, 8), Fraction(1, 16), Fraction(1, 32))
#: Metres tried where the file names none.
METRES = ("4/4", "3/4", "2/4", "6/8")
#: A note let go a little early is written full: the silence before the next note is at most this share of the way.
EARLY = Fraction(2, 5)
#: What a program's own rounding may miss a line of the grid by, in whole notes (five thousandths of a second or so).
EXACT = Fraction(1, 400)
MOST_BARS = 2_000
#: What speaks for bar lines at a place, and how much: set on printed tunes with their bar lines taken away. How often
#: it is right is in docs/readers.md.
BAR_SIGNS: dict[str, Fraction] = {
    "bars begin with a note": Fraction(3, 2),
    "bars begin with a long note": Fraction(1),
    "notes held over the bar": Fraction(-6),
    "beats are struck": Fraction(1),
    "ends on the first beat": Fraction(-1),
    "ends on a strong beat": Fraction(1, 3),
    "bars alike in rhythm": Fraction(1),
    "short pickup": Fraction(1),
    "no pickup": Fraction(4, 5),
}
_TRIPLET = Fraction(2, 3)


@dataclass(frozen=True, slots=True)
class PlayedNote:
    """A note as played: onset and end in whole notes, key number, bend in commas, its syllable."""

    onset: Time
    end: Time
    midi: int
    commas: int | Fraction = 0
    word: str = ""


@dataclass(frozen=True, slots=True)
class TimeGrid:
    """The finest straight note value that is written, and whether its triplets are too."""

    step: Time
    triplets: bool = True


def guess_grid(notes: Sequence[PlayedNote]) -> TimeGrid:
    """The coarsest grid that holds every onset exactly, or for a hand's playing one that is near to most of them."""
    grids = [TimeGrid(step, triplets) for step in STEPS[1:] for triplets in (False, True)]
    ticks = _ticks(note.onset for note in notes)
    onsets = [int(note.onset * ticks) for note in notes]
    misses = {grid: sorted(abs(at - _snapped(at, grid, ticks)) for at in onsets) for grid in grids}
    for grid, missed in misses.items():
        if missed[-1] <= EXACT * ticks:
            return grid
    for grid, missed in misses.items():
        step = grid.step * ticks
        if 10 * sum(missed) <= step * len(missed) and 3 * missed[len(missed) * 19 // 20] <= step:
            return grid
    return TimeGrid(STEPS[2], True)


def _ticks(times: Iterable[Time]) -> int:
    """So many to a whole note that every time, and every line of every grid, is on one: whole numbers are quick."""
    return lcm(3 * STEPS[-1].denominator, *{time.denominator for time in times})


def _snapped(at: int, grid: TimeGrid, ticks: int) -> int:
    """As `snap`, in ticks."""
    step = int(grid.step * ticks)
    straight = _nearest(at, step)
    if not grid.triplets:
        return straight
    triplet = _nearest(at, step * 2 // 3)
    return triplet if abs(at - triplet) * 2 < abs(at - straight) else straight


def _nearest(at: int, step: int) -> int:
    """The nearest multiple; half way goes to the even one, as `round` does."""
    lines, over = divmod(at, step)
    return step * (lines + (2 * over > step or (2 * over == step and lines % 2 == 1)))


def snap(time: Time, grid: TimeGrid) -> Time:
    """The nearest line of the grid; a triplet line only where it is clearly nearer."""
    ticks = _ticks([time])
    return Fraction(_snapped(int(time * ticks), grid, ticks), ticks)


def single_line(notes: Sequence[PlayedNote], grid: TimeGrid) -> tuple[PlayedNote, ...]:
    """The notes on the grid as one melody: of several at once the highest, each ended where the next begins.

    Where nearly all notes end on the grid, a program wrote them and every rest is meant; a hand lets go early.
    """
    on_grid = sum(abs(note.end - snap(note.end, grid)) <= EXACT for note in notes)
    early = Fraction(0) if on_grid * 10 >= len(notes) * 9 else EARLY
    highest: dict[Time, PlayedNote] = {}
    for note in notes:
        onset = snap(note.onset, grid)
        end = max(snap(note.end, grid), onset + grid.step * (_TRIPLET if grid.triplets else 1))
        snapped = replace(note, onset=onset, end=end)
        other = highest.get(onset)
        if other is None or other.midi < note.midi:
            highest[onset] = replace(snapped, word=note.word or (other.word if other else ""))
    line = [highest[onset] for onset in sorted(highest)]
    ended = [replace(note, end=_end(note, after, early)) for note, after in pairwise(line)]
    return (*ended, *line[-1:])


def _end(note: PlayedNote, after: PlayedNote, early: Fraction) -> Time:
    silence, way = after.onset - note.end, after.onset - note.onset
    return after.onset if silence <= way * early else note.end


def guess_bars(line: Sequence[PlayedNote], metre: Metre | None = None) -> tuple[Metre, Time]:
    """The likeliest metre (or the one given) and the length of the pickup before the first full bar.

    Bars are likely to begin on long notes, to repeat a rhythm bar by bar, and not to cut a note.
    """
    metres = [metre] if metre else [parse_metre(text) for text in METRES]
    ticks = lcm(
        *{time.denominator for note in line for time in (note.onset, note.end)},
        *(max(8, option.unit) for option in metres),
    )
    beats = [(int(note.onset * ticks), int((note.end - note.onset) * ticks)) for note in line]
    options = [
        (_bar_score(beats, option, pickup, ticks), -pickup, -index)
        for index, option in enumerate(metres)
        for pickup in _pickups(option)
    ]
    _, pickup, index = max(options)
    return metres[-index], -pickup


def _pickups(metre: Metre) -> list[Time]:
    step = Fraction(1, max(8, metre.unit))
    count = int(metre.length / step)
    return [index * step for index in range(count)]


def _bar_score(line: Sequence[tuple[int, int]], metre: Metre, pickup: Time, ticks: int) -> Fraction:
    """The sum of BAR_SIGNS, each weighted, for a metre and a pickup; notes are (onset, duration) in ticks."""
    length, start = int(metre.length * ticks), line[0][0] + int(pickup * ticks)
    places = [(onset - start) % length for onset, _ in line]
    bars = max(1, round(Fraction(sum(line[-1]) - line[0][0], length)))
    weights = [min(duration, ticks // 2) for _, duration in line]
    heads = [weight for weight, place in zip(weights, places, strict=True) if place == 0]
    rhythms: dict[int, list[tuple[int, int]]] = {}
    for (onset, duration), place in zip(line, places, strict=True):
        rhythms.setdefault((onset - start) // length, []).append((place, duration))
    alike = Counter(tuple(rhythm) for rhythm in rhythms.values())
    inner = {int(beat * ticks) for beat in metre.beat_onsets[1:]}
    strong = {int(beat * ticks) for beat in metre.strong_onsets}
    signs: dict[str, Fraction | int] = {
        "bars begin with a note": Fraction(len(heads), bars),
        "bars begin with a long note": Fraction(sum(heads) * len(line), len(heads) * sum(weights)) - 1 if heads else -1,
        "notes held over the bar": Fraction(
            sum(place + duration > length for (_, duration), place in zip(line, places, strict=True)), bars
        ),
        "beats are struck": Fraction(sum(place in inner for place in places), max(1, len(inner) * bars)),
        "ends on the first beat": places[-1] == 0,
        "ends on a strong beat": places[-1] in strong,
        "bars alike in rhythm": Fraction(sum(count for count in alike.values() if count > 1), len(rhythms)),
        "short pickup": 0 < pickup <= metre.length / 4,
        "no pickup": pickup == 0,
    }
    return sum((BAR_SIGNS[name] * value for name, value in signs.items()), Fraction(0))


def write_out(
    line: Sequence[PlayedNote], *, title: str, metre: Metre, pickup: Time, key: Key | None = None
) -> tuple[Tune, Key]:
    """The melody in bars, and its key (guessed where none is given); raises TuneError where it is too long."""
    if not line:
        raise TuneError("There are no notes.", field="melody", remedy="Choose a track with notes.")
    if not ZERO <= pickup < metre.length:
        raise TuneError("The pickup is as long as a bar.", field="pickup", remedy="Choose a shorter one.")
    start = line[0].onset
    if (line[-1].end - start) / metre.length > MOST_BARS:
        raise TuneError(f"The track is longer than {MOST_BARS} bars.", field="track", remedy="Cut it in its editor.")
    rough = key or Key(PitchClass("C"))
    events = _events(line, rough)
    bars = _bars(events, metre, pickup, rough)
    tune = Tune(title, rough, metre, bars)
    if key is None:
        key = rank_keys(tune)[0].key
        bars = _bars(_events(line, key), metre, pickup, key)
        tune = Tune(title, key, metre, bars)
    return tune, key


def _events(line: Sequence[PlayedNote], key: Key) -> list[Event]:
    """Notes and the rests between them, from the first note on."""
    events: list[Event] = []
    at = start = line[0].onset
    for note in line:
        if note.onset > at:
            events.append(Event(at - start, note.onset - at))
        pitch = replace(spell(Fraction(100 * note.midi), key), commas=note.commas)
        words = (note.word,) if note.word else ()
        events.append(Event(note.onset - start, note.end - note.onset, pitch, words=words))
        at = note.end
    return events


def _bars(events: list[Event], metre: Metre, pickup: Time, key: Key) -> tuple[Bar, ...]:
    """Cuts the stream at the bar lines; a note over a line is tied, the last bar is filled with a rest."""
    lines = [pickup] if pickup else []
    while (lines[-1] if lines else ZERO) < events[-1].end:
        lines.append((lines[-1] if lines else ZERO) + metre.length)
    whole = lines[-1]
    closing = whole - pickup if pickup and whole - pickup >= events[-1].end else whole
    if closing > events[-1].end:
        events = [*events, Event(events[-1].end, closing - events[-1].end)]
    bars, start, first = [], ZERO, 0
    for line in lines:
        while first < len(events) and events[first].end <= start:
            first += 1
        last = first
        while last < len(events) and events[last].onset < line:
            last += 1
        inside = [piece for event in events[first:last] if (piece := _piece(event, start, min(line, closing)))]
        if inside:
            marked = _mark_triplets(tuple(inside))
            bars.append(Bar(0, metre, key, marked, barline="final" if line == whole else "single"))
        start = line
    return tuple(
        replace(bar, new_line=(bar.number % 4 == 0 and bar.number > 0) or bar.barline == "final")
        for bar in number_bars(bars)
    )


def _piece(event: Event, start: Time, stop: Time) -> Event | None:
    onset, end = max(event.onset, start), min(event.end, stop)
    if onset >= end:
        return None
    first = onset == event.onset
    tied = bool(event.pitch) and end < event.end
    return replace(event, onset=onset - start, duration=end - onset, tied=tied, words=event.words if first else ())


def _mark_triplets(events: tuple[Event, ...]) -> tuple[Event, ...]:
    """Events of a third of a straight value become triplets, from leaving the straight grid to coming back."""
    marked = list(events)
    first = 0
    while first < len(marked):
        stop = first
        while stop < len(marked) and (marked[stop].duration.denominator % 3 == 0 or stop > first):
            stop += 1
            if marked[stop - 1].end.denominator % 3:
                break
        if stop > first and marked[stop - 1].end.denominator % 3:
            for place in range(first, stop):
                marked[place] = replace(marked[place], tuplet=Tuplet(3, 2, stop - first))
        first = max(stop, first + 1)
    return tuple(marked)
