"""Pitch, metre, key, chord, notation and transposition."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nailhead.core.errors import TheoryError
from nailhead.core.music.chord import QUALITIES, Chord, parse_chord, transpose_chord
from nailhead.core.music.key import MODES, Key, move_key, parse_key
from nailhead.core.music.metre import Metre, make_metre, parse_metre
from nailhead.core.music.notation import note_values
from nailhead.core.music.pitch import COMMA_CENTS, Pitch, PitchClass, parse_pitch, transpose
from nailhead.core.music.tune import Tuplet

PITCHES = st.builds(Pitch, st.sampled_from("CDEFGAB"), st.integers(-1, 1), st.integers(2, 6))


@pytest.mark.parametrize(
    ("text", "midi"), [("C4", 60), ("A4", 69), ("F#3", 54), ("Bb2", 46), ("Cb4", 59), ("B#3", 60), ("E♭5", 75)]
)
def test_scientific_pitch_names(text: str, midi: int) -> None:
    """C4 is middle C, key 60 (scientific pitch notation; MIDI 1.0 key numbers)."""
    assert parse_pitch(text).midi == midi
    assert parse_pitch(text).cents == 100 * midi


def test_commas_are_53_to_the_octave() -> None:
    """53 Holdrian commas make 1200 cents; B lowered by two lies 45.3 cents under B (handbook, saz)."""
    assert 53 * COMMA_CENTS == 1200
    lowered = Pitch("B", 0, 4, -2)
    assert float(Pitch("B", 0, 4).cents - lowered.cents) == pytest.approx(45.28, abs=0.01)


@pytest.mark.parametrize("text", ["", "H4", "A", "4A", "C#b4", "A44x"])
def test_a_bad_pitch_is_refused_with_a_remedy(text: str) -> None:
    """What is not a pitch says so and how to write one."""
    with pytest.raises(TheoryError) as refused:
        parse_pitch(text)
    assert refused.value.remedy


@given(PITCHES, st.integers(-12, 12))
def test_transposing_moves_the_sound_by_exactly_the_interval(pitch: Pitch, semitones: int) -> None:
    """Any interval, in the spelling of any key: the cents move by 100 a semitone."""
    _, fifths = move_key(Key(PitchClass("C")), semitones % 12)
    assert transpose(pitch, semitones, fifths).cents == pitch.cents + 100 * semitones


def test_transposing_agrees_with_music21() -> None:
    """A perfect fifth up keeps spellings as music21 has them."""
    from music21 import pitch as m21

    for name in ("C4", "E-4", "F#3", "B4", "A-5"):
        ours = transpose(parse_pitch(name.replace("-", "b")), 7, 1)
        theirs = m21.Pitch(name).transpose("P5")
        assert (ours.step, ours.alter, ours.octave) == (theirs.step, int(theirs.alter), theirs.octave)


@pytest.mark.parametrize("mode", MODES)
@pytest.mark.parametrize("tonic", ["C", "G", "D", "F", "Bb", "E"])
def test_signatures_and_scales_agree_with_music21(tonic: str, mode: str) -> None:
    """Sharps, flats and the seven notes of every mode."""
    from music21 import key as m21
    from music21 import scale

    ours = parse_key(f"{tonic} {mode}" if mode != "major" else tonic)
    theirs = m21.Key(tonic.replace("b", "-"), mode)
    assert ours.fifths == theirs.sharps
    scales = {"mixolydian": scale.MixolydianScale, "dorian": scale.DorianScale, "phrygian": scale.PhrygianScale}
    scales |= {"lydian": scale.LydianScale, "locrian": scale.LocrianScale, "minor": scale.MinorScale}
    built = scales.get(mode, scale.MajorScale)(tonic.replace("b", "-"))
    assert ours.scale == tuple(pitch.pitchClass for pitch in built.pitches[:7])


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("Am", "A minor"),
        ("Ador", "A dorian"),
        ("D mixolydian", "D mixolydian"),
        ("F#m", "F♯ minor"),
        ("Bb", "B♭ major"),
    ],
)
def test_keys_as_players_write_them(text: str, expected: str) -> None:
    """Tonic, accidental and the first letters of the mode are enough (ABC 2.1, §3.1.14)."""
    assert str(parse_key(text)) == expected


@pytest.mark.parametrize("text", ["Q", "Amixx9", "", "A#b"])
def test_a_bad_key_is_refused(text: str) -> None:
    """A key that cannot be read names what to write."""
    with pytest.raises(TheoryError, match="not a key"):
        parse_key(text)


@pytest.mark.parametrize("quality", QUALITIES)
def test_chord_symbols_agree_with_music21(quality: str) -> None:
    """The pitch classes of each quality on D."""
    from music21 import harmony

    written = {"m7b5": "ø7", "5": "power", "mmaj7": "mM7"}.get(quality, quality)
    theirs = harmony.ChordSymbol(root="D", kind="power") if quality == "5" else harmony.ChordSymbol("D" + written)
    assert parse_chord("D" + quality).tones == {pitch.pitchClass for pitch in theirs.pitches}


def test_slash_chords_keep_their_bass() -> None:
    """D7/F# asks for its bass and moves with it."""
    chord = parse_chord("D7/F#")
    assert str(transpose_chord(chord, 2)) == "E7/G♯"
    assert parse_chord("C/Bb").tones == {0, 4, 7, 10}


