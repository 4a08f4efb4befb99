"""The engine on small cases: placement, shapes, strokes, grades, paths; each against something worked out by hand."""

from __future__ import annotations

from fractions import Fraction
from itertools import product

import networkx as nx
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.left.placing import (
    NoteToPlace,
    place_melody,
    placement_cost,
    spots_of,
)
from nailhead.core.arrange.rows.clawhammer import CLAWHAMMER
from nailhead.core.arrange.teacher.path import bars_on_path, check_path, grade_path
from nailhead.core.arrange.values import ArrangedBar, Finger, Role, Way
from nailhead.core.errors import PathError
from nailhead.core.fretboard.fingering import finger_stops
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.shapes import shapes_for
from nailhead.core.music.chord import parse_chord
from nailhead.core.music.clock import clock_of
from nailhead.core.music.metre import parse_metre
from tests.core.test_fretboard import BANJO, setup
from tests.core.test_tune import tune
from tests.placing_graph import END, START, graph_of
from tests.struck import letters

OPEN_G = setup()
QUARTER, EIGHTH = Fraction(1, 4), Fraction(1, 8)
NAMES = {"d": "down", "B": "brush", "T": "thumb"}


def ladder(body: str, metre: str = "4/4", key: str = "G", tuning: str = "gDGBD") -> Ladder:
    return build_ladder(fit_tune(tune(body, metre, key), BANJO, Wish(tuning=tuning)))


def strokes(bar: ArrangedBar) -> list[tuple[str, str, str]]:
    """(onset, hand, string:fret …) of each stroke, for reading aloud."""
    return [
        (str(s.onset), NAMES.get(letters(s), "-"), " ".join(f"{n.place.string}:{n.place.fret}" for n in s.notes))
        for s in bar.strokes
    ]


def notes(midis: list[int], gap: Fraction = EIGHTH) -> list[NoteToPlace]:
    return [NoteToPlace(Fraction(100 * m), gap, OPEN_G.places(Fraction(100 * m))) for m in midis]


# -- placement


@settings(max_examples=25, deadline=None)
@given(st.lists(st.integers(50, 67), min_size=2, max_size=4), st.sampled_from([EIGHTH, QUARTER]))
def test_placement_reaches_the_optimum_of_an_exhaustive_search(midis: list[int], gap: Fraction) -> None:
    """Every way of up to four notes is tried; none is cheaper."""
    melody = notes(midis, gap)
    # Higher places only cost more here, so the first six frets and positions are enough to try.
    options = [
        [spot for place in note.places for spot in spots_of(place, OPEN_G) if spot.position <= 7] for note in melody
    ]
    best = min(placement_cost(way, melody, OPEN_G) for way in product(*options))
    assert place_melody(melody, OPEN_G).cost == best


@settings(max_examples=25, deadline=None)
@given(st.lists(st.integers(50, 76), min_size=2, max_size=24))
def test_placement_is_the_shortest_path_of_networkx(midis: list[int]) -> None:
    """The same costs as a graph: Dijkstra's algorithm finds no shorter way."""
    melody = notes(midis)
    graph = graph_of(melody, OPEN_G)
    placed = place_melody(melody, OPEN_G)
    assert placed.cost == nx.dijkstra_path_length(graph, START, END)
    assert placement_cost(placed.spots, melody, OPEN_G) == placed.cost


def test_a_scale_in_open_g_stays_on_open_strings_and_low_frets() -> None:
    """G A B c d e f♯ g: open where there is an open string, first position elsewhere (handbook §3)."""
    scale = [55, 57, 59, 60, 62, 64, 66, 67]
    places = [tuple(spot.place) for spot in place_melody(notes(scale), OPEN_G).spots]
    assert places == [(3, 0), (3, 2), (2, 0), (2, 1), (1, 0), (1, 2), (1, 4), (1, 5)]


def test_a_repeated_bar_uses_the_same_places() -> None:
    """Handbook §3: on a repeated phrase the same places again, whatever surrounds it."""
    found = ladder('"G"B2d2 g2d2|e2g2 b2g2|B2d2 g2d2|d8|a2g2 e2g2|B2d2 g2d2|')
    places = [[tuple(n.place) for s in found.rungs[0][i].strokes for n in s.notes] for i in (0, 2, 5)]
    assert places[0] == places[1] == places[2]


# -- shapes


@pytest.mark.parametrize(
    ("chord", "frets"),
    [("G", {1: 0, 2: 0, 3: 0, 4: 0}), ("C", {1: 2, 2: 1, 3: 0, 4: 2}), ("D7", {1: 0, 2: 1, 3: 2, 4: 0})],
)
def test_first_shapes_of_open_g(chord: str, frets: dict[int, int]) -> None:
    """The shapes every banjo pupil learns first in open G (common practice)."""
    assert dict(shapes_for(OPEN_G, parse_chord(chord))[0].frets) == frets


