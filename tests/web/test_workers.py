"""Work that nobody waits for stops: at its deadline, when its client has gone, when the server is ended."""

from __future__ import annotations

import asyncio
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Coroutine, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path
from typing import Any, TypeVar

import httpx
import pytest
from fastapi.testclient import TestClient

from nailhead.core.errors import TheoryError
from nailhead.store.database import Database
from nailhead.web.app import create_app, in_a_worker
from nailhead.web.kept_ladders import beside
from nailhead.web.spool import spool_of
from nailhead.web.workers import BusyError, GoneError, TooLongError, Workers
from tests.web.conftest import HERE, problem

T = TypeVar("T")


def run(work: Coroutine[Any, Any, T]) -> T:
    """In a loop of its own: another test's browser may have left one running in this thread."""
    with ThreadPoolExecutor(1) as thread:
        return thread.submit(asyncio.run, work).result()


def nothing() -> None:
    """What a worker needs that needs nothing."""


def pid(_: object = None) -> int:
    return os.getpid()


def endless() -> int:
    """Holds the interpreter for good."""
    return 10 ** (10**9)


def marked(folder: str, name: str) -> None:
    """Leaves a mark that it has begun, then takes its time."""
    (Path(folder) / name).touch()
    time.sleep(0.5)


def refused() -> None:
    raise TheoryError("No.", field="x", remedy="Yes.")


@pytest.fixture
def workers() -> Iterator[Workers]:
    made = Workers(nothing, (), ("tests.web.test_workers",), count=2, deadline=4.0, grace=0.1)
    made.start()
    yield made
    made.stop()


def test_what_takes_too_long_is_ended(workers: Workers) -> None:
    """Even what holds the interpreter; the next task has a worker again, and an error comes as it was raised."""
    with pytest.raises(TooLongError, match="longer than 4 second"):
        run(workers.run(endless))
    assert run(workers.run(pid)) != os.getpid()
    with pytest.raises(TheoryError, match=r"No\. Yes\."):
        run(workers.run(refused))


def test_what_nobody_waits_for_never_begins(workers: Workers, tmp_path: Path) -> None:
    """Forty requests are abandoned: what was under way is ended, the others are forgotten."""

    async def abandoned(name: str) -> None:
        with pytest.raises(GoneError):
            await workers.run(marked, str(tmp_path), name, key="one", gone=asyncio.sleep(0.1))

    async def all_of_them() -> None:
        await asyncio.gather(*(abandoned(str(number)) for number in range(40)))

    run(all_of_them())
    assert run(workers.run(pid, key="one"))
    assert len(list(tmp_path.iterdir())) <= 2


def test_an_arrangement_has_its_worker(workers: Workers) -> None:
    """The same one for the same key, another one while that is busy with something else."""
    first = {run(workers.run(pid, key="one")) for _ in range(5)}
    assert len(first) == 1

    async def beside() -> int:
        slow = asyncio.ensure_future(workers.run(time.sleep, 0.5, key="one"))
        await asyncio.sleep(0.1)
        found = await workers.run(pid, key="two")
        await slow
        return found

    assert run(beside()) not in first


def test_of_what_waits_to_be_done_ahead_only_the_last_is(workers: Workers, tmp_path: Path) -> None:
    """Five setups are looked at one after another while both workers are busy: the ladder of the last one is begun."""

    async def busy() -> None:
        slow = [asyncio.ensure_future(workers.run(time.sleep, 0.5)) for _ in range(2)]
        await asyncio.sleep(0.1)
        for name in "abcde":
            workers.later(marked, str(tmp_path), name, key=name, kind="ahead")
        await asyncio.gather(*slow)

    run(busy())
    run(workers.run(pid, key="e"))  # the same worker, behind it
    begun = {mark.name for mark in tmp_path.iterdir()}
    assert begun - {"a"} == {"e"}  # on a slow machine a worker may be free for the first


