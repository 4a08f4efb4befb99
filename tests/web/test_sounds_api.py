"""Hearing an arrangement over the API: the path from a bar on, one cell, and when each bar comes."""

from __future__ import annotations

import io

import pytest
import soundfile
from fastapi.testclient import TestClient

from nailhead.core.sound.playing import RING
from tests.web.conftest import change, problem
from tests.web.test_api import setup_of


def seconds(body: bytes) -> float:
    """Length of a WAV file, read by libsndfile."""
    with soundfile.SoundFile(io.BytesIO(body)) as file:
        return len(file) / file.samplerate


def test_the_path_from_a_bar_on(client: TestClient) -> None:
    """The sound is as long as the timeline says, which begins at the bar and counts repeats."""
    setup = setup_of(client, "Lantern")
    for wish in ({}, {"start": 3, "tempo": 160}, {"start": 10, "count_in": 4, "swing": 1}):
        when = client.get(f"/api/setups/{setup}/timeline", params=wish).json()
        heard = client.get(f"/api/setups/{setup}/sound", params=wish)
        assert heard.headers["content-type"] == "audio/wav"
        assert seconds(heard.content) == pytest.approx(when["seconds"] + RING, abs=0.01)
        assert when["bars"][0]["place"] == wish.get("start", 0)
        assert [bar["at"] for bar in when["bars"]] == sorted(bar["at"] for bar in when["bars"])
    assert {bar["time"] for bar in client.get(f"/api/setups/{setup}/timeline").json()["bars"]} == {1, 2}


def test_one_cell(client: TestClient) -> None:
    """A bar of 4/4 at 120 lasts two seconds; another rung sounds otherwise."""
    setup = setup_of(client, "Lantern")
    one, other = (
        client.get(f"/api/setups/{setup}/cells/1/{rung}/sound", params={"tempo": 120}).content for rung in (1, 5)
    )
    assert seconds(one) == pytest.approx(2 + RING, abs=0.01) == seconds(other)
    assert one != other


def test_a_change_is_heard(client: TestClient) -> None:
    """What is played follows the path."""
    setup = setup_of(client, "Lantern")
    before = client.get(f"/api/setups/{setup}/sound").content
    change(client, setup, "level", rung=5)
    assert client.get(f"/api/setups/{setup}/sound").content != before


@pytest.mark.parametrize("wish", [{"tempo": 3}, {"tempo": 9999}, {"swing": 4}, {"count_in": 77}])
def test_what_nobody_plays_is_refused(client: TestClient, wish: dict) -> None:  # type: ignore[type-arg]
    """A problem document that names the field."""
    setup = setup_of(client, "Lantern")
    for what in ("sound", "timeline"):
        assert problem(client.get(f"/api/setups/{setup}/{what}", params=wish))["field"] == next(iter(wish))
