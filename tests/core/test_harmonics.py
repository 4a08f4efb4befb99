"""Natural harmonics: where they lie, what they sound, when one ends a tune, and that every format knows it."""

from __future__ import annotations

from math import log2

import pytest

from nailhead.core.arrange.fit.ladder import Ladder, build_ladder
from nailhead.core.arrange.fit.planned import wished
from nailhead.core.arrange.rows.ways import find_idiom
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.entering import with_changes
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.tones import note_cents
from nailhead.core.arrange.values import FrettedNote
from nailhead.core.fretboard.fit import fit_tune
from nailhead.core.fretboard.harmonics import NODES, harmonic_cents, harmonics_of
from nailhead.core.fretboard.instruments import INSTRUMENTS, find_instrument
from nailhead.core.fretboard.setup import Place, Setup
from nailhead.core.sound.playing import Pace, PlayedBar, tones_of
from nailhead.formats.decisions_json import bar_document, read_bar
from nailhead.formats.musicxml import write_musicxml
from nailhead.formats.musicxml.tab_reader import read_tablature
from nailhead.formats.text_tab import write_text
from nailhead.sheet.ladder_view import layout_cell
from nailhead.sheet.marks import Ink, Polygon
from tests.core.test_tune import tune
from tests.rules import violations

GUITAR = find_instrument("guitar")


@pytest.mark.parametrize(("fret", "partial"), [(12, 2), (7, 3), (5, 4)])
def test_a_node_lies_at_a_simple_share_of_the_string(fret: int, partial: int) -> None:
    """A half, a third, a quarter of the string from the nut (the fret is within 0.4 % of it), and the
    partial is 1200 log2 n cents above the open string; the frets' own fifth is 2 cents off.
    """
    assert 1 - 2 ** (-fret / 12) == pytest.approx(1 / partial, abs=0.004)
    assert NODES[fret] == pytest.approx(1200 * log2(partial), abs=2)
    setup = Setup(GUITAR, GUITAR.tuning("EADGBE"), 0, None)
    for string in range(1, 7):
        cents = harmonic_cents(setup, Place(string, fret))
        assert cents is not None and Place(string, fret) in set(harmonics_of(setup, cents))
    assert harmonic_cents(setup, Place(1, 4)) is None


def ended(last: str, tuning: str = "DADF#AD", key: str = "D") -> Ladder:
    way = find_idiom("fingerstyle", GUITAR)
    found = tune(f'"D"d2 f2 a4|"D"A8|"A"e4 c4|"D"{last}|]', "4/4", key)
    return build_ladder(fit_tune(found, GUITAR, wished(way, tuning, 0)), way)


def harmonics(found: Ladder, rung: int) -> list[tuple[int, FrettedNote]]:
    return [
        (bar.number, note)
        for bar in found.rungs[rung - 1]
        for stroke in bar.strokes
        for note in stroke.notes
        if note.harmonic
    ]


def test_the_last_note_is_a_harmonic_over_an_open_bass() -> None:
    """From rung 6 on, held, with the melody's own pitch, and no rule is broken; a short last note is none (common
    practice).
    """
    found = ended("d8")
    assert [harmonics(found, rung) for rung in range(1, 6)] == [[]] * 5
    for rung in (6, 7):
        ((bar, note),) = harmonics(found, rung)
        melody = found.tune.bars[-1].events[0].pitch
        assert bar == 4 and melody
        assert note_cents(found.fit.setup, note) == found.fit.setup.cents_of(note.pitch)
        assert note.pitch.cents - melody.cents in (-1200, 0, 1200)
        others = [one for one in found.rungs[rung - 1][-1].strokes[-1].notes if one is not note]
        assert others and all(one.place.fret == 0 for one in others)
    assert any("harmonic" in remark for remark in found.rungs[5][-1].remarks)
    assert violations(found) == []
    assert harmonics(ended("d4 e2 d2"), 6) == []


@pytest.mark.parametrize(("place", "cents"), [(Place(4, 12), 1200), (Place(3, 7), 1900), (Place(5, 5), 2400)])
def test_a_harmonic_sounds_its_partial(place: Place, cents: int) -> None:
    """Heard in the performance at the string's own partial, not at its fret."""
    found = ended("d8")
    setup, bar = found.fit.setup, found.rungs[5][-1]
    ((_, note),) = harmonics(found, 6)
    moved = bar.strokes[-1].with_notes(
        lambda one: FrettedNote(place, one.pitch, one.role, 3, harmonic=True) if one is note else one
    )
    only = [PlayedBar(type(bar)(1, 6, (moved,)), found.tune.bars[0].metre, moved.onset)]
    heard = {tone.string: tone.hertz for tone in tones_of(only, setup, Pace(moved.duration, 60))}
    open_hertz = 440 * 2 ** ((float(setup.sounding_cents(Place(place.string, 0))) - 6900) / 1200)
    assert heard[place.string] == pytest.approx(open_hertz * 2 ** (cents / 1200))


def test_every_format_knows_a_harmonic() -> None:
    """<12> in a text, a diamond on the page, <harmonic> in MusicXML and back, kept in a file of decisions."""
    found = ended("d8")
    path = level_path(found, 6)
    ((bar, note),) = harmonics(found, 6)
    assert f"<{note.place.fret}>" in write_text(found, path)
    diamonds = [
        mark
        for mark in layout_cell(found, bar - 1, found.rungs[5][bar - 1]).marks
        if isinstance(mark, Polygon) and mark.ink is Ink.MELODY and len(mark.points) == 4
    ]
    assert len(diamonds) == 1
    text = write_musicxml(found, path)
    assert text.count("<natural") == 1
    assert with_changes(found, Arrangement(path), read_tablature(text.encode(), INSTRUMENTS.values()).bars)[1] == []
    arranged = found.rungs[5][-1]
    assert read_bar(bar_document(arranged)).strokes == arranged.strokes
