"""Words of the two banjo hands beyond the basic strokes: drag, left-hand pluck, blue third, bent notes, wide pinches.

What each is comes from the trade (common practice); here stands what it is made of and where it goes.
"""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction as F
from itertools import pairwise

import numpy as np
import pytest

from nailhead.core.arrange.fit.gracing import QUARTER_TONE
from nailhead.core.arrange.fit.ladder import build_ladder
from nailhead.core.arrange.rows.figures import CHOKE, FIGURES
from nailhead.core.arrange.teacher.awkward import awkward
from nailhead.core.arrange.teacher.editing import Desk, Edit, edited
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.values import (
    ArrangedBar,
    Finger,
    FrettedNote,
    Ornament,
    Role,
    Slur,
    Stroke,
    Touch,
    Way,
)
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.metre import parse_metre
from nailhead.core.sound.listen import listen
from nailhead.core.sound.playing import BENT, Pace, PlayedBar, render
from nailhead.core.sound.pluck import RATE
from nailhead.formats.arrangement_json import arrangement_document
from nailhead.formats.decisions_json import bar_document, read_bar
from nailhead.formats.musicxml.tab import write_musicxml
from nailhead.formats.musicxml.tab_reader import read_tablature
from nailhead.formats.text_tab import note_text, strokes_text
from tests.core.test_fretboard import BANJO
from tests.core.test_left_hand import SETUP
from tests.core.test_tune import tune
from tests.core.test_worked_figures import CLAW, ROLL, bar

BLUE_BAR = '"F"f4 d4|"G"G8|]'


def notes_of(found: ArrangedBar) -> list[FrettedNote]:
    return [note for stroke in found.strokes for note in stroke.notes]


def test_the_drag_runs_over_three_strings_and_the_thumb_answers() -> None:
    """Strings 3, 2, 1 by one movement of the nail, then the fifth; on the rung where the thumb drops, not before."""
    body = '"Em"A4 d4|G8|]'
    found = bar(CLAW, 6, body)
    assert strokes_text(found.strokes[:4]) == "d3:2 g2:0 g1:0 T5:0" and found.patterns[0] == "drag"
    assert [stroke.touches[0].way for stroke in found.strokes[:3]] == [Way.DOWN, Way.DRAG, Way.DRAG]
    assert not any(stroke.dragged for rung in range(1, 6) for stroke in bar(CLAW, rung, body).strokes)


def test_a_drag_by_hand_from_elsewhere_is_awkward() -> None:
    """The nail runs on only to the next string, and at once."""
    fit = fit_tune(tune('"G"G4 B4|G8|]'), BANJO, Wish(tuning="gDGBD"))
    ladder = build_ladder(fit, CLAW)
    desk, found = Desk(ladder, 0), ladder.rungs[1][0]
    onset = next(stroke.onset for stroke in found.strokes[1:] if stroke.fingers == (Finger.NAIL,))
    (string, *_) = [note.place.string for stroke in found.strokes for note in stroke.notes if stroke.onset == onset]
    dragged = edited(desk, found, Edit("touch", onset, string, touch="drag"))
    assert any(said.startswith("A drag") for said in awkward(desk, dragged))
    assert not awkward(desk, found)


@pytest.mark.parametrize(
    ("body", "strokes"),
    [
        ('"G"EGG2 d4|G8|]', "d4:2 +3:0 d3:0 T5:0"),
        ('"G"B2Bd d4|G8|]', "B2:0+3:4 T5:0 d2:0 +1:0"),
    ],
)
def test_the_left_hand_plucks_an_open_string_that_was_not_struck(body: str, strokes: str) -> None:
    """Where the note between the beats is open and lies on the treble side, no thumb gets there."""
    found = bar(CLAW, 6, body)
    assert strokes_text(found.strokes[:4]) == strokes
    assert not any(t.left_pluck for rung in range(1, 6) for s in bar(CLAW, rung, body).strokes for t in s.touches)


def test_a_filler_leads_into_the_open_third_as_the_blue_one() -> None:
    """String 3 hammered from fret 2 to 3, then open string 2, over G: in no rung below the sixth, and not over Em."""
    body = '"G"B2B2 B4|]'
    found = bar(CLAW, 6, body)
    assert strokes_text(found.strokes[:3]) == "d2:0 T3:3 d2:0"
    (blue,) = found.strokes[1].notes
    assert (blue.role, blue.slur, str(blue.pitch)) == (Role.FILL, Slur(Ornament.HAMMER, 2, grace=True), "B♭3")
    assert not any(note.role is Role.FILL for rung in range(1, 6) for note in notes_of(bar(CLAW, rung, body)))
    assert not any(note.role is Role.FILL for note in notes_of(bar(CLAW, 6, body.replace('"G"', '"Em"'))))


