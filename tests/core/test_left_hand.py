"""The left hand in the ladder: ornaments told apart, graces, double stops, kept fingers, joins of a mixed path."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

import pytest

from nailhead.core.arrange.fit.gracing import with_slow_slides
from nailhead.core.arrange.fit.ladder import build_ladder, lay_ground
from nailhead.core.arrange.fit.strings import NEAREST, WIDEST
from nailhead.core.arrange.grade import POINTS, grade_bar, grade_join
from nailhead.core.arrange.left.held_shapes import ShapeBook
from nailhead.core.arrange.left.looking_ahead import looking_ahead
from nailhead.core.arrange.left.ornaments import grace_into, may_slur, slur_into
from nailhead.core.arrange.left.staying import keep_down
from nailhead.core.arrange.rows.clawhammer import CLAWHAMMER
from nailhead.core.arrange.rows.hands import Idiom
from nailhead.core.arrange.rows.left_hand import LeftHand
from nailhead.core.arrange.rows.three_finger import THREE_FINGER
from nailhead.core.arrange.rows.ways import find_idiom
from nailhead.core.arrange.teacher.path import bars_on_path, level_path
from nailhead.core.arrange.values import (
    ArrangedBar,
    Finger,
    FrettedNote,
    HeldShape,
    Ornament,
    Role,
    Slur,
    Stroke,
    Way,
    single,
)
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.chord import parse_chord
from nailhead.core.music.key import parse_key, spell
from tests.core.test_fretboard import BANJO
from tests.core.test_fretboard import setup as banjo_setup
from tests.core.test_tune import tune
from tests.demo import demo_tunes

SETUP = banjo_setup()
EIGHTH = Fraction(1, 8)
IDIOMS = ("clawhammer", "three-finger")


def note(string: int, fret: int, finger: int = 0, role: Role = Role.MELODY) -> FrettedNote:
    place = Place(string, fret)
    return FrettedNote(place, spell(SETUP.sounding_cents(place), parse_key("G")), role, finger)


def bar_of(*notes: FrettedNote | None, number: int = 1) -> ArrangedBar:
    """A bar of eighths; None rings on."""
    strokes: list[Stroke] = []
    for at, one in enumerate(notes):
        if one is None:
            strokes[-1] = replace(strokes[-1], duration=strokes[-1].duration + EIGHTH)
        else:
            strokes.append(Stroke(at * EIGHTH, EIGHTH, single(Finger.NAIL, Way.DOWN, one)))
    return ArrangedBar(number, 4, tuple(strokes))


# -- ornaments


@pytest.mark.parametrize(
    ("low", "high", "ornament"),
    [
        ((0, 0), (2, 2), Ornament.HAMMER),  # from the open string
        ((2, 2), (0, 0), Ornament.PULL),  # to the open string
        ((1, 1), (3, 3), Ornament.HAMMER),  # up to a higher finger
        ((3, 3), (1, 1), Ornament.PULL),  # down to a lower one that waits there
        ((2, 2), (4, 2), Ornament.SLIDE),  # one finger for both
        ((4, 2), (2, 2), Ornament.SLIDE),
        ((2, 3), (4, 1), Ornament.SLIDE),  # fingers crossed: only a slide is left
    ],
)
def test_fingers_decide_what_a_slur_is(low: tuple[int, int], high: tuple[int, int], ornament: Ornament) -> None:
    """Hammer-on up, pull-off down, a slide where one finger takes both (handbook §4)."""
    before, after = note(3, *low), note(3, *high)
    slurred = slur_into(LeftHand(), before, after)
    assert slurred.slur and slurred.slur.ornament is ornament and slurred.slur.start == low[0]
    assert not slurred.slur.grace and not slurred.slur.slow
    assert slurred.finger == (low[1] if ornament is Ornament.SLIDE else high[1])


@pytest.mark.parametrize(
    ("fret", "ornament", "start"),
    [
        (1, Ornament.HAMMER, 0),
        (2, Ornament.HAMMER, 0),
        (3, Ornament.HAMMER, 0),
        (4, Ornament.SLIDE, 2),
        (9, Ornament.SLIDE, 7),
    ],
)
def test_a_grace_comes_from_the_open_string_or_two_frets_below(fret: int, ornament: Ornament, start: int) -> None:
    """Common practice: a quick hammer into the first frets, a slide from two frets below higher up (handbook §3)."""
    slur = grace_into(LeftHand(), note(1, fret, 1), SETUP, barred=False)
    assert slur and (slur.ornament, slur.start, slur.grace) == (ornament, start, True)


def test_no_grace_on_open_strings_under_a_bar_or_on_the_drone() -> None:
    """A finger that stops other strings too cannot hammer from the open one; the fifth string has no frets to slide."""
    assert grace_into(LeftHand(), note(1, 0), SETUP, barred=False) is None
    assert grace_into(LeftHand(), note(1, 2, 1), SETUP, barred=True) is None
    assert grace_into(LeftHand(), note(5, 7, 1), SETUP, barred=False) is None


@pytest.mark.parametrize("idiom", IDIOMS)
def test_graces_have_room_and_a_bar_has_one_at_most(idiom: str) -> None:
    """Into strong beats only, into notes of two counts and more, and in no bar that slurs otherwise."""
    for source in demo_tunes():
        found = build_ladder(fit_tune(source, BANJO, Wish(tuning="gDGBD")), idiom)
        offsets = found.structure.offsets
        for written, bar, late in zip(found.tune.bars, found.rungs[3], offsets, strict=True):
            graces = [(s, n) for s in bar.strokes for n in s.notes if n.slur and n.slur.grace]
            # A unison that is slid into comes with the open string itself.
            slurs = [n for s in bar.strokes for n in s.notes if n.slur and not n.slur.grace]
            assert len(graces) <= 1 and not (graces and slurs)
            for stroke, graced in graces:
                assert stroke.onset + late in written.metre.strong_onsets
                assert graced.slur and graced.role is Role.MELODY
                # An open note is pulled off to, where the bar would else be that of the rung below.
                assert graced.place.fret or graced.slur.ornament is Ornament.PULL


# -- double stops


@pytest.mark.parametrize("idiom", IDIOMS)
def test_a_double_stop_lies_a_third_to_a_sixth_under_the_melody(idiom: str) -> None:
    """On the bar's first note from the third rung on, on all strong beats from the sixth, on the string below; a nail
    that sweeps takes the one above where there is none.
    """
    seen: dict[int, int] = {}
    for source in demo_tunes():
        found = build_ladder(fit_tune(source, BANJO, Wish(tuning="gDGBD")), idiom)
        for rung in (1, 2, 3, 6):
            for bar in found.rungs[rung - 1]:
                for stroke in (s for s in bar.strokes if len(s.touches) == 1 or idiom == "three-finger"):
                    melody = [n for n in stroke.notes if n.role is Role.MELODY and not n.held]
                    beside = [n for n in stroke.notes if n.role is Role.CHORD and n.place.string != 1]
                    if len(melody) != 1 or len(beside) != 1 or len(stroke.notes) != 2 or bar.patterns:
                        continue
                    assert rung in (3, 6)
                    seen[rung] = seen.get(rung, 0) + 1
                    (one,), (other,) = melody, beside
                    assert NEAREST <= abs(one.pitch.cents - other.pitch.cents) <= WIDEST
                    assert abs(one.place.string - other.place.string) == 1
    assert set(seen) <= {3, 6} and seen


# -- kept fingers


def test_a_finger_is_kept_until_its_place_comes_again() -> None:
    """Fret 2 of string 3, an open string, fret 2 again: the finger stays."""
    kept = keep_down(bar_of(note(3, 2, 2), note(1, 0), note(3, 2, 2), note(2, 0))).kept
    assert [(k.place, k.finger, k.onset, k.until) for k in kept] == [((3, 2), 2, 0, Fraction(1, 4))]


@pytest.mark.parametrize(
    "between",
    [note(2, 3, 2), note(3, 0), note(3, 1, 1)],
    ids=["its finger is needed", "its string is wanted open", "its string is stopped lower"],
)
def test_a_finger_that_is_needed_elsewhere_is_not_kept(between: FrettedNote) -> None:
    """Rule: neither the finger nor the string may be used in between."""
    assert keep_down(bar_of(note(3, 2, 2), between, note(3, 2, 2))).kept == ()


def test_striking_on_at_once_is_no_keeping() -> None:
    """Twice the same note running says nothing that the numerals do not."""
    assert keep_down(bar_of(note(3, 2, 2), note(3, 2, 2), note(2, 0))).kept == ()


def test_a_finger_is_kept_over_the_bar_line() -> None:
    """Wanted at once in the bar that follows: until the end of this one."""
    first, second = bar_of(note(3, 2, 2), note(1, 0)), bar_of(note(3, 2, 2), number=2)
    (kept,) = keep_down(first, second).kept
    assert kept.until == first.length
    assert keep_down(first, bar_of(note(2, 0), number=2)).kept == ()
    assert keep_down(first).kept == ()


# -- joins


def test_a_mixed_path_grades_the_joins_it_has() -> None:
    """Where the rung changes the join is that of the two bars as picked; elsewhere the ladder's own."""
    body = '|:"G"G2B2 d3B|"C"c2e2 "G"d2B2|"Am"c2A2 "D"F2A2|"G"G4 G2D2:|]'
    found = build_ladder(fit_tune(tune(body), BANJO, Wish(tuning="gDGBD")), "three-finger")
    for path in ((2, 5, 5, 2), (6, 1, 3, 4), (5, 5, 5, 5)):
        bars = bars_on_path(found, path)
        for index in range(3):
            if path[index] == path[index + 1]:
                assert bars[index].join == found.cell(index, path[index]).join
            else:
                assert bars[index].join == grade_join(bars[index], bars[index + 1], found.idiom, Fraction(1, 8))
    assert bars_on_path(found, level_path(found, 4)) == found.rungs[3]


