"""What the desk works out and changes: key, chords as numbers, proposals, form, metre, order, sounds."""

from __future__ import annotations

import random
from fractions import Fraction
from itertools import product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nailhead.core.errors import NailheadError, TheoryError, TuneError
from nailhead.core.music import harmonise
from nailhead.core.music.chord import QUALITIES, Chord
from nailhead.core.music.edit import (
    chart_texts,
    full_chart,
    move_to_key,
    rename_key,
    set_chart,
    set_endings,
    set_order,
    set_part,
    set_repeat,
)
from nailhead.core.music.form import expand_order, parts_of, read_form
from nailhead.core.music.harmonise import STYLES, best_row, propose_chords, row_costs, slots_of, with_chords
from nailhead.core.music.key import Key, parse_key
from nailhead.core.music.keyfinding import MAJOR_PROFILE, MINOR_PROFILE, key_warning, profile, rank_keys
from nailhead.core.music.metre import parse_metre
from nailhead.core.music.numbers import chord_of_number, number_of, read_chord
from nailhead.core.music.pitch import PitchClass, hertz_of, parse_pitch
from nailhead.core.music.repeats import fold_repeats
from nailhead.core.music.respell import respell_metre
from nailhead.core.music.sound import sounds_of
from nailhead.core.music.tune import Tune, performance
from nailhead.formats.abc import read_tune
from tests.demo import all_demo_tunes, demo_tunes
from tests.tunes import tunes


def tune(body: str, metre: str = "4/4", key: str = "G", unit: str = "1/8", more: str = "") -> Tune:
    found = read_tune(f"X:1\nT:Test\nM:{metre}\nL:{unit}\n{more}K:{key}\n{body}\n").tune
    assert found
    return found


# -- key


@pytest.mark.parametrize("found", all_demo_tunes(), ids=lambda found: found.title)
def test_the_key_of_every_demo_tune_is_found(found: Tune) -> None:
    """Major, minor, Dorian and Mixolydian tunes of known key: first guess, and no warning."""
    best = rank_keys(found)[0].key
    assert (best.tonic, best.mode) == (found.key.tonic, found.key.mode)
    assert key_warning(found) == ""


def test_the_printed_key_of_real_tunes_is_found() -> None:
    """Tonic and mode of a fixed sample of printed tunes; docs/readers.md has the figures for all of them."""
    from tests.corpora import sample
    from tests.formats.key_agreement import agreement

    both, tonic, warned, count = agreement(sample(150))
    assert both >= 0.75 * count
    assert both + tonic >= 0.8 * count
    assert warned <= 0.2 * count


def test_a_wrong_header_is_contradicted() -> None:
    """A G major reel under K:C: the warning names both keys."""
    reel = next(found for found in demo_tunes() if found.rhythm == "reel")
    wrong = rename_key(reel, parse_key("C"))
    assert key_warning(wrong) == "The key is written as C major, but the melody speaks for G major."


@pytest.mark.parametrize("semitones", range(1, 12))
def test_the_guess_moves_with_the_tune(semitones: int) -> None:
    """Transposing a tune transposes its key and nothing else."""
    for found in demo_tunes()[:3]:
        tonic = PitchClass.from_fifths((found.key.tonic.fifths + 7 * semitones + 5) % 12 - 5)
        moved = move_to_key(found, tonic)
        assert rank_keys(moved)[0].key.tonic.semitone == tonic.semitone
        assert rank_keys(moved)[0].key.mode == found.key.mode


