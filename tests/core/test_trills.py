"""Trills: where they stand, what they sound like, and that they survive every form they are written in."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import pytest

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.rows.ways import options_of
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.values import Role
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.fretboard.setup import Place
from nailhead.core.music.pitch import hertz_of
from nailhead.core.sound.playing import Pace, PlayedBar, tones_of
from nailhead.formats.arrangement_json import arrangement_document
from nailhead.formats.decisions_json import bar_document, read_bar
from nailhead.formats.musicxml.tab import write_musicxml
from nailhead.formats.musicxml.tab_reader import read_tablature
from nailhead.formats.text_tab import note_text
from tests.core.test_tune import tune

SAZ = find_instrument("saz")
TRILLED = "C4D4|E8|A8|]"


def saz_ladder(way: str = "scale note above") -> Ladder:
    fit = fit_tune(tune(TRILLED, "4/4", "Am _24/53b"), SAZ, Wish(tuning="A-D-G"))
    return build_ladder(fit, "plectrum", options_of({"trill": way}))


@pytest.mark.parametrize(("way", "frets"), [("scale note above", {10}), ("next fret", {8}), ("none", set())])
def test_held_notes_are_trilled_on_the_saz(way: str, frets: set[int]) -> None:
    """From the sixth rung, D with E or with the next fret; C has a grace already, and what closes stands still
    (common practice; frets after handbook §2).
    """
    ladder = saz_ladder(way)
    trills = {
        rung: {stroke.shake.fret for stroke in ladder.rungs[rung - 1][0].strokes if stroke.shake}
        for rung in range(1, 8)
    }
    assert not any(trills[rung] for rung in range(1, 6)) and trills[6] == frets
    assert not any(stroke.shake for stroke in ladder.rungs[5][2].strokes)


def test_a_trill_is_heard_written_and_read_back() -> None:
    """In sound to and fro, ending on the note's own pitch; in the text, our JSON, a kept cell and MusicXML."""
    ladder = saz_ladder()
    cell, path = ladder.rungs[5][0], level_path(ladder, 6)
    (first, *_) = [stroke for stroke in cell.strokes if stroke.shake]
    note = next(note for note in first.notes if note.role is Role.MELODY)
    assert note_text(note, str, first.shake) == "7~10"
    assert read_bar(bar_document(cell)).strokes == cell.strokes
    written = arrangement_document(ladder, path)["bars"][0]["notes"]
    assert {one["shake_fret"] for one in written} == {None, 10}
    entered = read_tablature(write_musicxml(ladder, path).encode(), [SAZ]).bars[0]
    assert [one.shake for one in entered if one.shake] == [stroke.shake for stroke in cell.strokes if stroke.shake]
    played = PlayedBar(replace(cell, strokes=(first,)), ladder.tune.bars[0].metre, ladder.structure.offsets[0])
    heard = [tone.hertz for tone in tones_of([played], ladder.fit.setup, Pace(Fraction(1, 4), 60)) if tone.string == 1]
    own, other = (hertz_of(ladder.fit.setup.sounding_cents(Place(1, fret))) for fret in (7, 10))
    assert len(heard) % 2 == 1 and heard[0] == heard[-1] == own and set(heard[1::2]) == {other}
