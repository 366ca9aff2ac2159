"""Work that is dear in time or memory: a few pieces at once, a short queue, and a process of its own.

A page never waits behind it: it does not hold the threads that serve the rest, and its memory is given back.
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
"""Requests that may wait for one kind of dear work, and how long a piece of it may take."""

SECONDS_BETWEEN_LOOKS = 0.5
"""How soon those that wait notice that the workshop stops."""

KINDS = {"paper": 1, "photo": 1, "rides": 1, "sure": 2}
"""Each kind of dear work, and how much of it is done at once."""

Given = ParamSpec("Given")
Result = TypeVar("Result")


class Busy(Exception):
    """Too much of this is asked for at once; it may be asked for again in a moment."""


class Queue:
    """A queue with a bound, for one kind of dear work."""

    def __init__(self, at_once: int) -> None:
        self.free, self.waiting, self.stopping = asyncio.Semaphore(at_once), 0, False

    @asynccontextmanager
    async def slot(self) -> AsyncIterator[None]:
        """Waits for its turn. Raises: Busy where too many wait already, or the workshop stops meanwhile."""
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
    """A process of its own, started when it is first needed; fresh says whether each piece of work gets a new one, so
    that all of its memory is given back."""

    def __init__(self, *, fresh: bool) -> None:
        self.pieces_a_process = 1 if fresh else None
        self.pool: ProcessPoolExecutor | None = None
        self.lock = Lock()

    def run(self, work: Callable[Given, Result], *args: Given.args, **kwargs: Given.kwargs) -> Result:
        """What a piece of work returns or raises.

        Raises: Busy where its process ended or took too long, or where the workshop stops.
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
        """Nothing more is begun: the workshop is told to stop."""
        for queue in self.queues.values():
            queue.stopping = True

    def end(self) -> None:
        """Ends what is under way: the workshop stops."""
        self.papers.end()
        self.photos.end()
        self.rides.end()


def dear_work(request: Request) -> DearWork:
    """The dear work of this workshop."""
    work: DearWork = request.app.state.dear
    return work


def in_turn(kind: str) -> params.Depends:
    """What a route depends on whose work is of that kind: it waits for its turn."""

    async def turn(request: Request) -> AsyncIterator[None]:
        async with dear_work(request).queues[kind].slot():
            yield

    return params.Depends(turn)
