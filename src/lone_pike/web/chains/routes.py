"""Chains: the lists, what is due, the calendar, and what each limit costs."""

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.wear.costs import MOST_IN_TURN
from lone_pike.core.wear.forecast import usual_of
from lone_pike.formats.files.calendar_file import calendar_of
from lone_pike.formats.records.shop import Shop
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.store.chains import STATES, DueCount, chains_like, due_count, rates_of_all
from lone_pike.store.database import Database
from lone_pike.store.shop import shop_now
from lone_pike.web.chains.costs import costs_view
from lone_pike.web.chains.view import chains_view, due_view
from lone_pike.web.listing import ForListing
from lone_pike.web.pages import page, redirect, units_of
from lone_pike.web.thing import Data, Fields, InShop, TypedForm, seen_by
from lone_pike.wording.answers import due_events
from lone_pike.workshop.clock import now, today
from lone_pike.workshop.due import due_chains, due_now, order_for, standing_rows
from lone_pike.workshop.settings import settle

router = APIRouter(prefix="/chains")
MOST_SHOWN = 20


@router.get("")
def chains(request: Request, data: Data, shop: InShop, listing: ForListing, state: str = "on") -> Response:
    """The chains on bikes, soonest due first; or those hung up, or ended."""
    state = state if state in STATES else "on"
    rows = chains_like(data, state, listing.find, listing.page, MOST_SHOWN)
    view = chains_view(rows, standing_rows(data, rows.rows, shop, today()), listing, state, _count(data), today())
    return page(request, "chains/chains.html", shop, {"view": view}, block="list")


@router.get("/due")
def due(request: Request, data: Data, shop: InShop, listing: ForListing) -> Response:
    """What is due, soonest first, and what to order."""
    rows = due_chains(data, today(), listing.page, MOST_SHOWN)
    chains = standing_rows(data, rows.rows, shop, today())
    order = order_for(data, due_now(data, today()))
    view = due_view(rows, chains, listing, _count(data), order, today())
    return page(request, "chains/due.html", shop, {"view": view, "feed": str(request.url_for("calendar"))})


@router.get("/due.ics", name="calendar")
def calendar(data: Data, shop: InShop) -> Response:
    """The due chains as a calendar, to be saved or subscribed to."""
    content = calendar_of(due_events(due_now(data, today()), units_of(shop)))
    headers = {"Content-Disposition": 'inline; filename="chains-due.ics"'}
    return Response(content, media_type="text/calendar", headers=headers)


@router.get("/costs")
def costs(request: Request, data: Data, shop: InShop, turn: str = "1") -> Response:
    """What each limit costs over 1 000 km."""
    return _costs(request, data, shop, turn)


@router.post("/costs")
def keep_prices(request: Request, data: Data, shop: InShop, form: Fields) -> Response:
    """Stores prices and lives."""
    turn = form.get("turn", "1")
    try:
        settle(data, seen_by(form), form, now())
    except InvalidInput as error:
        return _costs(request, data, shop, turn, form, error.faults)
    return redirect(f"/chains/costs?turn={whole_number(turn, 1) or 1}")


def _costs(
    request: Request,
    data: Database,
    shop: Shop,
    turn: str,
    typed: TypedForm | None = None,
    faults: tuple[Fault, ...] = (),
) -> HTMLResponse:
    in_turn = min(max(whole_number(turn, 1) or 1, 1), MOST_IN_TURN)
    usual = usual_of(rates_of_all(data.connection))
    view = costs_view(shop, usual, in_turn, shop_now(data).revision_id, typed or {}, faults)
    return page(request, "chains/costs.html", shop, {"view": view}, 422 if faults else 200)


def _count(data: Database) -> DueCount:
    return due_count(data, today().isoformat())
