"""Starts the application on this machine."""

from __future__ import annotations

import os
import socket
from collections.abc import Sequence
from contextlib import suppress
from pathlib import Path

import uvicorn
from platformdirs import user_data_path

from nailhead.core.errors import NailheadError
from nailhead.core.figures import is_digits
from nailhead.demo.shelf import fill_shelf
from nailhead.store.database import MIGRATIONS, Database, newest_version
from nailhead.store.opening import check_file, locked
from nailhead.store.verifying import DamagedError
from nailhead.web.app import STATIC, create_app, in_a_worker
from nailhead.web.memory import give_back_freed
from nailhead.web.reading_through import read_through
from nailhead.web.spool import emptied, spool_of
from nailhead.web.workers import DEADLINE, Workers

DEFAULT_PORT = 8000
#: Seconds that open requests have when the server is ended.
LAST_SECONDS = 1


def serve(
    host: str,
    port: int | None,
    data: Path | None,
    demo: bool,
    hosts: Sequence[str] = (),
    deadline: float = DEADLINE,
) -> None:
    """Open the data file, put the demo shelf on it if asked, and serve until stopped.

    `hosts` are names it may be called by beside those of this machine; `deadline` seconds are what work may take.
    Raises NailheadError, with nothing changed, where file or port cannot be had.
    """
    port = check_port(port if port is not None else os.environ.get("PORT", "") or DEFAULT_PORT)
    name = "demo.sqlite3" if demo else "nailhead.sqlite3"
    path = data or user_data_path("nailhead", appauthor=False) / name
    if not (STATIC / "index.html").exists():
        raise NailheadError("The screens are not built.", field="static", remedy="Run make demo once.")
    check_file(path, newest_version(MIGRATIONS))
    give_back_freed()
    with locked(path), listening(host, port) as door, emptied(spool_of(path)):
        database = _open(path)
        if demo:
            fill_shelf(database)
        workers = Workers(in_a_worker, (str(path),), ("nailhead.web.app",), deadline=deadline)
        print(f"Nailhead is at http://{host}:{port}  (data: {database.path})", flush=True)
        config = uvicorn.Config(
            create_app(database, workers=workers, hosts=(*hosts, host)),
            log_level="warning",
            timeout_graceful_shutdown=LAST_SECONDS,
        )
        with suppress(KeyboardInterrupt):  # Ctrl-C is how it is ended
            uvicorn.Server(config).run(sockets=[door])


def _open(path: Path) -> Database:
    """The data file, of which every row that is needed now can be read; raises DataFileError with its name."""
    try:
        database = Database(path)
        with database.read() as connection:
            read_through(connection, every_step=False)
    except DamagedError as error:
        said = error.message.replace("The data file", str(path))
        raise DamagedError(said, field="data", remedy="Restore a backup: nailhead bring-back BACKUP.") from error
    return database


def check_port(port: int | str) -> int:
    """A port that can be; raises NailheadError."""
    text = str(port)
    if not is_digits(text) or not 0 < int(text) < 65536:
        raise NailheadError(f"There is no port {text[:20]}.", field="port", remedy="Choose a number from 1 to 65535.")
    return int(text)


def listening(host: str, port: int) -> socket.socket:
    """A socket on a port of this machine; raises NailheadError where it cannot be had."""
    try:
        family, kind, protocol, _, address = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)[0]
        door = socket.socket(family, kind, protocol)
        door.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        door.bind(address)
        door.listen()
    except OSError as error:
        raise NailheadError(
            f"Port {port} of {host} cannot be had: {error.strerror or error}.",
            field="port",
            remedy="Perhaps Nailhead is running already; or choose another one: --port 8001.",
        ) from error
    return door
