"""The cutting bench: counting along, the cut, a mistake, pieces of the bin, and the join."""

from fastapi import APIRouter
from starlette.responses import Response

from lone_pike.core.stages import stage_after
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.web.job.cut.view import tally_view
from lone_pike.web.job.cut.weigh import weigh_view
from lone_pike.web.job.work import work_of
from lone_pike.web.pages import page, redirect
from lone_pike.web.thing import Fields, ForJob, JobRequest, live_of, said_here, seen_by, session_of, wheel_ticks
from lone_pike.workshop import cutting, jobs
from lone_pike.workshop.clock import now

router = APIRouter(prefix="/jobs/{job_id}")


@router.get("/tally")
def tally(job_request: ForJob, at: str = "0") -> Response:
    """The count-along in tens, up to the rivet. Other tablets with the job open are told of each step that was really
    shown."""
    work, request = work_of(job_request), job_request.request
    view = tally_view(work, at, wheel_ticks(request))
    if view is None:
        return redirect(work.at("cut"))
    if request.headers.get("Purpose") != "prefetch":
        live_of(request).counted(job_request.job.id, view.reached, session_of(request))
    shown = {"view": view}
    return page(request, "job/cut/tally.html", work.shop, shown, block="tally", revision=work.job.revision_id)


@router.post("/cut")
def it_is_cut(job_request: ForJob) -> Response:
    """Records that the chain is cut to the count under test, and goes on."""
    jobs.it_is_cut(job_request.data, job_request.job.id, job_request.state.links, now())
    return redirect(job_request.state.url(f"{job_request.url}/{stage_after('cut')}", links=None))


@router.post("/from-bin")
def take_from_bin(job_request: ForJob, form: Fields) -> Response:
    """Adds pieces of the bin to those at hand."""
    texts = form.get("pieces", "").split(",")
    numbers = [one for text in texts if (one := whole_number(text, 15)) is not None]
    cutting.take_from_bin(job_request.data, job_request.job.id, seen_by(form), numbers, now())
    return redirect(_cut_url(job_request))


@router.post("/slip")
def cut_by_mistake(job_request: ForJob, form: Fields) -> Response:
    """Records that the chain was cut at another rivet."""
    state = job_request.state
    cutting.cut_by_mistake(
        job_request.data,
        job_request.job.id,
        seen_by(form),
        form.get("rivet", ""),
        now(),
        looked_at_links=state.links,
        piece=state.piece,
    )
    return redirect(_cut_url(job_request))


@router.post("/join")
def it_is_joined(job_request: ForJob) -> Response:
    """Records that the chain is joined, and goes on."""
    then = stage_after("join")
    jobs.reach(job_request.data, job_request.job.id, then)
    return redirect(work_of(job_request).at(then))


@router.get("/wheel")
def wheel(job_request: ForJob, seen: str = "0") -> Response:
    """The count-along at the place the counter wheel has reached; empty if the wheel has not moved since the last
    answer."""
    ticks = wheel_ticks(job_request.request)
    if str(ticks) == seen:
        return Response(status_code=204)
    view = tally_view(work_of(job_request), str(ticks), ticks, by_wheel=True)
    if view is None:
        return Response(status_code=204)
    return page(job_request.request, "job/cut/tally.html", job_request.shop, {"view": view}, block="tally")


@router.get("/weigh")
def weigh(job_request: ForJob, chain: str = "", piece: str = "", links: str = "") -> Response:
    """The page that counts links by weight."""
    view = weigh_view(work_of(job_request), (chain, piece, links), said_here(job_request.request, "scale"))
    return page(job_request.request, "job/cut/weigh.html", job_request.shop, {"view": view})


def _cut_url(job_request: JobRequest) -> str:
    return job_request.state.url(f"/jobs/{job_request.job.id}/cut", rivet=None, piece=None)
