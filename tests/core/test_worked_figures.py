"""Worked figures: a few notes, and which strings, fingers and ornaments each rung must make of them.

Strokes, rolls, unisons and slides are those of handbook §2 to §5; what it leaves open is common practice. A stroke is
read "hand string:fret": d down, B brush, T thumb, I index, M middle, P pinch, - the left hand alone.
"""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

import pytest

from nailhead.core.arrange.fit.ladder import build_ladder
from nailhead.core.arrange.rows.ways import options_of
from nailhead.core.arrange.values import ArrangedBar, Ornament, Role
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.formats.text_tab import strokes_text
from tests.core.test_fretboard import BANJO
from tests.core.test_tune import tune

CLAW, ROLL = "clawhammer", "three-finger"
EIGHTH = Fraction(1, 8)


def bar(idiom: str, rung: int, body: str, metre: str = "4/4", key: str = "G", tuning: str = "gDGBD") -> ArrangedBar:
    """The first written bar of a tune on one rung."""
    fit = fit_tune(tune(body, metre, key), BANJO, Wish(tuning=tuning))
    return build_ladder(fit, idiom).rungs[rung - 1][0]


#: What is asked for -> (idiom, rung, metre, bar and what follows) and the strokes.
FIGURES = {
    "basic stroke: note, brush, fifth string": (
        (CLAW, 2, "4/4", '"G"G4 B4|G8|]'),
        "d3:0 B1:0+2:0 T5:0 d2:0 B1:0+2:0 T5:0",
    ),
    "the basic stroke over moving quarters: note, note, fifth string": (
        (CLAW, 2, "4/4", '"G"G2B2 d2B2|G8|]'),
        "d3:0 d2:0 T5:0 d1:0 d2:0 T5:0",
    ),
    "the basic stroke brushes the held C shape": (
        (CLAW, 3, "4/4", '"C"E8|G8|]'),
        "B3:0+4:2 B1:2+2:1+3:0 T5:0 d4:2 B1:2+2:1+3:0 T5:0",
    ),
    "long and two pairs in three": ((CLAW, 2, "3/4", '"G"G6|G6|]'), "d3:0 B1:0+2:0 T5:0 B1:0+2:0 T5:0"),
    "down, brush, thumb in six": ((CLAW, 2, "6/8", '"G"G3 B3|G6|]'), "d3:0 B1:0+2:0 T5:0 d2:0 B1:0+2:0 T5:0"),
    "a jig's long and short around the thumb": ((CLAW, 2, "6/8", '"G"G2B d2B|G6|]'), "d3:0 T5:0 d2:0 d1:0 T5:0 d2:0"),
    "double thumb between quarters, the first slid into its unison": (
        (CLAW, 5, "4/4", '"G"G2B2 d2B2|G8|]'),
        "B3:0+4:5 T5:0 d2:0 T5:0 d1:0 T5:0 d2:0 T5:0",
    ),
    "an off-beat note is pulled off from the one before": (
        (CLAW, 4, "4/4", '"G"B2AG D4|G8|]'),
        "B2:0+3:0 d3:2 -3:0 d4:0 B1:0+2:0+3:0 T5:0",
    ),
    "a dotted figure is even where the nail falls on beats": (
        (CLAW, 2, "2/4", '"G"G>Bd>B|d>Bd>A|G4|]'),
        "d3:0 d2:0 T5:0 d1:0 d2:0 T5:0",
    ),
    "and comes back when a hand can catch it: the left one plucks the open string": (
        (CLAW, 6, "2/4", '"G"G>Bd>B|d>Bd>A|G4|]'),
        "B3:0+4:0 T5:0 d3:3 +2:0 d1:0 T5:0 d1:0 +2:0",
    ),
    "or pulls it off": (
        (CLAW, 4, "4/4", '"G"G3D E3D|G3B d4|G8|]'),
        "B3:0+4:0 d4:0 T5:0 d4:2 -4:0",
    ),
    "or hammered on": (
        (CLAW, 4, "4/4", '"G"GAB2 d4|G8|]'),
        "B3:0+4:0 -3:2 d2:0 T5:0 d1:0 B1:0+2:0+3:0 T5:0",
    ),
    "the open fifth string as a melody string": (
        (CLAW, 6, "4/4", '"G"g2dg eged|G8|]'),
        "d1:5 T2:0 d1:0 T5:0 B1:2+2:0 T5:0 d1:2 -1:0",
    ),
    "or, from the sixth rung, caught by the thumb on the bass side": (
        (CLAW, 6, "4/4", '"G"d2dB G4|G8|]'),
        "B1:0+2:3 T5:0 d1:0 T2:0 d3:0 T4:0 d1:0 T5:0",
    ),
    "drop thumb on a long note: it, an inner string, the first, the fifth": (
        (CLAW, 6, "4/4", '"G"G4 B4|G8|]'),
        "d3:0 T4:0 d1:0 T5:0 d2:0 T3:0 d1:0 T5:0",
    ),
    "pinch of fifth and first": ((ROLL, 2, "4/4", '"G"G4 B4|G8|]'), "T3:0 P5:0+1:0 I2:0 P5:0+1:0"),
    "the second of two quarters is pinched": (
        (ROLL, 2, "4/4", '"G"G2B2 d2B2|G8|]'),
        "T3:0 P2:0+5:0 M1:0 P2:0+5:0",
    ),
    "forward-reverse roll over an F shape": (
        (ROLL, 6, "4/4", '"F"F8|G8|]'),
        "T4:4 I2:1 M1:3 T5:0 M1:3 I2:1 T3:2 M1:3",
    ),
    "backward roll": ((ROLL, 6, "4/4", '"G"d8|G8|]'), "M1:0 I2:0 T5:0 M1:0 I2:0 T5:0 M1:0 I2:0"),
    "a jig: note and thumb, every other beat pinched": (
        (ROLL, 2, "6/8", '"G"G3 B3|G6|]'),
        "T3:0 P2:0+5:0",
    ),
    "a low note is pinched with the string above": (
        (ROLL, 3, "4/4", '"G"G2B2 d2B2|G8|]'),
        "P3:0+2:0 P2:0+5:0 M1:0 P2:0+5:0",
    ),
    "six eighths in three stay threes of two": ((ROLL, 5, "3/4", '"G"G6|D6|]'), "T3:0 I2:0 T5:0 M1:0 T5:0 M1:0"),
}


