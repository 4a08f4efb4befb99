"""The sheet as PDF, checked by an independent reader: text, fonts, boxes; and everything a sheet can show."""

from __future__ import annotations

import io
import re
from dataclasses import replace

import pypdfium2
import pytest
from pypdf import PdfReader

from nailhead.core.arrange.fit.ladder import Ladder
from nailhead.core.arrange.teacher.arrangement import Arrangement, set_rungs
from nailhead.core.arrange.teacher.path import level_path
from nailhead.core.errors import NailheadError, PathError
from nailhead.sheet.boxes import box
from nailhead.sheet.fonts import FILES, has
from nailhead.sheet.handout import layout_contents, layout_handout
from nailhead.sheet.inks import BLACK, COLOURED, INKS
from nailhead.sheet.marks import Face, Ink, Text
from nailhead.sheet.options import PAPERS, SIZES, WAYS, SheetOptions, read_options
from nailhead.sheet.page import MARGIN, Page, Sheet, layout_sheet
from nailhead.sheet.pdf import POINTS, write_pdf
from nailhead.sheet.setting import DRAWN, Run, measure, set_text
from nailhead.sheet.svg import svg_page
from nailhead.sheet.tab import CHORD_NAMES
from tests.demo import demo_tunes
from tests.sheet.test_layout import ladder_of, overlapping

REEL = next(tune for tune in demo_tunes() if "Lantern" in tune.title)


@pytest.fixture(scope="module")
def reel() -> Ladder:
    return ladder_of(REEL)


def sheet_of(ladder: Ladder, rung: int = 7, **options: object) -> Sheet:
    return layout_sheet(ladder, Arrangement(level_path(ladder, rung)), SheetOptions(**options))  # type: ignore[arg-type]


def test_the_pdf_holds_text_fonts_and_page_boxes(reel: Ladder) -> None:
    """Read by pypdf: every page of the paper's size, words to be found and copied, every face embedded."""
    for paper in PAPERS:
        sheet = sheet_of(reel, paper=paper, diagrams=True)
        reader = PdfReader(io.BytesIO(write_pdf([sheet], "A title")))
        assert len(reader.pages) == len(sheet.pages) > 1
        for page in reader.pages:
            width, height = PAPERS[paper]
            assert float(page.mediabox.width) == pytest.approx(width * POINTS, abs=0.01)
            assert float(page.mediabox.height) == pytest.approx(height * POINTS, abs=0.01)
            for font in page["/Resources"]["/Font"].values():  # type: ignore[index]
                found = font.get_object()
                if "/FontDescriptor" in found:
                    assert "/FontFile2" in found["/FontDescriptor"]
                    assert re.fullmatch(r"/[A-Z]{6}\+.*", str(found["/FontDescriptor"]["/FontName"]))
        text = " ".join(page.extract_text() for page in reader.pages)
        for wanted in ("Lantern on the Weir", "Kick-off", "Second time through", "Ending", "hammer-on", "page 2 of"):
            assert wanted in text
        assert reader.metadata and reader.metadata.title == "A title"
        assert [entry.title for entry in reader.outline] == ["Lantern on the Weir"]  # type: ignore[union-attr]


def test_the_same_sheet_is_the_same_file(reel: Ladder) -> None:
    """No date, no chance in it."""
    assert write_pdf([sheet_of(reel)], "x") == write_pdf([sheet_of(reel)], "x")


def test_signs_the_faces_lack_are_drawn(reel: Ladder) -> None:
    """Sharps and flats, a comma's raised figure, an arrow, even an unknown letter: all set, all with their width."""
    assert not has("♯", Face.TEXT, False) and set(DRAWN) == {"♯", "♭", "↓"}
    for text in ("F♯m7/C♯", "B♭²", "gCGCD↓2", "E♭⅓", "F♯³⁵", "日"):
        for bold in (False, True):
            pieces = list(set_text(Text(10, 10, text, 4, bold=bold, anchor="end")))
            letters = "".join(piece.text for piece in pieces if isinstance(piece, Run))
            assert not set(letters) & set(DRAWN) and pieces
            rights = [piece.x + piece.advance for piece in pieces if isinstance(piece, Run)]
            assert max(rights, default=0) <= 10 + 1e-6
            assert measure(text, 4, bold) > measure(letters, 4, bold) * 0.99


