"""The API on a fresh data file with the invented shelf."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from nailhead.demo.shelf import fill_shelf
from nailhead.store.database import Database
from nailhead.web.app import create_app


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    database = Database(tmp_path / "x.sqlite3")
    fill_shelf(database)
    with TestClient(create_app(database), raise_server_exceptions=False) as opened:
        yield opened


def problem(response) -> dict:  # type: ignore[no-untyped-def,type-arg]
    """The body of a refusal, checked to be a problem document (RFC 9457)."""
    assert response.headers["content-type"].startswith("application/problem+json"), response.text
    body = response.json()
    assert body["status"] == response.status_code and body["detail"], body
    return body  # type: ignore[no-any-return]
