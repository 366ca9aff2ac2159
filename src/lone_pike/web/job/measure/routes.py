"""The answer to each keystroke, before anything is stored, and how sure it is."""

from dataclasses import replace

from fastapi import APIRouter
from starlette.responses import HTMLResponse

from lone_pike.web.dear import in_turn
from lone_pike.web.job.measure.fields import costs_of
from lone_pike.web.job.measure.view import typed_view
from lone_pike.web.job.size.view import sure_of
from lone_pike.web.job.work import Work, view_or_trouble, work_of
from lone_pike.web.pages import page
from lone_pike.web.thing import Fields, ForJob, JobRequest, TypedForm, seen_by
from lone_pike.workshop.edits import form_edit, merge_states, state_seen

router = APIRouter(prefix="/jobs/{job_id}")


@router.post("/typed")
def typed(job_request: ForJob, form: Fields) -> HTMLResponse:
    """The regions of the page that follow what is being typed; nothing is stored."""
    typing = job_request.as_typed(form)
    view = view_or_trouble(_typed_work(typing, form), lambda work: typed_view(work, form))
    return page(job_request.request, "job/measure/typed.html", typing.shop, {"view": view})


@router.post("/sure", dependencies=[in_turn("sure")])
def sure(job_request: ForJob, form: Fields) -> HTMLResponse:
    """How sure the count is with what is being typed; requested after the page that needs it."""
    typing = job_request.as_typed(form)
    work = _typed_work(typing, form)
    answered = work.sized.answer if work.sized else None
    context = {
        "key": work.key,
        "sure": sure_of(answered) if answered else None,
        "costs": costs_of(answered) if answered else {},
    }
    return page(job_request.request, "job/size/sure.html", typing.shop, context)


def _typed_work(job_request: JobRequest, form: TypedForm) -> Work:
    """The job with what is being typed; texts stay as they were typed."""
    base = state_seen(job_request.data, job_request.job, seen_by(form))
    edit = form_edit(base, form, job_request.shop.unit)
    kept = work_of(job_request)
    if not edit.changed:
        return kept
    newest = job_request.job.state
    mine = edit.state if base is newest else merge_states(base, newest, edit.state).state
    # A second box also changes the pieces at hand, whose field was not sent.
    texts = tuple((path, form[path]) for path in edit.changed if path in form)
    return replace(kept, document=mine.document, messages=edit.messages, typed=texts)
