"""Files that leave the house."""

from __future__ import annotations

from fastapi import Response

#: Letters of a file's name before its ending.
MOST_LETTERS = 80


def file_response(body: str | bytes, media: str, name: str) -> Response:
    """A download whose name keeps to plain letters, and few of them, so that every system takes it."""
    stem, _, ending = name.rpartition(".")
    letters = "".join(sign if sign.isascii() and sign.isalnum() else "-" for sign in stem[:MOST_LETTERS]).strip("-")
    headers = {"Content-Disposition": f'attachment; filename="{letters or "tune"}.{ending}"'}
    return Response(body, media_type=media, headers=headers)