def test_major_and_minor_agree_with_music21() -> None:
    """music21's Krumhansl-Schmuckler analysis has the same profiles; ours must prefer the same key on a plain scale.

    Scales are used since our terms for final notes and modes are additions that music21 does not have.
    """
    from music21 import analysis, stream
    from music21.note import Note

    theirs = analysis.discrete.KrumhanslKessler()
    assert list(MAJOR_PROFILE) == theirs.getWeights("major")
    assert list(MINOR_PROFILE) == theirs.getWeights("minor")
    for text, key in (("cdef gabc' | c4 e4 | g4 c4|", "C"), ("abc'd' e'f'^g'a' | a4 c'4 | e'4 a4|", "Am")):
        found = tune(text, key="C")
        notes = stream.Stream([Note(pitch.midi) for pitch in found.pitches])
        other = notes.analyze("key.krumhanslkessler")
        best = rank_keys(found)[0].key
        assert best == parse_key(key)
        assert best.tonic.semitone == other.tonic.pitchClass and other.mode == best.mode


def test_a_mode_exchanges_its_own_degrees() -> None:
    """Mixolydian differs from major in the two sevenths, Dorian from minor in the two sixths, and nowhere else."""
    assert [at for at in range(12) if profile("mixolydian")[at] != MAJOR_PROFILE[at]] == [10, 11]
    assert [at for at in range(12) if profile("dorian")[at] != MINOR_PROFILE[at]] == [8, 9]


# -- numbers


@pytest.mark.parametrize(
    ("key", "letters", "numbers"),
    [
        ("G", "G C D7 Em", "1 4 57 6m"),
        ("D", "D A/C# Bm F#m", "1 5/7 6m 3m"),
        ("Amix", "A G D Em", "1 ♭7 4 5m"),
        ("Ador", "Am G C D", "1m ♭7 ♭3 4"),
        ("Bb", "Bb Eb F7 Gm7", "1 4 57 6m7"),
        ("C", "F#dim Ab", "♯4dim ♭6"),
    ],
)
def test_numbers_count_from_the_major_scale(key: str, letters: str, numbers: str) -> None:
    """Nashville numbers, common practice: 4 in G is C, ♭7 in A is G, and back again."""
    found = parse_key(key)
    chords = [read_chord(text, found) for text in letters.split()]
    assert " ".join(number_of(chord, found) for chord in chords) == numbers
    assert [chord_of_number(text, found) for text in numbers.split()] == chords


@given(
    st.integers(-5, 6),
    st.sampled_from(sorted(QUALITIES)),
    st.integers(-5, 6),
    st.sampled_from(["G", "F#m", "Bb", "Ador"]),
)
def test_every_chord_comes_back_from_its_number(root: int, quality: str, bass: int, name: str) -> None:
    """Letters to numbers and back: equal for all qualities, and the number stays when the key changes."""
    key = parse_key(name)
    tonic = key.tonic.fifths
    chord = Chord(PitchClass.from_fifths(tonic + root), quality, PitchClass.from_fifths(tonic + bass))
    text = number_of(chord, key)
    if root > -6 and bass > -6:
        assert chord_of_number(text, key) == chord
    moved = Key(PitchClass.from_fifths(tonic + 1), key.mode)
    assert number_of(chord_of_number(text, moved), moved) == text


@pytest.mark.parametrize("text", ["8", "", "1x", "♮4", "4/9"])
def test_what_is_no_number_is_refused(text: str) -> None:
    """With what to write instead."""
    with pytest.raises(TheoryError) as refused:
        chord_of_number(text, parse_key("G"))
    assert refused.value.remedy


# -- the chart


def test_a_chart_is_entered_as_letters_or_numbers() -> None:
    """One or two chords a bar; letters and numbers may stand side by side."""
    found = set_chart(tune("GABc d4|e4 d4|c4 A4|G8|"), ["1", "4 1", "Am D7", "G"])
    assert chart_texts(found, numbers=False) == ("G", "C G", "Am D7", "G")
    assert chart_texts(found, numbers=True) == ("1", "4 1", "2m 57", "1")
    assert [entry.onset for entry in found.bars[1].chords] == [0, Fraction(1, 2)]


