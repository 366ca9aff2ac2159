"""The cutting bench: counting along, the cut, a mistake, pieces of the bin, and the join."""

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.formats.typed.parsing import whole_number
from lone_pike.web.pages import page, redirect
from lone_pike.web.requests import Fields, ForJob, JobRequest, live_of, seen_by, session_of, wheel_ticks
from lone_pike.web.views.job.cut import tally_view
from lone_pike.web.views.job.work import work_of
from lone_pike.workshop import cutting, jobs
from lone_pike.workshop.clock import now

router = APIRouter(prefix="/jobs/{job_id}")


@router.get("/tally")
def tally(request: Request, job_request: ForJob, at: str = "0") -> Response:
    """The count-along in tens, up to the rivet. Other tablets with the job open are told of each step that was really
    shown."""
    work = work_of(job_request)
    view = tally_view(work, at, wheel_ticks(request))
    if view is None:
        return redirect(work.at("cut"))
    if request.headers.get("Purpose") != "prefetch":
        live_of(request).counted(job_request.job.id, view.reached, session_of(request))
    shown = {"view": view}
    return page(request, "tally.html", work.shop, shown, block="tally", revision=work.job.revision_id)


@router.post("/cut")
def it_is_cut(job_request: ForJob) -> Response:
    """Records that the chain is cut to the count under test, and goes on to Join."""
    jobs.it_is_cut(job_request.data, job_request.job.id, job_request.state.links, now())
    return redirect(job_request.state.url(f"/jobs/{job_request.job.id}/join", links=None))


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
    """Records that the chain is joined, and goes on to Prove."""
    jobs.reach(job_request.data, job_request.job.id, "prove")
    return redirect(work_of(job_request).at("prove"))


def _cut_url(job_request: JobRequest) -> str:
    return job_request.state.url(f"/jobs/{job_request.job.id}/cut", rivet=None, piece=None)