def test_the_c_shape_is_fingered_as_taught() -> None:
    """Index on string 2, middle on 4, ring on 1 (common practice)."""
    shape = shapes_for(OPEN_G, parse_chord("C"))[0]
    assert dict(shape.fingers) == {2: 1, 4: 2, 1: 3}
    assert not shape.barre


@pytest.mark.parametrize("name", ["G", "Am", "Bb", "F#m7", "Ebdim", "C#7", "Gsus4"])
@pytest.mark.parametrize("capo", [0, 2, 5])
def test_every_shape_sounds_its_chord_and_can_be_held(name: str, capo: int) -> None:
    """Chord tones only, at most four fingers in different places, within the span, best first."""
    chord, chosen = parse_chord(name), setup(capo=capo)
    shapes = shapes_for(chosen, chord)
    assert shapes
    assert [shape.cost for shape in shapes] == sorted(shape.cost for shape in shapes)
    for shape in shapes:
        from nailhead.core.fretboard.setup import Place

        tones = {int(chosen.sounding_cents(Place(*stop)) // 100) % 12 for stop in shape.frets}
        assert tones <= chord.tones
        stops = [fret for _, fret in shape.frets if fret]
        assert len({finger for _, finger in shape.fingers}) <= 4
        if stops:
            assert chosen.distance_mm(min(stops), max(stops)) <= BANJO.span_mm


def test_fingers_are_not_given_for_what_no_hand_reaches() -> None:
    """Five frets at the nut of a 667 mm neck are too far, high up they are not; a bar is one finger."""
    assert finger_stops({1: 6, 4: 1}, OPEN_G) is None
    assert finger_stops({1: 16, 4: 12}, OPEN_G) is not None
    barred = finger_stops({1: 5, 2: 5, 3: 5, 4: 5}, OPEN_G)
    assert barred and barred.fingers == {1: 1, 2: 1, 3: 1, 4: 1} and barred.barres == ((1, 5, 1, 4),)


# -- strokes: the worked figures of handbook §4


def test_the_basic_stroke_in_four() -> None:
    """A quarter (melody ↓), an eighth (brush ↓), an eighth (thumb on the fifth string)."""
    assert strokes(ladder('"G"G4 G4|').rungs[1][0]) == [
        ("0", "down", "3:0"),
        ("1/4", "brush", "1:0 2:0"),
        ("3/8", "thumb", "5:0"),
        ("1/2", "down", "3:0"),
        ("3/4", "brush", "1:0 2:0"),
        ("7/8", "thumb", "5:0"),
    ]


def test_the_basic_stroke_in_two() -> None:
    """In 2/4 an eighth and two sixteenths."""
    found = strokes(ladder('"G"G2 G2|', "2/4").rungs[1][0])
    assert [(onset, hand) for onset, hand, _ in found[:4]] == [
        ("0", "down"),
        ("1/8", "brush"),
        ("3/16", "thumb"),
        ("1/4", "down"),
    ]


def test_three_four_is_long_and_two_pairs() -> None:
    """A dotted half: a quarter, then brush and thumb twice."""
    found = strokes(ladder('"G"G6|', "3/4").rungs[1][0])
    assert [(onset, hand) for onset, hand, _ in found] == [
        ("0", "down"),
        ("1/4", "brush"),
        ("3/8", "thumb"),
        ("1/2", "brush"),
        ("5/8", "thumb"),
    ]


def test_six_eight_is_melody_brush_thumb() -> None:
    """Per dotted quarter ↓ B T."""
    found = strokes(ladder('"G"G3 B3|', "6/8").rungs[1][0])
    assert [hand for _, hand, _ in found] == ["down", "brush", "thumb"] * 2


def test_moving_quarters_have_the_basic_stroke_and_get_the_thumb_on_rung_5() -> None:
    """Rung 2 has the basic stroke over moving quarters, note, note, thumb; rung 5 puts the drone between them all."""
    found = ladder('"G"G2B2 d2BA|')
    assert [hand for _, hand, _ in strokes(found.rungs[1][0])] == ["down", "down", "thumb"] * 2
    last = [hand for _, hand, _ in strokes(found.rungs[4][0])][1:]
    assert last == ["thumb", "down", "thumb", "down", "thumb", "down", "thumb"]


def test_rung_3_holds_the_chord_under_the_melody() -> None:
    """Over C the brush takes strings 1 to 3 of the C shape: 2 1 0, fingers ring and index."""
    bar = ladder('"G"G8|"C"E8|').rungs[2][1]
    first, brush = [stroke for stroke in bar.strokes if letters(stroke) == "B"][:2]
    assert {n.role for n in first.notes} == {Role.MELODY, Role.CHORD}  # the chord comes with the bar's first note
    assert [tuple(note.place) for note in brush.notes] == [(1, 2), (2, 1), (3, 0)]
    assert [note.finger for note in brush.notes] == [3, 1, 0]
    assert bar.shapes[0].stops == ((1, 2, 3), (2, 1, 1), (4, 2, 2))


def test_a_pickup_keeps_the_hands_clock() -> None:
    """An upbeat of an eighth is off the beat: the thumb never falls on it as if it were a first beat."""
    bar = ladder('D|"G"G4 G3D|G8|').rungs[2][0]
    assert [hand for _, hand, _ in strokes(bar)] == ["down"]


def test_what_clashes_is_left_out_and_said() -> None:
    """Over F♯ dim nothing open belongs on the treble strings: the brush is left out and the bar says where."""
    bar = ladder('"G"G8|"F#dim"A4 A4|').rungs[1][1]
    assert any("No brush" in remark or "No fifth string" in remark for remark in bar.remarks)


def test_a_note_tied_over_the_bar_is_not_struck_again() -> None:
    """The held note stands at the bar's first onset without a stroke."""
    bar = ladder('"G"G4 B4-|B4 d4|').rungs[0][1]
    assert bar.strokes[0].touches[0].way is Way.RINGS and not bar.strokes[0].sounded
    assert bar.strokes[0].notes[0].held


@pytest.mark.parametrize("pattern", CLAWHAMMER.right.patterns, ids=lambda pattern: pattern.name)
def test_pattern_rows_fill_their_groups(pattern) -> None:  # type: ignore[no-untyped-def]
    """Slots follow each other without a gap and end with the groups; the thumb never comes first."""
    at = 0
    for slot in pattern.slots:
        assert slot.at == at
        at += slot.counts
    assert at == sum(pattern.groups)
    assert all(voice.by is not Finger.THUMB for voice in pattern.slots[0].voices)
    assert 1 <= pattern.from_rung <= len(CLAWHAMMER.rungs)


@pytest.mark.parametrize(
    ("metre", "count", "groups"),
    [
        ("4/4", "1/8", (2, 2, 2, 2)),
        ("C|", "1/8", (2, 2, 2, 2)),
        ("2/4", "1/16", (2, 2, 2, 2)),
        ("3/4", "1/8", (2, 2, 2)),
        ("6/8", "1/8", (3, 3)),
        ("2+2+2+3/8", "1/8", (2, 2, 2, 3)),
        ("5/8", "1/8", (2, 3)),
    ],
)
def test_the_hands_clock(metre: str, count: str, groups: tuple[int, ...]) -> None:
    """Counts and groups of the metres of handbook §4."""
    clock = clock_of(parse_metre(metre))
    assert (clock.count, clock.groups) == (Fraction(count), groups)


def test_filled_notes_are_chord_or_drone_by_role() -> None:
    """Melody, chord and drone are told apart: the sheet draws them differently."""
    roles = {n.role for s in ladder('"G"G4 G4|').rungs[2][0].strokes for n in s.notes}
    assert roles == {Role.MELODY, Role.CHORD, Role.DRONE}


# -- grades and paths

REEL = '|:"G"G2B2 d3B|"C"cBAG "D7"FGAc|"G"G2B2 d3B|"C"c2A2 "G"G4:|'


def test_harder_bars_grade_higher_and_say_why() -> None:
    """Eighths all through weigh more than quarters; the reasons are sentences."""
    bars = ladder(REEL).rungs[0]
    assert bars[1].grade.value > bars[0].grade.value or (
        sum(r.points for r in bars[1].grade.reasons) > sum(r.points for r in bars[0].grade.reasons)
    )
    assert all(reason.sentence.endswith(".") for bar in bars for reason in bar.grade.reasons)


def test_faster_is_harder() -> None:
    """The same notes at twice the tempo."""
    from dataclasses import replace

    from nailhead.core.music.tune import Tempo

    fit = fit_tune(tune(REEL), BANJO, Wish())
    slow = build_ladder(replace(fit, tune=replace(fit.tune, tempo=Tempo(QUARTER, 60))))
    fast = build_ladder(replace(fit, tune=replace(fit.tune, tempo=Tempo(QUARTER, 200))))
    assert fast.rungs[4][1].grade.value > slow.rungs[4][1].grade.value


def test_a_path_mixes_rungs() -> None:
    """The bars of a path are the cells it names; its grade is that of its hardest bars."""
    found = ladder(REEL)
    bars = bars_on_path(found, (1, 2, 3, 1))
    assert [bar.rung for bar in bars] == [1, 2, 3, 1]
    grade = grade_path(bars, found.structure.classes)
    assert grade.value == max(max(bar.grade.value, bar.join.value) for bar in bars)


@pytest.mark.parametrize("path", [(1, 1), (1, 1, 1, 9), (0, 1, 1, 1)])
def test_a_path_that_cannot_be_is_refused(path: tuple[int, ...]) -> None:
    """Wrong length or a rung that is not there."""
    with pytest.raises(PathError):
        check_path(ladder(REEL), path)


def test_the_same_tune_gives_the_same_ladder() -> None:
    """H7: deterministic."""
    assert ladder(REEL).rungs == ladder(REEL).rungs
