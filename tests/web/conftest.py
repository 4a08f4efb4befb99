"""The API on a fresh data file with the invented shelf."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from nailhead.demo.shelf import fill_shelf
from nailhead.store.database import Database
from nailhead.web.app import create_app


@pytest.fixture(scope="session")
def shelf(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The invented shelf, put on a file once; each test works on a copy."""
    path = tmp_path_factory.mktemp("shelf") / "x.sqlite3"
    fill_shelf(Database(path))
    return path


@pytest.fixture
def client(tmp_path: Path, shelf: Path) -> Iterator[TestClient]:
    for file in shelf.parent.iterdir():
        shutil.copy(file, tmp_path)
    database = Database(tmp_path / shelf.name)
    with TestClient(create_app(database), HERE, raise_server_exceptions=False) as opened:
        yield opened


HERE = "http://localhost"


def problem(response) -> dict:  # type: ignore[no-untyped-def,type-arg]
    """The body of a refusal, checked to be a problem document (RFC 9457)."""
    assert response.headers["content-type"].startswith("application/problem+json"), response.text
    body = response.json()
    assert body["status"] == response.status_code and body["detail"], body
    return body  # type: ignore[no-any-return]


def change(client: TestClient, setup: int, do: str, revision: int | None = None, **more: object):  # type: ignore[no-untyped-def]
    """Ask for a change of an arrangement from where it stands, or from a revision."""
    if revision is None:
        revision = client.get(f"/api/setups/{setup}/ladder").json()["path"]["revision"]
    return client.post(f"/api/setups/{setup}/changes", json={"change": {"do": do, **more}, "revision": revision})
