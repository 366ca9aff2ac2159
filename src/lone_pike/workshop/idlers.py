"""Edits of a long chain's route: idlers are added, moved, described, swapped and removed, each as a new revision."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from lone_pike.core.bike.base import Run
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.bike.limits import MOST_IDLERS, limit
from lone_pike.core.bike.teeth import pitch_radius_mm
from lone_pike.core.messages import LengthUnit, Message, Term, Unit, mm, number, teeth
from lone_pike.core.refusals import Unfit
from lone_pike.core.route.routing import idler_message
from lone_pike.formats.files.bike_file import bike_from_document
from lone_pike.formats.records.shop import Shop
from lone_pike.formats.typed.idler_form import (
    NUDGES,
    Row,
    Rows,
    added,
    described,
    moved,
    nudged,
    removed,
    rows_of,
    swapped,
    taped,
)
from lone_pike.formats.typed.measure_form import with_readings
from lone_pike.formats.typed.parsing import Reading, parse_quantity, whole_number
from lone_pike.formats.typed.rows import tube_text
from lone_pike.store.bikes import Document
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobState
from lone_pike.workshop.edits import edit_job, form_edit, job_there
from lone_pike.workshop.settings import shop_of

FARTHEST_MM = limit("farthest_axle")


@dataclass(frozen=True)
class RoutePressed:
    """The outcome of an edit: the index of the selected idler, or None."""

    place: int | None


def press_route(
    database: Database, job_id: int, saw: int | None, form: Mapping[str, str], unit: LengthUnit, now: str
) -> RoutePressed:
    """Stores one edit of the route. The form names the edit in `do` and the idler, counted from 1, in `idler`.

    Raises: Unfit if there is no such edit, or the bike is not measured yet; InvalidInput, by the idler's field;
    NotThere, NotOpen.
    """
    bike = routed_bike(job_there(database, job_id).document, shop_of(database))
    if bike is None:
        raise Unfit("measure_before_route")
    made: list[tuple[Rows, Message]] = []

    def with_rows(base: JobState) -> JobState:
        rows, message = _press(rows_of(base.document), form, bike, unit)
        made.append((rows, message))
        idlers = Reading(list(rows.idlers) or None)
        return replace(base, document=with_readings(base.document, {"idlers": idlers}))

    edit_job(database, job_id, saw, with_rows, now, lambda _: made[-1][1])
    return RoutePressed(made[-1][0].place)


def keep_tubes(
    database: Database, job_id: int, saw: int | None, form: Mapping[str, str], unit: LengthUnit, now: str
) -> None:
    """Stores the tubes as they were typed, column by column. Raises: NotThere, NotOpen."""
    tubes = {"tubes": tube_text(form)}
    edit_job(database, job_id, saw, lambda base: form_edit(base, tubes, unit).state, now)


def routed_bike(document: Document, shop: Shop) -> Bike | None:
    """The bike of a document, whether or not its route can work; None if the document is not complete, or its kind has
    no idlers."""
    try:
        bike = bike_from_document(shop.under_rules(document))
    except InvalidInput:
        return None
    return bike if bike.take_up.has_route else None


def idler_place(form: Mapping[str, str]) -> int | None:
    """The index of the idler that a form is about."""
    place = whole_number(form.get("idler", ""), 2)
    return place - 1 if place else None


def dragged_to(form: Mapping[str, str]) -> tuple[float, float]:
    """The place to which an idler was dragged, mm, limited to where parts of a bike can be."""
    x_mm, y_mm = (min(max(_number(form.get(axis, "")), -FARTHEST_MM), FARTHEST_MM) for axis in ("x", "y"))
    return x_mm, y_mm


def _press(rows: list[Row], form: Mapping[str, str], bike: Bike, unit: LengthUnit) -> tuple[Rows, Message]:
    """The rows after an edit, and the history's message. Raises: Unfit, InvalidInput."""
    do = form.get("do", "")
    if do == "add" and form.get("run") in tuple(Run):
        if len(rows) >= MOST_IDLERS:
            raise Unfit("no_more_idlers", most=number(MOST_IDLERS))
        radii = (float(pitch_radius_mm(size)) for size in (bike.largest_ring, bike.largest_cog))
        made = added(rows, Run(form["run"]), bike.axle_xy_mm, *radii)
        return made, Message("idler_added", idler=_name(made))
    if do == "swap" and rows:
        return swapped(rows), Message("runs_swapped")
    place = idler_place(form)
    if place is None or place >= len(rows):
        raise Unfit("no_such_idler")
    if do == "remove":
        return removed(rows, place), Message("idler_removed", idler=_name(Rows(tuple(rows), place)))
    presses: dict[str, Callable[[], Rows]] = {
        "drag": lambda: moved(rows, place, dragged_to(form)),
        "nudge": lambda: nudged(rows, place, form.get("to", ""), _number(form.get("by", "1"))),
        "tell": lambda: described(rows, place, form, unit),
        "tapes": lambda: taped(rows, place, form, unit, bike.axle_xy_mm),
    }
    if do not in presses or (do == "nudge" and form.get("to") not in NUDGES):
        raise Unfit("no_such_press")
    made = presses[do]()
    return made, _message(made, before=rows[place], by_tapes=do == "tapes")


def _message(made: Rows, before: Row, *, by_tapes: bool) -> Message:
    row = made.idlers[made.place or 0]
    if row["at_mm"] != before["at_mm"]:
        forward, up = row["at_mm"]
        place = {"forward": mm(forward), "up": mm(up)}
        if by_tapes:
            return Message("idler_taped", idler=_name(made), about=mm(row.get("about_mm", 0.0)), **place)
        return Message("idler_placed", idler=_name(made), **place)
    return Message("idler_told", idler=_name(made), side=Term("side", row["chain"]), teeth=teeth(row["teeth"]))


def _name(made: Rows) -> Message:
    """The pressed idler's name, by its run."""
    return idler_message([Run(row["run"]) for row in made.idlers], made.place or 0)


def _number(text: str) -> float:
    """A number that the page wrote into the form; 0 if it is not a number."""
    value = parse_quantity(text, Unit.MM).value
    return float(value) if isinstance(value, int | float) else 0.0
