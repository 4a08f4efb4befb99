"""Whether the server is there."""

from __future__ import annotations

from fastapi import APIRouter

from nailhead import __version__
from nailhead.web.models import Health

router = APIRouter(prefix="/api/health", tags=["health"])
ROUTERS = (router,)


@router.get("")
def health() -> Health:
    """Answers as soon as the server does; a page asks for it after an outage."""
    return Health(version=__version__)
