"""The page of a list: its number, the search, and the links to the pages before and after."""

from dataclasses import dataclass
from typing import Annotated
from urllib.parse import urlencode

from fastapi import Depends
from starlette.requests import Request

from lone_pike.formats.typed.parsing import whole_number
from lone_pike.store.paging import LONGEST_SEARCH, MOST_PAGES, Listed, Row


@dataclass(frozen=True)
class Listing:
    """The page number in the address, from 1, and the search."""

    page: int
    find: str

    def url(self, path: str, page: int, state: str = "") -> str:
        """The address of another page of the same search."""
        each = (("state", state), ("find", self.find), ("page", page if page > 1 else ""))
        asked = {name: value for name, value in each if value}
        return f"{path}?{urlencode(asked)}" if asked else path


@dataclass(frozen=True)
class Pager:
    """The search, and the addresses of the pages before and after, or None."""

    path: str
    find: str
    before_url: str | None
    after_url: str | None
    state: str = ""


async def listing_of(request: Request) -> Listing:
    """Which page an address asks for; an unreadable number means page 1."""
    asked = whole_number(request.query_params.get("page", ""), 8) or 1
    return Listing(min(max(asked, 1), MOST_PAGES), request.query_params.get("find", "").strip()[:LONGEST_SEARCH])


def pager_of(path: str, listing: Listing, rows: Listed[Row], state: str = "") -> Pager:
    """The links from one page to those before and after. Parameters: state, the state of the rows for a list that has
    several."""
    return Pager(
        path,
        listing.find,
        listing.url(path, rows.page - 1, state) if rows.page > 1 else None,
        listing.url(path, rows.page + 1, state) if rows.more else None,
        state,
    )


ForListing = Annotated[Listing, Depends(listing_of)]
