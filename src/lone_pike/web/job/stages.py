"""The view of each stage."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.messages import Message
from lone_pike.core.refusals import Stale
from lone_pike.core.stages import STAGES
from lone_pike.drawing.scene.side_view import SideView
from lone_pike.web.job.book import view as book
from lone_pike.web.job.cut import view as cut
from lone_pike.web.job.frame import ASIDE, Frame, StageRequest
from lone_pike.web.job.join import view as join
from lone_pike.web.job.measure import view as measure
from lone_pike.web.job.prove import view as prove
from lone_pike.web.job.receive import view as receive
from lone_pike.web.job.route.view import unsized_side
from lone_pike.web.job.size import view as size
from lone_pike.web.job.work import Work, view_or_trouble, work_of
from lone_pike.web.pages import is_partial, page, redirect
from lone_pike.web.thing import NOT_REFUSED, JobRequest, Refused, TypedForm

VIEWS: Mapping[str, Callable[[Work, StageRequest], object]] = {
    "receive": receive.stage_view,
    "measure": measure.stage_view,
    "size": size.stage_view,
    "cut": cut.stage_view,
    "join": join.stage_view,
    "prove": prove.stage_view,
    "book": book.stage_view,
}
"""How the view of each stage is built."""


@dataclass(frozen=True)
class UnsizedView:
    """A stage of a bike that cannot be sized yet: its drawing, what is missing, and the way to it."""

    frame: Frame
    side: SideView | None


def stage_view(work: Work, asked: StageRequest) -> object:
    """The view of a stage."""
    if work.sized is None and not STAGES[asked.stage].before_count:
        frame = Frame(work, asked.stage, asked.announcements, shown_as="unsized")
        return UnsizedView(frame, unsized_side(work))
    return VIEWS[asked.stage](work, asked)


def shown_stage(
    job_request: JobRequest,
    stage: str,
    announcements: tuple[Message, ...] = (),
    status: int = 200,
    refused: Refused = NOT_REFUSED,
) -> HTMLResponse:
    """A stage of the job, with announcements, and with what could not be stored."""
    request = job_request.request
    asked = StageRequest(job_request.data, stage, announcements, is_partial(request), refused.typed, refused.faults)
    view = view_or_trouble(work_of(job_request), lambda shown: stage_view(shown, asked))
    revision = job_request.job.revision_id
    context = {"view": view}
    return page(request, "job/job.html", job_request.shop, context, status, block="job", revision=revision)


def asked_again(job_request: JobRequest, stage: str, stale: Stale, typed: TypedForm | None = None) -> Response:
    """The page again, with what has changed and what was typed; the next press is based on what it shows now."""
    if stage in ASIDE:
        return redirect(work_of(job_request).at(stage))
    return shown_stage(job_request.at_newest(), stage, (stale.message,), 409, Refused(typed or {}, ()))


def changed_at(job_request: JobRequest, stage: str, form: TypedForm, change: Callable[[], object], to: str) -> Response:
    """Makes a change at a stage. Returns: a redirect; if it is refused or another change came before it, the stage
    again with the reason."""
    try:
        change()
    except InvalidInput as error:
        return shown_stage(job_request, stage, status=422, refused=Refused(form, error.faults))
    except Stale as stale:
        return asked_again(job_request, stage, stale, form)
    return redirect(to)
