"""The real interface in Chromium: a teacher's way from the shelf to the printed sheet."""

from __future__ import annotations

import io
import re

import pytest
from playwright.sync_api import Page, expect
from pypdf import PdfReader

pytestmark = pytest.mark.browser

NEW_TUNE = 'X:1\nT:Gate in the Hedge\nM:4/4\nL:1/8\nK:D\n|:"D"D4 F4|"G"G2B2 "D"A4|"D"D4 F4|"A7"A2E2 "D"D4:|\n'


def open_ladder(page: Page, address: str, title: str) -> None:
    page.goto(address)
    page.get_by_role("link", name=title).click()
    page.get_by_role("link", name="Setup").click()
    page.locator(".kept > a").first.click()
    expect(page.locator(".cell").first).to_be_visible()


def on_path(page: Page) -> list[tuple[str, str]]:
    """(place, rung) of the cells on the path, in order of places."""
    cells = page.locator(".cell.on-path").evaluate_all(
        "cells => cells.map(cell => [cell.dataset.place, cell.dataset.rung])"
    )
    return sorted(((place, rung) for place, rung in cells), key=lambda cell: int(cell[0]))


def test_from_a_pasted_tune_to_the_sheet(page: Page, address: str) -> None:
    """Bring in, choose key, tuning and capo, see both keys, set up, raise a bar, reload, print."""
    page.goto(f"{address}/bring-in")
    page.get_by_label("paste ABC").fill(NEW_TUNE)
    page.get_by_role("button", name="See what is in it").click()
    page.get_by_role("button", name="Bring in 1 tune").click()
    expect(page.get_by_role("status")).to_contain_text("1 tune is on the shelf")
    page.get_by_role("link", name="Set it up").click()
    page.get_by_role("combobox", name="Instrument", exact=True).click()
    page.get_by_role("option", name="Five-string banjo").click()
    answer = page.locator(".answer")
    expect(answer).to_contain_text("D major")
    page.get_by_role("combobox", name="Sounds in").click()
    page.get_by_role("option", name="A", exact=True).click()
    page.get_by_text("Choose by hand").click()
    page.get_by_role("combobox", name="Tuning", exact=True).click()
    page.get_by_role("option", name="open G").click()
    page.get_by_role("combobox", name="Capo", exact=True).click()
    page.get_by_role("option", name="fret 2").click()
    expect(answer.locator("dd").first).to_have_text("G major")
    expect(answer.locator("dd").last).to_have_text("A major")
    expect(answer).to_contain_text("hook at fret 7")
    page.get_by_role("button", name="Set up so").click()
    expect(page.locator(".cell.on-path")).to_have_count(4)
    assert on_path(page) == [("0", "2"), ("1", "2"), ("2", "2"), ("3", "2")]
    page.keyboard.press("]")
    expect(page.locator(".cell.on-path[data-rung='3']")).to_have_count(2)
    page.reload()
    expect(page.locator(".cell.on-path[data-rung='3']")).to_have_count(2)
    assert on_path(page) == [("0", "3"), ("1", "2"), ("2", "3"), ("3", "2")]
    page.get_by_role("link", name="Sheet").click()
    expect(page.locator("svg.page")).to_have_count(1)
    expect(page.locator("svg.page")).to_contain_text("Plays G major, sounds A major")


def test_the_ladder_by_keys_alone(page: Page, address: str) -> None:
    """Arrows move, Enter takes, brackets lower and raise, ? shows the keys; equal bars move together."""
    open_ladder(page, address, "Hazel at the Window")
    page.keyboard.press("ArrowUp")
    expect(page.locator(".cell.selected")).to_have_attribute("data-rung", "3")
    page.keyboard.press("Enter")
    expect(page.locator(".cell.on-path[data-rung='3']")).to_have_count(3)
    assert [place for place, rung in on_path(page) if rung == "3"] == ["0", "8", "24"]
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    expect(page.locator(".cell.selected")).to_have_attribute("data-rung", "1")
    page.keyboard.press("[")
    expect(page.locator(".cell.on-path[data-rung='1']")).not_to_have_count(0)
    page.keyboard.press("End")
    expect(page.locator(".cell.selected")).to_have_attribute("data-place", "31")
    page.keyboard.press("?")
    expect(page.get_by_role("complementary", name="Help").get_by_role("region", name="Keys")).to_be_visible()


