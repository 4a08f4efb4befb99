"""Broken connections in Chromium: what was typed or decided is kept, or its loss is announced, on every screen."""

from __future__ import annotations

import asyncio
import shutil
from collections.abc import Callable, Iterator
from pathlib import Path

import httpx
import pytest
from playwright.sync_api import Page, Route, expect

from nailhead.store.database import Database
from nailhead.web.app import create_app
from tests.browser.conftest import axe, served
from tests.browser.test_desk import open_desk, saved, text_of
from tests.browser.test_ladder_work import keys
from tests.browser.test_screens import on_path, open_ladder

pytestmark = pytest.mark.browser
TUNE = "Lantern on the Weir"


def tune_id(address: str) -> int:
    rows = httpx.get(f"{address}/api/tunes", params={"find": TUNE}).json()["tunes"]
    return int(rows[0]["id"])


def kept_text(address: str) -> str:
    return str(httpx.get(f"{address}/api/tunes/{tune_id(address)}").json()["text"])


def kept_rungs(page: Page, address: str) -> list[int]:
    setup = page.url.rsplit("/", 1)[1].split("?")[0]
    rungs: list[int] = httpx.get(f"{address}/api/setups/{setup}/ladder").json()["path"]["rungs"]
    return rungs


def eventually(page: Page, holds: Callable[[], bool]) -> None:
    """What the server has becomes true within ten seconds; the page goes on meanwhile."""
    for _ in range(100):
        if holds():
            return
        page.wait_for_timeout(100)
    assert holds()


class Outage:
    """The server is away for every request but the page itself, as long as it is `on`."""

    def __init__(self, page: Page) -> None:
        self.on = False
        page.route("**/api/**", self._pass)

    def _pass(self, route: Route) -> None:
        route.abort("connectionrefused") if self.on else route.continue_()


def type_at_the_end(page: Page, text: str) -> None:
    page.locator(".cm-content").click()
    page.keyboard.press("Control+End")
    page.keyboard.type(text)


def test_what_is_typed_is_kept_when_a_link_is_followed_at_once(page: Page, address: str) -> None:
    """A link within a few milliseconds of the last key: the save names the tune, and nothing is asked of her."""
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url) if request.method == "PUT" else None)
    open_desk(page, address, TUNE)
    type_at_the_end(page, "\n% typed last")
    page.get_by_role("link", name="Tunes").click()
    expect(page).to_have_url(f"{address}/")
    assert kept_text(address).endswith("% typed last")
    assert asked and all(f"/tunes/{tune_id(address)}/text" in url for url in asked)


def test_leaving_asks_where_nothing_can_be_saved(page: Page, address: str) -> None:
    """By a link and by Back: she stays, goes on typing, and is saved when the server is back; or leaves knowingly."""
    open_desk(page, address, TUNE)
    outage = Outage(page)
    outage.on = True
    type_at_the_end(page, "\n% typed in an outage")
    page.get_by_role("link", name="Tunes").click()
    question = page.get_by_role("dialog", name="The tune is not saved")
    question.get_by_role("button", name="Stay here").click()
    expect(page.get_by_role("alert").filter(has_text="What you typed is not saved yet.")).to_have_count(1)
    assert text_of(page).endswith("% typed in an outage")
    page.go_back()
    expect(question).to_be_visible()
    page.keyboard.press("Escape")
    expect(question).to_have_count(0)
    assert page.url.endswith(f"/tunes/{tune_id(address)}")
    outage.on = False
    saved(page)
    expect(page.get_by_role("alert")).to_have_count(0)
    assert kept_text(address).endswith("% typed in an outage")
    outage.on = True
    type_at_the_end(page, ", twice")
    page.get_by_role("link", name="Tunes").click()
    question.get_by_role("button", name="Leave without saving").click()
    expect(page).to_have_url(f"{address}/")


def test_closing_the_tab_asks_while_text_is_not_saved(page: Page, address: str) -> None:
    """In the browser's own words."""
    open_desk(page, address, TUNE)
    outage = Outage(page)
    outage.on = True
    type_at_the_end(page, "\n% unsaved")
    asked: list[str] = []
    page.on("dialog", lambda dialog: (asked.append(dialog.type), dialog.dismiss()))
    page.wait_for_timeout(700)
    page.close(run_before_unload=True)
    eventually(page, lambda: asked == ["beforeunload"])


