"""Planning through the API: ranked ways, why not, the neck to scale, refusals at their field."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from nailhead.core.fretboard.instruments import INSTRUMENTS
from tests.web.conftest import problem


def reel(client: TestClient) -> int:
    return int(client.get("/api/tunes", params={"find": "lantern"}).json()["tunes"][0]["id"])


def test_the_answer_can_be_kept_as_it_stands(client: TestClient) -> None:
    """The first way in A is open G, capo 2, fifth string A; keeping it gives its ladder."""
    tune = reel(client)
    first = client.post(f"/api/tunes/{tune}/setups/plan", json={"key": "A"}).json()[0]
    setup = first["setup"]
    assert (setup["tuning"], setup["capo"], setup["fifth"], setup["hook_fret"]) == ("gDGBD", 2, "A4", 7)
    assert first["cost"] == sum(term["points"] for term in first["terms"])
    wish = {name: setup[name] for name in ("instrument", "idiom", "tuning", "capo", "fifth")}
    kept = client.post(f"/api/tunes/{tune}/setups", json={**wish, "key": setup["sounding_tonic"]}).json()
    assert client.get(f"/api/setups/{kept['id']}/ladder").status_code == 200


def test_retuning_is_told_string_by_string(client: TestClient) -> None:
    """From open G to double C: string 2 up one semitone, +12.2 % tension; string 4 down two (Mersenne, handbook §2)."""
    plans = client.post(
        f"/api/tunes/{reel(client)}/setups/plan", json={"current": "gDGBD", "tunings": ["gCGCD"], "key": "C"}
    ).json()
    changes = {change["string"]: change for change in plans[0]["retunings"]}
    assert (changes[2]["semitones"], changes[2]["pitch"], changes[2]["tension_percent"]) == (1, "C4", 12.2)
    assert (changes[4]["semitones"], changes[4]["tension_percent"]) == (-2, -20.6)
    assert any("String 2 goes up" in caution for caution in plans[0]["setup"]["cautions"])


@pytest.mark.parametrize("instrument", INSTRUMENTS)
def test_a_neck_is_drawn_to_scale(client: TestClient, instrument: str) -> None:
    """Fret lines rise from the nut to 1; notes stand on strings that there are; short strings begin later."""
    tune = reel(client)
    plan = client.post(f"/api/tunes/{tune}/setups/plan", json={"instrument": instrument, "key": "any"}).json()[0]
    setup = plan["setup"]
    wish = {name: setup[name] for name in ("instrument", "idiom", "tuning", "capo", "fifth")}
    neck = client.post(f"/api/tunes/{tune}/setups/neck", json={**wish, "key": setup["sounding_tonic"]}).json()
    row = INSTRUMENTS[instrument]
    places = [fret["at"] for fret in neck["frets"]]
    assert places == sorted(places) and places[-1] == pytest.approx(1)
    ratio = 1 - 2 ** (-float(row.fret_cents[1]) / 1200)
    whole = 1 - 2 ** (-float(row.fret_cents[len(places)]) / 1200)
    assert places[0] == pytest.approx(ratio / whole)
    assert len(neck["strings"]) == len(neck["starts"]) == row.strings
    assert sum(start > 0 for start in neck["starts"]) == len(row.short_strings)
    assert any(note["usual"] for note in neck["notes"])
    assert all(1 <= note["string"] <= row.strings for note in neck["notes"])


def test_why_not(client: TestClient) -> None:
    """A sentence for each expected setup."""
    path = f"/api/tunes/{reel(client)}/setups/why-not"
    said = client.post(path, json={"key": "A", "expected_tuning": "gDGBD", "expected_capo": 2}).json()["said"]
    assert said == "It is the first answer."
    other = client.post(path, json={"key": "A", "expected_tuning": "gCGCD", "expected_capo": 2}).json()["said"]
    assert "It costs" in other


@pytest.mark.parametrize(
    ("wish", "field"),
    [
        ({"instrument": "kazoo"}, "instrument"),
        ({"idiom": "noter"}, "idiom"),
        ({"key": "H"}, "key"),
        ({"tunings": ["zz"]}, "tunings"),
        ({"voice_low": "D5", "voice_high": "A3"}, "voice"),
        ({"voice_low": "D5"}, "voice"),
        ({"voice_low": "x", "voice_high": "A3"}, "voice"),
        ({"weights": {"loudness": 4}}, "weights"),
        ({"weights": {"ringing": 99}}, "weights.ringing"),
        ({"highest_capo": -1}, "highest_capo"),
        ({"voice_low": "C4", "voice_high": "D4", "key": "any"}, "voice"),
    ],
)
def test_silly_wishes_are_refused_at_their_field(client: TestClient, wish: dict, field: str) -> None:  # type: ignore[type-arg]
    """A problem document each time."""
    response = client.post(f"/api/tunes/{reel(client)}/setups/plan", json=wish)
    assert response.status_code == 422
    assert problem(response)["field"] == field
