"""One request for every operation that the server accepts: what fuzzing begins from."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from fastapi.testclient import TestClient

ABC = "X:1\nT:Heron's Corner\nR:reel\nM:4/4\nL:1/8\nK:D\n|:d2fd A2FA|Bcde fdAF|G2BG F2AF|E2gf edcB:|\n"
SETUP = 3
TUNE = 1
#: A step of undo that the shelf's arrangement has, so that undo and redo have something to do.
LOCK = {"do": "lock", "places": [2]}
WISH = {"instrument": "banjo", "idiom": "clawhammer", "tuning": "gDGBD", "capo": 0, "fifth": None, "key": None}
OWN = {"name": "My banjo", "kind": "banjo", "strings": 5, "scale_mm": 660, "frets": 20}
EDIT = {"do": "delete", "onset": "0", "string": 3, "fret": 2, "to_string": 0, "finger": 1, "touch": "", "start": 0}


@dataclass(frozen=True)
class Request:
    """A request as its method and path are described; `path` and `body` may name what `prepare` has made."""

    operation: str
    path: Mapping[str, object] = field(default_factory=dict)
    query: Mapping[str, object] = field(default_factory=dict)
    json: Any = None
    form: Mapping[str, str] = field(default_factory=dict)
    file: bytes | None = None
    name: str = "file.abc"

    @property
    def method(self) -> str:
        return self.operation.split()[0]

    @property
    def address(self) -> str:
        return self.operation.split()[1].format(**self.path)

    def send(self, client: TestClient) -> Any:
        """The server's answer."""
        more: dict[str, Any] = {"params": self.query} if self.query else {}
        if self.json is not None:
            more["json"] = self.json
        if self.form:
            more["data"] = self.form
        if self.file is not None:
            more["files"] = {"file": (self.name, self.file)}
        return client.request(self.method, self.address, **more)