def test_what_is_worked_out_ahead_is_waited_for_where_it_is(workers: Workers) -> None:
    """She keeps what is under way: it is not begun again beside it. What she keeps instead does not stand behind it."""
    workers.same("setup 1", "wish")

    async def keeps(key: str) -> bool:
        workers.later(time.sleep, 0.5, key="wish", kind="ahead of tune 1")
        await asyncio.sleep(0.1)
        return await workers.run(pid, key=key) == await workers.run(pid, key="wish")

    assert run(keeps("setup 1"))
    assert not run(keeps("setup 2"))


def test_too_much_at_once_is_sent_away(workers: Workers, monkeypatch: pytest.MonkeyPatch) -> None:
    """And what nobody waits for stands behind what somebody does."""
    monkeypatch.setattr("nailhead.web.workers.MOST_WAITING", 5)
    for _ in range(20):
        workers.later(time.sleep, 0.3)
    with pytest.raises(BusyError, match="Too much"):
        run(workers.run(pid, key="one"))


def die(mark: str) -> int:
    """Kills its own process the first time, as the system does when memory is short."""
    if not Path(mark).exists():
        Path(mark).touch()
        os.kill(os.getpid(), signal.SIGKILL)
    return os.getpid()


def always_die() -> None:
    os.kill(os.getpid(), signal.SIGKILL)


@pytest.mark.parametrize("pause", [0.0, 0.5])
def test_workers_that_die_idle_are_replaced(workers: Workers, pause: float) -> None:
    """One of them, then both: every task after it is done by a new process, at once or when the death has been seen."""

    async def both() -> set[int]:
        return set(await asyncio.gather(*(workers.run(slow_pid, key=key) for key in ("one", "two"))))

    before = run(both())
    assert len(before) == 2
    for victims in ({min(before)}, before):
        for victim in victims:
            with suppress(ProcessLookupError):
                os.kill(victim, signal.SIGKILL)
        time.sleep(pause)
        for key in ("one", "two", "three"):
            assert run(workers.run(pid, key=key)) not in victims
        before = run(both())
        assert len(before) == 2


def slow_pid() -> int:
    time.sleep(0.2)
    return os.getpid()


def test_work_whose_process_dies_is_begun_once_more(workers: Workers, tmp_path: Path) -> None:
    """Once: what kills its process each time is answered with a remedy, and holds up nothing behind it."""
    assert run(workers.run(die, str(tmp_path / "mark")))
    with pytest.raises(TooLongError, match="broke off"):
        run(workers.run(always_die))
    assert run(workers.run(pid))


def test_a_deadline_counts_from_when_work_was_accepted(workers: Workers) -> None:
    """What waits behind others is told in time, though it never began."""

    async def queue() -> list[float]:
        begun = time.monotonic()

        async def one(number: int) -> float:
            with suppress(TooLongError):
                await workers.run(time.sleep, 1.5, key=number)
            return time.monotonic() - begun

        return list(await asyncio.gather(*(one(number) for number in range(8))))

    assert max(run(queue())) < workers.deadline + 1.5


# -- the application with workers


@pytest.fixture(scope="module")
def both(tmp_path_factory: pytest.TempPathFactory, shelf: Path) -> Iterator[tuple[TestClient, TestClient]]:
    """The same shelf served in threads and by workers."""
    folder = tmp_path_factory.mktemp("both")
    for file in shelf.parent.iterdir():
        shutil.copy(file, folder)
    database = Database(folder / shelf.name)
    made = Workers(in_a_worker, (str(database.path),), ("nailhead.web.app",), count=1)
    with (
        TestClient(create_app(database), HERE, raise_server_exceptions=False) as here,
        TestClient(create_app(database, workers=made), HERE, raise_server_exceptions=False) as apart,
    ):
        yield here, apart


