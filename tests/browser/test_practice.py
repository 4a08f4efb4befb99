"""The practice room in Chromium, by keys alone; what it sounds like, sample by sample; the page that is taken home."""

from __future__ import annotations

import io
from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path
from typing import Any

import httpx
import numpy as np
import pytest
import soundfile
from numpy.typing import NDArray
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import axe

pytestmark = pytest.mark.browser

#: The first setup of Lantern on the Weir on the invented shelf, and the saz's of Walnut Court.
LANTERN, WALNUT = 3, 18
#: Counts what begins to sound.
COUNTED = """
window.begun = 0
const start = AudioBufferSourceNode.prototype.start
AudioBufferSourceNode.prototype.start = function (...when) { window.begun += 1; return start.apply(this, when) }
"""


def open_room(page: Page, address: str, setup: int = LANTERN) -> None:
    page.goto(f"{address}/setups/{setup}/practice")
    expect(page.get_by_role("button", name="Play", exact=True)).to_be_enabled()


def press(page: Page, *keys: str) -> None:
    for key in keys:
        page.keyboard.press(key)


def until_begun(page: Page, count: int) -> None:
    """Waits until so many strings have been struck; a page's own policy forbids to wait by a script."""
    for _ in range(200):
        if page.evaluate("window.begun") > count:
            return
        page.wait_for_timeout(100)
    raise AssertionError(f"{page.evaluate('window.begun')} sounds in 20 s, not {count}")


def named(page: Page) -> Any:
    return page.locator(".named")


def test_a_player_needs_keys_alone(page: Page, address: str) -> None:
    """Bars with their pickup round and round, faster by steps, without the melody, a join by itself, a step done."""
    tempo = {"start": 95, "step": 5, "goal": 100, "clean": 1}
    httpx.put(f"{address}/api/setups/{LANTERN}/practice", json={"order": "as in the tune", "tempo": tempo})
    page.add_init_script(COUNTED)
    open_room(page, address)
    press(page, "2", *["ArrowRight"] * 10, "Shift+ArrowRight")
    expect(named(page)).to_have_text("Bars 10 to 11, round by the pickup")
    press(page, "+", "+", "+", "m", "Space")
    expect(page.locator(".tempo")).to_have_text("115 %")
    expect(page.locator(".cursor")).to_be_visible()
    until_begun(page, 30)  # more than two rounds of what is there
    press(page, "-", "Space")
    expect(page.locator(".cursor")).to_have_count(0)
    page.get_by_role("button", name="Mix").click()
    expect(page.get_by_label("Melody", exact=True)).not_to_be_checked()
    press(page, "m")
    expect(page.get_by_label("Melody", exact=True)).to_be_checked()
    drills = httpx.get(f"{address}/api/setups/{LANTERN}/practice").json()["drills"]
    join = next(at for at, drill in enumerate(drills) if drill["kind"] == "join")
    press(page, *["d"] * (join + 1), "Space")
    expect(named(page)).to_have_text(drills[join]["title"])
    expect(page.locator(".cursor")).to_be_visible()
    press(page, "Space", "Escape")
    expect(named(page)).to_have_text("The whole, as it is played")
    press(page, "n", "c")
    expect(page.get_by_text("At 100 %")).to_be_visible()
    press(page, "c")
    expect(page.locator(".now")).to_contain_text("Done")
    page.reload()
    expect(page.locator(".tick.done")).to_have_count(1)
    expect(page.get_by_role("region", name="Plan")).to_contain_text("1 of")
    press(page, "n")
    assert page.locator(".step[aria-current] .title").inner_text() == "Bar 2"


def test_a_key_can_be_another(page: Page, address: str) -> None:
    """A foot switch that sends F8 plays; the key that did it before does nothing; kept over a reload."""
    open_room(page, address)
    press(page, "?")
    page.get_by_role("button", name="play, stop").click()
    press(page, "F8")
    page.reload()
    expect(page.get_by_role("button", name="Play", exact=True)).to_be_enabled()
    press(page, "F8")
    expect(page.get_by_role("button", name="Stop")).to_be_visible()
    press(page, "F8", "Space")
    expect(page.get_by_role("button", name="Play", exact=True)).to_be_visible()


def test_the_tab_is_hidden_then_its_rhythm_shown(page: Page, address: str) -> None:
    """By ear first: nothing, then beats and hand, then all."""
    open_room(page, address)
    notes, rhythm = page.locator(".tab .notes").first, page.locator(".tab .rhythm").first
    press(page, "v")
    expect(notes).to_be_hidden()
    expect(rhythm).to_be_hidden()
    press(page, "v")
    expect(notes).to_be_hidden()
    expect(rhythm).to_be_visible()
    press(page, "v")
    expect(notes).to_be_visible()


def test_sounds_that_do_not_come_are_told_and_asked_for_again(page: Page, address: str) -> None:
    """A broken connection: the room says what is missing, plays what it has, and tries again."""
    page.route("**/api/voices/**", lambda route: route.abort())
    page.goto(f"{address}/setups/{LANTERN}/practice")
    expect(page.get_by_role("alert")).to_contain_text("sounds did not come")
    page.unroute("**/api/voices/**")
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_role("alert")).to_have_count(0)


@pytest.mark.parametrize("panel", ["Plan", "Drills", "Mix", "Keys"])
def test_the_room_is_open_to_everybody(page: Page, address: str, panel: str) -> None:
    open_room(page, address)
    page.get_by_role("button", name=panel, exact=True).click()
    assert axe(page) == []


# -- what is heard, measured in the samples


