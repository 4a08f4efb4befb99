"""The right hand's search against exhaustive ones, patterns as data, and the choices where players differ."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise, product
from types import SimpleNamespace
from unittest.mock import patch

import networkx as nx
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nailhead.core import choosing
from nailhead.core.arrange.fit.building import RungBuilder, choose_shapes
from nailhead.core.arrange.fit.candidates import Candidate
from nailhead.core.arrange.fit.grid import Grid, LooseEnd
from nailhead.core.arrange.fit.ladder import build_ladder, lay_ground
from nailhead.core.arrange.fit.moving import usual
from nailhead.core.arrange.fit.offering import Strike
from nailhead.core.arrange.fit.search import Fitter
from nailhead.core.arrange.left.held_shapes import ShapeBook
from nailhead.core.arrange.rows.clawhammer import CLAWHAMMER
from nailhead.core.arrange.rows.costs import COSTS, IMPOSSIBLE
from nailhead.core.arrange.rows.hands import Adds
from nailhead.core.arrange.rows.patterns import Pattern, Want, own_row, read_row
from nailhead.core.arrange.rows.three_finger import THREE_FINGER
from nailhead.core.arrange.rows.ways import CHOICES, Options, find_idiom, options_of
from nailhead.core.arrange.values import Finger, Role, Way
from nailhead.core.choosing import choose_cells
from nailhead.core.errors import PathError
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.formats.text_tab import strokes_text
from tests.core.test_fretboard import BANJO
from tests.core.test_tune import tune
from tests.rules import violations

ROLLS, STROKES = THREE_FINGER.right.alphabet, CLAWHAMMER.right.alphabet
NOTES = ["D", "G", "A", "B", "d", "e"]
#: Half bars of four counts, as (note, counts) pairs written out.
SHAPES = [(4,), (2, 2), (3, 1), (1, 3), (2, 1, 1), (1, 1, 2), (1, 1, 1, 1), (1, 2, 1)]


def grid_of(body: str, idiom: str, rung: int, metre: str = "4/8") -> Grid:
    """The first bar of a tune as a grid in its usual places."""
    fit = fit_tune(tune(body, metre), BANJO, Wish(tuning="gDGBD"))
    context = lay_ground(fit, find_idiom(idiom, BANJO), ShapeBook(fit.setup)).contexts[0]
    spots = usual(context).spots
    return Grid(context, spots, choose_shapes(context, spots) if rung >= 3 else {})


def every_way(fitter: Fitter, grid: Grid) -> Iterator[int]:
    """The cost of each way to play a bar: every row of patterns, every strike of every slot, nothing left out."""
    for rows in covers(fitter, grid, 0):
        lanes: list[list[Strike]] = []
        spans, cost = [], 0
        for row, group in rows:
            low, size = grid.groups[group]
            start = len(lanes)
            if row is None:
                cost += plain_lanes(fitter, grid, low, low + size * grid.count, size, lanes)
            else:
                for place, slot in enumerate(row.slots):
                    lanes.append(fitter.offers.slot(grid, slot, low + slot.at * grid.count, first=place == 0))
                cost += row.cost + fitter.idiom.rung(fitter.rung).hole * (row.counts - len(row.slots))
            spans.append((row, start, len(lanes)))
        for way in product(*lanes):
            total = cost + sum(strike.cost for strike in way) + steps(fitter, grid, way)
            families = []
            for row, start, stop in spans:
                filled = any(strike.melody < 0 and strike.touches for strike in way[start:stop])
                if row and row.family and not filled:
                    total += IMPOSSIBLE
                families += [row.family] if row and row.family and filled else []
            total += sum(fitter.change for one, two in pairwise(families) if one != two)
            yield total


def steps(fitter: Fitter, grid: Grid, way: tuple[Strike, ...]) -> int:
    struck = [None, *(strike for strike in way if strike.touches)]
    return sum(fitter.step(before, after, grid.count) for before, after in pairwise(struck) if after)


def plain_lanes(fitter: Fitter, grid: Grid, low: int, high: int, size: int, lanes: list[list[Strike]]) -> int:
    onsets = sorted((at, index) for at, index in grid.onsets.items() if low <= at < high)
    lanes += [fitter.offers.plain(grid, index, at) for at, index in onsets]
    empty = fitter.idiom.rung(fitter.rung).empty if not onsets else 0
    return empty + fitter.idiom.rung(fitter.rung).hole * (size - len(onsets))


def covers(fitter: Fitter, grid: Grid, group: int) -> Iterator[list[tuple[Pattern | None, int]]]:
    """Every row of patterns that fills the groups from `group` on, melody onsets permitting."""
    if group == len(grid.groups):
        yield []
        return
    for rest in covers(fitter, grid, group + 1):
        yield [(None, group), *rest]
    for row in fitter.idiom.right.patterns:
        sizes = tuple(size for _, size in grid.groups[group : group + len(row.groups)])
        low = grid.groups[group][0]
        onsets = [at for at in grid.onsets if low <= at < low + row.counts * grid.count]
        allowed = fitter.rung >= (row.from_rung if all(at == low for at in onsets) else row.moving_from)
        takes = {
            low + slot.at * grid.count
            for place, slot in enumerate(row.slots)
            if (place == 0 or slot.accent)
            and all(voice.want not in (Want.STRUM, Want.DRONE, Want.FILL) for voice in slot.voices)
        }
        fills = len(onsets) < len(row.slots)
        if row.slots[0].voices[0].want is Want.LEAD and low not in onsets:
            sounded = low - max(at for at in grid.onsets if at <= low)
            allowed = allowed and sounded >= row.counts * grid.count
        if sizes == row.groups and allowed and fills and set(onsets) <= takes:
            for rest in covers(fitter, grid, group + len(row.groups)):
                yield [(row, group), *rest]


@settings(max_examples=30, deadline=None)
@given(
    st.sampled_from(SHAPES),
    st.lists(st.sampled_from(NOTES), min_size=4, max_size=4),
    st.sampled_from(["clawhammer", "three-finger"]),
    st.integers(2, 6),
)
def test_the_cheapest_cell_is_that_of_an_exhaustive_search(
    lengths: tuple[int, ...], names: list[str], idiom: str, rung: int
) -> None:
    """Every row, finger and string of a half bar is tried; none is cheaper than the first cell."""
    body = '"G"' + "".join(f"{name}{length}" for name, length in zip(names, lengths, strict=False)) + "|G4|]"
    grid = grid_of(body, idiom, rung)
    fitter = Fitter(find_idiom(idiom, BANJO), rung)
    cells = fitter.cells(grid)
    assert cells[0].cost == min(every_way(fitter, grid))
    assert [cell.cost for cell in cells] == sorted(cell.cost for cell in cells)


@settings(max_examples=40, deadline=None)
@given(st.data())
def test_choosing_with_joins_is_that_of_an_exhaustive_search(data: st.DataObject) -> None:
    """Random costs, random joins with cycles, equal bars as one: the optimum of all combinations."""
    names = data.draw(st.lists(st.integers(0, 3), min_size=2, max_size=7))
    costs = st.lists(st.integers(0, 20), min_size=1, max_size=3)
    candidates = {name: [SimpleNamespace(cost=cost) for cost in data.draw(costs)] for name in dict.fromkeys(names)}
    place = st.integers(0, len(names) - 1)
    joins = data.draw(st.lists(st.tuples(place, place), max_size=8))
    prices = {}

    def price(before: int, one: object, after: int, two: object) -> int:
        key = (before, id(one), after, id(two))
        if key not in prices:
            prices[key] = data.draw(st.integers(0, 20))
        return prices[key]

    # With so small a limit the elimination of four classes joined all around is cut open at one of them.
    with patch.object(choosing, "MOST_ENTRIES", data.draw(st.sampled_from([200_000, 27]))):
        chosen = choose_cells(names, candidates, joins, price)
    order = list(candidates)

    def total(ways: tuple[SimpleNamespace, ...]) -> int:
        given = dict(zip(order, ways, strict=True))
        cells = sum(given[name].cost for name in names)
        return cells + sum(price(names[a], given[names[a]], names[b], given[names[b]]) for a, b in joins)

    assert chosen.cost == min(total(ways) for ways in product(*(candidates[name] for name in order)))
    assert chosen.cost == total(tuple(chosen.cells[name] for name in order))


@settings(max_examples=20, deadline=None)
@given(st.data())
def test_where_tables_grow_too_large_no_single_cell_could_be_cheaper(data: st.DataObject) -> None:
    """Every bar joined to all, and no room for a table: not proved best, but no cell is left that is dear by itself."""
    names = list(range(6))
    candidates = {name: [SimpleNamespace(cost=place) for place in range(3)] for name in names}
    prices = data.draw(st.lists(st.sampled_from([0, 3, 1000]), min_size=324, max_size=324))

    def price(before: int, one: SimpleNamespace, after: int, two: SimpleNamespace) -> int:
        return prices[(before * 6 + after) * 9 + one.cost * 3 + two.cost]

    joins = list(product(names, names))
    with patch.object(choosing, "MOST_ENTRIES", 1):
        chosen = choose_cells(names, candidates, joins, price)

    def total(given: dict[int, SimpleNamespace]) -> int:
        return sum(cell.cost for cell in given.values()) + sum(price(a, given[a], b, given[b]) for a, b in joins)

    assert chosen.cost == total(dict(chosen.cells))
    for name in names:
        assert all(chosen.cost <= total({**chosen.cells, name: other}) for other in candidates[name])


def test_choosing_along_a_chain_is_the_shortest_path_of_networkx() -> None:
    """Where every bar is different the joins are a chain: Dijkstra's algorithm finds no cheaper way."""
    fit = fit_tune(tune('"G"G2B2 d3B|"C"c2e2 "G"d4|"D"A2F2 A2d2|"G"B2G2 G4|]'), BANJO, Wish(tuning="gDGBD"))
    ground = lay_ground(fit, THREE_FINGER, ShapeBook(fit.setup))
    builder = RungBuilder(ground.layers, ground.structure, ground.joins, THREE_FINGER)
    fitter = Fitter(THREE_FINGER, 5)
    found = {first: builder.candidates(fitter, first) for first in ground.contexts}
    assert len(found) == 4
    graph = nx.DiGraph()
    for at, cells in found.items():
        for place, cell in enumerate(cells):
            if at == 0:
                graph.add_edge("start", (0, place), weight=cell.cost)
            for before, other in enumerate(found.get(at - 1, ())):
                weight = builder.join_price(fitter, at - 1, other, at, cell) + cell.cost
                graph.add_edge((at - 1, before), (at, place), weight=weight)
            if at == 3:
                graph.add_edge((3, place), "end", weight=0)
    choice = choose_cells(
        ground.structure.classes, found, ground.joins, lambda *step: builder.join_price(fitter, *step)
    )
    assert choice.cost == nx.dijkstra_path_length(graph, "start", "end")
    alike = choose_cells(
        ground.structure.classes,
        found,
        ground.joins,
        lambda *step: builder.join_price(fitter, *step),
        ends=Candidate.ends,
    )
    assert alike.cost == choice.cost