def test_letters_of_other_scripts_are_set(reel: Ladder) -> None:
    """Greek, Cyrillic and a Turkish capital in a face that has them; only what is used is brought along."""
    for text in ("Σαν τη θάλασσα", "Тихая вода", "İki dağ, ŵy", "½ bar"):
        for face in (Face.TEXT, Face.TITLE):
            runs = [piece for piece in set_text(Text(0, 0, text, 4, face=face)) if isinstance(piece, Run)]
            assert "".join(run.text for run in runs) == text
    named = ladder_of(replace(REEL, title="Тихая вода, İki"))
    sheet = layout_sheet(named, Arrangement(level_path(named, 1)))
    page = PdfReader(io.BytesIO(write_pdf([sheet], "x"))).pages[0]
    assert "Тихая вода, İki" in " ".join(page.extract_text().split())
    alone = svg_page(sheet.pages[0].marks, sheet.width, sheet.height, "x", alone=True)
    plain = svg_page(sheet_of(reel).pages[0].marks, 210, 297, "x", alone=True)
    assert "'Noto Sans';" in alone and "'Noto Sans';" not in plain


def test_widths_are_those_that_are_drawn() -> None:
    """PDFium's own extent of a printed line against the width the layout reckoned with."""
    text = "Wayfaring millers jig"
    for (face, bold), _ in FILES.items():
        line = Text(20, 50, text, 10, bold=bold, face=face, anchor="start")
        document = pypdfium2.PdfDocument(write_pdf([Sheet("x", "A4", 210, 297, (Page((line,)),))], "x"))
        left, _, right, _ = next(iter(document[0].get_objects())).get_bounds()
        assert (right - left) / POINTS == pytest.approx(measure(text, 10, bold, face), abs=1.2)


