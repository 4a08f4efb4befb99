"""What the ladders are like on real tunes: 300 of them in every idiom that has one, each rung; run by `make corpus`."""

from __future__ import annotations

import sys
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from fractions import Fraction

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.fit.planned import planned, wished
from nailhead.core.arrange.rows.three_finger import THREE_FINGER
from nailhead.core.arrange.rows.ways import find_idiom
from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.errors import FitError
from nailhead.core.fretboard.fit import fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.music.clock import clock_of
from nailhead.core.music.tune import Bar, Tune
from nailhead.formats.abc import read_tune
from tests.corpora import sample
from tests.ladder_measures import measure_ladders, steps, tune_grade
from tests.rules import violations
from tests.saz_tunes import saz_tune

#: Metres that the share of full bars is asked for.
METRES = {"4/4", "C", "C|", "2/2", "2/4", "3/4", "6/8"}
MOTION = {row.name: row.family for row in THREE_FINGER.right.patterns}


@dataclass
class Tally:
    """Counts over the bars of one rung."""

    bars: int = 0
    plainer: int = 0
    changing: int = 0
    counts: int = 0
    struck: int = 0
    slurred: int = 0
    moved: int = 0
    reasons: Counter[str] = field(default_factory=Counter)

    def add(self, written: Bar, bar: ArrangedBar) -> None:
        """One written bar."""
        self.bars += 1
        self.plainer += bool(bar.plainer)
        self.reasons[" ".join(bar.plainer.split()[:3])] += bool(bar.plainer)
        motions = [MOTION.get(name, "") for name in bar.patterns]
        self.changing += len(set(filter(None, motions))) > 1
        self.moved += bool(bar.moved)
        self.slurred += any(note.slur for stroke in bar.strokes for note in stroke.notes)
        if not_slower_than_quarters(written):
            self.counts += int(bar.length / clock_of(written.metre).count)
            self.struck += sum(stroke.sounded for stroke in bar.strokes)


def not_slower_than_quarters(bar: Bar) -> bool:
    """Does the bar's melody keep moving? There a roll has to sound all through."""
    return all(event.pitch and event.duration <= Fraction(1, 4) for event in bar.events)


def measure(ladders: list[Ladder]) -> dict[int, Tally]:
    """Rung -> tally over the bars of all ladders."""
    tallies = {rung: Tally() for rung in range(1, 8)}
    for ladder in ladders:
        for rung, bars in enumerate(ladder.rungs, start=1):
            for written, bar in zip(ladder.tune.bars, bars, strict=True):
                if str(written.metre) in METRES and bar.length == written.metre.length:
                    tallies[rung].add(written, bar)
    return tallies


def ladders_of(count: int, idiom: str | None, instrument: str = "banjo", tuning: str | None = None) -> list[Ladder]:
    """The sample's tunes on an instrument as the product sets them up; those that do not fit are left out.

    A saz plays tunes with commas, which a generator makes. In a tuning that is named a tune goes to its best key.
    """
    row, found = find_instrument(instrument), []
    way = find_idiom(idiom, row)
    for tune in map(saz_tune, range(min(count, SAZ))) if row.relative else sample_tunes(count):
        try:
            wish = wished(way, tuning, key="any" if tuning else None)
            # Where the thumb has strings of its own the planner sees to it that the melody leaves them.
            wish = planned(tune, row, way, wish) if way.aloft or tuning else wish
            found.append(build_ladder(fit_tune(tune, row, wish), way))
        except FitError:
            continue
    return found


def sample_tunes(count: int) -> Iterator[Tune]:
    for chosen in sample(count):
        tune = read_tune(chosen.text).tune
        assert tune
        yield tune