def test_a_worker_answers_as_the_server_would(both: tuple[TestClient, TestClient]) -> None:
    """Pages, files, refusals, previews: status, type and body."""
    here, apart = both
    abc = "X:1\nT:one\nM:4/4\nL:1/8\nK:G\nG2B2d2B2|G8|]\n\nX:2\nT:two\nK:\n"
    for method, path, more in (
        ("GET", "/api/tunes/1", {}),
        ("GET", "/api/setups/1/ladder", {}),
        ("GET", "/api/setups/1/phrases/99", {}),
        ("GET", "/api/setups/1/export/pdf", {}),
        ("GET", "/api/setups/1/export/midi?tempo=90", {}),
        ("GET", "/api/setups/1/export/wav?tempo=90", {}),
        ("HEAD", "/api/setups/1/sound", {}),
        ("GET", "/api/setups/1/timeline?tempo=x", {}),
        ("POST", "/api/desk/read", {"json": {"abc": abc}}),
        ("POST", "/api/tunes/preview", {"data": {"text": abc}}),
        ("POST", "/api/tunes/preview", {"data": {"text": " "}}),
        ("POST", "/api/tunes/1/setups/plan", {"json": {"instrument": "mandolin"}}),
        ("GET", "/api/instruments/banjo/key-table", {}),
        ("GET", "/api/tuner/banjo?tuning=gDGBD", {}),
    ):
        one, other = (client.request(method, path, **more) for client in both)  # type: ignore[arg-type]
        kinds = [(found.status_code, found.headers["content-type"]) for found in (one, other)]
        assert kinds[0] == kinds[1], path
        assert one.content == other.content or path.endswith("/pdf"), path
        assert other.headers["content-security-policy"] == here.get("/api/tunes").headers["content-security-policy"]
    assert problem(apart.get("/api/setups/1/phrases/99"))["status"] == 404
    spool = spool_of(apart.app.state.database.path)  # type: ignore[attr-defined]
    assert spool.is_dir() and not list(spool.iterdir())  # a whole tune's sound went through a file, which is gone


def test_a_ladder_is_worked_out_ahead_by_a_worker(both: tuple[TestClient, TestClient]) -> None:
    """The answer is there at once, the ladder a moment later in the folder beside the data file."""
    apart = both[1]
    folder = beside(apart.app.state.database.path).folder  # type: ignore[attr-defined]
    before = set(folder.iterdir()) if folder.exists() else set()
    wish = {"instrument": "banjo", "idiom": "three-finger", "tuning": "gCGCD", "capo": 0}
    assert apart.post("/api/tunes/2/setups/ahead", json=wish).status_code == 204
    for _ in range(400):
        if folder.exists() and any(file.suffix == ".ladder" for file in set(folder.iterdir()) - before):
            return
        time.sleep(0.05)
    raise AssertionError("no ladder was kept")


def test_what_is_changed_in_a_worker_is_kept(both: tuple[TestClient, TestClient]) -> None:
    """Bringing in, setting up, changing, a packet: by one and seen by the other."""
    here, apart = both
    added = apart.post("/api/tunes", json={"abc": "X:1\nT:one\nM:4/4\nL:1/8\nK:G\nG2B2d2B2|G8|]\n"}).json()["added"]
    setup = apart.post(f"/api/tunes/{added[0]['id']}/setups", json={"instrument": "banjo"}).json()["id"]
    revision = here.get(f"/api/setups/{setup}/ladder").json()["path"]["revision"]
    change = {"change": {"do": "rungs", "places": [0], "rung": 5}, "revision": revision}
    assert apart.post(f"/api/setups/{setup}/changes", json=change).status_code == 200
    assert problem(apart.post(f"/api/setups/{setup}/changes", json=change))["status"] == 409
    assert here.get(f"/api/setups/{setup}/ladder").json()["path"]["rungs"][0] == 5
    number = apart.post("/api/packets", json={"title": "Two", "setups": [1, setup, 999]}).json()["number"]
    for _ in range(200):
        found = apart.get(f"/api/packets/{number}").json()
        if found["state"] != "working":
            break
        time.sleep(0.1)
    assert found["state"] == "ready" and len(found["left_out"]) == 1
    assert apart.get(f"/api/packets/{number}/file").content.startswith(b"%PDF")


