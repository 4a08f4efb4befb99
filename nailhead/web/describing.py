"""The API's description of itself: every operation names its refusals, which are problem documents (RFC 9457)."""

from __future__ import annotations

from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi

from nailhead.web.models import Problem

_WRITES = frozenset({"post", "put", "delete"})
#: Status -> what it means, in every operation; 404 where the path names something, 409 and 507 where one writes.
_REFUSALS = {
    "400": "It is no JSON, or no form.",
    "403": "A page of another site asks.",
    "413": "The request is too large.",
    "421": "The server is called by a name that is not its own.",
    "422": "It is not understood, or cannot be done; the document says where and what to do.",
    "500": "Nailhead made a mistake, or the data file is damaged.",
    "503": "It took too long, or too much is asked for at once.",
}
_NOT_THERE = {"404": "There is no such thing."}
_CONFLICT = {"409": "It was changed elsewhere, or is in use.", "507": "The disk has no room."}


def describe(app: FastAPI) -> None:
    """Gives an application its description."""

    def described() -> dict[str, Any]:
        if app.openapi_schema is None:
            schema = get_openapi(title=app.title, version=app.version, routes=app.routes)
            schemas = schema.setdefault("components", {}).setdefault("schemas", {})
            for name in ("HTTPValidationError", "ValidationError"):
                schemas.pop(name, None)
            schemas["Problem"] = Problem.model_json_schema(ref_template="#/components/schemas/{model}")
            for path, operations in schema["paths"].items():
                for method, operation in operations.items():
                    _add_refusals(operation["responses"], "{" in path, method in _WRITES)
            app.openapi_schema = schema
        return app.openapi_schema

    app.openapi = described  # type: ignore[method-assign]


def _add_refusals(responses: dict[str, Any], named: bool, writes: bool) -> None:
    document = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
    for status, said in {
        **_REFUSALS,
        **(_NOT_THERE if named or writes else {}),
        **(_CONFLICT if writes else {}),
    }.items():
        responses[status] = {"description": said, "content": document}
