"""The practice room in Chromium: from opening to ready, from a key to the first sound, a sound file of many rounds; run
by `make bench`.
"""

from __future__ import annotations

import statistics
import tempfile
import time
from pathlib import Path

import httpx
from playwright.sync_api import Page, sync_playwright

from tests.bench_ladder import TUNE, served
from tests.browser.conftest import CHROMIUM, FLAGS

#: The first half of the tune of 64 bars.
BARS = 32
#: Notes how long after a key the first string is heard, in ms: until it is scheduled, the rest of the way on the audio
#: clock, and what the device adds.
HEARD = """
window.heard = []
addEventListener('keydown', () => { window.pressed = performance.now() }, true)
const start = AudioBufferSourceNode.prototype.start
AudioBufferSourceNode.prototype.start = function (at) {
  if (window.pressed) {
    const device = (this.context.baseLatency + (this.context.outputLatency || 0)) * 1000
    window.heard.push(performance.now() - window.pressed + Math.max(0, at - this.context.currentTime) * 1000 + device)
    window.pressed = 0
  }
  return start.apply(this, arguments)
}
"""


def main() -> None:
    tune = "|".join(TUNE.split("|")[:BARS]) + "|]\n"
    with (
        tempfile.TemporaryDirectory() as folder,
        served(Path(folder)) as address,
        httpx.Client(base_url=address, timeout=60) as http,
        sync_playwright() as playwright,
    ):
        made = http.post("/api/tunes", json={"abc": tune}).json()["added"][0]["id"]
        setup = http.post(f"/api/tunes/{made}/setups", json={"idiom": "clawhammer", "tuning": "gDGBD"}).json()["id"]
        flags = [*FLAGS, "--autoplay-policy=no-user-gesture-required"]
        page = playwright.chromium.launch(executable_path=CHROMIUM, args=flags).new_page()
        page.add_init_script(HEARD)
        for visit in ("first", "second"):
            print(f"practice room, {BARS} bars, {visit} visit: ready after {opened(page, address, setup):.2f} s")
        page.keyboard.press("i")
        page.keyboard.press("i")  # no count-in
        for _ in range(12):
            page.keyboard.press(" ")
            page.wait_for_timeout(400)
            page.keyboard.press(" ")
            page.wait_for_timeout(100)
        times = page.evaluate("window.heard")
        print(f"key to sound: {statistics.median(times):.0f} ms, at most {max(times):.0f} ms, of {len(times)}")
        page.get_by_role("button", name="Mix").click()
        page.get_by_label("Times").fill("5")
        page.get_by_label("Times").press("Tab")
        begun = time.perf_counter()
        with page.expect_download(timeout=120_000):
            page.get_by_role("button", name="Keep", exact=True).click()
        print(f"sound file of {5 * BARS} bars: {time.perf_counter() - begun:.1f} s")


def opened(page: Page, address: str, setup: int) -> float:
    """Seconds until the room can be played."""
    begun = time.perf_counter()
    page.goto(f"{address}/setups/{setup}/practice")
    page.locator(".play:enabled").wait_for()
    return time.perf_counter() - begun


if __name__ == "__main__":
    main()