def test_the_chart_moves_with_the_key() -> None:
    """In A the letters have changed and the numbers have not."""
    found = set_chart(tune("GABc d4|c8|"), ["1", "4 57"])
    moved = move_to_key(found, PitchClass("A"))
    assert chart_texts(moved, numbers=False) == ("A", "D E7")
    assert chart_texts(moved, numbers=True) == chart_texts(found, numbers=True)


def test_what_stands_in_a_chart_is_not_moved_by_entering_it_again() -> None:
    """A chord on an odd place keeps it as long as its text is the same."""
    found = tune('"G"GA"C"Bc d4|"D"e8|')
    assert set_chart(found, chart_texts(found, numbers=False)) == found


@pytest.mark.parametrize(
    ("texts", "bar", "said"),
    [(["G", "H"], 2, "not a chord"), (["1 2 3 4 5", ""], 1, "4 beats, not 5"), (["G"], None, "1 bars, the tune 2")],
)
def test_a_chart_that_cannot_be_read_names_its_bar(texts: list[str], bar: int | None, said: str) -> None:
    """The bar, and what is wrong with it."""
    with pytest.raises(NailheadError, match=said) as refused:
        set_chart(tune("G8|A8|"), texts)
    assert refused.value.bar == bar


def test_the_full_chart_carries_chords_on() -> None:
    """A bar without a sign of its own stands under the last one."""
    assert full_chart(tune('G8|"C"A8|B8|')) == ("", "C", "C")


# -- proposals


def test_three_proposals_are_ranked_and_different() -> None:
    """Cheapest first by the common costs, each with its costs by name."""
    for found in demo_tunes():
        proposals = propose_chords(with_chords(found, [()] * len(found.bars)))
        assert 2 <= len(proposals) <= 3
        assert [proposal.cost for proposal in proposals] == sorted(proposal.cost for proposal in proposals)
        assert len({proposal.chords for proposal in proposals}) == len(proposals)
        assert set(dict(proposals[0].costs)) <= set(harmonise.COSTS)


def test_a_part_ends_at_home() -> None:
    """The last bar of every part of the demo tunes gets the tonic chord in the usual proposal (common practice)."""
    for found in demo_tunes():
        (usual, *_) = [p for p in propose_chords(with_chords(found, [()] * len(found.bars))) if p.name == "Usual"]
        for index, bar in enumerate(found.bars):
            if bar.ends_section and usual.chords[index]:
                assert usual.chords[index][-1].chord.root == found.key.tonic, (found.title, bar.number)


def test_the_proposal_is_the_optimum_of_an_exhaustive_search() -> None:
    """On short random tunes no row of chords is cheaper than the one the dynamic programme finds."""
    dice = random.Random(3)
    for _ in range(12):
        body = "|".join("".join(dice.choice("GABcdefg") + "2" for _ in range(4)) for _ in range(3))
        found = tune(body + "|]", key=dice.choice(["G", "Ador", "Dmix"]))
        style = dice.choice([style for style in STYLES if not style.half_bars] or [STYLES[1]])
        slots = slots_of(found, style.half_bars)
        best = best_row(found, slots, style, [])
        options = [chord for chord, _ in harmonise.chords_of(found.key, style.most_reluctant)]
        cheapest = min(
            sum(row_costs(found, slots, row, style, []).values()) for row in product(options, repeat=len(slots))
        )
        assert sum(row_costs(found, slots, best, style, []).values()) == cheapest


def test_printed_chords_of_the_nottingham_collection_are_met_more_often_than_by_the_tonic() -> None:
    """Root by root on the beats of the tunes with printed chords that the package carries (two of them)."""
    from tests.formats.chord_agreement import agreement

    ours, tonic, beats = agreement("nottingham-dataset")
    assert beats >= 100
    assert ours > tonic
    assert ours / beats >= 0.5


# -- form


