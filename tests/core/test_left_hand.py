"""The left hand in the ladder: ornaments told apart, graces, double stops, kept fingers, joins of a mixed path."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import pytest

from nailhead.core.arrange.fit.ladder import build_ladder
from nailhead.core.arrange.fit.strings import NEAREST, WIDEST
from nailhead.core.arrange.grade import grade_join
from nailhead.core.arrange.left.ornaments import grace_into, slur_into
from nailhead.core.arrange.left.staying import keep_down
from nailhead.core.arrange.rows.hands import LeftHand
from nailhead.core.arrange.rows.three_finger import THREE_FINGER
from nailhead.core.arrange.teacher.path import bars_on_path, level_path
from nailhead.core.arrange.values import ArrangedBar, Finger, FrettedNote, Ornament, Role, Stroke, Way, single
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.setup import Place
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
            slurs = [n for s in bar.strokes for n in s.notes if n.slur and not n.slur.grace]
            assert len(graces) <= 1 and not (graces and slurs)
            for stroke, graced in graces:
                assert stroke.onset + late in written.metre.strong_onsets
                assert graced.place.fret and graced.role is Role.MELODY


# -- double stops


@pytest.mark.parametrize("idiom", IDIOMS)
def test_a_double_stop_lies_a_third_to_a_sixth_under_the_melody(idiom: str) -> None:
    """From the sixth rung on, on neighbouring strings, the melody on top."""
    seen = 0
    for source in demo_tunes():
        found = build_ladder(fit_tune(source, BANJO, Wish(tuning="gDGBD")), idiom)
        for rung in (5, 6):
            for stroke in (s for bar in found.rungs[rung - 1] for s in bar.strokes):
                melody = [n for n in stroke.notes if n.role is Role.MELODY and not n.held]
                under = [n for n in stroke.notes if n.role is Role.CHORD]
                if not melody or not under:
                    continue
                assert rung == 6
                seen += 1
                (top,), (low,) = melody, under
                assert NEAREST <= top.pitch.cents - low.pitch.cents <= WIDEST
                assert low.place.string == top.place.string + 1
    assert seen


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
                assert bars[index].join == grade_join(bars[index], bars[index + 1], found.idiom)
    assert bars_on_path(found, level_path(found, 4)) == found.rungs[3]


def test_a_finger_twice_over_the_bar_line_is_said() -> None:
    """Thumb to thumb at speed, and each finger of a pinch (handbook §6)."""
    low, high = single(Finger.THUMB, Way.PLUCK, note(3, 0)), single(Finger.MIDDLE, Way.PLUCK, note(1, 0))
    thumb, pinch, middle = (Stroke(Fraction(0), EIGHTH, touches) for touches in (low, (*low, *high), high))
    for last, first, finger in ((thumb, thumb, "thumb"), (thumb, pinch, "thumb"), (pinch, middle, "middle")):
        reasons = grade_join(ArrangedBar(1, 5, (last,)), ArrangedBar(2, 5, (first,)), THREE_FINGER).reasons
        assert [reason.sentence for reason in reasons] == [f"The {finger} strikes twice running over the bar line."]
    slow = replace(thumb, duration=Fraction(1, 4))
    assert grade_join(ArrangedBar(1, 5, (slow,)), ArrangedBar(2, 5, (thumb,)), THREE_FINGER).reasons == ()
    assert grade_join(ArrangedBar(1, 5, (thumb,)), ArrangedBar(2, 5, (middle,)), THREE_FINGER).reasons == ()
