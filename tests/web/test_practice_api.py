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