# -- patterns as data


@pytest.mark.parametrize(
    "pattern",
    [*CLAWHAMMER.right.patterns, *THREE_FINGER.right.patterns],
    ids=lambda pattern: f"{pattern.name} {pattern.counts}",
)
def test_rows_fill_their_groups_and_do_not_tire_a_finger(pattern: Pattern) -> None:
    """Slots follow without a gap; no named finger comes twice running; what opens takes the melody or goes on."""
    at = 0
    for slot in pattern.slots:
        assert slot.at == at
        at += slot.counts
    assert at == sum(pattern.groups)
    assert pattern.from_rung <= pattern.moving_from
    for one, two in pairwise(pattern.slots):
        if two.at - one.at == 1:
            assert not {voice.by for voice in one.voices} & {voice.by for voice in two.voices} - {None, Finger.NAIL}


def test_the_rolls_of_the_handbook() -> None:
    """Fingers of the named rolls (handbook §4)."""
    rows = THREE_FINGER.right.patterns
    fingers = {
        row.name: " ".join(voice.by[0].upper() for slot in row.slots for voice in slot.voices if voice.by)
        for row in rows
    }
    assert fingers["forward"] == "T I M T I M T M"
    assert fingers["short forward"] == "T I M T"
    assert fingers["backward"] == "M I T M I T M I"
    assert fingers["forward-reverse"] == "T I M T M I T M"
    assert fingers["alternating thumb"] == "T I T M T I T M"
    strong = [slot.at for slot in next(row for row in rows if row.name == "forward").slots if slot.accent]
    assert set(strong) <= {0, 3, 4, 6}  # first, fourth, fifth or seventh eighth


