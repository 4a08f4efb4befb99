"""What a teacher decides: paths, second times, splits, locks, kept cells, and the richest path under a grade."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction
from itertools import product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder, first_steps
from nailhead.core.arrange.grade import grade_join
from nailhead.core.arrange.teacher.alternatives import alternatives
from nailhead.core.arrange.teacher.arrangement import (
    Arrangement,
    KeptCell,
    Kind,
    groups_of,
    join_bar,
    keep_cell,
    level,
    lock_bars,
    melody_onsets,
    part_places,
    played_again,
    raise_rungs,
    release_cell,
    second_path,
    set_rungs,
    split_bar,
    together,
    unlock_bars,
)
from nailhead.core.arrange.teacher.cells import bring_along, fresh_notes, touched, with_kept
from nailhead.core.arrange.teacher.limiting import limit_grade
from nailhead.core.arrange.teacher.path import bars_on_path, grade_path, level_path
from nailhead.core.arrange.teacher.performing import grade_second, perform
from nailhead.core.arrange.values import ArrangedBar, Grade, Reason
from nailhead.core.errors import PathError
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.alignment import bar_marks
from nailhead.formats.abc import read_tune
from tests.core.test_alternatives import ladder
from tests.core.test_fretboard import BANJO
from tests.core.test_tune import tune
from tests.rules import violations

#: Two A parts, bars 1 and 3 of each equal, and a B part.
AABA = '|:"G"G2B2 d4|"C"c2A2 "G"G4|"G"G2B2 d4|"D"A4 "G"G4:|\nP:B\n|:"G"d2d2 g4|"C"e4 "G"d4:|]'


@pytest.fixture(scope="module")
def found() -> Ladder:
    return ladder(AABA)


def start(found: Ladder, rung: int = 2) -> Arrangement:
    return Arrangement(level_path(found, rung))


def test_equal_bars_move_together_until_they_are_split(found: Ladder) -> None:
    """Bars 1 and 3 are one decision; split, they are two; joined again, the first bar's way wins."""
    plain = start(found)
    assert together(found, plain, 0) == (0, 2)
    assert set_rungs(found, plain, [0], 5).rungs == (5, 2, 5, 2, 2, 2)
    split = split_bar(found, plain, 2)
    assert together(found, split, 0) == (0,) and together(found, split, 2) == (2,)
    apart = set_rungs(found, split, [2], 6)
    assert apart.rungs == (2, 2, 6, 2, 2, 2)
    kept = keep_cell(found, apart, 0, 2, Kind.EDITED, found.cell(0, 4))
    joined = join_bar(found, kept, 2)
    assert joined.rungs == plain.rungs and set(joined.cells) == {(0, 2), (2, 2)}
    with pytest.raises(PathError, match="moves alone already"):
        split_bar(found, plain, 1)


def test_the_first_of_equal_bars_can_be_split_out(found: Ladder) -> None:
    """Groups stay apart although the class is named after the bar that left it."""
    split = split_bar(found, start(found), 0)
    groups = groups_of(found, split)
    assert groups[0] != groups[2] and len(set(groups)) == 6
    assert set_rungs(found, split, [2], 7).rungs == (2, 2, 7, 2, 2, 2)


def test_raising_stops_at_both_ends_and_takes_stretches(found: Ladder) -> None:
    """A stretch goes up together, each bar from where it is."""
    mixed = replace(start(found), rungs=(7, 1, 7, 2, 3, 4))
    assert raise_rungs(found, mixed, range(6), 1).rungs == (7, 2, 7, 3, 4, 5)
    assert raise_rungs(found, mixed, [1, 4], -1).rungs == (7, 1, 7, 2, 2, 4)


def test_all_a_parts_at_once(found: Ladder) -> None:
    """By the part's letter; a part numbered A1 is an A part too."""
    assert part_places(found, 1) == (0, 1, 2, 3) and part_places(found, 5) == (4, 5)
    twice = build_ladder(fit_tune(tune("P:A1\nG8|A8|\nP:B\nd8|\nP:A2\nG8|B8|]"), BANJO, Wish(tuning="gDGBD")))
    assert part_places(twice, 4) == (0, 1, 3, 4)


