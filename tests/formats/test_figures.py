"""Hostile numbers at every border: wherever a number stands in a file or a form, none of them stops or breaks anything.

A number with an exponent of nine digits has a thousand million of them: whoever works it out is not heard of again.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from fractions import Fraction
from xml.etree.ElementTree import Element, fromstring, tostring

import pytest

from nailhead.core.arrange.fit.ladder import build_ladder
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.errors import NailheadError
from nailhead.core.figures import FigureError, clipped, is_digits, read_exact, read_whole
from nailhead.core.fretboard.fit import Wish, fit_tune
from nailhead.core.fretboard.instruments import INSTRUMENTS
from nailhead.formats.abc import read_book, read_tune
from nailhead.formats.musicxml.reader import read_musicxml
from nailhead.formats.musicxml.tab import write_musicxml
from nailhead.formats.musicxml.tab_reader import read_tablature
from tests.core.test_fretboard import BANJO
from tests.core.test_tune import tune

#: What is put in the place of a number.
HOSTILE = (
    "1e999999999",
    "-1E+999999999",
    "9" * 5000,
    "0" * 5000,
    "²",
    "٣",
    "1/0",
    "nan",
    "inf",
    "0x10",
    "1_000",
    "",
    "-7",
)
#: Everything that a score of ours, and of others, has a number in beside what is written here already.
MORE = """<measure><attributes><divisions>4</divisions><transpose><diatonic>1</diatonic><chromatic>2</chromatic>
<octave-change>1</octave-change></transpose><key><fifths>1</fifths></key><time><beats>4</beats><beat-type>4</beat-type>
</time></attributes><direction><direction-type><metronome><beat-unit>quarter</beat-unit><per-minute>90</per-minute>
</metronome></direction-type><sound tempo="90"/></direction><harmony><root><root-step>G</root-step><root-alter>0
</root-alter></root><kind>major</kind><bass><bass-step>B</bass-step><bass-alter>0</bass-alter></bass><offset>2</offset>
</harmony><note><pitch><step>G</step><alter>0</alter><octave>4</octave></pitch><duration>12</duration><time-modification>
<actual-notes>3</actual-notes><normal-notes>2</normal-notes></time-modification><notations><tuplet type="start">
<tuplet-actual><tuplet-number>3</tuplet-number></tuplet-actual><tuplet-normal><tuplet-number>2</tuplet-number>
</tuplet-normal></tuplet><technical><string>3</string><fret>0</fret><bend><bend-alter>1</bend-alter></bend></technical>
</notations><lyric number="1"><text>la</text></lyric></note><backup><duration>2</duration></backup><forward><duration>2
</duration></forward><note><rest/><duration>4</duration></note><barline location="right">
<ending number="1" type="start"/>
<repeat direction="backward" times="2"/></barline></measure>"""


def score() -> Element:
    """A tablature of ours, with one more measure that has whatever else is read."""
    ladder = build_ladder(fit_tune(tune('"G"G2B2 d3c|B8|]'), BANJO, Wish(tuning="gDGBD", capo=2)), "clawhammer")
    root = fromstring(write_musicxml(ladder, level_path(ladder, 4)))
    part = root.find("part")
    assert part is not None
    part.append(fromstring(MORE))
    return root


def numbers(root: Element) -> Iterator[tuple[Element, str]]:
    """Every element and attribute that holds a number, the first of its kind at its kind of place."""
    seen: set[tuple[str, str]] = set()
    for parent in root.iter():
        for element in parent:
            for name, text in (("", element.text or ""), *element.attrib.items()):
                kind = (f"{parent.tag}/{element.tag}", name)
                if re.fullmatch(r"\s*-?\d+(\.\d+)?\s*", text) and kind not in seen:
                    seen.add(kind)
                    yield element, name


def test_no_number_in_a_score_stops_the_reader() -> None:
    """Each in turn is hostile: the score is read without it, or refused with a sentence, as tune and as tablature."""
    root = score()
    places = list(numbers(root))
    assert {element.tag for element, _ in places} >= {
        *("divisions", "duration", "alter", "octave", "fifths", "beats", "capo", "tuning-octave", "string", "fret"),
        *("chromatic", "diatonic", "octave-change", "root-alter", "bass-alter", "offset", "per-minute", "sound"),
        *("actual-notes", "normal-notes", "tuplet-number", "bend-alter", "lyric", "ending", "repeat", "staff-tuning"),
    }
    refused = 0
    for element, name in places:
        kept = element.text if not name else element.attrib[name]
        for text in HOSTILE:
            if name:
                element.attrib[name] = text
            else:
                element.text = text
            raw = tostring(root)
            for read in (read_musicxml, lambda raw: read_tablature(raw, INSTRUMENTS.values())):
                try:
                    read(raw)  # type: ignore[operator]
                except NailheadError as error:
                    refused += 1
                    assert str(error)
        if name:
            element.attrib[name] = kept or ""
        else:
            element.text = kept
    assert refused > len(places)


#: Every place of a number in ABC, as a tune with “#” there.
ABC = (
    "X:#\nT:a\nM:4/4\nK:G\nG4|",
    *(
        f"X:1\nT:a\n{field}\nK:G\nG4|"
        for field in ("M:#/4", "M:4/#", "M:#+3/8", "L:1/#", "L:#/8", "Q:#", "Q:1/4=#", "Q:#/4=60")
    ),
    *(
        f"X:1\nT:a\nM:4/4\nK:G\n{body}"
        for body in ("G#|", "G/#|", "G#/2|", "Gz#|", "G8|Z#|", "(#GGG|", "(3:#:3GGG|", "(3:2:#GGG|")
    ),
    *(
        f"X:1\nT:a\nM:4/4\nK:G\n{body}"
        for body in ("|:G8|# G8:|2 G8|", "|:G8|[1-# G8:|", "^#/2G8|", "_1/#G8|", "[GB]#|", "y#G8|")
    ),
    "X:1\nT:a\nM:4/4\nP:A#\nK:G\nP:A\nG8|",
    "X:1\nT:a\nM:4/4\nK:G clef=treble#\nG8|",
    "X:1\nT:a\nI:nailhead-core +#@1/8:5\nM:4/4\nK:G\nG8|",
    "X:1\nT:a\nI:nailhead-core +1@#/8:5\nM:4/4\nK:G\nG8|",
    "X:1\nT:a\nI:nailhead-core +1@1/#:5\nM:4/4\nK:G\nG8|",
)


@pytest.mark.parametrize("text", ABC)
def test_no_number_in_abc_stops_the_reader(text: str) -> None:
    """A sentence with its line, or a tune."""
    assert "#" in text and read_tune(text.replace("#", "2")).tune
    for hostile in HOSTILE:
        (entry,) = read_book(text.replace("#", hostile)) or (None,)
        assert entry is None or entry.tune or (entry.error and entry.error.line)


def test_a_number_is_read_exactly_or_refused() -> None:
    """Whole, decimal and broken numbers within bounds; the sentence says which, and cuts what is long."""
    assert read_exact(" 2.50 ", 0, 3) == Fraction(5, 2) and read_exact("-3/8", -1, 1) == Fraction(-3, 8)
    assert read_exact(".5", 0, 1) == Fraction(1, 2) and read_exact("-0.25", -1, 0) == Fraction(-1, 4)
    assert read_whole("+12", 0, 12) == 12 and is_digits("12") and not is_digits("²") and not is_digits("")
    assert clipped("0" * 5000 + "7", 9) == 7 and clipped("9" * 5000, 64) == 65 and clipped("", 9) == 0
    for text in (*HOSTILE, "13", "1,5"):
        if text.strip("0"):
            with pytest.raises(FigureError, match="is not a whole number from 0 to 12") as refused:
                read_whole(text, 0, 12, "capo")
            assert refused.value.field == "capo" and len(str(refused.value)) < 100
    for text in (*HOSTILE, "."):
        if text.strip("0"):
            with pytest.raises(FigureError):
                read_exact(text, 0, 12)