@pytest.mark.parametrize(
    ("text", "groups", "said"),
    [
        ("T3 I2 X1 T5", (2, 2), "Sign 3"),
        ("T3 I2 M1", (2, 2), "3 counts"),
        (". I2", (2,), "Sign 1"),
        ("T I M T I", (5,), "5 counts"),
        ("", (), "0 counts"),
        ("T " * 14, (2,) * 7, "14 counts"),
    ],
)
def test_a_wrong_pattern_names_the_sign_and_the_remedy(text: str, groups: tuple[int, ...], said: str) -> None:
    """A teacher's own pattern is read by the code that reads ours; what is wrong is said."""
    with pytest.raises(PathError, match=said) as refused:
        read_row(ROLLS, "mine", text, 2, groups=groups)
    assert refused.value.field == "pattern" and refused.value.remedy


def test_a_teachers_own_roll_is_played() -> None:
    """Thumb, index, thumb, index: used where it fits, named, and within the rules."""
    own = ("rocking", "T345! I23 | T53! I23")
    fit = fit_tune(tune('"G"G4 D4|"C"E8|"G"G8|]'), BANJO, Wish(tuning="gDGBD"))
    found = build_ladder(fit, "three-finger", own=(own,))
    assert violations(found) == []
    assert found.rungs[4][0].patterns == ("rocking",)
    assert strokes_text(found.rungs[4][0].strokes).startswith("T3:0 I2:0 T5:0 I2:0")


