"""Long lists in pages: the database reads the rows of one page, and checks whether there is another."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, Generic, TypeVar

from pydantic import AfterValidator

from lone_pike.formats.typed.parsing import whole_number
from lone_pike.store.database import Database

Row = TypeVar("Row")
LARGEST_ID, LONGEST_ID = 2**63 - 1, 18
MOST_PAGES = 100_000
LONGEST_SEARCH = 80


@dataclass(frozen=True)
class Listed(Generic[Row]):
    """One page of a list, numbered from 1; more says whether another follows."""

    rows: tuple[Row, ...]
    page: int
    more: bool

    def __iter__(self) -> Iterator[Row]:
        return iter(self.rows)


def listed(
    database: Database, sql: str, values: Mapping[str, object], page: int, size: int, read: Callable[..., Row]
) -> Listed[Row]:
    """A page of a query's rows. Parameters: sql without a limit; page from 1; size, rows."""
    page = within_pages(page)
    rows = database.connection.execute(
        f"{sql} LIMIT :most OFFSET :first", {**values, "most": size + 1, "first": (page - 1) * size}
    ).fetchall()
    return Listed(tuple(read(row) for row in rows[:size]), page, len(rows) > size)


def within_rows(number: int) -> int:
    """A row's id; 0, which no row has, if the data file cannot contain it."""
    return number if 0 < number <= LARGEST_ID else 0


RowId = Annotated[int, AfterValidator(within_rows)]
"""A row's id in an address."""


def row_id(text: str) -> int:
    """A row's id in a form or on a label; 0, which no row has, if it cannot be read."""
    return within_rows(whole_number(text, LONGEST_ID) or 0)


def within_pages(page: int) -> int:
    """The number of a page, limited to what can be shown."""
    return min(max(page, 1), MOST_PAGES)


@dataclass(frozen=True)
class After(Generic[Row]):
    """Rows from a cursor on, newest first; next is the cursor for those that follow, None at the end."""

    rows: tuple[Row, ...]
    next: int | None


def rows_before(
    database: Database, sql: str, key: str, before: int | None, size: int, read: Callable[..., Row]
) -> After[Row]:
    """The rows of a query with a key below a cursor, the largest first, so that rows added meanwhile shift nothing.

    Parameters: sql, with its WHERE; key, the column of the row's id; size, rows.
    """
    asked = f"{sql} AND {key} < :before ORDER BY {key} DESC LIMIT :most"
    rows = database.connection.execute(asked, {"before": before or LARGEST_ID, "most": size + 1}).fetchall()
    shown = rows[:size]
    return After(tuple(read(row) for row in shown), int(shown[-1]["id"]) if len(rows) > size else None)
