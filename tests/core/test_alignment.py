"""Which bar is which after a change of the text: the cheapest way, and what a teacher would say."""

from __future__ import annotations

from functools import cache

from hypothesis import given
from hypothesis import strategies as st

from nailhead.core.music.alignment import CHANGED, COMES, align, bar_marks
from nailhead.core.music.transpose import transpose_tune
from tests.core.test_tune import tune

A, B, C, D = "1 0:0 1/4:400", "1 0:700 1/2:0", "1 0:200", "1 0:900 1/4:500 1/2:0"
marks = st.lists(st.sampled_from([A, B, C, D]), max_size=6)


def test_a_bar_put_in_front_moves_all_and_loses_none() -> None:
    """And one in the middle, one taken out, one changed a little, one exchanged for another."""
    assert align([A, B, C], [D, A, B, C]) == (1, 2, 3)
    assert align([A, B, C], [A, D, B, C]) == (0, 2, 3)
    assert align([A, B, C], [A, C]) == (0, None, 1)
    assert align([A, D, C], [A, "1 0:900 1/4:500 1/2:200", C]) == (0, 1, 2)
    assert align([A, B], []) == (None, None) and align([], [A]) == ()


def test_bars_that_are_equal_keep_their_order() -> None:
    """Which time it comes decides among bars of the same melody."""
    assert align([A, B, A, B], [A, B, C, A, B]) == (0, 1, 3, 4)
    assert align([A, A, A], [A, A]) in ((0, 1, None), (0, None, 1), (None, 0, 1))


def price(before: list[str], after: list[str], places: tuple[int | None, ...]) -> int:
    """What a way costs, reckoned bar by bar from the published points."""
    stay = [(one, place) for one, place in zip(before, places, strict=True) if place is not None]
    gone, come = len(before) - len(stay), len(after) - len(stay)
    total = COMES * (gone + come)
    for one, place in stay:
        left, right = set(one.split()[1:]), set(after[place].split()[1:])
        if one != after[place]:
            total += max(1, round(CHANGED * (1 - len(left & right) / len(left | right))))
    return total


@given(marks, marks)
def test_no_way_is_cheaper(before: list[str], after: list[str]) -> None:
    """Against an exhaustive recursion over every way to align two short rows; places rise and none comes twice."""

    @cache
    def least(row: int, column: int) -> int:
        if row == len(before) or column == len(after):
            return COMES * (len(before) - row + len(after) - column)
        stays = price([before[row]], [after[column]], (0,)) + least(row + 1, column + 1)
        return min(stays, COMES + least(row + 1, column), COMES + least(row, column + 1))

    places = align(before, after)
    kept = [place for place in places if place is not None]
    assert kept == sorted(set(kept))
    assert price(before, after, places) == least(0, 0)


def test_a_bar_is_told_by_its_melody_in_any_key() -> None:
    """Transposed, with other chords and words it is the same bar; with another note or rhythm it is not."""
    found = tune('"G"G2B2 d2BA|"D"A4 F4|]')
    assert bar_marks(transpose_tune(found, 2)) == bar_marks(found)
    assert bar_marks(tune('"C"G2B2 d2BA|A4 F4|]')) == bar_marks(found)
    other = bar_marks(tune("G2B2 d2BG|A6 F2|]"))
    assert other[0] != bar_marks(found)[0] and other[1] != bar_marks(found)[1]