def print_ladder(idiom: str, ladders: list[Ladder]) -> None:
    """What each rung adds, and the tune's grade on it, as docs/engine.md has it."""
    print("rung equal  nails between basic  fifth  rolls stolen crossed  grades of tunes")
    for rung, row in measure_ladders(ladders).items():
        shares = (row.equal, row.nails, row.between, row.basic, row.fifth, row.rolls, row.stolen, row.crossed)
        print(f"{rung:4}", *(f"{share / max(1, row.bars):6.1%}" for share in shares), dict(sorted(row.grades.items())))
    risen = [steps(ladder) for ladder in ladders if len(ladder.rungs) > 1]
    easy = sum(tune_grade(ladder, 1) <= 2 for ladder in ladders) / len(ladders)
    far = sum(sum(row) >= 3 for row in risen)
    rises = dict(Counter(step for row in risen for step in row))
    print(f"{idiom}: rung 1 graded 1 or 2 in {easy:.1%} of tunes; steps {rises};", end=" ")
    print(f"the last rung 3 and more above the first in {far} of {len(risen)}")
    missed = [ladder for ladder, row in zip(ladders, risen, strict=True) if max(row) > 2 or sum(row) < 3]
    for ladder in missed[:10]:
        grades = [tune_grade(ladder, rung) for rung in range(1, len(ladder.rungs) + 1)]
        print(f"  {grades} {ladder.tune.metre} {ladder.tune.rhythm or '-'} {ladder.tune.title}")


#: Tunes that the generator makes for the saz, and the ladders whose measures are printed beside the banjo's.
SAZ = 60
PICKED = (
    ("mandolin", "plectrum"),
    ("guitar", "plectrum"),
    ("dulcimer", "noter"),
    ("dulcimer", "chord-melody"),
    ("saz", "plectrum"),
    ("saz-short", "plectrum"),
)
#: Ladders under fingers and thumb, in a tuning where that is named.
PLUCKED = (
    ("ukulele", "fingerstyle", "gCEA"),
    ("ukulele", "fingerstyle", "GCEA"),
    ("ukulele-baritone", "fingerstyle", None),
    ("ukulele", "strum", "gCEA"),
    ("guitar", "fingerstyle", None),
    ("guitar", "fingerstyle", "DADGAD"),
    ("guitar", "fingerstyle", "DGDGBD"),
)


def print_picked(instrument: str, idiom: str, count: int, tuning: str | None = None) -> None:
    """What each rung adds on an instrument that is picked, strummed or plucked, and the rules."""
    ladders = ladders_of(count, idiom, instrument, tuning)
    wrong = [text for ladder in ladders for text in violations(ladder, frame=False)]
    kinds = Counter(" ".join(text.split(": ")[-1].split()[:4]) for text in wrong)
    name = ", ".join(filter(None, (instrument, idiom, tuning)))
    print(f"{name}: {len(ladders)} tunes, {len(wrong)} breaches of the rules {kinds.most_common(5)}")
    print_ladder(name, ladders)


def main(count: int = 300, only: str = "") -> None:
    """Prints two tables a banjo idiom, what a rung plays and what makes it a ladder; the second for all others. `only`
    names one instrument.
    """
    for idiom in ("clawhammer", "three-finger") if only in ("", "banjo") else ():
        ladders = ladders_of(count, idiom)
        wrong = [text for ladder in ladders for text in violations(ladder, frame=False)]
        print(f"{idiom}: {len(ladders)} tunes, {len(wrong)} breaches of the rules {wrong[:3]}")
        print("rung   bars  plainer  changing  struck  slurred  moved")
        for rung, tally in measure(ladders).items():
            n = tally.bars
            print(
                f"{rung:4} {n:6} {tally.plainer / n:8.1%} {tally.changing / n:9.1%}"
                f" {tally.struck / max(1, tally.counts):7.1%} {tally.slurred / n:8.1%} {tally.moved / n:6.1%}"
            )
        print_ladder(idiom, ladders)
    for instrument, idiom, *tuning in (*PICKED, *PLUCKED):
        if only in ("", instrument):
            print_picked(instrument, idiom, count, *tuning)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 300, *sys.argv[2:])
