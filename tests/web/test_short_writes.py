"""Nothing is worked out while others wait to write: a transaction that writes only writes."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

import pytest
from fastapi.testclient import TestClient

from nailhead.formats.abc import reader
from nailhead.store import database
from nailhead.web import ladders, remembered, shelf
from tests.web.conftest import change
from tests.web.test_api import setup_of
from tests.web.test_changes_api import every_change

#: What takes its time, where it is called by this name.
WORK = ((ladders, "build_ladder"), (shelf, "facts_of"), (reader, "read_entry"))


@pytest.fixture
def written_in(monkeypatch: pytest.MonkeyPatch) -> Iterator[list[str]]:
    """What has been worked out inside of a transaction that writes, and how much outside."""
    inside: list[bool] = []
    found: list[str] = []
    usual = database.transaction

    @contextmanager
    def watched(connection: sqlite3.Connection) -> Iterator[None]:
        inside.append(True)
        try:
            with usual(connection):
                yield
        finally:
            inside.pop()

    def noted(name: str, work: Callable[..., Any]) -> Callable[..., Any]:
        def called(*args: object, **kwargs: object) -> object:
            if inside:
                found.append(name)
            done.append(name)
            return work(*args, **kwargs)

        return called

    done: list[str] = []
    monkeypatch.setattr(database, "transaction", watched)
    for module, name in WORK:
        monkeypatch.setattr(module, name, noted(name, getattr(module, name)))
    yield found
    assert set(done) == {name for _, name in WORK}


def test_nothing_is_worked_out_in_a_transaction(client: TestClient, written_in: list[str]) -> None:
    """Over everything that writes: tunes brought in, written, copied; setups; every change with undo and redo."""
    ladders._LADDERS.clear()
    remembered._ANSWERS.clear()
    abc = "X:1\nT:quite new\nM:4/4\nL:1/8\nK:G\nG2B2d2B2|c2A2F2D2|G8|\n"
    tune = client.post("/api/tunes", json={"abc": abc}).json()["added"][0]["id"]
    text = {"text": abc.replace("c2", "e2"), "revision": client.get(f"/api/tunes/{tune}").json()["revision"]}
    assert client.put(f"/api/tunes/{tune}/text", json=text).status_code == 200
    assert client.post(f"/api/tunes/{tune}/duplicate").status_code == 201
    assert client.post("/api/tunes/blank", json={"title": "Blank"}).status_code == 201
    setup = client.post(f"/api/tunes/{tune}/setups", json={"instrument": "banjo"}).json()["id"]
    assert client.post(f"/api/setups/{setup}/copy", json={"name": "Other"}).status_code == 201
    reel = setup_of(client, "Lantern")
    revision = client.get(f"/api/setups/{reel}/ladder").json()["path"]["revision"]
    for do, more in every_change(client, reel):
        ladders._LADDERS.clear()
        answer = change(client, reel, do, **more)
        assert answer.status_code == 200, (do, answer.text)
        revision = client.get(f"/api/setups/{reel}/ladder").json()["path"]["revision"]
    for way in ("undo", "redo"):
        ladders._LADDERS.clear()
        revision = client.post(f"/api/setups/{reel}/{way}", json={"revision": revision}).json()["path"]["revision"]
    written = client.get(f"/api/setups/{reel}/export/json").text.replace("quite new", "newer")
    ladders._LADDERS.clear()
    assert client.post("/api/arrangements", json={"text": written}).status_code == 201
    assert written_in == []