def test_a_change_whose_request_was_cut_off_is_sent_again(page: Page, address: str) -> None:
    """The first of two is cut off once; then an answer is lost though the server made the change: each is made once."""
    open_ladder(page, address, TUNE)
    cut = iter([True, False, False])
    page.route("**/changes", lambda route: route.abort() if next(cut, False) else route.continue_())
    keys(page, "]", "]")
    eventually(page, lambda: kept_rungs(page, address)[0] == 4)
    expect(page.get_by_role("alert")).to_have_count(0)
    page.unroute("**/changes")
    lost = iter([True])

    def lose(route: Route) -> None:
        if next(lost, False):
            route.fetch()
            route.abort()
        else:
            route.continue_()

    page.route("**/changes", lose)
    keys(page, "]")
    expect(page.locator("[data-place='0'].cell.on-path[data-rung='5']")).to_be_visible()
    eventually(page, lambda: kept_rungs(page, address)[0] == 5)
    expect(page.get_by_role("alert")).to_have_count(0)
    keys(page, "u")
    eventually(page, lambda: kept_rungs(page, address)[0] == 4)


def test_what_finally_fails_is_rolled_back_and_offered_again(page: Page, address: str) -> None:
    """One alert; the path is drawn as the server has it; a later success leaves the failure standing."""
    open_ladder(page, address, TUNE)
    before = on_path(page)
    outage = Outage(page)
    outage.on = True
    keys(page, "]", "]")
    assert on_path(page) != before
    alert = page.get_by_role("alert")
    expect(alert).to_have_count(1)
    expect(alert).to_contain_text("2 changes are not saved yet.")
    expect(alert).to_contain_text("Not saved: Pickup up a rung (2 times).")
    assert on_path(page) == before and axe(page) == []
    outage.on = False
    expect(alert).not_to_contain_text("not responding")
    keys(page, "ArrowRight", "]")
    eventually(page, lambda: kept_rungs(page, address)[1] == 3)
    expect(alert).to_contain_text("Not saved: Pickup up a rung")
    alert.get_by_role("button", name="Try again").click()
    expect(alert).to_have_count(0)
    eventually(page, lambda: kept_rungs(page, address)[:2] == [4, 3])
    page.reload()
    expect(page.locator("[data-place='0'].cell.on-path[data-rung='4']")).to_be_visible()


def test_a_refusal_stays_until_it_is_dismissed(page: Page, address: str) -> None:
    """A locked bar is not raised; the alert outlives the next change, and goes when she has read it."""
    open_ladder(page, address, TUNE)
    keys(page, "k", "]", "ArrowRight", "]")
    eventually(page, lambda: kept_rungs(page, address)[1] == 3)
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("is locked")
    page.wait_for_timeout(300)
    alert.get_by_role("button", name="Dismiss").click()
    expect(alert).to_have_count(0)


def test_sheet_and_practice_room_come_back_by_themselves(page: Page, address: str) -> None:
    """Opened in an outage they wait, and show themselves when the server is back; what is chosen meanwhile is kept."""
    open_ladder(page, address, TUNE)
    page.get_by_role("link", name="Sheet").first.click()
    expect(page.locator(".paper svg").first).to_be_visible()
    outage = Outage(page)
    outage.on = True
    page.get_by_label("Size").select_option("large")
    page.get_by_role("link", name="Practice").click()
    expect(page.get_by_role("alert")).to_have_count(1)
    outage.on = False
    expect(page.get_by_role("heading", name=TUNE)).to_be_visible()
    expect(page.get_by_role("alert")).to_have_count(0)
    page.get_by_role("link", name="Sheet").click()
    expect(page.get_by_label("Size")).to_have_value("large")


class Slow:
    """ASGI middleware: every change takes half a second before it is looked at, as over a slow line."""

    def __init__(self, app: Callable[..., object]) -> None:
        self.app = app

    async def __call__(self, scope: dict[str, object], receive: object, send: object) -> None:
        if scope["type"] == "http" and scope["method"] != "GET":
            await asyncio.sleep(0.5)
        await self.app(scope, receive, send)  # type: ignore[misc]


@pytest.fixture
def slow_address(tmp_path: Path, shelf: Path) -> Iterator[str]:
    for file in shelf.parent.iterdir():
        shutil.copy(file, tmp_path / f"slow-{file.name}")
    app = create_app(Database(tmp_path / f"slow-{shelf.name}"))
    app.add_middleware(Slow)  # type: ignore[arg-type]
    with served(app) as found:
        yield found


def test_a_tab_that_is_closed_at_once_keeps_every_change(page: Page, address: str, slow_address: str) -> None:
    """Four changes over a slow line, the tab closed 0.3 s later: all four are made, in order, once each."""
    other = page.context.new_page()
    open_ladder(other, slow_address, TUNE)
    page.goto(address)
    setup = other.url.rsplit("/", 1)[1].split("?")[0]
    keys(other, "]", "ArrowRight", "]", "]", "ArrowRight", "]")
    other.wait_for_timeout(300)
    other.close()

    def path() -> dict[str, object]:
        found: dict[str, object] = httpx.get(f"{slow_address}/api/setups/{setup}/ladder").json()["path"]
        return found

    first = path()["revision"]
    assert isinstance(first, int) and first < 4
    eventually(page, lambda: path()["rungs"][:3] == [3, 4, 3])  # type: ignore[index]
    page.wait_for_timeout(1000)
    assert path()["revision"] == 4
