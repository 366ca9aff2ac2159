"""The shop: words, lengths and house rule, which every page and print follows."""

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.messages import Message
from lone_pike.formats.merging import merge, told_with_merge
from lone_pike.formats.shop import Shop, settings_message, settings_of, settings_typed, shop_from
from lone_pike.store.database import Database
from lone_pike.store.history import Stale, newest_of, revise, revision_by_id, step_back
from lone_pike.store.shop import shop_history, shop_history_to_write, shop_now
from lone_pike.web.pages import page, redirect
from lone_pike.web.requests import Data, Fields, InShop, TypedForm, now, seen_by, shop_of
from lone_pike.web.views.shop import shop_view

router = APIRouter(prefix="/shop")


@router.get("")
def shop_page(request: Request, data: Data, shop: InShop) -> HTMLResponse:
    """The settings, each in the words it makes."""
    return _shown(request, data, shop)


@router.post("")
def settle(request: Request, data: Data, form: Fields, shop: InShop) -> Response:
    """Keeps what was pressed or typed, merged with what was settled elsewhere since the page was made.

    A setting that there is not is refused, and nothing changes.
    """
    try:
        _keep(data, form)
    except InvalidInput as error:
        return _shown(request, data, shop, form, error.faults)
    return _answered(request, data)


@router.post("/undo")
def undo(request: Request, data: Data, form: Fields) -> Response:
    """Takes the change back that the page showed; never one that was made elsewhere since."""
    try:
        with data.atomic() as connection:
            history_id = shop_history(connection)
            if history_id is not None:
                step_back(connection, history_id, seen_by(form))
    except Stale as stale:
        told = Message("nothing_undone", last=stale.newest.message)
        return _shown(request, data, shop_of(data), told=(told,), status=409)
    return _answered(request, data)


def _keep(data: Database, form: TypedForm) -> None:
    with data.atomic() as connection:
        moment = now()
        history_id = shop_history_to_write(connection, moment)
        newest = newest_of(connection, history_id)
        base = revision_by_id(connection, history_id, seen_by(form)) or newest
        was, is_now = (settings_of(shop_from(one.content)) for one in (base, newest))
        merged = merge(was, is_now, settings_typed(shop_from(base.content), form), None)
        settings = settings_of(shop_from(merged.merged))
        if settings != is_now:
            message = told_with_merge(settings_message(is_now, settings), merged, _elsewhere_message)
            revise(connection, history_id, settings, message, moment)


def _elsewhere_message(elsewhere: dict[str, tuple[object, object]]) -> Message:
    """What was settled elsewhere."""
    before, after = ({name: change[i] for name, change in elsewhere.items()} for i in (0, 1))
    return settings_message(before, after)


def _answered(request: Request, data: Database) -> Response:
    return _shown(request, data, shop_of(data)) if request.headers.get("HX-Request") else redirect("/shop")


def _shown(
    request: Request,
    data: Database,
    shop: Shop,
    typed: TypedForm | None = None,
    faults: tuple[Fault, ...] = (),
    told: tuple[Message, ...] = (),
    status: int = 200,
) -> HTMLResponse:
    view = shop_view(shop, shop_now(data), typed or {}, faults, told)
    return page(request, "shop.html", shop, {"view": view}, 422 if faults else status, block="shop")
