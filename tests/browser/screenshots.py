"""`make screenshots`: the pictures of the README, from the demo shelf at 1280 x 800."""

from __future__ import annotations

import socket
import tempfile
import threading
import time
from pathlib import Path

import uvicorn
from playwright.sync_api import Browser, Page, sync_playwright

from nailhead.demo.shelf import fill_shelf
from nailhead.store.database import Database
from nailhead.web.app import create_app
from tests.browser.conftest import CHROMIUM, FLAGS
from tests.browser.test_desk import BOOK

FOLDER = Path(__file__).parents[2] / "docs" / "screenshots"


def main() -> None:
    with tempfile.TemporaryDirectory() as folder, socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
        probe.close()
        database = Database(Path(folder) / "demo.sqlite3")
        fill_shelf(database)
        server = uvicorn.Server(uvicorn.Config(create_app(database), port=port, log_level="error"))
        thread = threading.Thread(target=server.run, daemon=True)
        thread.start()
        while not server.started:
            time.sleep(0.05)
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            play_a_line(page, f"http://127.0.0.1:{port}")
            take(page, f"http://127.0.0.1:{port}")
            on_a_stand(browser, page.url)
            browser.close()
        server.should_exit = True
        thread.join(timeout=5)


#: A tune of the shelf and the instrument on which its first line is shown.
PICKED = {
    "The Lockkeeper's Candle": "Ukulele",
    "Hazel at the Window": "Guitar",
    "The Miller's Short Cut": "Dulcimer",
}


def open_ladder(page: Page, title: str, instrument: str) -> None:
    """From the shelf to the ladder of a tune on an instrument."""
    page.get_by_role("link", name=title).click()
    page.get_by_role("link", name="Setup").click()
    page.locator(f".kept > a[title*='{instrument}' i]").first.click()
    page.locator(".cell").first.wait_for()


def take(page: Page, address: str) -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    page.goto(address)
    page.locator("tbody tr").nth(1).click()
    page.get_by_label("Tags").wait_for()
    shoot(page, "shelf")
    page.goto(f"{address}/bring-in")
    page.get_by_label("paste ABC").fill(BOOK)
    page.get_by_role("button", name="See what is in it").click()
    page.locator(".tunes li").nth(2).wait_for()
    shoot(page, "bring-in")
    page.goto(address)
    page.get_by_role("link", name="Lantern on the Weir").click()
    page.locator(".staff svg").wait_for()
    page.locator(".cm-line").nth(8).click(position={"x": 120, "y": 8})
    shoot(page, "desk")
    page.goto(f"{address}/settings")
    page.locator("select").first.wait_for()
    shoot(page, "settings")
    page.goto(address)
    page.get_by_role("link", name="The Miller's Short Cut").click()
    page.get_by_role("link", name="Setup").click()
    page.locator(".list li").first.wait_for()
    page.get_by_role("combobox", name="Instrument", exact=True).click()
    page.get_by_role("option", name="Five-string banjo").click()
    page.locator(".list li", has_text="fifth string").first.wait_for()
    page.locator(".neck-drawing .played").first.wait_for()
    shoot(page, "setup")
    page.goto(f"{address}/instruments/guitar/chords")
    page.get_by_label("Chord, as the hands play it").fill("D7")
    page.get_by_role("heading", name="D7").wait_for()
    shoot(page, "chords")
    page.goto(f"{address}/instruments/banjo/tuner")
    page.get_by_role("combobox", name="Tune it to").click()
    page.get_by_role("option", name="double C · gCGCD").click()
    page.get_by_role("row", name="2 B3 C4").click()
    page.get_by_label("Peg, in cents beside the goal").fill("-18")
    page.get_by_text("String 2 is low").wait_for()
    shoot(page, "tuner")
    page.goto(address)
    open_ladder(page, "Walnut Court", "long neck")
    shoot(page, "ladder-saz")
    for title, instrument in PICKED.items():
        page.goto(address)
        open_ladder(page, title, instrument)
        shoot_phrase(page, f"rungs-{instrument.lower()}")
    page.goto(address)
    page.get_by_role("link", name="Lantern on the Weir").click()
    page.get_by_role("link", name="Setup").click()
    page.locator(".kept > a").first.click()
    page.locator(".cell").first.wait_for()
    for key in ("ArrowRight", "ArrowRight", "]", "ArrowRight", "ArrowRight", "]"):
        page.keyboard.press(key)
    page.locator(".cell.on-path[data-rung='3']").first.wait_for()
    page.get_by_text("Raise bar 4").first.wait_for()
    page.locator("[data-bar-editor][aria-busy='false']").wait_for()
    shoot(page, "ladder")
    edit_a_note(page)
    page.get_by_role("link", name="Sheet").click()
    page.locator("svg.page").first.wait_for()
    shoot(page, "sheet")
    page.goto(address)
    open_ladder(page, "Hazel at the Window", "Guitar")
    page.get_by_role("link", name="Sheet").click()
    page.locator("svg.page").first.wait_for()
    page.get_by_label("Staff above").select_option("melody")
    page.locator("svg.page path[d*='C']").first.wait_for()
    shoot(page, "sheet-staff")
    tunes = page.request.get(f"{address}/api/tunes").json()["tunes"]
    waltz = next(row["id"] for row in tunes if row["title"] == "Hazel at the Window")
    wish = {"instrument": "banjo", "idiom": "three-finger", "tuning": "gDGBD"}
    kept = page.request.post(f"{address}/api/tunes/{waltz}/setups", data=wish).json()
    page.goto(f"{address}/setups/{kept['id']}")
    page.locator(".cell").first.wait_for()
    shoot_phrase(page, "rungs-three-finger")