def test_a_finger_twice_over_the_bar_line_is_said() -> None:
    """Thumb to thumb at speed, and each finger of a pinch (handbook §6)."""
    low, high = single(Finger.THUMB, Way.PLUCK, note(3, 0)), single(Finger.MIDDLE, Way.PLUCK, note(1, 0))
    thumb, pinch, middle = (Stroke(Fraction(0), EIGHTH, touches) for touches in (low, (*low, *high), high))
    for last, first, finger in ((thumb, thumb, "thumb"), (thumb, pinch, "thumb"), (pinch, middle, "middle")):
        reasons = grade_join(
            ArrangedBar(1, 5, (last,)), ArrangedBar(2, 5, (first,)), THREE_FINGER, Fraction(1, 8)
        ).reasons
        assert [reason.sentence for reason in reasons] == [f"The {finger} strikes twice running over the bar line."]
    slow = replace(thumb, duration=Fraction(1, 4))
    assert (
        grade_join(ArrangedBar(1, 5, (slow,)), ArrangedBar(2, 5, (thumb,)), THREE_FINGER, Fraction(1, 8)).reasons == ()
    )
    assert (
        grade_join(ArrangedBar(1, 5, (thumb,)), ArrangedBar(2, 5, (middle,)), THREE_FINGER, Fraction(1, 8)).reasons
        == ()
    )


