"""What else could be played for a bar or a note, in words and with a price; and where a path is hardest."""

from __future__ import annotations

from fractions import Fraction

import pytest

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.grade import POINTS
from nailhead.core.arrange.left.placing import place_melody
from nailhead.core.arrange.rows.ways import options_of
from nailhead.core.arrange.teacher.alternatives import EVERY_NOTE, alternatives, unison_places
from nailhead.core.arrange.teacher.path import bars_on_path, grade_path, level_path
from nailhead.core.errors import PathError
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.music.layers import Layer
from nailhead.core.music.tune import sounding_notes
from tests.core.test_arrange import OPEN_G, notes
from tests.core.test_fretboard import BANJO
from tests.core.test_tune import tune
from tests.demo import demo_tunes
from tests.rules import melody_places

IDIOMS = ("clawhammer", "three-finger")
HELD = '|:"G"G2BA G2d2|"C"c2e2 "G"d2B2|"Am"cBAG "D"F2A2|"G"G8:|'
REEL = 'D2|:"G"G2B2 d3B|"C"c2e2 "G"d2B2|"Am"c2A2 "D"F2A2|"G"G4 G2D2:|]'


def ladder(body: str = REEL, idiom: str = "clawhammer", metre: str = "4/4", every_note: bool = False) -> Ladder:
    options = options_of({"melody": "every note"} if every_note else {})
    return build_ladder(fit_tune(tune(body, metre), BANJO, Wish(tuning="gDGBD")), idiom, options)


@pytest.mark.parametrize("idiom", IDIOMS)
def test_every_bar_has_two_more_good_ways_where_something_can_be_filled(idiom: str) -> None:
    """Ranked, none twice, none that is the ladder's own; each with a sentence of its own, and the bones in all."""
    found = ladder(idiom=idiom)
    for rung in range(2, 7):
        for index in range(1, 5):
            offered = alternatives(found, index, rung)
            here = found.cell(index, rung)
            assert len(offered) >= 2, (rung, index)
            assert [other.price for other in offered] == sorted(other.price for other in offered)
            assert len({other.difference for other in offered}) == len(offered)
            for other in offered:
                assert other.bar.strokes != here.strokes
                assert other.difference[0].isupper() and other.difference.endswith(".")
                bones = {note.onset for note in found.ground.core.of_layer(Layer.BONES, index)}
                assert bones <= other.bar.tune_onsets


@pytest.mark.parametrize("idiom", IDIOMS)
def test_a_bar_may_play_all_its_notes(idiom: str) -> None:
    """Offered on each rung that leaves some out, and never where nothing is left out."""
    found = ladder('"G"GABc d2B2|"G"G4 B4|]', idiom)
    for rung in (1, 2, 3):
        whole = [other for other in alternatives(found, 0, rung) if other.difference == EVERY_NOTE]
        assert len(whole) == 1 and len(whole[0].bar.tune_onsets) == 6 > len(found.cell(0, rung).tune_onsets)
        assert not any(other.difference == EVERY_NOTE for other in alternatives(found, 1, rung))


def test_the_differences_are_a_teachers_words() -> None:
    """Another pattern, a fretted unison, the open string instead of it, an ornament more or less."""
    said = " ".join(
        other.difference
        for idiom in IDIOMS
        for rung in (4, 5, 6)
        for index in range(1, 5)
        for other in alternatives(ladder(idiom=idiom), index, rung)
    )
    assert "Fretted unison" in said and "keeps the roll moving" in said
    assert "instead of" in said and "Another pattern" in said
    assert "Ornament" in said or "ornament" in said


def test_a_slide_may_be_left_out() -> None:
    """F♯ on fret 4 is slid to; without it is offered too."""
    found = ladder('"D"f4 d4|"G"G8|]')
    assert any(
        "struck at beat 1 instead of the slide" in other.difference.lower() for other in alternatives(found, 0, 4)
    )


def test_a_bar_may_be_played_up_the_neck() -> None:
    """From the sixth rung on the whole bar away from the open strings is offered, in one place of the hand."""
    found = ladder('"G"d2B2 d2B2|G8|]', "clawhammer")
    up = [other for other in alternatives(found, 0, 6, most=12) if other.difference.startswith("Up the neck")]
    assert up
    assert all(fret >= 3 for _, _, fret in melody_places(up[0].bar))


