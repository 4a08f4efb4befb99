"""Every operation accepts its example; none is left out."""

from __future__ import annotations

from pathlib import Path

from fastapi.testclient import TestClient

from tests.valid_requests import valid_requests
from tests.web.conftest import HERE


def test_every_operation_accepts_its_example(client: TestClient, tmp_path: Path) -> None:
    """Each on the shelf as it was before the first, so that none stands in another's way."""
    requests = valid_requests(client)
    data = client.app.state.database.path  # type: ignore[attr-defined]
    kept = {file: file.read_bytes() for file in data.parent.iterdir() if file.is_file()}
    refused = []
    for request in requests:
        restore(kept)
        answer = request.send(client)
        if answer.status_code >= 300 or not answer.is_success:
            refused.append((request.operation, request.json, answer.status_code, answer.text[:300]))
    assert refused == []
    described = client.get("/openapi.json").json()["paths"]
    operations = {f"{method.upper()} {path}" for path, methods in described.items() for method in methods}
    assert operations == {request.operation for request in requests}
    assert HERE.startswith("http")


def restore(kept: dict[Path, bytes]) -> None:
    """The data file as it was; no connection is open between two requests."""
    for file in next(iter(kept)).parent.glob("*.sqlite3*"):
        if file.is_file() and file not in kept:
            file.unlink()
    for file, raw in kept.items():
        file.write_bytes(raw)
