"""Ways of playing that are rows alone get melody with accompaniment, fillers, and nothing foreign."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

import pytest

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.fit.planned import wished
from nailhead.core.arrange.rows.hands import Idiom, Row
from nailhead.core.arrange.rows.patterns import Voice, Want, Where
from nailhead.core.arrange.rows.three_finger import THREE_FINGER
from nailhead.core.arrange.rows.ways import IDIOMS
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.values import Finger, Ornament, Role, Stroke, Way
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.music.layers import Layer
from nailhead.formats.musicxml import write_musicxml
from nailhead.formats.text_tab import write_text
from nailhead.sheet.options import SheetOptions
from nailhead.sheet.page import layout_sheet
from tests.core.test_tune import tune
from tests.demo import demo_tunes
from tests.rules import HANDS, violations
from tests.trial_ways import FINGERSTYLE, NOTER, PLECTRUM, STRUM, TRIALS

#: A reel, a jig and a tune in nine as 2+2+2+3.
TUNES = ("Lantern on the Weir", "Three Steps to the Ferry", "Plum Orchard Road")


@lru_cache(maxsize=16)
def trial(idiom: str, title: str) -> Ladder:
    way = next(way for way in TRIALS if way.id == idiom)
    known = next(one for one in demo_tunes() if one.title == title)
    return build_ladder(fit_tune(known, find_instrument(way.instruments[0]), wished(way)), way)


@pytest.mark.parametrize("title", TUNES)
@pytest.mark.parametrize("way", TRIALS, ids=lambda way: way.id)
def test_the_rules_hold(way: Idiom, title: str) -> None:
    """H1 to H6, the pick's clock, the melody on top, fingers in order, the idiom's own ornaments; all seven rungs."""
    found = trial(way.id, title)
    assert len(found.rungs) == 7
    assert violations(found) == []


@pytest.mark.parametrize("title", TUNES)
@pytest.mark.parametrize("way", TRIALS, ids=lambda way: way.id)
def test_melody_and_accompaniment_share_a_stroke(way: Idiom, title: str) -> None:
    """Somewhere on the rungs of chords and flow the melody is struck together with something else."""
    for rung in (3, 5):
        together = [
            stroke
            for bar in trial(way.id, title).rungs[rung - 1]
            for stroke in bar.strokes
            if {Role.MELODY} < {note.role for note in stroke.notes}
        ]
        fills = [
            stroke
            for bar in trial(way.id, title).rungs[rung - 1]
            for stroke in bar.strokes
            if stroke.struck and Role.MELODY not in {note.role for note in stroke.notes}
        ]
        assert together or (way is PLECTRUM and rung == 5), rung
        assert rung < 5 or len(fills) >= len(trial(way.id, title).tune.bars), rung


def test_what_each_way_is_known_by() -> None:
    """Doubles are one pick stroke, a bass under the melody two touches, strums have their way, the noter slides."""
    reel = TUNES[0]
    doubled = [s for bar in trial(PLECTRUM.id, reel).rungs[2] for s in bar.strokes if len(s.notes) == 2]
    assert doubled and all(len(s.touches) == 1 for s in doubled)
    pinched = [s for bar in trial(FINGERSTYLE.id, reel).rungs[4] for s in bar.strokes if len(s.touches) == 2]
    assert pinched and all({n.role for n in s.notes} == {Role.MELODY, Role.CHORD} for s in pinched)
    optional = [n for bar in trial(FINGERSTYLE.id, reel).rungs[4] for s in bar.strokes for n in s.notes if n.optional]
    assert optional and all(note.role is not Role.MELODY for note in optional)
    ways = {t.way for bar in trial(STRUM.id, reel).rungs[4] for s in bar.strokes for t in s.touches if s.swept}
    assert ways == {Way.DOWN, Way.UP}
    slurs = {n.slur.ornament for bar in trial(NOTER.id, reel).rungs[3] for s in bar.strokes for n in s.notes if n.slur}
    assert slurs == {Ornament.SLIDE}


def _pinches(instrument: str, on_top: bool) -> list[Stroke]:
    """What is struck at once where the thumb may fill on any string beside a melody note of the index."""
    fills, plays = Finger.THUMB, Finger.INDEX
    anywhere = dict.fromkeys(range(1, 7), 0)
    voices = (Voice(fills, Way.PLUCK, Want.FILL, Where.LISTED, (1, 2, 3, 4)), Voice(plays, Way.PLUCK, Want.JOIN))
    right = replace(
        FINGERSTYLE.right,
        alphabet={"X": voices},
        rows=(Row("both", "X! .", 2, cost=-20, moving_from=2),),
        lines={fills: {}, plays: anywhere},
        chords={fills: anywhere, plays: {}},
        plain=(plays,),
        on_top=on_top,
    )
    reel = next(one for one in demo_tunes() if one.title == TUNES[0])
    found = build_ladder(fit_tune(reel, find_instrument(instrument), Wish()), replace(FINGERSTYLE, right=right))
    strokes = [stroke for bar in found.rungs[2] for stroke in bar.strokes if len(stroke.touches) == 2]
    assert len(strokes) > len(reel.bars) / 2
    return strokes


def test_fingers_that_strike_at_once_do_not_cross() -> None:
    """The thumb stays on the bass side of the index, also where the treble string would be as good a filler."""
    for stroke in _pinches("guitar", on_top=False):
        string = {touch.by: touch.notes[0].place.string for touch in stroke.touches}
        assert string[Finger.THUMB] > string[Finger.INDEX], stroke


def test_nothing_sounds_above_the_melody_where_the_hand_keeps_it_on_top() -> None:
    """A ukulele's fourth string is high: under a hand that has no such rule the thumb goes above the melody there."""

    def above(on_top: bool) -> list[Stroke]:
        return [
            stroke
            for stroke in _pinches("ukulele", on_top)
            if max(stroke.notes, key=lambda note: note.pitch.cents).role is not Role.MELODY
        ]

    assert above(False) and not above(True)