def written(page: Page, rounds: int) -> tuple[NDArray[np.float64], int]:
    """So many rounds as the room writes them down."""
    page.get_by_role("button", name="Mix").click()
    page.get_by_label("Times").fill(str(rounds))
    page.get_by_label("Times").press("Tab")
    with page.expect_download() as waiting:
        page.get_by_role("button", name="Keep", exact=True).click()
    sound, rate = soundfile.read(waiting.value.path())
    return sound, rate


def struck(bars: list[dict[str, Any]], chosen: list[int], rounds: int, whole_s: float) -> Iterator[tuple[float, Any]]:
    """(seconds, what begins to sound) from the API's exact times, round after round."""
    at = Fraction(0)
    for _ in range(rounds):
        for place in chosen:
            for one in bars[place]["takes"][0]["heard"]:
                yield float(at + Fraction(one["at"])) * whole_s + one["late"], one
            at += Fraction(bars[place]["length"])


def predicted(
    address: str, room: dict[str, Any], events: list[tuple[float, Any]], count: int, rate: int
) -> NDArray[np.float64]:
    """The same events mixed here, each string until it is struck again."""
    voices: dict[str, NDArray[np.float64]] = {}
    sound = np.zeros(count)
    for place, (at, one) in enumerate(events):
        if one["voice"] not in voices:
            where = next(voice["address"] for voice in room["voices"] if voice["name"] == one["voice"])
            plain, low = soundfile.read(io.BytesIO(httpx.get(address + where).content))
            longer = np.arange(round(len(plain) * rate / low)) * low / rate
            voices[one["voice"]] = np.interp(longer, np.arange(len(plain)), plain)
        again = next((then for then, other in events[place + 1 :] if other["string"] == one["string"]), at + 9)
        begin = round(at * rate)
        part = voices[one["voice"]][: min(round((again - at) * rate), round(one["seconds"] * rate), count - begin)]
        sound[begin : begin + len(part)] += one["loud"] * part
    return sound


@pytest.mark.parametrize(("setup", "melody"), [(LANTERN, True), (LANTERN, False), (WALNUT, True)])
def test_fifty_rounds_keep_their_time_to_a_millisecond(page: Page, address: str, setup: int, melody: bool) -> None:
    """Bars 2 and 3 at 115 %: at every onset of every round the sound lies within 1 ms of the exact time, the seam too.

    Without the melody nothing of it is heard.
    """
    open_room(page, address, setup)
    press(page, "i", "i", "2", *["ArrowRight"] * 2, "Shift+ArrowRight", "+", "+", "+", *([] if melody else ["m"]))
    room = httpx.get(f"{address}/api/setups/{setup}/practice/room").json()
    sound, rate = written(page, 50)
    bars, whole_s = room["score"]["bars"], room["whole_s"] * 100 / 115
    events = [(at, one) for at, one in struck(bars, [2, 3], 50, whole_s) if melody or not one["melody"]]
    assert len(events) >= 200
    expected = predicted(address, room, events, len(sound), rate)
    assert np.corrcoef(sound, expected)[0, 1] > 0.95
    wide = round(0.002 * rate)
    for at in sorted({round(at * rate) for at, _ in events}):
        begin, end = max(at, wide), at + round(0.08 * rate)
        here = sound[begin:end]
        lags = [float(np.dot(here, expected[begin + lag : end + lag])) for lag in range(-wide, wide + 1)]
        assert abs(int(np.argmax(lags)) - wide) <= 0.001 * rate, at / rate


# -- taken home


@pytest.fixture
def taken(address: str, tmp_path: Path) -> Path:
    """The page of Lantern on the Weir, on the pupil's disk."""
    answer = httpx.get(f"{address}/api/setups/{LANTERN}/practice/take-home", params={"note": "Softly </script> now"})
    file = tmp_path / "taken.html"
    file.write_bytes(answer.content)
    return file


def test_the_page_taken_home_plays_offline(browser: Browser, page: Page, address: str, taken: Path) -> None:
    """From a file, with the network off: it plays and loops, asks for nothing, has no complaint, keeps what is done."""
    assert taken.stat().st_size < 3_000_000
    page.goto(address)  # the fixture wants a visit
    home = browser.new_context(offline=True, viewport={"width": 1280, "height": 800})
    home.add_init_script(COUNTED)
    pupil = home.new_page()
    asked: list[str] = []
    said: list[str] = []
    pupil.on("request", lambda request: asked.append(request.url))
    pupil.on("console", lambda message: said.append(message.text))
    pupil.on("pageerror", lambda error: said.append(str(error)))
    pupil.goto(taken.as_uri())
    expect(pupil.get_by_role("button", name="Play", exact=True)).to_be_enabled()
    expect(pupil.locator(".note")).to_have_text("Softly </script> now")
    expect(pupil.get_by_text("SIL Open Font License")).to_be_visible()
    press(pupil, "2", "ArrowRight", *["+"] * 10, "Space")
    expect(pupil.locator(".tempo")).to_have_text("150 %")
    until_begun(pupil, 25)  # a bar has some six strokes
    press(pupil, "Space", "n", "c", "c", "c")
    expect(pupil.get_by_text("At 65 %")).to_be_visible()
    assert axe(pupil) == []
    pupil.reload()
    expect(pupil.locator(".tick.begun")).to_have_count(1)
    pupil.emulate_media(media="print")
    expect(pupil.locator(".paper svg").first).to_be_visible()
    expect(pupil.locator(".lines")).to_be_hidden()
    assert [url for url in asked if not url.startswith(("file:", "data:"))] == []
    assert said == []
    home.close()
