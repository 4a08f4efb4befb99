"""A page of another site in the same browser: it can neither read from the server nor change anything on it."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import httpx
import pytest
from playwright.sync_api import Browser, Page

pytestmark = pytest.mark.browser

PAGE = b"<!doctype html><title>elsewhere</title><form method=post enctype=text/plain></form>"


class _Page(BaseHTTPRequestHandler):
    def do_GET(self) -> None:
        self.send_response(200)
        self.send_header("Content-Type", "text/html")
        self.end_headers()
        self.wfile.write(PAGE)

    def log_message(self, format: str, *args: object) -> None:
        """Says nothing."""


@pytest.fixture
def elsewhere() -> Iterator[str]:
    """A site of somebody else's, on another port of this machine."""
    server = ThreadingHTTPServer(("127.0.0.1", 0), _Page)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://shop.rebound.example:{server.server_port}"
    server.shutdown()


#: Asks in every way that a page can without being let in, and gives what it gets to see.
ASK = """async ([address, method, mode]) => {
  try {
    const answer = await fetch(address, {method, mode, body: method === 'POST' ? '{}' : undefined});
    return [answer.type, answer.status, (await answer.text()).slice(0, 20)];
  } catch (error) { return ['failed', 0, '']; }
}"""


def test_a_foreign_page_reads_and_changes_nothing(browser: Browser, page: Page, address: str, elsewhere: str) -> None:
    """By script and by a form that it sends off, while the teacher has her shelf open."""
    page.goto(address)
    context = browser.new_context()
    stranger = context.new_page()
    stranger.goto(elsewhere)
    tunes = httpx.get(f"{address}/api/tunes").json()
    port = address.rsplit(":", 1)[1]
    for host in ("127.0.0.1", "localhost"):
        for method in ("GET", "POST"):
            for mode in ("cors", "no-cors"):
                seen = stranger.evaluate(ASK, [f"http://{host}:{port}/api/tunes", method, mode])
                assert seen[1:] == [0, ""], (host, method, mode, seen)
    send = "address => { const form = document.forms[0]; form.action = address; form.submit(); }"
    with stranger.expect_navigation():
        stranger.evaluate(send, f"http://localhost:{port}/api/tunes/1/duplicate")
    assert "From another site" in stranger.content()
    assert httpx.get(f"{address}/api/tunes").json() == tunes
    context.close()


def test_a_name_that_is_made_to_lead_here_gets_nothing(browser: Browser, page: Page, address: str) -> None:
    """DNS rebinding: the browser takes the server for the stranger's own, and is told that it is not."""
    page.goto(address)
    context = browser.new_context()
    stranger = context.new_page()
    answer = stranger.goto(f"http://shop.rebound.example:{address.rsplit(':', 1)[1]}/api/tunes")
    assert answer and answer.status == 421
    seen = stranger.evaluate(ASK, ["/api/tunes", "GET", "cors"])
    assert (seen[1] == 421 and "title" not in seen[2].split(":")[0]) or "about:blank" in seen[2]
    context.close()
