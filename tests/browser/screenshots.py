"""`make screenshots`: the pictures of the README, from the demo shelf at 1280 x 800."""

from __future__ import annotations

import socket
import tempfile
import threading
import time
from pathlib import Path

import uvicorn
from playwright.sync_api import Page, sync_playwright

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
    kept = page.locator("li", has=page.get_by_role("link", name="Plays")).filter(has_text=instrument)
    kept.get_by_role("link", name="Plays").first.click()
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
    page.goto(address)
    page.get_by_role("link", name="Walnut Court").click()
    page.get_by_role("tab", name="Notes").click()
    page.locator(".neck text").first.wait_for()
    page.locator(".cm-line").nth(8).click(position={"x": 80, "y": 8})
    shoot(page, "desk-notes")
    page.goto(address)
    page.get_by_role("link", name="The Miller's Short Cut").click()
    page.get_by_role("link", name="Setup").click()
    page.locator(".list li").first.wait_for()
    page.locator(".neck-drawing .played").first.wait_for()
    shoot(page, "setup")
    page.goto(f"{address}/instruments/guitar/chords")
    page.get_by_label("Chord, as the hands play it").fill("D7")
    page.get_by_role("heading", name="D7").wait_for()
    shoot(page, "chords")
    page.goto(f"{address}/instruments/banjo/keys")
    page.locator("tbody tr").nth(11).wait_for()
    shoot(page, "key-table")
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
    page.get_by_role("link", name="Plays").first.click()
    page.locator(".cell").first.wait_for()
    for key in ("ArrowRight", "ArrowRight", "]", "ArrowRight", "ArrowRight", "]"):
        page.keyboard.press(key)
    page.locator(".cell.on-path[data-rung='3']").first.wait_for()
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
    page.goto(f"{address}/packet")
    for title in ("Lantern on the Weir", "Hazel at the Window", "The Miller's Short Cut"):
        page.get_by_label(title, exact=True).check()
        page.get_by_label(f"Arrangement of {title}").wait_for()
    page.get_by_role("button", name="Bind").click()
    page.get_by_role("link", name="Fetch the packet").wait_for()
    shoot(page, "packet")
    tunes = page.request.get(f"{address}/api/tunes").json()["tunes"]
    waltz = next(row["id"] for row in tunes if row["title"] == "Hazel at the Window")
    wish = {"instrument": "banjo", "idiom": "three-finger", "tuning": "gDGBD"}
    kept = page.request.post(f"{address}/api/tunes/{waltz}/setups", data=wish).json()
    page.goto(f"{address}/setups/{kept['id']}")
    page.locator(".cell").first.wait_for()
    shoot_phrase(page, "rungs-three-finger")


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
