"""Work that takes much time or memory: a few pieces at once, with a short queue, in a process of its own.

Pages never wait for it, because it does not occupy the threads that serve them, and its memory is given back.
"""

import asyncio
from collections.abc import AsyncIterator, Callable
from concurrent.futures import CancelledError, Future, ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from contextlib import asynccontextmanager, suppress
from multiprocessing import get_context
from threading import Lock
from typing import ParamSpec, TypeVar

from fastapi import params
from starlette.requests import Request

MOST_WAITING, LONGEST_SECONDS = 16, 30.0
"""How many requests may wait for one kind of dear work, and how long one piece of it may take."""

SECONDS_BETWEEN_LOOKS = 0.5
"""How often waiting requests check whether the workshop is stopping."""

KINDS = {"paper": 1, "photo": 1, "rides": 1, "sure": 2}
"""The kinds of dear work, and how many pieces of each are done at once."""

Given = ParamSpec("Given")
Result = TypeVar("Result")


class Busy(Exception):
    """Too many requests want this at once; it can be asked for again in a moment."""


class Queue:
    """A queue with a bound, for one kind of dear work."""

    def __init__(self, at_once: int) -> None:
        self.free, self.waiting, self.stopping = asyncio.Semaphore(at_once), 0, False

    @asynccontextmanager
    async def slot(self) -> AsyncIterator[None]:
        """Waits for its turn. Raises: Busy if too many requests wait already, or the workshop stops meanwhile."""
        if self.waiting >= MOST_WAITING:
            raise Busy
        self.waiting += 1
        try:
            await self._turn()
        finally:
            self.waiting -= 1
        try:
            yield
        finally:
            self.free.release()

    async def _turn(self) -> None:
        while not self.stopping:
            with suppress(TimeoutError):
                await asyncio.wait_for(self.free.acquire(), SECONDS_BETWEEN_LOOKS)
                return
        raise Busy


class Apart:
    """A separate process, started when it is first needed. With fresh, each piece of work gets a new one, so that all
    of its memory is given back."""

    def __init__(self, *, fresh: bool) -> None:
        self.pieces_a_process = 1 if fresh else None
        self.pool: ProcessPoolExecutor | None = None
        self.lock = Lock()

    def run(self, work: Callable[Given, Result], *args: Given.args, **kwargs: Given.kwargs) -> Result:
        """Does a piece of work there: returns or raises what the work does.

        Raises: Busy if the process ended or took too long, or the workshop stops.
        """
        try:
            try:
                future = self._submit(work, *args, **kwargs)
            except BrokenProcessPool:  # the process ended while it had nothing to do
                self.end()
                future = self._submit(work, *args, **kwargs)
            return future.result(LONGEST_SECONDS)
        except (BrokenProcessPool, CancelledError, TimeoutError):
            self.end()
            raise Busy from None

    def _submit(self, work: Callable[Given, Result], *args: Given.args, **kwargs: Given.kwargs) -> Future[Result]:
        with self.lock:  # so that no other thread ends the pool between the two
            if self.pool is None:
                spawn = get_context("spawn")
                self.pool = ProcessPoolExecutor(1, mp_context=spawn, max_tasks_per_child=self.pieces_a_process)
            return self.pool.submit(work, *args, **kwargs)

    def end(self) -> None:
        """Ends the process, whatever it is at."""
        with self.lock:
            pool, self.pool = self.pool, None
        if pool:
            processes = list((pool._processes or {}).values())  # Python 3.14 has a public way to end them
            pool.shutdown(wait=False, cancel_futures=True)
            for process in processes:
                process.terminate()


class DearWork:
    """All dear work of one workshop."""

    def __init__(self) -> None:
        self.queues = {kind: Queue(at_once) for kind, at_once in KINDS.items()}
        self.papers, self.photos, self.rides = Apart(fresh=False), Apart(fresh=True), Apart(fresh=False)

    def stop(self) -> None:
        """Begins nothing more, because the workshop has been told to stop."""
        for queue in self.queues.values():
            queue.stopping = True

    def end(self) -> None:
        """Ends all work in progress, because the workshop stops."""
        self.papers.end()
        self.photos.end()
        self.rides.end()


def dear_work(request: Request) -> DearWork:
    """The dear work of this workshop."""
    work: DearWork = request.app.state.dear
    return work


def in_turn(kind: str) -> params.Depends:
    """The dependency of a route that does dear work of a kind: it waits for its turn."""

    async def turn(request: Request) -> AsyncIterator[None]:
        async with dear_work(request).queues[kind].slot():
            yield

    return params.Depends(turn)