def luminance(colour: str) -> float:
    """Relative luminance (WCAG 2.2)."""
    parts = [int(colour[at : at + 2], 16) / 255 for at in (1, 3, 5)]
    linear = [part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


@pytest.mark.parametrize("name", INKS)
def test_inks_can_be_read_and_black_is_without_colour(name: str) -> None:
    """Everything that is read has 4.5 : 1 on paper; black and white holds nothing but greys."""
    for ink, colour in INKS[name].items():
        if ink not in (Ink.PAPER, Ink.ON_MELODY, Ink.STRING):
            assert 1.05 / (luminance(colour) + 0.05) >= 4.5, ink
    assert 1.05 / (luminance(INKS[name][Ink.MELODY]) + 0.05) >= 4.5, "white on a nailhead"
    assert all(len({c[1:3], c[3:5], c[5:7]}) == 1 for c in BLACK.values())
    assert COLOURED.keys() == BLACK.keys() == set(Ink)


@pytest.mark.parametrize("size", SIZES)
@pytest.mark.parametrize("tune", demo_tunes(), ids=lambda tune: tune.title)
def test_every_option_prints_clean(size: str, tune) -> None:  # type: ignore[no-untyped-def]
    """Large print, fingers, diagrams, upside down, each way of naming chords: nothing cut, no text on another."""
    ladder = ladder_of(tune)
    for names, turned in zip(CHORD_NAMES, (False, True, False, True), strict=True):
        sheet = sheet_of(ladder, 6, size=size, fingers=True, diagrams=True, chords=names, upside_down=turned)
        for page in sheet.pages:
            assert overlapping(list(page.marks)) == [], names
            for mark in page.marks:
                left, top, right, bottom = box(mark)
                assert left >= MARGIN - 1 and right <= sheet.width - MARGIN + 1, mark
                assert top >= MARGIN - 5 and bottom <= sheet.height - MARGIN + 4, mark


def words_on(sheet: Sheet) -> set[str]:
    return {mark.text for page in sheet.pages for mark in page.marks if isinstance(mark, Text)}


def test_options_show_and_leave_out(reel: Ladder) -> None:
    """Each thing that can be left out is on the sheet with it and off without it."""
    everything = words_on(sheet_of(reel, diagrams=True, fingers=True))
    for option, word in (
        ("kick_off", "Kick-off"),
        ("second", "Second time through"),
        ("ending", "Ending"),
        ("key", "chord note"),
        ("hands", "T"),
        ("fingers", "left finger, index to little"),
    ):
        assert word in everything
        assert word not in words_on(sheet_of(reel, diagrams=True, **{"fingers": True, option: False})), option
    assert "Kick-off" not in words_on(sheet_of(reel, 5)), "only a solo is kicked off"
    assert any("clawhammer · swing" in text for text in words_on(sheet_of(reel, feel="swing")))
    high = ladder_of(REEL, key="A", tuning="gDGBD", capo=2)
    for names, there, gone in (("shape", "G", "A"), ("sound", "A", "G")):
        heads = [m for p in sheet_of(high, 2, chords=names, key=False).pages for m in p.marks if isinstance(m, Text)]
        chords = {mark.text for mark in heads if mark.bold and mark.size > 3.6 and mark.face is Face.TEXT}
        assert there in chords and gone not in chords


def test_a_second_time_of_its_own_is_printed(reel: Ladder) -> None:
    """The bars that differ, by their numbers, under a heading."""
    start = Arrangement(level_path(reel, 2))
    assert "Second time through" not in words_on(layout_sheet(reel, start))
    own = set_rungs(reel, start, [3], 5, second=True)
    assert "Second time through" in words_on(layout_sheet(reel, own))


def test_kept_options_survive_and_old_ones_do_no_harm() -> None:
    """What is not known any more, or of another kind, is left at its default; what cannot be is refused."""
    assert read_options({"paper": "Letter", "fingers": True, "gone": 1, "words": "yes"}) == SheetOptions(
        "Letter", fingers=True
    )
    for field, known in WAYS.items():
        with pytest.raises(NailheadError, match="There is no") as refused:
            SheetOptions(**{field: "odd"})
        assert refused.value.field == field and next(iter(known)) in refused.value.remedy


def test_a_handout_has_rungs_under_one_another(reel: Ladder) -> None:
    """Three rungs of two phrases: names, beats aligned, nothing on another; phrases are not parted by a page."""
    laid = layout_handout(reel, [5, 2, 4], [0, 1], SheetOptions(fingers=True))
    for page in laid.pages:
        assert overlapping(list(page.marks)) == []
    names = [
        mark
        for mark in laid.pages[0].marks
        if isinstance(mark, Text) and mark.text in ("Basic stroke", "Slurs", "Flow")
    ]
    assert [name.text for name in sorted(names, key=lambda name: name.y)][:3] == ["Basic stroke", "Slurs", "Flow"]
    for rungs, phrases in (([2], [9]), ([9], [0]), ([], [0]), ([2], [])):
        with pytest.raises(PathError):
            layout_handout(reel, rungs, phrases, SheetOptions())


def test_contents_of_a_packet_take_as_many_pages_as_needed() -> None:
    """Long titles are made to fit; page numbers stand at the right."""
    entries = [(f"Tune {number} with quite a long name " * 3, "Five-string banjo", number) for number in range(1, 61)]
    laid = layout_contents(entries, "A4", "A packet")
    assert len(laid.pages) == 3
    for page in laid.pages:
        assert overlapping(list(page.marks)) == []
        assert all(box(mark)[2] <= 210 - MARGIN + 1 for mark in page.marks)
