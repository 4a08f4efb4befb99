"""The core on the desk and on the ladder: seen, decided on, taken along."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from tests.web.conftest import change, problem
from tests.web.test_api import setup_of


@pytest.fixture
def reel(client: TestClient) -> str:
    """The text of the demo reel."""
    row = next(one for one in client.get("/api/tunes").json()["tunes"] if one["title"].startswith("Lantern"))
    return client.get(f"/api/tunes/{row['id']}").json()["text"]


def core_of(client: TestClient, text: str) -> list[dict]:  # type: ignore[type-arg]
    return client.post("/api/desk/read", json={"abc": text}).json()["core"]


def decided(client: TestClient, text: str, place: int, onset: str, taken: bool | None) -> str:
    wish = {"kind": "core", "place": place, "onset": onset, "taken": taken}
    answer = client.post("/api/desk/change", json={"abc": text, "change": wish})
    assert answer.status_code == 200, answer.text
    return answer.json()["abc"]


def test_every_note_is_shown_with_its_layer_and_reason(client: TestClient, reel: str) -> None:
    """Each at its place in the text."""
    notes = core_of(client, reel)
    assert {note["layer"] for note in notes} == {"bones", "beat", "pairs", "full"}
    assert all(note["why"].endswith(".") and not note["decided"] for note in notes)
    first = notes[1]
    assert (first["number"], first["onset"], reel[first["start"]]) == (1, "0", "G")


def test_a_word_on_a_note_is_a_line_of_the_text_and_nothing_else_changes(client: TestClient, reel: str) -> None:
    """In, out and back: the rest of the text stays to the letter, spaces and comments included."""
    note = next(one for one in core_of(client, reel) if one["layer"] == "full")
    taken = decided(client, reel, note["place"], note["onset"], True)
    assert [line for line in taken.split("\n") if not line.startswith("I:")] == reel.split("\n")
    again = next(
        one for one in core_of(client, taken) if (one["place"], one["onset"]) == (note["place"], note["onset"])
    )
    assert again["layer"] == "beat" and again["decided"] and again["why"] == "You took it into the core."
    assert decided(client, taken, note["place"], note["onset"], None) == reel


def test_a_word_on_no_note_is_refused(client: TestClient, reel: str) -> None:
    """With what to do."""
    wish = {"kind": "core", "place": 1, "onset": "1/64", "taken": True}
    refused = problem(client.post("/api/desk/change", json={"abc": reel, "change": wish}))
    assert refused["remedy"] == "Choose a note of the tune."


def test_a_word_that_lost_its_note_waits_and_says_so(client: TestClient, reel: str) -> None:
    """As a note beside the text, not as an error."""
    note = next(one for one in core_of(client, reel) if one["layer"] == "full")
    taken = decided(client, reel, note["place"], note["onset"], True)
    start = taken.index(reel[note["start"] : note["end"]], taken.index("K:"))
    spoilt = taken.replace(f"@{note['onset']}:", "@1/64:")
    troubles = client.post("/api/desk/read", json={"abc": spoilt}).json()["troubles"]
    assert start > 0 and any("it waits" in one["message"] and one["level"] == "note" for one in troubles)


def test_the_ladder_says_what_each_rung_plays_and_takes_the_choice(client: TestClient) -> None:
    """In words on the ladder, in the document of the arrangement; "every note" is one choice away."""
    setup = setup_of(client, "Lantern")
    ladder = client.get(f"/api/setups/{setup}/ladder").json()
    assert ladder["rungs"][0]["plays"] == "the beats"
    before = client.get(f"/api/setups/{setup}/export/json").json()
    assert before["rungs"][0]["layer"] == "beat"
    left = [row for bar in before["bars"] for row in bar["left_out"]]
    assert left and all(set(row) == {"onset", "pitch", "layer"} for row in left)
    melody = [note for bar in before["bars"] for note in bar["notes"] if note["role"] == "melody"]
    assert all(note["layer"] in ("bones", "beat", "pairs", "full") and note["tune_onset"] for note in melody)
    changed = change(client, setup, "choose", name="melody", way="every note")
    assert changed.status_code == 200, changed.text
    after = client.get(f"/api/setups/{setup}/export/json").json()
    assert not [row for bar in after["bars"] for row in bar["left_out"]]
    assert after["options"]["melody"] == "every note"
