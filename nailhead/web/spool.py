"""Large answers go from a worker to the server through files, so that no process holds a whole sound to pass it on."""

from __future__ import annotations

import os
import shutil
import tempfile
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager, suppress
from pathlib import Path

import anyio
from starlette.responses import Response
from starlette.types import Receive, Scope, Send

#: Bytes of an answer from which on it goes through a file.
FROM_BYTES = 300_000
#: Seconds after which nobody fetches a file any more.
_FORGOTTEN = 300.0
_CHUNK = 256 * 1024


def spool_of(data: Path) -> Path:
    """The folder beside a data file that answers go through."""
    return data.with_name(f"{data.name}.spool")


@contextmanager
def emptied(folder: Path) -> Iterator[None]:
    """The folder is gone before and afterwards; what a server that was killed has left in it goes, too."""
    shutil.rmtree(folder, ignore_errors=True)
    try:
        yield
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def put(folder: Path, body: Sequence[bytes]) -> Path:
    """Writes an answer to a file of its own; what was never fetched goes."""
    now = time.time()
    with suppress(OSError):
        for old in folder.iterdir():
            if now - old.stat().st_mtime > _FORGOTTEN:
                old.unlink()
    folder.mkdir(parents=True, exist_ok=True)
    number, name = tempfile.mkstemp(dir=folder)
    with os.fdopen(number, "wb") as file:
        for part in body:
            file.write(part)
    return Path(name)


class SpooledResponse(Response):
    """An answer that is read from a file piece by piece; the file goes with it."""

    def __init__(self, file: Path, status: int, headers: Sequence[tuple[bytes, bytes]]) -> None:
        super().__init__(None, status)
        self.file = file
        self.raw_headers[:] = list(headers)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        try:
            await send({"type": "http.response.start", "status": self.status_code, "headers": self.raw_headers})
            async with await anyio.open_file(self.file, "rb") as file:
                while part := await file.read(_CHUNK):
                    await send({"type": "http.response.body", "body": part, "more_body": True})
            await send({"type": "http.response.body", "body": b"", "more_body": False})
        finally:
            with suppress(OSError):
                self.file.unlink()
