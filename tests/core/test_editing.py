"""Hand edits: a bar always adds up, what is awkward is said, what is set is kept and the rest follows."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction as F

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.teacher.alternatives import unison_places
from nailhead.core.arrange.teacher.awkward import awkward
from nailhead.core.arrange.teacher.editing import EDITS, Desk, Edit, edited
from nailhead.core.arrange.teacher.pinning import (
    patterns_that_fit,
    shapes_offered,
    with_note_at,
    with_pattern,
    with_shape,
)
from nailhead.core.arrange.values import ArrangedBar, Finger, Ornament, Role, Way
from nailhead.core.errors import PathError
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.fretboard.setup import Place
from nailhead.formats.text_tab import strokes_text
from tests.core.test_alternatives import ladder
from tests.core.test_tune import tune
from tests.struck import letters

CLAW, THREE = ladder(), ladder(idiom="three-finger")
FINGERED = build_ladder(fit_tune(tune("A2B2 c4|d4 A4|]"), find_instrument("guitar"), Wish()), "fingerstyle")
_FINGERS = FINGERED.idiom
BARE = build_ladder(FINGERED.fit, replace(_FINGERS, rungs=_FINGERS.rungs[:1]))


def desk(found: Ladder, index: int, rung: int) -> tuple[Desk, ArrangedBar]:
    return Desk(found, index), found.cell(index, rung)


def adds_up(bar: ArrangedBar) -> bool:
    """Strokes in order without a gap, one note a string, and a hand wherever something is struck (rule H4)."""
    at = F(0)
    for stroke in bar.strokes:
        strings = [note.place.string for note in stroke.notes]
        if stroke.onset != at or stroke.duration <= 0 or len(set(strings)) < len(strings):
            return False
        at = stroke.end
    return True


def test_another_fret_is_another_note_and_said() -> None:
    """The basic stroke's melody note on a wrong fret: what it plays now, and that the melody is gone."""
    at, bar = desk(CLAW, 1, 2)
    first = bar.strokes[0].notes[0]
    wrong = edited(at, bar, Edit("fret", F(0), first.place.string, 2))
    assert wrong.strokes[0].notes[0].role is Role.CHORD and str(wrong.strokes[0].notes[0].pitch) == "A3"
    said = awkward(at, wrong)
    assert said[0] == "The melody's G3 at beat 1 is not played." and "A at beat 1 does not belong to G." in said
    back = edited(at, wrong, Edit("fret", F(0), first.place.string, 0))
    assert back.strokes == bar.strokes and not awkward(at, back)


def test_a_note_moves_to_another_string_with_the_hand() -> None:
    """B open on string 2 is string 3 fret 4, thumb instead of index; G is on no other string at all."""
    at, bar = desk(THREE, 1, 1)
    b = next(stroke for stroke in bar.strokes if str(stroke.notes[0].pitch) == "B3")
    moved = edited(at, bar, Edit("string", b.onset, 2, to_string=3))
    stroke = next(stroke for stroke in moved.strokes if stroke.onset == b.onset)
    assert (stroke.notes[0].place, letters(stroke), stroke.notes[0].role) == (Place(3, 4), "T", Role.MELODY)
    assert stroke.notes[0].finger and not awkward(at, moved)
    with pytest.raises(PathError, match="B3 is not on string 1"):
        edited(at, bar, Edit("string", b.onset, 2, to_string=1))


def test_deleting_lets_the_note_before_ring_on() -> None:
    """A drone goes and the stroke before it takes its time; the first note of a bar becomes a rest."""
    at, bar = desk(CLAW, 1, 5)
    drone = next(stroke for stroke in bar.strokes if letters(stroke) == "T")
    without = edited(at, bar, Edit("delete", drone.onset, 5))
    assert adds_up(without) and len(without.strokes) == len(bar.strokes) - 1
    at, bar = desk(CLAW, 1, 2)
    first = bar.strokes[0]
    rest = edited(at, bar, Edit("delete", F(0), first.notes[0].place.string))
    assert adds_up(rest) and rest.strokes[0].touches == ()


def test_a_brush_that_loses_strings_becomes_a_stroke() -> None:
    """Down to one string it is struck like any other note."""
    at, bar = desk(CLAW, 4, 3)
    brush = next(stroke for stroke in bar.strokes if letters(stroke) == "B")
    strings = [note.place.string for note in brush.notes]
    for string in strings[1:]:
        bar = edited(at, bar, Edit("delete", brush.onset, string))
    left = next(stroke for stroke in bar.strokes if stroke.onset == brush.onset)
    assert letters(left) == "d" and len(left.notes) == 1


