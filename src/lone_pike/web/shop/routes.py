"""The shop: words, lengths and house rule, which every page and print follows."""

from dataclasses import dataclass, replace
from typing import Annotated, ClassVar, Self
from urllib.parse import urlsplit

from fastapi import APIRouter, Depends
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.messages import Message
from lone_pike.core.refusals import Stale
from lone_pike.store.shop import shop_now
from lone_pike.web.pages import page, redirect
from lone_pike.web.shop.view import backups_view, shop_view
from lone_pike.web.thing import NOT_REFUSED, Data, Fields, InShop, Refused, Thing, seen_by
from lone_pike.workshop.backups import back_up, backups_there
from lone_pike.workshop.clock import moment, now
from lone_pike.workshop.settings import settle, shop_of, undo_settings

router = APIRouter(prefix="/shop")


@dataclass(frozen=True)
class ShopRequest(Thing):
    """A request about the shop itself."""

    url: ClassVar[str] = "/shop"

    def shown(
        self, refused: Refused = NOT_REFUSED, notices: tuple[Message, ...] = (), status: int = 200
    ) -> HTMLResponse:
        """The settings, each with an example of what it changes."""
        shop = self.shop
        backups = backups_view(backups_there(self.data), shop, refused.typed, refused.faults, moment())
        view = shop_view(shop, shop_now(self.data), backups, refused.typed, refused.faults, notices)
        return page(self.request, "shop/shop.html", shop, {"view": view}, status, block="shop")

    def at_newest(self) -> Self:
        """This request with the settings as they are now."""
        return replace(self, shop=shop_of(self.data))


async def shop_request(request: Request, data: Data, shop: InShop) -> ShopRequest:
    """The request for the shop."""
    return ShopRequest(request, data, shop)


ForShop = Annotated[ShopRequest, Depends(shop_request)]


@router.get("")
def shop_page(shop: ForShop) -> HTMLResponse:
    """The settings, and the backups."""
    return shop.shown()


@router.post("")
def save_settings(shop: ForShop, form: Fields) -> Response:
    """Stores what was pressed or typed; an unknown setting is refused, and nothing changes."""
    to = redirect(_page_before(shop.request)) if form.get("stay") else None
    return shop.changed(form, lambda: settle(shop.data, seen_by(form), form, now()), lambda _: to or shop.done())


@router.post("/undo")
def undo(shop: ForShop, form: Fields) -> Response:
    """Undoes the change that the page showed, never one that was made elsewhere since."""
    try:
        undo_settings(shop.data, seen_by(form), now())
    except Stale as stale:
        return shop.at_newest().shown(notices=(stale.message,), status=409)
    return shop.done()


@router.post("/backup")
def backup(shop: ForShop) -> Response:
    """Makes a backup at once."""
    return shop.changed({}, lambda: back_up(shop.data, moment()))


def _page_before(request: Request) -> str:
    """The page of this workshop from which the form was sent."""
    before = urlsplit(request.headers.get("referer", ""))
    if before.netloc != request.headers.get("host") or not before.path.startswith("/"):
        return "/shop"
    return f"/{before.path.lstrip('/')}" + (f"?{before.query}" if before.query else "")
