"""What was handed out stays as it was: under a newer engine the ladder says which bars differ, and offers both."""

from __future__ import annotations

import json
import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from nailhead.store.database import MIGRATIONS, Database, migrate
from nailhead.store.handed_out import KEPT, every_hand_out, record_hand_out
from nailhead.store.setups import setups_of_tune
from nailhead.web.app import create_app
from tests.web.conftest import HERE, change, problem

SETUP, PLACE, RUNG = 3, 2, 2


def path(client: TestClient) -> dict[str, Any]:
    found: dict[str, Any] = client.get(f"/api/setups/{SETUP}/ladder").json()["path"]
    return found


def tab(client: TestClient) -> str:
    """What the hand plays: the text export, which a hand-out of its own is made of."""
    text: str = client.get(f"/api/setups/{SETUP}/sheet").json()["pages"][0]
    return text


def database(client: TestClient) -> Database:
    found: Database = client.app.state.database  # type: ignore[attr-defined]
    return found


def older_engine(client: TestClient) -> None:
    """What was handed out so far had been computed by another engine."""
    with database(client).write() as connection:
        connection.execute("UPDATE handed_out SET engine = 'an older one'")


@pytest.fixture
def handed(client: TestClient) -> tuple[TestClient, str, str]:
    """An arrangement that an older engine would have played otherwise in one bar: the sheet then, and as computed now.

    That engine's bar is another alternative of this one's, handed out and then taken back.
    """
    now = tab(client)
    offered = client.get(f"/api/setups/{SETUP}/bars/{PLACE}/alternatives", params={"rung": RUNG}).json()
    taken = change(client, SETUP, "alternative", place=PLACE, rung=RUNG, difference=offered[0]["difference"])
    assert taken.status_code == 200
    then = tab(client)
    assert client.get(f"/api/setups/{SETUP}/export/pdf").status_code == 200
    client.post(f"/api/setups/{SETUP}/undo", json={"revision": path(client)["revision"]})
    assert now != then and tab(client) == now and path(client)["handed_out"] is None
    older_engine(client)
    return client, then, now


def test_what_was_handed_out_is_shown_and_printed(handed: tuple[TestClient, str, str]) -> None:
    """The ladder names the bars, the day and how; sheet, cell and phrase have them as they were."""
    client, then, _ = handed
    said = path(client)["handed_out"]
    bars = client.get(f"/api/setups/{SETUP}/phrases/0").json()["bars"]
    equal = [bar["place"] for bar in bars if bar["equal_to"] == bars[PLACE]["equal_to"]]
    assert PLACE in said["places"] and set(equal) <= set(said["places"])
    assert said["how"] == "PDF" and len(said["date"]) == 10 and len(said["numbers"]) == len(said["places"])
    cell = client.get(f"/api/setups/{SETUP}/cells/{PLACE}/{RUNG}").json()
    assert cell["kept"] == "handed out"
    assert tab(client) == then


def test_the_new_bar_is_taken_and_given_back(handed: tuple[TestClient, str, str]) -> None:
    """One step of undo; so does letting the cell go. All bars at once are taken the same way."""
    client, then, now = handed
    places = path(client)["handed_out"]["places"]
    answer = change(client, SETUP, "take new", places=places).json()
    assert answer["path"]["handed_out"] is None and "as computed now" in answer["said"] and tab(client) == now
    client.post(f"/api/setups/{SETUP}/undo", json={"revision": path(client)["revision"]})
    assert tab(client) == then and path(client)["handed_out"]["places"] == places
    change(client, SETUP, "release", place=PLACE, rung=RUNG)
    assert PLACE not in (path(client)["handed_out"] or {"places": []})["places"]
    told = problem(change(client, SETUP, "take new", places=[PLACE]))
    assert told["status"] == 422 and told["remedy"]


def test_the_old_bar_is_kept_for_good(handed: tuple[TestClient, str, str]) -> None:
    """As a cell of the teacher's own: nothing is said any more, a lock and the JSON export keep it too."""
    client, then, _ = handed
    places = path(client)["handed_out"]["places"]
    change(client, SETUP, "lock", places=[PLACE])
    assert tab(client) == then
    client.post(f"/api/setups/{SETUP}/undo", json={"revision": path(client)["revision"]})
    change(client, SETUP, "keep handed out", places=places)
    assert path(client)["handed_out"] is None and tab(client) == then
    document = client.get(f"/api/setups/{SETUP}/export/json").text
    assert client.post("/api/arrangements", json={"text": document}).status_code == 201


def test_what_is_handed_out_again_still_stays(handed: tuple[TestClient, str, str]) -> None:
    """Printed once more under the newer engine with the old bars on it: next week they are still there."""
    client, then, now = handed
    places = path(client)["handed_out"]["places"]
    assert client.post(f"/api/setups/{SETUP}/printed").status_code == 204
    assert tab(client) == then and path(client)["handed_out"]["how"] == "printed"
    change(client, SETUP, "take new", places=places)
    assert client.post(f"/api/setups/{SETUP}/printed").status_code == 204
    assert tab(client) == now and path(client)["handed_out"] is None


