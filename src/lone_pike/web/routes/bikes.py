"""Bikes: each with its drivetrain and the chains fitted to it."""

from fastapi import APIRouter, HTTPException
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.judging.answer import answer
from lone_pike.drawing.side_view import SideView, side_view
from lone_pike.formats.bike_file import bike_from_document, write_bike
from lone_pike.formats.measure_form import form_of
from lone_pike.formats.shop import Shop
from lone_pike.store.bikes import BikeRow, all_bikes, bike_by_id, fitted_to
from lone_pike.store.database import Database
from lone_pike.web.pages import page
from lone_pike.web.requests import Data, InShop

router = APIRouter(prefix="/bikes")


@router.get("")
def bikes(request: Request, data: Data, shop: InShop) -> Response:
    """All bikes."""
    rows = [(bike, fitted_to(data, bike.id)) for bike in all_bikes(data)]
    return page(request, "bikes.html", shop, {"rows": rows})


@router.get("/{bike_id}")
def bike(request: Request, bike_id: int, data: Data, shop: InShop) -> Response:
    """One bike and its history."""
    found = _bike(data, bike_id)
    form = form_of(found.document, shop.unit)
    context = {"bike": found, "form": form, "history": fitted_to(data, found.id), "side": _side_view(found, shop)}
    return page(request, "bike.html", shop, context)


@router.get("/{bike_id}/bike.json")
def bike_file(bike_id: int, data: Data) -> Response:
    """The bike's file."""
    headers = {"Content-Disposition": 'attachment; filename="bike.json"'}
    content = write_bike(bike_from_document(_bike(data, bike_id).document))
    return Response(content, media_type="application/json", headers=headers)


def _side_view(bike: BikeRow, shop: Shop) -> SideView | None:
    """The bike in big/big with its recommended count; None while it is not measured."""
    try:
        found = answer(bike_from_document(shop.under_rules(bike.document)))
    except InvalidInput:
        return None
    return side_view(found.sizing, found.gears[0], found.links)


def _bike(data: Database, bike_id: int) -> BikeRow:
    found = bike_by_id(data, bike_id) if bike_id < 2**63 else None
    if found is None:
        raise HTTPException(404, "There is no such bike here. Bikes lists all of them.")
    return found