def test_a_note_that_no_free_finger_reaches_is_played_all_the_same() -> None:
    """Where fingers keep strictly to their strings, a run on one string has one finger twice: dear, never a hole."""
    own = {Finger.THUMB: {5: 0, 4: 0, 3: 0}, Finger.INDEX: {2: 0}, Finger.MIDDLE: {1: 0}}
    way = replace(THREE_FINGER, right=replace(THREE_FINGER.right, lines=own, chords=own))
    run = tune('"G"GAGA GAGA|"G"B8|]')
    fit = fit_tune(run, find_instrument("banjo"), Wish(tuning="gDGBD"))
    found = build_ladder(fit, way.beginning_with(Layer.FULL))
    assert [text for text in violations(found, frame=False) if "twice running" not in text] == []
    struck = [one.touches[0].by for one in found.rungs[1][0].strokes if one.struck]
    assert struck == [Finger.THUMB] * 8
    assert any("twice running" in text for text in violations(found, frame=False))


def test_soft_fillers_are_soft() -> None:
    """A filler's touch is quieter than one that carries the melody."""
    strokes = [s for bar in trial(PLECTRUM.id, TUNES[0]).rungs[4] for s in bar.strokes if s.struck]
    melody = {t.loudness for s in strokes for t in s.touches if any(n.role is Role.MELODY for n in t.notes)}
    fill = {
        t.loudness for s in strokes for t in s.touches if s.touches[0].way is Way.UP and s.notes[0].role is Role.CHORD
    }
    assert melody == {100} and 64 in fill


@pytest.mark.parametrize("way", TRIALS, ids=lambda way: way.id)
def test_every_output_writes_it(way: Idiom) -> None:
    """Text, MusicXML and the printed sheet of a rung of flow, with what may be left out marked as such."""
    found = trial(way.id, TUNES[0])
    path = level_path(found, 5)
    text, xml = write_text(found, path), write_musicxml(found, path)
    assert ("[" in text.split("Plays", 1)[1].replace("[A]", "").replace("[B]", "")) == (way is FINGERSTYLE)
    assert ('parentheses="yes"' in xml) == (way is FINGERSTYLE)
    assert ("down-bow" in xml) == (way is not FINGERSTYLE)
    from nailhead.core.arrange.teacher.arrangement import Arrangement

    assert layout_sheet(found, Arrangement(path), SheetOptions()).pages


def test_every_way_with_a_ladder_has_its_rules() -> None:
    """A way of playing that grows rungs is checked from the outside the moment it does."""
    assert {idiom.id for idiom in IDIOMS if len(idiom.rungs) > 1} <= set(HANDS)
