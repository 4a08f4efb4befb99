"""Changes of an arrangement over the API: each one a step, undone and made again, alone in its window."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

import pytest
from fastapi.testclient import TestClient

from nailhead.web import remembered
from tests.web.conftest import change, problem
from tests.web.test_api import setup_of


@pytest.fixture
def reel(client: TestClient) -> int:
    return setup_of(client, "Lantern")


def state(client: TestClient, setup: int) -> dict:  # type: ignore[type-arg]
    """The path as a window that is opened now would see it."""
    return client.get(f"/api/setups/{setup}/ladder").json()["path"]  # type: ignore[no-any-return]


def every_change(client: TestClient, setup: int) -> Iterator[tuple[str, dict]]:  # type: ignore[type-arg]
    """One of each kind, as a teacher would come to them."""
    yield "rungs", {"places": [1], "rung": 5}
    yield "raise", {"places": [1, 2, 3], "by": 1}
    yield "raise part", {"place": 2, "by": 1}
    yield "rungs", {"places": [2], "rung": 7, "second": True}
    yield "level", {"rung": 5}
    yield "at most", {"grade": 2}
    yield "split", {"place": 5}
    yield "join", {"place": 5}
    other = client.get(f"/api/setups/{setup}/bars/1/alternatives", params={"rung": 5}).json()[0]
    yield "alternative", {"place": 1, "rung": 5, "difference": other["difference"]}
    yield "unison", {"place": 2, "rung": 4, "onset": "0", "string": 3, "fret": 5}
    yield "pattern", {"place": 8, "rung": 5, "pattern": "basic stroke"}
    yield "edit", {"place": 3, "rung": 2, "edit": {"do": "add", "onset": "1/8", "string": 5}}
    yield "lock", {"places": [1, 2]}
    yield "unlock", {"places": [1]}
    yield "release", {"place": 3, "rung": 2}
    yield "choose", {"name": "nail", "way": "middle"}
    yield "setup", {"tuning": "gCGCD", "capo": 0, "key": "G"}


def test_every_kind_of_change_is_one_step_and_goes_back(client: TestClient, reel: int) -> None:
    """Undone one by one the arrangement is as it began, made again as it was; a reload sees each of them."""
    seen = [state(client, reel)]
    for do, more in every_change(client, reel):
        answer = change(client, reel, do, **more)
        assert answer.status_code == 200, answer.text
        body = answer.json()
        assert body["said"] and body["path"]["undo"] == body["said"] and body["path"]["redo"] == ""
        assert body["path"] == state(client, reel)
        seen.append(body["path"])
    steps = len(seen) - 1

    def same(one: dict, other: dict) -> bool:  # type: ignore[type-arg]
        ignored = ("revision", "redo")
        return {k: v for k, v in one.items() if k not in ignored} == {
            k: v for k, v in other.items() if k not in ignored
        }

    for at in reversed(range(steps)):
        back = client.post(f"/api/setups/{reel}/undo", json={"revision": state(client, reel)["revision"]}).json()
        assert same(back["path"], seen[at]) and back["path"]["redo"], at
    assert problem(client.post(f"/api/setups/{reel}/undo", json={"revision": 2 * steps}))["field"] == "step"
    for at in range(1, steps + 1):
        again = client.post(f"/api/setups/{reel}/redo", json={"revision": state(client, reel)["revision"]}).json()
        assert same(again["path"], seen[at]), at


def test_only_phrases_that_look_different_come_back(client: TestClient, reel: int) -> None:
    """A step of the path brings none; a kept cell its phrase, and that of the bar that leads into it."""
    assert change(client, reel, "raise", places=[1], by=1).json()["phrases"] == []
    edited = change(client, reel, "edit", place=1, rung=2, edit={"do": "add", "onset": "1/8", "string": 5}).json()
    assert edited["phrases"][0]["index"] == 0 and not edited["reload"]
    cell = edited["phrases"][0]["columns"][1]["cells"][1]
    assert (cell["kept"], cell["said"]) == ("edited", "edited by hand")
    assert [one["rung"] for one in edited["path"]["kept"]] == [2] * len(edited["path"]["kept"])
    assert client.get(f"/api/setups/{reel}/phrases/0").json() == edited["phrases"][0]


def test_the_selected_cell_note_by_note(client: TestClient, reel: int) -> None:
    """What the inspector shows: notes in their places, counts to add at, patterns to choose, what is awkward."""
    plain = client.get(f"/api/setups/{reel}/cells/1/5").json()
    assert plain["kept"] == "" and plain["awkward"] == [] and len(plain["moments"]) == 8
    assert [touch["name"] for touch in plain["touches"]] == ["nail", "brush", "drag", "thumb"]
    assert {note["touch"] for note in plain["notes"]} <= {"nail", "brush", "drag", "thumb", ""}
    offered = client.get(f"/api/setups/{reel}/cells/1/5/choices").json()
    assert "double thumb" in offered["patterns"] and offered["playing"]
    assert all(0 < note["x"] < plain["width"] for note in plain["notes"])
    note = next(note for note in plain["notes"] if note["role"] == "melody" and note["onset"] != "0")
    edit = {"do": "fret", "onset": note["onset"], "string": note["string"], "fret": 1}
    change(client, reel, "edit", place=1, rung=5, edit=edit)
    wrong = client.get(f"/api/setups/{reel}/cells/1/5").json()
    assert wrong["kept"] == "edited" and any("is not played" in said for said in wrong["awkward"])


def test_edits_live_through_other_choices_and_wait_aside(client: TestClient, reel: int) -> None:
    """Another school recomputes everything but what was edited; another tuning says what cannot come along."""
    edit = {"do": "add", "onset": "1/8", "string": 5}
    change(client, reel, "edit", place=1, rung=2, edit=edit)
    before = client.get(f"/api/setups/{reel}/cells/1/2").json()["notes"]
    change(client, reel, "choose", name="nail", way="middle")
    assert client.get(f"/api/setups/{reel}/cells/1/2").json()["notes"] == before
    moved = change(client, reel, "setup", tuning="gCGCD", capo=0, key="G").json()
    assert moved["reload"] and moved["remarks"] and "stays aside" in moved["remarks"][0]
    aside = moved["path"]["aside"]
    assert aside and aside[0]["kind"] == "edited" and aside[0]["why"].endswith(".")
    label = client.get(f"/api/setups/{reel}/ladder").json()["label"]
    assert "double C" in label
    thrown = change(client, reel, "throw away", number=0).json()
    assert len(thrown["path"]["aside"]) == len(aside) - 1
    for _ in range(2):
        client.post(f"/api/setups/{reel}/undo", json={"revision": state(client, reel)["revision"]})
    assert client.get(f"/api/setups/{reel}/cells/1/2").json()["notes"] == before


def test_arrangements_side_by_side(client: TestClient, reel: int) -> None:
    """A pupil's copied from the teacher's: names, grades, each its own way."""
    tune = client.get(f"/api/setups/{reel}/ladder").json()["tune_id"]
    change(client, reel, "level", rung=6)
    client.put(f"/api/setups/{reel}/name", json={"name": "Mine"})
    copy = client.post(f"/api/setups/{reel}/copy", json={"name": "Tuesday group"}).json()["id"]
    change(client, copy, "level", rung=1)
    rows = {row["called"]: row for row in client.get(f"/api/tunes/{tune}/arrangements").json()}
    assert rows["Mine"]["grade"] > rows["Tuesday group"]["grade"]
    assert set(state(client, reel)["rungs"]) == {6} and set(state(client, copy)["rungs"]) == {1}
    assert client.get(f"/api/setups/{copy}/ladder").json()["name"] == "Tuesday group"


@pytest.mark.parametrize(
    ("do", "more", "field"),
    [
        ("rungs", {"places": [99], "rung": 2}, "place"),
        ("rungs", {"places": [1], "rung": 9}, "rung"),
        ("rungs", {"places": [], "rung": 2}, "places"),
        ("raise", {"places": [1], "by": 99}, "by"),
        ("at most", {"grade": 0}, "grade"),
        ("alternative", {"place": 1, "rung": 5, "difference": "Louder."}, "difference"),
        ("alternative", {"place": 77, "rung": 5, "difference": "Louder."}, "place"),
        ("unison", {"place": 1, "rung": 5, "onset": "0", "string": 1, "fret": 1}, "place"),
        ("unison", {"place": 1, "rung": 5, "onset": "soon", "string": 1, "fret": 1}, "onset"),
        ("pattern", {"place": 1, "rung": 5, "pattern": "windmill"}, "pattern"),
        ("shape", {"place": 1, "rung": 5, "onset": "0", "frets": "9-9"}, "shape"),
        ("edit", {"place": 1, "rung": 2, "edit": {"do": "fret", "onset": "0", "string": 3, "fret": 55}}, "fret"),
        ("setup", {"tuning": "zz"}, "tuning"),
        ("throw away", {"number": 3}, "number"),
        ("fly", {}, "change"),
    ],
)
def test_what_cannot_be_is_refused_and_nothing_changes(
    client: TestClient,
    reel: int,
    do: str,
    more: dict,
    field: str,  # type: ignore[type-arg]
) -> None:
    """A problem document with the field; the arrangement stands as it stood."""
    before = state(client, reel)
    refused = problem(change(client, reel, do, **more))
    assert field in refused["field"]
    assert state(client, reel) == before


def test_a_solo_has_bars_around_it(client: TestClient) -> None:
    """Kick-off and ending as marks; the path says whether it has them, and how hard the second time is."""
    setup = setup_of(client, "Lantern")
    path = client.get(f"/api/setups/{setup}/ladder").json()["path"]
    assert not path["solo"] and path["second_grade"] is None
    path = change(client, setup, "level", rung=7).json()["path"]
    assert path["solo"] and path["second_grade"] >= 1
    frames = client.get(f"/api/setups/{setup}/frames").json()
    assert [one["name"] for one in frames] == ["Kick-off", "Ending"]
    for one in frames:
        assert one["width"] > 60 and one["height"] > one["top"] > 0
        assert any(mark["kind"] == "disc" for mark in one["marks"])


def text_of(client: TestClient, tune: int) -> dict:  # type: ignore[type-arg]
    return client.get(f"/api/tunes/{tune}").json()  # type: ignore[no-any-return]


def test_a_bar_put_in_front_on_the_desk_keeps_what_was_decided(client: TestClient, reel: int) -> None:
    """The teacher writes one bar more at the beginning of the tune: rungs, lock and hand edit are where they were."""
    tune = client.get(f"/api/setups/{reel}/ladder").json()["tune_id"]
    change(client, reel, "rungs", places=[1, 6], rung=5)
    change(client, reel, "edit", place=3, rung=2, edit={"do": "add", "onset": "1/8", "string": 5})
    change(client, reel, "lock", places=[8])
    before = state(client, reel)
    text = text_of(client, tune)
    longer = text["text"].replace('|:D2|"G"G2B2', '|:D2|"Em"E4 B4|"G"G2B2', 1)
    assert longer != text["text"]
    saved = client.put(f"/api/tunes/{tune}/text", json={"text": longer, "revision": text["revision"]})
    assert saved.status_code == 200
    after = state(client, reel)
    assert after["aside"] == []
    assert after["rungs"] == [*before["rungs"][:1], before["rungs"][0], *before["rungs"][1:]]
    assert after["locked"] == [place + 1 for place in before["locked"]]
    assert [(one["place"] - 1, one["rung"]) for one in after["kept"]] == [
        (one["place"], one["rung"]) for one in before["kept"]
    ]


def test_a_ladder_is_built_once_however_many_ask(client: TestClient, reel: int, monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """Eight windows open it at the same moment: one computation, eight answers; cell and sheet use it too."""
    from concurrent.futures import ThreadPoolExecutor

    from nailhead.web import ladders as bench

    bench._LADDERS.clear()
    remembered._ANSWERS.clear()
    built = []
    real = bench.build_ladder

    def counted(*given, **named):  # type: ignore[no-untyped-def]
        built.append(given)
        return real(*given, **named)

    monkeypatch.setattr(bench, "build_ladder", counted)
    with ThreadPoolExecutor(8) as pool:
        answers = list(pool.map(lambda _: client.get(f"/api/setups/{reel}/ladder").status_code, range(8)))
    assert answers == [200] * 8 and len(built) == 1
    client.get(f"/api/setups/{reel}/cells/1/5")
    client.get(f"/api/setups/{reel}/sheet")
    assert len(built) == 1


def test_nothing_computes_while_the_file_is_being_written(client: TestClient, reel: int, monkeypatch) -> None:  # type: ignore[no-untyped-def]
    """Ladders, proposals of changes and their answers are worked out with no transaction open."""
    from nailhead.store.database import Database
    from nailhead.web import ladders as bench

    bench._LADDERS.clear()
    remembered._ANSWERS.clear()
    depth, seen = [0], []
    for name in ("read", "write"):
        plain = getattr(Database, name)

        @contextmanager
        def watched(self, plain=plain):  # type: ignore[no-untyped-def]
            depth[0] += 1
            try:
                with plain(self) as connection:
                    yield connection
            finally:
                depth[0] -= 1

        monkeypatch.setattr(Database, name, watched)
    real = bench.build_ladder
    monkeypatch.setattr(bench, "build_ladder", lambda *given: (seen.append(depth[0]), real(*given))[1])
    for do, more in every_change(client, reel):
        assert change(client, reel, do, **more).status_code == 200
    tune = client.get(f"/api/setups/{reel}/ladder").json()["tune_id"]
    client.post(f"/api/tunes/{tune}/setups", json={"idiom": "three-finger", "tuning": "gCGCD"})
    client.get(f"/api/tunes/{tune}/arrangements")
    assert len(seen) >= 4 and set(seen) == {0}


def test_own_patterns_are_kept_played_and_taken_along(client: TestClient, reel: int) -> None:
    """Refused with the sign at fault; kept as a step, played where it fits, in the file that is taken along, undone."""
    refused = problem(change(client, reel, "own pattern", name="odd", text="d Q d t"))
    assert "Sign 2 of the pattern “odd”" in refused["detail"] and "d B t D" in refused["remedy"]
    answer = change(client, reel, "own pattern", name="gallop", text="d t | d t").json()
    assert answer["reload"] and answer["said"] == "Own pattern gallop"
    ladder = client.get(f"/api/setups/{reel}/ladder").json()
    assert ladder["patterns"] == [{"name": "gallop", "text": "d t | d t"}] and ladder["signs"] == [
        "d",
        "B",
        "t",
        "D",
        "x",
        "m",
        "g",
        "h",
    ]
    played = client.get(f"/api/setups/{reel}/cells/17/2/choices").json()["playing"]
    assert "gallop" in played
    taken = client.get(f"/api/setups/{reel}/export/json").text
    back = client.post("/api/arrangements", json={"text": taken}).json()
    assert client.get(f"/api/setups/{back['setup']}/ladder").json()["patterns"] == ladder["patterns"]
    copy = client.post(f"/api/setups/{reel}/copy", json={"name": "other"}).json()["id"]
    assert client.get(f"/api/setups/{copy}/ladder").json()["patterns"] == ladder["patterns"]
    revision = state(client, reel)["revision"]
    client.post(f"/api/setups/{reel}/undo", json={"revision": revision})
    assert client.get(f"/api/setups/{reel}/ladder").json()["patterns"] == []
    assert "no own pattern" in problem(change(client, reel, "drop pattern", name="gallop"))["detail"]
