"""The API: the way of a teacher through it, and every refusal as a problem document."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st

from nailhead.core.arrange.rows.ways import idioms_of
from nailhead.core.fretboard.instruments import INSTRUMENTS, find_instrument
from tests.web.conftest import change, problem

GOOD = 'X:1\nT:Over the Stile\nM:4/4\nL:1/8\nK:G\n|:"G"G2B2 d4|"C"c2A2 "G"G4:|\n'


def setup_of(client: TestClient, title: str) -> int:
    tune = next(row for row in client.get("/api/tunes").json()["tunes"] if title in row["title"])
    return int(client.get(f"/api/tunes/{tune['id']}").json()["setups"][0]["id"])


def test_the_way_of_a_teacher(client: TestClient) -> None:
    """Bring in, set up, see the ladder, raise a bar, reload, print, export."""
    brought = client.post("/api/tunes", json={"abc": GOOD}).json()
    tune_id = brought["added"][0]["id"]
    tried = client.post(f"/api/tunes/{tune_id}/setups/try", json={"key": "A"}).json()
    assert (tried["shape_key"], tried["sounding_key"], tried["fifth"]) == ("G major", "A major", "A4")
    kept = client.post(f"/api/tunes/{tune_id}/setups", json={"key": "A"}).json()
    ladder = client.get(f"/api/setups/{kept['id']}/ladder").json()
    assert [len(phrase["columns"]) for phrase in ladder["phrases"]] == [2]
    path = ladder["path"]
    assert (path["rungs"], path["revision"], path["grade"], path["hardest_bars"]) == ([2, 2], 0, 1, [1, 2])
    assert path["spots"] and all(spot["why"].endswith(".") and spot["bar"] in (1, 2) for spot in path["spots"])
    assert [rung["name"] for rung in ladder["rungs"]][3:] == ["Slurs", "Flow", "Reach", "Solo"]
    changed = change(client, kept["id"], "rungs", places=[0], rung=3).json()
    assert changed["path"]["rungs"] == [3, 2] and changed["said"] == "Bar 1 on rung 3"
    assert client.get(f"/api/setups/{kept['id']}/ladder").json()["path"]["rungs"] == [3, 2]
    assert client.get(f"/api/setups/{kept['id']}/sheet").json()["width"] == 210
    change(client, kept["id"], "sheet", options={"paper": "Letter"})
    sheet = client.get(f"/api/setups/{kept['id']}/sheet").json()
    assert (sheet["width"], len(sheet["pages"])) == (215.9, 1)
    assert sheet["pages"][0].startswith("<svg") and "Over the Stile" in sheet["pages"][0]
    for name, start in (("text", "Over the Stile"), ("json", "{"), ("musicxml", "<?xml")):
        export = client.get(f"/api/setups/{kept['id']}/export/{name}")
        assert export.text.startswith(start)
        assert "Over-the-Stile" in export.headers["content-disposition"]


def test_equal_bars_move_together(client: TestClient) -> None:
    """Bar 1 of the waltz comes again twice; raising one raises all."""
    setup = setup_of(client, "Hazel")
    bars = [bar for p in client.get(f"/api/setups/{setup}/ladder").json()["phrases"] for bar in p["bars"]]
    together = [bar["place"] for bar in bars if bar["equal_to"] == bars[0]["equal_to"]]
    assert len(together) == 3
    rungs = change(client, setup, "rungs", places=[0], rung=1).json()["path"]["rungs"]
    assert [place for place, rung in enumerate(rungs) if rung == 1] == together


def test_the_whole_path_on_one_rung(client: TestClient) -> None:
    """Every bar at once."""
    rungs = change(client, setup_of(client, "Lantern"), "level", rung=3).json()["path"]["rungs"]
    assert set(rungs) == {3}


def test_two_windows_do_not_overwrite_each_other(client: TestClient) -> None:
    """The second one gets 409 and the path stays as the first left it."""
    setup = setup_of(client, "Lantern")
    change(client, setup, "level", rung=3, revision=0)
    stale = change(client, setup, "level", rung=1, revision=0)
    assert problem(stale)["status"] == 409
    assert set(client.get(f"/api/setups/{setup}/ladder").json()["path"]["rungs"]) == {3}


def test_beats_of_all_rungs_stand_in_one_column(client: TestClient) -> None:
    """The melody's heads have the same x on every rung of a bar."""
    ladder = client.get(f"/api/setups/{setup_of(client, 'Lantern')}/ladder").json()
    assert ladder["phrases"][0]["columns"] and ladder["phrases"][-1]["columns"] is None
    for short in ladder["phrases"]:
        phrase = client.get(f"/api/setups/{setup_of(client, 'Lantern')}/phrases/{short['index']}").json()
        assert phrase["bars"] == short["bars"]
        assert phrase["width"] == pytest.approx(sum(bar["width"] for bar in phrase["bars"]))
        for column in phrase["columns"]:
            heads = [
                {mark["x"] for mark in cell["marks"] if mark["kind"] == "disc" and mark["fill"] == "melody"}
                for cell in column["cells"]
            ]
            assert heads[0] == heads[1] == heads[2]