def test_a_second_time_of_its_own(found: Ladder) -> None:
    """Only what is repeated has one; where it is as the first it follows the first."""
    assert played_again(found) == frozenset(range(6))
    second = set_rungs(found, start(found), [1], 6, second=True)
    assert second.rungs == level_path(found, 2) and second_path(second) == (2, 6, 2, 2, 2, 2)
    assert second_path(set_rungs(found, second, [0], 4)) == (4, 6, 4, 2, 2, 2)
    assert set_rungs(found, second, [1], 2, second=True).second == ()
    once = ladder()
    with pytest.raises(PathError, match="played once"):
        set_rungs(once, Arrangement(level_path(once, 2)), [0], 3, second=True)


def test_the_second_time_has_a_grade_of_its_own(found: Ladder) -> None:
    """Nothing where it is as the first; else with the joins of the playing order, also those out of the first time."""
    first = start(found, 1)
    assert grade_second(found, first) is None
    again = [index for index in range(len(found.tune.bars)) if index in played_again(found)]
    own = set_rungs(found, first, again, 6, second=True)
    grade = grade_second(found, own)
    assert grade and grade.value > grade_path(bars_on_path(found, own.rungs), groups_of(found, own)).value


def test_coming_back_for_the_second_time_counts() -> None:
    """The join out of the last bar into the first, which is far up the neck only the second time."""
    found = ladder('|:"G"G2B2 d4|"D"A8:|')
    own = set_rungs(found, start(found, 1), [0], 6, second=True)
    near = grade_second(found, own)
    far = replace(own, cells={(0, 6): replace(_kept(found, 0, 6), bar=_far_up(found))})
    risen = grade_second(with_kept(found, far), far)
    assert near and risen and risen.value >= near.value
    (spot,) = (spot for spot in risen.spots if spot.join)
    assert spot.index == 1 and spot.why == "The hand moves 9 frets over the bar line."
    assert [(one.index, one.time) for one in perform(found, own)] == [(0, 1), (1, 1), (0, 2), (1, 2)]


def test_the_first_times_joins_are_not_the_seconds() -> None:
    """A bar that lies far up the neck the first time only: no join into it is heard from the second time on."""
    found = ladder('|:"G"G2B2 d4|"D"A8:|')
    own = set_rungs(found, start(found, 1), [0], 6, second=True)
    far = replace(own, cells={(0, own.rungs[0]): replace(_kept(found, 0, own.rungs[0]), bar=_far_up(found))})
    first = grade_path(bars_on_path(with_kept(found, far), far.rungs), groups_of(found, far))
    again = grade_second(with_kept(found, far), far)
    assert again and [spot for spot in first.spots if spot.join]
    assert [spot.index for spot in again.spots if spot.join] == []


def _kept(found: Ladder, index: int, rung: int) -> KeptCell:
    return KeptCell(Kind.EDITED, found.cell(index, rung), "", melody_onsets(found, index))


def _far_up(found: Ladder) -> ArrangedBar:
    """Bar 1 of rung 6 with its first note high on the neck: hard to come to from the bare melody."""
    bar = found.cell(0, 6)
    (note, *_), place = bar.strokes[0].notes, Place(1, 14)
    high = replace(note, place=place, finger=4)
    return replace(bar, strokes=(bar.strokes[0].with_notes(lambda one: high if one is note else one), *bar.strokes[1:]))


CALLS = """X:1
T:Gate Song
P:call1 call2 answer 3 call1 answer
M:4/4
L:1/8
K:G
P:call1
"G"G2B2 d2B2|"G"G8|
P:call2
"C"c2e2 g2e2|"G"d8|"G"d8|
P:answer
"D"d2f2 a2f2|"G"g8|
"""


