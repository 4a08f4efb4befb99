"""An arrangement written as JSON and read back is the same arrangement, edits and all."""

from __future__ import annotations

import base64
import json
import re
from typing import Any

import pytest
from fastapi.testclient import TestClient

from nailhead.formats.musicxml.archive import pack
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
    assert body["notices"] == []
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


def test_frets_changed_elsewhere_come_back_as_hand_edits(client: TestClient) -> None:
    """White space and the order of attributes do not matter, a fret does: its bar is edited, and alone."""
    setup = setup_of(client, "Lantern")
    written = client.get(f"/api/setups/{setup}/export/musicxml").text
    tidied = "\n".join(line.strip() for line in written.splitlines())
    assert client.post("/api/arrangements", json={"text": tidied}).json()["notices"] == []
    changed = written.replace("<fret>2</fret>", "<fret>3</fret>", 1)
    body = client.post("/api/arrangements", json={"text": changed}).json()
    assert body["notices"] == ["Changed elsewhere and kept as hand edits: bar 2."] and body["aside"] == []
    bars = client.get(f"/api/setups/{body['setup']}/export/json").json()["bars"]
    before = client.get(f"/api/setups/{setup}/export/json").json()["bars"]
    assert [at for at, (one, other) in enumerate(zip(bars, before, strict=True)) if frets(one) != frets(other)] == [2]


def test_what_cannot_be_read_is_refused(client: TestClient) -> None:
    setup = setup_of(client, "Lantern")
    written = client.get(f"/api/setups/{setup}/export/musicxml").text.replace("nailhead-arrangement", "other")
    untuned = re.sub(r"<staff-details>.*?</staff-details>", "", written, flags=re.DOTALL)
    for text in ("<score-partwise/>", untuned, "<no xml"):
        said = problem(client.post("/api/arrangements", json={"text": text}))
        assert said["status"] == 422 and said["remedy"]
    assert problem(client.post("/api/arrangements", json={"text": ""}))["status"] == 422


def test_a_score_from_elsewhere_becomes_a_hand_edited_arrangement(client: TestClient) -> None:
    """Nothing carried: tune, setup and every bar come out of the tablature, packed or not; locked cells are kept."""
    setup = setup_of(client, "Lantern")
    client.post(f"/api/setups/{setup}/changes", json={"change": {"do": "level", "rung": 5}, "revision": 0})
    written = client.get(f"/api/setups/{setup}/export/musicxml").text
    foreign = written.replace("nailhead-arrangement", "other").replace("Nailhead ", "Another ")
    start = client.post("/api/tunes/preview", files={"file": ("x.musicxml", foreign.encode())}).text.splitlines()[0]
    assert json.loads(start)["tablature"]
    packed = base64.b64encode(pack(foreign)).decode()
    for file in ({"text": foreign}, {"packed": packed}):
        body = client.post("/api/arrangements", json=file).json()
        assert any("melody is the highest note" in notice for notice in body["notices"]) and body["aside"] == []
        ladder = client.get(f"/api/setups/{body['setup']}/ladder").json()
        assert ladder["name"] == "From a score" and "open G" in ladder["label"]
        bars = client.get(f"/api/setups/{body['setup']}/export/json").json()["bars"]
        before = client.get(f"/api/setups/{setup}/export/json").json()["bars"]
        assert [frets(bar) for bar in bars] == [frets(bar) for bar in before]


def frets(bar: dict[str, Any]) -> list[tuple[object, ...]]:
    """(onset, string, fret) of everything struck in a bar of the JSON."""
    return [(note["onset"], note["string"], note["fret"]) for note in bar["notes"] if note["technique"] != "tie"]


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
