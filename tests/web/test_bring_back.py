"""An arrangement written as JSON and read back is the same arrangement, edits and all."""

from __future__ import annotations

import json

import pytest
from fastapi.testclient import TestClient

from tests.web.conftest import change, problem
from tests.web.test_api import setup_of
from tests.web.test_changes_api import every_change

VOLATILE = ("revision", "undo", "redo")


@pytest.mark.parametrize("name", ["json", "musicxml"])
def test_every_decision_comes_back(client: TestClient, name: str) -> None:
    """After one change of every kind: path, splits, locks, cells, what is aside, choices, sheet, name."""
    first = setup_of(client, "Lantern")
    for do, more in every_change(client, first):
        assert change(client, first, do, **more).status_code == 200
    change(client, first, "sheet", options={"size": "large", "fingers": True})
    client.put(f"/api/setups/{first}/name", json={"name": "For the fair"})
    written = client.get(f"/api/setups/{first}/export/{name}").text
    back = client.post("/api/arrangements", json={"text": written})
    assert back.status_code == 201, back.text
    body = back.json()
    assert "changed elsewhere" not in " ".join(body["aside"])
    assert body["known"] and body["title"] == "Lantern on the Weir"
    one, other = (client.get(f"/api/setups/{setup}/ladder").json() for setup in (first, body["setup"]))
    assert {k: v for k, v in one["path"].items() if k not in VOLATILE} == {
        k: v for k, v in other["path"].items() if k not in VOLATILE
    }
    assert (one["label"], one["name"], one["phrases"]) == (other["label"], other["name"], other["phrases"])
    sheets = [client.get(f"/api/setups/{setup}/sheet").json() for setup in (first, body["setup"])]
    assert sheets[0]["pages"] == sheets[1]["pages"] and sheets[0]["options"] == sheets[1]["options"]
    assert client.get(f"/api/setups/{body['setup']}/export/{name}").text == written


def test_a_tune_that_is_not_there_comes_with_it(client: TestClient) -> None:
    """On another shelf: taken off here, brought back by its arrangement, with its facts."""
    setup = setup_of(client, "Hazel")
    written = client.get(f"/api/setups/{setup}/export/json").text
    tune = client.get(f"/api/setups/{setup}/ladder").json()["tune_id"]
    client.delete(f"/api/tunes/{tune}")
    body = client.post("/api/arrangements", json={"text": written}).json()
    assert not body["known"] and body["aside"] == []
    row = next(row for row in client.get("/api/tunes").json()["tunes"] if row["id"] == body["tune"])
    assert (row["title"], row["form"], row["setups"]) == ("Hazel at the Window", "AABB", 1)


def test_a_score_that_was_changed_elsewhere_says_so(client: TestClient) -> None:
    """White space and the order of attributes do not matter, a note does; a score that carries nothing is named."""
    setup = setup_of(client, "Lantern")
    written = client.get(f"/api/setups/{setup}/export/musicxml").text
    tidied = "\n".join(line.strip() for line in written.splitlines())
    assert client.post("/api/arrangements", json={"text": tidied}).json()["aside"] == []
    changed = written.replace("<fret>2</fret>", "<fret>3</fret>", 1)
    assert changed != written
    assert "changed elsewhere" in client.post("/api/arrangements", json={"text": changed}).json()["aside"][0]
    for text in ("<score-partwise/>", written.replace("nailhead-arrangement", "other"), "<no xml"):
        assert problem(client.post("/api/arrangements", json={"text": text}))["status"] == 422


@pytest.mark.parametrize(
    "spoil",
    [
        lambda document: "no json",
        lambda document: "[" * 100_000,
        lambda document: "[]",
        lambda document: json.dumps({**document, "format": "other"}),
        lambda document: json.dumps({**document, "version": 9}),
        lambda document: json.dumps({**document, "source": None}),
        lambda document: json.dumps({**document, "source": {**document["source"], "abc": 7}}),
        lambda document: json.dumps({**document, "source": {**document["source"], "abc": "X:1\nK:G\nG0|"}}),
        lambda document: json.dumps({**document, "source": {**document["source"], "decisions": {}}}),
        lambda document: json.dumps({**document, "source": {**document["source"], "instrument": "lute"}}),
        lambda document: json.dumps({**document, "source": {**document["source"], "tuning": "zz"}}),
        lambda document: json.dumps({**document, "source": {**document["source"], "capo": 99}}),
    ],
)
def test_a_file_that_is_none_is_refused_and_nothing_is_kept(client: TestClient, spoil) -> None:  # type: ignore[no-untyped-def]
    """A problem document with a remedy; the shelf is as it was."""
    setup = setup_of(client, "Plum")
    document = client.get(f"/api/setups/{setup}/export/json").json()
    before = client.get("/api/tunes").json()
    refused = problem(client.post("/api/arrangements", json={"text": spoil(document)}))
    assert refused["status"] in (404, 422) and refused["detail"]
    assert client.get("/api/tunes").json() == before
