"""Runs work in processes of its own, so that it can be ended: at a deadline, or when nobody waits for it any more.

A few workers are ready from the start and do one task at a time each. Tasks that belong to one arrangement go to the
same worker, which keeps its ladder; another helps out while that one is busy with something else. Tasks wait here and
not in the pool, so that a task that nobody waits for any more never begins. A worker whose process dies gets a new
process, and what it was doing is begun once more.
"""

from __future__ import annotations

import asyncio
import gc
import os
import signal
from collections import deque
from collections.abc import Awaitable, Callable, Hashable
from concurrent.futures import CancelledError, Future
from concurrent.futures.process import BrokenProcessPool
from contextlib import suppress
from dataclasses import dataclass, field
from multiprocessing import get_all_start_methods, get_context
from threading import Event, RLock, Thread
from time import monotonic
from typing import Any, TypeVar, cast
from zlib import crc32

from cachetools import LRUCache
from pebble import ProcessExpired, ProcessPool
from starlette.concurrency import run_in_threadpool

from nailhead.core.errors import NailheadError
from nailhead.web.memory import give_back_freed

#: Seconds after which work is ended.
DEADLINE = 20.0
#: Seconds that work may go on when whoever asked for it has gone: most is done by then, and its worker stays warm.
GRACE = 1.0
#: Seconds in which a task is told that its deadline has passed, beyond the deadline itself.
_MARGIN = 1.0
#: What a task fails with when its process has died.
_DIED = (ProcessExpired, BrokenProcessPool)
#: Tasks that may wait; what comes then is sent away.
MOST_WAITING = 200
#: Keys whose worker is remembered.
_REMEMBERED = 1000

R = TypeVar("R")


class TooLongError(NailheadError):
    """Work that was ended at its deadline, or whose process died."""


class BusyError(NailheadError):
    """More is asked for than can be done."""


class GoneError(Exception):
    """Nobody waits for the answer any more."""


async def run_in(workers: Workers | None, function: Callable[..., R], *args: object) -> R:
    """What a function gives, worked out in a worker where there are any, else in a thread."""
    return await (workers.run(function, *args) if workers else run_in_threadpool(function, *args))


@dataclass(eq=False)
class _Task:
    """Something to be done, `wanted` where somebody waits for it; of a `kind` only the last is done ahead.

    `ends_at` is its deadline on the monotonic clock, counted from when it was accepted. `future` is what those look at
    who wait, `inner` the pool's own once it is under way. It is begun `again` at most once, when its process has died.
    """

    function: Callable[..., object]
    args: tuple[object, ...]
    key: Hashable
    ends_at: float
    wanted: bool = True
    kind: Hashable = None
    future: Future[Any] = field(default_factory=Future)
    inner: Any = None
    again: bool = False

    @property
    def seconds_left(self) -> float:
        return self.ends_at - monotonic()


@dataclass(eq=False)
class _Worker:
    """A process with what it does and what waits for it; `make_pool` gives it a new process."""

    make_pool: Callable[[], ProcessPool]
    pool: ProcessPool
    doing: _Task | None = None
    waiting: deque[_Task] = field(default_factory=deque)

    def schedule(self, task: _Task) -> Any:
        """Begins a task in the pool, in a new one where the process of the old one has died."""
        try:
            return self.pool.schedule(task.function, args=task.args, timeout=task.seconds_left)
        except RuntimeError:  # how pebble says that its pool is broken
            self.renew()
            return self.pool.schedule(task.function, args=task.args, timeout=task.seconds_left)

    def renew(self) -> None:
        broken, self.pool = self.pool, self.make_pool()
        Thread(target=_end_pool, args=(broken,), daemon=True).start()

    @property
    def tasks(self) -> list[_Task]:
        return [*([self.doing] if self.doing else []), *self.waiting]


