"""Over the API: other ways to play a bar, every place of a note, and the choices of an arrangement."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from tests.web.conftest import change, problem
from tests.web.test_api import setup_of


@pytest.fixture
def three(client: TestClient) -> int:
    """The reel of the shelf set up for three fingers."""
    tune = next(row for row in client.get("/api/tunes").json()["tunes"] if "Lantern" in row["title"])
    setups = client.get(f"/api/tunes/{tune['id']}").json()["setups"]
    return next(int(setup["id"]) for setup in setups if setup["idiom"] == "three-finger")


def test_other_ways_come_drawn_and_in_words(client: TestClient, three: int) -> None:
    """Cheapest first, each with its grade, its strokes to read aloud and its marks."""
    found = client.get(f"/api/setups/{three}/bars/1/alternatives", params={"rung": 5}).json()
    assert len(found) >= 2
    assert [other["price"] for other in found] == sorted(other["price"] for other in found)
    for other in found:
        assert other["difference"].endswith(".") and 1 <= other["grade"] <= 8
        assert other["marks"] and other["width"] > 10 and ":" in other["strokes"]


def test_places_of_a_note(client: TestClient, three: int) -> None:
    """B on the second beat: open, or string 3 fret 4."""
    found = client.get(f"/api/setups/{three}/bars/1/unisons", params={"onset": "1/4"}).json()
    assert [(unison["string"], unison["fret"]) for unison in found[:2]] == [(2, 0), (3, 4)]
    assert found[0]["price"] == 0 and "Fretted unison" in found[1]["words"]


@pytest.mark.parametrize(
    ("path", "field"),
    [
        ("bars/99/alternatives?rung=2", "place"),
        ("bars/1/alternatives?rung=9", "rung"),
        ("bars/1/unisons?onset=1/16", "onset"),
        ("bars/1/unisons?onset=soon", "onset"),
        ("bars/1/unisons?onset=1/0", "onset"),
    ],
)
def test_what_is_not_there_is_named(client: TestClient, three: int, path: str, field: str) -> None:
    """Place and remedy in a problem document."""
    refused = problem(client.get(f"/api/setups/{three}/{path}"))
    assert refused["field"] == field and refused["remedy"]


def test_a_choice_changes_the_ladder_and_stays(client: TestClient, three: int) -> None:
    """The other pinch: kept with the setup, seen in the tab, the path untouched; clawhammer has other choices."""
    offered = client.get(f"/api/setups/{three}/options").json()
    assert [choice["name"] for choice in offered] == [
        "melody",
        "style",
        "second_string",
        "pinch",
        "same_finger",
        "kick_off",
        "ending",
    ]
    before = client.get(f"/api/setups/{three}/export/json").json()
    changed = change(client, three, "choose", name="pinch", way="index and middle").json()
    assert changed["reload"]
    taken = {choice["name"]: choice["taken"] for choice in client.get(f"/api/setups/{three}/options").json()}
    assert taken["pinch"] == "index and middle"
    after = client.get(f"/api/setups/{three}/export/json").json()
    assert after["options"]["pinch"] == "index and middle" != before["options"]["pinch"]
    assert after["path"] == before["path"] and after["bars"] != before["bars"]
    claw = client.get(f"/api/setups/{setup_of(client, 'Lantern')}/options").json()
    assert [choice["name"] for choice in claw] == ["melody", "nail", "head", "kick_off", "ending"]


def test_a_choice_that_is_none_is_refused(client: TestClient, three: int) -> None:
    """Neither an unknown name nor an unknown way is kept."""
    for wish, field in (({"name": "hat", "way": "on"}, "name"), ({"name": "pinch", "way": "toes"}, "pinch")):
        refused = problem(change(client, three, "choose", **wish))
        assert refused["field"] == field and refused["remedy"]
    taken = {choice["name"]: choice["taken"] for choice in client.get(f"/api/setups/{three}/options").json()}
    assert taken["pinch"] == "thumb and middle" and "hat" not in taken
