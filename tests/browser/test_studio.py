"""The studio in one file, by the page: kept, a tune lost, looked into, brought back, and back again."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import axe

pytestmark = pytest.mark.browser


def test_a_lost_tune_comes_back_with_a_copy(page: Page, address: str, tmp_path: Path) -> None:
    """What is in the copy is said before it is brought back, and what was there can be had again."""
    page.goto(address)
    page.get_by_role("link", name="Copies of everything").click()
    expect(page.get_by_text("One file with")).to_contain_text("9 tunes")
    assert axe(page) == []
    with page.expect_download() as download:
        page.get_by_role("link", name="Keep a copy", exact=True).click()
    copy = tmp_path / download.value.suggested_filename
    download.value.save_as(copy)
    page.get_by_role("link", name="Tunes", exact=True).click()
    page.get_by_role("row", name="Lantern on the Weir").click()
    page.get_by_role("button", name="Delete").click()
    expect(page.get_by_text("is deleted")).to_be_visible()
    page.goto(f"{address}/copies")
    page.get_by_label("A copy", exact=True).set_input_files(copy)
    looked = page.get_by_role("status").filter(has_text="holds")
    expect(looked).to_contain_text("9 tunes")
    expect(looked).to_contain_text("takes the place of the 8 tunes")
    page.get_by_role("button", name="Leave it").click()
    expect(looked).to_have_count(0)
    page.get_by_label("A copy", exact=True).set_input_files(copy)
    page.get_by_role("button", name="Bring it back").click()
    expect(page.get_by_role("status")).to_contain_text("Brought back: 9 tunes")
    expect(page.get_by_role("listitem")).to_have_count(1)
    assert axe(page) == []
    page.get_by_role("button", name="Look into the copy: Kept aside").click()
    expect(looked).to_contain_text("8 tunes")
    page.get_by_role("button", name="Bring it back").click()
    expect(page.get_by_role("status")).to_contain_text("Brought back: 8 tunes")
    expect(page.get_by_role("listitem")).to_have_count(2)
    page.get_by_role("link", name="To the tunes").click()
    expect(page.get_by_role("status")).to_have_text("8 tunes")


def test_what_is_no_copy_is_said(page: Page, address: str, tmp_path: Path) -> None:
    """And nothing changes."""
    page.goto(f"{address}/copies")
    wrong = tmp_path / "holiday.sqlite3"
    wrong.write_text("no copy")
    page.get_by_label("A copy", exact=True).set_input_files(wrong)
    expect(page.get_by_role("alert")).to_contain_text("holiday.sqlite3 is not a Nailhead backup")
    expect(page.get_by_role("button", name="Bring it back")).to_have_count(0)
