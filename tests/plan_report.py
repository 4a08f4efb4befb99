"""`make corpus`: the planner on 300 real tunes and every instrument, any key: answered, or explained, and how fast."""

from __future__ import annotations

import argparse
import time
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from dataclasses import replace
from statistics import median, quantiles

from nailhead.core.arrange.fit.ladder import build_ladder
from nailhead.core.arrange.fit.planned import asked
from nailhead.core.arrange.left.melody import count_shifts
from nailhead.core.arrange.rows.ways import find_idiom, options_of
from nailhead.core.errors import FitError
from nailhead.core.fretboard.instruments import INSTRUMENTS
from nailhead.core.fretboard.plan import rank_setups
from nailhead.core.fretboard.shapes import easiest_shape
from nailhead.core.music.tune import Tune, sounding_notes
from nailhead.formats.abc import read_book
from tests.corpora import CorpusTune, sample
from tests.rules import in_tune


def wrong_with(tune: Tune, name: str) -> tuple[str, str]:
    """(what is wrong, why it was refused) of the planner's first answer on an instrument; both "" where all is well.

    Every plan must hold every note; the first is laid on the strings, and every note must sound at its pitch.
    """
    instrument = INSTRUMENTS[name]
    idiom = find_idiom(None, instrument)
    ask = asked(idiom, key="any")
    try:
        plans = rank_setups(tune, instrument, ask, lambda fit: count_shifts(fit, idiom))
    except FitError as error:
        return ("" if error.message and error.remedy else "refused without a remedy"), error.message
    if [plan.cost for plan in plans] != sorted(plan.cost for plan in plans):
        return "not in the order of cost", ""
    for plan in plans:
        setup = plan.fit.setup
        if not all(setup.places(setup.cents_of(pitch)) for pitch in plan.fit.tune.pitches):
            return f"{setup.label} has no place for a note", ""
    way = find_idiom(idiom.id, instrument, options_of({"melody": "every note"}))
    ladder = build_ladder(plans[0].fit, replace(way, rungs=way.rungs[:2]))
    setup = ladder.fit.setup
    notes = [note for bar in ladder.rungs[0] for stroke in bar.strokes for note in stroke.notes if not note.held]
    if len(notes) != len(sounding_notes(ladder.tune)):
        return "a note is missing on rung 1", ""
    if not all(in_tune(setup, note.place, note.pitch) for note in notes):
        return "a note of rung 1 does not sound at its pitch", ""
    return "", ""


def _measured(chosen: CorpusTune) -> list[tuple[str, str, str, float]]:
    tune = read_book(chosen.text)[0].tune
    rows = []
    for name in INSTRUMENTS if tune else ():
        easiest_shape.cache_clear()
        start = time.perf_counter()
        assert tune
        wrong, why = wrong_with(tune, name)
        rows.append((name, f"{chosen}: {wrong}" if wrong else "", why, 1000 * (time.perf_counter() - start)))
    return rows


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--tunes", type=int, default=300)
    options = parser.parse_args()
    with ProcessPoolExecutor(2) as pool:
        rows = [row for found in pool.map(_measured, sample(options.tunes), chunksize=4) for row in found]
    print("instrument          answered  explained   ms median   95 %    most (plan and rung 1, nothing known before)")
    for name in INSTRUMENTS:
        mine = [row for row in rows if row[0] == name]
        times = sorted(row[3] for row in mine)
        refused = sum(bool(row[2]) for row in mine)
        fast = f"{median(times):9.0f} {quantiles(times, n=20)[-1]:8.0f} {times[-1]:7.0f}"
        print(f"{name:18} {len(mine) - refused:9} {refused:10} {fast}")
    for why, count in Counter(" ".join(row[2].split()[:8]) for row in rows if row[2]).most_common(12):
        print(f"   {count} x {why} …")
    wrong = [row[1] for row in rows if row[1]]
    print(f"wrong: {len(wrong)}", *wrong[:20], sep="\n   ")


if __name__ == "__main__":
    main()
