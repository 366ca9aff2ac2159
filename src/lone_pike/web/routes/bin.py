"""The bin: what was cut off and kept."""

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.store.bin import offcuts
from lone_pike.web.pages import page
from lone_pike.web.requests import Data, InShop
from lone_pike.web.views.listing import ForListing, pager_of

router = APIRouter(prefix="/bin")


@router.get("")
def bin_page(request: Request, data: Data, shop: InShop, listing: ForListing) -> Response:
    """The off-cuts."""
    rows = offcuts(data, listing.page)
    return page(request, "bin.html", shop, {"offcuts": rows, "pager": pager_of("/bin", listing, rows)})
