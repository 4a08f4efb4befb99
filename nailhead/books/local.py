"""A book on this machine: processes that each take one tune at a time, ended where one takes too long."""

from __future__ import annotations

import os
import signal
from collections.abc import Iterable, Iterator
from concurrent.futures import FIRST_COMPLETED, Future, wait
from itertools import chain, islice
from multiprocessing import get_all_start_methods, get_context

from pebble import ProcessExpired, ProcessPool

from nailhead.books.orders import Outcome, Task
from nailhead.books.work import make, settle

#: Tasks under way or waiting in the pool, for each process: enough that none stands idle.
_AHEAD = 3


def make_here(tasks: Iterable[Task], processes: int | None = None, seconds: float = 120.0) -> Iterator[Outcome]:
    """The outcome of each task as it comes, in any order; tasks are taken as they are needed.

    A tune that takes longer than so many seconds is ended, and told of in its outcome, as is a process that dies.
    """
    waiting = iter(tasks)
    first = list(islice(waiting, 1))
    if not first:
        return
    waiting = chain(first, waiting)
    server = "forkserver" in get_all_start_methods()
    context = get_context("forkserver" if server else "spawn")
    if server:
        context.set_forkserver_preload(["nailhead.books.work"])
    count = processes or os.cpu_count() or 1
    pool = ProcessPool(max_workers=count, initializer=_begin, context=context)
    under_way: dict[Future[Outcome], Task] = {}
    try:
        while True:
            for task in islice(waiting, count * _AHEAD - len(under_way)):
                under_way[pool.schedule(make, args=(task,), timeout=seconds)] = task
            if not under_way:
                break
            for future in wait(under_way, return_when=FIRST_COMPLETED).done:
                yield _outcome(future, under_way.pop(future), seconds)
    finally:
        pool.stop()
        pool.join()


def _outcome(future: Future[Outcome], task: Task, seconds: float) -> Outcome:
    try:
        return future.result()
    except TimeoutError:
        return lost(task, f"It took longer than {seconds:g} seconds and was ended.")
    except ProcessExpired:
        return lost(task, "The process that worked on it died.")
    except Exception as error:
        return lost(task, f"It could not be made: {type(error).__name__}: {error}")


def lost(task: Task, why: str) -> Outcome:
    """The outcome of work that broke off."""
    return Outcome(task.place, task.title, refused=why, broken=True)


def _begin() -> None:
    """A process's first act: Ctrl-C is for the command."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    settle()