def valid_requests(client: TestClient) -> list[Request]:
    """A request for every operation, on the invented shelf; what they need beside it is made first."""
    revision = client.get(f"/api/setups/{SETUP}/ladder").json()["path"]["revision"]
    client.post(f"/api/setups/{SETUP}/changes", json={"change": LOCK, "revision": revision})
    client.post(f"/api/setups/{SETUP}/changes", json={"change": {"do": "level", "rung": 4}, "revision": revision + 1})
    client.post(f"/api/setups/{SETUP}/undo", json={"revision": revision + 2})
    revision += 3
    tune = client.get(f"/api/tunes/{TUNE}").json()
    gone = client.post(f"/api/tunes/{TUNE}/duplicate").json()["id"]
    client.delete(f"/api/tunes/{gone}")
    own = client.post("/api/instruments", json=OWN).json()["own"]
    tuning = client.post("/api/instruments/banjo/tunings", json={"name": "Low", "open": "G4 C3 F3 C4 D4"}).json()
    tuning_number = next(row["own"] for row in tuning["tunings"] if row["own"])
    step = client.get(f"/api/setups/{SETUP}/practice").json()["steps"][0]["id"]
    packet = client.post("/api/packets", json={"title": "Two", "setups": [SETUP]}).json()["number"]
    while client.get(f"/api/packets/{packet}").json()["state"] == "working":
        pass
    backup = client.get("/api/studio/copy").content
    kept = client.post("/api/studio/bring-back", files={"file": ("x.sqlite3", backup)}).json()["aside"]
    arrangement = client.get(f"/api/setups/{SETUP}/export/json").text
    note = next(one for one in client.get(f"/api/setups/{SETUP}/cells/1/2").json()["notes"] if one["role"] == "melody")
    settings = client.get("/api/teacher/settings").json()["settings"]
    tone = client.get("/api/tuner/banjo/tone?tuning=gDGBD&string=1").content
    at: dict[str, object] = {"setup_id": SETUP}
    cell: dict[str, object] = {**at, "place": 1, "rung": 2}
    of: dict[str, object] = {"tune_id": TUNE}
    banjo: dict[str, object] = {"instrument": "banjo"}
    playing: dict[str, object] = {"start": 0, "tempo": 90, "swing": 0.3, "count_in": 4}
    sounding: dict[str, object] = {"tempo": 90, "page": 1, "dpi": 36}
    bare: dict[str, object] = {"tuning": "gDGBD", "capo": 0, "fifth": "G4"}
    changes: list[dict[str, Any]] = [
        {"do": "rungs", "places": [1], "rung": 3, "second": False},
        {"do": "raise", "places": [1, 3], "by": 1, "second": True},
        {"do": "raise part", "place": 1, "by": 1},
        {"do": "level", "rung": 3},
        {"do": "at most", "grade": 3},
        {"do": "split", "place": 1},
        {"do": "lock", "places": [1]},
        {"do": "release", "place": 1, "rung": 2},
        {"do": "pattern", "place": 1, "rung": 5, "pattern": "basic stroke"},
        {"do": "edit", "place": 1, "rung": 2, "edit": {**EDIT, "onset": note["onset"], "string": note["string"]}},
        {"do": "choose", "name": "nail", "way": "middle"},
        {"do": "own pattern", "name": "mine", "text": "d . d t"},
        {"do": "setup", "tuning": "gCGCD", "capo": 0, "fifth": None, "key": None},
        {"do": "sheet", "options": {"size": "large"}},
    ]
    return [
        Request("GET /api/health"),
        Request("GET /api/tunes", query={"find": "weir", "sort": "title", "offset": 0, "limit": 20}),
        Request("POST /api/tunes", json={"abc": ABC}),
        Request("POST /api/tunes/preview", form={"part": "0", "metre": "4/4", "key": "D"}, file=ABC.encode()),
        Request("POST /api/tunes/blank", json={"title": "New", "key": "Em", "metre": "6/8"}),
        Request("PUT /api/tunes/{tune_id}/tags", of, json={"tags": ["slow", "Tuesday"]}),
        Request("POST /api/tunes/tagged", json={"tunes": [TUNE, 2], "tag": "winter", "given": True}),
        Request("POST /api/tunes/{tune_id}/opened", of),
        Request("PUT /api/tunes/{tune_id}/archived", of, json={"archived": False}),
        Request("GET /api/tunes/{tune_id}", of),
        Request("POST /api/tunes/{tune_id}/restore", {"tune_id": gone}),
        Request("PUT /api/tunes/{tune_id}/text", of, json={"text": tune["text"], "revision": tune["revision"]}),
        Request("POST /api/tunes/{tune_id}/duplicate", of),
        *(
            Request("GET /api/tunes/{tune_id}/export/{name}", {**of, "name": name})
            for name in ("abc", "musicxml", "midi", "lead")
        ),
        Request("POST /api/desk/read", json={"abc": ABC}),
        Request("POST /api/desk/change", json={"abc": ABC, "change": {"kind": "transpose", "semitones": 2}}),
        Request("POST /api/desk/proposals", json={"abc": ABC}),
        Request("POST /api/desk/enter", json={"abc": ABC, "at": 60, "entry": {"kind": "bar"}}),
        Request("POST /api/desk/sounds", json={"abc": ABC}),
        Request("GET /api/desk/board/{instrument}", banjo, {"tuning": "gDGBD", "capo": 2}),
        Request("POST /api/tunes/{tune_id}/setups", of, json=WISH),
        Request("POST /api/tunes/{tune_id}/setups/ahead", of, json=WISH),
        Request("POST /api/tunes/{tune_id}/setups/try", of, json=WISH),
        Request("POST /api/tunes/{tune_id}/setups/plan", of, json={"instrument": "banjo", "key": "any"}),
        Request(
            "POST /api/tunes/{tune_id}/setups/why-not",
            of,
            json={"instrument": "banjo", "expected_tuning": "gCGCD", "expected_capo": 2},
        ),
        Request("POST /api/tunes/{tune_id}/setups/neck", of, json=WISH),
        Request("GET /api/setups/{setup_id}/ladder", at),
        Request("GET /api/setups/{setup_id}/phrases/{index}", {**at, "index": 1}),
        Request("GET /api/setups/{setup_id}/phrases/{index}/beside/{other}", {**at, "index": 1, "other": SETUP}),
        Request("GET /api/setups/{setup_id}/frames", at),
        Request("GET /api/setups/{setup_id}/cells/{place}/{rung}", cell),
        Request("GET /api/setups/{setup_id}/cells/{place}/{rung}/choices", {**cell, "rung": 5}),
        *(
            Request("POST /api/setups/{setup_id}/changes", at, json={"change": change, "revision": revision, "id": "x"})
            for change in changes
        ),
        Request("POST /api/setups/{setup_id}/undo", at, json={"revision": revision}),
        Request("POST /api/setups/{setup_id}/redo", at, json={"revision": revision}),
        Request(
            "POST /api/setups/{setup_id}/changes/queue",
            at,
            json={"changes": [{"id": "q", "change": changes[0]}], "revision": revision},
        ),
        Request("GET /api/tunes/{tune_id}/arrangements", of),
        Request("POST /api/setups/{setup_id}/copy", at, json={"name": "For Tuesday"}),
        Request("PUT /api/setups/{setup_id}/name", at, json={"name": "For Tuesday"}),
        Request("POST /api/arrangements", json={"text": arrangement}),
        Request("GET /api/setups/{setup_id}/bars/{place}/alternatives", {**at, "place": 1}, {"rung": 3}),
        Request("GET /api/setups/{setup_id}/bars/{place}/unisons", {**at, "place": 1}, {"onset": note["onset"]}),
        Request("GET /api/setups/{setup_id}/options", at),
        Request("GET /api/setups/{setup_id}/signs", at),
        Request("GET /api/setups/{setup_id}/sheet", at),
        *(
            Request("GET /api/setups/{setup_id}/export/{name}", {**at, "name": name}, sounding)
            for name in ("text", "musicxml", "midi", "pdf", "svg")
        ),
        Request("POST /api/setups/{setup_id}/printed", at),
        Request("GET /api/setups/{setup_id}/handout", at, {"rungs": [1, 2], "phrases": [1]}),
        Request("POST /api/packets", json={"title": "Winter", "setups": [SETUP], "paper": "A4", "colours": "colour"}),
        Request("GET /api/packets/{number}", {"number": packet}),
        Request("GET /api/packets/{number}/file", {"number": packet}),
        Request("DELETE /api/packets/{number}", {"number": packet}),
        Request("GET /api/setups/{setup_id}/timeline", at, playing),
        Request("GET /api/setups/{setup_id}/sound", at, {**playing, "start": 16}),
        Request("GET /api/setups/{setup_id}/cells/{place}/{rung}/sound", cell, {"tempo": 90}),
        Request("GET /api/setups/{setup_id}/practice/room", at, {"size": "small"}),
        Request("GET /api/setups/{setup_id}/practice/take-home", at, {"note": "Slowly, please"}),
        Request("GET /api/setups/{setup_id}/practice", at),
        Request(
            "PUT /api/setups/{setup_id}/practice",
            at,
            json={"order": "hardest first", "tempo": {"start": 60}},
        ),
        Request(
            "POST /api/setups/{setup_id}/practice/steps/{step}/said",
            {**at, "step": step},
            json={"said": "clean", "id": "s"},
        ),
        Request("GET /api/voices/{edition}/{name}", {"edition": "1", "name": "banjo-5900.00"}),
        Request("GET /api/instruments"),
        Request("POST /api/instruments", json={**OWN, "name": "Another", "courses": []}),
        Request("PUT /api/instruments/own/{number}", {"number": own}, json={**OWN, "frets": 22}),
        Request("GET /api/instruments/own"),
        Request("POST /api/instruments/{instrument}/tunings", banjo, json={"name": "Lower", "open": "F4 C3 F3 C4 D4"}),
        Request("DELETE /api/instruments/tunings/{number}", {"number": tuning_number}),
        Request("DELETE /api/instruments/own/{number}", {"number": own}),
        Request("POST /api/instruments/{instrument}/shapes", banjo, json={**bare, "chord": "D7", "most": 5}),
        Request("POST /api/instruments/{instrument}/places", banjo, json={**bare, "pitch": "D"}),
        Request("GET /api/instruments/{instrument}/key-table", banjo, {"mode": "major", "every_tuning": False}),
        Request("GET /api/tuner/{instrument}", banjo, {**bare, "current": "gCGCD"}),
        Request("GET /api/tuner/{instrument}/tone", banjo, {"tuning": "gDGBD", "string": 5, "fifth": "A4"}),
        Request("POST /api/tuner/{instrument}/hear", banjo, json={**bare, "string": 4, "off_cents": -20}),
        Request("POST /api/tuner/{instrument}/recording", banjo, form={"tuning": "gDGBD"}, file=tone, name="x.wav"),
        Request("GET /api/teacher/last"),
        Request("GET /api/teacher/settings"),
        Request("PUT /api/teacher/settings", json=settings),
        Request("GET /api/studio"),
        Request("GET /api/studio/copy"),
        Request("GET /api/studio/readable"),
        Request("POST /api/studio/look", file=backup, name="x.sqlite3"),
        Request("GET /api/studio/copies/{name}", {"name": kept}),
        Request("POST /api/studio/copies/{name}/bring-back", {"name": kept}),
        Request("POST /api/studio/bring-back", file=backup, name="x.sqlite3"),
        Request("DELETE /api/setups/{setup_id}", at),
        Request("DELETE /api/tunes/{tune_id}", of),
    ]
