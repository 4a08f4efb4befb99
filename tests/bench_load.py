"""Fifty readers and one writer at once on a real server: how long answers take and what memory it has; `make bench`.

Everything stays on loopback and stops by itself after SECONDS.
"""

from __future__ import annotations

import asyncio
import os
import random
import statistics
import tempfile
import time
from pathlib import Path

import httpx

from tests.processes import memory_of, processes, running_server

SECONDS = int(os.environ.get("SECONDS_OF_LOAD", "60"))
READERS = 50


async def read(client: httpx.AsyncClient, until: float, taken: list[float], seed: int) -> None:
    """A reader goes from the shelf to a ladder, its phrases and its sheet, over and over."""
    choose = random.Random(seed)
    while time.perf_counter() < until:
        setup = choose.randint(1, 12)
        for path in (
            "/api/tunes",
            f"/api/setups/{setup}/ladder",
            f"/api/setups/{setup}/phrases/1",
            f"/api/setups/{setup}/sheet",
        ):
            begun = time.perf_counter()
            answer = await client.get(path)
            taken.append(time.perf_counter() - begun)
            assert answer.status_code in (200, 404), answer.text
            await asyncio.sleep(choose.uniform(0.5, 1.5))


async def write(client: httpx.AsyncClient, until: float, taken: list[float]) -> None:
    """The writer raises a bar and takes it back."""
    while time.perf_counter() < until:
        revision = (await client.get("/api/setups/1/ladder")).json()["path"]["revision"]
        wish = {"change": {"do": "rungs", "places": [2], "rung": random.randint(1, 7)}, "revision": revision}
        begun = time.perf_counter()
        (await client.post("/api/setups/1/changes", json=wish)).raise_for_status()
        taken.append(time.perf_counter() - begun)
        await asyncio.sleep(0.2)


async def load(address: str) -> tuple[list[float], list[float]]:
    reads: list[float] = []
    writes: list[float] = []
    limits = httpx.Limits(max_connections=READERS + 1)
    async with httpx.AsyncClient(base_url=address, timeout=60, limits=limits) as client:
        until = time.perf_counter() + SECONDS
        readers = (read(client, until, reads, seed) for seed in range(READERS))
        await asyncio.gather(write(client, until, writes), *readers)
    return reads, writes


def main() -> None:
    with (
        tempfile.TemporaryDirectory() as folder,
        running_server(Path(folder) / "load.sqlite3", "--demo") as (root, address),
    ):
        reads, writes = asyncio.run(load(address))
        for name, taken in (("read", reads), ("write", writes)):
            cuts = statistics.quantiles(taken, n=100)
            middle, late, longest = cuts[49], cuts[94], max(taken)
            print(f"{name}: {len(taken)}, median {middle:.2f} s, p95 {late:.2f} s, longest {longest:.2f} s")
        total = sum(memory_of(process) for process in processes(root))
        print(f"memory of the server and its workers: {total:.0f} MB")


if __name__ == "__main__":
    main()
