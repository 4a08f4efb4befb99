"""Large answers go through files that go with them, and none is left behind by a server that was killed."""

from __future__ import annotations

import os
import random
from pathlib import Path

from starlette.applications import Starlette
from starlette.routing import Route
from starlette.testclient import TestClient

from nailhead.web.spool import SpooledResponse, emptied, put, spool_of


def test_an_answer_is_streamed_from_its_file(tmp_path: Path) -> None:
    """Byte for byte and with its own headers; the file goes with it, for a client that wants the headers alone, too."""
    body = [random.Random(1).randbytes(700_000), b"end"]

    async def sound(_: object) -> SpooledResponse:
        headers = [(b"content-type", b"audio/wav"), (b"content-length", b"700003")]
        return SpooledResponse(put(tmp_path / "spool", body), 200, headers)

    client = TestClient(Starlette(routes=[Route("/", sound)]))
    answer = client.get("/")
    assert answer.content == b"".join(body) and answer.headers["content-type"] == "audio/wav"
    assert list((tmp_path / "spool").iterdir()) == []


def test_what_nobody_fetched_goes(tmp_path: Path) -> None:
    """After some minutes, when another answer is put there; and with the server, the one before included."""
    folder = spool_of(tmp_path / "x.sqlite3")
    old, new = put(folder, [b"old"]), put(folder, [b"new"])
    os.utime(old, (0, 0))
    put(folder, [b"newest"])
    assert not old.exists() and new.exists()
    with emptied(folder):
        assert not folder.exists()
        put(folder, [b"again"])
    assert not folder.exists()
