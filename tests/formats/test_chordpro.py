"""ChordPro: words and chords in their order, a grid where there are no words (directives after chordpro.org)."""

from __future__ import annotations

import re

from nailhead.core.music.harmonise import suggest_chords
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_tune
from nailhead.formats.chordpro import write_chordpro
from tests.corpora import readable
from tests.demo import demo_tunes

SONG = """X:1
T:The Ferry {Song}
M:3/4
L:1/4
Q:1/4=90
K:Bb
"Bb"B|"Eb"e2 d|"F7"c2 "Bb"B|"Cm"c3|"F"F2|]
w:O fer-ry-man, wait for the tide
w:So well-\\-known a tune is my own
"""


def test_a_song_word_for_word() -> None:
    """Title without braces, key and tempo; chords stand before their syllables, also inside a word."""
    tune = read_tune(SONG).tune
    assert tune
    lines = write_chordpro(tune).splitlines()
    assert lines[:4] == ["{title: The Ferry (Song)}", "{key: Bb}", "{time: 3/4}", "{tempo: 90}"]
    assert lines[5:8] == [
        "{start_of_verse: Verse 1}",
        "[Bb]O [Eb]ferry[F7]man, [Bb]wait [Cm]for [F]the",
        "{end_of_verse}",
    ]
    assert "{start_of_verse: Verse 2}" in lines


def in_order(wanted: list[str], found: list[str]) -> bool:
    rest = iter(found)
    return all(any(one == other for other in rest) for one in wanted)


def ascii_chords(tune: Tune) -> list[str]:
    return [str(at.chord).replace("♯", "#").replace("♭", "b") for bar in suggest_chords(tune).bars for at in bar.chords]


def test_every_chord_of_real_tunes_is_there_once() -> None:
    """Grids of tunes without words, and of the demo's: all chords, none twice, bars between lines; suggestions said."""
    for tune in [*readable(30), *demo_tunes()]:
        text = write_chordpro(tune)
        grid = [line for line in text.splitlines() if line.startswith("|")]
        if any(event.words for bar in tune.bars for event in bar.events):
            assert re.findall(r"\[([^]]+)\]", text) == ascii_chords(tune), tune.title
            continue
        cells = [cell for line in grid for cell in line.replace("|", " ").split() if cell != "."]
        assert in_order(cells, ascii_chords(tune)) and cells, tune.title
        assert sum(line.count("|") - 1 for line in grid) == len(tune.bars), tune.title
        assert ("suggestions" in text) == (not tune.has_chords)


def test_words_come_back() -> None:
    """Without its chords a verse is what was sung."""
    tune = next(tune for tune in demo_tunes() if "Low Tide" in tune.title)
    text = re.sub(r"\[[^]]+\]", "", write_chordpro(tune))
    assert "The bells have slept in the harbour till day, and\ngulls walk home on the sand; the" in text
