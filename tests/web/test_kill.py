"""The server killed in the middle of a teacher's edits: nothing it had confirmed is lost, and the file opens."""

from __future__ import annotations

import signal
import socket
import subprocess
import sys
import threading
import time
from pathlib import Path

import httpx

from nailhead.store.database import Database


def serve(data: Path) -> tuple[subprocess.Popen[bytes], str]:
    """The real command on a free port, answering."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    command = [
        str(Path(sys.executable).with_name("nailhead")),
        "serve",
        "--demo",
        "--data",
        str(data),
        "--port",
        str(port),
    ]
    server = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    address = f"http://127.0.0.1:{port}"
    for _ in range(400):
        try:
            httpx.get(f"{address}/api/tunes").raise_for_status()
            return server, address
        except httpx.HTTPError:
            time.sleep(0.05)
    raise AssertionError("the server never answered")


def test_kill_nine_in_the_middle_of_edits(tmp_path: Path) -> None:
    """Three times over: edits go on from another thread while the process dies."""
    data = tmp_path / "teacher.sqlite3"
    confirmed: list[int] = [0]
    for _ in range(3):
        server, address = serve(data)
        try:
            with httpx.Client(base_url=address, timeout=30) as client:
                path = client.get("/api/setups/2/ladder").json()["path"]
                assert path["revision"] in (confirmed[-1], confirmed[-1] + 1), "what was confirmed is there"
                threading.Timer(0.6, server.send_signal, [signal.SIGKILL]).start()
                revision = path["revision"]
                try:
                    for turn in range(10_000):
                        wish = {"change": {"do": "level", "rung": 1 + turn % 7}, "revision": revision}
                        revision = client.post("/api/setups/2/changes", json=wish).json()["path"]["revision"]
                        confirmed.append(revision)
                except httpx.HTTPError:
                    pass
        finally:
            server.kill()
            server.wait()
    assert len(confirmed) > 5
    with Database(data).read() as connection:
        assert connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        assert connection.execute("SELECT revision FROM setup WHERE id = 2").fetchone()[0] >= confirmed[-1]
