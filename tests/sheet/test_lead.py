"""Lead sheets: inside their margins, nothing on another thing, every note, word and chord of the tune on them."""

from __future__ import annotations

import io

import pytest
from pypdf import PdfReader

from nailhead.core.arrange.values import ArrangedBar
from nailhead.core.music.harmonise import suggest_chords
from nailhead.core.music.metre import ZERO
from nailhead.core.music.tune import Tune
from nailhead.formats.abc import read_tune
from nailhead.sheet.boxes import box
from nailhead.sheet.lead import layout_lead
from nailhead.sheet.marks import Ink, Mark, Sign, Text
from nailhead.sheet.options import PAPERS
from nailhead.sheet.page import MARGIN
from nailhead.sheet.passages import Item
from nailhead.sheet.pdf import write_pdf
from nailhead.sheet.staff.moments import Writing, melody_moments
from tests.corpora import readable
from tests.demo import demo_tunes
from tests.sheet.test_layout import overlapping


def pages(tune: Tune, paper: str = "A4") -> list[list[Mark]]:
    return [list(page.marks) for page in layout_lead(tune, paper).pages]


def heads(tune: Tune) -> int:
    """Printed note heads of the written melody, graces aside."""
    writing = Writing(None, 0, tune.key)
    items = (Item(bar, ArrangedBar(bar.number, 1, ()), ZERO) for bar in tune.bars)
    return sum(len(moment.pitches) for item in items for moment in melody_moments(item, writing))


def check(tune: Tune, paper: str) -> None:
    width, height = PAPERS[paper]
    found = pages(tune, paper)
    for marks in found:
        for mark in marks:
            left, top, right, bottom = box(mark)
            assert left >= MARGIN - 1 and right <= width - MARGIN + 1, (tune.title, mark)
            assert top >= MARGIN - 5 and bottom <= height - MARGIN + 4, (tune.title, mark)
        assert overlapping(marks) == [], tune.title
    drawn = [mark for marks in found for mark in marks]
    large = max((mark.em for mark in drawn if isinstance(mark, Sign) and mark.name.startswith("notehead")), default=0)
    printed = [m for m in drawn if isinstance(m, Sign) and m.name.startswith("notehead") and m.em == large]
    assert len(printed) == heads(tune), tune.title
    names = [mark.text for mark in drawn if isinstance(mark, Text) and mark.size == 1.5 * 3.0]
    assert names == [str(entry.chord) for bar in suggest_chords(tune).bars for entry in bar.chords], tune.title


@pytest.mark.parametrize("paper", PAPERS)
@pytest.mark.parametrize("tune", demo_tunes(), ids=lambda tune: tune.title)
def test_demo_tunes(tune: Tune, paper: str) -> None:
    """Songs, reels, a nine and a ten, an air with words and a fermata, on both papers."""
    check(tune, paper)


def test_real_tunes() -> None:
    """The same of 24 tunes that nobody chose."""
    for tune in readable(24):
        check(tune, "A4")


def test_the_words_are_printed_in_their_order() -> None:
    """What a PDF reader reads under the notes is the verse; suggested chords are grey and said to be so."""
    tune = next(tune for tune in demo_tunes() if "Low Tide" in tune.title)
    text = PdfReader(io.BytesIO(write_pdf([layout_lead(tune)], tune.title))).pages[0].extract_text()
    assert "Low Tide at Annisk" in text and "suggestions" not in text
    words = [word for bar in tune.bars for event in bar.events for word in event.words if word != "_"]
    where = [text.replace("\n", " ").find(word) for word in ("bells", "slept", "gulls", "sand;", "nets", "land.")]
    assert len(words) > 30 and -1 not in where and where == sorted(where)
    bare = read_tune("X:1\nT:Bare\nM:3/4\nL:1/4\nK:G\nGBd|gdB|GAB|G3|]\n").tune
    assert bare
    said = [mark for mark in pages(bare)[0] if isinstance(mark, Text)]
    assert any("suggestions" in mark.text for mark in said)
    assert {mark.ink for mark in said if mark.size == 4.5} == {Ink.FAINT}
