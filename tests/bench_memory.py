"""Ten thousand mixed requests to a real server: the memory of all its processes as they go by; `make bench`.

    python -m tests.bench_memory --count 10000

Everything stays on loopback and stops by itself.
"""

from __future__ import annotations

import argparse
import random
import tempfile
from pathlib import Path
from typing import Any

import httpx

from tests.corpora import sample
from tests.processes import memory_of, processes, running_server

#: What a teacher's evening asks for: path, how often out of a hundred.
ASKED: tuple[tuple[str, int], ...] = (
    ("/api/tunes", 8),
    ("/api/tunes/{tune}", 4),
    ("/api/setups/{setup}/ladder", 14),
    ("/api/setups/{setup}/phrases/{phrase}", 16),
    ("/api/setups/{setup}/cells/{place}/{rung}", 8),
    ("/api/setups/{setup}/bars/{place}/alternatives?rung={rung}", 2),
    ("/api/setups/{setup}/sheet", 8),
    ("/api/setups/{setup}/practice/room?size=large", 4),
    ("/api/setups/{setup}/practice", 3),
    ("/api/setups/{setup}/export/pdf", 3),
    ("/api/setups/{setup}/export/png?dpi=100", 1),
    ("/api/setups/{setup}/sound?start={place}&tempo={tempo}", 8),
    ("/api/setups/{setup}/cells/{place}/{rung}/sound?tempo={tempo}", 8),
    ("/api/setups/{setup}/export/wav?tempo={tempo}", 3),
    ("/api/setups/{setup}/practice/take-home", 1),
    ("/api/setups/{setup}/timeline?tempo={tempo}", 4),
    ("/api/studio", 2),
    ("change", 3),
)
SETUPS, TUNES = 70, 60
MORE_TUNES = 52
INSTRUMENTS = ("banjo", "mandolin", "guitar", "ukulele")


def ask(client: httpx.Client, rng: random.Random) -> int:
    """One request drawn by its share; gives its status."""
    path = rng.choices([path for path, _ in ASKED], [share for _, share in ASKED])[0]
    numbers: dict[str, Any] = {
        "setup": rng.randint(1, SETUPS),
        "tune": rng.randint(1, TUNES),
        "phrase": rng.randint(0, 3),
        "place": rng.randint(0, 15),
        "rung": rng.randint(1, 7),
        "tempo": rng.choice((60, 72, 84, 96, 108)),
    }
    if path != "change":
        return client.get(path.format(**numbers)).status_code
    at = f"/api/setups/{numbers['setup']}"
    revision = client.get(f"{at}/ladder").json()["path"]["revision"]
    change = {"do": "rungs", "places": [numbers["place"]], "rung": numbers["rung"]}
    return client.post(f"{at}/changes", json={"change": change, "revision": revision}).status_code


def fill(client: httpx.Client) -> None:
    """Real tunes beside the invented ones, set up on several instruments: more than any cache holds."""
    for number, tune in enumerate(sample(MORE_TUNES)):
        added = client.post("/api/tunes", json={"abc": tune.text})
        if added.is_success:
            wish = {"instrument": INSTRUMENTS[number % len(INSTRUMENTS)]}
            client.post(f"/api/tunes/{added.json()['added'][0]['id']}/setups", json=wish)


def curve(count: int, every: int, seed: int = 1) -> list[tuple[int, list[float]]]:
    """After every so many requests the megabytes of the server and of each other process of its, largest last."""
    rng, found = random.Random(seed), []
    with (
        tempfile.TemporaryDirectory() as folder,
        running_server(Path(folder) / "x.sqlite3", "--demo") as (root, address),
        httpx.Client(base_url=address, timeout=60) as client,
    ):
        fill(client)
        for number in range(count + 1):
            if number % every == 0:
                own, *others = [memory_of(process) for process in processes(root)]
                row = [own, *sorted(others)]
                found.append((number, row))
                print(f"{number:6} {sum(row):5.0f} MB: {', '.join(f'{one:.0f}' for one in row)}", flush=True)
            status = ask(client, rng)
            assert status in (200, 404, 409, 422), status
    return found


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--count", type=int, default=10_000)
    parser.add_argument("--every", type=int, default=500)
    options = parser.parse_args()
    print("requests, all processes together: the server, then the others")
    curve(options.count, options.every)


if __name__ == "__main__":
    main()
