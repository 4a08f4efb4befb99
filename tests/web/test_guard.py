"""Who may talk to the server: RFC 9110 (Host, 421), Fetch Metadata (W3C), Origin (RFC 6454)."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from nailhead.store.database import Database
from nailhead.web.app import create_app
from nailhead.web.guard import is_here
from tests.web.conftest import problem


@pytest.mark.parametrize(
    "host", ["localhost", "localhost:8000", "127.0.0.1:80", "127.3.2.1", "[::1]:8000", "a.localhost"]
)
def test_this_machine_is_answered(client: TestClient, host: str) -> None:
    assert client.get("/api/tunes", headers={"Host": host}).status_code == 200


@pytest.mark.parametrize(
    "host", ["evil.example", "localhost.evil.example", "192.168.1.5", "", "::1:x", "0.0.0.0", "[::1"]
)
def test_another_name_is_misdirected(client: TestClient, host: str) -> None:
    """A page that has its name lead here gets nothing, whatever it asks for."""
    for path in ("/api/tunes", "/", "/assets/x"):
        said = problem(client.get(path, headers={"Host": host}))
        assert said["status"] == 421 and "--allow-host" in said["remedy"]


def test_a_name_that_the_teacher_allows(client: TestClient) -> None:
    database: Database = client.app.state.database  # type: ignore[attr-defined]
    with TestClient(create_app(database, hosts=["music-room.lan"]), "http://music-room.lan:8000") as allowed:
        assert allowed.get("/api/tunes").status_code == 200
        assert allowed.get("/api/tunes", headers={"Host": "other.lan"}).status_code == 421
    assert is_here("127.0.0.1") and not is_here("127.0.0.1.example") and not is_here("")


FOREIGN = (
    {"Origin": "http://evil.example"},
    {"Origin": "http://localhost:3000"},
    {"Origin": "null"},
    {"Sec-Fetch-Site": "cross-site"},
    {"Origin": "http://localhost", "Sec-Fetch-Site": "cross-site"},
)


@pytest.mark.parametrize("headers", FOREIGN)
def test_another_sites_page_changes_nothing(client: TestClient, headers: dict[str, str]) -> None:
    """Neither a form nor a script of it, on another port of this machine either."""
    before = client.get("/api/tunes").json()["total"]
    for method, path in (("DELETE", "/api/tunes/1"), ("POST", "/api/tunes"), ("PUT", "/api/tunes/1/archived")):
        assert problem(client.request(method, path, headers=headers, json={}))["status"] == 403
    assert client.get("/api/tunes").json()["total"] == before


def test_our_own_page_may(client: TestClient) -> None:
    """With its origin, and a program that names none; a link from elsewhere may open a page but fetch nothing."""
    for headers in ({"Origin": "http://localhost", "Sec-Fetch-Site": "same-origin"}, {}):
        assert client.delete("/api/tunes/1", headers=headers).status_code == 204
        assert client.post("/api/tunes/1/restore", headers=headers).status_code == 200
    link = {"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "navigate"}
    assert client.get("/api/setups/1/export/abc", headers=link).status_code == 200
    assert client.get("/api/tunes", headers={**link, "Sec-Fetch-Mode": "no-cors"}).status_code == 403


def test_every_answer_says_what_it_allows(client: TestClient) -> None:
    """No script but ours, no frame, no guessing of types, no telling where from."""
    for path in ("/api/tunes", "/api/tunes/999", "/api/none", "/", "/api/setups/1/export/svg"):
        headers = client.get(path).headers
        policy = headers["content-security-policy"]
        assert "script-src 'self';" in policy and "frame-ancestors 'none'" in policy
        assert (headers["x-content-type-options"], headers["referrer-policy"]) == ("nosniff", "no-referrer")
