"""Answers that have been written once, kept by all that they depend on: what is asked for again is there at once."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import asdict
from threading import Lock

from cachetools import LRUCache
from fastapi import Response
from pydantic import BaseModel

from nailhead.store.database import Database
from nailhead.web.bench import Bench, Kept, bench_of, read_kept
from nailhead.web.workshop import Workshop

#: Bytes of all answers together.
MOST_BYTES = 8_000_000
_ANSWERS: LRUCache[object, bytes] = LRUCache(MOST_BYTES, getsizeof=len)
_LOCK = Lock()


def remembered(
    db: Database, setup_id: int, shop: Workshop, view: Callable[[Bench], BaseModel], *more: object
) -> Response:
    """What a view shows of an arrangement as it stands; `more` is what the view depends on beside it.

    Raises what `view` raises, NotFoundError, and FitError where the tune has left the setup.
    """
    with db.read() as connection:
        kept = read_kept(connection, setup_id)
    key = (view.__module__, view.__qualname__, more, shop.find(kept.setup.instrument), _all_of(kept), kept.called(shop))
    with _LOCK:
        body = _ANSWERS.get(key)
    if body is None:
        body = view(bench_of(kept, shop)).model_dump_json().encode()
        with _LOCK:
            if len(body) < MOST_BYTES:
                _ANSWERS[key] = body
    return Response(body, media_type="application/json")


def _all_of(kept: Kept) -> str:
    """Everything that is kept of an arrangement, as text."""
    handed = kept.handed and (kept.handed.id, kept.handed.how, kept.handed.made_at)
    return json.dumps(
        [asdict(kept.setup), kept.tune.abc, kept.tune.title, asdict(kept.stored), kept.sheet, handed], sort_keys=True
    )
