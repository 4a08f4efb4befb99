"""Torments the application for a quarter of an hour and says what held (`make torment`).

    python -m tests.torment --minutes 15 --seed 1

Kills of the server in the middle of writes, kills of its workers, fifty readers, mutated requests, damaged backups.
Everything stays on loopback and stops by itself; the exit code is 1 where anything did not hold.
"""

from __future__ import annotations

import argparse
import asyncio
import os
import random
import signal
import sqlite3
import subprocess
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

import httpx
from fastapi.testclient import TestClient

from nailhead.demo.shelf import fill_shelf
from nailhead.store.copies import keep_copy
from nailhead.store.database import Database
from nailhead.web.app import create_app
from nailhead.web.reading_through import read_through
from tests import bench_load
from tests.fuzz_requests import torment as mutated_requests
from tests.processes import memory_of, processes, running_server

#: Megabytes that the server and its workers may have after the readers have gone.
MOST_MEMORY = 400


def kills(folder: Path, rng: random.Random, seconds: float) -> tuple[bool, str]:
    """The server dies in the middle of changes, again and again; what it acknowledged is there each time."""
    data, ends = folder / "killed.sqlite3", time.monotonic() + seconds
    acknowledged = died = lost = 0
    newest = 0
    while time.monotonic() < ends:
        try:
            with (
                running_server(data, "--demo") as (process, address),
                httpx.Client(base_url=address, timeout=30) as client,
            ):
                stands = client.get("/api/setups/2/ladder").json()["path"]["revision"]
                lost += stands not in (newest, newest + 1)  # the one under way may have been made, too
                newest = stands
                threading.Timer(rng.uniform(0.1, 1.5), os.kill, [process, signal.SIGKILL]).start()
                for turn in range(10_000):
                    wish = {"change": {"do": "level", "rung": 1 + turn % 7}, "revision": newest, "id": f"{died}-{turn}"}
                    newest = client.post("/api/setups/2/changes", json=wish).json()["path"]["revision"]
                    acknowledged += 1
        except (httpx.HTTPError, subprocess.TimeoutExpired, ProcessLookupError):
            died += 1
    with closing(sqlite3.connect(data)) as connection:
        sound = connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    held = not lost and sound and acknowledged > 0
    return held, f"{acknowledged} acknowledged changes, {died} kills of the server, {lost} lost, file sound: {sound}"


def worker_kills(folder: Path, rng: random.Random, seconds: float) -> tuple[bool, str]:
    """Workers die one by one and all at once, idle and at work; every page is answered."""
    ends, statuses, died = time.monotonic() + seconds, Counter[int](), 0
    slowest = 0.0
    with (
        running_server(folder / "workers.sqlite3", "--demo") as (root, address),
        httpx.Client(base_url=address, timeout=60) as client,
    ):
        while time.monotonic() < ends:
            workers = [one for one in processes(root) if "forkserver" in _command(one)][1:]
            victims = rng.sample(workers, rng.randint(0, len(workers)))
            threading.Timer(rng.uniform(0, 0.5), _kill, [victims]).start()
            died += len(victims)
            for _ in range(6):
                begun = time.monotonic()
                path = rng.choice(("ladder", "sheet", "phrases/1", "practice/room", "export/pdf"))
                statuses[client.get(f"/api/setups/{rng.randint(1, 20)}/{path}").status_code] += 1
                slowest = max(slowest, time.monotonic() - begun)
    return set(statuses) == {200}, f"{died} workers killed, answers {dict(statuses)}, slowest {slowest:.1f} s"


def _command(process: int) -> str:
    try:
        return Path(f"/proc/{process}/cmdline").read_text()
    except OSError:
        return ""


def _kill(victims: list[int]) -> None:
    for victim in victims:
        try:
            os.kill(victim, signal.SIGKILL)
        except ProcessLookupError:
            continue


def readers(folder: Path, rng: random.Random, seconds: float) -> tuple[bool, str]:
    """Fifty readers and a writer at once."""
    bench_load.SECONDS = int(seconds)
    with running_server(folder / "load.sqlite3", "--demo") as (root, address):
        reads, writes = asyncio.run(bench_load.load(address))
        memory = sum(memory_of(process) for process in processes(root))
    late = sorted(reads)[len(reads) * 95 // 100]
    said = f"{len(reads)} reads (p95 {late:.2f} s) and {len(writes)} writes, {memory:.0f} MB in all processes"
    return memory < MOST_MEMORY, said


def fuzz(folder: Path, rng: random.Random, seconds: float) -> tuple[bool, str]:
    """Mutations of valid requests over all operations."""
    (folder / "fuzz").mkdir()
    found = mutated_requests(folder / "fuzz", 50_000, rng.randrange(10**6), seconds)
    for error in found.errors[:20]:
        print(f"   {error[:300]}")
    total = sum(found.statuses.values())
    said = f"{total} requests, {len(found.errors)} server errors or over the deadline, slowest {found.slowest:.1f} s"
    return not found.errors, said


def damaged_backups(folder: Path, rng: random.Random, seconds: float) -> tuple[bool, str]:
    """Bytes flipped or cut out: each backup is refused with a sentence, or restored to a file that reads through."""
    (folder / "backups").mkdir()
    database = Database(folder / "backups" / "x.sqlite3")
    fill_shelf(database)
    whole = keep_copy(database, folder / "whole.sqlite3").read_bytes()
    client = TestClient(create_app(database), "http://localhost", raise_server_exceptions=False)
    ends, statuses, broken = time.monotonic() + seconds, Counter[int](), 0
    while time.monotonic() < ends:
        raw = bytearray(whole)
        for _ in range(rng.choice((1, 1, 4, 40))):
            at = rng.randrange(len(raw))
            if rng.random() < 0.8:
                raw[at] ^= 1 << rng.randrange(8)
            else:
                del raw[at : at + rng.randrange(1, 5000)]
        answer = client.post("/api/studio/bring-back", files={"file": ("x.sqlite3", bytes(raw))})
        statuses[answer.status_code] += 1
        try:
            with database.read() as connection:
                read_through(connection)
        except Exception as error:
            broken += 1
            print(f"   {error}")
    held = not broken and set(statuses) <= {200, 422}
    return held, f"{sum(statuses.values())} damaged backups, answers {dict(statuses)}, {broken} broken shelves"


#: What is done, and its share of the time.
TORMENTS: tuple[tuple[str, Callable[[Path, random.Random, float], tuple[bool, str]], float], ...] = (
    ("Kills of the server", kills, 0.16),
    ("Kills of workers", worker_kills, 0.1),
    ("Fifty readers", readers, 0.07),
    ("Mutated requests", fuzz, 0.55),
    ("Damaged backups", damaged_backups, 0.1),
)


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--minutes", type=float, default=15)
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    all_held = True
    with tempfile.TemporaryDirectory() as name:
        for what, work, share in TORMENTS:
            held, said = work(Path(name), random.Random(options.seed), share * options.minutes * 60)
            all_held &= held
            print(f"{'held' if held else 'DID NOT HOLD'}: {what}: {said}", flush=True)
    raise SystemExit(not all_held)


if __name__ == "__main__":
    main()
