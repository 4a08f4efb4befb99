"""Refuses requests that are too large before they are read, however they are sent."""

from __future__ import annotations

from collections.abc import Mapping
from contextlib import suppress
from types import MappingProxyType

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from nailhead.core.figures import clipped
from nailhead.web.errors import problem_response
from nailhead.web.models import Problem


class BodyLimit:
    """ASGI middleware: at most `most` bytes a request, counted as they come where no length is claimed.

    `larger` are beginnings of paths that may be sent more.
    """

    def __init__(self, app: ASGIApp, most: int, larger: Mapping[str, int] = MappingProxyType({})) -> None:
        self.app, self.usual, self.larger = app, most, larger

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            return await self.app(scope, receive, send)
        path = scope["path"]
        most = next((size for start, size in self.larger.items() if path.startswith(start)), self.usual)
        claimed = dict(scope["headers"]).get(b"content-length", b"0")
        if claimed.isdigit() and clipped(claimed.decode(), most) > most:
            return await self._refuse(most, scope, receive, send)
        taken, started = 0, False

        async def counted() -> Message:
            nonlocal taken
            message = await receive()
            taken += len(message.get("body", b""))
            if taken > most:
                raise _TooLarge
            return message

        async def sent(message: Message) -> None:
            # What the application makes of a body cut short is not the answer.
            nonlocal started
            if started or taken <= most:
                started = True
                await send(message)

        with suppress(_TooLarge):
            await self.app(scope, counted, sent)
        if taken > most and not started:
            await self._refuse(most, scope, receive, send)
        return None

    async def _refuse(self, most: int, scope: Scope, receive: Receive, send: Send) -> None:
        megabytes = most // 1_000_000
        problem = Problem(
            title="Too large",
            status=413,
            detail=f"The file is larger than {megabytes} MB.",
            field="file",
            remedy="Split it, or save the melody alone.",
        )
        await problem_response(problem)(scope, receive, send)


class _TooLarge(Exception):
    pass
