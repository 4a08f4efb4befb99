"""The ABC reader and writer: the standard's features one by one, errors with their place, and round trips."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nailhead.core.music.tune import Tune
from nailhead.formats.abc import AbcError, read_book, read_tune, write_tune
from tests.corpora import sample, sized
from tests.demo import all_demo_tunes, demo_tunes
from tests.formats.music21_agreement import LEFT, difference
from tests.tunes import rich_tunes, tunes

SAMPLE = sized(104, 208)


def read(body: str, *fields: str) -> Tune:
    header = "\n".join(["X:1", "T:Test", *(fields or ("M:4/4", "L:1/8", "K:C"))])
    found = read_tune(f"{header}\n{body}\n").tune
    assert found
    return found


def heard(tune: Tune) -> list[tuple[str, str]]:
    """(pitch or z, duration) of each event."""
    return [(str(e.pitch or "z"), str(e.duration)) for bar in tune.bars for e in bar.events]


@pytest.mark.parametrize(
    ("body", "expected"),
    [
        ("C c c' C,", [("C4", "1/8"), ("C5", "1/8"), ("C6", "1/8"), ("C3", "1/8")]),
        ("C2 C/ C// C3/2 C/4", [("C4", "1/4"), ("C4", "1/16"), ("C4", "1/32"), ("C4", "3/16"), ("C4", "1/32")]),
        ("^F F ^^F __B =B", [("F♯4", "1/8"), ("F♯4", "1/8"), ("F♯♯4", "1/8"), ("B♭♭4", "1/8"), ("B4", "1/8")]),
        ("^F f|F", [("F♯4", "1/8"), ("F♯5", "1/8"), ("F4", "1/8")]),
        ("^F-|F F", [("F♯4", "1/8"), ("F♯4", "1/8"), ("F4", "1/8")]),
        ("A>B c<d", [("A4", "3/16"), ("B4", "1/16"), ("C5", "1/16"), ("D5", "3/16")]),
        ("A>>B", [("A4", "7/32"), ("B4", "1/32")]),
        ("(3ABc d2", [("A4", "1/12"), ("B4", "1/12"), ("C5", "1/12"), ("D5", "1/4")]),
        ("(3:2:2A2B c", [("A4", "1/6"), ("B4", "1/12"), ("C5", "1/8")]),
        ("(5ABcde", [(p, "1/20") for p in ("A4", "B4", "C5", "D5", "E5")]),
        ("z2 x Z|A", [("z", "1/4"), ("z", "1/8"), ("z", "1/8"), ("A4", "1/8")]),
        ("[CEG]2 [C2E2]", [("G4", "1/4"), ("E4", "1/4")]),
        ("(AB) .c ~d !trill!e Tf", [(p, "1/8") for p in ("A4", "B4", "C5", "D5", "E5", "F5")]),
        ("A % no B\nc", [("A4", "1/8"), ("C5", "1/8")]),
        ("A B \\\nc d", [("A4", "1/8"), ("B4", "1/8"), ("C5", "1/8"), ("D5", "1/8")]),
        ("A[K:D]f[L:1/4]A", [("A4", "1/8"), ("F♯5", "1/8"), ("A4", "1/4")]),
        ("[V:1]AB", [("A4", "1/8"), ("B4", "1/8")]),
    ],
)
def test_notes_and_lengths(body: str, expected: list[tuple[str, str]]) -> None:
    """Pitch, accidentals within the bar, lengths, dots, tuplets, rests (ABC 2.1, §4.1 to 4.17)."""
    got = heard(read(body))
    assert got == [(pitch, str(Fraction(length))) for pitch, length in expected]


def test_tuplets_follow_the_metre() -> None:
    """(5 is five in three in 6/8 and five in two in 4/4 (§4.13)."""
    assert heard(read("(5ABcde", "M:6/8", "L:1/8", "K:C"))[0] == ("A4", "3/40")


@pytest.mark.parametrize(
    ("metre", "unit"), [("M:2/4", "1/16"), ("M:3/4", "1/8"), ("M:C", "1/8"), ("M:6/8", "1/8"), ("M:none", "1/8")]
)
def test_the_unit_note_follows_the_metre(metre: str, unit: str) -> None:
    """Less than three quarters: a sixteenth; else an eighth (§3.1.7)."""
    assert read("A", metre, "K:C").unit_length == Fraction(unit)


@pytest.mark.parametrize(
    ("field", "fifths", "name"),
    [
        ("K:Ador", 1, "A dorian"),
        ("K:A Mix", 2, "A mixolydian"),
        ("K:F#m", 3, "F♯ minor"),
        ("K:EM", 1, "E minor"),
        ("K:Bb", -2, "B♭ major"),
        ("K:HP", 2, "A mixolydian"),
        ("K:none", 0, "C major"),
        ("K:G clef=treble", 1, "G major"),
        ("K:Em % comment", 1, "E minor"),
    ],
)
def test_keys(field: str, fifths: int, name: str) -> None:
    """Tonic, mode, clef left out (§3.1.14)."""
    key = read("A", "M:4/4", field).key
    assert (key.fifths, str(key)) == (fifths, name)


def test_extra_accidentals_of_a_key() -> None:
    """K:D =c keeps its natural C (§3.1.14)."""
    assert heard(read("cf", "L:1/8", "K:D =c")) == [("C5", "1/8"), ("F♯5", "1/8")]


def test_repeats_and_endings() -> None:
    """|: :| :: |1 |2 [1 [2 (§4.8, 4.9)."""
    bars = read("|:A8|1 B8:|2 c8::d8|[1 e8:|[2 f8|]").bars
    assert [bar.opens_repeat for bar in bars] == [True, False, False, True, False, False]
    assert [bar.closes_repeat for bar in bars] == [0, 2, 2, 0, 2, 0]
    assert [bar.endings for bar in bars] == [(), (1,), (2,), (), (1,), (2,)]
    assert bars[-1].barline == "final"


def test_chords_stand_at_their_onsets() -> None:
    """Chord symbols are kept with their place; one that cannot be read becomes a remark, with a notice."""
    entry = read_tune('X:1\nM:4/4\nL:1/8\nK:C\n"Am"A2 "^slow"B2 "D7/F#"c2 "zap"d2|\n')
    assert entry.tune
    assert [(str(c.onset), str(c.chord)) for c in entry.tune.bars[0].chords] == [("0", "Am"), ("1/2", "D7/F♯")]
    assert [event.remarks for event in entry.tune.bars[0].events] == [(), ("^slow",), (), ("^zap",)]
    assert [notice.line for notice in entry.notices] == [5]
    assert "“zap” is not a chord" in entry.notices[0].message


def test_words_lie_under_their_notes() -> None:
    """Hyphens, held syllables, skipped notes, joined words, bar jumps and two verses (§5.1)."""
    tune = read("AB cd|ef ga|\nw: one two- three _|*joined~word end\nw: se-cond verse")
    words = [event.words for bar in tune.bars for event in bar.events]
    first = [word[0] if word else "" for word in words]
    assert first == ["one", "two-", "three", "_", "", "joined word", "end", ""]
    assert [word[1] for word in words[:3]] == ["se-", "cond", "verse"]


def test_grace_notes_are_kept_aside() -> None:
    """They take no time and change no accidental of the bar."""
    tune = read("{^ga}b g")
    assert [str(pitch) for pitch in tune.bars[0].events[0].grace] == ["G♯5", "A5"]
    assert heard(tune) == [("B5", "1/8"), ("G5", "1/8")]


def test_parts_tempo_and_header_fields() -> None:
    """P: in the header is the order, in the body a label; Q:, R: and C: are kept."""
    tune = read("P:A\nA8|\nP:B\nB8|", "C:Nobody", "R:reel", "M:4/4", "Q:1/4=120", "P:AAB", "K:G")
    assert (tune.order, tune.rhythm, tune.fields) == ("AAB", "reel", (("C", "Nobody"),))
    assert tune.tempo is not None and (tune.tempo.beat, tune.tempo.bpm) == (Fraction(1, 4), 120)
    assert [bar.part for bar in tune.bars] == ["A", "B"]


def test_a_book_of_tunes_keeps_the_good_ones() -> None:
    """A tune that cannot be read is refused by itself, with its own line."""
    book = read_book("X:1\nT:Good\nK:G\nG4|\n\nX:2\nT:Bad\nK:G\nG0|\n\nX:3\nT:Fine\nK:D\nd4|\n")
    assert [bool(entry.tune) for entry in book] == [True, False, True]
    assert book[1].error is not None and (book[1].error.line, book[1].error.column) == (9, 1)
    assert read_tune("X:1\nK:G\nG|\n\nX:7\nK:G\nA|\n", 7).tune


@pytest.mark.parametrize(
    ("text", "line", "column", "said"),
    [
        ("", 1, 1, "no tune"),
        ("X:1\nT:No key\nM:4/4\n", 4, 1, "no key"),
        ("X:1\nAB cd|\nK:G\n", 2, 1, "before the key"),
        ("X:1\nK:Q\nA|\n", 2, 3, "not a key"),
        ("X:1\nM:4/5\nK:G\nA|\n", 2, 3, "not a metre"),
        ("X:1\nL:1/0\nK:G\nA|\n", 2, 3, "unit note length"),
        ("X:1\nK:G\n", 3, 1, "no notes"),
        ("X:1\nK:G\nAB A0|\n", 3, 4, "no length"),
        ('X:1\nK:G\nAB "G|\n', 3, 4, "not closed"),
        ("X:1\nK:G\nAB [ceg\n", 3, 4, "not closed"),
        ("X:1\nK:G\nA (1ab|\n", 3, 3, "not a tuplet"),
        ("X:1\nK:G\nA,,,,,,,|\n", 3, 1, "far outside"),
        ("X:1\nK:G\nA [M:x]B|\n", 3, 3, "not a metre"),
        ("X:1\nK:G\nA9999B9999|\n", 3, 1, "longer than any note"),
        ("X:1\nK:G\nA A>>>>>B|\n", 3, 4, "dotted too often"),
    ],
)
def test_errors_name_line_and_column(text: str, line: int, column: int, said: str) -> None:
    """What, where, and in words a teacher understands."""
    with pytest.raises(AbcError) as refused:
        read_tune(text)
    assert (refused.value.line, refused.value.column) == (line, column), str(refused.value)
    assert said in refused.value.message


def test_ties_to_another_pitch_are_slurs() -> None:
    """Old files write slurs with a hyphen: left out with a notice."""
    entry = read_tune("X:1\nL:1/8\nK:C\nA-B c-|c d|\n")
    assert entry.tune
    assert [e.tied for bar in entry.tune.bars for e in bar.events] == [False, False, True, False, False]
    assert "slur" in entry.notices[0].message


@pytest.mark.parametrize("tune", all_demo_tunes(), ids=lambda tune: tune.title)
def test_demo_tunes_come_back_equal(tune: Tune) -> None:
    """read(write(tune)) == tune."""
    assert read_tune(write_tune(tune)).tune == tune


@settings(max_examples=150, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(tunes())
def test_generated_tunes_come_back_equal(tune: Tune) -> None:
    """Every metre, accidental, tie, triplet, chord and repeat survives writing and reading."""
    assert read_tune(write_tune(tune)).tune == tune


def test_a_tie_goes_past_a_grace_to_its_note() -> None:
    """The grace has the accidental of its bar, the tied note that of the note before."""
    read = read_tune("X:1\nM:4/4\nL:1/4\nK:G\n^cE-{_EE}E=c|").tune
    assert read
    tied = read.bars[0].events[2]
    assert [pitch.alter for pitch in tied.grace] == [-1, -1] and tied.pitch and tied.pitch.alter == 0
    assert read_tune(write_tune(read)).tune == read


@settings(max_examples=150, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(rich_tunes())
def test_tunes_with_everything_come_back_equal(tune: Tune) -> None:
    """Verses, signs, slurs, remarks, grace notes, microtones, endings, parts, changes of key, header."""
    assert read_tune(write_tune(tune)).tune == tune


def test_real_tunes_come_back_equal_and_agree_with_music21() -> None:
    """A fixed sample: equal after writing; pitches, durations and bar starts as music21 reads them.

    What may differ is listed by name and cause; over all 4,250 tunes it is less than one in a hundred.
    """
    chosen = sample(SAMPLE)
    known = {name for names in LEFT.values() for name in names}
    said = []
    for tune in chosen:
        ours = read_book(tune.text)[0].tune
        assert ours is None or read_tune(write_tune(ours)).tune == ours, tune
        if text := difference(tune):
            said.append(f"{tune}: {text}")
    assert len(chosen) >= 100
    assert [line for line in said if line.split(": ")[0] not in known] == []
    assert len(known) < 0.01 * 4250


def test_verovio_hears_the_same_pitches() -> None:
    """A second independent reader: verovio gives the demo tunes our pitches in our order."""
    import verovio

    for tune in demo_tunes():
        toolkit = verovio.toolkit()
        toolkit.setOptions({"inputFrom": "abc", "expandNever": True})
        assert toolkit.loadData(write_tune(tune))
        onsets = [entry.get("on", []) for entry in toolkit.renderToTimemap()]
        theirs = [toolkit.getMIDIValuesForElement(note)["pitch"] for ids in onsets for note in ids]
        assert theirs == [pitch.midi for pitch in tune.pitches], tune.title


_SIGNS = st.sampled_from(list("ABCDEFGabcdefg0123456789/|:[](){}<>=^_-\"!'%,zZxXyvuTHKLMQPwV~.+&\\*$#@ \n"))


@settings(max_examples=400, deadline=None)
@given(st.lists(_SIGNS, max_size=120).map("".join))
def test_fuzzed_music_is_read_or_refused(body: str) -> None:
    """Whatever stands in the music, the reader gives a tune or an AbcError, never anything else."""
    for entry in read_book(f"X:1\nM:4/4\nK:G\n{body}\n"):
        assert entry.tune or entry.error


@settings(max_examples=200, deadline=None)
@given(st.text(max_size=200))
def test_fuzzed_text_is_read_or_refused(text: str) -> None:
    """Any text at all."""
    try:
        read_tune(text)
    except AbcError as error:
        assert error.line >= 1 and error.column >= 1


def test_a_voice_inside_brackets_is_no_part_of_the_melody() -> None:
    """Lines that begin with [V:2] are left out like lines under V:2, and said (§7)."""
    entry = read_tune("X:1\nM:2/4\nL:1/8\nK:G\n[V:1] GABc|\n[V:2] z2 d2|\n[V:1] dcBA|\n")
    assert entry.tune and len(entry.tune.bars) == 2
    assert [notice.message for notice in entry.notices] == ["Only the first voice is read."]


@pytest.mark.parametrize("length", ["/300", "/1500", "/2048", "3/700"])
def test_a_length_that_no_tuplet_can_print_is_refused_with_its_place(length: str) -> None:
    """Finer than a 1024th once its tuplet is written: said on the way in, not when the sheet is laid out."""
    with pytest.raises(AbcError, match="shorter than any note") as refused:
        read_tune(f"X:1\nM:4/4\nL:1/8\nK:G\nA2 B{length}|\n")
    assert refused.value.line == 5 and refused.value.remedy
    assert read_tune("X:1\nM:4/4\nL:1/8\nK:G\nA2 B/3 c/5|\n").tune
