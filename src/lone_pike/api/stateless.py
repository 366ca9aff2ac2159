"""Operations that need no workshop: sizing a bike, forecasting a chain, planning a cut, and the schemas of the files.

Their results are plain data already and are sent without another check, which would take two more changes of thread.
"""

from dataclasses import asdict
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query
from starlette.requests import Request
from starlette.responses import JSONResponse

from lone_pike.api.problems import responses
from lone_pike.core.bike.limits import LEAST_LINKS, MOST_LINKS
from lone_pike.core.chain.plan import cuts_for, missing_links
from lone_pike.core.count.answer import answer
from lone_pike.filed import forecast_of, sized
from lone_pike.formats.files.bike_file import read_bike, schema
from lone_pike.formats.files.chain_file import chain_schema

router = APIRouter(tags=["Without a workshop"])
BIKE: dict[str, Any] = {
    "lone_pike": 1,
    "name": "Otter",
    "rings": [30],
    "cogs": [11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46],
    "chainstay_mm": 432,
    "take_up": {"type": "derailleur", "cage_mm": 92, "b_gap_mm": 6},
    "chain": {"speeds": 11, "joiner": "locking_link", "box_links": 118},
}
CHAIN: dict[str, Any] = {
    "lone_pike_chain": 1,
    "name": "Otter 1",
    "links": 112,
    "speeds": 11,
    "fitted": "2026-03-02",
    "km_now": 2300,
    "readings": [
        {"date": "2026-05-02", "km": 900, "way": "past", "pitches": 24, "sixteenths": 0.5},
        {"date": "2026-07-12", "km": 2100, "way": "ruler", "pitches": 24, "mm": 305.9},
    ],
}


async def body_of(request: Request) -> bytes:
    """The body of the request, unread."""
    return await request.body()


Body = Annotated[bytes, Depends(body_of)]


def takes(schema_name: str, example: dict[str, Any]) -> dict[str, Any]:
    """The description of an operation's request body."""
    content = {"schema": {"$ref": f"#/components/schemas/{schema_name}"}, "example": example}
    return {"requestBody": {"required": True, "content": {"application/json": content}}}


@router.post("/size", responses=responses(422), openapi_extra=takes("Bike", BIKE), summary="Size a bike")
def size(body: Body) -> JSONResponse:
    """The count for a bike file, its safe window, every method's vote, every gear, and how sure it is."""
    return JSONResponse(sized(body).whole())


@router.post("/wear", responses=responses(422), openapi_extra=takes("ChainFile", CHAIN), summary="Forecast a chain")
def wear(body: Body) -> JSONResponse:
    """How worn a chain is by its readings, and when it is due."""
    return JSONResponse(forecast_of(body).whole())


@router.post("/cut", responses=responses(422), openapi_extra=takes("Bike", BIKE), summary="Plan the cut")
def cut(
    body: Body,
    links: Annotated[
        int | None, Query(ge=LEAST_LINKS, le=MOST_LINKS, description="The count; the bike's own where left out.")
    ] = None,
) -> JSONResponse:
    """Which rivets to push so that box and pieces at hand make a count, and what each end must be."""
    bike = read_bike(body)
    count = links or answer(bike).links
    cuts = [asdict(one) for one in cuts_for(bike, count)]
    return JSONResponse({"links": count, "missing_links": missing_links(bike, count), "cuts": cuts})


@router.get("/schema", summary="The bike file's schema")
def bike_schema() -> JSONResponse:
    """JSON Schema of the bike file."""
    return JSONResponse(schema())


@router.get("/schema/chain", summary="The chain file's schema")
def chain_file_schema() -> JSONResponse:
    """JSON Schema of the chain file."""
    return JSONResponse(chain_schema())
