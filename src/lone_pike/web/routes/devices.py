"""Devices: they send their lines here, and pages ask for what was sent."""

from time import monotonic

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.core.refusals import NotThere
from lone_pike.devices.declared import POSTING
from lone_pike.store.access import TokenRow
from lone_pike.web.pages import page
from lone_pike.web.requests import ForJob, hub_of, said_here, wheel_ticks
from lone_pike.web.views.job.cut import tally_view
from lone_pike.web.views.job.weigh import weigh_view
from lone_pike.web.views.job.work import work_of

router = APIRouter()
LONGEST_BODY, LONGEST_NAME = 64 * 1024, 20


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


@router.get("/jobs/{job_id}/wheel")
def wheel(request: Request, job_request: ForJob, seen: str = "0") -> Response:
    """The count-along at the place the counter wheel has reached; empty if the wheel has not moved since the last
    answer."""
    ticks = wheel_ticks(request)
    if str(ticks) == seen:
        return Response(status_code=204)
    view = tally_view(work_of(job_request), str(ticks), ticks, by_wheel=True)
    if view is None:
        return Response(status_code=204)
    return page(request, "tally.html", job_request.shop, {"view": view}, block="tally")


@router.get("/jobs/{job_id}/weigh")
def weigh(request: Request, job_request: ForJob, chain: str = "", piece: str = "", links: str = "") -> Response:
    """The page that counts links by weight."""
    view = weigh_view(work_of(job_request), (chain, piece, links), said_here(request, "scale"))
    return page(request, "weigh.html", job_request.shop, {"view": view})
