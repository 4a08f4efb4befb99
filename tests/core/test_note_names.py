"""What notes are called: letters, fixed syllables, numbers of the key (handbook §2)."""

from __future__ import annotations

import pytest

from nailhead.core.arrange.fit.ladder import build_ladder
from nailhead.core.arrange.teacher.arrangement import Arrangement
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.arrange.values import Role
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import find_instrument
from nailhead.core.music.key import parse_key
from nailhead.core.music.note_names import LETTERS, NOTE_NAMES, lettered, note_name
from nailhead.core.music.pitch import Pitch
from nailhead.formats.text_tab import write_text
from nailhead.sheet.marks import Ink, Text
from nailhead.sheet.options import SheetOptions
from nailhead.sheet.page import layout_sheet
from tests.core.test_tune import tune
from tests.demo import all_demo_tunes
from tests.sheet.test_layout import overlapping


@pytest.mark.parametrize(("step", "syllable"), zip("CDEFGAB", ["Do", "Re", "Mi", "Fa", "Sol", "La", "Si"], strict=True))
@pytest.mark.parametrize("key", ["C", "D", "Am"])
def test_syllables_are_fixed(step: str, syllable: str, key: str) -> None:
    """Do Re Mi Fa Sol La Si are C D E F G A B in every key (handbook §2: "fixed names")."""
    assert note_name(Pitch(step, 0, 4), parse_key(key), "Do Re Mi") == syllable
    assert note_name(Pitch(step, -1, 4, -2), parse_key(key), "Do Re Mi").startswith(f"{syllable}♭")


def test_numbers_count_from_the_tonic() -> None:
    """1 is the tonic (handbook §2); the key's own notes need no sign, others show theirs."""
    d = parse_key("D")
    scale = [Pitch(step, int(step in "FC"), 4) for step in "DEFGABC"]
    assert [note_name(pitch, d, "numbers") for pitch in scale] == list("1234567")
    assert note_name(Pitch("F", 0, 4), d, "numbers") == "♮3"
    assert note_name(Pitch("G", 1, 4), d, "numbers") == "♯4"


def test_commas_of_the_key_are_numbers_without_a_sign() -> None:
    """In A minor with B♭² that note is 2, a plain B is not."""
    bar = tune("A4B4|]", "4/4", "Am _24/53b").bars[0]
    a, b = (event.pitch for event in bar.events)
    assert a and b and b.commas
    assert [note_name(pitch, bar.key, "numbers") for pitch in (a, b)] == ["1", "2"]
    assert note_name(b, bar.key, "Do Re Mi") == "Si" + b.name[1:]
    assert note_name(Pitch("B", 0, 4), bar.key, "numbers") == "♮2"


@pytest.mark.parametrize("way", NOTE_NAMES[:2])
def test_letters_are_the_names_they_have(way: str) -> None:
    assert note_name(Pitch("F", 1, 5), parse_key("G"), way) == "F♯"


@pytest.mark.parametrize("way", NOTE_NAMES)
def test_sheet_and_text_have_a_name_under_every_melody_note(way: str) -> None:
    """As many as melody notes are sounded, in the words of the choice, none where none are wanted; nothing overlaps."""
    saz = find_instrument("saz")
    walnut = next(found for found in all_demo_tunes() if found.title == "Walnut Court")
    ladder = build_ladder(fit_tune(walnut, saz, Wish(tuning="A-D-G")), "plectrum")
    path = level_path(ladder, 3)
    text = write_text(ladder, path, names=way)
    pages = [page.marks for page in layout_sheet(ladder, Arrangement(path), SheetOptions(names=way)).pages]
    called = {"none": "", "letters": "B♭²", "Do Re Mi": "Si♭²", "numbers": "2"}[way]
    printed = [mark.text for marks in pages for mark in marks if isinstance(mark, Text) and mark.ink is Ink.MELODY]
    notes = [n for bar in ladder.rungs[2] for s in bar.strokes for n in s.notes if n.role is Role.MELODY and not n.held]
    if way == "none":
        assert not [line for line in text.splitlines() if "Si" in line] and len(printed) < len(notes)
        return
    assert called in text and called in printed
    assert sum(name.strip("()♭♯♮²³123456789") == "" or name[0].isalpha() for name in printed) >= len(notes)
    assert all(overlapping(marks) == [] for marks in pages)


@pytest.mark.parametrize(
    ("name", "read"),
    [
        ("B", "H"),
        ("B♭", "B"),
        ("Bm7", "Hm7"),
        ("B♭maj7/D", "Bmaj7/D"),
        ("G/B", "G/H"),
        ("B♭7/B", "B7/H"),
        ("Plays B♭ major, sounds B minor", "Plays B major, sounds H minor"),
        ("E♭", "E♭"),
        ("F♯m", "F♯m"),
    ],
)
def test_the_german_letters(name: str, read: str) -> None:
    """B is H and B flat is B, as root, bass, note and key (common practice); in English nothing changes."""
    assert lettered(name, LETTERS[1]) == read
    assert lettered(name, LETTERS[0]) == name
