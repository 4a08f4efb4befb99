"""Only our own pages talk to the server: who is addressed, who asks, and what the answer allows.

A page of another site may send a request to this machine, and a name of its own may lead here (DNS rebinding); neither
gets an answer.
"""

from __future__ import annotations

from collections.abc import Iterable
from ipaddress import ip_address
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from nailhead.web.errors import problem_response
from nailhead.web.models import Problem

#: Nothing is fetched from outside, so nothing outside is allowed; no script stands in a page (CSP level 3).
POLICY = (
    "default-src 'self'; script-src 'self'; img-src 'self' data:; style-src 'self' 'unsafe-inline'; "
    "font-src 'self' data:; connect-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; "
    "frame-ancestors 'none'"
)
HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Resource-Policy": "same-origin",
}
#: Methods that change nothing (RFC 9110, 9.2.1).
_SAFE = frozenset({"GET", "HEAD", "OPTIONS"})


class Guard:
    """ASGI middleware. `hosts` are names beside those of this machine by which the server may be called."""

    def __init__(self, app: ASGIApp, hosts: Iterable[str] = ()) -> None:
        self.app = app
        self.hosts = frozenset(host.lower().strip("[]") for host in hosts)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            return await self.app(scope, receive, send)

        async def marked(message: Message) -> None:
            if message["type"] == "http.response.start":
                MutableHeaders(scope=message).update(HEADERS)
            await send(message)

        problem = self._against(scope, Headers(scope=scope))
        if problem:
            return await problem_response(problem)(scope, receive, marked)
        return await self.app(scope, receive, marked)

    def _against(self, scope: Scope, headers: Headers) -> Problem | None:
        host = headers.get("host", "")
        name = _name(host)
        if not (is_here(name) or name in self.hosts):
            return Problem(
                title="Not this server",
                status=421,
                detail=f"This server is not called “{host[:80]}”.",
                remedy="Open it as localhost, or allow the name when it is started: --allow-host NAME.",
            )
        origin, site = headers.get("origin"), headers.get("sec-fetch-site", "")
        foreign = origin is not None and urlsplit(origin).netloc.lower() != host.lower()
        writes = scope["method"] not in _SAFE
        reads = scope["path"].startswith("/api/") and headers.get("sec-fetch-mode") != "navigate"
        if (writes and foreign) or (site == "cross-site" and (writes or reads)):
            return Problem(
                title="From another site",
                status=403,
                detail="A page of another site may not ask this server for anything.",
                remedy="Do it on Nailhead's own page.",
            )
        return None


def _name(host: str) -> str:
    """A Host header without its port, "" for what is none."""
    try:
        return (urlsplit(f"//{host}").hostname or "").lower()
    except ValueError:
        return ""


def is_here(name: str) -> bool:
    """Does a name or an address mean this machine and nothing else (RFC 6761, 6.3; RFC 1122, 3.2.1.3)?"""
    if name == "localhost" or name.endswith(".localhost"):
        return True
    try:
        return ip_address(name).is_loopback
    except ValueError:
        return False
