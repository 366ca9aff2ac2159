"""Events for tablets that have jobs open."""

from typing import Annotated, Any

from fastapi import APIRouter, Query
from sse_starlette import EventSourceResponse
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.store.paging import RowId
from lone_pike.web.live import HEARTBEAT_S, MOST_JOBS
from lone_pike.web.requests import Data, live_of, session_of

router = APIRouter()


@router.get("/live")
async def live(request: Request, data: Data, job: Annotated[list[RowId], Query(max_length=MOST_JOBS)]) -> Response:
    """The events of some jobs: the newest revision of each, who else is at it, how far a count-along is."""
    hub = live_of(request)
    if hub.is_full:
        return Response(status_code=503, headers={"Retry-After": "30"})
    events: Any = hub.stream(data, dict.fromkeys(job), session_of(request))
    return EventSourceResponse(events, ping=HEARTBEAT_S)
