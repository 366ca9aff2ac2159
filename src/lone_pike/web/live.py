"""What other tablets keep, as it happens: one stream of events a page, woken by each write to the data file."""

import asyncio
from collections.abc import AsyncIterator, Callable
from contextlib import suppress
from dataclasses import dataclass, field
from itertools import count

from sse_starlette import ServerSentEvent

from lone_pike.store.access import SessionRow
from lone_pike.store.database import Database
from lone_pike.store.jobs import revisions_of

HEARTBEAT_S = 15
"""How often a stream says that it is alive where nothing happens, s."""

MOST_PAGES = 150
"""Pages that listen at once."""

MOST_WAITING = 20
"""Events that one page may be behind; it asks anew after that."""


@dataclass(eq=False)
class Listener:
    """One page that listens: the job it shows, its tablet and what that is called, and what it was not told yet."""

    job_id: int
    tablet: str
    name: str
    revision: int
    events: asyncio.Queue[ServerSentEvent] = field(default_factory=lambda: asyncio.Queue(MOST_WAITING))

    def tell(self, event: str, data: str) -> None:
        """Puts an event in the queue; one that is not fetched in time is dropped, for the next one says more."""
        if not self.events.full():
            self.events.put_nowait(ServerSentEvent(data, event=event))


class Live:
    """Everybody who listens. All of it but written() runs on the event loop."""

    def __init__(self) -> None:
        self.listeners: list[Listener] = []
        self._numbers = count(1)
        self._database: Database | None = None
        self._loop: asyncio.AbstractEventLoop | None = None

    @property
    def is_full(self) -> bool:
        """Whether no other page can listen."""
        return len(self.listeners) >= MOST_PAGES

    async def stream(
        self, database: Database, job_id: int, session: SessionRow | None
    ) -> AsyncIterator[ServerSentEvent]:
        """The events of a page: the newest revision of its job, who else is at it, how far a count-along is.

        Without a session each page counts as a tablet of its own, named by a number.
        """
        self._watch(database)
        name = session.name if session else str(next(self._numbers))
        listener = Listener(job_id, tablet_of(session) or name, name, 0)
        self.listeners.append(listener)
        try:
            self._look()
            self._say_who(job_id)
            while True:
                yield await listener.events.get()
        finally:
            self.listeners.remove(listener)
            self._say_who(job_id)

    def written(self) -> None:
        """A write was kept; called on whatever thread made it."""
        self._soon(self._look)

    def counted(self, job_id: int, reached: int, session: SessionRow | None) -> None:
        """A count-along has come so far on one tablet; the others at that job are told."""
        self._soon(self._say_counted, job_id, reached, tablet_of(session))

    def _soon(self, act: Callable[..., None], *told: object) -> None:
        """Has the event loop do something, where anybody listens; a loop that ends just now tells nobody any more."""
        if self._loop and self.listeners:
            with suppress(RuntimeError):
                self._loop.call_soon_threadsafe(act, *told)

    def _watch(self, database: Database) -> None:
        self._loop = asyncio.get_running_loop()
        if self._database is not database:
            self._database = database
            database.on_commit = self.written

    def _look(self) -> None:
        """Tells each page whose job stands at another revision than it was told last."""
        if self._database is None:
            return
        now = revisions_of(self._database, {one.job_id for one in self.listeners})
        for listener in self.listeners:
            revision = now.get(listener.job_id, 0)
            if revision != listener.revision:
                listener.revision = revision
                listener.tell("revision", str(revision))

    def _say_who(self, job_id: int) -> None:
        here = self._at(job_id)
        for listener in here:
            others = sorted({one.name for one in here if one.tablet != listener.tablet})
            listener.tell("here", ", ".join(others))

    def _say_counted(self, job_id: int, reached: int, tablet: str) -> None:
        for listener in self._at(job_id):
            if listener.tablet != tablet:
                listener.tell("counted", str(reached))

    def _at(self, job_id: int) -> list[Listener]:
        return [one for one in self.listeners if one.job_id == job_id]


def tablet_of(session: SessionRow | None) -> str:
    """What a tablet is known by: two may have one name. Empty where nobody signed in."""
    return f"{session.name} {session.begun_at}" if session else ""