@pytest.mark.parametrize(
    ("between", "kept"),
    [
        (note(3, 2, 3), False),  # the same fret under another finger: the first has gone
        (note(3, 4, 3), True),  # a finger above it on its string leaves it where it is
        (note(3, 1, 1), False),
    ],
)
def test_a_string_stopped_elsewhere_in_between(between: FrettedNote, kept: bool) -> None:
    """Below and at its fret the finger must be away; above it, it may stay."""
    assert bool(keep_down(bar_of(note(3, 2, 2), between, note(3, 2, 2))).kept) == kept


def test_the_last_note_of_a_bar_is_no_kept_finger() -> None:
    """Struck again at once over the bar line: the finger has not moved, nothing is to be said."""
    assert keep_down(bar_of(note(1, 0), note(3, 2, 2)), bar_of(note(3, 2, 2), number=2)).kept == ()


def test_a_held_note_over_the_bar_line_is_no_place_wanted_again() -> None:
    """A tie goes on sounding by itself; its finger is told by the tie, not as one that is kept."""
    ringing = single(None, Way.RINGS, replace(note(3, 2, 2), held=True))
    following = ArrangedBar(2, 4, (Stroke(Fraction(0), EIGHTH, ringing),))
    assert keep_down(bar_of(note(3, 2, 2), note(1, 0)), following).kept == ()
    assert keep_down(bar_of(note(3, 2, 2), note(1, 0)), bar_of(note(3, 2, 2), number=2)).kept != ()


