"""A book on a Dask cluster: the same tasks, sent to whatever machines have joined a scheduler.

Nothing is shared but the network: a task carries its tune, an outcome its files. Loaded where a scheduler is named.
"""

from __future__ import annotations

import asyncio
from collections.abc import Iterable, Iterator
from itertools import islice
from typing import Any

from nailhead.books.local import lost
from nailhead.books.orders import BookError, Outcome, Task
from nailhead.books.work import engine_mark, make, settle

#: Tasks under way or waiting at the scheduler, for each thread of the cluster.
_AHEAD = 3
#: Seconds in which a scheduler must answer, and a first worker have joined it.
_ANSWER = 15


def make_there(address: str, tasks: Iterable[Task]) -> Iterator[Outcome]:
    """The outcome of each task as it comes, in any order. A worker that goes away has its tasks done by another.

    Raises BookError where Dask is not installed, nobody answers, no worker has joined, or one has other code.
    """
    client = _joined(address)
    try:
        yield from _outcomes(client, tasks)
    finally:
        client.close()


def _outcomes(client: Any, tasks: Iterable[Task]) -> Iterator[Outcome]:
    from distributed import as_completed

    waiting = iter(tasks)
    under_way: dict[str, tuple[Any, Task]] = {}
    coming = as_completed(loop=client.loop)
    try:
        while True:
            # Workers may have joined or gone since.
            room = max(1, sum(client.nthreads().values())) * _AHEAD - len(under_way)
            for task in islice(waiting, max(0, room)):
                future = client.submit(_made, task, pure=False)
                under_way[future.key] = (future, task)
                coming.add(future)
            if not under_way:
                return
            future = next(coming)
            _, task = under_way.pop(future.key)
            yield _outcome(future, task)
    finally:
        client.cancel([future for future, _ in under_way.values()])


def _made(task: Task) -> Outcome:
    settle()
    return make(task)


def _outcome(future: Any, task: Task) -> Outcome:
    try:
        outcome: Outcome = future.result()
    except Exception as error:
        return lost(task, f"It could not be made: {type(error).__name__}: {error}")
    return outcome


def _joined(address: str) -> Any:
    """A client of the scheduler, once there is a worker, and all have our own code."""
    try:
        from distributed import Client
    except ImportError as error:
        raise BookError(
            "Dask is not installed.", field="scheduler", remedy="Install Nailhead with its extra “cluster”."
        ) from error
    try:
        asyncio.run(asyncio.wait_for(_greeted(address), _ANSWER))
        client = Client(address, timeout=_ANSWER, set_as_default=False)
    except (OSError, TimeoutError, ValueError) as error:
        raise BookError(
            f"No scheduler answers at {address}.", field="scheduler", remedy="Write it like tcp://10.0.0.5:8786."
        ) from error
    try:
        client.wait_for_workers(1, timeout=_ANSWER)
        marks = client.run(engine_mark, on_error="return")
    except TimeoutError as error:
        client.close()
        raise BookError(
            f"No worker has joined {address}.", field="scheduler", remedy="Start one: dask worker --nthreads 1."
        ) from error
    strange = sorted(worker for worker, mark in marks.items() if mark != engine_mark())
    if strange:
        client.close()
        raise BookError(
            f"{', '.join(strange)} has not the Nailhead that is here.",
            field="scheduler",
            remedy="Install the same one on every machine.",
        )
    return client


async def _greeted(address: str) -> None:
    """Whoever listens there speaks as a scheduler does. A client would wait for that without end."""
    from distributed.comm.core import connect

    (await connect(address, timeout=_ANSWER)).abort()