def test_a_pattern_for_other_hands_is_refused() -> None:
    """A roll is no clawhammer stroke, a brush no roll."""
    fit = fit_tune(tune('"G"G8|]'), BANJO, Wish(tuning="gDGBD"))
    with pytest.raises(PathError, match="Sign 1 of the pattern “x”, “T3”"):
        build_ladder(fit, "clawhammer", own=(("x", "T3 I2"),))
    with pytest.raises(PathError, match="Sign 1 of the pattern “x”, “B”"):
        build_ladder(fit, "three-finger", own=(("x", "B I2"),))


# -- where players differ (handbook §10)


def played(body: str, rung: int, options: Options) -> str:
    fit = fit_tune(tune(body), BANJO, Wish(tuning="gDGBD"))
    return strokes_text(build_ladder(fit, "three-finger", options).rungs[rung - 1][0].strokes)


def test_the_other_pinch() -> None:
    """Thumb and middle by default, index and middle for the other school."""
    assert "P5:0+1:0" in played('"G"G8|]', 2, Options())
    assert "P2:0+1:0" in played('"G"G8|]', 2, options_of({"pinch": "index and middle"}))


def test_the_thumb_on_string_two() -> None:
    """Strict by default; the other school takes string 2 with the thumb."""
    body = '"G"G2B2 G2B2|G8|]'
    assert "T2" not in played(body, 6, Options())
    assert "T2" in played(body, 6, options_of({"second_string": "thumb"}))


def test_the_same_finger_twice_only_if_allowed() -> None:
    """Repeated eighths on string 1: index and middle take turns, or the middle finger repeats."""
    every = {"melody": "every note"}
    turns = played('"G"dddd dddd|]', 1, options_of(every)).split()
    assert set(turns) == {"M1:0", "I1:0"} and all(one != two for one, two in pairwise(turns))
    assert "M1:0 M1:0" in played('"G"dddd dddd|]', 1, options_of({**every, "same_finger": "allowed"}))


