"""A server of its own on loopback, and the memory of its processes, for what is measured from outside."""

from __future__ import annotations

import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx


def processes(root: int) -> Iterator[int]:
    """A process with its children and theirs."""
    yield root
    for stat in Path("/proc").glob("[0-9]*/stat"):
        try:
            number, parent = int(stat.parent.name), int(stat.read_text().rsplit(")", 1)[1].split()[1])
        except OSError:
            continue
        if parent == root:
            yield from processes(number)


def memory_of(process: int) -> float:
    """Megabytes of a process, what it shares with others in parts (proportional set size of the kernel); 0 for none."""
    try:
        lines = Path(f"/proc/{process}/smaps_rollup").read_text().splitlines()
    except OSError:
        return 0.0
    return sum(int(line.split()[1]) for line in lines if line.startswith("Pss:")) / 1000


@contextmanager
def running_server(data: Path, *more: str) -> Iterator[tuple[int, str]]:
    """A server on a free port once it answers: its process and its address; it is ended with the block."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    command = [sys.executable, "-m", "nailhead", "serve", "--data", str(data), "--port", str(port), *more]
    server = subprocess.Popen(command, stdout=subprocess.DEVNULL)
    address = f"http://127.0.0.1:{port}"
    try:
        for _ in range(600):
            try:
                httpx.get(f"{address}/api/health")
                break
            except httpx.TransportError:
                time.sleep(0.1)
        yield server.pid, address
    finally:
        server.send_signal(signal.SIGINT)
        server.wait(timeout=20)
