"""Things that broke the server once, and their kin: each is refused with a sentence, or done."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any
from xml.etree.ElementTree import fromstring

import pytest
from fastapi.testclient import TestClient

from nailhead.core.plain import plain
from nailhead.formats.abc import read_tune
from nailhead.formats.midi import write_midi
from nailhead.web.app import STATIC
from tests.web.conftest import problem

BIG = 2**63
UNISON = {"do": "unison", "place": 1, "rung": 99, "onset": "0", "string": 1, "fret": 1}
PATTERN = {"do": "pattern", "place": 1, "rung": 8, "pattern": "basic stroke"}
SHAPE = {**UNISON, "do": "shape", "frets": "x0"}
OWN = {"name": "My banjo", "kind": "banjo", "strings": 5, "scale_mm": 660, "frets": 20}
#: What is asked, and what is answered.
ASKED: tuple[tuple[str, str, dict[str, Any], int], ...] = (
    ("GET", f"/api/setups/{BIG}/ladder", {}, 404),
    ("GET", f"/api/tunes/{BIG}", {}, 404),
    ("DELETE", f"/api/tunes/{BIG}", {}, 404),
    ("DELETE", f"/api/instruments/own/{BIG}", {}, 404),
    ("GET", f"/api/packets/{BIG}", {}, 404),
    ("GET", "/api/tunes?offset=99999999999999999999", {}, 422),
    ("GET", "/api/tuner/banjo?tuning=gDGBD&capo=99", {}, 422),
    ("GET", f"/api/tuner/banjo?tuning={'g' * 80}", {}, 422),
    ("GET", f"/api/tuner/banjo/tone?tuning=gDGBD&string=1&fifth={'A' * 80}", {}, 422),
    ("GET", "/a%00", {}, 404),
    ("GET", "/api/nothing", {}, 404),
    ("GET", "/assets/a%00", {}, 404),
    ("GET", "/api/setups/1/export/a%00", {}, 404),
    ("POST", "/api/tunes/blank", {"json": {"title": "  \u0000 "}}, 422),
    ("POST", "/api/tunes", {"content": b"\xff\x00{"}, 422),
    ("GET", "/api/setups/1/cells/5/8/choices", {}, 422),
    ("GET", "/api/setups/1/cells/5/99/choices", {}, 422),
    ("GET", "/api/setups/1/cells/5/0", {}, 422),
    ("POST", "/api/setups/1/changes", {"json": {"change": UNISON, "revision": 0}}, 422),
    (
        "POST",
        "/api/setups/1/changes",
        {"json": {"change": SHAPE, "revision": 0}},
        422,
    ),
    ("POST", "/api/setups/1/changes", {"json": {"change": PATTERN, "revision": 0}}, 422),
    ("POST", "/api/tunes/1/setups/try", {"json": {"instrument": "mandolin", "fifth": "G4"}}, 422),
    ("POST", "/api/tunes/1/setups", {"json": {"instrument": "ukulele", "tuning": "gCEA", "fifth": "G4"}}, 422),
    ("POST", "/api/tunes/1/setups/neck", {"json": {"instrument": "guitar", "tuning": "EADGBE", "fifth": "G4"}}, 422),
    ("GET", "/api/tuner/ukulele?tuning=gCEA&fifth=G4", {}, 422),
    ("GET", "/api/tuner/ukulele/tone?tuning=gCEA&string=1&fifth=G4", {}, 422),
    ("POST", "/api/instruments/ukulele/shapes", {"json": {"tuning": "gCEA", "fifth": "G4", "chord": "C"}}, 422),
    ("PUT", "/api/instruments/own/1", {"json": {**OWN, "scale_mm": 0}}, 422),
    ("POST", "/api/instruments", {"json": {**OWN, "name": "\0"}}, 422),
    ("POST", "/api/instruments/banjo/tunings", {"json": {"name": "\0", "open": "F4 C3 F3 C4 D4"}}, 422),
    ("POST", "/api/setups/1/undo", {"json": {"revision": 0, "id": "\0"}}, 422),
    ("POST", "/api/tunes/preview", {"files": {"file": ("x.abc", b"\0" * 100_000)}}, 422),
    ("POST", "/api/tunes/preview", {"files": {"file": ("x.abc", b"\xff\xd8\xff\xe0 K: | " + bytes(range(256)))}}, 422),
    ("POST", "/api/desk/read", {"content": b"{", "headers": {"Content-Type": "application/json"}}, 422),
)


@pytest.mark.parametrize(("method", "path", "more", "status"), ASKED)
def test_it_is_refused(client: TestClient, method: str, path: str, more: dict[str, Any], status: int) -> None:
    assert problem(client.request(method, path, **more))["status"] == status


@pytest.mark.parametrize("path", ["/" + "a" * 300, "/" + "a/" * 2000, "/tunes/1"])
def test_every_other_address_is_the_front_end(client: TestClient, path: str) -> None:
    """One that no file can be called, too."""
    if (STATIC / "index.html").exists():
        assert client.get(path).text == client.get("/").text


@pytest.mark.parametrize("path", ["/api/tunes", "/api/setups/1/ladder", "/api/setups/1/export/pdf", "/api/health", "/"])
def test_head_is_get_without_its_body(client: TestClient, path: str) -> None:
    """RFC 9110, 9.3.2: the same status and headers, and nothing behind them."""
    if path == "/" and not (STATIC / "index.html").exists():
        pytest.skip("the front end is not built")
    get, head = client.get(path), client.head(path)
    assert head.status_code == get.status_code == 200 and head.content == b""
    assert head.headers["content-type"] == get.headers["content-type"]
    if "content-length" in get.headers and "pdf" not in path:
        assert head.headers["content-length"] == get.headers["content-length"]
    assert client.head("/api/tunes/99999").status_code == 404


def test_a_tag_of_nothing_is_none(client: TestClient) -> None:
    """Signs that are none are left out of a tag, and a tag of nothing else is left out whole."""
    assert client.put("/api/tunes/1/tags", json={"tags": ["\u0000", "slow\ufffe"]}).json() == ["slow"]


@pytest.mark.parametrize("raw", [b"PK\x03\x04" + b"x" * 50, b"damaged", b"misled"])
def test_a_damaged_archive(client: TestClient, raw: bytes) -> None:
    """Cut off, with a byte of its packed text changed, and with a directory that leads before the file's beginning."""
    if raw == b"misled":
        held = io.BytesIO()
        with zipfile.ZipFile(held, "w") as archive:
            archive.writestr("score.xml", "<score-partwise/>")
        led = bytearray(held.getvalue())
        end = led.rindex(b"PK\x05\x06")
        led[end + 16 : end + 20] = (2**31).to_bytes(4, "little")  # where the directory begins (APPNOTE 4.3.16)
        raw = bytes(led)
    if raw == b"damaged":
        held = io.BytesIO()
        with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("score.xml", "<score-partwise/>" * 200)
        packed = bytearray(held.getvalue())
        packed[45:60] = b"\xff" * 15
        raw = bytes(packed)
    said = problem(client.post("/api/tunes/preview", files={"file": ("x.mxl", raw)}))
    assert said["status"] == 422 and "damaged" in said["detail"]