def test_a_triplet_pickup_goes_up_down_up_or_the_other_way() -> None:
    """So that the bar starts down; the other school turns on the beat."""
    from nailhead.core.fretboard.instruments import find_instrument

    fit = fit_tune(tune("(3DEF|G4 A4|]"), find_instrument("mandolin"), Wish(tuning="GDAE"))
    every = {"melody": "every note"}
    usual_way = build_ladder(fit, "plectrum", options_of(every)).rungs[0]
    assert [s.touches[0].way for s in usual_way[0].strokes] == [Way.UP, Way.DOWN, Way.UP]
    other = build_ladder(fit, "plectrum", options_of({**every, "triplet": "down up down"})).rungs[0]
    assert [s.touches[0].way for s in other[0].strokes] == [Way.DOWN, Way.UP, Way.DOWN]
    assert usual_way[1].strokes[0].touches[0].way is other[1].strokes[0].touches[0].way is Way.DOWN


def test_a_choice_that_is_none_is_refused() -> None:
    """With what there is to choose from."""
    for field, choice in CHOICES.items():
        with pytest.raises(PathError, match="no choice") as refused:
            options_of({field: "perhaps"})
        assert refused.value.field == field and choice.usual in refused.value.remedy
    with pytest.raises(PathError, match="no choice “colour”"):
        options_of({"colour": "blue"})


# -- what a rung adds


def test_roles_of_a_pinch_know_their_fingers() -> None:
    """Each note of a pinch names its finger; the melody is never under a chord note."""
    fit = fit_tune(tune('"G"d4 B4|"C"e4 c4|]'), BANJO, Wish(tuning="gDGBD"))
    for bars in build_ladder(fit, "three-finger").rungs[1:6]:
        for stroke in (stroke for bar in bars for stroke in bar.strokes if len(stroke.touches) > 1):
            assert all(touch.by and len(touch.notes) == 1 for touch in stroke.touches)
            tops = [note for note in stroke.notes if note.role is not Role.DRONE]
            melody = [note for note in stroke.notes if note.role is Role.MELODY]
            assert not melody or max(tops, key=lambda note: note.pitch.cents) in melody


def test_costs_are_named_and_whole() -> None:
    """Points, so that sums are exact."""
    assert all(isinstance(cost, int) for cost in COSTS.values())
    for idiom in (CLAWHAMMER, THREE_FINGER):
        empty, hole = [rung.empty for rung in idiom.rungs], [rung.hole for rung in idiom.rungs]
        assert empty == sorted(empty) and hole == sorted(hole)
        assert [bool(cost) for cost in hole] == [idiom.has(Adds.FLOW, rung) for rung in range(1, 8)]


def test_every_weight_stands_in_the_documentation() -> None:
    """docs/engine.md names each cost of the right hand and each term of a grade with its points."""
    from pathlib import Path

    from nailhead.core.arrange.grade import POINTS

    text = (Path(__file__).parents[2] / "docs" / "engine.md").read_text(encoding="utf-8")
    for name in [*COSTS, *POINTS]:
        assert name in text, name


def test_an_own_pattern_finds_its_groups() -> None:
    """Even counts are twos, odd ones threes; taken wherever it fits, from the first rung that strokes."""
    assert own_row(ROLLS, "rocking", "T3! I23 T53! I23").groups == (2, 2)
    assert own_row(ROLLS, "lilt", "T3! I2 M1").groups == (3,)
    assert own_row(ROLLS, "six", "T3! I2 M1 T5! I2 M1").groups == (2, 2, 2)
    assert own_row(ROLLS, "two threes", "T3! I2 M1 | T5! I2 M1").groups == (3, 3)
    row = own_row(ROLLS, "rocking", "T3! I23 T53! I23")
    assert (row.from_rung, row.moving_from, row.family) == (2, 2, "rocking")
    with pytest.raises(PathError, match="5 counts"):
        own_row(ROLLS, "five", "T I M T I")