def test_fingers_of_a_held_shape_are_kept_by_the_shape() -> None:
    """They are down all through it and are not listed a second time."""
    bar = bar_of(note(1, 2, 3), note(3, 0), note(1, 2, 3))
    assert keep_down(bar).kept
    shape = HeldShape(Fraction(0), bar.length, parse_chord("C"), ((1, 2, 3), (2, 1, 1)))
    assert keep_down(replace(bar, shapes=(shape,))).kept == ()


# -- what a grade counts


def graded(strokes: Sequence[Stroke], idiom: Idiom) -> dict[str, int]:
    """Points of each term."""
    found = tune("G8|]")
    grade = grade_bar(ArrangedBar(1, 5, tuple(strokes)), SETUP, found, found.metre, idiom)
    return {reason.term: reason.points for reason in grade.reasons}


def struck(*what: tuple[Finger, Way, int]) -> list[Stroke]:
    """Eighths on open strings."""
    return [Stroke(at * EIGHTH, EIGHTH, single(by, way, note(string, 0))) for at, (by, way, string) in enumerate(what)]


def test_a_pick_is_never_graded_for_striking_again() -> None:
    """A nail that comes twice running is (handbook §6); a pick goes both ways and is not tired so."""
    nail = struck(*[(Finger.NAIL, Way.DOWN, 1)] * 4)
    assert graded(nail, CLAWHAMMER)["finger again"] == 3 * POINTS["finger again"]
    pick = struck(*[(Finger.PICK, Way.DOWN, 1), (Finger.PICK, Way.UP, 1)] * 2)
    plectrum = find_idiom("plectrum", find_instrument("mandolin"))
    assert "finger again" not in graded(pick, plectrum) and "off the beat" not in graded(pick, plectrum)
    last, first = ArrangedBar(1, 1, tuple(pick[3:])), ArrangedBar(2, 1, tuple(pick[:1]))
    assert grade_join(last, first, plectrum, Fraction(1, 8)).reasons == ()
    three = struck(*[(Finger.INDEX, Way.PLUCK, 2), (Finger.MIDDLE, Way.PLUCK, 1)] * 2)
    assert "finger again" not in graded(three, THREE_FINGER)


def test_jumps_are_those_of_one_finger_at_speed() -> None:
    """Over two strings or more; from finger to finger the hand need not move."""
    jump = struck((Finger.NAIL, Way.DOWN, 1), (Finger.NAIL, Way.DOWN, 4), (Finger.NAIL, Way.DOWN, 2))
    assert graded(jump, CLAWHAMMER)["string skips"] == POINTS["string skips"]
    apart = struck((Finger.THUMB, Way.PLUCK, 4), (Finger.MIDDLE, Way.PLUCK, 1), (Finger.THUMB, Way.PLUCK, 4))
    assert "string skips" not in graded(apart, THREE_FINGER)


def test_the_thumb_away_from_the_fifth_string_is_counted_where_it_is_at_home_there() -> None:
    """In clawhammer each drop; in rolls every string is the thumb's."""
    drop = struck((Finger.NAIL, Way.DOWN, 1), (Finger.THUMB, Way.PLUCK, 3))
    assert graded(drop, CLAWHAMMER)["drop thumb"] == POINTS["drop thumb"]
    assert "drop thumb" not in graded(drop, THREE_FINGER)
    home = [drop[0], replace(drop[1], touches=single(Finger.THUMB, Way.PLUCK, note(5, 0, role=Role.DRONE)))]
    assert "drop thumb" not in graded(home, CLAWHAMMER)


# -- slides: how far, how long


def slid(low: int, high: int, length: Fraction, left: LeftHand) -> Slur | None:
    """Two notes of a length on one string, one finger each, as slow slides leave them."""
    notes = (note(3, low, 1), note(3, high, min(4, 1 + high - low)))
    strokes = tuple(Stroke(at * length, length, single(Finger.THUMB, Way.PLUCK, one)) for at, one in enumerate(notes))
    return with_slow_slides(strokes, EIGHTH, left)[1].notes[0].slur


