"""The measures of a ladder, taken from what is on paper: how much each rung adds, and whether it is the idiom's."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import pairwise

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.teacher.path import grade_path
from nailhead.core.arrange.values import ArrangedBar, Finger, FrettedNote, Role, Stroke
from nailhead.core.music.clock import clock_of
from nailhead.core.music.metre import Metre
from nailhead.core.music.tune import Tempo
from nailhead.core.music.windows import KINDS, RUNNING, USUAL

#: What counts as the basic stroke or its kin on rung 2, and as a named roll from rung 5 on, by the pattern's name.
BASIC = {
    "clawhammer": ("basic stroke", "waltz stroke", "jig stroke", "jig catch", "brush and thumb", "stroke and thumb"),
    "three-finger": (
        "pinch",
        "pinched notes",
        "waltz pinch",
        "pinched waltz",
        "jig pinch",
        "pinched jig",
        "pinched beat",
        "note and thumb",
        "pinched note",
    ),
}
NAMELESS = ("thumb behind", "alternating", "threes alternating", "mixed", "pinch alone")
#: So many strokes of the nail in a row, a count apart, are more than a hand does.
NAILS = 4
#: From a thumb on the bass strings to the middle finger on the treble ones.
ORDER = (Finger.THUMB, Finger.INDEX, Finger.MIDDLE)


def heard(bar: ArrangedBar) -> tuple[object, ...]:
    """What two bars are compared by: who strikes what when, how a note is come to, and whether it is shaken."""
    return tuple(
        (
            stroke.onset,
            stroke.shake,
            tuple((touch.by, tuple((note.place, note.slur) for note in touch.notes)) for touch in stroke.touches),
        )
        for stroke in bar.strokes
    )


def nails_in_a_row(bar: ArrangedBar, metre: Metre) -> int:
    """The longest row of strokes of the nail that come a count apart."""
    count, longest, row = clock_of(metre).count, 0, 0
    before: Stroke | None = None
    for stroke in bar.strokes:
        nail = Finger.NAIL in stroke.fingers
        soon = before is not None and stroke.onset - before.onset <= count
        row = (row + 1 if soon else 1) if nail else 0
        before = stroke if nail else before
        longest = max(longest, row)
    return longest


def falls_between(ladder: Ladder, index: int, rung: int) -> bool:
    """Does the nail come down between two beats in twos, where counts are too fast for a hand in its first month?"""
    metre = ladder.tune.bars[index].metre
    clock = clock_of(metre)
    tempo = ladder.tune.tempo or Tempo(Fraction(1, 4), KINDS.get(ladder.tune.rhythm.strip().lower(), USUAL))
    fast = tempo.beat * tempo.bpm / 60 > RUNNING * clock.count
    between = (
        Finger.NAIL in stroke.fingers and (stroke.onset + ladder.structure.offsets[index]) % (2 * clock.count)
        for stroke in ladder.rungs[rung - 1][index].strokes
    )
    return fast and set(clock.groups) == {2} and any(between)


def crossed(bar: ArrangedBar, metre: Metre) -> int:
    """Strokes whose fingers lie across each other, and pairs of them a count apart; string 5 excepted."""
    count = clock_of(metre).count
    struck = [stroke for stroke in bar.strokes if stroke.struck]
    soon = [(one, other) for one, other in pairwise(struck) if other.onset - one.onset <= count]
    return sum(
        any(
            _lie_across(first.by, a.place.string, second.by, b.place.string)
            for first in one.touches
            for second in other.touches
            for a in first.notes[:1]
            for b in second.notes[:1]
        )
        for one, other in (*((stroke, stroke) for stroke in struck), *soon)
    )


def _lie_across(first: Finger | None, string: int, second: Finger | None, other: int) -> bool:
    if first not in ORDER or second not in ORDER or 5 in (string, other):
        return False
    return (ORDER.index(second) - ORDER.index(first)) * (other - string) > 0


def stolen(bar: ArrangedBar, metre: Metre) -> int:
    """Fillers that strike the place of the melody note that begins one count later."""
    count, found = clock_of(metre).count, 0
    for one, other in pairwise(bar.strokes):
        if other.onset - one.onset <= count:
            coming = {note.place for note in _melody(other) if note.slur is None}
            found += any(note.place in coming for note in one.notes if note.role is not Role.MELODY)
    return found


def _melody(stroke: Stroke) -> Iterator[FrettedNote]:
    return (note for note in stroke.notes if note.role is Role.MELODY and not note.held)


@dataclass
class Measures:
    """Counts over full bars of one rung, and over tunes."""

    bars: int = 0
    equal: int = 0
    nails: int = 0
    between: int = 0
    basic: int = 0
    fifth: int = 0
    rolls: int = 0
    stolen: int = 0
    crossed: int = 0
    grades: Counter[int] = field(default_factory=Counter)
    left_out: int = 0

    def add(self, ladder: Ladder, index: int, rung: int) -> None:
        """One written bar on a rung."""
        written, bar = ladder.tune.bars[index], ladder.rungs[rung - 1][index]
        self.bars += 1
        if rung > 1:
            self.equal += heard(bar) == heard(ladder.rungs[rung - 2][index])
        self.nails += nails_in_a_row(bar, written.metre) >= NAILS
        self.between += falls_between(ladder, index, rung)
        self.basic += any(name in BASIC.get(ladder.idiom.id, ()) for name in bar.patterns)
        self.fifth += any(note.place.string == 5 for stroke in bar.strokes for note in stroke.notes)
        self.rolls += any(name not in NAMELESS for name in bar.patterns)
        self.stolen += stolen(bar, written.metre) > 0
        self.crossed += crossed(bar, written.metre) > 0


def measure_ladders(ladders: list[Ladder]) -> dict[int, Measures]:
    """Rung -> measures over the full bars of all ladders, the classes of equal bars each as often as written."""
    found = {rung: Measures() for rung in range(1, max(len(ladder.rungs) for ladder in ladders) + 1)}
    for ladder in ladders:
        for rung in range(1, len(ladder.rungs) + 1):
            found[rung].grades[tune_grade(ladder, rung)] += 1
            for index, written in enumerate(ladder.tune.bars):
                if written.length == written.metre.length and not written.metre.free:
                    found[rung].add(ladder, index, rung)
    return found


def tune_grade(ladder: Ladder, rung: int) -> int:
    """The grade of the whole tune on one rung, as the product gives it."""
    return grade_path(ladder.rungs[rung - 1], ladder.structure.classes).value


def steps(ladder: Ladder) -> list[int]:
    """By how much the tune's grade rises from rung to rung."""
    grades = [tune_grade(ladder, rung) for rung in range(1, len(ladder.rungs) + 1)]
    return [after - before for before, after in pairwise(grades)]
