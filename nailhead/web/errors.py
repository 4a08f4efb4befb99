"""Turns every refusal into one problem document (RFC 9457): what, where, remedy."""

from __future__ import annotations

import logging

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from nailhead.core.errors import NailheadError
from nailhead.store.copies import CopyError
from nailhead.store.database import ConflictError, InUseError, NotFoundError
from nailhead.store.opening import DataFileError, LockedError, NoRoomError
from nailhead.web.models import Problem
from nailhead.web.workers import BusyError, TooLongError

_LOG = logging.getLogger(__name__)

#: Error class -> (status, title); the first that fits counts.
STATUSES: tuple[tuple[type[NailheadError], int, str], ...] = (
    (NotFoundError, 404, "Not found"),
    (InUseError, 409, "In use"),
    (ConflictError, 409, "Changed elsewhere"),
    (CopyError, 422, "No copy"),
    (NoRoomError, 507, "No room"),
    (LockedError, 503, "Busy"),
    (DataFileError, 500, "The data file"),
    (TooLongError, 503, "Took too long"),
    (BusyError, 503, "Too busy"),
    (NailheadError, 422, "Cannot be done"),
)


def add_error_handlers(app: FastAPI) -> None:
    """Install the handlers; nothing else in the application builds an error response."""
    app.add_exception_handler(NailheadError, _refused)  # type: ignore[arg-type]
    app.add_exception_handler(RequestValidationError, _invalid)  # type: ignore[arg-type]
    app.add_exception_handler(HTTPException, _http)  # type: ignore[arg-type]
    app.add_exception_handler(Exception, _broken)


def problem_response(problem: Problem) -> JSONResponse:
    """A problem as the response that carries it."""
    return JSONResponse(problem.model_dump(exclude_none=True), problem.status, media_type="application/problem+json")


def _refused(_: Request, error: NailheadError) -> JSONResponse:
    status, title = next((status, title) for kind, status, title in STATUSES if isinstance(error, kind))
    return problem_response(
        Problem(
            title=title,
            status=status,
            detail=error.message,
            field=error.field,
            remedy=error.remedy,
            bar=error.bar,
            line=getattr(error, "line", None),
            column=getattr(error, "column", None),
        )
    )


def _invalid(_: Request, error: RequestValidationError) -> JSONResponse:
    first = error.errors()[0]
    field = ".".join(str(part) for part in first["loc"] if part not in ("body", "query", "path"))
    return problem_response(
        Problem(title="Not understood", status=422, detail=f"{field}: {first['msg']}.", field=field)
    )


def _http(_: Request, error: HTTPException) -> JSONResponse:
    title = "Not found" if error.status_code == 404 else "Refused"
    return problem_response(Problem(title=title, status=error.status_code, detail=str(error.detail)))


def _broken(request: Request, error: Exception) -> JSONResponse:
    _LOG.error("%s %s failed", request.method, request.url.path, exc_info=error)
    return problem_response(
        Problem(
            title="Something broke",
            status=500,
            detail="Nailhead made a mistake; nothing was saved.",
            remedy="Try again; if it stays, keep the tune's text and report it.",
        )
    )
