"""H1 to H7 on generated tunes and on real ones, open G and double C, both banjo idioms, all rungs."""

from __future__ import annotations

import pytest
from hypothesis import HealthCheck, given, settings

from nailhead.core.arrange.fit.ladder import build_ladder
from nailhead.core.arrange.fit.second_time import written_again
from nailhead.core.arrange.values import Finger, Way, single
from nailhead.core.errors import FitError
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_tune
from tests.arrange_report import measure
from tests.corpora import corpus_tunes, sample, sized
from tests.demo import demo_tunes
from tests.ladder_measures import measure_ladders
from tests.rules import misplaced_melody, misplaced_strokes, violations
from tests.tunes import tunes

BANJO = find_instrument("banjo")
IDIOMS = ("clawhammer", "three-finger")
#: Tunes of the sample, the great one shared by parts so that two workers can take turns; half in either tuning.
SAMPLE, PARTS = sized(20, 300), sized(1, 12)
TUNINGS = ("gDGBD", "gCGCD")


@pytest.mark.parametrize("idiom", IDIOMS)
@settings(max_examples=sized(12, 100), deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(tunes())
def test_rules_hold_on_generated_tunes(idiom: str, tune: Tune) -> None:
    """Any metre, key, tie, rest, triplet and chord."""
    assert violations(build_ladder(fit_tune(tune, BANJO, Wish()), idiom)) == []


#: Tunes that once broke a rule, found by the test above: what broke, and the tune.
PINNED = {
    "a filler by the thumb on string 2": 'M:10/8\nL:1/8\nK:Ador\n|:"Bb"C6-C c3 | E6z2(3CCC :|',
}


@pytest.mark.parametrize("tuning", [None, *TUNINGS])
@pytest.mark.parametrize("idiom", IDIOMS)
@pytest.mark.parametrize("case", PINNED)
def test_rules_hold_where_they_once_did_not(case: str, idiom: str, tuning: str | None) -> None:
    """Each in both idioms, in the everyday tunings and in the one that is chosen."""
    found = read_tune(f"X:1\nT:{case}\n{PINNED[case]}\n").tune
    assert found
    assert violations(build_ladder(fit_tune(found, BANJO, Wish(tuning=tuning)), idiom)) == []


def test_rules_hold_where_bars_come_back_in_many_places() -> None:
    """A jig whose joins are too many for an exact choice once had the thumb twice running over a bar line."""
    chosen = next(one for one in corpus_tunes("oneills1850") if str(one).endswith("0811-0899 X:831"))
    found = read_tune(chosen.text).tune
    assert found
    assert violations(build_ladder(fit_tune(found, BANJO, Wish(tuning="gCGCD")), "three-finger")) == []


@pytest.mark.parametrize("idiom", IDIOMS)
@pytest.mark.parametrize("part", range(PARTS))
def test_rules_hold_on_real_tunes(part: int, idiom: str) -> None:
    """A fixed sample of four public-domain collections, every rung; and what a good arrangement is, measured.

    Each part keeps the bounds by itself: bars plainer than their rung, changes of motion inside a bar, how much of a
    moving bar sounds from the rung of flow on; that each rung is a step; that the idiom is heard.
    """
    ladders = []
    misfits = 0
    for number, chosen in enumerate(sample(SAMPLE)[part::PARTS]):
        tune = read_tune(chosen.text).tune
        assert tune
        try:
            fit = fit_tune(tune, BANJO, Wish(tuning=TUNINGS[number % 2]))
        except FitError:
            misfits += 1
            continue
        ladders.append(build_ladder(fit, idiom))
        said = violations(ladders[-1], frame=number % 4 == 0)
        assert said == [], f"{chosen} {fit.setup.label}"
        assert misplaced_strokes(ladders[-1]) == misplaced_melody(ladders[-1]) == [], f"{chosen} {fit.setup.label}"
    assert misfits <= 1
    tallies = measure(ladders)
    for rung in range(2, 6):
        assert tallies[rung].plainer < 0.1 * tallies[rung].bars, (rung, tallies[rung].reasons)
    for rung in (3, 4, 5):
        assert tallies[rung].changing <= 0.25 * tallies[rung].bars
    for rung in (5, 6, 7):
        assert tallies[rung].struck >= 0.85 * tallies[rung].counts
    rows = measure_ladders(ladders)
    for rung in range(2, 8):
        row = rows[rung]
        assert row.equal <= 0.15 * row.bars, (rung, row.equal, row.bars)
        assert row.nails <= 0.03 * row.bars and row.stolen == row.crossed == 0  # a part has few tunes
        assert row.fifth >= 0.85 * row.bars, (rung, row.fifth, row.bars)
    assert all(rows[rung].between <= 0.001 * rows[rung].bars for rung in range(1, 6))
    assert rows[2].basic >= 0.9 * rows[2].bars
    if idiom == "three-finger":
        assert all(rows[rung].rolls >= 0.85 * rows[rung].bars for rung in (5, 6, 7))


@pytest.mark.parametrize("tuning", [*(row.id for row in BANJO.tunings if not row.usual), "gDGBD↓2", "gCGCD↓1"])
def test_rules_hold_in_every_tuning(tuning: str) -> None:
    """A smaller sample in the tunings that are not everyday ones, and with the whole banjo let down."""
    for number, chosen in enumerate(sample(sized(2, 8))):
        tune = read_tune(chosen.text).tune
        assert tune
        fit = fit_tune(tune, BANJO, Wish(tuning=tuning))
        assert violations(build_ladder(fit, IDIOMS[number % 2])) == [], f"{chosen} {tuning}"


@pytest.mark.parametrize("tuning", [row.id for row in BANJO.tunings])
@pytest.mark.parametrize("tune", demo_tunes(), ids=lambda tune: tune.title)
def test_rules_hold_on_the_demo_shelf(tune: Tune, tuning: str) -> None:
    """Every invented tune in every tuning, the idioms in turn."""
    idiom = IDIOMS[(len(tune.title) + len(tuning)) % 2]
    assert violations(build_ladder(fit_tune(tune, BANJO, Wish(tuning=tuning)), idiom)) == []


@pytest.mark.parametrize("idiom", IDIOMS)
def test_the_same_input_gives_the_same_ladder(idiom: str) -> None:
    """Rule H7: built twice, every rung, the second time through and the frame are equal."""
    fit = fit_tune(demo_tunes()[1], BANJO, Wish())
    anew = build_ladder.__wrapped__  # type: ignore[attr-defined]
    one, two = anew(fit, idiom), anew(fit, idiom)
    assert one is not two
    assert one.rungs == two.rungs and one.second == two.second
    assert one.kick_off == two.kick_off and one.ending == two.ending


@pytest.mark.parametrize("idiom", IDIOMS)
def test_equal_bars_are_arranged_alike(idiom: str) -> None:
    """The same bar gets the same strokes on every rung, wherever it stands; a solo varies a part written out again."""
    for tune in demo_tunes():
        found = build_ladder(fit_tune(tune, BANJO, Wish(tuning="gDGBD")), idiom)
        again = written_again(found.tune, found.structure)
        for rung, bars in enumerate(found.rungs, 1):
            for index, (bar, first) in enumerate(zip(bars, found.structure.classes, strict=True)):
                assert bar.strokes == bars[first].strokes or (rung == found.solo and index in again)


def test_the_checker_can_fail() -> None:
    """A note moved to another string is a breach of H1 and H5: the rules are not vacuous."""
    from dataclasses import replace

    ladder = build_ladder(fit_tune(demo_tunes()[0], BANJO, Wish()))
    bar = ladder.rungs[1][1]
    stroke = bar.strokes[0]
    note = stroke.notes[0]
    wrong = replace(note, place=note.place._replace(fret=note.place.fret + 1))
    spoiled = replace(bar, strokes=(stroke.with_notes(lambda _: wrong), *bar.strokes[1:]))
    rung = (ladder.rungs[1][0], spoiled, *ladder.rungs[1][2:])
    said = violations(replace(ladder, rungs=(ladder.rungs[0], rung, *ladder.rungs[2:])))
    assert any("does not sound" in text for text in said)
    assert any("H5" in text for text in said)
    hurried = replace(
        bar,
        strokes=tuple(
            replace(stroke, touches=single(Finger.THUMB, Way.PLUCK, *stroke.notes)) for stroke in bar.strokes
        ),
    )
    said = violations(replace(ladder, rungs=(ladder.rungs[0], (ladder.rungs[1][0], hurried, *ladder.rungs[1][2:]))))
    assert any("thumb" in text for text in said)
