"""From a tune to a page in six actions, by mouse, by keys alone and by touch; the shelf that it begins on."""

from __future__ import annotations

import time

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import axe

pytestmark = pytest.mark.browser

TUNE = 'X:1\nT:Over the Stile\nR:reel\nM:4/4\nL:1/8\nK:G\n|:"G"G2B2 d2ed|"C"e2g2 "G"d4|"G"B2d2 "D"A2BA|"G"G4 "D"D4:|\n'
SECOND = "X:2\nT:Under the Stile\nM:4/4\nL:1/8\nK:D\nD2F2 A4|]\n"
#: Every press of a mouse, a finger or a key, and everything pasted, counts as one action.
COUNTING = """
    window.actions = 0
    for (const kind of ['pointerdown', 'keydown', 'paste'])
        window.addEventListener(kind, event => {
            if (!['Control', 'Shift'].includes(event.key) && !(event.ctrlKey && event.key === 'v')) window.actions += 1
        }, true)
    window.printed = 0
    window.print = () => { window.printed += 1 }
    0
"""
PASTE = """text => {
    const data = new DataTransfer()
    data.setData('text/plain', text)
    document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true }))
}"""
DROP = """text => {
    const data = new DataTransfer()
    data.items.add(new File([text], 'tunes.abc', { type: 'text/plain' }))
    document.body.dispatchEvent(new DragEvent('drop', { dataTransfer: data, bubbles: true, cancelable: true }))
}"""


def ready(page: Page, address: str) -> None:
    page.goto(address)
    expect(page.locator("tbody tr").first).to_be_visible()
    page.evaluate(COUNTING)


def printed_within(page: Page, begun: float, actions: int = 6) -> None:
    """The page that was asked for has gone to the printer, in so many actions and a minute."""
    expect(page.locator("svg.page").first).to_contain_text("Over the Stile")
    assert page.evaluate("window.printed") == 1
    assert 0 < page.evaluate("window.actions") <= actions
    assert time.monotonic() - begun < 60


def test_from_a_pasted_tune_to_a_page_by_mouse(page: Page, address: str) -> None:
    """Paste, set up, a rung, to the sheet, print."""
    begun = time.monotonic()
    ready(page, address)
    page.evaluate(PASTE, TUNE)
    page.locator(".list .keep").first.click()
    page.get_by_role("button", name="All on 4").click()
    expect(page.locator(".cell.on-path[data-rung='4']")).to_have_count(4)
    page.get_by_role("link", name="Print …").click()
    page.get_by_role("button", name="Print").click()
    printed_within(page, begun)


def test_from_a_pasted_tune_to_a_page_by_keys(page: Page, address: str) -> None:
    """Paste, Enter, 4, p, p; one key goes back, and it has stayed on its rung."""
    begun = time.monotonic()
    ready(page, address)
    page.evaluate(PASTE, TUNE)
    expect(page.locator(".list .keep").first).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.locator(".cell.on-path")).to_have_count(4)
    page.keyboard.press("4")
    expect(page.locator(".cell.on-path[data-rung='4']")).to_have_count(4)
    page.keyboard.press("p")
    expect(page.locator("svg.page").first).to_be_visible()
    page.keyboard.press("p")
    printed_within(page, begun)
    page.keyboard.press("Backspace")
    expect(page.locator(".cell.on-path[data-rung='4']")).to_have_count(4)
    page.keyboard.press("Backspace")
    expect(page.locator(".list .keep").first).to_be_visible()
    page.keyboard.press("Backspace")
    expect(page.locator("tbody tr").first).to_contain_text("Over the Stile")


@pytest.mark.browser_context_args(
    viewport={"width": 820, "height": 1180}, has_touch=True, permissions=["clipboard-read", "clipboard-write"]
)
def test_from_a_pasted_tune_to_a_page_by_touch(page: Page, address: str) -> None:
    """The same on a tablet held upright, its buttons under a finger."""
    begun = time.monotonic()
    ready(page, address)
    page.evaluate("text => navigator.clipboard.writeText(text)", TUNE)
    page.get_by_role("button", name="Paste").tap()
    page.locator(".list .keep").first.tap()
    page.get_by_role("button", name="All on 4").tap()
    expect(page.locator(".cell.on-path[data-rung='4']")).to_have_count(4)
    page.get_by_role("link", name="Print …").tap()
    page.get_by_role("button", name="Print").tap()
    printed_within(page, begun)


