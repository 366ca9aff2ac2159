"""What other tablets keep, as it happens: one stream of events a tablet, woken by each write to the data file."""

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
"""How often a stream says that it is alive where nothing happens, s."""

MOST_TABLETS = 150
"""Tablets that listen at once."""

MOST_JOBS = 20
"""Jobs that one tablet hears of at once."""

MOST_WAITING = 20 * MOST_JOBS
"""Events that one tablet may be behind; it asks anew after that."""

Revisions = dict[int, int]


@dataclass(eq=False)
class Listener:
    """One tablet that listens, by its session, and the revision it was told last of each of its jobs.

    known holds 0 of a job that it was told nothing of yet. Without a session each stream is a tablet of its own.
    """

    session: SessionRow | None
    known: Revisions
    is_over: bool = False
    events: asyncio.Queue[ServerSentEvent] = field(default_factory=lambda: asyncio.Queue(MOST_WAITING))

    def is_same_tablet(self, other: "Listener") -> bool:
        """Whether another stream goes to the same tablet."""
        return self is other or tablet_of(self.session) == tablet_of(other.session) != ""

    def tell(self, event: str, job_id: int, what: int | str) -> None:
        """Puts an event in the queue; one that is not fetched in time is dropped, for the next one says more."""
        self._put(ServerSentEvent(json.dumps({"job": job_id, "what": what}), event=event))

    def end(self) -> None:
        """Tells nothing any more: the tablet was signed out."""
        self.is_over = True
        self._put(ServerSentEvent(event="over"))

    def _put(self, event: ServerSentEvent) -> None:
        if not self.events.full():
            self.events.put_nowait(event)


class Live:
    """Everybody who listens. All of it but written() runs on the event loop."""

    def __init__(self) -> None:
        self.listeners: list[Listener] = []
        self._database: Database | None = None
        self._loop: asyncio.AbstractEventLoop | None = None

    @property
    def is_full(self) -> bool:
        """Whether no other tablet can listen."""
        return len(self.listeners) >= MOST_TABLETS

    async def stream(
        self, database: Database, job_ids: Collection[int], session: SessionRow | None
    ) -> AsyncIterator[ServerSentEvent]:
        """The events of a tablet's jobs: the newest revision, who else is there, how far a count-along is.

        They end with its session.
        """
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
        """A write was kept; called on whatever thread made it."""
        self._soon(self._look)

    def counted(self, job_id: int, reached: int, session: SessionRow | None) -> None:
        """A count-along has come so far on one tablet; the others at that job are told."""
        self._soon(self._say_counted, job_id, reached, tablet_of(session))

    def _soon(self, act: Callable[..., None], *arguments: object) -> None:
        """Has the event loop do something, where anybody listens; a loop that ends just now tells nobody any more."""
        if self._loop and self.listeners:
            with suppress(RuntimeError):
                self._loop.call_soon_threadsafe(act, *arguments)

    def _watch(self, database: Database) -> None:
        self._loop = asyncio.get_running_loop()
        if self._database is not database:
            self._database = database
            database.on_commit = self.written

    def _look(self) -> None:
        """Tells each tablet of those of its jobs that stand at another revision than it was told last."""
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
    """What tablets are called; of those that nobody signed in at, how many they are."""
    names = sorted({one.session.name for one in tablets if one.session})
    nameless = sum(one.session is None for one in tablets)
    return ", ".join([*names, *([str(nameless)] if nameless else [])])


def tablet_of(session: SessionRow | None) -> str:
    """What a tablet is known by: two may have one name. Empty where nobody signed in."""
    return f"{session.name} {session.begun_at}" if session else ""
