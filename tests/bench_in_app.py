"""What a teacher waits for in the open application: a tune of 64 bars from "Set up" to painted cells; `make bench`.

The server is the real one with its workers, on loopback, and stops by itself. Pages are changed by its own links, as
in use; only the first one is loaded.
"""

from __future__ import annotations

import signal
import socket
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx
from playwright.sync_api import Page, sync_playwright

from tests.bench_ladder import TUNE
from tests.browser.conftest import CHROMIUM, FLAGS

WAYS = {"clawhammer": "Clawhammer", "three-finger": "Three-finger"}
ROUNDS = 3
#: Milliseconds that she looks at a way before she takes it.
LOOKED = 4000


@contextmanager
def real_server() -> Iterator[str]:
    """`nailhead serve` on an empty data file."""
    with tempfile.TemporaryDirectory() as folder, socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
        probe.close()
        data = str(Path(folder) / "bench.sqlite3")
        server = subprocess.Popen(
            [sys.executable, "-m", "nailhead", "serve", "--data", data, "--port", str(port)], stdout=subprocess.DEVNULL
        )
        address = f"http://127.0.0.1:{port}"
        try:
            for _ in range(400):
                try:
                    httpx.get(f"{address}/api/tunes")
                    break
                except httpx.TransportError:
                    time.sleep(0.05)
            time.sleep(4)  # the workers get ready
            yield address
        finally:
            server.send_signal(signal.SIGINT)
            server.wait(timeout=20)


def main() -> None:
    with real_server() as address, sync_playwright() as playwright, httpx.Client(base_url=address, timeout=60) as http:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        for idiom in WAYS:
            for how, looked in (("at once", 0), ("looked at for a second", 1000), ("looked at before", LOOKED)):
                titles = [f"{idiom} {how} {number}" for number in range(ROUNDS)]
                times = [set_up(http, page, address, title, idiom, looked) for title in titles]
                said = " ".join(f"{1000 * taken:.0f}" for taken in times)
                print(f"{idiom}, 64 bars in the open application: {how}, set up and painted: {said} ms")
            times = [opened(page) for _ in range(ROUNDS)]
            print(f"  opened again from the shelf, painted: {' '.join(f'{1000 * taken:.0f}' for taken in times)} ms")
        browser.close()


def set_up(http: httpx.Client, page: Page, address: str, title: str, idiom: str, looked: int) -> float:
    """Seconds from "Set up" on a tune that was never worked out to painted cells."""
    # Another title makes it another text: nothing that was kept for the last one serves.
    abc = TUNE.replace("Long Acre", title)
    tune = http.post("/api/tunes", json={"abc": abc}).json()["added"][0]["id"]
    page.goto(f"{address}/tunes/{tune}/setup")
    page.get_by_role("combobox", name="Instrument").click()
    page.get_by_role("option", name="Five-string banjo", exact=True).click()
    page.get_by_role("combobox", name="Way of playing").click()
    page.get_by_role("option", name=WAYS[idiom]).click()
    page.locator(".neck-drawing .played").first.wait_for()
    page.wait_for_timeout(looked)
    begun = time.perf_counter()
    page.locator(".list .keep").first.click()
    page.locator(".cell svg").first.wait_for()
    return time.perf_counter() - begun


def opened(page: Page) -> float:
    """Seconds from a link on the shelf to painted cells."""
    page.get_by_role("link", name="Shelf").first.click()
    page.locator("tbody tr").first.click()
    link = page.locator(".ladders a").first
    link.wait_for()
    begun = time.perf_counter()
    link.click()
    page.locator(".cell svg").first.wait_for()
    return time.perf_counter() - begun


if __name__ == "__main__":
    main()