def test_named_phrases_are_played_in_the_order_and_as_often_as_the_tune_says() -> None:
    """Two bars, a phrase that is a bar longer, an answer three times: the performance and its joins."""
    entry = read_tune(CALLS)
    assert entry.tune
    for instrument in ("guitar", "banjo"):
        played = build_ladder(fit_tune(entry.tune, find_instrument(instrument), Wish()))
        calls = Arrangement(level_path(played, 3))
        order = [one.index for one in perform(played, calls)]
        assert order == [0, 1, 2, 3, 4, 5, 6, 5, 6, 5, 6, 0, 1, 5, 6]
        assert [one.time for one in perform(played, calls) if one.index == 5] == [1, 2, 3, 4]
        assert {(6, 5), (6, 0), (1, 5)} <= set(played.ground.joins)
        assert violations(played) == []


def test_a_split_bar_is_a_bar_of_its_own_in_the_grade(found: Ladder) -> None:
    """Its rung is practised too, though an equal bar stays plain."""
    classes = found.structure.classes
    mate = next(index for index, first in enumerate(classes) if first != index)
    alone = set_rungs(found, split_bar(found, start(found, 1), mate), [mate], 7)
    grade = grade_path(bars_on_path(found, alone.rungs), groups_of(found, alone))
    assert mate in grade.hardest


def test_locked_bars_stay(found: Ladder) -> None:
    """They keep rung and cell through every sweep and are refused by number when asked for alone."""
    locked = lock_bars(found, start(found), [0])
    assert locked.locked == {0, 2} and locked.cells[0, 2].kind is Kind.LOCKED
    assert level(found, locked, 5).rungs == (2, 5, 2, 5, 5, 5)
    assert raise_rungs(found, locked, range(6), 1).rungs == (2, 3, 2, 3, 3, 3)
    for call in (
        lambda: set_rungs(found, locked, [2], 4),
        lambda: keep_cell(found, locked, 0, 2, Kind.EDITED, found.cell(0, 2)),
        lambda: release_cell(found, locked, 0, 2),
    ):
        with pytest.raises(PathError, match="locked") as refused:
            call()
        assert refused.value.bar == 1 and refused.value.remedy == "Unlock it first."
    free = unlock_bars(found, locked, [0])
    assert not free.locked and not free.cells


@pytest.mark.parametrize("index", [-1, 6, 99])
def test_a_bar_that_is_not_there_is_refused(found: Ladder, index: int) -> None:
    """Every change names it."""
    for call in (
        lambda: set_rungs(found, start(found), [index], 2),
        lambda: split_bar(found, start(found), index),
        lambda: join_bar(found, start(found), index),
        lambda: lock_bars(found, start(found), [index]),
        lambda: part_places(found, index),
    ):
        with pytest.raises(PathError, match=f"no bar at place {index}"):
            call()


def test_a_kept_cell_is_in_the_ladder_and_its_joins_are_graded_anew(found: Ladder) -> None:
    """On every bar that moves with it, under that bar's own number; the bar before it feels it too."""
    other = alternatives(found, 0, 5)[0].bar
    kept = keep_cell(found, start(found, 5), 0, 5, Kind.ALTERNATIVE, other, "another way")
    shown = with_kept(found, kept)
    for index in (0, 2):
        cell = shown.cell(index, 5)
        assert cell.strokes == other.strokes and cell.number == found.tune.bars[index].number
        assert cell.join == grade_join(
            cell, shown.cell(first_steps(found.ground.joins)[index], 5), found.idiom, Fraction(1, 8)
        )
    assert (1, 5) in touched(found, kept.cells), "bar 2 leads into bar 3"
    assert shown.cell(3, 5).strokes == found.cell(3, 5).strokes
    assert with_kept(found, release_cell(found, kept, 2, 5)).rungs == found.rungs


