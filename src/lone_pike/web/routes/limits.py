"""What the count does not know."""

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.web.pages import page
from lone_pike.web.requests import InShop
from lone_pike.wording.not_known import NOT_KNOWN

router = APIRouter(prefix="/limits")


@router.get("")
def limits(request: Request, shop: InShop) -> Response:
    """The page."""
    return page(request, "limits.html", shop, {"not_known": NOT_KNOWN})