def test_a_midi_file_with_any_byte_changed(client: TestClient) -> None:
    """Each is read, or refused with a sentence (a division of time by nothing among them)."""
    tune = read_tune("X:1\nT:x\nM:6/8\nL:1/8\nQ:3/8=90\nK:G\nGAB d2B|A2F D3|\n").tune
    assert tune is not None
    raw = write_midi(tune)
    for at in range(len(raw)):
        for value in (0, 0x7F, 0xFF):
            broken = raw[:at] + bytes([value]) + raw[at + 1 :]
            answer = client.post("/api/tunes/preview", files={"file": ("x.mid", broken)})
            assert answer.status_code in (200, 422), (at, value)


def test_a_file_of_blank_lines_is_soon_read(client: TestClient) -> None:
    """The text of a tune may be 200,000 letters long, its blank lines counted."""
    lines = client.post("/api/tunes/preview", files={"file": ("x.abc", b"X:1\n" + b"\n" * 400_000)}).text.splitlines()
    assert "The tune is too long" in lines[1]


TITLES = ("bell \x07 \x1b \ufffe \uffff", "L" * 150_000, "", "]]></script>&<", "\u202e \U0001f3b5")


@pytest.mark.parametrize("title", TITLES)
def test_any_title_goes_out_in_every_form(client: TestClient, title: str) -> None:
    """And words with signs that XML has no place for: what is XML can be read, and a download's name is short."""
    abc = f"X:1\nT:{title}\nM:4/4\nL:1/8\nK:G\nG2B2d2B2|G8|\nw:a\x02b c\ufffe d\n"
    tune = client.post("/api/tunes", json={"abc": abc}).json()["added"][0]["id"]
    setup = client.post(f"/api/tunes/{tune}/setups", json={"instrument": "banjo"}).json()["id"]
    for where, names in (
        (f"/api/tunes/{tune}", ("abc", "musicxml", "mxl", "midi")),
        (f"/api/setups/{setup}", ("text", "json", "musicxml", "abc", "midi", "pdf", "svg", "png")),
    ):
        for name in names:
            answer = client.get(f"{where}/export/{name}")
            assert answer.status_code == 200, (name, answer.text[:300])
            assert len(answer.headers["content-disposition"]) < 150
            if name in ("musicxml", "svg"):
                fromstring(answer.content)
    for page in client.get(f"/api/setups/{setup}/sheet").json()["pages"]:
        fromstring(page)


