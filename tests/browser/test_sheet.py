"""The sheet in Chromium: what it shows is chosen and kept; files, hand-outs and packets come out."""

from __future__ import annotations

import io
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from playwright.sync_api import Page, Route, expect
from pypdf import PageObject, PdfReader

from tests.browser.conftest import axe
from tests.browser.test_screens import open_ladder

pytestmark = pytest.mark.browser


def open_sheet(page: Page, address: str) -> None:
    open_ladder(page, address, "Lantern on the Weir")
    page.get_by_role("button", name="All on 7").click()
    expect(page.locator(".cell.on-path[data-rung='7']")).to_have_count(18)
    page.get_by_role("link", name="Sheet").click()
    expect(page.locator("svg.page").first).to_be_visible()


def test_what_the_sheet_shows_is_kept(page: Page, address: str) -> None:
    """Kick-off off, large print, black: seen at once and after a reload; nailheads keep their shape."""
    open_sheet(page, address)
    expect(page.locator("svg.page").first).to_contain_text("Kick-off")
    count = page.locator("svg.page").count()
    page.get_by_label("Kick-off").uncheck()
    expect(page.locator("svg.page").first).not_to_contain_text("Kick-off")
    plain = page.locator("svg.page path").count()
    page.get_by_label("Staff above").select_option("melody")
    expect(page.locator("svg.page path")).not_to_have_count(plain)
    page.get_by_label("Size").select_option("large")
    page.get_by_label("Ink").select_option("black")
    expect(page.locator("svg.page [fill='#966A10']")).to_have_count(0)
    page.reload()
    expect(page.get_by_label("Size")).to_have_value("large")
    expect(page.get_by_label("Staff above")).to_have_value("melody")
    expect(page.get_by_label("Kick-off")).not_to_be_checked()
    expect(page.locator("svg.page circle[fill='#000000']").first).to_be_visible()
    assert page.locator("svg.page").count() >= count


def test_a_sheet_opened_behind_a_slow_change_has_it(page: Page, address: str) -> None:
    """Straight from a change to the sheet, before the server has answered: the sheet waits for it."""
    held: list[Route] = []
    open_ladder(page, address, "Lantern on the Weir")
    page.route("**/changes", lambda route: held.append(route))
    page.get_by_role("button", name="All on 7").click()
    expect(page.locator(".cell.on-path[data-rung='7']")).to_have_count(18)
    page.get_by_role("link", name="Sheet").click()
    expect(page.get_by_text("The sheet is being set")).to_be_visible()
    held[0].continue_()
    expect(page.locator("svg.page").first).to_be_visible()
    sheet = page.locator("svg.page").all_inner_texts()
    page.reload()
    expect(page.locator("svg.page")).to_have_count(len(sheet))
    assert page.locator("svg.page").all_inner_texts() == sheet


def letters(page: PageObject) -> list[str]:
    """Every letter of a page; where words end is each reader's own guess."""
    return sorted("".join(page.extract_text().split()))


def test_what_the_printer_gets_is_the_pdf(page: Page, address: str) -> None:
    """Chromium's own print and the server's file have the same pages with the same words."""
    open_sheet(page, address)
    printed = PdfReader(io.BytesIO(page.pdf(prefer_css_page_size=True, print_background=True)))
    with page.expect_download() as waited:
        page.get_by_role("link", name="PDF", exact=True).click()
    written = PdfReader(waited.value.path())
    assert len(printed.pages) == len(written.pages)
    for one, other in zip(printed.pages, written.pages, strict=True):
        assert letters(one) == letters(other)


def test_files_and_a_handout_come_out(page: Page, address: str, tmp_path: Path) -> None:
    """Each link gives a file of its name; the hand-out has the rungs that are ticked."""
    open_sheet(page, address)
    for name, ending in (("MIDI", "mid"), ("Text tab", "txt"), ("SVG", "svg"), ("ABC", "abc")):
        with page.expect_download() as waited:
            page.get_by_role("link", name=name, exact=True).click()
        assert waited.value.suggested_filename == f"Lantern-on-the-Weir-clawhammer.{ending}"
    page.get_by_role("region", name="Hand-out").get_by_label("4", exact=True).uncheck()
    with page.expect_download() as waited:
        page.get_by_role("link", name="Hand-out as PDF").click()
    text = PdfReader(waited.value.path()).pages[0].extract_text()
    assert "Rungs 2, 5" in text and "Slurs" not in text


def test_a_packet_is_bound(page: Page, address: str) -> None:
    """Tunes ticked, an arrangement chosen, progress, the file; the view is accessible. The order is that of ticking,
    also where the first tune's arrangements come last.
    """
    held: list[Route] = []
    page.goto(address)
    page.get_by_role("link", name="Bind a packet").click()
    page.route("**/arrangements*", lambda route: route.continue_() if held else held.append(route))
    page.get_by_label("Lantern on the Weir", exact=True).check()
    page.get_by_label("Hazel at the Window", exact=True).check()
    expect(page.get_by_label("Arrangement of Hazel at the Window")).to_be_visible()
    held[0].continue_()
    page.get_by_label("Arrangement of Lantern on the Weir").select_option(index=1)
    page.get_by_label("Title").fill("Tuesday group")
    page.get_by_role("button", name="Bind").click()
    link = page.get_by_role("link", name="Fetch the packet")
    expect(link).to_be_visible()
    assert axe(page) == []
    with page.expect_download() as waited:
        link.click()
    reader = PdfReader(waited.value.path())
    contents = reader.pages[0].extract_text()
    assert contents.index("Lantern on the Weir") < contents.index("Hazel at the Window")
    assert "three-finger" in reader.pages[1].extract_text()


def test_what_was_handed_out_stays_until_she_decides(page: Page, address: str, tmp_path: Path) -> None:
    """A later version plays a bar of it differently: the ladder says so, keeps the old one, and takes the new one."""
    open_ladder(page, address, "Lantern on the Weir")
    page.locator("[data-place='2'][data-rung='2']").click()
    page.keyboard.press("a")
    expect(page.locator("[data-place='2'][data-rung='2'] .flag.alternative")).to_be_visible()
    then = page.locator("[data-place='2'][data-rung='2'] svg").inner_html()
    page.get_by_role("link", name="Sheet").first.click()
    expect(page.locator(".paper svg").first).to_be_visible()
    with page.expect_response("**/printed"):
        page.evaluate("window.dispatchEvent(new Event('beforeprint'))")
    page.get_by_role("link", name="Ladder").click()
    page.locator("[data-place='2'][data-rung='2']").click()
    page.keyboard.press("u")
    expect(page.locator(".flag")).to_have_count(0)
    with closing(sqlite3.connect(tmp_path / "browser.sqlite3")) as connection:
        connection.execute("UPDATE handed_out SET engine = 'an older one'")
        connection.commit()
    page.reload()
    note = page.get_by_role("button", name="as handed out on")
    expect(note).to_contain_text("(printed)")
    assert page.locator("[data-place='2'][data-rung='2'] svg").inner_html() == then
    note.click()
    assert axe(page) == []
    page.get_by_role("button", name="Use the new bar").click()
    expect(note).to_have_count(0)
    expect(page.locator(".flag")).to_have_count(0)
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Undo").click()
    expect(note).to_be_visible()
    note.click()
    page.get_by_role("button", name="Keep it").click()
    expect(note).to_have_count(0)
    expect(page.locator("[data-place='2'][data-rung='2'] .flag.alternative")).to_be_visible()