def test_what_a_pattern_takes_of_the_melody() -> None:
    """The first count and the strong ones; a brush, a drone or a pinch only accompanies."""
    assert read_row(ROLLS, "x", "T3! I2 | M1! T5", 3).takes == {0, 2}
    assert read_row(STROKES, "x", "B! t | d! .", 3).takes == {2}
    # The thumb's string may be the melody's own, and the left hand sounds a note by itself.
    assert read_row(STROKES, "x", "d h! | x! t!", 4).takes == {0, 1, 2, 3}
    assert read_row(ROLLS, "x", "* . | P *", 3).takes == {0}


def test_a_row_is_cut_where_the_bar_has_no_more() -> None:
    """What lies between two counts, at its share of the worth; it begins where a melody note may, or not at all."""
    jig = read_row(STROKES, "jig stroke", "d B t!", 2, cost=-6)
    start = jig.cut(0, 2)
    assert start and (start.groups, start.takes, start.cost) == ((2,), {0}, -4)
    assert [slot.voices for slot in start.slots] == [slot.voices for slot in jig.slots[:2]]
    assert jig.cut(1, 3) is None, "a brush does not begin a tune"
    end = jig.cut(2, 3)
    assert end and (end.groups, end.takes, end.slots[0].at) == ((1,), {0}, 0)
    held = read_row(STROKES, "held", "d ..", 2)
    assert held.cut(1, 3) is None and held.cut(0, 1).slots[0].counts == 1  # type: ignore[union-attr]


# -- the grid of a bar


def test_a_grid_knows_groups_loose_ends_and_off_beats() -> None:
    """An upbeat of three eighths: one loose count, then a whole group; a triplet is off the clock."""
    fit = fit_tune(tune('DGB|"G"(3GAB d2 z2 G2|]'), BANJO, Wish(tuning="gDGBD"))
    found = lay_ground(fit, find_idiom("clawhammer", BANJO), ShapeBook(fit.setup)).contexts
    upbeat, full = (Grid(found[index], usual(found[index]).spots, {}) for index in (0, 1))
    assert (upbeat.start, upbeat.end, upbeat.count) == (5, 8, 1)
    assert upbeat.groups == ((6, 2),) and upbeat.loose() == (LooseEnd(5, 6, group=4, size=2),)
    assert upbeat.onsets == {5: 0, 6: 1, 7: 2} and upbeat.has_off_beat
    assert full.count == 3 and full.groups == ((0, 2), (6, 2), (12, 2), (18, 2))
    first, third = full.window(0, 6), full.window(12, 18)
    assert first.off_clock and not first.held_through and not first.silent
    assert third.silent and third.onsets == ()
    assert full.tick(full.time(13)) == 13


def test_a_brush_without_two_strings_is_the_first_strings_stroke() -> None:
    """Over A minor open G has no two neighbours: melody, first string, fifth string (handbook §4), and not the melody's
    own string again. Over G the nail brushes.
    """
    found = build_ladder(fit_tune(tune('"Am"A4 c4|"G"G4 B4|]', "2/2", "G"), BANJO, Wish(tuning="gDGBD")), "clawhammer")
    struck = [[[note.place.string for note in stroke.notes] for stroke in cell.strokes] for cell in found.rungs[1]]
    assert struck == [[[3], [1], [5], [2], [1], [5]], [[3], [1, 2], [5], [2], [1, 2], [5]]]


def test_what_may_sound_beside_the_melody() -> None:
    """Over C in open G with E in the melody: chord tones of the shape, the drone g, and nothing that clashes (H2)."""
    grid = grid_of('"C"E4|', "clawhammer", 3)
    offered = grid.fillers(0)
    assert {string: filler.fret for string, filler in offered.items()} == {1: 2, 2: 1, 3: 0, 4: 2, 5: 0}
    melody = grid.spots[0]
    assert melody
    dear = {string for string, filler in offered.items() if filler.rings}
    assert dear == {melody.place.string}
    bare = grid_of('"F#dim"A4|', "clawhammer", 2).fillers(0)
    assert 2 not in bare and 5 not in bare  # B and the drone g, a semitone from the root