@pytest.mark.parametrize("name", FIGURES)
def test_worked_figure(name: str) -> None:
    """The strokes of a bar, one by one."""
    (idiom, rung, metre, body), strokes = FIGURES[name]
    assert strokes_text(bar(idiom, rung, body, metre).strokes) == strokes


def test_the_melodic_way_rings_from_string_to_string() -> None:
    """A tune in eighths: no two notes running on one string, open strings where there are (common practice)."""
    fit = fit_tune(tune('"G"Bdef gedB|"G"G8|]'), BANJO, Wish(tuning="gDGBD"))
    found = build_ladder(fit, ROLL, options_of({"style": "melodic"})).rungs[4][0]
    melody = [note.place for stroke in found.strokes for note in stroke.notes if note.role is Role.MELODY]
    assert melody == [(2, 0), (1, 0), (2, 5), (1, 4), (5, 0), (2, 5), (1, 0), (2, 0)]


def test_the_note_between_beats_is_the_open_fifth_string() -> None:
    """String 1 as 5 · 0 5 2 5 0 5 becomes 5 · 0 g 2 g 0 g: the thumb is there already (common practice)."""
    fit = fit_tune(tune('"G"g2dg egdg|"G"G8|]'), BANJO, Wish(tuning="gDGBD"))
    found = build_ladder(fit, ROLL, options_of({"style": "melodic"})).rungs[4][0]
    melody = [note.place for stroke in found.strokes for note in stroke.notes if note.role is Role.MELODY]
    assert melody == [(1, 5), (1, 0), (5, 0), (1, 2), (5, 0), (1, 0), (5, 0)]


@pytest.mark.parametrize("idiom", [CLAW, ROLL])
def test_a_slide_from_two_frets_below_arrives_at_the_melody(idiom: str) -> None:
    """F♯ on string 1 fret 4: a quick slide from fret 2, struck on the beat; the note is the melody's own (§3)."""
    first = bar(idiom, 4, '"D"f4 d4|"G"G8|]').strokes[0]
    (note,) = first.notes
    assert first.onset == 0 and first.struck
    assert (note.place, str(note.pitch), note.role) == ((1, 4), "F♯4", Role.MELODY)
    assert note.slur and (note.slur.ornament, note.slur.start) == (Ornament.SLIDE, 2)
    assert note.slur.grace and not note.slur.slow


