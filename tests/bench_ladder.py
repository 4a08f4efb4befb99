"""The ladder in Chromium on a tune of 64 bars: from opening to paint, from a key to paint; run by `make bench`."""

from __future__ import annotations

import socket
import statistics
import tempfile
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx
import uvicorn
from playwright.sync_api import Page, sync_playwright

from nailhead.store.database import Database
from nailhead.web import ladders, remembered
from nailhead.web.app import create_app
from nailhead.web.kept_ladders import beside
from tests.browser.conftest import CHROMIUM, FLAGS

#: Eight phrases of eight bars, 26 bars of them different, as a long dance tune has.
PHRASES = (
    '"G"G2B2 d2ed|"C"e2g2 "G"d4|"G"B2d2 "D"A2BA|"G"G4 "D"D4|"G"G2B2 d2ed|"C"e2ge "G"d2B2|"Am"c2BA "D7"F2A2|"G"G8',
    '"G"d2g2 g2fg|"Em"e2dc B4|"Am"c2e2 "D"d2cA|"G"B2AG "D"A4|"G"d2g2 g2fg|"Em"e2dB "C"c4|"D"d2cB A2F2|"G"G8',
    '"C"e3d c2e2|"G"d3B G4|"D"A2Bc d2A2|"G"B2G2 "D"F4|"C"e3d c2e2|"G"d2BG B4|"D"AGFA d2cA|"G"G8',
)
TUNE = "X:1\nT:Long Acre\nM:4/4\nL:1/8\nK:G\n" + "|\n".join(PHRASES[index % 3] for index in range(8)) + "|]\n"
#: Runs in the page: presses a key and answers when the next frame after the change has been painted.
PRESS = """key => new Promise(done => {
    const from = performance.now()
    document.activeElement.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }))
    requestAnimationFrame(() => requestAnimationFrame(() => done(performance.now() - from)))
})"""


def main() -> None:
    with tempfile.TemporaryDirectory() as folder, served(Path(folder)) as address:
        measure(address)


@contextmanager
def served(folder: Path) -> Iterator[str]:
    """An empty data file served on loopback."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    database = Database(folder / "bench.sqlite3")
    ladders.keep_ladders(beside(database.path))
    server = uvicorn.Server(uvicorn.Config(create_app(database), port=port, log_level="error"))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.05)
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    thread.join(timeout=5)


def measure(address: str) -> None:
    """Two ladders of the same tune, each opened cold, opened again, and worked by keys."""
    with httpx.Client(base_url=address, timeout=60) as http, sync_playwright() as playwright:
        tune = http.post("/api/tunes", json={"abc": TUNE}).json()["added"][0]["id"]
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        for idiom in ("clawhammer", "three-finger"):
            setup = http.post(f"/api/tunes/{tune}/setups", json={"idiom": idiom, "tuning": "gDGBD"}).json()["id"]
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            for how in ("first", "again", "after a start, from disk"):
                if "disk" in how:
                    ladders._LADDERS.clear()
                    remembered._ANSWERS.clear()
                begun = time.perf_counter()
                page.goto(f"{address}/setups/{setup}")
                page.locator(".cell svg").first.wait_for()
                print(f"{idiom}, 64 bars: ladder painted, {how}: {1000 * (time.perf_counter() - begun):.0f} ms")
            looked_at(http, page, address, idiom)
            page.goto(f"{address}/setups/{setup}")
            page.wait_for_timeout(1500)
            for key, what in (("ArrowRight", "select"), ("]", "raise"), ("[", "lower")):
                times = []
                for _ in range(12):
                    times.append(page.evaluate(PRESS, key))
                    page.wait_for_timeout(250)
                print(f"  key to paint, {what}: median {statistics.median(times):.0f} ms, worst {max(times):.0f} ms")
            begun = time.perf_counter()
            path = http.get(f"/api/setups/{setup}/ladder").json()["path"]
            print(f"  ladder from memory: {1000 * (time.perf_counter() - begun):.0f} ms")
            wish = {"change": {"do": "at most", "grade": 3}, "revision": path["revision"]}
            begun = time.perf_counter()
            http.post(f"/api/setups/{setup}/changes", json=wish).raise_for_status()
            print(f"  richest path under a grade: {1000 * (time.perf_counter() - begun):.0f} ms")
            begun = time.perf_counter()
            sound = http.get(f"/api/setups/{setup}/sound")
            took = 1000 * (time.perf_counter() - begun)
            print(f"  the whole path as sound: {took:.0f} ms, {len(sound.content) >> 10} KiB")
            begun = time.perf_counter()
            pages = len(http.get(f"/api/setups/{setup}/sheet").json()["pages"])
            print(f"  the sheet as SVG: {1000 * (time.perf_counter() - begun):.0f} ms, {pages} pages")
            begun = time.perf_counter()
            pdf = http.get(f"/api/setups/{setup}/export/pdf").content
            print(f"  the sheet as PDF: {1000 * (time.perf_counter() - begun):.0f} ms, {len(pdf) >> 10} KiB")
            packet(http, [setup] * 40)
            page.close()
        browser.close()


def looked_at(http: httpx.Client, page: Page, address: str, idiom: str) -> None:
    """The same notes as a tune of their own, whose setup was looked at until its ladder was worked out."""
    abc = TUNE.replace("Long Acre", f"Long Acre {idiom}")
    tune = http.post("/api/tunes", json={"abc": abc}).json()["added"][0]["id"]
    wish = {"idiom": idiom, "tuning": "gDGBD"}
    http.post(f"/api/tunes/{tune}/setups/ahead", json=wish).raise_for_status()
    begun = time.perf_counter()
    setup = http.post(f"/api/tunes/{tune}/setups", json=wish).json()["id"]
    page.goto(f"{address}/setups/{setup}")
    page.locator(".cell svg").first.wait_for()
    took = 1000 * (time.perf_counter() - begun)
    print(f"{idiom}, 64 bars: kept and painted, looked at before: {took:.0f} ms")


def packet(http: httpx.Client, setups: list[int]) -> None:
    """Forty sheets bound, from asking to the finished file."""
    begun = time.perf_counter()
    number = http.post("/api/packets", json={"title": "Bench", "setups": setups}).json()["number"]
    while (state := http.get(f"/api/packets/{number}").json())["state"] == "working":
        time.sleep(0.1)
    size = len(http.get(f"/api/packets/{number}/file").content) >> 10
    print(f"  a packet of {state['done']} sheets: {time.perf_counter() - begun:.1f} s, {size} KiB")


if __name__ == "__main__":
    main()