def test_a_book_keeps_its_preview(page: Page, address: str) -> None:
    """Two tunes dropped on the shelf are looked into; so is one that is there already, or that cannot be read."""
    ready(page, address)
    page.evaluate(DROP, f"{TUNE}\n{SECOND}")
    expect(page.locator(".tunes li")).to_have_count(2)
    page.get_by_role("button", name="Bring in 2 tunes").click()
    expect(page.get_by_role("status")).to_contain_text("2 tunes are on the shelf")
    ready(page, address)
    page.evaluate(PASTE, TUNE)
    expect(page.locator(".tunes li")).to_contain_text("on the shelf already")
    ready(page, address)
    page.evaluate(PASTE, "X:1\nT:Torn\nK:G\nG0|\n")
    expect(page.locator(".tunes li")).to_contain_text("Line 4")


def test_several_tunes_at_once(page: Page, address: str) -> None:
    """Ticked by keys: tagged together, set up for an instrument, bound; what cannot be set up says why."""
    ready(page, address)
    for key in ("ArrowDown", "x", "ArrowDown", "x"):
        page.keyboard.press(key)
    card = page.get_by_role("region", name="2 tunes are ticked")
    card.get_by_label("Tag for all of them").fill("Harvest")
    card.get_by_role("button", name="Tag", exact=True).click()
    expect(page.locator("tbody .tag").filter(has_text="harvest")).to_have_count(2)
    page.get_by_label("Tagged", exact=True).select_option("harvest")
    expect(page.locator("tbody tr")).to_have_count(2)
    card.get_by_label("Instrument for all of them").select_option("mandolin")
    card.get_by_role("button", name="Set up each").click()
    expect(card.get_by_role("status")).to_contain_text("2 of 2 done.")
    expect(page.locator("tbody .for").filter(has_text="mandolin")).to_have_count(2)
    assert axe(page) == []
    card.get_by_role("link", name="Bind into a packet").click()
    expect(page.locator(".tunes input:checked")).to_have_count(2)


def test_fifteen_rows_are_in_sight(page: Page, address: str) -> None:
    """On a shelf of 25 tunes with long titles and tags: each on one line, 15 of them on a laptop's screen."""
    book = "\n".join(f"X:{at}\nT:The Long Way Home by Number {at}\nR:slip jig\nK:G\nGABc|]\n" for at in range(16))
    added = page.request.post(f"{address}/api/tunes", data={"abc": book}).json()["added"]
    for one in added[:4]:
        page.request.put(f"{address}/api/tunes/{one['id']}/tags", data={"tags": ["tuesday group", "slow", "lent"]})
    ready(page, address)
    expect(page.locator("tbody tr")).to_have_count(25)
    boxes = [row.bounding_box() for row in page.locator("tbody tr").all()]
    seen = [box for box in boxes if box and box["y"] + box["height"] <= 800]
    assert len(seen) >= 15
    assert max(box["height"] for box in seen) < 40


def test_the_shelf_by_keys_begins_with_what_was_open_last(page: Page, address: str) -> None:
    """Arrows and Enter open a tune; back on the shelf it stands first. A key and a metre narrow the list."""
    ready(page, address)
    page.keyboard.press("/")
    expect(page.get_by_label("Find a tune")).to_be_focused()
    page.keyboard.press("Tab")
    page.get_by_label("Key", exact=True).select_option("D major")
    expect(page.locator("tbody tr")).to_have_count(1)
    page.get_by_role("button", name="All tunes").click()
    title = "Lantern on the Weir"
    expect(page.locator("tbody .title").get_by_text(title)).to_be_visible()
    titles = page.locator("tbody tr .title").all_inner_texts()
    page.locator("h1").click()
    for _ in range(titles.index(title) + 1):
        page.keyboard.press("ArrowDown")
    expect(page.locator("tr.selected .title")).to_have_text(title)
    page.keyboard.press("s")
    expect(page.locator(".list .keep").first).to_be_focused()
    page.keyboard.press("Backspace")
    expect(page.locator("tbody tr").first.locator(".title")).to_have_text(title)
