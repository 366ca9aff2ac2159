"""What happens elsewhere, told to the pages of a job."""

from typing import Any

from fastapi import APIRouter
from sse_starlette import EventSourceResponse
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.web.live import HEARTBEAT_S
from lone_pike.web.requests import ForJob, live_of, session_of

router = APIRouter(prefix="/jobs/{job_id}")


@router.get("/live")
async def live(request: Request, job_request: ForJob) -> Response:
    """The events of a job: its newest revision, who else is at it, how far a count-along is."""
    hub = live_of(request)
    if hub.is_full:
        return Response(status_code=503, headers={"Retry-After": "30"})
    events: Any = hub.stream(job_request.data, job_request.job.id, session_of(request))
    return EventSourceResponse(events, ping=HEARTBEAT_S)