class Workers:
    """Some processes, each with one task at a time; safe to use from several threads.

    `prepare` is called with `given` in each of them before its first task; the modules named in `loaded` are loaded
    once for all, so that a new worker stands ready at once.
    """

    def __init__(
        self,
        prepare: Callable[..., None],
        given: tuple[object, ...],
        loaded: tuple[str, ...] = (),
        count: int | None = None,
        deadline: float = DEADLINE,
        grace: float = GRACE,
    ) -> None:
        self.deadline, self.grace = deadline, grace
        server = "forkserver" in get_all_start_methods()
        context = get_context("forkserver" if server else "spawn")
        if server:
            context.set_forkserver_preload(list(loaded))

        def make_pool() -> ProcessPool:
            return ProcessPool(max_workers=1, initializer=_begin, initargs=(prepare, given), context=context)

        self._workers = [_Worker(make_pool, make_pool()) for _ in range(count or min(2, os.cpu_count() or 1))]
        self._homes: LRUCache[Hashable, _Worker] = LRUCache(_REMEMBERED)
        self._alike: LRUCache[Hashable, Hashable] = LRUCache(_REMEMBERED)
        self._lock = RLock()
        self._ready = Event()
        self._stopped = False

    def start(self) -> None:
        """Lets every worker get ready; returns at once, and tasks wait until they are."""
        Thread(target=self._load, daemon=True).start()

    def _load(self) -> None:
        try:
            for worker in self._workers:
                worker.pool.schedule(os.getpid)
        finally:
            self._ready.set()

    def stop(self) -> None:
        """Ends everything, whatever is being done."""
        with self._lock:
            self._stopped = True
            for worker in self._workers:
                worker.waiting.clear()
        for worker in self._workers:
            worker.pool.stop()
        for worker in self._workers:
            with suppress(TimeoutError):
                worker.pool.join(timeout=0.5)

    async def run(
        self,
        function: Callable[..., R],
        *args: object,
        key: Hashable = None,
        gone: Awaitable[None] | None = None,
    ) -> R:
        """What a function of a module gives, worked out elsewhere.

        `key` names what it is about, `gone` is done when nobody waits for it. Raises TooLongError, BusyError,
        GoneError, and whatever the function raises.
        """
        if not self._ready.is_set():
            await run_in_threadpool(self._ready.wait)
        task = self._schedule(function, args, key, self.deadline)
        work = asyncio.wrap_future(task.future)
        left = asyncio.ensure_future(gone) if gone else None
        try:
            await asyncio.wait(
                {work, left} if left else {work},
                timeout=task.seconds_left + _MARGIN,
                return_when=asyncio.FIRST_COMPLETED,
            )
            gone_away = left is not None and left.done()
            if gone_away and not work.done() and task.inner:
                await asyncio.wait({work}, timeout=self.grace)
            if work.done():
                return cast(R, self._result(work.result))
            if gone_away:
                raise GoneError
            raise self._too_long()
        finally:
            if left:
                left.cancel()
            work.cancel()
            self._end(task)

    def wait_for(self, function: Callable[..., R], *args: object, seconds: float | None = None) -> R:
        """The same for a thread that waits, with a deadline of its own."""
        task = self._schedule(function, args, None, seconds or self.deadline)
        try:
            return cast(R, self._result(lambda: task.future.result(task.seconds_left + _MARGIN)))
        finally:
            self._end(task)

    def later(
        self, function: Callable[..., object], *args: object, key: Hashable = None, kind: Hashable = None
    ) -> None:
        """Has something done that nobody waits for; what goes wrong with it will be seen when it is asked for.

        All of a `kind` is done by one worker; whatever of it still waits is left undone.
        """
        if kind is not None:
            self._forget(kind)
        with suppress(BusyError):
            self._schedule(function, args, key, self.deadline, False, kind)

    def same(self, key: Hashable, other: Hashable) -> None:
        """From now on `key` is about what `other` is about: its tasks go where that is known or being worked out."""
        with self._lock:
            self._alike[key] = other

    def _result(self, result: Callable[[], Any]) -> Any:
        try:
            return result()
        except TimeoutError as error:
            raise self._too_long() from error
        except (*_DIED, CancelledError) as error:
            raise TooLongError(
                "The work broke off before it was done.", field="time", remedy="Try again in a moment."
            ) from error

    def _too_long(self) -> TooLongError:
        return TooLongError(
            f"It took longer than {self.deadline:g} seconds and was ended; nothing was changed.",
            field="time",
            remedy="Try it with less at a time, or with a shorter tune.",
        )

    # -- who does what

    def _schedule(
        self,
        function: Callable[..., object],
        args: tuple[object, ...],
        key: Hashable,
        seconds: float,
        wanted: bool = True,
        kind: Hashable = None,
    ) -> _Task:
        with self._lock:
            task = _Task(function, args, self._alike.get(key, key), monotonic() + seconds, wanted, kind)
            if sum(len(worker.waiting) for worker in self._workers) >= MOST_WAITING:
                raise BusyError("Too much is asked for at once.", field="time", remedy="Wait a moment and try again.")
            self._put(task, self._worker_for(task))
        return task

    def _put(self, task: _Task, worker: _Worker) -> None:
        with self._lock:
            behind = sum(other.wanted >= task.wanted for other in worker.waiting)
            worker.waiting.insert(behind, task)
            self._go_on(worker)

    def _go_on(self, worker: _Worker) -> None:
        """Begins what waits longest, where nothing is being done; what is too late by then is not begun."""
        with self._lock:
            while worker.doing is None and worker.waiting and not self._stopped:
                task = worker.waiting.popleft()
                if not task.again and not task.future.set_running_or_notify_cancel():
                    continue
                if task.seconds_left <= 0:
                    task.future.set_exception(TimeoutError())
                    continue
                try:
                    inner = task.inner = worker.schedule(task)
                except Exception as error:
                    task.future.set_exception(error)
                    continue
                worker.doing = task
                inner.add_done_callback(lambda inner, task=task: self._done(worker, task, inner))

    def _done(self, worker: _Worker, task: _Task, inner: Any) -> None:
        error = None if inner.cancelled() else inner.exception()
        died = isinstance(error, _DIED)
        begin_again = died and not task.again and not self._stopped
        try:
            if begin_again:
                task.again = True
            elif inner.cancelled():
                task.future.set_exception(CancelledError())
            elif error:
                task.future.set_exception(error)
            else:
                task.future.set_result(inner.result())
        finally:
            with self._lock:
                worker.doing = None
                if died and not self._stopped:
                    worker.renew()
                if begin_again:
                    worker.waiting.appendleft(task)
            self._go_on(worker)

    def _end(self, task: _Task) -> None:
        """Ends a task, whether it waits or is under way; nothing happens to one that is done."""
        with self._lock:
            inner = task.inner
            if inner is None:
                task.future.cancel()
                for worker in self._workers:
                    with suppress(ValueError):
                        worker.waiting.remove(task)
        if inner is not None:
            inner.cancel()

    def _forget(self, kind: Hashable) -> None:
        with self._lock:
            for worker in self._workers:
                for task in [task for task in worker.waiting if task.kind == kind]:
                    worker.waiting.remove(task)
                    task.future.cancel()

    def _worker_for(self, task: _Task) -> _Worker:
        """The worker that knows what it is about, unless it is busy with something else and another one is not."""
        idle = [worker for worker in self._workers if not worker.tasks]
        about = task.key if task.kind is None else task.kind
        if about is None:
            return idle[-1] if idle else min(self._workers, key=lambda worker: len(worker.waiting))
        home = self._homes.get(about) or self._workers[crc32(repr(about).encode()) % len(self._workers)]
        if idle and any(about not in (other.key, other.kind) for other in home.tasks):
            home = idle[0]
        self._homes[about] = self._homes[task.key] = home
        return home


def _end_pool(pool: ProcessPool) -> None:
    """Lets go of a pool whose process has died."""
    with suppress(Exception):
        pool.stop()
        pool.join(timeout=5)


def _begin(prepare: Callable[..., None], given: tuple[object, ...]) -> None:
    """A worker's first act. Ctrl-C is for the server, which ends its workers."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    give_back_freed()
    prepare(*given)
    # Ladders are made of many small values that all stay: looking through them seldom saves a tenth of the time.
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)