@pytest.mark.parametrize("idiom", [CLAW, ROLL])
def test_a_long_blue_note_is_bent(idiom: str) -> None:
    """The flat seventh in a Mixolydian tune, from the sixth rung; the pitch at its onset stays the melody's."""
    bent = {rung: [n for n in notes_of(bar(idiom, rung, BLUE_BAR, key="Gmix")) if n.bend] for rung in range(1, 8)}
    assert not any(bent[rung] for rung in range(1, 6))
    (note,) = bent[6]
    assert (str(note.pitch), note.bend, note.slur, note.role) == ("F4", QUARTER_TONE, None, Role.MELODY)
    assert not any(note.bend for note in notes_of(bar(idiom, 6, '"D"f4 d4|"G"G8|]')))


def test_a_bend_is_written_and_comes_back() -> None:
    """In the tab's text, our JSON, a kept cell, and MusicXML (`bend-alter` in semitones, MusicXML 4.0)."""
    fit = fit_tune(tune(BLUE_BAR, key="Gmix"), BANJO, Wish(tuning="gDGBD"))
    ladder = build_ladder(fit, CLAW)
    cell, path = ladder.rungs[5][0], level_path(ladder, 6)
    (bent,) = [note for note in notes_of(cell) if note.bend]
    assert note_text(bent, str) == "3b"
    assert read_bar(bar_document(cell)).strokes == cell.strokes
    written = arrangement_document(ladder, path)["bars"][0]["notes"]
    assert [note["bend_cents"] for note in written if note["bend_cents"]] == [QUARTER_TONE]
    score = write_musicxml(ladder, path)
    assert "<bend-alter>0.5</bend-alter>" in score
    entered = read_tablature(score.encode(), [BANJO]).bars[0]
    assert [note.bend for stroke in entered for note in stroke.notes if note.bend] == [QUARTER_TONE]


@pytest.mark.parametrize("cents", [QUARTER_TONE, CHOKE])
def test_a_bent_string_sounds_higher_than_it_was_struck(cents: int) -> None:
    """Measured by the product's own tuner: so much above the fret once it is pushed up, within 5 cents."""
    (fret,) = [note for note in notes_of(bar(CLAW, 6, BLUE_BAR, key="Gmix")) if note.bend]
    heard = {}
    for bend in (0, cents):
        one = Stroke(F(0), F(1), (Touch(Finger.NAIL, Way.DOWN, (replace(fret, bend=bend),)),))
        sound = render([PlayedBar(ArrangedBar(1, 6, (one,)), parse_metre("4/4"), F(0))], SETUP, Pace(F(1, 4), 60))
        heard[bend] = listen(sound[round(2 * BENT * RATE) :], RATE).hertz
    assert 1200 * np.log2(heard[cents] / heard[0]) == pytest.approx(cents, abs=5)


def test_the_choke_is_a_figure_of_g() -> None:
    """String 2 pushed up at fret 10, the way into the phrase that follows over the fifth string."""
    choke = next(figure for figure in FIGURES if figure.name == "G, choke")
    assert choke.notes[0] == (Place(2, 10), None, CHOKE) and choke.notes[-1][0] == Place(5, 0)


def test_what_would_stay_as_it_is_below_is_pinched_wider() -> None:
    """Two rolls that rung 5 has already: on rung 6 the strong notes have an octave or a fifth under them."""
    body = '"G"d4 d4|]'
    below, here = (bar(ROLL, rung, body) for rung in (5, 6))
    assert strokes_text(below.strokes) == "M1:0 I2:0 T5:0 I2:0 M1:0 I2:0 T5:0 M1:0"
    assert strokes_text(here.strokes) == "P1:0+3:0 I2:0 T5:0 I2:0 P1:0+3:0 I2:0 T5:0 M1:0"


def test_nothing_is_struck_right_behind_the_melody_on_its_string() -> None:
    """A roll goes on to another string; where it comes back to the melody's place, it is two counts later at least."""
    for rung in (5, 6, 7):
        for body in ('"G"d4 B4|"C"e4 c4|"D"f4 A4|"G"G8|]', '"G"G2B2 d2g2|"D"f2A2 d4|"C"e2c2 "D"d2A2|"G"G8|]'):
            fit = fit_tune(tune(body), BANJO, Wish(tuning="gDGBD"))
            for one in build_ladder(fit, ROLL).rungs[rung - 1]:
                for before, after in pairwise(one.strokes):
                    melody = {note.place for note in before.notes if note.role is Role.MELODY}
                    fillers = {note.place for note in after.notes if note.role is Role.CHORD}
                    assert before.duration > F(1, 8) or not melody & fillers
