"""What the practice room plays, in exact musical time: each bar's strings at every tempo, its company, its counts, and
how a loop that begins there is begun. Seconds come only where it is played.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.music.form import parts_of
from nailhead.core.music.metre import ZERO, Metre, Time
from nailhead.core.practice.backing import BackingNote, backing_of, rows_for
from nailhead.core.practice.counting import Click, count_in, counts_of
from nailhead.core.practice.drills import Drill
from nailhead.core.practice.material import Material, Spot
from nailhead.core.practice.spans import halves, loop_of, whole
from nailhead.core.practice.tempo import FASTEST
from nailhead.core.practice.turns import turns_of
from nailhead.core.sound.playing import pace_at, swung_by
from nailhead.core.sound.soundings import Sounding, soundings_of

#: A shaken note is struck so often as its time allows: (up to this percent of the tempo, as at this percent).
BANDS = ((45, 38), (70, 58), (90, 80), (120, 105), (FASTEST, 135))


@dataclass(frozen=True, slots=True)
class Heard:
    """A string that sounds; at full swing `swung` whole notes later."""

    sounding: Sounding
    swung: float


@dataclass(frozen=True, slots=True)
class Company:
    """What keeps company; at full swing `swung` whole notes later."""

    note: BackingNote
    swung: float


@dataclass(frozen=True, slots=True)
class Take:
    """All strings of a bar where it is played at up to `upto` percent."""

    upto: int
    heard: tuple[Heard, ...]


@dataclass(frozen=True)
class Start:
    """How a loop begins `at` a moment of a bar: after the counts, and after upbeat `lead` where there is one, a bar and
    from when to when of it.

    `ends` says of the bars that have beats to spare for the upbeat when a round leaves them (handbook §8: the pickup
    trick).
    """

    at: Time
    counts: tuple[Click, ...]
    counts_length: Time
    lead: tuple[int, Time, Time] | None = None
    ends: Mapping[int, Time] = field(default_factory=dict)


@dataclass(frozen=True)
class BarScore:
    """One bar as it sounds. `again` as it is played from the second time on, where that is otherwise; `place` is that
    of the written bar, `half` where its second half begins, None for a bar of one beat; an `upbeat` begins late.
    """

    place: int
    again: bool
    upbeat: bool
    number: int
    length: Time
    half: Time | None
    takes: tuple[Take, ...]
    counts: tuple[Click, ...]
    backing: Mapping[str, tuple[Company, ...]]
    starts: tuple[Start, ...]


@dataclass(frozen=True, slots=True)
class Phrase:
    """Bars that are heard, then left for the player."""

    bars: tuple[int, ...]
    heard: bool


@dataclass(frozen=True)
class Score:
    """Bars by their places in `bars`: in which `order` they are played, which are a line and a part (first, last).

    `whole_s` is how long a whole note lasts at the tune's tempo.
    """

    bars: tuple[BarScore, ...]
    order: tuple[int, ...]
    whole_s: float
    lines: tuple[tuple[int, int], ...] = ()
    parts: tuple[tuple[int, int], ...] = ()
    turns: tuple[Phrase, ...] = ()


def score_of(material: Material) -> Score:
    """The score of an arrangement, bar by bar in the order of the sheet: as written, then what is otherwise again."""
    spots = sorted(material.bars, key=lambda spot: (spot.again, spot.index))
    at = {spot: place for place, spot in enumerate(spots)}
    ladder = material.ladder
    beat = pace_at(ladder.tune).beat
    backing = {row.name: backing_of(ladder, row.name) for row in rows_for(ladder.tune.metre)}
    bars = []
    for spot in spots:
        written, cut = material.written(spot), halves(material, spot)
        bars.append(
            BarScore(
                spot.index,
                spot.again,
                bool(material.offset(spot)),
                written.number,
                material.bars[spot].length,
                cut[1].start if cut else None,
                _takes(ladder, material.bars[spot], written.metre, material.offset(spot)),
                _counts(written.metre, material.offset(spot), material.bars[spot].length),
                {
                    name: tuple(Company(note, swung_by(note.onset, written.metre, beat)) for note in rows[spot.index])
                    for name, rows in backing.items()
                },
                tuple(_starts(material, spot, at)),
            )
        )
    parts = [(part.start, part.stop) for part in parts_of(ladder.tune)]
    return Score(
        tuple(bars),
        tuple(at[spot] for spot in material.order),
        pace_at(ladder.tune).whole,
        tuple(_stretches(at, ladder.structure.phrases)),
        tuple(_stretches(at, parts)),
        tuple(Phrase(tuple(at[span.spot] for span in turn.spans), turn.heard) for turn in turns_of(material)),
    )


def _stretches(at: Mapping[Spot, int], spans: Iterable[tuple[int, int]]) -> Iterator[tuple[int, int]]:
    """First and last place of the bars in each span of written bars, those of the second time by themselves."""
    spans = list(spans)
    for again in (False, True):
        for start, stop in spans:
            inside = [place for spot, place in at.items() if spot.again is again and start <= spot.index < stop]
            if inside:
                yield min(inside), max(inside)


def drill_score(ladder: Ladder, drill: Drill) -> Score:
    """The score of a drill: its bars in their order, begun with a full bar of counts."""
    counts, length = count_in(drill.metre)
    bars = tuple(
        BarScore(
            place,
            False,
            False,
            bar.number,
            bar.length,
            None,
            _takes(ladder, bar, drill.metre, ZERO),
            _counts(drill.metre, ZERO, bar.length),
            {},
            (Start(ZERO, counts, length),),
        )
        for place, bar in enumerate(drill.bars)
    )
    return Score(bars, tuple(range(len(bars))), pace_at(ladder.tune).whole)


def _takes(ladder: Ladder, bar: ArrangedBar, metre: Metre, offset: Time) -> tuple[Take, ...]:
    """What sounds at each tempo; tempos at which the same sounds are one take."""
    setup, pace = ladder.fit.setup, pace_at(ladder.tune)
    begin = swung_by(offset, metre, pace.beat)
    takes: list[Take] = []
    for upto, percent in BANDS:
        sounds = soundings_of(bar, setup, pace.whole * 100 / percent)
        heard = tuple(Heard(one, swung_by(offset + one.onset, metre, pace.beat) - begin) for one in sounds)
        if takes and takes[-1].heard == heard:
            takes.pop()
        takes.append(Take(upto, heard))
    return tuple(takes)


def _counts(metre: Metre, offset: Time, length: Time) -> tuple[Click, ...]:
    """The counts that fall into a bar which begins so far into the full one."""
    inside = (Click(one.onset - offset, one.strong, one.said) for one in counts_of(metre))
    return tuple(one for one in inside if ZERO <= one.onset < length)


def _starts(material: Material, spot: Spot, at: Mapping[Spot, int]) -> Iterator[Start]:
    """From the bar's beginning, with the upbeat that leads into it, and from its second half."""
    metre, offset = material.written(spot).metre, material.offset(spot)
    first = whole(material, spot)
    loop = loop_of(material, [first])
    (lead,) = loop.lead_in or (None,)
    before = lead.length if lead else ZERO
    counts, length = count_in(metre, before or (metre.length - offset if offset else ZERO))
    if lead:
        yield Start(ZERO, counts, length, (at[lead.spot], lead.start, lead.end), _ends(material, spot, at))
    else:
        yield Start(ZERO, counts, length)
    cut = halves(material, spot)
    if cut:
        middle = cut[1].start
        yield Start(middle, *count_in(metre, metre.length - offset - middle))


def _ends(material: Material, first: Spot, at: Mapping[Spot, int]) -> dict[int, Time]:
    """Where a round that began with `first` leaves the bar that it ends with, where that has the upbeat in it."""
    found: dict[int, Time] = {}
    for last in at:
        spans = [whole(material, first), whole(material, last)] if last != first else [whole(material, first)]
        loop = loop_of(material, spans)
        if loop.pickup:
            found[at[last]] = loop.spans[-2].end
    return found
