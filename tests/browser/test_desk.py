"""Shelf, bringing in and desk in Chromium: what a teacher does with a tune before it is arranged."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from nailhead.core.arrange.teacher.path import level_path
from nailhead.demo.shelf import TUNES
from nailhead.formats.abc import read_tune
from nailhead.formats.midi import write_midi
from nailhead.formats.musicxml import write_melody
from nailhead.formats.musicxml.archive import pack
from nailhead.formats.musicxml.tab import write_musicxml
from tests.browser.conftest import axe
from tests.demo import demo_tunes
from tests.sheet.test_layout import ladder_of

pytestmark = pytest.mark.browser

#: Tunes on the invented shelf.
COUNT = len(list(TUNES.glob("*.abc")))

BOOK = """% a teacher's book
X:1
T:Heron's Corner
R:reel
M:4/4
L:1/8
K:D
|:d2fd A2FA|Bcde fdAF|G2BG F2AF|E2gf edcB:|

X:2
T:A Lost Page
M:4/4
L:1/8
K:G
G2B2 d0|

X:3
T:Two at the Gate
M:4/4
L:1/8
K:A
V:1
A2ce a2ec|d2fd e2cA|]
V:2
A,8|D8|]
"""


def open_desk(page: Page, address: str, title: str = "Lantern on the Weir") -> None:
    page.goto(address)
    page.get_by_role("link", name=title).click()
    expect(page.locator(".form-strip")).to_be_visible()
    expect(page.locator(".staff svg")).to_be_visible()


def text_of(page: Page) -> str:
    """The text in the editor, line by line."""
    return "\n".join(page.locator(".cm-line").all_inner_texts()).replace("\u200b", "")


def tool(page: Page, name: str) -> None:
    page.get_by_role("tab", name=name, exact=True).click()


def saved(page: Page) -> None:
    expect(page.get_by_role("status").filter(has_text=re.compile("^Saved$"))).to_be_visible()


# -- the shelf


def test_the_shelf_is_searched_and_sorted(page: Page, address: str) -> None:
    """Seven invented tunes; typing finds one; a column head turns the order."""
    page.goto(address)
    expect(page.locator("tbody tr")).to_have_count(COUNT)
    page.get_by_label("Find a tune").fill("waltz")
    expect(page.locator("tbody tr")).to_have_count(1)
    expect(page.get_by_role("link", name="Hazel at the Window")).to_be_visible()
    page.get_by_label("Find a tune").fill("")
    page.get_by_role("button", name="Bars").click()
    expect(page.locator("tbody tr").first).to_contain_text("Plum Orchard Road")
    page.get_by_role("button", name="Bars").click()
    expect(page.locator("tbody tr").first).to_contain_text("Hazel at the Window")


def test_tag_archive_delete_and_undo(page: Page, address: str) -> None:
    """A row opens its card; what is deleted comes back with one click."""
    page.goto(address)
    page.locator("tbody tr").nth(1).click()
    page.get_by_label("Tags").fill("Tuesday, easy")
    page.get_by_role("button", name="Tag", exact=True).click()
    page.get_by_label("Tagged").select_option("tuesday")
    expect(page.locator("tbody tr")).to_have_count(1)
    page.get_by_label("Tagged").select_option("")
    expect(page.locator("tbody tr")).to_have_count(COUNT)
    page.locator("tbody tr").nth(1).click()
    page.get_by_role("button", name="Delete").click()
    expect(page.locator("tbody tr")).to_have_count(COUNT - 1)
    page.get_by_role("button", name="Undo").click()
    expect(page.locator("tbody tr")).to_have_count(COUNT)
    page.locator("tbody tr").filter(has_text="Hazel at the Window").click()
    page.get_by_role("button", name="Duplicate").click()
    expect(page.locator("tbody tr")).to_have_count(COUNT + 1)
    page.get_by_role("link", name="Hazel at the Window (copy)").wait_for()
    page.get_by_role("button", name="Archive", exact=True).click()
    expect(page.locator("tbody tr")).to_have_count(COUNT)
    page.get_by_role("button", name="The archive").click()
    expect(page.locator("tbody tr")).to_have_count(1)


def test_a_tune_is_written_from_nothing_by_keys(page: Page, address: str) -> None:
    """A title and a key, then letters, lengths, a triplet, a tie and a fret; the tune is on the shelf and set up."""
    page.goto(address)
    page.get_by_label("Title of the new tune").fill("Mill Stream")
    page.get_by_role("button", name="Write").click()
    expect(page.get_by_role("heading", name="Mill Stream")).to_be_visible()
    tool(page, "Notes")
    pad = page.get_by_role("group", name="Keys for notes")
    pad.focus()
    for key in "4gb8dbt8gab":
        page.keyboard.press(key)
    page.keyboard.press("t")
    page.keyboard.press("4")
    for key in ("d", "-", "d", "z"):
        page.keyboard.press(key)
    page.get_by_role("button", name="String 1, fret 4: F♯4").click()
    expect(page.locator(".cm-content")).to_contain_text("G2B2 dB(3GAB |")
    saved(page)
    tune = read_tune(text_of(page)).tune
    assert tune
    assert [str(pitch) for pitch in tune.pitches][:7] == ["G4", "B4", "D5", "B4", "G4", "A4", "B4"]
    assert [str(pitch) for pitch in tune.pitches][-1] == "F♯4"
    assert [event.tied for event in tune.bars[1].events] == [True, False, False, False]
    assert tune.bars[1].events[2].pitch is None
    page.keyboard.press("Shift+Tab")
    page.get_by_role("link", name="Setup").click()
    expect(page.locator(".list .picked")).to_contain_text("sounds G major")


# -- bringing in


def test_a_book_with_good_and_bad_tunes(page: Page, address: str, tmp_path: Path) -> None:
    """The list names what cannot be read and what is left out; only what is ticked comes in."""
    file = tmp_path / "book.abc"
    file.write_text(BOOK, encoding="utf-8")
    page.goto(address)
    page.get_by_role("link", name="Look into a book").click()
    expect(page.get_by_label("paste ABC")).to_be_visible()
    page.get_by_label("Tune file").set_input_files(str(file))
    rows = page.locator(".tunes li")
    expect(rows).to_have_count(3)
    expect(rows.nth(1)).to_contain_text("“d0” has no length. Line 15, column 6.")
    expect(rows.nth(2)).to_contain_text("1 left out")
    expect(page.locator(".staff svg")).to_be_visible()
    assert axe(page) == []
    page.get_by_label("Bring in Two at the Gate").uncheck()
    page.get_by_role("button", name="Bring in 1 tune").click()
    expect(page.get_by_role("status")).to_contain_text("1 tune is on the shelf")
    page.get_by_role("link", name="To the shelf", exact=True).click()
    expect(page.locator("tbody tr")).to_have_count(COUNT + 1)
    expect(page.get_by_role("link", name="Heron's Corner")).to_be_visible()
    page.get_by_role("link", name="Look into a book").click()
    page.get_by_label("paste ABC").fill(BOOK)
    page.get_by_role("button", name="See what is in it").click()
    expect(page.locator(".tunes li").first).to_contain_text("on the shelf already")
    expect(page.get_by_label("Bring in Heron's Corner")).not_to_be_checked()


def test_a_text_that_cannot_be_read_stays_in_the_field(page: Page, address: str) -> None:
    """The reason with line and column; the text is not lost."""
    page.goto(f"{address}/bring-in")
    page.get_by_label("paste ABC").fill("nothing of the kind")
    page.get_by_role("button", name="See what is in it").click()
    expect(page.locator(".tunes li")).to_contain_text("no key")
    expect(page.get_by_label("paste ABC")).to_have_value("nothing of the kind")


def test_guesses_of_a_midi_file_are_corrected(page: Page, address: str, tmp_path: Path) -> None:
    """Grid and pickup are shown as guessed; another metre is taken at once; a score needs no guess."""
    waltz = demo_tunes()[0]
    file = tmp_path / "waltz.mid"
    file.write_bytes(write_midi(waltz))
    page.goto(f"{address}/bring-in")
    page.get_by_label("Tune file").set_input_files(str(file))
    expect(page.locator(".tunes li")).to_contain_text("D major, 3/4")
    expect(page.locator(".tunes li")).to_contain_text("32 bars, AABB")
    expect(page.locator(".choices em")).to_have_count(2)
    page.get_by_role("combobox", name="Metre").click()
    page.get_by_role("option", name="6/8").click()
    expect(page.locator(".tunes li")).to_contain_text("D major, 6/8")
    score = tmp_path / "waltz.musicxml"
    score.write_text(write_melody(waltz), encoding="utf-8")
    page.get_by_label("Tune file").set_input_files(str(score))
    expect(page.locator(".found h2")).to_contain_text("MusicXML")
    expect(page.locator(".choices em")).to_have_count(0)


def test_a_score_with_tablature_can_keep_it(page: Page, address: str, tmp_path: Path) -> None:
    """Packed, from elsewhere: offered beside the melody, told what was read, on its ladder as hand edits."""
    ladder = ladder_of(next(tune for tune in demo_tunes() if "Lantern" in tune.title), "three-finger")
    score = tmp_path / "from the guild.mxl"
    score.write_bytes(pack(write_musicxml(ladder, level_path(ladder, 5))))
    page.goto(f"{address}/bring-in")
    page.get_by_label("Tune file").set_input_files(str(score))
    page.get_by_role("button", name="Keep its tablature").click()
    expect(page.get_by_role("status")).to_contain_text("highest note of each stroke")
    page.get_by_role("link", name="Open its ladder").click()
    expect(page.get_by_text("Edited by hand.")).to_be_visible()
    expect(page.locator("main")).to_contain_text("open G (gDGBD)")


# -- the desk


def test_an_error_is_marked_kept_and_repaired(page: Page, address: str) -> None:
    """While typing: the place and the reason; after a reload the same text; repaired, all is well again."""
    open_desk(page, address)
    page.locator(".cm-content").click()
    page.keyboard.press("Control+End")
    page.keyboard.type("G4 G0")
    expect(page.locator(".troubles")).to_contain_text("“G0” has no length")
    expect(page.locator(".cm-lintRange-error")).to_have_text("G0")
    saved(page)
    page.reload()
    expect(page.locator(".troubles")).to_contain_text("“G0” has no length")
    page.get_by_role("button", name="Cannot be read").click()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Backspace")
    page.keyboard.type("4|]")
    expect(page.locator(".troubles")).to_have_count(0)
    saved(page)
    assert text_of(page).rstrip().endswith("G4 G4|]")


def test_the_core_is_seen_and_a_note_taken_in_and_out(page: Page, address: str) -> None:
    """By one switch, a click and a key: the reason, undo, a reload; typing an x in the text stays typing."""
    open_desk(page, address)
    page.get_by_role("tab", name="Core").click()
    page.get_by_text("Show the core on the staff").click()
    pale = page.locator(".staff .ink-full")
    before = pale.count()
    assert before > 4
    pale.nth(2).locator("path").first.click(force=True)
    told = page.locator(".core .note")
    expect(told).to_contain_text("Not in the core. Left out:")
    page.keyboard.press("x")
    expect(told).to_contain_text("You took it into the core.")
    assert pale.count() < before and "I:nailhead-core +" in text_of(page)
    page.get_by_role("button", name="Undo").click()
    expect(told).to_contain_text("Not in the core.")
    page.get_by_role("button", name="Take it into the core").click()
    expect(told).to_contain_text("You took it into the core.")
    saved(page)
    page.reload()
    page.get_by_role("tab", name="Core").click()
    expect(page.locator(".staff .ink-decided").first).to_be_visible()
    page.locator(".cm-content").click()
    page.keyboard.press("x")
    expect(page.locator(".cm-content")).to_be_focused()
    page.keyboard.press("Backspace")
    axe(page)


def test_a_bar_that_does_not_add_up_is_shown_in_text_and_map(page: Page, address: str) -> None:
    """The bar by number, in the list and on the map; a click on the map goes to its notes."""
    open_desk(page, address)
    page.locator(".cm-content").click()
    page.keyboard.press("Control+End")
    page.keyboard.type("G8|G4 A2|B8|]")
    expect(page.locator(".troubles")).to_contain_text("Bar 19: 1/4 of a whole note missing.")
    expect(page.locator(".cm-lintRange-warning")).to_have_text("G4 A2")
    tool(page, "Bars")
    page.get_by_role("button", name="Bar 19, letter").click()
    expect(page.locator(".staff .abcjs-note_selected")).to_have_count(1)
    expect(page.locator(".bar-map .here")).to_have_text("19o3/4 of 1")


def test_chords_in_numbers_move_with_the_key(page: Page, address: str) -> None:
    """Entered as numbers, shown as letters; in another key only the letters change; undo takes it back."""
    open_desk(page, address)
    page.get_by_role("button", name="Numbers").click()
    cell = page.get_by_label("Chords of bar 1", exact=True)
    expect(cell).to_have_value("1")
    cell.fill("6m 5")
    cell.press("Enter")
    page.get_by_role("button", name="Letters").click()
    expect(cell).to_have_value("Em D")
    before = text_of(page)
    tool(page, "Key and metre")
    page.get_by_role("combobox", name="to", exact=True).click()
    page.get_by_role("option", name="A", exact=True).click()
    page.get_by_role("button", name="Move", exact=True).click()
    expect(page.locator(".top")).to_contain_text("A major")
    tool(page, "Chords")
    expect(cell).to_have_value("F♯m E")
    page.get_by_role("button", name="Numbers").click()
    expect(cell).to_have_value("6m 5")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".top")).to_contain_text("G major")
    assert text_of(page) == before
    page.get_by_role("button", name="Redo").click()
    expect(page.locator(".top")).to_contain_text("A major")


def test_a_wrong_chord_is_refused_with_its_bar(page: Page, address: str) -> None:
    """The problem names the bar; the tune is unchanged."""
    open_desk(page, address)
    before = text_of(page)
    cell = page.get_by_label("Chords of bar 2", exact=True)
    cell.fill("Hm")
    cell.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("“Hm” is not a chord")
    assert text_of(page) == before


def test_a_chord_proposal_is_looked_at_and_taken(page: Page, address: str) -> None:
    """Three with their costs; looking changes nothing, taking changes the text, undo brings the old chords back."""
    open_desk(page, address)
    before = text_of(page)
    page.get_by_role("button", name="Suggest chords").click()
    expect(page.locator(".proposals label")).to_have_count(3)
    expect(page.locator(".proposals")).to_contain_text("Cost")
    page.get_by_label("Plain").check()
    expect(page.get_by_label("Chords of bar 3", exact=True)).to_have_attribute("readonly", "")
    assert text_of(page) == before
    page.get_by_role("button", name="Take these chords").click()
    expect(page.locator(".proposals")).to_have_count(0)
    expect(page.locator(".cm-content")).not_to_contain_text('"Em"')
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".cm-content")).to_contain_text('"Em"')
    assert text_of(page) == before


def test_the_cursor_and_the_staff_show_the_same_note(page: Page, address: str) -> None:
    """The note at the cursor is marked on the staff; a click on a note selects its letters."""
    open_desk(page, address)
    page.locator(".cm-line").nth(8).click(position={"x": 4, "y": 8})
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    expect(page.locator(".staff .abcjs-note_selected")).to_have_count(1)
    page.locator(".staff .abcjs-note").nth(3).click(force=True)
    assert page.evaluate("getSelection().toString()").strip().startswith("d3")


def test_form_and_words_are_changed(page: Page, address: str) -> None:
    """Another order is played; a verse goes under the notes, too many syllables are refused."""
    open_desk(page, address)
    tool(page, "Form")
    page.get_by_label("Order of the parts").fill("ABAB")
    page.get_by_role("button", name="Set", exact=True).first.click()
    expect(page.locator(".form-strip .order")).to_contain_text("A B A B")
    page.get_by_role("button", name="Twice through").click()
    expect(page.locator(".form-strip .order")).to_contain_text("A A B B A A B B")
    tool(page, "Words")
    verse = page.get_by_label("Verse 1")
    verse.fill("One lan-tern on the weir")
    page.get_by_role("button", name="Set words").click()
    expect(page.locator(".staff")).to_contain_text("lan-")
    verse.fill("la " * 60)
    page.get_by_role("button", name="Set words").click()
    expect(page.get_by_role("alert")).to_contain_text("60 syllables")


def test_a_wrong_key_is_said_and_renamed(page: Page, address: str) -> None:
    """The melody disagrees with the header; one click puts the right name."""
    open_desk(page, address)
    page.locator(".cm-line").nth(6).click()
    page.keyboard.press("End")
    page.keyboard.press("Backspace")
    page.keyboard.type("C")
    expect(page.locator(".top .warn")).to_contain_text("the melody speaks for")
    tool(page, "Key and metre")
    expect(page.locator(".key-panel")).to_contain_text("the notes stay and the signature changes")


def test_two_windows_do_not_overwrite_each_other(page: Page, address: str, browser: Browser) -> None:
    """The later one is told; it may load the other text, or keep its own."""
    open_desk(page, address)
    other = browser.new_page(viewport={"width": 1280, "height": 800})
    open_desk(other, address)
    page.locator(".cm-content").click()
    page.keyboard.press("Control+End")
    page.keyboard.type("% mine")
    saved(page)
    other.locator(".cm-content").click()
    other.keyboard.press("Control+End")
    other.keyboard.type("% other")
    expect(other.get_by_role("alert")).to_contain_text("changed in another window")
    other.get_by_role("button", name="Keep mine").click()
    saved(other)
    page.reload()
    expect(page.locator(".cm-content")).to_contain_text("% other")
    other.close()


def test_a_tune_is_heard_and_followed(page: Page, address: str) -> None:
    """Listen marks the sounding note in text and staff; Stop ends it."""
    open_desk(page, address)
    page.get_by_role("button", name="Listen").click()
    expect(page.locator(".cm-content .abc-heard")).to_have_count(1)
    page.get_by_role("button", name="Stop").click()
    expect(page.locator(".cm-content .abc-heard")).to_have_count(0)


@pytest.mark.parametrize("file", sorted(TUNES.glob("*.abc")), ids=lambda file: file.stem)
def test_every_demo_tune_lies_on_the_desk(page: Page, address: str, file: Path) -> None:
    """Staff, strip and bars are drawn; the text is as it was written; nothing is in trouble."""
    text = file.read_text(encoding="utf-8")
    open_desk(page, address, text.split("T:")[1].split("\n")[0])
    assert text_of(page).strip() == text.strip()
    expect(page.locator(".troubles")).to_have_count(0)
    notes = sum(bool(event.pitch) for bar in read_tune(text).tune.bars for event in bar.events)  # type: ignore[union-attr]
    expect(page.locator(".staff .abcjs-note")).to_have_count(notes)


def test_the_desk_is_accessible(page: Page, address: str) -> None:
    """axe-core finds nothing against WCAG 2 A and AA with any of the tools open."""
    open_desk(page, address)
    for name in ("Chords", "Notes", "Bars", "Form", "Words", "Key and metre"):
        tool(page, name)
        if name == "Notes":
            page.locator(".neck text").first.wait_for()
        assert axe(page) == [], name


def test_the_shelf_is_accessible(page: Page, address: str) -> None:
    """The list with a card open."""
    page.goto(address)
    page.locator("tbody tr").first.click()
    page.get_by_label("Tags").wait_for()
    assert axe(page) == []