@pytest.mark.parametrize(
    ("body", "text", "played"),
    [
        ("|:GABc d4|e8:|:f4 g4|a8:|", "AABB", "12123434"),
        ("GABc d4|e8||f4 g4|a8||GABc d4|e8|]", "ABA", "123456"),
        ("GABc d4|e4 f4|e8|g8||GABc d4|e4 f4|e8|a8|]", "AA′", "12345678"),
        ("|:GABc d4|1 e8:|2 f8|]", "AA", "1213"),
        ("D2|:GABc d4|e8:|f4 g4|a8|]", "AAB", "0121234"),
        ("D2|\nP:A\nG8|A8|\nP:B\nB8|c8|]", "AB", "01234"),
        ("P:A\nG8|A8|\nP:B\nB8|c8|\nP:A\nG8|A8|", "ABA", "123456"),
    ],
)
def test_the_form_is_read(body: str, text: str, played: str) -> None:
    """Letters of the parts as played, an end that differs as a prime, and every bar in its turn."""
    found = tune(body)
    form = read_form(found)
    assert form.text == text
    assert "".join(str(found.bars[index].number) for index in form.played) == played


def test_a_waltz_is_told_in_words() -> None:
    """How many bars are new, and which phrase answers which."""
    waltz = next(found for found in demo_tunes() if found.rhythm == "waltz")
    form = read_form(waltz)
    assert form.text == "AABB"
    assert form.sentences[:2] == (
        "18 of 32 bars are new.",
        "Bars 1 to 4 call, 9 to 12 answer: the same beginning, another end.",
    )


@settings(max_examples=60, deadline=None)
@given(tunes())
def test_the_form_plays_what_the_repeats_say(found: Tune) -> None:
    """Without an order of its own the form gives the bars of `performance`; parts cover each bar once."""
    form = read_form(found)
    assert list(form.played) == list(performance(found.bars))
    covered = [index for part in form.parts for index in range(part.start, part.stop)]
    assert covered == list(range(len(found.bars)))


@pytest.mark.parametrize(
    ("order", "expected"),
    [
        ("AABB", "A A B B"),
        ("A2B2", "A A B B"),
        ("(AB)2C", "A B A B C"),
        ("((AB)2C)2", "A B A B C A B A B C"),
        ("A B, A", "A B A"),
        ("", ""),
    ],
)
def test_an_order_is_spelled_out(order: str, expected: str) -> None:
    """Letters, counts and brackets (ABC 2.1, §3.1.9)."""
    assert " ".join(expand_order(order, "ABC")) == expected


@pytest.mark.parametrize(("order", "said"), [("AX", "“X”"), ("(AB", "not closed"), ("(A99)99", "too long")])
def test_an_order_that_cannot_be_is_refused(order: str, said: str) -> None:
    """A part that is not there, an open bracket, a performance without end."""
    with pytest.raises(TuneError, match=said) as refused:
        expand_order(order, "AB")
    assert refused.value.remedy and refused.value.field == "order"


def test_an_order_is_kept_and_played() -> None:
    """ABAB twice through: parts get the letters they are shown by."""
    found = set_order(tune("GABc d4|e8||f4 g4|a8|]"), "(AB)2")
    assert [bar.part for bar in found.bars] == ["A", "", "B", ""]
    assert read_form(found).text == "ABAB"
    assert len(read_form(found).played) == 8
    assert set_order(found, "").order == ""


def test_a_kick_off_and_an_ending_are_played_once() -> None:
    """Parts of that name frame the performance and are no letters of the form."""
    body = "P:kick-off\nd8||\nP:A\n|:GABc d4|e8:|\nP:ending\ng8|]"
    found = tune(body)
    assert read_form(found).text == "AA"
    assert [found.bars[index].number for index in read_form(found).played] == [1, 2, 3, 2, 3, 4]
    assert [found.bars[i].number for i in read_form(set_order(found, "A3")).played] == [1, 2, 3, 2, 3, 2, 3, 4]