def test_a_copy_keeps_what_was_handed_out(handed: tuple[TestClient, str, str]) -> None:
    """A copy begins as the arrangement stands; the export of one that nobody decided on carries the old bars."""
    client, _, _ = handed
    copy = client.post(f"/api/setups/{SETUP}/copy", json={"name": "For Tuesday"}).json()["id"]
    assert client.get(f"/api/setups/{copy}/ladder").json()["path"]["handed_out"]["places"]
    document = json.loads(client.get(f"/api/setups/{SETUP}/export/json").text)
    kinds = {row["cell"]["kind"] for row in document["source"]["decisions"]["cells"]}
    assert kinds == {"alternative"}


@pytest.mark.parametrize(
    ("old", "new", "stays"),
    [("T:Lantern on the Weir", "T:Lantern over the Weir", True), ('"Am"', '"C"', False)],
)
def test_what_the_teacher_changes_is_no_matter_of_the_engine(
    handed: tuple[TestClient, str, str], old: str, new: str, stays: bool
) -> None:
    """Another title leaves the bars as they were handed out; another chord in them is played as it is now."""
    client, _, _ = handed
    tune_id = client.get(f"/api/setups/{SETUP}/ladder").json()["tune_id"]
    tune = client.get(f"/api/tunes/{tune_id}").json()
    assert old in tune["text"]
    text = tune["text"].replace(old, new)
    assert client.put(f"/api/tunes/{tune_id}/text", json={"text": text, "revision": tune["revision"]}).is_success
    said = path(client)["handed_out"]
    assert (said is not None and PLACE in said["places"]) == stays


def test_another_setup_or_school_is_no_matter_of_the_engine(handed: tuple[TestClient, str, str]) -> None:
    """Nothing is held back of what was chosen since; undo brings it back."""
    client, then, _ = handed
    for wanted in ({"do": "choose", "name": "nail", "way": "middle"}, {"do": "setup", "tuning": "gCGCD", "capo": 0}):
        assert change(client, SETUP, **wanted).json()["path"]["handed_out"] is None  # type: ignore[arg-type]
        client.post(f"/api/setups/{SETUP}/undo", json={"revision": path(client)["revision"]})
        assert tab(client) == then


@pytest.mark.parametrize(
    ("method", "address", "how"),
    [
        ("GET", "export/text", "text"),
        ("GET", "export/musicxml", "MusicXML"),
        ("GET", "handout?rungs=2&phrases=1", "hand-out"),
        ("GET", "practice/take-home", "sent home"),
        ("POST", "printed", "printed"),
        ("GET", "export/json", ""),
        ("GET", "sheet", ""),
    ],
)
def test_everything_that_leaves_is_kept(client: TestClient, method: str, address: str, how: str) -> None:
    """What is only looked at is not; the same handed out twice is one hand-out."""
    for _ in range(2):
        assert client.request(method, f"/api/setups/{SETUP}/{address}").is_success
    with database(client).read() as connection:
        assert [one.how for one in every_hand_out(connection, SETUP)] == ([how] if how else [])


@pytest.mark.parametrize("setup", range(1, 21))
def test_the_same_engine_never_differs(client: TestClient, setup: int) -> None:
    """Every invented arrangement, through the data file and back: no bar is called another one."""
    assert client.get(f"/api/setups/{setup}/export/text").status_code == 200
    older_engine(client)
    assert client.get(f"/api/setups/{setup}/ladder").json()["path"]["handed_out"] is None


def test_hand_outs_do_not_pile_up(client: TestClient) -> None:
    with database(client).write() as connection:
        for number in range(KEPT + 5):
            record_hand_out(connection, SETUP, "PDF", "engine", {"number": number})
        assert [one.document["number"] for one in every_hand_out(connection, SETUP)] == list(range(5, KEPT + 5))


@pytest.mark.parametrize(("version", "rungs"), [(3, [2, 1]), (6, [2, 1]), (7, [2, 2]), (9, [2, 2])])
def test_an_old_path_that_nobody_touched_stays_where_it_was(tmp_path: Path, version: int, rungs: list[int]) -> None:
    """Before version 7 only the banjo had more than one rung: a mandolin's path was the bare melody, and still is."""
    file = tmp_path / "old.sqlite3"
    with closing(sqlite3.connect(file, isolation_level=None)) as connection:
        migrate(connection, MIGRATIONS, version)
        abc = "X:1\nT:one\nM:4/4\nL:1/8\nK:G\nG2B2d2B2|G8|]\n"
        connection.execute("INSERT INTO tune (title, abc) VALUES ('one', ?)", (abc,))
        for instrument, idiom, tuning in (("banjo", "clawhammer", "gDGBD"), ("mandolin", "plectrum", "GDAE")):
            connection.execute(
                "INSERT INTO setup (tune_id, instrument, idiom, tuning, capo, fifth, sounding_key) "
                "VALUES (1, ?, ?, ?, 0, ?, 'G')",
                (instrument, idiom, tuning, "G4" if instrument == "banjo" else None),
            )
    made = Database(file)
    with made.read() as connection:
        assert [setup.first_rung for setup in setups_of_tune(connection, 1)] == rungs
    with TestClient(create_app(made), HERE) as client:
        for setup, rung in enumerate(rungs, start=1):
            assert set(client.get(f"/api/setups/{setup}/ladder").json()["path"]["rungs"]) == {rung}
