"""Handlers that compute are carried out in a worker: the request goes there as it came, and the answer comes back."""

from __future__ import annotations

import asyncio
import re
from collections.abc import Callable, Coroutine
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any, TypeVar

from fastapi import FastAPI, Request, Response
from fastapi.routing import APIRoute
from pydantic import BaseModel
from starlette.types import Message

from nailhead.web.spool import FROM_BYTES, SpooledResponse, put
from nailhead.web.workers import GoneError, Workers

#: What a request is about: its arrangement, else its tune.
_ABOUT = re.compile(r"/(setups|tunes)/(\d{1,18})(?:/|$)")
#: The status of an answer that nobody reads.
NOBODY = 499


@dataclass(frozen=True, slots=True)
class Asked:
    """A request."""

    method: str
    path: str
    query: bytes
    headers: tuple[tuple[bytes, bytes], ...]
    body: bytes


@dataclass(frozen=True, slots=True)
class Answered:
    """An answer: its `body`, or the `file` that holds it."""

    status: int
    headers: tuple[tuple[bytes, bytes], ...]
    body: bytes = b""
    file: Path | None = None


Handler = TypeVar("Handler", bound=Callable[..., Any])


def finished(handler: Handler) -> Handler:
    """Marks a handler that writes: it is carried out to its end, whoever has gone meanwhile."""
    handler.__dict__["finished"] = True
    return handler


class ApartRoute(APIRoute):
    """A route whose handler is called in a worker, where the application has any."""

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        """FastAPI's own, or the way to a worker."""
        here = super().get_route_handler()
        to_the_end = self.endpoint.__dict__.get("finished", False)

        async def handle(request: Request) -> Response:
            workers: Workers | None = request.app.state.workers
            if workers is None:
                return await here(request)
            scope = request.scope
            asked = Asked(
                request.method, scope["path"], scope["query_string"], tuple(scope["headers"]), await request.body()
            )
            try:
                gone = None if to_the_end else _gone(request)
                answered = await workers.run(answer, asked, key=about(asked.path), gone=gone)
            except GoneError:
                return Response(status_code=NOBODY)
            if answered.file:
                return SpooledResponse(answered.file, answered.status, answered.headers)
            response = Response(answered.body, answered.status)
            response.raw_headers[:] = list(answered.headers)
            return response

        return handle


def about(path: str) -> str | None:
    """What a path is about, as "setups 3"."""
    match = _ABOUT.search(path)
    return f"{match[1]} {match[2]}" if match else None


async def _gone(request: Request) -> None:
    while (await request.receive())["type"] != "http.disconnect":
        pass


def warm(workers: Workers, path: str) -> None:
    """Has a page worked out that will soon be asked for."""
    workers.later(answer, Asked("GET", path, b"", (), b""), key=about(path))


def prepare(workers: Workers, path: str, wish: BaseModel) -> None:
    """Has something worked out that may be asked for; other requests about the same tune do not stand behind it.

    Of what waits under one path only the last wish is worked out.
    """
    body = wish.model_dump_json()
    asked = Asked("POST", path, b"", ((b"content-type", b"application/json"),), body.encode())
    workers.later(answer, asked, key=_wished(path, body), kind=path)


def kept_as(workers: Workers, path: str, prepared: str, wish: BaseModel) -> None:
    """What a path is about may be worked out already, or under way: it is a wish that was `prepared`."""
    workers.same(about(path), _wished(prepared, wish.model_dump_json()))


def _wished(path: str, body: str) -> tuple[str, str]:
    return path, body


# -- in the worker


class _Here:
    """The application of this worker and the loop that it is asked in."""

    app: FastAPI
    loop: asyncio.AbstractEventLoop
    spool: Path


def settle(app: FastAPI, spool: Path) -> None:
    """Makes an application that of this worker; its large answers go through files in `spool`."""
    _Here.app, _Here.loop, _Here.spool = app, asyncio.new_event_loop(), spool


def answer(asked: Asked) -> Answered:
    """What the application of this worker answers."""
    return _Here.loop.run_until_complete(_answer(asked))


async def _answer(asked: Asked) -> Answered:
    scope = {
        "type": "http",
        "asgi": {"version": "3.0"},
        "http_version": "1.1",
        "method": asked.method,
        "path": asked.path,
        "raw_path": asked.path.encode(),
        "root_path": "",
        "query_string": asked.query,
        "headers": list(asked.headers),
        "scheme": "http",
        "client": None,
        "server": None,
    }
    begun: list[Message] = []
    body: list[bytes] = []

    async def receive() -> Message:
        return {"type": "http.request", "body": asked.body, "more_body": False}

    async def send(message: Message) -> None:
        if message["type"] == "http.response.start":
            begun.append(message)
        else:
            body.append(message.get("body", b""))

    try:
        await _Here.app(scope, receive, send)
    except Exception:
        # What a handler raises has been answered and written down by the application; nothing else may be lost.
        if not begun:
            raise
    status, headers = begun[0]["status"], tuple(begun[0]["headers"])
    if sum(map(len, body)) >= FROM_BYTES:
        with suppress(OSError):  # a full disk: it goes as it is
            return Answered(status, headers, file=put(_Here.spool, body))
    return Answered(status, headers, b"".join(body))