def test_kept_cells_come_along_where_they_still_fit() -> None:
    """A capo moves everything; another tuning leaves aside what no longer sounds the melody, and takes it back."""
    first = ladder(AABA)
    kept = start(first)
    for index in (1, 4):
        kept = keep_cell(first, kept, index, 4, Kind.EDITED, first.cell(index, 4))
    kept = lock_bars(first, kept, [0])

    def on(tuning: str, capo: int = 0, key: str = "G") -> Ladder:
        return build_ladder(fit_tune(tune(AABA), BANJO, Wish(tuning=tuning, capo=capo, key=key)), "clawhammer")

    higher = bring_along(on("gDGBD", 2, "A"), kept)
    assert not higher.aside and set(higher.cells) == set(kept.cells) and higher.locked == kept.locked
    assert [n.pitch.midi for s in higher.cells[1, 4].bar.strokes for n in s.notes] == [
        n.pitch.midi + 2 for s in kept.cells[1, 4].bar.strokes for n in s.notes
    ]
    double_c = on("gCGCD")
    moved = bring_along(double_c, kept)
    assert moved.aside and all(one.why.endswith(".") and "string" in one.why for one in moved.aside)
    assert not {(one.index, one.rung) for one in moved.aside} & set(moved.cells)
    assert len(moved.aside) + len(moved.cells) == len(kept.cells)
    home = bring_along(first, moved)
    assert set(home.cells) == set(kept.cells) and not home.aside


def test_a_change_of_the_tune_leaves_aside_only_the_bars_it_changed() -> None:
    """Another note in bar 2; a bar taken away; a bar added: the path goes on."""
    first = ladder(AABA)
    kept = replace(start(first), rungs=(1, 2, 1, 4, 5, 6))
    for index in (1, 3, 5):
        kept = keep_cell(first, kept, index, 3, Kind.EDITED, first.cell(index, 3))
    other = bring_along(ladder(AABA.replace('"C"c2A2', '"C"c2AB')), kept)
    assert [one.why for one in other.aside] == ["the melody of bar 2 has changed."]
    shorter = bring_along(ladder(AABA.replace('|"C"e4 "G"d4:|]', ":|]")), kept)
    assert shorter.rungs == (1, 2, 1, 4, 5) and shorter.aside[0].why == "the tune no longer has this bar."
    longer = bring_along(ladder(AABA.replace(":|]", '|"G"g8:|]')), kept)
    assert longer.rungs == (1, 2, 1, 4, 5, 6, 6) and not longer.aside


def exhaustive(found: Ladder, most: int) -> int:
    """The greatest sum of rungs with no bar and no join above the grade, by trying every path of the groups."""
    classes, steps = found.structure.classes, first_steps(found.ground.joins)
    names = sorted(set(classes))
    best = 0
    for choice in product(range(1, len(found.rungs) + 1), repeat=len(names)):
        rung = dict(zip(names, choice, strict=True))
        path = tuple(rung[first] for first in classes)
        bars = bars_on_path(found, path)
        hard = any(bar.grade.value > most for bar in bars) or any(bars[at].join.value > most for at in steps)
        best = best if hard else max(best, sum(path))
    return best


@pytest.mark.parametrize("idiom", ["clawhammer", "three-finger"])
@pytest.mark.parametrize("most", [1, 2, 3, 4])
def test_the_limit_finds_the_richest_path(idiom: str, most: int) -> None:
    """As an exhaustive search over every path of three different bars does."""
    found = ladder('|:"G"GABc dBGB|"C"edce "G"dBGA|"D"cBAG "G"G4|"G"GABc dBGB:|', idiom)
    limited, above = limit_grade(found, Arrangement(level_path(found, 1)), most)
    best = exhaustive(found, most)
    if best:
        assert sum(limited.rungs) == best and not above
    bars = bars_on_path(found, limited.rungs)
    over = {at for at, bar in enumerate(bars) if max(bar.grade.value, bar.join.value) > most}
    assert over == set(above)


