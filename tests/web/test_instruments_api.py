"""Instruments over HTTP: own ones and tunings used everywhere, shapes, necks, the key table, the tuner."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from nailhead.core.fretboard.instruments import INSTRUMENTS
from nailhead.core.sound.pluck import RATE, pluck
from nailhead.formats.wav import read_sound, write_wav

LONG_NECK = {
    "name": "Long neck",
    "kind": "banjo",
    "strings": 5,
    "scale_mm": 813,
    "frets": 25,
    "tuning": {"name": "low E", "open": "E4 B2 E3 G#3 B3"},
}


def first_tune(client: TestClient) -> int:
    return client.get("/api/tunes").json()["tunes"][0]["id"]


def added(client: TestClient) -> dict:  # type: ignore[type-arg]
    response = client.post("/api/instruments", json=LONG_NECK)
    assert response.status_code == 201, response.text
    return response.json()


def test_an_own_instrument_is_used_everywhere(client: TestClient) -> None:
    """Listed, planned, set up, its ladder, sheet and export, the desk's neck, named on the shelf."""
    made = added(client)
    assert made["own"] == 1 and made["made"]["scale_mm"] == 813
    assert made["id"] in [row["id"] for row in client.get("/api/instruments").json()]
    tune = first_tune(client)
    plans = client.post(f"/api/tunes/{tune}/setups/plan", json={"instrument": made["id"], "key": "any"}).json()
    wish = {name: plans[0]["setup"][name] for name in ("instrument", "idiom", "tuning", "capo", "fifth")}
    kept = client.post(f"/api/tunes/{tune}/setups", json={**wish, "key": plans[0]["setup"]["sounding_tonic"]}).json()
    assert kept["label"].startswith("Long neck: ")
    assert client.get(f"/api/setups/{kept['id']}/ladder").json()["label"].startswith("Long neck: ")
    assert client.get(f"/api/setups/{kept['id']}/export/text").status_code == 200
    assert client.get(f"/api/desk/board/{made['id']}").json()["instrument"] == "Long neck"
    row = next(row for row in client.get("/api/tunes").json()["tunes"] if row["id"] == tune)
    assert "Long neck" in row["instruments"]
    refused = client.delete(f"/api/instruments/own/{made['own']}")
    assert refused.status_code == 409 and row["title"] in refused.json()["detail"]
    assert client.delete(f"/api/setups/{kept['id']}").status_code == 204
    assert client.delete(f"/api/instruments/own/{made['own']}").status_code == 204
    assert client.post(f"/api/tunes/{tune}/setups/plan", json={"instrument": made["id"]}).status_code == 422


def test_a_changed_instrument_takes_its_setups_along(client: TestClient) -> None:
    """Fewer frets: the setup stays; where its notes are gone it says so, and comes back with the frets."""
    made = added(client)
    tune = first_tune(client)
    kept = client.post(f"/api/tunes/{tune}/setups", json={"instrument": made["id"], "tuning": "open G"}).json()
    number = made["own"]
    assert client.put(f"/api/instruments/own/{number}", json={**LONG_NECK, "frets": 6}).status_code == 200
    setups = {row["id"]: row for row in client.get(f"/api/tunes/{tune}").json()["setups"]}
    assert setups[kept["id"]]["id"] == kept["id"]
    assert client.put(f"/api/instruments/own/{number}", json=LONG_NECK).status_code == 200
    setups = {row["id"]: row for row in client.get(f"/api/tunes/{tune}").json()["setups"]}
    assert setups[kept["id"]]["trouble"] == ""


