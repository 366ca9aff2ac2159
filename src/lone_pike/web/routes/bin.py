"""The bin: what was cut off and kept."""

from fastapi import APIRouter, HTTPException
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.core.chain.cutting import End
from lone_pike.drawing.strip import piece
from lone_pike.store.bin import offcuts, take_offcut
from lone_pike.web.pages import page, redirect
from lone_pike.web.requests import LARGEST_ID, Data, InShop, now
from lone_pike.web.views.listing import ForListing, pager_of

router = APIRouter(prefix="/bin")


@router.get("")
def bin_page(request: Request, data: Data, shop: InShop, listing: ForListing) -> Response:
    """The off-cuts."""
    rows = offcuts(data, listing.page)
    taken = request.query_params.get("taken", "")
    pieces = tuple(piece(row.links, End(row.first_end)) for row in rows)
    taken = taken if taken.isdecimal() else ""
    context = {"offcuts": rows, "pieces": pieces, "pager": pager_of("/bin", listing, rows), "taken": taken}
    return page(request, "bin.html", shop, context)


@router.post("/{offcut_id}/take")
def take(data: Data, offcut_id: int) -> Response:
    """Takes an off-cut out of the bin."""
    _take(data, offcut_id, now())
    return redirect(f"/bin?taken={offcut_id}")


@router.post("/{offcut_id}/lay-back")
def lay_back(data: Data, offcut_id: int) -> Response:
    """Lays an off-cut back that was taken."""
    _take(data, offcut_id, None)
    return redirect("/bin")


def _take(data: Data, offcut_id: int, when: str | None) -> None:
    with data.atomic() as connection:
        if not (0 < offcut_id < LARGEST_ID and take_offcut(connection, offcut_id, when)):
            raise HTTPException(404, "There is no such off-cut here. The bin lists all of them.")