def test_alternatives_are_repeatable_and_bounded() -> None:
    """The same question gets the same answer; a rung that is not there is refused."""
    found = ladder(idiom="three-finger")
    assert alternatives(found, 1, 5) == alternatives(found, 1, 5)
    assert len(alternatives(found, 1, 5, most=3)) <= 3
    with pytest.raises(PathError, match="no rung 8"):
        alternatives(found, 1, 8)


def test_the_everyday_unisons_of_open_g_and_their_price() -> None:
    """String 3 fret 4 = open 2; string 2 fret 3 = open 1; string 4 fret 5 = open 3 (handbook §2)."""
    found = ladder('"G"G2B2 d4|G8|]')
    for onset, wanted in (
        (0, ((3, 0), (4, 5))),
        (Fraction(1, 4), ((2, 0), (3, 4))),
        (Fraction(1, 2), ((1, 0), (2, 3))),
    ):
        offered = unison_places(found, 0, Fraction(onset))
        assert [tuple(unison.place) for unison in offered[:2]] == list(wanted)
        assert offered[0].price == 0 < offered[1].price
        assert "Fretted unison" in offered[1].words


def test_the_price_of_a_unison_is_the_difference_of_two_placements() -> None:
    """A short tune lies within the window whole: pinned against free, both by the exact placement."""
    found = ladder('"G"G2B2 d2B2|]')
    midis = [note.pitch.midi for note in sounding_notes(found.tune)]
    melody = notes(midis, Fraction(1, 4))
    for unison in unison_places(found, 0, Fraction(1, 4)):
        pinned = list(found.placement.spots)
        edges = {0: pinned[0].place, len(midis) - 1: pinned[-1].place}
        free = [n.__class__(n.cents, n.gap, (edges[i],) if i in edges else n.places) for i, n in enumerate(melody)]
        fixed = [n.__class__(n.cents, n.gap, (unison.place,)) if i == 1 else n for i, n in enumerate(free)]
        assert unison.price >= place_melody(fixed, OPEN_G).cost - place_melody(free, OPEN_G).cost - 5


def test_a_place_where_no_note_begins_is_refused() -> None:
    """With its bar and what to do."""
    with pytest.raises(PathError) as refused:
        unison_places(ladder(), 1, Fraction(1, 8))
    assert refused.value.bar == 1 and refused.value.remedy


# -- grades


@pytest.mark.parametrize("idiom", IDIOMS)
def test_grades_climb_the_ladder_with_reasons(idiom: str) -> None:
    """Never down (rule H6), up in the end, every term known, every sentence ended."""
    for tune_ in demo_tunes():
        found = build_ladder(fit_tune(tune_, BANJO, Wish(tuning="gDGBD")), idiom)
        values = [
            grade_path(bars_on_path(found, level_path(found, r)), found.structure.classes).value for r in range(1, 8)
        ]
        assert values == sorted(values) and values[-1] > values[0]
        for bars in found.rungs:
            for bar in bars:
                for reason in (*bar.grade.reasons, *bar.join.reasons):
                    assert reason.sentence.endswith(".") and reason.points > 0
                assert {reason.term for reason in bar.grade.reasons} <= set(POINTS)


def test_the_three_hardest_spots_say_why() -> None:
    """Bars and joins, hardest first, each once, with the heaviest reason."""
    found = ladder()
    grade = grade_path(bars_on_path(found, level_path(found, 6)), found.structure.classes)
    assert len(grade.spots) == 3
    assert [spot.grade for spot in grade.spots] == sorted((spot.grade for spot in grade.spots), reverse=True)
    assert all(spot.why.endswith(".") for spot in grade.spots)
    assert len({(spot.index, spot.join) for spot in grade.spots}) == 3


def test_what_makes_a_bar_hard_is_named() -> None:
    """Slurs on the fourth rung, the dropping thumb on the sixth, a change of roll, a fill (handbook §6)."""
    terms = {
        (idiom, rung): {reason.term for bar in ladder(HELD, idiom).rungs[rung - 1] for reason in bar.grade.reasons}
        for idiom in IDIOMS
        for rung in (4, 6, 7)
    }
    assert "slurs" in terms["clawhammer", 4]
    assert "drop thumb" in terms["clawhammer", 6]
    assert "fill" in terms["clawhammer", 7] and "fill" in terms["three-finger", 7]
