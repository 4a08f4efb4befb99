"""Files that leave the house."""

from __future__ import annotations

from fastapi import Response

#: Letters of a file's name before its ending.
MOST_LETTERS = 80


def file_response(body: str | bytes, media: str, name: str) -> Response:
    """A download whose name keeps to plain letters, and few of them, so that every system takes it."""
    stem, _, ending = name.rpartition(".")
    headers = {"Content-Disposition": f'attachment; filename="{plain_name(stem)}.{ending}"'}
    return Response(body, media_type=media, headers=headers)


def plain_name(title: str) -> str:
    """A title as the name of a file, without its ending."""
    return "".join(one if one.isascii() and one.isalnum() else "-" for one in title[:MOST_LETTERS]).strip("-") or "tune"