def test_the_limit_leaves_locked_bars_and_says_what_is_above_it(found: Ladder) -> None:
    """A solo bar that is locked stays and is named."""
    locked = lock_bars(found, replace(start(found), rungs=level_path(found, 7)), [1])
    limited, above = limit_grade(found, locked, 1)
    assert limited.rungs[1] == 7
    assert (1 in above) == (found.cell(1, 7).grade.value > 1 or bars_on_path(found, limited.rungs)[1].join.value > 1)


def test_notes_new_on_a_rung(found: Ladder) -> None:
    """What is struck there and was not below; nothing on the first."""
    assert fresh_notes(found.cell(0, 1), None) == ()
    for index, rung in product(range(6), range(2, 8)):
        bar, below = found.cell(index, rung), found.cell(index, rung - 1)
        old = {(stroke.onset, note.place) for stroke in below.strokes for note in stroke.notes}
        new = {(stroke.onset, note.place) for stroke, note in fresh_notes(bar, below)}
        every = {(stroke.onset, note.place) for stroke in bar.strokes for note in stroke.notes}
        assert new == every - old


@settings(max_examples=60, deadline=None)
@given(data=st.data())
def test_any_way_of_deciding_leaves_an_arrangement_whole(data: st.DataObject) -> None:
    """Bars that move together agree in rung, cells and lock, whatever was done in whatever order."""
    found = _FOUND
    now = start(found)
    for _ in range(data.draw(st.integers(1, 8))):
        place = data.draw(st.integers(0, 5))
        change = data.draw(st.sampled_from(["rung", "raise", "split", "join", "lock", "unlock", "keep", "release"]))
        try:
            now = _decide(change, now, place, data)
        except PathError as refused:
            assert refused.remedy
        groups = groups_of(found, now)
        for one, other in product(range(6), repeat=2):
            if groups[one] == groups[other]:
                assert now.rungs[one] == now.rungs[other]
                assert (one in now.locked) == (other in now.locked)
                assert {r for at, r in now.cells if at == one} == {r for at, r in now.cells if at == other}
        assert bring_along(found, now).rungs == now.rungs and not bring_along(found, now).aside


def _decide(change: str, now: Arrangement, place: int, data: st.DataObject) -> Arrangement:
    """One change by name."""
    match change:
        case "rung":
            return set_rungs(_FOUND, now, [place], data.draw(st.integers(1, 7)))
        case "raise":
            return raise_rungs(_FOUND, now, [place], 1)
        case "keep":
            return keep_cell(_FOUND, now, place, 3, Kind.EDITED, _FOUND.cell(place, 3))
        case "release":
            return release_cell(_FOUND, now, place, 3)
        case "lock" | "unlock":
            return (lock_bars if change == "lock" else unlock_bars)(_FOUND, now, [place])
        case _:
            return (split_bar if change == "split" else join_bar)(_FOUND, now, place)


_FOUND = ladder(AABA)


# -- a tune whose bars have moved

NEW_BAR = '"Em"e2B2 G4|'


@pytest.mark.parametrize("at", range(7))
def test_a_bar_put_in_takes_nothing_along_and_leaves_nothing_behind(at: int) -> None:
    """In front, at the end, or anywhere between: every rung of the path, the split, the lock and the kept cells stay
    with the bars they were decided for; nothing is set aside.
    """
    bars = ['"G"G2B2 d4|', '"C"c2A2 "G"G4|', '"G"B2d2 g4|', '"D"A4 "G"G4|', '"G"d2d2 g4|', '"C"e4 "G"d4|']
    before, after = ladder("".join(bars)), ladder("".join([*bars[:at], NEW_BAR, *bars[at:]]))
    decided = replace(start(before), rungs=(2, 3, 4, 5, 6, 7), bars=bar_marks(before.tune))
    decided = keep_cell(before, decided, 2, 4, Kind.ALTERNATIVE, before.cell(2, 5), "another way")
    decided = lock_bars(before, decided, [4])
    moved = bring_along(after, decided)
    places = [index + (index >= at) for index in range(6)]
    assert moved.aside == ()
    assert [moved.rungs[place] for place in places] == [2, 3, 4, 5, 6, 7]
    assert moved.rungs[at] == (2 if at == 0 else decided.rungs[at - 1])
    assert moved.locked == {places[4]} and set(moved.cells) == {(places[2], 4), (places[4], 6)}
    assert moved.cells[places[2], 4].bar.strokes == decided.cells[2, 4].bar.strokes
    again = bring_along(before, moved)
    assert (again.rungs, again.locked, set(again.cells)) == (decided.rungs, decided.locked, set(decided.cells))


