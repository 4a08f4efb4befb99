"""Seeded mutations of valid requests: none is a server error, none takes longer than the deadline (`make torment`).

python -m tests.fuzz_requests --count 50000 --seed 1 --seconds 600
"""

from __future__ import annotations

import argparse
import copy
import random
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

import httpx
from fastapi.testclient import TestClient

from nailhead.demo.shelf import fill_shelf
from nailhead.formats.abc import read_tune
from nailhead.formats.midi import write_midi
from nailhead.formats.musicxml import write_melody
from nailhead.formats.musicxml.archive import pack
from nailhead.store.database import Database
from nailhead.web.app import create_app
from nailhead.web.workers import DEADLINE
from tests.valid_requests import ABC, Request, valid_requests

#: Values that have broken readers of numbers, texts and JSON.
VALUES: tuple[Any, ...] = (
    *(None, True, False, 0, -1, 1, 2, 7, 8, 99, 2**31, 2**63, -(2**63), 10**30, 0.5, -0.0, 1e308, 1e-320),
    *("", " ", "0", "-1", "1/0", "0/1", "1e999999999", "²", "٣", "\0", "\x1b[2J", "\ud800", "\ufeff", "\u202e", "🎵"),
    *("G4", "H9", "gDGBD", "any", "'; DROP TABLE tune; --", "../../etc/passwd", "%s%n", "<script>", "x" * 300),
    *("ş" * 5000, [], {}, [[]], [None], {"": None}, [0] * 300, {"do": "undo"}),
)
BYTES = (
    b"\0",
    b"\xff",
    b"\xff\xfe",
    b"\n" * 400,
    b"|" * 400,
    b"(" * 400,
    b"X:1\n",
    b"K:",
    b"[",
    b"9" * 400,
    b"PK\x03\x04",
    b"MThd",
)


@dataclass
class Findings:
    """What came of the requests: how many of each status, and those that were wrong, with what was sent."""

    statuses: Counter[int] = field(default_factory=Counter)
    errors: list[str] = field(default_factory=list)
    slowest: float = 0.0


def files() -> list[tuple[str, bytes]]:
    """What can be brought in, one of each kind."""
    tune = read_tune(ABC).tune
    assert tune is not None
    score = write_melody(tune)
    return [
        ("x.abc", ABC.encode()),
        ("x.musicxml", score.encode()),
        ("x.mxl", pack(score)),
        ("x.mid", write_midi(tune)),
    ]


def mutated(request: Request, rng: random.Random, given: list[tuple[str, bytes]]) -> Request:
    """The request with one to three things changed in it."""
    if request.operation == "POST /api/tunes/preview":
        name, raw = rng.choice(given)
        request = replace(request, name=name, file=raw)
    parts = [name for name in ("path", "query", "form") if getattr(request, name)]
    parts += ["json"] * 3 * (request.json is not None) + ["file"] * 3 * (request.file is not None)
    for _ in range(rng.choice((1, 1, 1, 2, 3)) if parts else 0):
        part = rng.choice(parts)
        request = replace(request, **{part: _MUTATIONS[part](getattr(request, part), rng)})
    return request


def _one_value(values: Any, rng: random.Random) -> Any:
    """Names with one of their values exchanged, as it stands in an address or a form."""
    name = rng.choice(sorted(values))
    value = "".join(
        letter for letter in str(rng.choice(VALUES)) if not 0xD800 <= ord(letter) < 0xE000 and letter != "\0"
    )
    value = value.replace("/", "%2F").replace("?", "%3F").replace("#", "%23")[:2000]
    return {**values, name: value}


def _inside(document: Any, rng: random.Random) -> Any:
    """A document with one of its values, at any depth, exchanged, dropped, doubled, or put where another stood."""
    whole = {"": copy.deepcopy(document)}
    holders = _holders(whole)
    holder, key = rng.choice(holders)
    way = rng.random()
    if way < 0.6:
        holder[key] = rng.choice(VALUES)
    elif way < 0.75 and isinstance(holder, dict) and key != "":
        del holder[key]
    elif way < 0.85 and isinstance(holder[key], str):
        holder[key] = _bytes(holder[key].encode("utf-8", "replace"), rng).decode("utf-8", "replace")
    else:
        other, from_key = rng.choice(holders)
        holder[key] = copy.deepcopy(other[from_key])
    return whole[""]


def _holders(value: Any) -> list[tuple[Any, Any]]:
    if isinstance(value, dict):
        return [(value, key) for key in value] + [one for key in value for one in _holders(value[key])]
    if isinstance(value, list):
        return [(value, at) for at in range(min(len(value), 20))] + [
            one for inner in value[:20] for one in _holders(inner)
        ]
    return []


def _bytes(raw: bytes, rng: random.Random) -> bytes:
    """Bytes flipped, cut out, doubled, put in, or cut off."""
    made = bytearray(raw)
    for _ in range(rng.choice((1, 1, 2, 8))):
        at = rng.randrange(len(made) + 1)
        way = rng.randrange(5)
        if way == 0 and at < len(made):
            made[at] = rng.randrange(256)
        elif way == 1:
            del made[at : at + rng.randrange(1, 40)]
        elif way == 2:
            made[at:at] = made[at : at + rng.randrange(1, 200)]
        elif way == 3:
            made[at:at] = rng.choice(BYTES)
        elif rng.random() < 0.2:
            del made[at:]
    return bytes(made)


_MUTATIONS: dict[str, Callable[[Any, random.Random], Any]] = {
    "path": _one_value,
    "query": _one_value,
    "form": _one_value,
    "json": _inside,
    "file": _bytes,
}


def torment(folder: Path, count: int, seed: int, seconds: float = float("inf")) -> Findings:
    """Send so many mutated requests, each operation in turn; the shelf is put back as it was every now and then."""
    database = Database(folder / "x.sqlite3")
    fill_shelf(database)
    found, rng, given = Findings(), random.Random(seed), files()
    client = TestClient(create_app(database), "http://localhost", raise_server_exceptions=False)
    requests = valid_requests(client)
    kept = {file: file.read_bytes() for file in folder.iterdir() if file.is_file()}
    ends = time.monotonic() + seconds
    for number in range(count):
        if number % 100 == 0:
            for file in folder.glob("*.sqlite3*"):
                if file.is_file() and file not in kept:
                    file.unlink()
            for file, raw in kept.items():
                file.write_bytes(raw)
        if time.monotonic() > ends:
            break
        request = mutated(requests[number % len(requests)], rng, given)
        begun = time.monotonic()
        try:
            status = request.send(client).status_code
        except (
            ValueError,
            TypeError,
            httpx.InvalidURL,
        ):  # what no client can send: a lone surrogate, a number that JSON has not
            found.statuses[0] += 1
            continue
        took = time.monotonic() - begun
        found.statuses[status] += 1
        found.slowest = max(found.slowest, took)
        if status in (500, 503) or took > DEADLINE:
            found.errors.append(f"{number}: {status} after {took:.1f} s: {str(request)[:1500]}")
    return found


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--count", type=int, default=50_000)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--seconds", type=float, default=float("inf"))
    options = parser.parse_args()
    with tempfile.TemporaryDirectory() as folder:
        found = torment(Path(folder), options.count, options.seed, options.seconds)
    total, statuses = sum(found.statuses.values()), dict(sorted(found.statuses.items()))
    print(f"{total} requests, slowest {found.slowest:.1f} s, statuses {statuses}")
    for error in found.errors:
        print(error)
    raise SystemExit(bool(found.errors))


if __name__ == "__main__":
    main()