def test_adding_divides_a_stroke_or_makes_it_a_pinch_or_brush() -> None:
    """In the middle of a quarter an eighth begins; at a note's own onset both sound together."""
    at, bar = desk(CLAW, 1, 1)
    added = edited(at, bar, Edit("add", F(1, 8), 5))
    assert adds_up(added) and (letters(added.strokes[1]), added.strokes[1].notes[0].role) == ("T", Role.DRONE)
    both = edited(at, bar, Edit("add", F(0), 2))
    assert letters(both.strokes[0]) == "B" and len(both.strokes[0].notes) == 2
    three, plain = desk(THREE, 1, 1)
    pinched = edited(three, plain, Edit("add", F(0), 1))
    assert [touch.by for touch in pinched.strokes[0].touches] == [Finger.MIDDLE, Finger.THUMB]


def test_fingers_hands_and_ornaments() -> None:
    """Each can be set; a slur takes the stroke to the left hand and off again gives it back."""
    at, bar = desk(CLAW, 3, 2)
    stopped = next(note for stroke in bar.strokes for note in stroke.notes if note.place.fret)
    onset = next(stroke.onset for stroke in bar.strokes if stopped in stroke.notes)
    other = edited(at, bar, Edit("finger", onset, stopped.place.string, finger=4))
    assert any(note.finger == 4 for stroke in other.strokes for note in stroke.notes)
    thumb = edited(at, bar, Edit("touch", onset, stopped.place.string, touch="thumb"))
    assert next(stroke for stroke in thumb.strokes if stroke.onset == onset).fingers == (Finger.THUMB,)
    grace = edited(at, bar, Edit("technique", onset, stopped.place.string, ornament=Ornament.HAMMER))
    slur = next(note.slur for stroke in grace.strokes for note in stroke.notes if note.slur)
    assert slur.grace and slur.start == 0
    bend = Edit("technique", onset, stopped.place.string, ornament=Ornament.BEND)
    bent = edited(at, grace, bend)
    assert [n.bend for s in bent.strokes for n in s.notes if s.onset == onset and n.place == stopped.place] == [50]
    with pytest.raises(PathError, match="an open string cannot be bent"):
        edited(at, edited(at, bar, Edit("fret", onset, stopped.place.string)), bend)
    plain = edited(at, bent, Edit("technique", onset, stopped.place.string))
    assert plain.strokes == bar.strokes


def test_what_is_awkward_is_said() -> None:
    """A stretch beyond the hand, a finger in two places, a hammer-on downwards, a finger that comes twice."""
    at, bar = desk(CLAW, 1, 1)
    wide = edited(at, edited(at, bar, Edit("add", F(0), 1, fret=12)), Edit("add", F(0), 4, fret=2))
    assert any("further apart than a hand reaches" in said for said in awkward(at, wide))
    two = edited(at, edited(at, bar, Edit("add", F(0), 1, fret=3)), Edit("add", F(0), 4, fret=2))
    for string in (1, 4):
        two = edited(at, two, Edit("finger", F(0), string, finger=2))
    assert any("Finger 2 is wanted in two places" in said for said in awkward(at, two))
    three, plain = desk(THREE, 1, 5)
    index = edited(
        three, plain, Edit("touch", plain.strokes[1].onset, plain.strokes[1].notes[0].place.string, touch="thumb")
    )
    index = edited(three, index, Edit("touch", F(0), index.strokes[0].notes[0].place.string, touch="index"))
    index = edited(three, index, Edit("touch", F(1, 8), index.strokes[1].notes[0].place.string, touch="index"))
    assert any("The index strikes twice running" in said for said in awkward(three, index))


@pytest.mark.parametrize(
    ("edit", "field"),
    [
        (Edit("fly", F(0), 3), "do"),
        (Edit("fret", F(0), 9), "string"),
        (Edit("fret", F(1, 64), 3, 2), "onset"),
        (Edit("fret", F(0), 3, 40), "fret"),
        (Edit("add", F(2), 3), "onset"),
        (Edit("add", F(1, 8), 5, 3), "fret"),
        (Edit("add", F(0), 3), "string"),
        (Edit("finger", F(0), 3, finger=2), "finger"),
        (Edit("touch", F(0), 3), "touch"),
        (Edit("touch", F(0), 3, touch="ring"), "touch"),
        (Edit("technique", F(0), 3, ornament=Ornament.SLIDE), "start"),
    ],
)
def test_what_cannot_be_written_is_refused(edit: Edit, field: str) -> None:
    """With the bar, the field and what to do."""
    at, bar = desk(CLAW, 1, 1)
    with pytest.raises(PathError) as refused:
        edited(at, bar, edit)
    assert (refused.value.bar, refused.value.field) == (1, field) and refused.value.remedy