def test_an_own_tuning_is_used_and_kept_from_being_forgotten(client: TestClient) -> None:
    """Offered, planned for, let down as a whole; not forgotten while a setup uses it, even let down."""
    response = client.post("/api/instruments/banjo/tunings", json={"name": "old G", "open": "G4 D3 G3 D4 D4"})
    row = next(tuning for tuning in response.json()["tunings"] if tuning["name"] == "old G")
    assert row["own"] == 1 and row["strings"] == ["D4", "D4", "G3", "D3", "G4"]
    tune = first_tune(client)
    plans = client.post(f"/api/tunes/{tune}/setups/plan", json={"tunings": ["old G"], "key": "any"}).json()
    assert {plan["setup"]["tuning"].split("↓")[0] for plan in plans} == {"gDGDD"}
    kept = client.post(f"/api/tunes/{tune}/setups", json={"tuning": "gDGDD↓1"}).json()
    assert "down a semitone" in kept["label"]
    assert client.delete("/api/instruments/tunings/1").status_code == 409
    client.delete(f"/api/setups/{kept['id']}")
    assert client.delete("/api/instruments/tunings/1").status_code == 204
    assert client.delete("/api/instruments/tunings/1").status_code == 404


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"name": "Guitar"}, "name"),
        ({"kind": "kazoo"}, "instrument"),
        ({"strings": 0}, "strings"),
        ({"frets": -40}, "frets"),
        ({"gauges": "x"}, "gauges"),
        ({"tuning": {"name": "", "open": "E4 B2 E3 G#3 B3"}}, "name"),
    ],
)
def test_impossible_instruments_are_refused_at_the_field(client: TestClient, change: dict, field: str) -> None:  # type: ignore[type-arg]
    """A problem document with the remedy, and nothing kept."""
    response = client.post("/api/instruments", json={**LONG_NECK, **change})
    assert response.status_code == 422
    assert response.json()["field"] == field and response.json()["remedy"]
    assert len(client.get("/api/instruments").json()) == len(INSTRUMENTS)


def test_a_change_that_breaks_its_further_tunings_is_refused_whole(client: TestClient) -> None:
    """Seven strings become six while a tuning of seven is kept: refused, and the old description stays."""
    made = {
        "name": "Seven", "kind": "guitar", "strings": 7, "scale_mm": 650, "frets": 20,
        "tuning": {"name": "sevens", "open": "B1 E2 A2 D3 G3 B3 E4"},
    }  # fmt: skip
    row = client.post("/api/instruments", json=made).json()
    low = {"name": "low", "open": "A1 D2 A2 D3 G3 B3 E4"}
    assert client.post(f"/api/instruments/{row['id']}/tunings", json=low).status_code == 201
    change = {**made, "strings": 6, "tuning": None}
    assert client.put(f"/api/instruments/own/{row['own']}", json=change).status_code == 422
    again = next(one for one in client.get("/api/instruments").json() if one["id"] == row["id"])
    assert again["strings"] == 7 and len(again["tunings"]) == 2


# -- shapes, places, the key table


def test_shapes_by_the_name_the_hands_know(client: TestClient) -> None:
    """With capo 2 an A-minor shape is a B-minor chord (handbook §2, common practice)."""
    wish = {"tuning": "EADGBE", "capo": 2, "chord": "Am"}
    found = client.post("/api/instruments/guitar/shapes", json=wish).json()
    assert (found["shape_name"], found["sounding_name"]) == ("Am", "Bm")
    assert [one["name"] for one in reversed(found["shapes"][0]["strings"])] == ["", "0", "2", "2", "1", "0"]
    sounding = client.post("/api/instruments/guitar/shapes", json={**wish, "chord": "Bm", "as_shape": False}).json()
    assert sounding == found


def test_every_place_of_a_note(client: TestClient) -> None:
    """The unisons of open G: B3 on string 2 open, string 3 fret 4, string 4 fret 9 (handbook §2, common practice)."""
    found = client.post("/api/instruments/banjo/places", json={"tuning": "gDGBD", "pitch": "B3"}).json()
    assert {(one["string"], one["fret"]) for one in found["places"]} == {(2, "0"), (3, "4"), (4, "9")}
    drone = client.post("/api/instruments/banjo/places", json={"tuning": "gDGBD", "pitch": "A4"}).json()
    assert (5, "7") in {(one["string"], one["fret"]) for one in drone["places"]}
    octaves = client.post("/api/instruments/dulcimer/places", json={"tuning": "DAD", "pitch": "D"}).json()
    assert {one["pitch"] for one in octaves["places"]} >= {"D3", "D4", "D5"}


@pytest.mark.parametrize("name", INSTRUMENTS)
def test_every_instrument_has_a_key_table(client: TestClient, name: str) -> None:
    """Twelve rows of its usual tunings, or of all."""
    usual = client.get(f"/api/instruments/{name}/key-table").json()
    every = client.get(f"/api/instruments/{name}/key-table?every_tuning=true&mode=dorian").json()
    assert len(usual["rows"]) == len(every["rows"]) == 12
    assert len(every["tunings"]) == len(INSTRUMENTS[name].tunings)
    assert client.get(f"/api/instruments/{name}/key-table?mode=loud").json()["field"] == "mode"


