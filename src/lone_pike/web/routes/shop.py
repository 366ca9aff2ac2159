"""The shop: words, lengths and house rule, which every page and print follows."""

from urllib.parse import urlsplit

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.messages import Message
from lone_pike.core.refusals import Stale
from lone_pike.formats.records.shop import Shop
from lone_pike.store.database import Database
from lone_pike.store.shop import shop_now
from lone_pike.web.pages import page, redirect
from lone_pike.web.requests import Data, Fields, InShop, TypedForm, seen_by
from lone_pike.web.views.places.shop import backups_view, shop_view
from lone_pike.workshop.backups import back_up, backups_there
from lone_pike.workshop.clock import moment, now
from lone_pike.workshop.settings import settle, shop_of, undo_settings

router = APIRouter(prefix="/shop")


@router.get("")
def shop_page(request: Request, data: Data, shop: InShop) -> HTMLResponse:
    """The settings, each with an example of what it changes."""
    return _shown(request, data, shop)


@router.post("")
def save_settings(request: Request, data: Data, form: Fields, shop: InShop) -> Response:
    """Stores what was pressed or typed; an unknown setting is refused, and nothing changes."""
    try:
        settle(data, seen_by(form), form, now())
    except InvalidInput as error:
        return _shown(request, data, shop, form, error.faults)
    return redirect(_page_before(request)) if form.get("stay") else _answered(request, data)


@router.post("/undo")
def undo(request: Request, data: Data, form: Fields) -> Response:
    """Undoes the change that the page showed, never one that was made elsewhere since."""
    try:
        undo_settings(data, seen_by(form), now())
    except Stale as stale:
        return _shown(request, data, shop_of(data), announcements=(stale.message,), status=409)
    return _answered(request, data)


@router.post("/backup")
def backup(request: Request, data: Data, shop: InShop) -> Response:
    """Makes a backup at once."""
    try:
        back_up(data, moment())
    except InvalidInput as error:
        return _shown(request, data, shop, faults=error.faults)
    return _answered(request, data)


def _page_before(request: Request) -> str:
    """The page of this workshop from which the form was sent."""
    before = urlsplit(request.headers.get("referer", ""))
    if before.netloc != request.headers.get("host") or not before.path.startswith("/"):
        return "/shop"
    return f"/{before.path.lstrip('/')}" + (f"?{before.query}" if before.query else "")


def _answered(request: Request, data: Database) -> Response:
    return _shown(request, data, shop_of(data)) if request.headers.get("HX-Request") else redirect("/shop")


def _shown(
    request: Request,
    data: Database,
    shop: Shop,
    typed: TypedForm | None = None,
    faults: tuple[Fault, ...] = (),
    announcements: tuple[Message, ...] = (),
    status: int = 200,
) -> HTMLResponse:
    backups = backups_view(backups_there(data), shop, typed or {}, faults, moment())
    view = shop_view(shop, shop_now(data), backups, typed or {}, faults, announcements)
    return page(request, "shop.html", shop, {"view": view}, 422 if faults else status, block="shop")
