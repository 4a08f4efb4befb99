"""Notes entered into ABC text by key or fretboard, places of events in the text, words by the line."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nailhead.core.errors import NailheadError, TuneError
from nailhead.core.music.pitch import parse_pitch
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_tune, write_tune
from nailhead.formats.abc.entry import NewNote, enter_bar_line, enter_note, move_octave, toggle_tie
from nailhead.formats.abc.source import bar_at, event_spans, staff_text
from nailhead.formats.abc.words import set_verses, word_lines
from nailhead.formats.abc.writer import music_lines
from tests.demo import demo_tunes
from tests.tunes import rich_tunes

HEAD = "X:1\nT:New\nM:4/4\nL:1/8\nK:G\n"
QUARTER, EIGHTH = Fraction(1, 4), Fraction(1, 8)


def typed(notes: str, head: str = HEAD, length: Fraction = QUARTER, **more: object) -> str:
    """The body after entering letters one by one behind each other; z is a rest."""
    text, at = head, len(head)
    for letter in notes.split():
        step = "" if letter == "z" else letter
        entered = enter_note(text, at, NewNote(length, step, **more))  # type: ignore[arg-type]
        text, at = entered.text, entered.at
    return text[len(head) :]


def test_letters_take_the_key_and_the_nearest_octave() -> None:
    """In G the F is sharp without a sign; each letter comes out in the octave nearest the last note."""
    assert typed("G B D G F") == "G2B2 d2g2 | f2"
    assert str(read_tune(HEAD + typed("G B D F")).tune.pitches[-1]) == "F♯5"  # type: ignore[union-attr]


def test_bar_lines_come_by_themselves() -> None:
    """A full bar gets its line, four bars a line break; a note over the line is cut and tied, a rest cut."""
    assert typed("G G G G A") == "G2G2 G2G2 | A2"
    assert typed(" ".join("G" * 16)).count("\n") == 1
    text = HEAD + "G2G2 G2"
    entered = enter_note(text, len(text), NewNote(Fraction(1, 2), "A"))
    assert entered.text == text + "A2- | A2"
    assert enter_note(text, len(text), NewNote(Fraction(1, 2))).text == text + "z2 | z2"


def test_signs_are_written_where_they_are_needed() -> None:
    """A natural F in G needs its sign once a bar, not on the note after it; the next bar starts afresh."""
    text = HEAD
    at = len(text)
    for _ in range(5):
        entered = enter_note(text, at, NewNote(QUARTER, "F", alter=0))
        text, at = entered.text, entered.at
    assert text[len(HEAD) :] == "=F2F2 F2F2 | =F2"


def test_commas_are_entered_and_come_back() -> None:
    """B♭² and F♯³ by their counts, in any key: written as fractions, read as the same pitches (handbook, §2)."""
    for step, commas in (("B", -2), ("F", 3)):
        entered = enter_note(HEAD, len(HEAD), NewNote(QUARTER, step, alter=0, commas=commas))
        tune = read_tune(entered.text).tune
        assert tune and (tune.pitches[0].step, tune.pitches[0].alter, tune.pitches[0].commas) == (step, 0, commas)


@pytest.mark.parametrize(
    ("pitch", "expected"), [("G4", "G2"), ("F#4", "F2"), ("F4", "=F2"), ("Bb4", "_B2"), ("D3", "D,2"), ("A5", "a2")]
)
def test_a_fret_is_spelled_in_the_key(pitch: str, expected: str) -> None:
    """What a string sounds at a fret becomes the note of the key, with a sign where the key has none."""
    entered = enter_note(HEAD, len(HEAD), NewNote(QUARTER, cents=parse_pitch(pitch).cents))
    assert entered.text == HEAD + expected


def test_a_triplet_is_opened_once_and_fills_up() -> None:
    """Three eighths in the time of two; the fourth note stands alone again."""
    assert "(3" not in typed("G A B C D", length=EIGHTH)
    text, at = HEAD, len(HEAD)
    for letter, triplet in (("G", True), ("A", True), ("B", False), ("C", False)):
        entered = enter_note(text, at, NewNote(EIGHTH, letter, triplet=triplet))
        text, at = entered.text, entered.at
    assert text[len(HEAD) :] == "(3GABc"
    durations = [str(event.duration) for event in read_tune(text).tune.bars[0].events]  # type: ignore[union-attr]
    assert durations == ["1/12", "1/12", "1/12", "1/8"]


def test_ties_octaves_and_bar_lines() -> None:
    """A tie goes on and off, the last note moves by octaves, a bar line by hand makes a pickup."""
    text = HEAD + "G2"
    tied = toggle_tie(text, len(text))
    assert tied.text == HEAD + "G2-"
    assert toggle_tie(tied.text, tied.at).text == text
    over = HEAD + "G4 G4 | "
    assert toggle_tie(over, len(over)).text == HEAD + "G4 G4- | "
    assert move_octave(text, len(text), 1).text == HEAD + "g2"
    assert move_octave(text, len(text), -1).text == HEAD + "G,2"
    assert enter_bar_line(text, len(text)).text == HEAD + "G2 | "
    tune = read_tune(enter_bar_line(text, len(text)).text + "A8|").tune
    assert tune and tune.has_pickup


def test_an_entry_never_lands_inside_a_note_or_a_field() -> None:
    """Between letter and length, in the header, on a line of words: the place is moved to where music may stand."""
    text = HEAD + "G2A2 |\nw: one two\n"
    inside = enter_note(text, len(HEAD) + 1, NewNote(QUARTER, "B"))
    assert read_tune(inside.text).tune and inside.text.startswith(HEAD + "G2B2")
    for place in (0, 12, text.index("two")):
        entered = enter_note(text, place, NewNote(QUARTER, "B"))
        assert entered.text == text + "B2"


def test_a_note_in_the_middle_of_a_bar_adds_no_bar_line() -> None:
    """The bar then holds too much, and the bar table says so."""
    text = HEAD + "G4 A4 | B8 |"
    entered = enter_note(text, len(HEAD) + 2, NewNote(Fraction(1, 2), "D"))
    assert entered.text.count("|") == 2


@pytest.mark.parametrize(
    "call",
    [
        lambda: toggle_tie(HEAD, len(HEAD)),
        lambda: move_octave(HEAD + "z2", len(HEAD) + 2, 1),
        lambda: move_octave(HEAD + "c'''", len(HEAD) + 4, 1),
        lambda: enter_bar_line(HEAD, len(HEAD)),
        lambda: enter_note(HEAD, len(HEAD), NewNote(Fraction(9), "G")),
        lambda: enter_note(HEAD + "G0", len(HEAD) + 2, NewNote(QUARTER, "G")),
        lambda: enter_note("no key", 3, NewNote(QUARTER, "G")),
    ],
)
def test_what_cannot_be_entered_is_refused(call) -> None:  # type: ignore[no-untyped-def]
    """With a remedy; the text is not touched."""
    with pytest.raises(NailheadError) as refused:
        call()
    assert refused.value.remedy


@settings(max_examples=80, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(st.sampled_from(demo_tunes()), st.data())
def test_an_entry_anywhere_leaves_a_readable_tune(tune: Tune, data: st.DataObject) -> None:
    """At any offset of a good text the result is read, and holds one note more (two where a bar line cuts it)."""
    text = write_tune(tune)
    at = data.draw(st.integers(0, len(text)))
    entered = enter_note(text, at, NewNote(QUARTER, "G"))
    found = read_tune(entered.text).tune
    assert found and 1 <= len(found.pitches) - len(tune.pitches) <= 2


# -- places


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(rich_tunes())
def test_every_event_knows_its_place(tune: Tune) -> None:
    """A span for each event of each bar, in order, over a note or rest of that name."""
    text = write_tune(tune)
    spans = event_spans(text, read_tune(text))
    assert [len(bar) for bar in spans] == [len(bar.events) for bar in tune.bars]
    flat = [span for bar in spans for span in bar]
    assert flat == sorted(flat)
    for (start, end), event in zip(flat, [e for bar in tune.bars for e in bar.events], strict=True):
        piece = text[start:end].lstrip("^_=/0123456789")
        assert piece[0].upper() == (event.pitch.step if event.pitch else "Z")


def test_the_bar_at_a_place_is_found() -> None:
    """Offsets in the header belong to the first bar, behind the last note to the last."""
    text = HEAD + "G8|A8|\nB8|\n"
    spans = event_spans(text, read_tune(text))
    assert [bar_at(spans, at) for at in (0, len(HEAD) + 1, len(HEAD) + 4, len(text))] == [0, 0, 1, 2]


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(rich_tunes())
def test_a_staff_text_keeps_every_place(tune: Tune) -> None:
    """Microtones are replaced, nothing moves, and what is left are signs any reader knows."""
    text = write_tune(tune)
    plain = staff_text(text)
    assert len(plain) == len(text)
    assert [place for place, sign in enumerate(plain) if sign == "\n"] == [
        place for place, sign in enumerate(text) if sign == "\n"
    ]
    assert "/53" not in plain


def test_a_comma_shows_its_figure_on_the_staff() -> None:
    """B♭² becomes a flat with a 2 over it; a quarter tone keeps its half sign; text in quotes is left alone."""
    assert staff_text("K:Am\n_24/53B _1/2c ^/d") == 'K:Am\n "^2"_B   _/c ^/d'
    assert staff_text('"_1/2B"c') == '"_1/2B"c'


# -- words


def test_words_are_set_line_by_line() -> None:
    """One line of a verse under each line of music, several verses; written back as they were given."""
    tune = read_tune(HEAD + "GABc d4|\ne4 d4|\n").tune
    assert tune
    lines = list(music_lines(tune.bars))
    sung = set_verses(tune, lines, ["one two three four five\nsix- seven", "la"])
    assert [word_lines(line) for line in music_lines(sung.bars)] == [["one two three four five", "la"], ["six- seven"]]
    assert read_tune(write_tune(sung)).tune == sung
    assert set_verses(sung, lines, []) == tune


@pytest.mark.parametrize(("verse", "said"), [("a\nb\nc", "3 lines, the music 2"), ("a b c d e f", "6 syllables on 5")])
def test_too_many_words_are_refused(verse: str, said: str) -> None:
    """Nothing is dropped in silence."""
    tune = read_tune(HEAD + "GABc d4|\ne4 d4|\n").tune
    assert tune
    with pytest.raises(TuneError, match=said) as refused:
        set_verses(tune, list(music_lines(tune.bars)), [verse])
    assert refused.value.field == "words"