def test_plain_text_is_what_xml_holds() -> None:
    """XML 1.0, 2.2: tab, line ends, and everything from space on but surrogates, U+FFFE and U+FFFF."""
    assert plain("a\tb\nc\x00\x08\x1f\ud800\ufffe\uffffé♭\U0001f3b5") == "a\tb\ncé♭\U0001f3b5"
    for code in (*range(0x20), 0x7F, 0xD7FF, 0xD800, 0xFFFD, 0xFFFE, 0x10FFFF):
        text = f"<a>{chr(code)}</a>"
        try:
            fromstring(text.encode("utf-8", "surrogatepass"))
            sound = True
        except (SyntaxError, ValueError):
            sound = False
        assert (plain(chr(code)) == chr(code)) == sound, hex(code)


def test_a_picture_of_one_page_is_of_that_page(client: TestClient) -> None:
    """The pages of a long sheet differ, and one that there is not is refused."""
    tune = "X:1\nT:long\nM:4/4\nL:1/8\nK:G\n" + "G2B2d2B2|A2B2c2d2|" * 60
    added = client.post("/api/tunes", json={"abc": tune}).json()["added"][0]["id"]
    setup = client.post(f"/api/tunes/{added}/setups", json={"instrument": "banjo"}).json()["id"]
    count = len(client.get(f"/api/setups/{setup}/sheet").json()["pages"])
    address = f"/api/setups/{setup}/export/png?dpi=36"
    pictures = {client.get(f"{address}&page={page}").content for page in range(1, count + 1)}
    assert count > 1 and len(pictures) == count
    assert problem(client.get(f"{address}&page={count + 1}"))["status"] == 422


#: What of a kept cell can be wrong.
BROKEN = (
    ("duration", "99999"),
    ("duration", "0"),
    ("onset", "1/3"),
    ("onset", None),
    ("touches", None),
    ("touches", 7),
    ("string", 99),
    ("string", None),
    ("fret", 98),
    ("pitch", ["H", 0, 4, "0"]),
    ("pitch", ["G", 0, 4, "1e999999999"]),
    ("way", "odd"),
    ("rung", 999999),
    ("strokes", []),
    ("melody", ["9" * 5000]),
    ("kind", None),
)


@pytest.mark.parametrize(("name", "value"), BROKEN)
def test_a_file_with_a_broken_cell_breaks_nothing(client: TestClient, name: str, value: object) -> None:
    """It is refused with the place, or comes with the cell set aside; the ladder is there either way."""
    revision = client.get("/api/setups/1/ladder").json()["path"]["revision"]
    lock = {"change": {"do": "lock", "places": [1]}, "revision": revision}
    assert client.post("/api/setups/1/changes", json=lock).status_code == 200
    document = json.loads(client.get("/api/setups/1/export/json").text)
    cell = document["source"]["decisions"]["cells"][0]["cell"]
    holder = next(found for found in nested(cell) if name in found)
    if value is None:
        del holder[name]
    else:
        holder[name] = value
    answer = client.post("/api/arrangements", json={"text": json.dumps(document)})
    if answer.status_code == 201:
        body = answer.json()
        assert body["aside"], body
        for path in ("ladder", "sheet", "export/pdf", "timeline"):
            assert client.get(f"/api/setups/{body['setup']}/{path}").status_code == 200
    else:
        said = problem(answer)
        assert said["status"] == 422 and ("cells.0" in said["detail"] or "read" in said["detail"])


def nested(value: object) -> list[dict[str, Any]]:
    """Every dictionary in a document, outermost first."""
    if isinstance(value, dict):
        return [value, *(found for inner in value.values() for found in nested(inner))]
    return [found for inner in value for found in nested(inner)] if isinstance(value, list) else []
