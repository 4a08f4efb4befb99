"""The same book on a Dask cluster of two workers on this machine; skipped where the extra is not installed."""

from __future__ import annotations

import asyncio
import socket
import threading
from collections.abc import Iterator
from dataclasses import replace

import pytest

from nailhead.books import work
from nailhead.books.cluster import make_there
from nailhead.books.making import tasks_of
from nailhead.books.orders import BookError
from nailhead.books.work import make
from tests.books.test_making import BOOK, ORDERS

distributed = pytest.importorskip("distributed")


@pytest.fixture(scope="module")
def cluster() -> Iterator[object]:
    """Two processes of one thread each, on loopback."""
    with distributed.LocalCluster(
        n_workers=2, threads_per_worker=1, processes=True, host="127.0.0.1", dashboard_address=":0"
    ) as made:
        yield made


def test_a_cluster_gives_what_one_process_gives(cluster) -> None:  # type: ignore[no-untyped-def]
    """To the byte, refusals too."""
    tasks = tasks_of(BOOK, replace(ORDERS, kinds=("text", "json")))
    made = sorted(make_there(cluster.scheduler_address, tasks), key=lambda one: one.place)
    assert made == list(map(make, tasks))


def test_a_worker_that_goes_away_loses_nothing(cluster) -> None:  # type: ignore[no-untyped-def]
    """One of two is closed in the middle; the other does its tasks."""
    many = "\n".join(BOOK[: BOOK.index("X:3")] for _ in range(15))
    tasks = tasks_of(many, ORDERS)
    coming = make_there(cluster.scheduler_address, tasks)
    made = [next(coming)]
    nanny = next(iter(cluster.workers.values()))
    asyncio.run_coroutine_threadsafe(nanny.close(), cluster.loop.asyncio_loop).result(30)
    made += coming
    assert sorted(one.place for one in made) == list(range(1, 31))
    assert not any(one.refused for one in made)


def test_a_scheduler_that_is_none_is_told(monkeypatch: pytest.MonkeyPatch) -> None:
    """Nothing listens there; something listens and says nothing; an address that is none."""
    monkeypatch.setattr("nailhead.books.cluster._ANSWER", 0.5)
    tasks = tasks_of(BOOK, ORDERS)
    with socket.create_server(("127.0.0.1", 0)) as silent:
        threading.Thread(target=silent.accept, daemon=True).start()
        with pytest.raises(BookError, match="No scheduler answers"):
            next(make_there(f"tcp://127.0.0.1:{silent.getsockname()[1]}", tasks))
    with pytest.raises(BookError, match="No scheduler answers"):
        next(make_there("tcp://127.0.0.1:1", tasks))


def test_a_cluster_without_workers_is_told(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("nailhead.books.cluster._ANSWER", 0.5)
    with (
        distributed.LocalCluster(n_workers=0, host="127.0.0.1", dashboard_address=":0") as none,
        pytest.raises(BookError, match="No worker"),
    ):
        next(make_there(none.scheduler_address, tasks_of(BOOK, ORDERS)))


def age() -> None:
    """Makes this process one whose code is another."""
    work.engine_mark = lambda: "older"  # type: ignore[assignment]


def test_a_worker_with_other_code_is_refused(cluster) -> None:  # type: ignore[no-untyped-def]
    """Its files would not be those of this machine."""
    with distributed.Client(cluster.scheduler_address, set_as_default=False) as client:
        client.run(age)
    with pytest.raises(BookError, match="has not the Nailhead"):
        next(make_there(cluster.scheduler_address, tasks_of(BOOK, ORDERS)))
