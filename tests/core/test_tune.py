"""The tune: numbering, problems, performance order, structure and suggested chords."""

from __future__ import annotations

from fractions import Fraction

import pytest

from nailhead.core.errors import TuneError
from nailhead.core.music.harmonise import suggest_chords
from nailhead.core.music.key import parse_key
from nailhead.core.music.metre import parse_metre
from nailhead.core.music.structure import read_structure
from nailhead.core.music.transpose import transpose_tune
from nailhead.core.music.tune import Event, Tune, find_problems, performance
from nailhead.formats.abc import read_tune


def tune(body: str, metre: str = "4/4", key: str = "G", unit: str = "1/8") -> Tune:
    found = read_tune(f"X:1\nT:Test\nM:{metre}\nL:{unit}\nK:{key}\n{body}\n").tune
    assert found
    return found


def test_a_pickup_is_bar_0() -> None:
    """A first bar shorter than the metre is 0, the next one 1."""
    assert [bar.number for bar in tune("D2|G4 G4|A4 A4|").bars] == [0, 1, 2]
    assert [bar.number for bar in tune("G4 G4|A4 A4|").bars] == [1, 2]


@pytest.mark.parametrize(
    ("body", "said"),
    [
        ("G4 G4|G4 G2|G8|", ["Bar 2 does not add up: 1/4 of a whole note missing."]),
        ("G4 G4|G4 G6|G8|", ["Bar 2 does not add up: 1/4 of a whole note too much."]),
        ("D2|G8|G8|G6|", []),
        ("|:D2|G8|G6:|:AB|G8|G6:|", []),
        ("|:D2|G8|1 G6:|2 G8|]", []),
        ("D2|G8|G8|G4|", ["Bar 3 does not add up: 1/2 of a whole note missing."]),
    ],
)
def test_bars_that_do_not_add_up_are_named(body: str, said: list[str]) -> None:
    """Bar and amount are said; pickups and the bars they complete are right as they are."""
    assert [problem.message for problem in find_problems(tune(body))] == said


@pytest.mark.parametrize(
    ("body", "played"),
    [
        ("A8|B8|]", "12"),
        ("|:A8|B8:|", "1212"),
        ("A8|B8:|c8|d8|]", "121234"),
        ("|:A8|1 B8:|2 c8||d8|]", "12134"),
        ("|:A8|B8:|:c8|d8:|", "12123434"),
        ("|:A8|1,3 B8:|2 c8:|", "1213" + "12"),
        ("A8|:B8|c8:|", "12323"),
    ],
)
def test_repeats_and_endings_are_played_in_order(body: str, played: str) -> None:
    """Written bars by number, in the order they sound."""
    bars = tune(body).bars
    assert "".join(str(bars[index].number) for index in performance(bars)) == played


def test_performance_agrees_with_music21() -> None:
    """music21's expansion of repeats gives the same bars."""
    from music21 import converter

    text = "X:1\nM:4/4\nL:1/8\nK:G\n|:G8|A8|1 B8:|2 c8|]\n"
    part = converter.parse(text, format="abc").parts[0].expandRepeats()
    theirs = [note.pitch.midi for note in part.flatten().notes]
    ours = read_tune(text).tune
    assert ours
    assert [ours.bars[i].events[0].pitch.midi for i in performance(ours.bars)] == theirs  # type: ignore[union-attr]


def test_repeats_lead_back_without_a_gap() -> None:
    """H4: the last bar of a repeated part and its pickup make a whole bar."""
    from tests.demo import demo_tunes

    for found in demo_tunes():
        assert not find_problems(found), found.title
        order = list(performance(found.bars))
        lengths = [found.bars[index].length for index in order]
        total = sum(lengths)
        assert total % found.metre.length == 0, found.title


def test_empty_and_broken_tunes_are_refused() -> None:
    """No notes, or a gap between notes, is no tune."""
    with pytest.raises(TuneError):
        Event(Fraction(0), Fraction(0))
    with pytest.raises(TuneError, match="no notes"):
        Tune("Nothing", parse_key("G"), parse_metre("4/4"), ())


def test_equal_bars_share_a_letter() -> None:
    """Same melody and chord: one letter; another chord: another bar."""
    structure = read_structure(tune('"G"GABc d4|"C"cdef g4|"G"GABc d4|"D"GABc d4|'))
    assert structure.letters == ("a", "b", "a", "c")
    assert structure.different == 3


def test_what_a_tie_brings_in_makes_a_bar_different() -> None:
    """A bar that begins with a held note is not the bar that strikes it."""
    structure = read_structure(tune("G4 G4|G4 G4-|G4 G4|"))
    assert structure.letters == ("a", "b", "c")


def test_phrases_are_four_bars_and_cut_at_parts() -> None:
    """A pickup rides with the first line; an eight-bar part makes two."""
    body = "|:D2|" + "G4 A4|" * 7 + "G6:|" + "|:d2|" + "g4 a4|" * 7 + "g6:|"
    found = tune(body)
    assert [stop - start for start, stop in read_structure(found).phrases] == [5, 4, 5, 4]
    lines = read_structure(found).phrases
    assert [found.bars[start].number for start, _ in lines] == [0, 5, 9, 14]


def test_suggested_chords_follow_the_melody() -> None:
    """Arpeggios of I, IV and V are heard as such; the last bar is the tonic (common practice)."""
    found = suggest_chords(tune("GBdB GBdB|cegc' egec|dfaf d4|GBdg G4|]"))
    assert [str(bar.chords[0].chord) for bar in found.bars] == ["G", "C", "D", "G"]


def test_a_mixolydian_tune_gets_its_flat_seventh() -> None:
    """The ♭VII chord of handbook §7."""
    found = suggest_chords(tune("A4 c2e2|=GBdB G4|A4 c2e2|a4 A4|]", key="Amix"))
    assert [str(bar.chords[0].chord) for bar in found.bars] == ["A", "G", "A", "A"]


def test_written_chords_are_left_alone() -> None:
    """A tune with one chord is a tune with chords."""
    found = tune('"Em"G4 A4|B8|]')
    assert suggest_chords(found) is found


@pytest.mark.parametrize("semitones", [-12, -5, 1, 2, 7, 12])
def test_transposing_a_tune_moves_everything_together(semitones: int) -> None:
    """Notes, chords and key by the same interval."""
    found = tune('"G"G^ABc "D7"d2f2|"Em"e4 "G"g4|')
    moved = transpose_tune(found, semitones)
    assert [p.midi - q.midi for p, q in zip(moved.pitches, found.pitches, strict=True)] == [semitones] * 8
    assert (moved.key.tonic.semitone - found.key.tonic.semitone - semitones) % 12 == 0
    for bar, old in zip(moved.bars, found.bars, strict=True):
        for chord, was in zip(bar.chords, old.chords, strict=True):
            assert chord.chord.tones == {(tone + semitones) % 12 for tone in was.chord.tones}