def test_a_slow_slide_takes_the_beats_before_its_note() -> None:
    """A on string 3 fret 2 for two beats, B on fret 4 of the same string: one finger slides there slowly (§4)."""
    from nailhead.core.arrange.fit.gracing import with_slow_slides
    from nailhead.core.arrange.rows.left_hand import LeftHand
    from nailhead.core.arrange.values import Finger, FrettedNote, Stroke, Way, single
    from nailhead.core.fretboard.setup import Place
    from nailhead.core.music.pitch import parse_pitch

    low = FrettedNote(Place(3, 2), parse_pitch("A3"), Role.MELODY, 2)
    high = FrettedNote(Place(3, 4), parse_pitch("B3"), Role.MELODY, 4)
    half, quarter = Fraction(1, 2), Fraction(1, 4)

    def strokes(length: Fraction) -> tuple[Stroke, Stroke]:
        one, two = (single(Finger.THUMB, Way.PLUCK, note) for note in (low, high))
        return Stroke(Fraction(0), length, one), Stroke(length, length, two)

    slid = with_slow_slides(strokes(half), EIGHTH, LeftHand())
    note = slid[1].notes[0]
    assert note.slur and note.slur.slow and note.slur.start == 2 and note.finger == 2
    # A quarter is too short for it: the note stays plain.
    plain = with_slow_slides(strokes(quarter), EIGHTH, LeftHand())
    assert plain[1].notes[0].slur is None


def test_the_kept_finger_of_a_unison_stays_down() -> None:
    """Fret 3 of string 2 comes twice with the open first string between: its finger is not lifted (§3)."""
    fit = fit_tune(tune('"G"dddd d4|G8|]'), BANJO, Wish(tuning="gDGBD"))
    found = build_ladder(fit, ROLL, options_of({"melody": "every note"})).rungs[5][0]
    assert [(kept.place, kept.onset, kept.until) for kept in found.kept] == [((2, 3), Fraction(1, 8), Fraction(3, 8))]


def test_a_solo_walks_from_a_held_note_to_the_next_phrase() -> None:
    """The last bar holds G; the next note is D: scale notes lead there, and the held note is still struck (§5, §7)."""
    body = '|:"G"G2B2 d4|"C"e2c2 "G"d4|"D"A2F2 A4|"G"G8:|]'
    fit = fit_tune(tune(body), BANJO, Wish(tuning="gDGBD"))
    for idiom in (CLAW, ROLL):
        last = build_ladder(fit, idiom).rungs[6][3]
        fill = [note for stroke in last.strokes for note in stroke.notes if note.role is Role.FILL]
        assert Role.MELODY in {note.role for note in last.strokes[0].notes}
        assert len(fill) >= 2
        steps = [abs(a.pitch.diatonic - b.pitch.diatonic) for a, b in pairwise(fill)]
        assert max(steps) <= 2
        assert abs(fill[-1].pitch.diatonic - fit.tune.bars[0].events[0].pitch.diatonic) <= 2  # type: ignore[union-attr]
        assert "Walks on" in " ".join(last.remarks)


def test_a_solo_is_varied_and_framed() -> None:
    """The second time through something is played otherwise; kick-off and ending are four bars each (§7)."""
    body = 'D2|:"G"G2B2 d3B|"C"c2e2 "G"d2B2|"Am"c2A2 "D"F2A2|"G"G4 G2D2:|]'
    for idiom in (CLAW, ROLL):
        found = build_ladder(fit_tune(tune(body), BANJO, Wish(tuning="gDGBD")), idiom)
        assert found.second
        assert any(second.strokes != found.rungs[6][index].strokes for index, second in found.second.items())
        assert found.kick_off and len(found.kick_off.bars) == 4
        assert found.ending and len(found.ending.bars) == 4
        # The kick-off leaves room for the pickup, so that the count goes on.
        assert found.kick_off.bars[-1].length + found.tune.bars[0].length == 1
        assert str(found.ending.bars[-1].strokes[0].notes[-1].pitch)[0] in "GBD"


def test_a_note_that_is_held_over_the_bar_line_is_not_slurred_from() -> None:
    """What is struck over it may have taken its string: the next note is struck anew, on every rung."""
    body = '"G"G6 A2-|A2 B2 d4|G8|]'
    fit = fit_tune(tune(body), BANJO, Wish(tuning="gDGBD"))
    for idiom in (CLAW, ROLL):
        for bars in build_ladder(fit, idiom).rungs:
            slurred = [
                n for s in bars[1].strokes for n in s.notes if n.slur and not n.slur.grace and s.onset == Fraction(1, 4)
            ]
            assert not slurred
