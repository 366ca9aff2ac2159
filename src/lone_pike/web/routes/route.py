"""The route of a long chain: idlers placed by dragging, keys, figures or two tapes; tubes on their runs."""

from collections.abc import Callable
from dataclasses import replace

from fastapi import APIRouter, HTTPException
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.base import Run
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.bike.limits import MOST_IDLERS
from lone_pike.core.bike.teeth import pitch_radius_mm
from lone_pike.core.judging.routing import idler_message
from lone_pike.core.messages import LengthUnit, Message, Term, Unit, mm, teeth
from lone_pike.formats.idler_form import NUDGES, Row, Rows, added, moved, nudged, removed, rows_of, swapped, taped, told
from lone_pike.formats.measure_form import with_readings
from lone_pike.formats.parsing import Reading, parse_quantity, whole_number
from lone_pike.store.jobs import JobState
from lone_pike.web.edits import form_edit, write_edit
from lone_pike.web.pages import page, redirect
from lone_pike.web.requests import Fields, ForJob, JobRequest, TypedForm
from lone_pike.web.view_state import with_query
from lone_pike.web.views.route import NOTHING_TYPED, Typed, box_kept, route_view, told_bike
from lone_pike.web.views.work import view_or_trouble, work_of

router = APIRouter(prefix="/jobs/{job_id}/route")
FARTHEST_MM = 2500.0


@router.get("")
def route_page(request: Request, job_request: ForJob, idler: str = "") -> HTMLResponse:
    """The drawing with its idlers; idler is the one that the address wants in hand, counted from 1."""
    return _shown(request, job_request, idler)


@router.post("/drag")
def drag(request: Request, job_request: ForJob, form: Fields) -> HTMLResponse:
    """The route as it would be with an idler where it is being dragged; nothing is kept yet."""
    kept = work_of(job_request)
    rows, place = rows_of(kept.document), _place(form)
    if place is not None and place < len(rows):
        made = moved(rows, place, _dragged_to(form))
        kept_box = box_kept(kept)
        work = replace(kept, document={**kept.document, "idlers": [*made.idlers]})
        view = view_or_trouble(work, lambda shown: route_view(shown, "", box=kept_box))
    else:
        view = view_or_trouble(kept, lambda shown: route_view(shown, ""))
    return page(request, "route_typed.html", job_request.shop, {"view": view})


@router.post("")
def edit(request: Request, job_request: ForJob, form: Fields) -> Response:
    """Keeps one press on the route as a revision."""
    job_request.open_job()
    typing = job_request.as_typed(form)
    if "tubes" in form:
        write_edit(typing, form, lambda base: form_edit(typing, base, {"tubes": form["tubes"]}).mine)
        return redirect(work_of(typing).at("route"))
    bike = told_bike(work_of(typing))
    if bike is None:
        raise HTTPException(422, "Measure rings, cogs, chainstay and cage first; nothing was changed.")
    made: list[tuple[Rows, Message]] = []

    def with_rows(base: JobState) -> JobState:
        rows, message = _pressed(rows_of(base.document), form, bike, typing.shop.unit)
        made.append((rows, message))
        idlers = Reading(list(rows.idlers) or None)
        return replace(base, document=with_readings(base.document, {"idlers": idlers}))

    try:
        write_edit(typing, form, with_rows, lambda _: made[-1][1])
    except InvalidInput as error:
        return _shown(request, job_request, form.get("idler", ""), error, form)
    place = made[-1][0].place
    address = work_of(typing).at("route")
    return redirect(address if place is None else with_query(address, "idler", place + 1))


def _pressed(rows: list[Row], form: TypedForm, bike: Bike, unit: LengthUnit) -> tuple[Rows, Message]:
    """What a press makes of the rows, and what the history says. Raises: 422 for a press that is none."""
    do = form.get("do", "")
    if do == "add" and form.get("run") in tuple(Run):
        if len(rows) >= MOST_IDLERS:
            raise HTTPException(422, f"read one idler more; allowed: up to {MOST_IDLERS}. Nothing was changed.")
        radii = (float(pitch_radius_mm(size)) for size in (bike.largest_ring, bike.largest_cog))
        made = added(rows, Run(form["run"]), bike.axle_xy_mm, *radii)
        return made, Message("idler_added", idler=_name(made))
    if do == "swap" and rows:
        return swapped(rows), Message("runs_swapped")
    place = _place(form)
    if place is None or place >= len(rows):
        raise HTTPException(422, "read no idler of this bike. Go back and press one; nothing was changed.")
    if do == "remove":
        return removed(rows, place), Message("idler_removed", idler=_name(Rows(tuple(rows), place)))
    presses: dict[str, Callable[[], Rows]] = {
        "drag": lambda: moved(rows, place, _dragged_to(form)),
        "nudge": lambda: nudged(rows, place, form.get("to", ""), _number(form.get("by", "1"))),
        "tell": lambda: told(rows, place, form, unit),
        "tapes": lambda: taped(rows, place, form, unit, bike.axle_xy_mm),
    }
    if do not in presses or (do == "nudge" and form.get("to") not in NUDGES):
        raise HTTPException(422, "read no press that this page has. Nothing was changed.")
    made = presses[do]()
    return made, _told_message(made, before=rows[place], taped=do == "tapes")


def _told_message(made: Rows, before: Row, *, taped: bool) -> Message:
    row = made.idlers[made.place or 0]
    if row["at_mm"] != before["at_mm"]:
        forward, up = row["at_mm"]
        place = {"forward": mm(forward), "up": mm(up)}
        if taped:
            return Message("idler_taped", idler=_name(made), about=mm(row.get("about_mm", 0.0)), **place)
        return Message("idler_placed", idler=_name(made), **place)
    return Message("idler_told", idler=_name(made), side=Term("side", row["chain"]), teeth=teeth(row["teeth"]))


def _name(made: Rows) -> Message:
    """The pressed idler's name, by its run."""
    return idler_message([Run(row["run"]) for row in made.idlers], made.place or 0)


def _place(form: TypedForm) -> int | None:
    """The idler a form is about, counted from 0."""
    place = whole_number(form.get("idler", ""), 2)
    return place - 1 if place else None


def _dragged_to(form: TypedForm) -> tuple[float, float]:
    """Where an idler was dragged to, mm; no farther than any part of a bike."""
    x_mm, y_mm = (min(max(_number(form.get(axis, "")), -FARTHEST_MM), FARTHEST_MM) for axis in ("x", "y"))
    return x_mm, y_mm


def _number(text: str) -> float:
    """A number that the page itself wrote; 0 where it is none."""
    value = parse_quantity(text, Unit.MM).value
    return float(value) if isinstance(value, int | float) else 0.0


def _shown(
    request: Request,
    job_request: JobRequest,
    asked: str,
    error: InvalidInput | None = None,
    typed: Typed = NOTHING_TYPED,
) -> HTMLResponse:
    fault = next(iter(error.faults)) if error else None
    view = view_or_trouble(work_of(job_request), lambda work: route_view(work, asked, fault=fault, typed=typed))
    return page(request, "job.html", job_request.shop, {"view": view}, 422 if error else 200, block="job")
