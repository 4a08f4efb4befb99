"""A server of its own for each test, and Debian's Chromium to drive it."""

from __future__ import annotations

import shutil
import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
import uvicorn
from fastapi import FastAPI
from playwright.sync_api import Page, expect

from nailhead.demo.shelf import fill_shelf
from nailhead.store.database import Database
from nailhead.web.app import STATIC, create_app

CHROMIUM = "/usr/bin/chromium"
#: A busy machine may take its time; what never comes still fails.
expect.set_options(timeout=20_000)
FLAGS = [
    "--host-resolver-rules=MAP *.rebound.example 127.0.0.1",  # a name of somebody else's that leads here
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict) -> dict:  # type: ignore[type-arg]
    return {**browser_type_launch_args, "executable_path": CHROMIUM, "args": FLAGS}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict) -> dict:  # type: ignore[type-arg]
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}}


@pytest.fixture(scope="session")
def shelf(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The invented shelf, put on a file once; each test works on a copy."""
    path = tmp_path_factory.mktemp("shelf") / "browser.sqlite3"
    fill_shelf(Database(path))
    return path


@pytest.fixture
def address(tmp_path: Path, shelf: Path) -> Iterator[str]:
    """The demo shelf served on loopback from a fresh data file; stops with the test."""
    assert (STATIC / "index.html").exists(), "build the front end first: make .stamps/front"
    for file in shelf.parent.iterdir():
        shutil.copy(file, tmp_path)
    with served(create_app(Database(tmp_path / shelf.name))) as found:
        yield found


@contextmanager
def served(app: FastAPI) -> Iterator[str]:
    """An application on a free port of loopback, as long as the block lasts."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    server = uvicorn.Server(uvicorn.Config(app, port=port, log_level="error"))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    thread.join(timeout=5)


@pytest.fixture(autouse=True)
def quiet_and_at_home(page: Page, address: str) -> Iterator[None]:
    """In every test: no request leaves the origin, no script fails."""
    asked: list[str] = []
    failed: list[str] = []
    page.on("request", lambda request: asked.append(request.url))
    page.on("pageerror", lambda error: failed.append(str(error)))
    yield
    strangers = [url for url in asked if not url.startswith((address, "data:", "blob:"))]
    assert asked and strangers == []
    assert failed == []


AXE = Path(__file__).parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"


def axe(page: Page) -> list[tuple[str, str, str]]:
    """What axe-core finds against WCAG 2 A and AA on the page as it stands: (rule, element, what is wrong)."""
    page.evaluate(AXE.read_text(encoding="utf-8"))
    found = page.evaluate("axe.run({ runOnly: ['wcag2a', 'wcag2aa'] }).then(result => result.violations)")
    return [(rule["id"], rule["nodes"][0]["html"][:160], rule["nodes"][0]["failureSummary"][:200]) for rule in found]
