"""Practising over the API: the plan follows the path, what is said is counted, what is set is kept."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from tests.web.conftest import change, problem
from tests.web.test_api import setup_of


def test_a_step_is_done_by_saying_clean(client: TestClient) -> None:
    """At the goal so many times clean running; it is still so after a reload, and the others are not."""
    setup = setup_of(client, "Lantern")
    url = f"/api/setups/{setup}/practice"
    tempo = {"start": 80, "step": 10, "goal": 90, "clean": 2}
    plan = client.put(url, json={"order": "hardest first", "tempo": tempo}).json()
    assert (plan["order"], plan["tempo"]) == ("hardest first", tempo)
    step = plan["steps"][0]
    assert step["progress"] == {"percent": 80, "clean": 0, "played": 0, "done": False}
    said = [
        client.post(f"{url}/steps/{step['id']}/said", json={"said": word}).json()
        for word in ("clean", "again", "clean", "clean", "clean", "clean")
    ]
    assert [(one["percent"], one["clean"]) for one in said] == [(80, 1), (80, 0), (80, 1), (90, 0), (90, 1), (90, 2)]
    assert [one["done"] for one in said] == [False] * 5 + [True]
    again = client.get(url).json()
    assert [one["progress"]["done"] for one in again["steps"]] == [True] + [False] * (len(again["steps"]) - 1)


def test_the_plan_follows_the_path(client: TestClient) -> None:
    """Another rung is something else to learn; what was done on the old one is there when it comes back."""
    setup = setup_of(client, "Lantern")
    url = f"/api/setups/{setup}/practice"
    first = client.get(url).json()
    step = first["steps"][0]["id"]
    client.post(f"{url}/steps/{step}/said", json={"said": "clean"})
    change(client, setup, "level", rung=5)
    other = client.get(url).json()
    assert step not in {one["id"] for one in other["steps"]}
    assert problem(client.post(f"{url}/steps/{step}/said", json={"said": "clean"}))["field"] == "step"
    assert {drill["kind"] for drill in other["drills"]} >= {"right hand alone", "join"}


def test_loops_name_bars_of_the_tune(client: TestClient) -> None:
    """Every span lies in a written bar and has its exact times; joins have two."""
    setup = setup_of(client, "Lantern")
    bars = client.get(f"/api/setups/{setup}/ladder").json()["bars"]
    for step in client.get(f"/api/setups/{setup}/practice").json()["steps"]:
        spans = step["loop"]["spans"]
        assert spans and all(0 <= span["place"] < bars for span in spans)
        assert all(span["start"] < span["end"] for span in spans)
        assert step["kind"] != "join" or len(spans) == 2


@pytest.mark.parametrize(("tempo", "field"), [({"start": 5}, "start"), ({"goal": 40}, "goal"), ({"clean": 0}, "clean")])
def test_a_tempo_out_of_bounds_is_refused(client: TestClient, tempo: dict[str, int], field: str) -> None:
    """Nothing is kept, and the field is named."""
    setup = setup_of(client, "Lantern")
    url = f"/api/setups/{setup}/practice"
    before = client.get(url).json()["tempo"]
    assert problem(client.put(url, json={"tempo": tempo}))["field"] == field
    assert client.get(url).json()["tempo"] == before
    assert client.get("/api/setups/99999/practice").status_code == 404
    assert client.post(f"{url}/steps/zzz/said", json={"said": "clean"}).status_code == 422


def test_a_room_has_what_it_plays_with(client: TestClient) -> None:
    """Every sound that bars, backing and drills name is listed, comes as FLAC and may be kept for ever."""
    setup = setup_of(client, "Lantern")
    room = client.get(f"/api/setups/{setup}/practice/room").json()
    names = {voice["name"] for voice in room["voices"]}
    for score in (room["score"], *(drill["score"] for drill in room["drills"])):
        for bar in score["bars"]:
            assert {one["voice"] for take in bar["takes"] for one in take["heard"]} <= names
            assert {name for notes in bar["backing"].values() for one in notes for name in one["voices"]} <= names
    answer = client.get(room["voices"][-1]["address"])
    assert answer.content[:4] == b"fLaC" and "immutable" in answer.headers["cache-control"]
    assert room["companies"][0] == "boom-chuck" and room["break_after_min"] == 25 and len(room["cautions"]) == 2


def test_a_room_follows_its_path_and_its_size(client: TestClient) -> None:
    setup = setup_of(client, "Lantern")
    url = f"/api/setups/{setup}/practice/room"
    first = client.get(url).json()
    assert client.get(url).json() == first
    small = client.get(url, params={"size": "small"}).json()
    assert len(small["score"]["tab"]) < len(first["score"]["tab"])
    change(client, setup, "level", rung=6)
    assert client.get(url).json()["score"]["bars"] != first["score"]["bars"]
    assert client.get(url, params={"size": "huge"}).status_code == 422


@pytest.mark.parametrize("name", ["0/banjo-5900.00", "1/kazoo", "1/banjo-99999.00", "1/banjo-0.00"])
def test_a_sound_that_nobody_makes_is_refused(client: TestClient, name: str) -> None:
    answer = client.get(f"/api/voices/{name}")
    assert answer.status_code in (404, 422) and problem(answer)["remedy"]


def test_a_page_to_take_home_is_a_download(client: TestClient) -> None:
    setup = setup_of(client, "Lantern")
    answer = client.get(f"/api/setups/{setup}/practice/take-home", params={"note": "Slow, with <care>"})
    assert answer.headers["content-disposition"].endswith('.html"')
    assert "Slow, with \\u003ccare>" in answer.text and "__TAKEN__" not in answer.text
    assert client.get("/api/setups/99999/practice/take-home").status_code == 404
    too_long = client.get(f"/api/setups/{setup}/practice/take-home", params={"note": "x" * 1001})
    assert too_long.status_code == 422