@pytest.mark.parametrize(
    ("path", "wish", "field"),
    [
        ("shapes", {"tuning": "zz", "chord": "G"}, "tuning"),
        ("shapes", {"tuning": "EADGBE", "chord": "Hx"}, "chord"),
        ("shapes", {"tuning": "EADGBE", "chord": "G", "hand": "paw"}, "hand"),
        ("shapes", {"tuning": "EADGBE", "chord": "G", "capo": 12}, "capo"),
        ("places", {"tuning": "EADGBE", "pitch": "X"}, "pitch"),
        ("places", {"tuning": "EADGBE", "pitch": "C1"}, "pitch"),
    ],
)
def test_silly_questions_are_refused_at_the_field(
    client: TestClient,
    path: str,
    wish: dict,  # type: ignore[type-arg]
    field: str,
) -> None:
    """What and how to mend it."""
    response = client.post(f"/api/instruments/guitar/{path}", json=wish)
    assert response.status_code == 422 and response.json()["field"] == field and response.json()["remedy"]


# -- the tuner


def test_a_retuning_is_laid_out_string_by_string(client: TestClient) -> None:
    """Open G to double C: 4 down a tone, 2 up a semitone with its caution, the rest stays; ears are named."""
    found = client.get("/api/tuner/banjo?tuning=gCGCD&current=gDGBD").json()
    assert [(one["number"], one["semitones"]) for one in found["strings"]] == [(5, 0), (4, -2), (3, 0), (2, 1), (1, 0)]
    up = found["strings"][3]
    assert up["from_pitch"] == "B3" and up["pitch"] == "C4" and up["hertz"] == pytest.approx(261.626, abs=0.001)
    assert up["tension_n"] / up["before_n"] == pytest.approx(1.122, abs=0.01) and "face away" in up["caution"]
    assert any("loud" in caution for caution in found["cautions"])


def test_tones_are_heard_again(client: TestClient) -> None:
    """A reference tone dropped back as a recording: its string, in tune; one played flat is told to come up."""
    for string in range(1, 6):
        tone = client.get(f"/api/tuner/banjo/tone?tuning=gDGBD&string={string}")
        assert tone.headers["content-type"] == "audio/wav"
        sound, rate = read_sound(tone.content)
        assert rate == RATE and len(sound) > RATE
        files = {"file": ("string.wav", tone.content, "audio/wav")}
        heard = client.post("/api/tuner/banjo/recording", files=files, data={"tuning": "gDGBD"}).json()
        assert heard["string"] == string and abs(heard["off_cents"]) < 2 and "in tune" in heard["said"]
    flat = {"file": ("flat.wav", write_wav(pluck(146.83 * 2 ** (-30 / 1200), 1.0), RATE), "audio/wav")}
    heard = client.post("/api/tuner/banjo/recording", files=flat, data={"tuning": "gDGBD"}).json()
    assert heard["string"] == 4 and heard["off_cents"] == pytest.approx(-30, abs=2) and "bring it up" in heard["said"]


def test_the_simulated_microphone_hears_the_peg(client: TestClient) -> None:
    """A peg 25 cents high is heard so; one at its goal is in tune."""
    wish = {"tuning": "gDGBD", "string": 3, "off_cents": 25}
    heard = client.post("/api/tuner/banjo/hear", json=wish).json()
    assert heard["off_cents"] == pytest.approx(25, abs=2) and "let it down" in heard["said"]
    assert "in tune" in client.post("/api/tuner/banjo/hear", json={**wish, "off_cents": 0}).json()["said"]


def test_what_is_no_recording_is_refused(client: TestClient) -> None:
    """A text, an empty file, a string that is not there."""
    for data in (b"", b"X:1\nT:no sound\n"):
        response = client.post("/api/tuner/banjo/recording", files={"file": ("x.wav", data)}, data={"tuning": "gDGBD"})
        assert response.status_code == 422 and response.json()["field"] == "file"
    wish = {"tuning": "gDGBD", "string": 9, "off_cents": 0}
    assert client.post("/api/tuner/banjo/hear", json=wish).json()["field"] == "string"
    assert client.post("/api/tuner/banjo/hear", json={**wish, "string": 1, "off_cents": 5000}).status_code == 422
