"""Files that leave the house."""

from __future__ import annotations

from fastapi import Response

from nailhead.core.plain import plain_name


def file_response(body: str | bytes, media: str, name: str) -> Response:
    """A download whose name keeps to plain letters, and few of them, so that every system takes it."""
    stem, _, ending = name.rpartition(".")
    headers = {"Content-Disposition": f'attachment; filename="{plain_name(stem)}.{ending}"'}
    return Response(body, media_type=media, headers=headers)
