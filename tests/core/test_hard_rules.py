"""H1 to H6 on generated tunes and on 200 real ones, open G and double C, all rungs."""

from __future__ import annotations

import pytest
from hypothesis import HealthCheck, given, settings

from nailhead.core.arrange.ladder import build_ladder
from nailhead.core.errors import FitError
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.fretboard.tunings import tunings_of
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_tune
from tests.corpora import sample
from tests.demo import demo_tunes
from tests.rules import violations
from tests.tunes import tunes

BANJO = find_instrument("banjo")
SAMPLE = 200
PARTS = 8


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(tunes())
def test_rules_hold_on_generated_tunes(tune: Tune) -> None:
    """Any metre, key, tie, rest, triplet and chord."""
    assert violations(build_ladder(fit_tune(tune, BANJO, Wish()))) == []


@pytest.mark.parametrize("part", range(PARTS))
def test_rules_hold_on_real_tunes(part: int) -> None:
    """A fixed sample of four public-domain collections in both tunings; hardly any tune may fail to fit."""
    misfits = 0
    for chosen in sample(SAMPLE)[part::PARTS]:
        tune = read_tune(chosen.text).tune
        assert tune
        for tuning in ("gDGBD", "gCGCD"):
            try:
                fit = fit_tune(tune, BANJO, Wish(tuning=tuning))
            except FitError:
                misfits += 1
                continue
            assert violations(build_ladder(fit)) == [], f"{chosen} {tuning}"
    assert misfits <= 1


@pytest.mark.parametrize("tuning", [row.id for row in tunings_of("banjo")])
@pytest.mark.parametrize("tune", demo_tunes(), ids=lambda tune: tune.title)
def test_rules_hold_on_the_demo_shelf(tune: Tune, tuning: str) -> None:
    """Every invented tune in every tuning."""
    assert violations(build_ladder(fit_tune(tune, BANJO, Wish(tuning=tuning)))) == []


def test_the_checker_can_fail() -> None:
    """A note moved to another string is a breach of H1 and H5: the rules are not vacuous."""
    from dataclasses import replace

    ladder = build_ladder(fit_tune(demo_tunes()[0], BANJO, Wish()))
    bar = ladder.rungs[1][1]
    stroke = bar.strokes[0]
    note = stroke.notes[0]
    wrong = replace(note, place=note.place._replace(fret=note.place.fret + 1))
    spoiled = replace(bar, strokes=(replace(stroke, notes=(wrong,)), *bar.strokes[1:]))
    rung = (ladder.rungs[1][0], spoiled, *ladder.rungs[1][2:])
    said = violations(replace(ladder, rungs=(ladder.rungs[0], rung, ladder.rungs[2])))
    assert any("does not sound" in text for text in said)
    assert any("H5" in text for text in said)
