"""The shop: words, lengths and house rule, which every page and print follows."""

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.limits import LIMITS
from lone_pike.formats.shop import LABELS, Shop, change_in_words, changed
from lone_pike.store.database import Database
from lone_pike.store.shop import save_settings, shop_now, undo_shop
from lone_pike.web.pages import page, redirect
from lone_pike.web.requests import Data, Fields, InShop, TypedForm, now, shop_of

router = APIRouter(prefix="/shop")
RULES = {
    "window": "Safe at both ends, and nearest to 45° short of straight in big/big.",
    "bare_wrap_1_pair": "The bare wrap, up to where it joins, and a pair: the common rule.",
    "bare_wrap_2_pairs": "The same and another pair: for wide single-ring cassettes.",
    "formula": "Twice the chainstay, a quarter of ring and cog, and one inch: a desk estimate.",
    "cage_vertical": "Pulleys plumb in biggest ring and smallest cog: short cages.",
    "slack_test": "The longest that stays off the guide pulley in small/small.",
    "least_tension": "The longest at which the cage still takes some tension in small/small.",
    "old_chain": "As many as the chain that came off, where it ran well.",
}
"""Each house rule in a sentence."""


@router.get("")
def shop_page(request: Request, data: Data, shop: InShop) -> HTMLResponse:
    """The settings, each in the words it makes."""
    return _shown(request, data, shop)


@router.post("")
def settle(request: Request, data: Data, form: Fields, shop: InShop) -> Response:
    """Keeps what was pressed or typed. A setting that there is not is refused, and nothing changes."""
    try:
        settled = changed(shop, form)
    except InvalidInput as refused:
        return _shown(request, data, shop, form, refused.faults)
    if settled != shop:
        save_settings(data, settled.model_dump(), change_in_words(shop, settled), now())
    return _answered(request, data, settled)


@router.post("/undo")
def undo(request: Request, data: Data) -> Response:
    """Takes the last change back."""
    undo_shop(data, now())
    return _answered(request, data, shop_of(data))


def _answered(request: Request, data: Database, shop: Shop) -> Response:
    if request.headers.get("HX-Request"):
        return _shown(request, data, shop)
    return redirect("/shop")


def _shown(
    request: Request, data: Database, shop: Shop, typed: TypedForm | None = None, faults: tuple[Fault, ...] = ()
) -> HTMLResponse:
    limits = {
        "least_reserve_deg": f"{shop.least_reserve_deg:g}",
        "least_clearance_mm": shop.words.number(shop.least_clearance_mm),
    }
    context = {
        "row": shop_now(data),
        "limits": tuple(one for one in LIMITS.values() if not one.shop_may_change),
        "own": limits | {name: text for name, text in (typed or {}).items() if name in limits},
        "rules": RULES,
        "labels": LABELS,
        "faults": {fault.field: fault for fault in faults},
    }
    return page(request, "shop.html", shop, context, 422 if faults else 200, block="shop")
