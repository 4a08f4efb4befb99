"""The teacher's settings and habits through the API: kept, checked, and seen where they are of use."""

from __future__ import annotations

from fastapi.testclient import TestClient

from tests.web.conftest import problem


def settle(client: TestClient, **change: object) -> dict:  # type: ignore[type-arg]
    """The settings as they are with something changed."""
    now = client.get("/api/teacher/settings").json()["settings"]
    answer = client.put("/api/teacher/settings", json={**now, **change})
    assert answer.status_code == 200, answer.text
    return dict(answer.json())


def a_setup(client: TestClient, find: str = "lantern", **wish: object) -> int:
    tune = client.get("/api/tunes", params={"find": find}).json()["tunes"][0]["id"]
    wish = {"instrument": "banjo", "idiom": "clawhammer", "tuning": "gDGBD", "capo": 0, **wish}
    return int(client.post(f"/api/tunes/{tune}/setups", json=wish).json()["id"])


def test_settings_are_kept_with_what_there_is_to_choose(client: TestClient) -> None:
    """Defaults first; then what was settled, the rest as it was; schools say where they are played."""
    first = client.get("/api/teacher/settings").json()
    assert first["settings"]["instruments"] == [] and first["settings"]["first_screen"] == "shelf"
    assert {"paper": ["A4", "Letter"], "letters": ["B and B♭", "H and B"]}.items() <= first["sheet"].items()
    nail = next(row for row in first["schools"] if row["name"] == "nail")
    assert nail["played"] == "clawhammer" and len(nail["ways"]) > 1
    settle(client, instruments=["guitar", "banjo"], tunings={"guitar": "DADGAD"}, units="imperial")
    again = settle(client, hand="small")["settings"]
    assert again == client.get("/api/teacher/settings").json()["settings"]
    assert (again["instruments"], again["tunings"]) == (["guitar", "banjo"], {"guitar": "DADGAD"})
    assert (again["units"], again["hand"]) == ("imperial", "small")


def test_what_is_not_there_is_refused_at_its_field(client: TestClient) -> None:
    """An instrument, a tuning, a school, a way of the sheet and a name of it; nothing is kept of them."""
    now = client.get("/api/teacher/settings").json()["settings"]
    for change in (
        {"instruments": ["lute"]},
        {"tunings": {"banjo": "EADGBE"}},
        {"schools": {"nail": "elbow"}},
        {"sheet": {"paper": "A5"}},
        {"sheet": {"fingers": "all"}},
    ):
        refused = client.put("/api/teacher/settings", json={**now, **change})
        assert refused.status_code == 422, change
        assert problem(refused)["remedy"], change
    assert client.get("/api/teacher/settings").json()["settings"] == now


def test_new_sheets_look_as_settled(client: TestClient) -> None:
    """Paper and letters of a sheet on which nothing is decided; what was decided on a sheet stays on it."""
    old, new = a_setup(client), a_setup(client)
    revision = client.get(f"/api/setups/{old}/sheet").json()["revision"]
    change = {"change": {"do": "sheet", "options": {"size": "large"}}, "revision": revision}
    assert client.post(f"/api/setups/{old}/changes", json=change).status_code == 200
    settle(client, sheet={"paper": "Letter", "letters": "H and B"})
    kept, fresh = (client.get(f"/api/setups/{one}/sheet").json() for one in (old, new))
    assert (kept["options"]["paper"], kept["options"]["size"]) == ("A4", "large")
    assert (fresh["options"]["paper"], fresh["options"]["letters"]) == ("Letter", "H and B")


def test_h_is_read_where_it_is_settled(client: TestClient) -> None:
    """The banjo's second string is an H, and B flat is B: chords, string names, keys."""
    tune = client.post("/api/tunes", json={"abc": 'X:1\nT:Hin\nM:4/4\nL:1/4\nK:Bm\n"Bm"Bcde|"F#7"f2"Bb"d2|"Bm"B4|]\n'})
    number = tune.json()["added"][0]["id"]
    wish = {"instrument": "banjo", "idiom": "three-finger", "tuning": "gDGBD", "capo": 0, "key": "B"}
    setup = client.post(f"/api/tunes/{number}/setups", json=wish).json()["id"]
    before = "".join(client.get(f"/api/setups/{setup}/sheet").json()["pages"])
    settle(client, sheet={"letters": "H and B"})
    after = "".join(client.get(f"/api/setups/{setup}/sheet").json()["pages"])
    assert ">Bm<" in before and ">Hm<" not in before and "Plays B minor" in before
    assert ">Hm<" in after and ">Bm<" not in after and "Plays H minor" in after and ">H<" in after