def on_a_stand(browser: Browser, ladder: str) -> None:
    """A ladder on a tablet held upright, and on a dark stage."""
    tablet = browser.new_page(viewport={"width": 820, "height": 1180}, has_touch=True)
    tablet.goto(ladder)
    tablet.locator(".cell svg").first.wait_for()
    tablet.locator("[data-place='1'][data-rung='4']").tap()
    tablet.get_by_role("complementary", name="Selected bar").locator("svg").first.wait_for()
    shoot(tablet, "tablet")
    stage = browser.new_page(viewport={"width": 1280, "height": 800})
    stage.goto(ladder)
    stage.get_by_role("button", name="Dim").click()
    stage.locator(".cell svg").first.wait_for()
    stage.get_by_role("button", name="All on 6").click()
    stage.locator(".cell.on-path[data-rung='6']").first.wait_for()
    shoot(stage, "dim")


def play_a_line(page: Page, address: str) -> None:
    """A join of the plan in the practice room, while it sounds."""
    page.goto(address)
    open_ladder(page, "Three Steps to the Ferry", "Mandolin")
    page.get_by_role("link", name="Practice").click()
    page.locator(".play:enabled").wait_for()
    for key in ("n", "c", "c", "n", "n", "2", "3", " "):
        page.keyboard.press(key)
    page.locator(".cursor").wait_for()
    page.wait_for_timeout(2500)
    shoot(page, "practice")


def edit_a_note(page: Page) -> None:
    """A note put in by hand, and taken out again."""
    page.locator("[data-place='2'][data-rung='5']").click()
    page.locator("[data-bar-editor]").focus()
    for key in ("ArrowRight", "ArrowDown", "2"):
        page.keyboard.press(key)
    page.get_by_role("list", name="Awkward").wait_for()
    shoot(page, "ladder-edit")
    page.keyboard.press("Escape")
    page.keyboard.press("u")
    page.get_by_role("button", name="All on 6").click()
    page.locator(".cell.on-path[data-rung='6']").first.wait_for()


def shoot_phrase(page: Page, name: str) -> None:
    """The first line of a ladder with all its rungs."""
    page.evaluate("document.fonts.ready")
    page.wait_for_timeout(400)
    page.locator(".phrase").first.screenshot(path=FOLDER / f"{name}.png")


def shoot(page: Page, name: str) -> None:
    page.evaluate("document.fonts.ready")
    page.wait_for_timeout(400)
    page.screenshot(path=FOLDER / f"{name}.png")


if __name__ == "__main__":
    main()