def test_every_ladder_is_answered_when_workers_are_killed(tmp_path: Path, shelf: Path) -> None:
    """One idle, both idle, one in the middle of a ladder: the pages after it and the one under way all come."""
    for file in shelf.parent.iterdir():
        shutil.copy(file, tmp_path)
    database = Database(tmp_path / shelf.name)
    made = Workers(in_a_worker, (str(database.path),), ("nailhead.web.app",), count=2)
    with TestClient(create_app(database, workers=made), HERE, raise_server_exceptions=False) as client:

        def kill(count: int) -> None:
            mine = [child for child in children(os.getpid()) if is_worker(child)]
            assert mine
            for child in mine[:count]:
                os.kill(child, signal.SIGKILL)

        def ladder(setup: int) -> int:
            return client.get(f"/api/setups/{setup}/ladder").status_code

        assert ladder(1) == 200
        for count in (1, 2):
            kill(count)
            assert [ladder(setup) for setup in (1, 2, 3)] == [200, 200, 200]
        with ThreadPoolExecutor(1) as other:
            under_way = other.submit(ladder, 4)
            time.sleep(0.3)
            kill(2)
            assert under_way.result() == 200
        assert client.get("/api/tunes").status_code == 200


def is_worker(process: int) -> bool:
    """Is it a child of the process that forks workers?"""
    try:
        return "forkserver" in Path(f"/proc/{process}/cmdline").read_text() and bool(grandparent_is_me(process))
    except OSError:
        return False


def grandparent_is_me(process: int) -> bool:
    def parent(of: int) -> int:
        return int(Path(f"/proc/{of}/stat").read_text().rsplit(")", 1)[1].split()[1])

    return parent(process) != os.getpid() and parent(parent(process)) == os.getpid()


# -- the server


def start(path: Path, *more: str) -> tuple[subprocess.Popen[str], str]:
    """A server of its own on a free port, once it answers."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    command = [sys.executable, "-m", "nailhead", "serve", "--data", str(path), "--port", str(port), *more]
    server = subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True)
    address = f"http://127.0.0.1:{port}"
    for _ in range(600):
        try:
            httpx.get(f"{address}/api/tunes")
            break
        except httpx.TransportError:
            assert server.poll() is None, server.communicate()
            time.sleep(0.05)
    return server, address


@pytest.mark.parametrize("how", [signal.SIGINT, signal.SIGKILL])
def test_a_server_ends_with_all_its_workers(tmp_path: Path, shelf: Path, how: signal.Signals) -> None:
    """In the middle of work; a second server on its file says so, and can have it afterwards."""
    for file in shelf.parent.iterdir():
        shutil.copy(file, tmp_path)
    path = tmp_path / shelf.name
    server, address = start(path)
    if how is signal.SIGINT:
        is_refused_to_another(path)
    asked = socket.create_connection(("127.0.0.1", int(address.rsplit(":", 1)[1])))
    asked.send(b"GET /api/setups/1/ladder HTTP/1.1\r\nHost: localhost\r\n\r\n")
    time.sleep(0.3)
    mine = children(server.pid)
    assert mine
    server.send_signal(how)
    server.wait(timeout=10)
    asked.close()
    for _ in range(400):  # a process that is still loading reads its end when it has loaded
        left = [child for child in mine if Path(f"/proc/{child}/cmdline").exists() and alive(child)]
        if not left:
            break
        time.sleep(0.1)
    assert not left
    if how is signal.SIGKILL:
        again, _ = start(path)
        again.send_signal(signal.SIGINT)
        assert again.wait(timeout=40) == 0 and "Traceback" not in again.communicate()[1]


def is_refused_to_another(path: Path) -> None:
    second = subprocess.run(
        [sys.executable, "-m", "nailhead", "serve", "--data", str(path), "--port", "1"], capture_output=True, text=True
    )
    assert second.returncode == 2
    (said,) = second.stderr.splitlines()
    assert said.startswith(f"nailhead: {path} is open in another Nailhead. Use that one, or end it first")


def alive(process: int) -> bool:
    try:
        return Path(f"/proc/{process}/stat").read_text().rsplit(")", 1)[1].split()[0] != "Z"
    except OSError:
        return False


def children(process: int) -> list[int]:
    """A process's children and theirs."""
    found = []
    for stat in Path("/proc").glob("[0-9]*/stat"):
        try:
            number, rest = int(stat.parent.name), stat.read_text().rsplit(")", 1)[1].split()
        except OSError:
            continue
        if int(rest[1]) == process:
            found += [number, *children(number)]
    return found