def test_a_wrong_order_is_said_and_the_tune_played_as_written() -> None:
    """The desk stays usable; the sentence names the part."""
    form = read_form(tune("G8|A8|]", more="P:AZ\n"))
    assert form.text == "A"
    assert "“Z”" in form.sentences[0]


def test_the_bar_table_names_what_does_not_add_up() -> None:
    """Length, what it needs, what is missing, the letter, and where a bar was met before."""
    rows = read_form(tune("D2|GABc d4|e4 e2|GABc d4|G4 G2|]")).bars
    assert [(row.number, row.missing) for row in rows if row.missing] == [(2, Fraction(1, 4))]
    assert [(row.letter, row.first, row.new) for row in rows][3] == ("b", 1, False)
    assert "Does not add up: bar 2." in read_form(tune("D2|GABc d4|e4 e2|GABc d4|G4 G2|]")).sentences


@pytest.mark.parametrize("metre", ["5/8", "7/8", "2+2+2+3/8", "10/8", "3/4", "12/8"])
@pytest.mark.parametrize("bars", [1, 7, 400])
def test_odd_metres_and_odd_lengths_have_a_form(metre: str, bars: int) -> None:
    """One bar, seven, four hundred, in additive metres: form, chords and key are all worked out."""
    units = int(parse_metre(metre).length * 8)
    found = tune("|".join(["GABcdegfedcB"[:units]] * bars) + "|]", metre)
    assert len(found.bars) == bars
    assert len(read_form(found).bars) == bars
    assert len(propose_chords(found)[0].chords) == bars
    assert rank_keys(found)


# -- changes


def test_parts_repeats_and_endings_are_set() -> None:
    """Each change is one bar's flag, and can be taken back."""
    found = tune("G8|A8|B8|c8|]")
    assert read_form(set_repeat(found, 0, 1, 2)).text == "AAB"
    assert set_repeat(set_repeat(found, 0, 1, 2), 0, 1, 1).bars[1].closes_repeat == 0
    assert set_part(found, 2, " Chorus ").bars[2].part == "Chorus"
    assert set_endings(found, 1, [2, 1, 2]).bars[1].endings == (1, 2)
    for change in (
        lambda: set_part(found, 9, "A"),
        lambda: set_repeat(found, 2, 1, 2),
        lambda: set_repeat(found, 0, 1, 99),
    ):
        with pytest.raises(TuneError):
            change()


@pytest.mark.parametrize(("metre", "scale"), [("2/2", 1), ("C|", 1), ("C", 1), ("2/4", Fraction(1, 2))])
def test_a_metre_is_spelled_otherwise_and_sounds_the_same(metre: str, scale: Fraction) -> None:
    """4/4 as 2/2, cut time or 2/4 with halved notes; the beat of the tempo is scaled with them; and back."""
    found = tune('"G"GABc d4|e8|]', more="Q:1/4=100\n")
    other = respell_metre(found, parse_metre(metre))
    assert [e.duration for bar in other.bars for e in bar.events] == [
        e.duration * scale for bar in found.bars for e in bar.events
    ]
    assert [s.at_s for s in sounds_of(other)] == pytest.approx([s.at_s for s in sounds_of(found)])
    assert respell_metre(other, parse_metre("4/4")) == found


@pytest.mark.parametrize("metre", ["3/4", "6/8", "none", "5/8"])
def test_a_metre_with_other_beats_is_refused(metre: str) -> None:
    """A waltz is no reel."""
    with pytest.raises(TuneError) as refused:
        respell_metre(tune("G8|"), parse_metre(metre))
    assert refused.value.field == "metre"


@pytest.mark.parametrize(
    ("tonic", "up", "by"), [("A", None, 2), ("A", False, -10), ("F", None, -2), ("F", True, 10), ("G", None, 0)]
)
def test_a_tune_moves_to_a_key_by_the_nearer_way(tonic: str, up: bool | None, by: int) -> None:
    """Or up or down as asked; the mode stays."""
    found = tune("GABc d4|")
    moved = move_to_key(found, PitchClass(tonic), upwards=up)
    assert moved.pitches[0].midi - found.pitches[0].midi == by
    assert str(moved.key) == f"{tonic} major"


