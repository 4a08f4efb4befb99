"""Starts the application on this machine."""

from __future__ import annotations

import os
from pathlib import Path

import uvicorn
from platformdirs import user_data_path

from nailhead.core.errors import NailheadError
from nailhead.demo.shelf import fill_shelf
from nailhead.store.database import Database
from nailhead.web.app import STATIC, create_app

DEFAULT_PORT = 8000


def serve(host: str, port: int | None, data: Path | None, demo: bool) -> None:
    """Open the data file, put the demo shelf on it if asked, and serve until stopped."""
    port = port if port is not None else _port_from_environment()
    name = "demo.sqlite3" if demo else "nailhead.sqlite3"
    database = Database(data or user_data_path("nailhead", appauthor=False) / name)
    if demo:
        fill_shelf(database)
    if not (STATIC / "index.html").exists():
        raise NailheadError("The screens are not built.", field="static", remedy="Run make demo once.")
    print(f"Nailhead is at http://{host}:{port}  (data: {database.path})", flush=True)
    uvicorn.run(create_app(database), host=host, port=port, log_level="warning")


def _port_from_environment() -> int:
    text = os.environ.get("PORT", "") or str(DEFAULT_PORT)
    if not text.isdigit() or not 0 < int(text) < 65536:
        raise NailheadError(f"PORT is “{text}”.", field="port", remedy="Set it to a number below 65536.")
    return int(text)