def test_the_ladder_by_mouse(page: Page, address: str) -> None:
    """A click selects and tells why the grade; a double click takes; one button sets the whole path."""
    open_ladder(page, address, "Lantern on the Weir")
    cell = page.locator("[data-place='8'][data-rung='3']")
    cell.click()
    inspector = page.get_by_role("complementary", name="Selected bar")
    expect(inspector).to_contain_text("Bar 8")
    expect(inspector).to_contain_text("Grade")
    cell.dblclick()
    expect(cell).to_have_class(re.compile("on-path"))
    page.get_by_role("button", name="All on 1").click()
    expect(page.locator(".cell.on-path[data-rung='1']")).to_have_count(18)


def test_beats_are_aligned_on_screen(page: Page, address: str) -> None:
    """The first melody head of a bar stands at the same x on all three rungs."""
    open_ladder(page, address, "Lantern on the Weir")
    xs = [
        page.locator(f"[data-place='1'][data-rung='{rung}'] circle.fill-melody").first.bounding_box()["x"]  # type: ignore[index]
        for rung in (1, 2, 3)
    ]
    assert max(xs) - min(xs) < 0.5


def test_the_ladder_is_there_within_a_second(page: Page, address: str) -> None:
    """Loose bound on the way from click to cells; `make bench` has the figures."""
    page.goto(address)
    page.get_by_role("link", name="Hazel at the Window").click()
    page.get_by_role("link", name="Setup").click()
    link = page.locator(".kept > a").first
    expect(link).to_be_visible()
    link.click()
    expect(page.locator(".cell").first).to_be_visible(timeout=5000)


def test_fonts_come_with_the_application(page: Page, address: str) -> None:
    """Both faces are loaded from our own origin."""
    open_ladder(page, address, "Lantern on the Weir")
    page.evaluate("document.fonts.ready")
    assert page.evaluate("document.fonts.check('16px \"Atkinson Hyperlegible\"')")
    assert page.evaluate("document.fonts.check('16px \"Zilla Slab\"')")


@pytest.mark.parametrize(("paper", "size"), [("A4", (595.3, 841.9)), ("Letter", (612.0, 792.0))])
def test_printing_gives_the_pages_of_the_sheet(page: Page, address: str, paper: str, size: tuple[float, float]) -> None:
    """The browser's PDF has as many pages as the sheet, of that paper, and every bar number is on it."""
    open_ladder(page, address, "Hazel at the Window")
    page.get_by_role("link", name="Sheet").click()
    expect(page.locator("svg.page").first).to_be_visible()
    page.get_by_label("Paper").select_option(paper)
    expect(page.locator(f"svg.page[viewBox^='0 0 {'210' if paper == 'A4' else '215.9'}']").first).to_be_visible()
    count = page.locator("svg.page").count()
    reader = PdfReader(io.BytesIO(page.pdf(prefer_css_page_size=True, print_background=True)))
    assert len(reader.pages) == count
    for printed in reader.pages:
        assert abs(float(printed.mediabox.width) - size[0]) < 1.5
        assert abs(float(printed.mediabox.height) - size[1]) < 1.5
    text = " ".join(printed.extract_text() for printed in reader.pages)
    assert "Hazel at the Window" in text
    assert f"page {count} of {count}" in text
    assert {"1", "16", "32"} <= set(text.split())


def test_seven_rungs_other_ways_and_choices(page: Page, address: str) -> None:
    """The inspector opens other ways with their words; another school is taken and the ladder comes anew."""
    open_ladder(page, address, "Lantern on the Weir")
    expect(page.locator(".rung-name").first).to_contain_text("Solo")
    page.locator("[data-place='4'][data-rung='6']").click()
    page.get_by_role("button", name="Other ways to play it").click()
    others = page.locator(".alternatives li")
    expect(others.first).to_be_visible()
    assert others.count() >= 2
    expect(others.first.get_by_role("img")).to_be_visible()
    expect(page.get_by_label("Hardest spots of the path").get_by_role("listitem")).to_have_count(3)
    page.get_by_label("Nail that strikes").select_option("middle")
    expect(page.get_by_role("status").last).to_contain_text("middle")
    page.reload()
    expect(page.get_by_label("Nail that strikes")).to_have_value("middle")


def test_the_invented_shelf_stands_by_title(page: Page, address: str) -> None:
    """Nothing was opened yet, and all came together, in however many seconds: the same order on every machine."""
    page.goto(address)
    expect(page.locator("tbody .title").nth(8)).to_be_visible()
    titles = page.locator("tbody tr .title").all_inner_texts()
    assert titles == sorted(titles, key=str.lower)