def test_a_slow_slide_goes_two_frets_and_takes_two_beats() -> None:
    """Handbook §4: two beats are four eighths; further than two frets the hand does not travel slowly, and never
    down or from the open string; a hand without slides makes none.
    """
    half = Fraction(1, 2)
    assert [bool(slid(2, high, half, LeftHand())) for high in (1, 2, 3, 4, 5)] == [False, False, True, True, False]
    assert slid(2, 4, Fraction(3, 8), LeftHand()) is None and slid(0, 2, half, LeftHand()) is None
    assert slid(2, 4, half, LeftHand(frozenset({Ornament.HAMMER}))) is None
    noter = LeftHand(frozenset({Ornament.SLIDE}), grace_slide=2)
    assert grace_into(noter, note(1, 2, 1), SETUP, barred=False) is None  # there is no fret to come from
    assert grace_into(noter, note(1, 3, 1), SETUP, barred=False) == Slur(Ornament.SLIDE, 1, grace=True)


@pytest.mark.parametrize(
    ("ornaments", "low", "high", "wanted"),
    [
        ({Ornament.SLIDE}, 0, 2, False),
        ({Ornament.SLIDE}, 2, 4, True),
        ({Ornament.HAMMER}, 0, 2, True),
        ({Ornament.HAMMER}, 2, 0, False),
        ({Ornament.PULL}, 2, 0, True),
        (set(Ornament), 0, 5, False),
        (set(Ornament), 3, 3, False),
    ],
)
def test_a_slur_is_one_of_the_hand_s_own(ornaments: set[Ornament], low: int, high: int, wanted: bool) -> None:
    """A noter slides between stops and neither hammers nor pulls; four frets are the furthest."""
    assert may_slur(LeftHand(frozenset(ornaments)), Place(3, low), Place(3, high), SETUP) == wanted
    assert not may_slur(LeftHand(frozenset(ornaments)), Place(3, low), Place(2, high), SETUP)


# -- over the bar line


def looked_ahead(bar: ArrangedBar, *following: ArrangedBar) -> ArrangedBar:
    """The first of several bars, of which each other one may come next."""
    fit = fit_tune(tune('"G"G4|]'), BANJO, Wish(tuning="gDGBD"))
    contexts = dict.fromkeys(range(1 + len(following)), lay_ground(fit, CLAWHAMMER, ShapeBook(fit.setup)).contexts[0])
    made = dict(enumerate((bar, *following)))
    joins = [(0, after) for after in range(1, len(made))]
    return looking_ahead(made, tuple(made), joins, contexts)[0]


def test_the_last_finger_of_a_bar_leaves_the_one_that_the_next_bar_wants() -> None:
    """Fret 2 with the middle finger where the next bar wants the index on another string (handbook §3), and it is said;
    a place that stays keeps its finger, and so does one whose other fingers are wanted too.
    """
    bar = bar_of(note(1, 0), note(3, 2, 1))
    index = bar_of(note(2, 1, 1))
    found = looked_ahead(bar, index)
    assert found.strokes[-1].notes[0].finger == 2
    assert found.remarks[-1] == (
        "The middle finger takes fret 2 of string 3 after beat 1, because the index finger is wanted elsewhere in the "
        "next bar."
    )
    assert looked_ahead(bar, bar_of(note(3, 2, 1))) == bar, "the same place"
    assert looked_ahead(bar, bar_of(note(1, 0))) == bar, "an open string"
    both = looked_ahead(bar, index, bar_of(note(2, 3, 2)))
    assert both.strokes[-1].notes[0].finger == 3, "the one that neither wants"


def test_a_finger_that_cannot_change_stays() -> None:
    """One that came by a slide, one that rings on, one between two that lie closer; repeated notes change together."""
    index = bar_of(note(2, 1, 1))
    slid = replace(note(3, 4, 1), slur=Slur(Ornament.SLIDE, 2))
    assert looked_ahead(bar_of(note(3, 2, 1), slid), index).strokes[-1].notes[0].finger == 1
    rings = bar_of(replace(note(3, 2, 1), held=True), note(2, 1, 1))
    assert looked_ahead(bar_of(note(3, 2, 1)), rings).strokes[-1].notes[0].finger == 1
    repeated = looked_ahead(bar_of(note(3, 2, 1), note(3, 2, 1)), index)
    assert [stroke.notes[0].finger for stroke in repeated.strokes] == [2, 2]
    came = bar_of(note(2, 3, 2), note(3, 2, 1))
    assert looked_ahead(came, index) == came, "below the middle finger there is the index alone"
