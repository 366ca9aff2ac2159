"""What reaches the workshop and its tablets while pages are open: events of jobs, and lines of devices."""

from time import monotonic
from typing import Annotated, Any

from fastapi import APIRouter, Query
from sse_starlette import EventSourceResponse
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.core.refusals import NotThere
from lone_pike.devices.declared import POSTING
from lone_pike.store.access import TokenRow
from lone_pike.store.paging import RowId
from lone_pike.web.live import HEARTBEAT_S, MOST_JOBS
from lone_pike.web.thing import Data, hub_of, live_of, session_of

router = APIRouter()
LONGEST_BODY, LONGEST_NAME = 64 * 1024, 20


@router.get("/live")
async def live(request: Request, data: Data, job: Annotated[list[RowId], Query(max_length=MOST_JOBS)]) -> Response:
    """The events of some jobs: the newest revision of each, who else is at it, how far a count-along is."""
    hub = live_of(request)
    if hub.is_full:
        return Response(status_code=503, headers={"Retry-After": "30"})
    events: Any = hub.stream(data, dict.fromkeys(job), session_of(request))
    return EventSourceResponse(events, ping=HEARTBEAT_S)


@router.post("/devices/{name}")
async def hear(request: Request, name: str) -> Response:
    """Takes a device's lines, for the bench that its token names; on loopback, where it needs no token, for all
    benches."""
    if name not in POSTING:
        raise NotThere("no_such_device", name=name[:LONGEST_NAME], names=POSTING)
    body = await request.body()
    token: TokenRow | None = getattr(request.state, "token", None)
    lines = body[:LONGEST_BODY].decode("ascii", "replace")
    hub_of(request).hear(name, lines, monotonic(), token.bench if token else "")
    return Response(status_code=204)