def test_a_book_brings_in_what_can_be_read(client: TestClient) -> None:
    """Good ones are added, bad ones come back with line, column and remedy."""
    bad = "X:2\nT:Broken\nK:G\nG0|\n"
    answer = client.post("/api/tunes", json={"abc": GOOD + "\n" + bad}).json()
    assert len(answer["added"]) == 1
    assert answer["refused"] == [
        {
            "number": 2,
            "title": "Broken",
            "line": 11,
            "column": 1,
            "message": "“G0” has no length.",
            "remedy": "Give it one: 1, 2, /2.",
        }
    ]


@pytest.mark.parametrize(
    ("method", "path", "body", "status", "field"),
    [
        ("POST", "/api/tunes", {"abc": "X:1\nK:G\nA0|\n"}, 422, "abc"),
        ("POST", "/api/tunes", {"abc": ""}, 422, "abc"),
        ("POST", "/api/tunes", {}, 422, "abc"),
        ("POST", "/api/tunes", {"abc": "X", "more": 1}, 422, "more"),
        ("GET", "/api/tunes/999", None, 404, "tune"),
        ("GET", "/api/tunes/x", None, 422, "tune_id"),
        ("DELETE", "/api/tunes/999", None, 404, "tune"),
        ("POST", "/api/tunes/1/setups/try", {"capo": 9}, 422, "capo"),
        ("POST", "/api/tunes/1/setups/try", {"capo": -1}, 422, "capo"),
        ("POST", "/api/tunes/1/setups/try", {"tuning": "zz"}, 422, "tuning"),
        ("POST", "/api/tunes/1/setups/try", {"fifth": "zz"}, 422, "fifth"),
        ("POST", "/api/tunes/1/setups/try", {"key": "zz"}, 422, "key"),
        ("POST", "/api/tunes/1/setups", {"idiom": "zz"}, 422, "idiom"),
        ("POST", "/api/tunes/1/setups", {"instrument": "zz"}, 422, "instrument"),
        ("GET", "/api/setups/999/ladder", None, 404, "setup"),
        ("GET", "/api/setups/1/phrases/99", None, 404, "index"),
        ("GET", "/api/setups/1/cells/99/1", None, 422, "place"),
        ("GET", "/api/setups/1/cells/0/9", None, 422, "rung"),
        ("POST", "/api/setups/999/undo", {"revision": 0}, 404, "setup"),
        ("POST", "/api/setups/1/undo", {"revision": 0}, 422, "step"),
        ("POST", "/api/setups/1/redo", {"revision": 7}, 409, "revision"),
        ("POST", "/api/setups/999/copy", {"name": "Mine"}, 404, "setup"),
        ("POST", "/api/setups/1/copy", {"name": ""}, 422, "name"),
        ("GET", "/api/setups/1/export/docx", None, 404, "name"),
        ("GET", "/api/setups/1/export/svg?page=99", None, 422, "page"),
        ("GET", "/api/setups/1/export/png?dpi=9999", None, 422, "dpi"),
        ("GET", "/api/setups/1/export/midi?tempo=3", None, 422, "tempo"),
        ("GET", "/api/setups/1/handout?rungs=9&phrases=1", None, 422, "rung"),
        ("GET", "/api/setups/1/handout?rungs=2&phrases=99", None, 422, "phrases"),
        ("DELETE", "/api/setups/999", None, 404, "setup"),
    ],
)
def test_refusals_are_problem_documents(  # type: ignore[no-untyped-def]
    client: TestClient, method: str, path: str, body, status: int, field: str
) -> None:
    """Status, detail, and the field at fault (RFC 9457)."""
    response = client.request(method, path, json=body)
    assert response.status_code == status
    assert problem(response)["field"] == field


