"""Sheets, exports, hand-outs and packets over the API, read by independent readers."""

from __future__ import annotations

import io
import json
import sys
import threading
import time

import mido
import pytest
from fastapi.testclient import TestClient
from lxml import etree
from PIL import Image
from pypdf import PdfReader

from nailhead.formats.abc import read_tune
from nailhead.web.packets import PacketDesk
from tests.web.conftest import change, problem
from tests.web.test_api import setup_of


@pytest.fixture
def reel(client: TestClient) -> int:
    return setup_of(client, "Lantern")


def test_every_export_is_what_it_says(client: TestClient, reel: int) -> None:
    """Each read by a reader of its kind; all of them show the path as it is."""
    change(client, reel, "level", rung=4)

    def body(name: str, **how: object) -> bytes:
        answer = client.get(f"/api/setups/{reel}/export/{name}", params=how)  # type: ignore[arg-type]
        assert answer.status_code == 200, answer.text
        assert answer.headers["content-disposition"].startswith('attachment; filename="Lantern-on-the-Weir-clawhammer.')
        return answer.content

    assert b"Lantern on the Weir" in body("text")
    assert json.loads(body("json"))["path"] == [4] * 18
    assert etree.fromstring(body("musicxml")).tag == "score-partwise"
    again = read_tune(body("abc").decode()).tune
    assert again and again.title == "Lantern on the Weir" and again.has_chords
    assert len(mido.MidiFile(file=io.BytesIO(body("midi", tempo=90, count_in=2))).tracks) == 7
    assert body("wav", tempo=300)[:4] == b"RIFF"
    assert "Lantern on the Weir" in PdfReader(io.BytesIO(body("pdf"))).pages[0].extract_text()
    svg = etree.fromstring(body("svg"))
    assert svg.get("width") == "210mm" and b"@font-face" in etree.tostring(svg)
    assert Image.open(io.BytesIO(body("png", dpi=72))).size == (596, 842)


def on_instrument(client: TestClient, instrument: str, idiom: str = "plectrum") -> int:
    tune = next(row for row in client.get("/api/tunes").json()["tunes"] if "Lantern" in row["title"])
    made = client.post(f"/api/tunes/{tune['id']}/setups", json={"instrument": instrument, "idiom": idiom})
    return int(made.json()["id"])


def test_a_chord_part_is_what_leaves_while_it_is_shown(client: TestClient) -> None:
    """Text and MusicXML hold the part that the page shows, in place of the tune; every string struck is a chord's."""
    guitar = on_instrument(client, "guitar")
    tune = client.get(f"/api/setups/{guitar}/export/text").text
    change(client, guitar, "sheet", options={"part": "bass and strum"})
    part = client.get(f"/api/setups/{guitar}/export/text").text
    assert "Chords: bass and strum." in part and part != tune
    score = etree.fromstring(client.get(f"/api/setups/{guitar}/export/musicxml").content)
    bars = client.get(f"/api/setups/{guitar}/ladder").json()["bars"]
    assert len(score.findall(".//measure")) == bars
    assert score.findall(".//chord") and not score.findall(".//lyric")


def test_damped_strings_are_marked_in_every_file(client: TestClient) -> None:
    mandolin = on_instrument(client, "mandolin")
    change(client, mandolin, "sheet", options={"part": "chop"})
    assert " X " in client.get(f"/api/setups/{mandolin}/export/text").text
    score = etree.fromstring(client.get(f"/api/setups/{mandolin}/export/musicxml").content)
    heads = [note.findtext("notehead") for note in score.iter("note") if note.find("rest") is None]
    assert heads and set(heads) == {"x"}


def test_optional_fillers_are_left_out_everywhere(client: TestClient) -> None:
    """One switch takes what may be left out from the page, the score and what is heard."""
    setup = on_instrument(client, "ukulele", "fingerstyle")
    change(client, setup, "level", rung=5)

    def heard() -> tuple[int, int]:
        score, midi = (client.get(f"/api/setups/{setup}/export/{name}").content for name in ("musicxml", "midi"))
        return score.count(b"parentheses"), sum(one.type == "note_on" for one in mido.MidiFile(file=io.BytesIO(midi)))

    shown, whole = client.get(f"/api/setups/{setup}/sheet").json(), heard()
    assert shown["optional"] and shown["options"]["fillers"]
    change(client, setup, "sheet", options={"fillers": False})
    plain = heard()
    assert whole[0] > 0 == plain[0] and whole[1] > plain[1]
    left = client.get(f"/api/setups/{setup}/sheet").json()
    assert left["optional"] and left["pages"] != shown["pages"]