@settings(max_examples=250, deadline=None)
@given(data=st.data())
def test_any_row_of_edits_leaves_a_bar_that_adds_up(data: st.DataObject) -> None:
    """On clawhammer, rolls and the saz's commas; and what it sounds is what its places sound."""
    found = data.draw(st.sampled_from([CLAW, THREE, FINGERED]))
    index = data.draw(st.integers(0, len(found.tune.bars) - 1))
    at, bar = desk(found, index, data.draw(st.integers(1, len(found.rungs))))
    strings = found.fit.setup.instrument.strings
    for _ in range(data.draw(st.integers(1, 6))):
        edit = Edit(
            data.draw(st.sampled_from(sorted(EDITS))),
            data.draw(st.sampled_from([stroke.onset for stroke in bar.strokes] + [F(1, 8), F(3, 16)])),
            data.draw(st.integers(1, strings)),
            data.draw(st.integers(0, 12)),
            data.draw(st.integers(1, strings)),
            data.draw(st.integers(0, 5)),
            data.draw(st.sampled_from(["", "nail", "thumb", "index", "pick up"])),
            data.draw(st.sampled_from([None, *Ornament])),
        )
        try:
            bar = edited(at, bar, edit)
        except PathError as refused:
            assert refused.remedy and refused.bar == at.number
        assert adds_up(bar) and bar.length == found.tune.bars[index].length
        for stroke in bar.strokes:
            assert all(touch.notes for touch in stroke.touches)
            alone = (Way.LEFT, Way.RINGS)
            assert all(touch.left_pluck or (touch.by is None) == (touch.way in alone) for touch in stroke.touches)
            for note in stroke.notes:
                assert at.setup.cents_of(note.pitch) == at.setup.sounding_cents(note.place)
        assert all(said.endswith(".") for said in awkward(at, bar))


@pytest.mark.parametrize("found", [CLAW, THREE])
def test_what_the_engine_makes_is_seldom_awkward(found: Ladder) -> None:
    """Below the solo its melody, harmony, left hand and finger rules hold by this check as well; in clawhammer the
    nail may come twice running."""
    for rung in range(1, 7):
        for index in range(len(found.tune.bars)):
            said = awkward(*desk(found, index, rung))
            assert all(found is CLAW and "The nail strikes twice running" in one for one in said), (rung, index, said)


@pytest.mark.parametrize("found", [CLAW, THREE, FINGERED])
def test_a_melody_note_set_on_a_place_stays_there(found: Ladder) -> None:
    """Every unison of every note, on the lowest and a rich rung: it lies there and the melody is whole."""
    for index in range(len(found.tune.bars)):
        for rung in {1, min(5, len(found.rungs))}:
            layer = found.ground.layers.of(found.idiom.rung(rung))[found.structure.classes[index]]
            for onset in [part.onset for part in layer.segments if part.spot and not part.held and part.own is None]:
                for unison in unison_places(found, index, onset):
                    bar = with_note_at(found, index, rung, onset, unison.place)
                    stroke = next(stroke for stroke in bar.strokes if stroke.onset == onset)
                    assert any(note.place == unison.place and note.role is Role.MELODY for note in stroke.notes)
                    said = awkward(Desk(found, index), bar)
                    assert not any("melody" in one for one in said), said


def test_a_place_that_does_not_sound_the_note_is_refused() -> None:
    """And a moment where no melody note begins."""
    with pytest.raises(PathError, match="G3 is not on string 1 fret 1"):
        with_note_at(CLAW, 1, 2, F(0), Place(1, 1))
    with pytest.raises(PathError, match="no melody note begins there"):
        with_note_at(CLAW, 1, 2, F(1, 16), Place(3, 0))


@pytest.mark.parametrize("found", [CLAW, THREE])
def test_a_pattern_asked_for_is_played(found: Ladder) -> None:
    """Every one that is offered for a held note; the melody stays, and one that does not fit is named."""
    bar = len(found.tune.bars) - 1
    offered = patterns_that_fit(found, bar, 5)
    assert len(offered) >= 3
    for name in offered:
        made = with_pattern(found, bar, 5, name)
        assert name in made.patterns and adds_up(made)
    with pytest.raises(PathError, match="no pattern “windmill”"):
        with_pattern(found, bar, 5, "windmill")
    with pytest.raises(PathError, match="does not go with its melody"):
        with_pattern(found, bar, 5, "jig stroke" if found is CLAW else "threes forward")


def test_a_shape_asked_for_is_held() -> None:
    """C in a bar of rolls, in each way offered; one that nothing of would be struck is not offered."""
    offered = shapes_offered(THREE, 2, 3)
    assert offered and len({(one.onset, one.frets) for one in offered}) == len(offered)
    for one in offered:
        bar = with_shape(THREE, 2, 3, one.onset, one.frets)
        assert any(shape.onset == one.onset and str(shape.chord) == one.chord for shape in bar.shapes)
    with pytest.raises(PathError, match="no shape 9-9-9-9"):
        with_shape(THREE, 2, 5, F(0), "9-9-9-9")


def test_a_way_with_the_bare_rung_alone_says_so() -> None:
    """Patterns and shapes wait for their ladder; places can be chosen."""
    assert patterns_that_fit(BARE, 0, 1) == () == shapes_offered(BARE, 0, 1)
    with pytest.raises(PathError, match="the bare rung alone"):
        with_pattern(BARE, 0, 1, "forward")
    assert strokes_text(BARE.cell(0, 1).strokes)