def test_which_time_an_equal_bar_comes_is_kept(found: Ladder) -> None:
    """Bar 3, split from its equal bar 1, is still the second of the two when a bar comes in before it."""
    decided = replace(split_bar(found, start(found), 2), bars=bar_marks(found.tune))
    decided = set_rungs(found, decided, [2], 6)
    moved = bring_along(ladder(AABA.replace('"C"c2A2', NEW_BAR + '"C"c2A2')), decided)
    assert moved.split == {3} and moved.rungs == (2, 2, 2, 6, 2, 2, 2)


def test_only_what_went_is_set_aside(found: Ladder) -> None:
    """A bar taken out: its cell waits with the reason, and comes back when the bar does; the others move up."""
    decided = replace(start(found), bars=bar_marks(found.tune))
    decided = keep_cell(found, decided, 1, 3, Kind.EDITED, found.cell(1, 3))
    decided = keep_cell(found, decided, 4, 3, Kind.EDITED, found.cell(4, 3))
    shorter = bring_along(ladder(AABA.replace('"C"c2A2 "G"G4|', "")), decided)
    assert set(shorter.cells) == {(3, 3)} and [one.rung for one in shorter.aside] == [3]
    assert shorter.aside[0].why == "the tune no longer has this bar."
    back = bring_along(found, shorter)
    assert set(back.cells) == {(1, 3), (4, 3)} and back.aside == ()


def test_another_key_moves_nothing(found: Ladder) -> None:
    """The same tune a tone higher, with a capo: bars are told by their melody from the tonic."""
    decided = replace(start(found), rungs=(2, 3, 2, 4, 5, 6), bars=bar_marks(found.tune))
    higher = build_ladder(fit_tune(tune(AABA), BANJO, Wish(tuning="gDGBD", key="A", capo=2)), "clawhammer")
    assert bring_along(higher, decided).rungs == decided.rungs


# -- the hardest spots


def bar_with(grade: int, points: int, join: int = 1, join_points: int = 0) -> ArrangedBar:
    def made(value: int, weight: int, term: str) -> Grade:
        return Grade(value, (Reason(term, weight, f"{term} {weight}."),) if weight else ())

    return ArrangedBar(1, 5, (), grade=made(grade, points, "bar"), join=made(join, join_points, "join"))


def test_the_hardest_spots_come_heaviest_first() -> None:
    """By grade, then by points, then as they come; equal bars are one spot, a join another; what is 1 has no reason."""
    bars = (bar_with(3, 25), bar_with(5, 41), bar_with(5, 47), bar_with(3, 25), bar_with(2, 12, 5, 44))
    spots = grade_path(bars, (0, 1, 2, 0, 4)).spots
    assert [(spot.index, spot.join, spot.grade, spot.why) for spot in spots] == [
        (2, False, 5, "bar 47."),
        (4, True, 5, "join 44."),
        (1, False, 5, "bar 41."),
    ]
    same = grade_path((bar_with(4, 31), bar_with(4, 31)), (0, 1)).spots
    assert [spot.index for spot in same] == [0, 1]


def test_a_path_is_graded_by_its_hardest_quarter() -> None:
    """Of eight different bars the two hardest; a bar that comes four times counts once (handbook §6)."""
    bars = tuple(bar_with(grade, 10 * grade) for grade in (1, 1, 1, 2, 2, 3, 5, 8))
    assert grade_path(bars, tuple(range(8))).value == round((8 + 5) / 2)
    assert grade_path(bars, (0, 0, 0, 3, 3, 5, 6, 6)).value == 8
