"""Tells tablets what other tablets have stored, as it happens: one stream of events for each tablet, woken by each
write."""

import asyncio
import json
from collections.abc import AsyncIterator, Callable, Collection, Sequence
from contextlib import suppress
from dataclasses import dataclass, field

from sse_starlette import ServerSentEvent

from lone_pike.store.access import SessionRow, sessions
from lone_pike.store.database import Database
from lone_pike.store.jobs import revisions_of

HEARTBEAT_S = 15
"""How often a stream sends a sign of life when nothing else happens, s."""

MOST_TABLETS = 150
"""The most tablets that can listen at once."""

MOST_JOBS = 20
"""The most jobs that one tablet can listen to at once."""

MOST_WAITING = 20 * MOST_JOBS
"""The most events that may wait for one tablet; after that it connects again."""

Revisions = dict[int, int]


@dataclass(eq=False)
class Listener:
    """A listening tablet: its session, and for each of its jobs the last revision that was sent.

    In known, 0 stands for a job of which nothing was sent yet. Without a session each stream counts as a tablet.
    """

    session: SessionRow | None
    known: Revisions
    is_over: bool = False
    events: asyncio.Queue[ServerSentEvent] = field(default_factory=lambda: asyncio.Queue(MOST_WAITING))

    def is_same_tablet(self, other: "Listener") -> bool:
        """Whether another stream goes to the same tablet."""
        return self is other or tablet_of(self.session) == tablet_of(other.session) != ""

    def tell(self, event: str, job_id: int, what: int | str) -> None:
        """Puts an event in the queue. If the queue is full the event is dropped, because a later one makes up for
        it."""
        self._put(ServerSentEvent(json.dumps({"job": job_id, "what": what}), event=event))

    def end(self) -> None:
        """Ends the stream, because the tablet was signed out."""
        self.is_over = True
        self._put(ServerSentEvent(event="over"))

    def _put(self, event: ServerSentEvent) -> None:
        if not self.events.full():
            self.events.put_nowait(event)


class Live:
    """All listening tablets. Everything except written() runs on the event loop."""

    def __init__(self) -> None:
        self.listeners: list[Listener] = []
        self._database: Database | None = None
        self._loop: asyncio.AbstractEventLoop | None = None

    @property
    def is_full(self) -> bool:
        """Whether there is no room for another tablet."""
        return len(self.listeners) >= MOST_TABLETS

    async def stream(
        self, database: Database, job_ids: Collection[int], session: SessionRow | None
    ) -> AsyncIterator[ServerSentEvent]:
        """The events of a tablet's jobs: the newest revision, who else has the job open, how far a count-along is. They
        end with its session."""
        self._watch(database)
        listener = Listener(session, dict.fromkeys(job_ids, 0))
        self.listeners.append(listener)
        try:
            self._look()
            self._say_who(job_ids)
            while not listener.is_over:
                yield await listener.events.get()
        finally:
            self.listeners.remove(listener)
            self._say_who(job_ids)

    def written(self) -> None:
        """Called after each write, on the thread that made it."""
        self._soon(self._look)

    def counted(self, job_id: int, reached: int, session: SessionRow | None) -> None:
        """Tells the other tablets at a job how far a count-along has come."""
        self._soon(self._say_counted, job_id, reached, tablet_of(session))

    def _soon(self, act: Callable[..., None], *arguments: object) -> None:
        """Runs something on the event loop, if anybody listens and the loop has not ended."""
        if self._loop and self.listeners:
            with suppress(RuntimeError):
                self._loop.call_soon_threadsafe(act, *arguments)

    def _watch(self, database: Database) -> None:
        self._loop = asyncio.get_running_loop()
        if self._database is not database:
            self._database = database
            database.on_commit = self.written

    def _look(self) -> None:
        """Tells each tablet which of its jobs have another revision than the last one it was sent."""
        if self._database is None:
            return
        self._end_signed_out(self._database)
        now = revisions_of(self._database, {job_id for one in self.listeners for job_id in one.known})
        for listener in self.listeners:
            for job_id, known in listener.known.items():
                revision = now.get(job_id, 0)
                if revision != known:
                    listener.known[job_id] = revision
                    listener.tell("revision", job_id, revision)

    def _end_signed_out(self, database: Database) -> None:
        begun = sessions(database) if any(one.session for one in self.listeners) else set()
        for listener in self.listeners:
            if listener.session and listener.session not in begun:
                listener.end()

    def _say_who(self, job_ids: Collection[int]) -> None:
        for job_id in job_ids:
            here = self._at(job_id)
            for listener in here:
                others = [one for one in here if not one.is_same_tablet(listener)]
                listener.tell("here", job_id, _names_of(others))

    def _say_counted(self, job_id: int, reached: int, tablet: str) -> None:
        for listener in self._at(job_id):
            if not tablet or tablet_of(listener.session) != tablet:
                listener.tell("counted", job_id, reached)

    def _at(self, job_id: int) -> list[Listener]:
        return [one for one in self.listeners if job_id in one.known]


def _names_of(tablets: Sequence[Listener]) -> str:
    """The names of tablets; for those without a session, their number."""
    names = sorted({one.session.name for one in tablets if one.session})
    nameless = sum(one.session is None for one in tablets)
    return ", ".join([*names, *([str(nameless)] if nameless else [])])


def tablet_of(session: SessionRow | None) -> str:
    """What identifies a tablet, because two may have the same name. Empty if nobody signed in."""
    return f"{session.name} {session.begun_at}" if session else ""