def test_a_school_is_taken_by_new_arrangements_alone(client: TestClient) -> None:
    """The nail that strikes: settled once, taken by the next setup that has such a choice, changed in no old one."""
    old = a_setup(client)
    settle(client, schools={"nail": "middle"})
    new, picked = a_setup(client), a_setup(client, instrument="mandolin", idiom="plectrum", tuning="GDAE")

    def taken(setup: int) -> dict[str, str]:
        return {row["name"]: row["taken"] for row in client.get(f"/api/setups/{setup}/options").json()}

    assert (taken(old)["nail"], taken(new)["nail"]) == ("index", "middle")
    assert "nail" not in taken(picked)


def test_what_was_used_last(client: TestClient) -> None:
    """The newest setup's instrument and way; the tune opened last stands first on the shelf, with its newest setup."""
    setup = a_setup(client, "ferry", instrument="mandolin", idiom="plectrum", tuning="GDAE")
    tune = client.get("/api/tunes", params={"find": "ferry"}).json()["tunes"][0]["id"]
    assert client.post(f"/api/tunes/{tune}/opened").status_code == 204
    found = client.get("/api/teacher/last").json()
    assert found == {"instrument": "mandolin", "idiom": "plectrum", "tune": tune, "setup": setup}
    shelf = client.get("/api/tunes", params={"sort": "opened", "descending": True}).json()
    assert shelf["tunes"][0]["id"] == tune
    assert client.post("/api/tunes/99999/opened").status_code == 404


def test_the_shelf_is_narrowed(client: TestClient) -> None:
    """By key, metre and instrument together; what there is to choose is counted."""
    shelf = client.get("/api/tunes").json()
    keys = {row["value"]: row["tunes"] for row in shelf["keys"]}
    assert sum(keys.values()) == shelf["total"] and keys["G major"] >= 2
    found = client.get("/api/tunes", params={"key": "G major", "metre": "4/4", "instrument": "guitar"}).json()
    assert [row["title"] for row in found["tunes"]] == ["Yonder Go the Drovers"]


def test_a_tag_for_several_is_given_to_all_or_none(client: TestClient) -> None:
    """Given beside the others, taken again; with a tune that is not there nothing is changed."""
    rows = client.get("/api/tunes").json()["tunes"][:2]
    ids = [row["id"] for row in rows]
    before = [row["tags"] for row in rows]

    def tags() -> list[list[str]]:
        found = {row["id"]: row["tags"] for row in client.get("/api/tunes").json()["tunes"]}
        return [found[one] for one in ids]

    assert client.post("/api/tunes/tagged", json={"tunes": ids, "tag": " Fair ", "given": True}).status_code == 204
    assert tags() == [sorted({*one, "fair"}) for one in before]
    client.post("/api/tunes/tagged", json={"tunes": ids, "tag": "fair", "given": False})
    assert tags() == before
    assert client.post("/api/tunes/tagged", json={"tunes": [*ids, 99999], "tag": "x"}).status_code == 404
    assert tags() == before


def test_seldom_ways_are_told_from_the_others(client: TestClient) -> None:
    """A reel in G on the banjo: double C, where G does not lie, is seldom; open G is first and is not."""
    tune = client.get("/api/tunes", params={"find": "lantern"}).json()["tunes"][0]["id"]
    plans = client.post(f"/api/tunes/{tune}/setups/plan", json={"instrument": "banjo", "idiom": "clawhammer"}).json()
    assert plans[0]["tuning_name"] == "open G" and not plans[0]["seldom"]
    seldom = {plan["tuning_name"] for plan in plans if plan["seldom"]}
    assert "double C" in seldom
    assert all(
        any(term["name"] in ("away from home", "tuned down", "strained strings") for term in plan["terms"])
        for plan in plans
        if plan["seldom"]
    )
