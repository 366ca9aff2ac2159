"""The route of a long chain: idlers placed by dragging, keys, figures or two tapes; tubes on their runs."""

from dataclasses import replace

from fastapi import APIRouter
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.formats.typed.idler_form import moved, rows_of
from lone_pike.web.job.route.view import NOTHING_TYPED, Typed, box_kept, route_view
from lone_pike.web.job.work import view_or_trouble, work_of
from lone_pike.web.pages import page, redirect
from lone_pike.web.thing import Fields, ForJob, JobRequest, seen_by
from lone_pike.web.view_state import with_query
from lone_pike.workshop.clock import now
from lone_pike.workshop.idlers import dragged_to, idler_place, keep_tubes, press_route

router = APIRouter(prefix="/jobs/{job_id}/route")


@router.get("")
def route_page(job_request: ForJob, idler: str = "") -> HTMLResponse:
    """The drawing with its idlers; idler is the one that the address selects, counted from 1."""
    return _shown(job_request, idler)


@router.post("/drag")
def drag(job_request: ForJob, form: Fields) -> HTMLResponse:
    """The route with an idler where it is being dragged; nothing is stored."""
    kept = work_of(job_request)
    rows, place = rows_of(kept.document), idler_place(form)
    if place is not None and place < len(rows):
        made = moved(rows, place, dragged_to(form))
        kept_box = box_kept(kept)
        work = replace(kept, document={**kept.document, "idlers": [*made.idlers]})
        view = view_or_trouble(work, lambda shown: route_view(shown, "", box=kept_box))
    else:
        view = view_or_trouble(kept, lambda shown: route_view(shown, ""))
    return page(job_request.request, "job/route/typed.html", job_request.shop, {"view": view})


@router.post("")
def edit(job_request: ForJob, form: Fields) -> Response:
    """Stores one edit of the route as a revision."""
    typing = job_request.as_typed(form)
    data, job_id, saw, unit = typing.data, typing.job.id, seen_by(form), typing.shop.unit
    address = work_of(typing).at("route")
    if "tubes" in form:
        keep_tubes(data, job_id, saw, form, unit, now())
        return redirect(address)
    try:
        pressed = press_route(data, job_id, saw, form, unit, now())
    except InvalidInput as error:
        return _shown(typing, form.get("idler", ""), error, form)
    return redirect(address if pressed.place is None else with_query(address, "idler", pressed.place + 1))


def _shown(
    job_request: JobRequest,
    asked: str,
    error: InvalidInput | None = None,
    typed: Typed = NOTHING_TYPED,
) -> HTMLResponse:
    fault = next(iter(error.faults)) if error else None
    view = view_or_trouble(work_of(job_request), lambda work: route_view(work, asked, fault=fault, typed=typed))
    return page(
        job_request.request, "job/job.html", job_request.shop, {"view": view}, 422 if error else 200, block="job"
    )