# -- sound


@pytest.mark.parametrize(("name", "expected"), [("A4", 440.0), ("C4", 261.626), ("A5", 880.0), ("G3", 195.998)])
def test_pitches_sound_at_concert_pitch(name: str, expected: float) -> None:
    """ISO 16: A4 = 440 Hz; the others by equal temperament (published table of frequencies, from memory)."""
    assert hertz_of(parse_pitch(name).cents) == pytest.approx(expected, abs=0.001)


def test_commas_sound_at_their_cents() -> None:
    """B♭2 is B two commas of 1200/53 cents lower, F♯3 is F three commas higher (handbook, §2)."""
    found = tune("_24/53B ^36/53F", key="C")
    plain = tune("B F", key="C")
    heard = zip(found.pitches, plain.pitches, strict=True)
    cents = [1200 * _log2(hertz_of(p.cents) / hertz_of(q.cents)) for p, q in heard]
    assert cents == pytest.approx([-2 * 1200 / 53, 3 * 1200 / 53])


def _log2(value: float) -> float:
    from math import log2

    return log2(value)


def test_sounds_follow_tempo_repeats_and_ties() -> None:
    """At 120 quarters a minute a quarter lasts half a second; a tie is one sound; the repeat comes after."""
    found = tune("|:G4 A4-|A4 z4:|", more="Q:1/4=120\n")
    heard = sounds_of(found)
    assert [(s.at_s, s.length_s) for s in heard] == [(0, 1), (1, 2), (4, 1), (5, 2)]
    assert [(s.bar, s.event) for s in heard] == [(0, 0), (0, 1)] * 2
    assert len(sounds_of(found, as_played=False)) == 2


def test_parts_are_cut_at_eight_bars_where_nothing_is_written() -> None:
    """Thirty-two bars without a sign are four parts."""
    lines = ["GABc d4|" * 8, "e4 f4|" * 8]
    assert [part.letter for part in parts_of(tune("".join([lines[0], lines[0], lines[1], lines[0]])))] == list("AABA")


# -- repeats


@pytest.mark.parametrize(
    ("body", "numbers", "text"),
    [
        ("G8|A8|B8|c8|" * 2 + "d8|e8|f8|g8|" * 2, 8, "AABB"),
        ("G8|A8|B8|c8|G8|A8|B8|d8|]", 5, "AA"),
        ("D2|" + "G8|A8|B8|c8|" * 2, 4, "AA"),
        ("G8|A8|B8|c8|d8|]", 5, "A"),
        ("G8|A8|B8|c8-|c8|A8|B8|c8|]", 8, "A"),
    ],
)
def test_what_is_played_twice_is_written_once(body: str, numbers: int, text: str) -> None:
    """A repeat, or a first and second ending where only the last bar differs; the performance stays the same."""
    found = tune(body)
    folded = fold_repeats(found)
    assert len([bar for bar in folded.bars if bar.number > 0]) == numbers
    assert read_form(folded).text == text
    assert _heard(folded) == _heard(found)


def _heard(found: Tune) -> list[object]:
    return [found.bars[index].events for index in performance(found.bars)]


@settings(max_examples=60, deadline=None)
@given(tunes(), st.integers(1, 3))
def test_folding_changes_nothing_that_is_heard(found: Tune, times: int) -> None:
    """Any tune, played through several times: the same notes in the same order."""
    from dataclasses import replace

    from nailhead.core.music.tune import number_bars

    plain = [replace(bar, opens_repeat=False, closes_repeat=0, barline="single") for bar in found.bars]
    played = replace(found, bars=number_bars(plain * times))
    assert _heard(fold_repeats(played)) == _heard(played)
