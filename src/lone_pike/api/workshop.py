"""The workshop for other programs: reading bikes, jobs, bin and chains, and the few writes that a till needs."""

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Depends, Query, Security
from fastapi.security import HTTPAuthorizationCredentials, HTTPBearer
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.api.models import (
    BikeOut,
    ChainOut,
    DueOut,
    JobOut,
    Made,
    NewJob,
    NewPiece,
    NewReading,
    Page,
    PieceOut,
)
from lone_pike.api.problems import responses
from lone_pike.core.chain.cutting import End
from lone_pike.core.chain.moves import PieceSource
from lone_pike.core.messages import LengthUnit
from lone_pike.formats.files.calendar_file import calendar_of
from lone_pike.formats.records.observed import Observed
from lone_pike.formats.typed.bin_form import TypedPiece
from lone_pike.store.access import TokenRow
from lone_pike.store.bikes import BikeRow, bikes_before
from lone_pike.store.bin import pieces_before
from lone_pike.store.chains import ChainRow, chains_before
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow, open_jobs_before
from lone_pike.store.ledger import PieceRow
from lone_pike.store.paging import LARGEST_ID, RowId
from lone_pike.wording.answers import due_events
from lone_pike.wording.units import DisplayUnits
from lone_pike.workshop.access import token_of
from lone_pike.workshop.bikes import bike_there
from lone_pike.workshop.bin import add_piece, label_of, line_of, piece_there
from lone_pike.workshop.chain_use import gauge
from lone_pike.workshop.chains import chain_there
from lone_pike.workshop.clock import now, today
from lone_pike.workshop.due import due_now
from lone_pike.workshop.edits import job_there
from lone_pike.workshop.jobs import start_new, start_on

MOST_ITEMS = 100
bearer = HTTPBearer(auto_error=False, description="A token that was made in Shop.")


def database_of(request: Request) -> Database:
    """The workshop's data file."""
    database: Database = request.app.state.database
    return database


Data = Annotated[Database, Depends(database_of)]


def known_program(data: Data, sent: Annotated[HTTPAuthorizationCredentials | None, Security(bearer)]) -> TokenRow:
    """The token that a program sent. Raises: HTTPException if it sent none that is in force."""
    token = token_of(data, sent.credentials, "program") if sent else None
    if token is None:
        raise HTTPException(401)
    return token


def known_feed(
    data: Data,
    sent: Annotated[HTTPAuthorizationCredentials | None, Security(bearer)],
    token: Annotated[str, Query(max_length=100, description="The token, for calendars that send no header.")] = "",
) -> TokenRow:
    """The token of a calendar or a printer, which send the token in the address."""
    secret = sent.credentials if sent else token
    found = token_of(data, secret, "program") if secret else None
    if found is None:
        raise HTTPException(401)
    return found


Cursor = Annotated[int | None, Query(ge=1, le=LARGEST_ID, description="Where the page before ended.")]
Limit = Annotated[int, Query(ge=1, le=MOST_ITEMS, description="How many items.")]

router = APIRouter(tags=["Workshop"], dependencies=[Depends(known_program)], responses=responses(401))
feeds = APIRouter(tags=["Workshop"], dependencies=[Depends(known_feed)], responses=responses(401))


@router.get("/bikes", responses=responses(422))
def bikes(data: Data, cursor: Cursor = None, limit: Limit = 50) -> Page[BikeOut]:
    """The bikes that are not put away."""
    found = bikes_before(data, cursor, limit)
    return Page(items=[_bike(row) for row in found.rows], next=found.next)


@router.get("/bikes/{bike_id}", responses=responses(404, 422))
def bike(data: Data, bike_id: RowId) -> BikeOut:
    """One bike."""
    return _bike(bike_there(data, bike_id))


@router.get("/jobs", responses=responses(422))
def jobs(data: Data, cursor: Cursor = None, limit: Limit = 50) -> Page[JobOut]:
    """The jobs in hand."""
    found = open_jobs_before(data, cursor, limit)
    return Page(items=[_job(row) for row in found.rows], next=found.next)


@router.get("/jobs/{job_id}", responses=responses(404, 422))
def job(data: Data, job_id: RowId) -> JobOut:
    """One job, whether in hand or not."""
    return _job(job_there(data, job_id))


@router.post("/jobs", status_code=201, responses=responses(404, 409, 422))
def new_job(data: Data, sent: NewJob) -> Made:
    """Starts a job with its complaint. If the bike has a job in hand, the complaint is added to that one, and it is the
    answer."""
    if sent.bike_id is None:
        return Made(id=start_new(data, now(), name=sent.name, complaint=sent.complaint, kind=sent.kind))
    return Made(id=start_on(data, sent.bike_id, now(), Observed(complaint=sent.complaint.strip())))