def test_without_the_package_for_pictures_the_other_outputs_stay(
    client: TestClient, reel: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    """PNG is an extra: where it is not installed the refusal says how to get it, and PDF and SVG are given."""
    monkeypatch.setitem(sys.modules, "pypdfium2", None)
    refused = client.get(f"/api/setups/{reel}/export/png")
    assert refused.status_code == 422 and "nailhead[png]" in refused.json()["remedy"]
    for kind in ("pdf", "svg"):
        assert client.get(f"/api/setups/{reel}/export/{kind}").status_code == 200


def test_options_are_a_step_and_stay(client: TestClient, reel: int) -> None:
    """Kept with the arrangement, over a reload, taken along by a copy, undone like anything else."""
    change(client, reel, "sheet", options={"size": "large", "colours": "black"})
    kept = client.get(f"/api/setups/{reel}/sheet").json()
    assert (kept["options"]["size"], kept["options"]["colours"], kept["options"]["paper"]) == ("large", "black", "A4")
    assert "#966A10" not in "".join(kept["pages"])
    copy = client.post(f"/api/setups/{reel}/copy", json={"name": "Big"}).json()["id"]
    assert client.get(f"/api/setups/{copy}/sheet").json()["options"]["size"] == "large"
    client.post(f"/api/setups/{reel}/undo", json={"revision": kept["revision"]})
    assert client.get(f"/api/setups/{reel}/sheet").json()["options"]["size"] == "usual"
    assert problem(change(client, reel, "sheet", options={"paper": "A7"}))["field"] == "paper"


def test_text_on_a_page_cannot_break_out_of_it(client: TestClient) -> None:
    """A title full of markup is printed as it stands."""
    abc = 'X:1\nT:<script>alert(1)</script> & "so"\nM:4/4\nL:1/8\nK:G\nG8|]\nw:<b>\n'
    tune = client.post("/api/tunes", json={"abc": abc}).json()["added"][0]["id"]
    setup = client.post(f"/api/tunes/{tune}/setups", json={}).json()["id"]
    page = client.get(f"/api/setups/{setup}/sheet").json()["pages"][0]
    root = etree.fromstring(page.encode())
    tags = {etree.QName(element).localname for element in root.iter()}
    assert tags <= {"svg", "title", "g", "path", "circle", "text"}
    assert '<script>alert(1)</script> & "so"' in "".join(root.itertext())


def test_a_handout_is_a_pdf(client: TestClient, reel: int) -> None:
    """Rungs and phrases as asked for."""
    answer = client.get(f"/api/setups/{reel}/handout", params={"rungs": [2, 5], "phrases": [1, 3]})
    text = PdfReader(io.BytesIO(answer.content)).pages[0].extract_text()
    assert "Basic stroke" in text and "Flow" in text and "Rungs 2, 5" in text


def finished(client: TestClient, number: int) -> dict:  # type: ignore[type-arg]
    for _ in range(600):
        state = client.get(f"/api/packets/{number}").json()
        if state["state"] != "working":
            return state  # type: ignore[no-any-return]
        time.sleep(0.05)
    raise AssertionError("the packet never ends")


def test_a_packet_binds_sheets_behind_their_contents(client: TestClient, reel: int) -> None:
    """Page numbers in the contents are those of the pages; what cannot be printed is named and left out."""
    others = [setup_of(client, name) for name in ("Hazel", "Miller")]
    wish = {"title": "Tuesday group", "setups": [reel, 999, *others], "paper": "Letter"}
    begun = client.post("/api/packets", json=wish)
    assert begun.status_code == 202 and begun.json()["total"] == 4
    state = finished(client, begun.json()["number"])
    assert (state["state"], state["done"]) == ("ready", 4)
    assert len(state["left_out"]) == 1 and "setup 999" in state["left_out"][0]
    reader = PdfReader(io.BytesIO(client.get(f"/api/packets/{state['number']}/file").content))
    assert {round(float(page.mediabox.width)) for page in reader.pages} == {612}
    lines = reader.pages[0].extract_text().splitlines()
    for title in ("Lantern on the Weir", "Hazel at the Window"):
        number = next(int(line) for line in lines[lines.index(title) :] if line.isdigit())
        assert reader.pages[number - 1].extract_text().startswith(title)
    assert reader.outline[0].title == "Tuesday group"  # type: ignore[union-attr]
    client.delete(f"/api/packets/{state['number']}")
    assert problem(client.get(f"/api/packets/{state['number']}"))["status"] == 404


def test_a_packet_is_cancelled_between_two_sheets() -> None:
    """No further sheet is laid out, and there is no file."""
    desk, go, laid = PacketDesk(), threading.Event(), []

    def lay(number: int):  # type: ignore[no-untyped-def]
        laid.append(number)
        go.wait(10)
        raise AssertionError("no sheet is needed here")

    packet = desk.start("x", "colour", "A4", [1, 2, 3], lay)
    desk.cancel(packet.number)
    go.set()
    time.sleep(0.1)
    assert packet.state == "cancelled" and packet.body is None and laid in ([], [1])


@pytest.mark.parametrize(
    ("wish", "field"),
    [
        ({"title": "x", "setups": []}, "setups"),
        ({"title": "", "setups": [1]}, "title"),
        ({"title": "x", "setups": [1], "paper": "A9"}, "paper"),
        ({"title": "x", "setups": [1], "colours": "sepia"}, "colours"),
    ],
)
def test_a_packet_that_cannot_be_is_refused(client: TestClient, wish: dict, field: str) -> None:  # type: ignore[type-arg]
    """Before anything is begun."""
    assert field in problem(client.post("/api/packets", json=wish))["field"]


def test_a_packet_of_nothing_printable_says_so(client: TestClient) -> None:
    """And its file is refused."""
    begun = client.post("/api/packets", json={"title": "x", "setups": [998, 999]}).json()
    state = finished(client, begun["number"])
    assert state["state"] == "failed" and "Nothing" in state["error"] and len(state["left_out"]) == 2
    assert problem(client.get(f"/api/packets/{state['number']}/file"))["status"] == 409