def test_an_abc_error_gives_line_and_column(client: TestClient) -> None:
    """The place in the text the teacher pasted."""
    body = problem(client.post("/api/tunes", json={"abc": "X:1\nK:G\nAB A0|\n"}))
    assert (body["line"], body["column"]) == (3, 4)
    assert body["remedy"]


def test_a_tune_is_taken_off_with_everything(client: TestClient) -> None:
    """Its setups are out of reach with it; bringing the tune back brings them back."""
    setup = setup_of(client, "Plum")
    tune = client.get(f"/api/setups/{setup}/ladder").json()["tune_id"]
    assert client.delete(f"/api/tunes/{tune}").status_code == 204
    assert client.get(f"/api/setups/{setup}/ladder").status_code == 404
    assert client.post(f"/api/tunes/{tune}/restore").json()["setups"] == 1
    assert client.get(f"/api/setups/{setup}/ladder").status_code == 200


def test_a_bug_is_a_problem_document_too(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    """Nothing leaks a traceback."""
    monkeypatch.setattr("nailhead.web.routers.tunes.find_tunes", lambda *_, **__: 1 / 0)
    body = problem(client.get("/api/tunes"))
    assert body["status"] == 500
    assert "ZeroDivision" not in str(body)


def test_instruments_are_offered_from_the_tables(client: TestClient) -> None:
    """Every row of instruments and tunings."""
    rows = {row["id"]: row for row in client.get("/api/instruments").json()}
    assert set(rows) == set(INSTRUMENTS)
    for name, row in rows.items():
        assert [tuning["id"] for tuning in row["tunings"]] == [tuning.id for tuning in find_instrument(name).tunings]
        assert [idiom["id"] for idiom in row["idioms"]] == [idiom.id for idiom in idioms_of(find_instrument(name))]
    assert "A4" in rows["banjo"]["drone_choices"] and rows["guitar"]["drone_choices"] == []


_MUSIC = st.text(alphabet="ABCDEFGabcdefg0123456789/|:[](){}<>=^_-\"'%z ,\n", max_size=80)


@settings(max_examples=120, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(body=_MUSIC)
@example(body="|2A")  # a second ending alone: nothing of it is ever played
def test_fuzzed_abc_never_breaks_the_server(client: TestClient, body: str) -> None:
    """Malformed ABC is read or refused, and what is read can be set up and laid out; never a 500."""
    response = client.post("/api/tunes", json={"abc": f"X:1\nM:4/4\nL:1/8\nK:G\n{body}\n"})
    assert response.status_code in (201, 422)
    if response.status_code == 422:
        problem(response)
        return
    tune_id = response.json()["added"][0]["id"]
    kept = client.post(f"/api/tunes/{tune_id}/setups", json={})
    assert kept.status_code in (201, 422), kept.text
    if kept.status_code == 201:
        for view in ("ladder", "sheet", "export/text", "export/json", "export/musicxml"):
            assert client.get(f"/api/setups/{kept.json()['id']}/{view}").status_code == 200
