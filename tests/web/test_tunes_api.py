"""Shelf, bringing in and desk through the API, refusals and hostile uploads included."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterator
from pathlib import Path

import mido
import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nailhead.core.music.tune import Tune
from nailhead.demo.shelf import TUNES
from nailhead.formats.abc import read_tune, write_tune
from nailhead.formats.midi import write_midi
from nailhead.formats.musicxml import write_melody
from nailhead.formats.musicxml.reader import read_musicxml
from nailhead.web.bring_in import MOST_BYTES
from nailhead.web.desk import CHANGES, ENTRIES
from tests.corpora import corpus_tunes
from tests.demo import demo_tunes
from tests.tunes import rich_tunes
from tests.web.conftest import problem

GOOD = 'X:1\nT:Over the Stile\nM:4/4\nL:1/8\nK:G\n|:"G"G2B2 d4|"C"c2A2 "G"G4:|\n'
BAD = "X:2\nT:Broken\nK:G\nG0|\n"


def lines_of(response) -> list[dict]:  # type: ignore[no-untyped-def,type-arg]
    assert response.status_code == 200, response.text
    return [json.loads(line) for line in response.text.splitlines()]


def preview(client: TestClient, raw: bytes | str, name: str = "x.abc", **choices: object) -> list[dict]:  # type: ignore[type-arg]
    raw = raw.encode() if isinstance(raw, str) else raw
    return lines_of(client.post("/api/tunes/preview", files={"file": (name, raw)}, data=choices))


def reel(client: TestClient) -> int:
    return int(client.get("/api/tunes", params={"find": "lantern"}).json()["tunes"][0]["id"])


# -- the shelf


def test_the_shelf_says_what_each_tune_is(client: TestClient) -> None:
    """Key, metre, form, bars, how many are different, range, what it has been set up for."""
    found = client.get("/api/tunes", params={"find": "hazel waltz"}).json()
    assert found["total"] == 1
    row = found["tunes"][0]
    assert {name: row[name] for name in ("key", "metre", "form", "bars", "different_bars", "lowest", "highest")} == {
        "key": "D major",
        "metre": "3/4",
        "form": "AABB",
        "bars": 32,
        "different_bars": 18,
        "lowest": "F♯4",
        "highest": "B5",
    }
    assert (row["setups"], row["instruments"], row["chords"]) == (2, ["banjo", "guitar"], True)


def test_tags_archive_delete_and_undo(client: TestClient) -> None:
    """What is on the shelf changes, and everything can be taken back."""
    tune = reel(client)
    assert client.put(f"/api/tunes/{tune}/tags", json={"tags": ["Wednesday", "loud "]}).json() == ["loud", "wednesday"]
    shelf = client.get("/api/tunes", params={"tag": "loud"}).json()
    assert [row["id"] for row in shelf["tunes"]] == [tune]
    assert {"value": "wednesday", "name": "wednesday", "tunes": 1} in shelf["tags"]
    client.put(f"/api/tunes/{tune}/archived", json={"archived": True})
    assert client.get("/api/tunes", params={"find": "lantern"}).json()["total"] == 0
    assert client.get("/api/tunes", params={"archived": True}).json()["total"] == 1
    client.put(f"/api/tunes/{tune}/archived", json={"archived": False})
    before = client.get(f"/api/tunes/{tune}").json()
    client.delete(f"/api/tunes/{tune}")
    assert client.get(f"/api/tunes/{tune}").status_code == 404
    client.post(f"/api/tunes/{tune}/restore")
    assert client.get(f"/api/tunes/{tune}").json() == before


def test_a_copy_has_a_name_of_its_own(client: TestClient) -> None:
    """The text says so too; setups stay with the original."""
    copy = client.post(f"/api/tunes/{reel(client)}/duplicate").json()
    detail = client.get(f"/api/tunes/{copy['id']}").json()
    assert copy["title"] == "Lantern on the Weir (copy)" and copy["setups"] == 0
    assert read_tune(detail["text"]).tune.title == copy["title"]  # type: ignore[union-attr]


def test_a_new_tune_is_written_from_nothing(client: TestClient) -> None:
    """A header to write under; on the shelf at once, arranged as soon as it has notes."""
    new = client.post("/api/tunes/blank", json={"title": "Mill Stream", "key": "Ador", "metre": "6/8"}).json()
    assert (new["readable"], new["draft"]) == (False, True)
    assert client.get("/api/tunes", params={"find": "mill"}).json()["tunes"][0]["draft"] is True
    assert problem(client.post(f"/api/tunes/{new['id']}/setups/try", json={}))["field"] == "abc"
    text = new["text"] + "A3 c2d|e3 A3|]\n"
    saved = client.put(f"/api/tunes/{new['id']}/text", json={"text": text, "revision": new["revision"]}).json()
    assert saved == {"title": "Mill Stream", "revision": 2, "draft": False}
    assert client.post(f"/api/tunes/{new['id']}/setups/try", json={}).status_code == 200
    assert client.get("/api/tunes", params={"find": "mill"}).json()["tunes"][0]["key"] == "A dorian"


def test_no_text_is_ever_lost(client: TestClient) -> None:
    """What cannot be read is kept as a draft, the readable text stays with its ladder, two windows are told."""
    tune = reel(client)
    detail = client.get(f"/api/tunes/{tune}").json()
    broken = detail["text"] + "G0 [\n"
    saved = client.put(f"/api/tunes/{tune}/text", json={"text": broken, "revision": detail["revision"]}).json()
    assert saved["draft"] is True
    again = client.get(f"/api/tunes/{tune}").json()
    assert again["text"] == broken and again["readable"]
    assert client.get(f"/api/setups/{again['setups'][0]['id']}/ladder").status_code == 200
    late = client.put(f"/api/tunes/{tune}/text", json={"text": "X", "revision": detail["revision"]})
    assert (late.status_code, problem(late)["field"]) == (409, "text")
    assert client.get(f"/api/tunes/{tune}").json()["text"] == broken


def test_a_setup_that_no_longer_fits_says_so(client: TestClient) -> None:
    """Three octaves of new notes: the tune opens, and the setup names its trouble."""
    tune = reel(client)
    detail = client.get(f"/api/tunes/{tune}").json()
    text = detail["text"].replace("G2B2 d3B", "G,,,2B2 d'''3B", 1)
    client.put(f"/api/tunes/{tune}/text", json={"text": text, "revision": detail["revision"]})
    setups = client.get(f"/api/tunes/{tune}").json()["setups"]
    assert len(setups) == 2
    for setup in setups:
        assert setup["trouble"]
        assert client.get(f"/api/setups/{setup['id']}/ladder").status_code == 422


@pytest.mark.parametrize("name", ["abc", "musicxml", "mxl", "midi"])
def test_what_goes_out_comes_back(client: TestClient, name: str) -> None:
    """Each export of a demo tune, brought in again, is the same melody."""
    tune = reel(client)
    response = client.get(f"/api/tunes/{tune}/export/{name}")
    assert "Lantern-on-the-Weir" in response.headers["content-disposition"]
    (*_, line) = preview(client, response.content, f"x.{name}", metre="4/4", grid="1/8", key="G", pickup="1/4")
    wanted = read_tune(client.get(f"/api/tunes/{tune}").json()["text"]).tune
    back = read_tune(line["abc"]).tune
    assert wanted and back
    if name == "midi":
        assert back.pitches[: len(wanted.bars[0].events) + 4] == wanted.pitches[: len(wanted.bars[0].events) + 4]
    else:
        assert back == wanted


# -- bringing in


def test_a_book_is_previewed_tune_by_tune(client: TestClient) -> None:
    """Good ones with their facts, bad ones with line, column and remedy, what is left out, what is there already."""
    left_out = "X:3\nT:Two Voices\nM:4/4\nL:1/8\nK:D\nV:1\nd8|\nV:2\nD8|\n"
    start, *tunes = preview(client, f"% a book\n{GOOD}\n{BAD}\n{left_out}")
    assert (start["format"], start["total"]) == ("abc", 3)
    assert [line["facts"] and line["facts"]["key"] for line in tunes] == ["G major", None, "D major"]
    assert tunes[1]["refused"] == {
        "number": 2,
        "title": "Broken",
        "line": 12,
        "column": 1,
        "message": "“G0” has no length.",
        "remedy": "Give it one: 1, 2, /2.",
    }
    assert any("Only the first voice" in said for said in tunes[2]["left_out"])
    assert not tunes[0]["on_shelf"]
    before = client.get("/api/tunes").json()["total"]
    client.post("/api/tunes", json={"abc": tunes[0]["abc"]})
    assert client.get("/api/tunes").json()["total"] == before + 1
    assert preview(client, GOOD)[1]["on_shelf"]


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "latin-1", "utf-16"])
def test_a_file_is_read_whatever_its_encoding(client: TestClient, encoding: str) -> None:
    """Umlauts and line ends of other systems."""
    raw = GOOD.replace("Stile", "Brücke").replace("\n", "\r\n").encode(encoding)
    (_, tune) = preview(client, raw)
    assert tune["title"] == "Over the Brücke" and "\r" not in tune["abc"]


def test_a_score_is_previewed_with_its_parts(client: TestClient) -> None:
    """MusicXML, plain and compressed; the part that was read."""
    wanted = demo_tunes()[0]
    start, choices, tune = preview(client, write_melody(wanted), "x.musicxml")
    assert (start["format"], choices["parts"], choices["part"]) == ("musicxml", ["Melody"], 0)
    assert read_tune(tune["abc"]).tune == wanted
    assert problem(client.post("/api/tunes/preview", files={"file": ("x", write_melody(wanted))}, data={"part": 4}))[
        "remedy"
    ]


def test_midi_guesses_can_be_corrected(client: TestClient) -> None:
    """What is guessed is named; a choice sent back is taken and no longer a guess."""
    raw = write_midi(demo_tunes()[0])
    start, choices, tune = preview(client, raw, "x.mid")
    assert start["format"] == "midi"
    assert (choices["metre"], choices["key"]) == ("3/4", "D")
    assert set(choices["guessed"]) == {"grid", "pickup"}
    assert (choices["tracks"][0]["lowest"], choices["tracks"][0]["drums"]) == ("F♯4", False)
    _, again, other = preview(client, raw, "x.mid", metre="6/8", pickup="1/8", key="Bm", grid="1/8", triplets=False)
    assert again["guessed"] == []
    assert (other["facts"]["metre"], other["facts"]["key"]) == ("6/8", "B minor")
    assert tune["abc"] != other["abc"]
    for field, wrong in (("metre", "x"), ("pickup", "9/1"), ("key", "H"), ("grid", "1/9999"), ("track", 9)):
        refused = client.post("/api/tunes/preview", files={"file": ("x", raw)}, data={field: wrong})
        assert problem(refused)["field"] == field


def test_five_hundred_tunes_are_brought_in_at_once(client: TestClient) -> None:
    """The preview shows its progress line by line; what is chosen goes on the shelf in one go, all or nothing."""
    book = "\n\n".join(tune.text.strip() for tune, _ in zip(corpus_tunes("oneills1850"), range(500), strict=False))
    start, *tunes = preview(client, book)
    assert start["total"] == len(tunes) == 500
    chosen = [tune for tune in tunes if not tune["refused"]]
    assert len(chosen) >= 495
    before = client.get("/api/tunes").json()["total"]
    done = client.post("/api/tunes", json={"abc": "\n".join(tune["abc"] for tune in chosen)}).json()
    assert len(done["added"]) == len(chosen)
    assert client.get("/api/tunes").json()["total"] == before + len(chosen)


# -- hostile files


def bomb() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("score.xml", b" " * 25_000_000)
    return out.getvalue()


LOL = (
    b'<!DOCTYPE x [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]><score-partwise>&b;</score-partwise>'
)


def long_midi() -> bytes:
    file = mido.MidiFile(type=0, ticks_per_beat=1)
    file.tracks.append(
        mido.MidiTrack([mido.Message("note_on", note=60), mido.Message("note_off", note=60, time=2**27)])
    )
    out = io.BytesIO()
    file.save(file=out)
    return out.getvalue()


@pytest.mark.parametrize(
    ("raw", "said"),
    [
        (b"", "empty"),
        (b"   \n", "empty"),
        (b"no tune at all", "no key"),
        (b"\x00\xff\x13" * 400, "no text"),
        (bomb(), "more than 20 MB"),
        (LOL, "entities"),
        (b"<score-partwise>" * 1000, "not sound XML"),
        (long_midi(), "last for days"),
        (b"MThd" + b"\xff" * 40, "type 2"),
        (b"X:1\nK:G\n" + b"[" * 100_000, "not closed"),
        (b"X:1\nK:G\n" + b"(3" * 60_000 + b"G|", "shorter than any note"),
        (b"X:1\nT:" + b"a" * 300_000 + b"\nK:G\nG|" + b"G" * 150_000, "too long"),
        (b"X:1\nK:G\n" + b"G|" * 90_000, "more than"),
        (b"X:1\n" * 6_000, "6000 tunes"),
    ],
)
def test_hostile_files_are_refused_and_nothing_is_kept(client: TestClient, raw: bytes, said: str) -> None:
    """A problem document, or a line of the preview with the reason."""
    before = client.get("/api/tunes").json()["total"]
    response = client.post("/api/tunes/preview", files={"file": ("x", raw)})
    if response.status_code == 422:
        assert said in problem(response)["detail"]
    else:
        (tune, *_) = lines_of(response)[1:]
        assert said in tune["refused"]["message"]
    assert client.get("/api/tunes").json()["total"] == before


@pytest.mark.parametrize("claimed", [True, False])
def test_an_upload_of_20_mb_is_refused_before_it_is_read(client: TestClient, claimed: bool) -> None:
    """By its claimed length, or while it comes in where it claims none."""
    chunk = b"X" * 1_000_000

    def chunks() -> Iterator[bytes]:
        for _ in range(20):
            yield chunk

    headers = {"content-type": "multipart/form-data; boundary=b"}
    body = chunk * 20 if claimed else chunks()
    response = client.post("/api/tunes/preview", content=body, headers=headers)
    assert response.status_code == 413
    assert str(MOST_BYTES // 1_000_000) in problem(response)["detail"]


# -- the desk


def read(client: TestClient, abc: str) -> dict:  # type: ignore[type-arg]
    response = client.post("/api/desk/read", json={"abc": abc})
    assert response.status_code == 200, response.text
    return response.json()  # type: ignore[no-any-return]


def change(client: TestClient, abc: str, **what: object) -> str:
    response = client.post("/api/desk/change", json={"abc": abc, "change": what})
    assert response.status_code == 200, response.text
    return str(response.json()["abc"])


@pytest.mark.parametrize("file", sorted(TUNES.glob("*.abc")), ids=lambda file: file.stem)
def test_the_desk_reads_every_demo_tune(client: TestClient, file: Path) -> None:
    """No trouble, a form, parts that cover the bars, events where the text has notes."""
    text = file.read_text(encoding="utf-8")
    found = read(client, text)
    assert found["readable"] and not found["troubles"] and not found["key_warning"]
    assert [bar["place"] for bar in found["bars"]] == list(range(len(found["bars"])))
    assert found["parts"][0]["start"] == 0 and found["parts"][-1]["stop"] == len(found["bars"])
    start, end = found["bars"][-1]["events"][-1]
    assert text[start:end][0] in "ABCDEFGabcdefg"
    assert found["key"].startswith(found["key_guesses"][0]["name"])
    assert len(found["staff"]) == len(text)


def test_troubles_are_marked_where_they_stand(client: TestClient) -> None:
    """An error from its column to the end of the line, a bar that does not add up over its notes, a note."""
    text = "X:1\nM:4/4\nL:1/8\nK:G\nG8|A6|B8 G0 c|\n"
    (error,) = read(client, text)["troubles"]
    assert (error["level"], text[error["start"] : error["end"]]) == ("error", "G0 c|")
    assert read(client, text)["readable"] is False
    mended = text.replace(" G0 c", "")
    (warning,) = read(client, mended)["troubles"]
    assert (warning["level"], mended[warning["start"] : warning["end"]], warning["bar"]) == ("warning", "A6", 2)
    assert "1/4 of a whole note missing" in warning["message"] and warning["remedy"]
    (note,) = read(client, "X:1\nM:4/4\nL:1/8\nK:G\nG8|A8 ; |\n\nX:2\nK:G\nG|\n")["troubles"]
    assert "first tune" in note["message"]
    assert read(client, "")["troubles"][0]["message"] == "There is no tune here."


def test_every_kind_of_change_is_made(client: TestClient) -> None:
    """One of each kind of the table, on the reel; what it does is read back."""
    text = write_tune(next(tune for tune in demo_tunes() if tune.rhythm == "reel"))
    bars = len(read(client, text)["bars"])
    made = {
        "transpose": ({"semitones": 2}, lambda now: now["key"] == "A major"),
        "to_key": ({"tonic": "D", "upwards": False}, lambda now: (now["key"], now["lowest"]) == ("D major", "A3")),
        "rename_key": ({"key": "Ddor"}, lambda now: now["key"] == "D dorian"),
        "metre": ({"metre": "2/4"}, lambda now: now["metre"] == "2/4"),
        "chart": ({"texts": ["1"] * bars}, lambda now: {bar["letters"] for bar in now["bars"]} == {"G"}),
        "order": ({"order": "ABAB"}, lambda now: now["form"] == "ABAB"),
        "part": ({"place": 0, "label": "Start"}, lambda now: now["parts"][0]["letter"] == "Start"),
        "repeat": ({"first": 0, "last": 8, "times": 3}, lambda now: now["parts"][0]["times"] == 3),
        "endings": ({"place": 8, "times": [1]}, lambda now: now["bars"][8]["endings"] == [1]),
        "words": ({"verses": ["one two three"]}, lambda now: now["verses"] == ["one two three"]),
    }
    # A word on the core leaves the rest of the text alone: tests/web/test_core_api.py.
    assert set(made) == set(CHANGES) - {"core"}
    for kind, (what, check) in made.items():
        now = read(client, change(client, text, kind=kind, **what))
        assert now["readable"] and check(now), kind


def test_what_a_change_does_not_keep_is_said(client: TestClient) -> None:
    """Comments and second voices of the old text."""
    text = "X:1\nM:4/4\nL:1/8\nK:G % mine\nG8 & D8|\n"
    response = client.post("/api/desk/change", json={"abc": text, "change": {"kind": "transpose", "semitones": 2}})
    assert response.json()["said"] == ["A second voice in the bar (&) is left out.", "1 comment is not kept."]


def test_proposals_come_ranked_and_are_taken_as_a_chart(client: TestClient) -> None:
    """Three of them with costs by name; the first goes into the tune."""
    text = write_tune(demo_tunes()[0])
    proposals = client.post("/api/desk/proposals", json={"abc": text}).json()
    assert 2 <= len(proposals) <= 3
    assert [row["cost"] for row in proposals] == sorted(sum(row["costs"].values()) for row in proposals)
    taken = read(client, change(client, text, kind="chart", texts=proposals[0]["numbers"]))
    assert [bar["letters"] for bar in taken["bars"]] == proposals[0]["letters"]


def test_every_kind_of_entry_is_made(client: TestClient) -> None:
    """A letter, a fret, a rest, a tie, an octave, a bar line: one after the other, cursor and all."""
    text = "X:1\nT:New\nM:4/4\nL:1/8\nK:G\n"
    state = {"abc": text, "at": len(text)}
    for entry in (
        {"kind": "note", "length": "1/4", "step": "G"},
        {"kind": "note", "length": "1/4", "instrument": "banjo", "tuning": "gDGBD", "string": 1, "fret": 4},
        {"kind": "octave", "by": 1},
        {"kind": "octave", "by": -1},
        {"kind": "note", "length": "1/4"},
        {"kind": "note", "length": "1/8", "step": "A", "alter": 1},
        {"kind": "tie"},
        {"kind": "bar"},
    ):
        response = client.post("/api/desk/enter", json={**state, "entry": entry})
        assert response.status_code == 200, response.text
        state = response.json()
    assert state["abc"] == text + "G2F2 z2^A- | "
    assert state["at"] == len(state["abc"])
    assert set(ENTRIES) == {"note", "tie", "octave", "bar"}


def test_a_neck_names_its_places(client: TestClient) -> None:
    """The fifth string begins at fret 5; with capo 2 everything is a whole tone up."""
    board = client.get("/api/desk/board/banjo").json()
    assert [string["names"][0] for string in board["strings"]] == ["D4", "B3", "G3", "D3", "G4"]
    assert board["strings"][4]["first_fret"] == 5
    raised = client.get("/api/desk/board/banjo", params={"tuning": "gCGCD", "capo": 2}).json()
    assert [string["names"][0] for string in raised["strings"]][:4] == ["E4", "D4", "A3", "D3"]


def test_a_text_is_heard_note_by_note(client: TestClient) -> None:
    """Seconds, Hz and the place in the text, repeats taken."""
    text = "X:1\nM:4/4\nL:1/4\nQ:1/4=60\nK:C\n|:A A4 z3:|\n"
    heard = client.post("/api/desk/sounds", json={"abc": text}).json()
    assert [(row["at"], row["length"], row["hertz"]) for row in heard][:2] == [(0, 1, 440), (1, 4, 440)]
    assert len(heard) == 4 and text[heard[1]["start"] : heard[1]["end"]] == "A4"


@pytest.mark.parametrize(
    ("path", "body", "field"),
    [
        ("change", {"abc": GOOD, "change": {"kind": "to_key", "tonic": "H"}}, "key"),
        ("change", {"abc": GOOD, "change": {"kind": "rename_key", "key": "Q"}}, "key"),
        ("change", {"abc": GOOD, "change": {"kind": "metre", "metre": "3/4"}}, "metre"),
        ("change", {"abc": GOOD, "change": {"kind": "chart", "texts": ["H", ""]}}, "chords"),
        ("change", {"abc": GOOD, "change": {"kind": "order", "order": "AZ"}}, "order"),
        ("change", {"abc": GOOD, "change": {"kind": "part", "place": 99, "label": "A"}}, "place"),
        ("change", {"abc": GOOD, "change": {"kind": "words", "verses": ["a\nb\nc\nd"]}}, "words"),
        ("change", {"abc": BAD, "change": {"kind": "transpose", "semitones": 1}}, "abc"),
        ("enter", {"abc": GOOD, "at": 90, "entry": {"kind": "note", "length": "x", "step": "G"}}, "length"),
        (
            "enter",
            {
                "abc": GOOD,
                "at": 90,
                "entry": {"kind": "note", "length": "1/4", "instrument": "banjo", "string": 5, "fret": 3},
            },
            "fret",
        ),
        ("proposals", {"abc": BAD}, "abc"),
        ("sounds", {"abc": ""}, "abc"),
    ],
)
def test_refusals_name_the_field(client: TestClient, path: str, body: dict, field: str) -> None:  # type: ignore[type-arg]
    """Each with what to do instead; the text stays with the teacher."""
    response = client.post(f"/api/desk/{path}", json=body)
    assert response.status_code == 422
    assert problem(response)["field"] == field


def test_a_tune_of_four_hundred_bars_is_read(client: TestClient) -> None:
    """Form, keys and chords of a very long tune; past a thousand bars chords are refused, not waited for."""
    text = "X:1\nM:4/4\nL:1/8\nK:G\n" + "".join(f"GAB{'cdefgab'[n % 7]} d{'abc'[n % 3]}e2|\n" for n in range(400))
    assert len(read(client, text)["bars"]) == 400
    assert len(client.post("/api/desk/proposals", json={"abc": text}).json()[0]["letters"]) == 400
    head, *lines = text.split("K:G\n")
    longer = head + "K:G\n" + "".join(lines) * 3
    assert problem(client.post("/api/desk/proposals", json={"abc": longer}))["field"] == "abc"


def test_the_written_score_of_an_export_is_ours(client: TestClient) -> None:
    """A compressed export opens as a compressed score."""
    raw = client.get(f"/api/tunes/{reel(client)}/export/mxl").content
    assert raw[:2] == b"PK" and read_musicxml(raw).tune.title == "Lantern on the Weir"


def test_commas_on_a_banjo_are_refused_by_name(client: TestClient) -> None:
    """B♭² has no fret on an instrument of semitones; the answer says so and what to do."""
    (row,) = client.get("/api/tunes", params={"find": "walnut"}).json()["tunes"]
    body = problem(client.post(f"/api/tunes/{row['id']}/setups/try", json={}))
    assert "no fret for B♭², F♯³" in body["detail"]


# -- everything on the desk, with tunes and texts that nobody chose


def changes_of(tune: Tune) -> list[dict[str, object]]:
    """A change of each kind that could be asked of a tune."""
    last = len(tune.bars) - 1
    return [
        {"kind": "transpose", "semitones": 5},
        {"kind": "to_key", "tonic": "Eb", "upwards": True},
        {"kind": "rename_key", "key": "Bm"},
        {"kind": "metre", "metre": "2/4"},
        {"kind": "chart", "texts": ["1"] * len(tune.bars)},
        {"kind": "order", "order": "A2"},
        {"kind": "part", "place": last, "label": "End"},
        {"kind": "repeat", "first": 0, "last": last, "times": 2},
        {"kind": "endings", "place": last, "times": [2]},
        {"kind": "words", "verses": ["la"]},
    ]


@settings(max_examples=40, deadline=None, suppress_health_check=list(HealthCheck))
@given(tune=rich_tunes())
def test_any_change_of_any_tune_is_made_or_refused(client: TestClient, tune: Tune) -> None:
    """Generated tunes with every feature: the text that comes back is read, or the refusal names its field."""
    text = write_tune(tune)
    assert read(client, text)["readable"]
    for change in changes_of(tune):
        response = client.post("/api/desk/change", json={"abc": text, "change": change})
        if response.status_code == 422:
            assert problem(response)["field"]
        else:
            assert read_tune(response.json()["abc"]).tune, change


SIGNS = st.text(alphabet="ABCDEFGabcdefg0123456789/|:[](){}<>=^_-\"'%z! ,\n", max_size=60)


@settings(max_examples=80, deadline=None, suppress_health_check=list(HealthCheck))
@given(body=SIGNS, at=st.integers(0, 90))
def test_the_desk_never_breaks_while_something_is_typed(client: TestClient, body: str, at: int) -> None:
    """Any text is read with its troubles inside it; any entry into it is made or refused; saving keeps it."""
    text = f"X:1\nM:4/4\nL:1/8\nK:G\n{body}"
    found = read(client, text)
    assert len(found["staff"]) == len(text)
    assert found["readable"] or any(one["level"] == "error" for one in found["troubles"])
    assert all(0 <= one["start"] <= one["end"] <= len(text) for one in found["troubles"])
    for entry in (
        {"kind": "note", "length": "1/4", "step": "G"},
        {"kind": "tie"},
        {"kind": "bar"},
        {"kind": "octave", "by": 1},
    ):
        response = client.post("/api/desk/enter", json={"abc": text, "at": at, "entry": entry})
        assert response.status_code in (200, 422), response.text
    for path in ("proposals", "sounds"):
        assert client.post(f"/api/desk/{path}", json={"abc": text}).status_code in (200, 422)
    tune = reel(client)
    revision = client.get(f"/api/tunes/{tune}").json()["revision"]
    assert client.put(f"/api/tunes/{tune}/text", json={"text": text, "revision": revision}).status_code == 200
    assert client.get(f"/api/tunes/{tune}").json()["text"] == text
    client.put(f"/api/tunes/{tune}/text", json={"text": LANTERN, "revision": revision + 1})


LANTERN = (TUNES / "lantern-on-the-weir.abc").read_text(encoding="utf-8")