@pytest.mark.parametrize("text", ["H", "G13#11", "g", "N.C.", "fine"])
def test_a_bad_chord_is_refused(text: str) -> None:
    """A remark in chord quotes is not taken for a chord."""
    with pytest.raises(TheoryError):
        parse_chord(text)


def test_every_quality_can_be_built() -> None:
    """The table's rows are all chords; an unknown one is not."""
    for quality in QUALITIES:
        assert 2 <= len(Chord(PitchClass("A"), quality).tones) <= 5
    with pytest.raises(TheoryError):
        Chord(PitchClass("A"), "xyz")


@pytest.mark.parametrize(
    ("text", "length", "beats"),
    [
        ("4/4", "1", [0, "1/4", "1/2", "3/4"]),
        ("C|", "1", [0, "1/2"]),
        ("2/4", "1/2", [0, "1/4"]),
        ("3/4", "3/4", [0, "1/4", "1/2"]),
        ("6/8", "3/4", [0, "3/8"]),
        ("9/8", "9/8", [0, "3/8", "3/4"]),
        ("2+2+2+3/8", "9/8", [0, "1/4", "1/2", "3/4"]),
        ("5/8", "5/8", [0, "1/4"]),
        ("7/8", "7/8", [0, "1/4", "1/2"]),
        ("10/8", "5/4", [0, "3/8", "5/8", "7/8"]),
    ],
)
def test_metres_of_the_handbook(text: str, length: str, beats: list[str]) -> None:
    """Length and beats of the metres in handbook §7 (groupings: common practice)."""
    metre = parse_metre(text)
    assert metre.length == Fraction(length)
    assert list(metre.beat_onsets) == [Fraction(beat) for beat in beats]


@pytest.mark.parametrize("text", ["4/5", "x", "0/4", "3+0/8", "99/4"])
def test_a_bad_metre_is_refused(text: str) -> None:
    """No metre without beats, no note value that does not exist."""
    with pytest.raises(TheoryError):
        parse_metre(text)


def test_strong_beats() -> None:
    """1 and 3 in 4/4, 1 in 3/4, both in 6/8."""
    assert parse_metre("4/4").strong_onsets == (0, Fraction(1, 2))
    assert parse_metre("3/4").strong_onsets == (0,)
    assert parse_metre("6/8").strong_onsets == (0, Fraction(3, 8))
    with pytest.raises(TheoryError):
        Metre(4, 4, (1, 1))


@given(st.integers(1, 16), st.sampled_from([2, 4, 8, 16]))
def test_every_metre_is_filled_by_its_groups(beats: int, unit: int) -> None:
    """The grouping adds up to the bar whatever the numbers."""
    metre = make_metre(beats, unit)
    assert sum(metre.grouping) == beats
    assert metre.beat_onsets[-1] < metre.length


@given(st.fractions(min_value=Fraction(1, 48), max_value=8, max_denominator=105))
def test_note_values_add_up(duration: Fraction) -> None:
    """Any length is written as values that sum to it; odd lengths stand in a tuplet."""
    values = note_values(duration)
    assert sum(value.duration for value in values) == duration
    plain = duration.denominator & (duration.denominator - 1) == 0
    assert all((value.ratio is None) == plain for value in values)


def test_note_values_of_a_triplet() -> None:
    """Three eighths in the time of two print as eighths and last a twelfth, named as a triplet or not."""
    for values in (note_values(Fraction(1, 12), Tuplet(3, 2, 3)), note_values(Fraction(1, 12))):
        (value,) = values
        assert (value.name, value.dots, value.flags, value.ratio) == ("eighth", 0, 1, (3, 2))
    with pytest.raises(TheoryError):
        note_values(Fraction(1, 2048))


def test_a_key_names_what_is_written_beside_its_mode() -> None:
    """Accidentals and commas of the signature, as saz players write them."""
    from nailhead.core.music.key import Key, parse_key

    assert parse_key("Am").label == "A minor"
    key = parse_key("Am")
    assert Key(key.tonic, key.mode, (("B", 0), ("F", 1)), (("B", -2),)).label == "A minor with B♭², F♯"