@router.get("/bin", responses=responses(422))
def pieces(data: Data, cursor: Cursor = None, limit: Limit = 50) -> Page[PieceOut]:
    """The pieces of chain in the bin, including those that jobs have reserved."""
    found = pieces_before(data, cursor, limit)
    return Page(items=[_piece(row) for row in found.rows], next=found.next)


@router.post("/bin", status_code=201, responses=responses(409, 422))
def lay_in(data: Data, sent: NewPiece) -> Made:
    """Adds a box or a piece to the bin. A code that is in the bin already is refused, so that nothing is added
    twice."""
    piece = TypedPiece(
        sent.links, End(sent.first_end), sent.speeds, sent.wear_percent, sent.kind, sent.width, sent.code
    )
    return Made(id=add_piece(data, piece, PieceSource.PROGRAM, now()))


@feeds.get("/bin/{piece_id}/label", responses=responses(404, 422) | {200: {"content": {"text/plain": {}}}})
def label(data: Data, piece_id: RowId) -> Response:
    """The line of a piece's label, as a scanner reads it."""
    return Response(f"{line_of(piece_there(data, piece_id))}\n", media_type="text/plain")


@feeds.get("/bin/{piece_id}/label.svg", responses=responses(404, 422) | {200: {"content": {"image/svg+xml": {}}}})
def drawn_label(data: Data, piece_id: RowId) -> Response:
    """A piece's label to print, 62 by 29 mm."""
    return Response(label_of(piece_there(data, piece_id), DisplayUnits()), media_type="image/svg+xml")


@router.get("/chains", responses=responses(422))
def chains(
    data: Data, state: Literal["on", "hung", "ended"] = "on", cursor: Cursor = None, limit: Limit = 50
) -> Page[ChainOut]:
    """The chains on bikes, hung up, or ended."""
    found = chains_before(data, state, cursor, limit)
    return Page(items=[_chain(row) for row in found.rows], next=found.next)


@router.get("/chains/{chain_id}", responses=responses(404, 422))
def chain(data: Data, chain_id: RowId) -> ChainOut:
    """One chain."""
    return _chain(chain_there(data, chain_id))


@router.post("/chains/{chain_id}/readings", status_code=201, responses=responses(404, 409, 422))
def new_reading(data: Data, chain_id: RowId, sent: NewReading) -> ChainOut:
    """Adds a reading to a chain. If it is sent twice with the same saw, it is added once."""
    given = sent.model_dump(mode="json", exclude_none=True, exclude={"saw", "same_way"})
    form = {name: str(value) for name, value in given.items()} | ({"same_way": "1"} if sent.same_way else {})
    return _chain(gauge(data, chain_id, form, LengthUnit.MM, sent.saw, now()))


@router.get("/due")
def due(data: Data) -> list[DueOut]:
    """The chains that are due, soonest first."""
    return [DueOut(**{name: getattr(row, name) for name in DueOut.model_fields}) for row in due_now(data, today())]


@feeds.get("/due.ics", responses=responses(422) | {200: {"content": {"text/calendar": {}}}})
def calendar(data: Data) -> Response:
    """The due chains as a calendar, to subscribe to."""
    return Response(calendar_of(due_events(due_now(data, today()), DisplayUnits())), media_type="text/calendar")


def _bike(row: BikeRow) -> BikeOut:
    about = {"id": row.id, "name": row.name, "owner_word": row.owner_word, "story": row.story}
    return BikeOut(**about, open_job=row.open_job_id, bike=row.document)


def _job(row: JobRow) -> JobOut:
    about: dict[str, Any] = {name: getattr(row, name) for name in ("id", "bike_id", "stage", "complaint")}
    times = {name: getattr(row, name) for name in ("opened_at", "booked_at", "closed_at")}
    return JobOut(**about, **times, revision=row.revision_id, links=row.chosen_links, bike=row.document)


def _piece(row: PieceRow) -> PieceOut:
    return PieceOut(**{name: getattr(row, name) for name in PieceOut.model_fields})


def _chain(row: ChainRow) -> ChainOut:
    content = row.life.model_dump(mode="json", exclude_none=True)
    return ChainOut(
        id=row.id, state=row.state, bike_id=row.bike_id, bike=row.bike, revision=row.revision_id, chain=content
    )
