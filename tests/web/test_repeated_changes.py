"""A change that arrives twice is made once; what waited when a page was left is made in one request."""

from __future__ import annotations

from typing import Any

from fastapi.testclient import TestClient

from tests.web.conftest import problem

SETUP = 3


def path(client: TestClient) -> dict[str, Any]:
    found: dict[str, Any] = client.get(f"/api/setups/{SETUP}/ladder").json()["path"]
    return found


def up(place: int) -> dict[str, object]:
    return {"do": "raise", "places": [place], "by": 1}


def test_a_change_sent_again_is_made_once(client: TestClient) -> None:
    """Its answer was lost: the second one tells how things stand and to load everything, from whatever revision."""
    before = path(client)
    body = {"change": up(1), "revision": before["revision"], "id": "one"}
    first, second = (client.post(f"/api/setups/{SETUP}/changes", json=body).json() for _ in range(2))
    assert first["path"]["rungs"][1] == second["path"]["rungs"][1] == before["rungs"][1] + 1
    assert first["path"]["revision"] == second["path"]["revision"] == before["revision"] + 1
    assert (first["reload"], second["reload"]) == (False, True)
    for revision in (before["revision"] + 1, 0):
        again = client.post(f"/api/setups/{SETUP}/undo", json={"revision": revision, "id": "back"})
        assert again.json()["path"]["rungs"] == before["rungs"]
    assert problem(client.post(f"/api/setups/{SETUP}/undo", json={"revision": 0, "id": "other"}))["status"] == 409


def test_a_queue_is_made_in_order_and_once(client: TestClient) -> None:
    """The first was under way when the page went: it has been made; one that cannot be made holds up nothing."""
    revision = path(client)["revision"]
    client.post(f"/api/setups/{SETUP}/changes", json={"change": up(1), "revision": revision, "id": "a"})
    wanted = [("a", up(1)), ("b", up(99)), ("c", up(1)), ("d", {"do": "undo"}), ("e", up(2))]
    queue = {"changes": [{"id": name, "change": change} for name, change in wanted], "revision": revision}
    answer = client.post(f"/api/setups/{SETUP}/changes/queue", json=queue)
    assert answer.json() == {"kept": ["a", "c", "d", "e"], "revision": revision + 4}
    assert path(client)["rungs"][1:3] == [3, 3]
    again = client.post(f"/api/setups/{SETUP}/changes/queue", json=queue).json()
    assert again["revision"] == path(client)["revision"] == revision + 4


def test_a_queue_does_not_overwrite_another_window(client: TestClient) -> None:
    """It began from a revision that is no more: nothing of it is made."""
    before = path(client)
    client.post(f"/api/setups/{SETUP}/changes", json={"change": up(1), "revision": before["revision"], "id": "theirs"})
    queue = {"changes": [{"id": "mine", "change": up(2)}], "revision": before["revision"]}
    assert problem(client.post(f"/api/setups/{SETUP}/changes/queue", json=queue))["status"] == 409
    assert path(client)["rungs"][2] == before["rungs"][2]


def test_a_word_in_the_practice_room_counts_once(client: TestClient) -> None:
    """ "Clean" whose answer was lost is sent again."""
    step = client.get(f"/api/setups/{SETUP}/practice").json()["steps"][0]["id"]
    said = {"said": "clean", "id": "one"}
    first, second = (client.post(f"/api/setups/{SETUP}/practice/steps/{step}/said", json=said).json() for _ in range(2))
    assert first == second and first["played"] == 1
    third = client.post(f"/api/setups/{SETUP}/practice/steps/{step}/said", json={"said": "clean", "id": "two"}).json()
    assert third["played"] == 2


def test_a_text_saved_twice_is_no_conflict(client: TestClient) -> None:
    """The answer of the first save was lost; a text of another window still is one."""
    tune = client.get("/api/tunes/1").json()
    body = {"text": tune["text"] + "% more\n", "revision": tune["revision"]}
    first, second = (client.put("/api/tunes/1/text", json=body) for _ in range(2))
    assert first.json() == second.json()
    assert problem(client.put("/api/tunes/1/text", json={**body, "text": tune["text"]}))["status"] == 409
