"""One chain: its page, readings, distances, putting it on and taking it off, its end, and undo."""

from collections.abc import Callable

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import InvalidInput, invalid
from lone_pike.core.messages import Message, Quantity, Raw, Unit
from lone_pike.core.wear.life import chain_file_of
from lone_pike.core.wear.replacing import limit_percent
from lone_pike.core.wear.rides import km
from lone_pike.formats.files.chain_file import write_chain
from lone_pike.formats.files.chain_table import chain_table
from lone_pike.formats.files.ride_files import read_rides
from lone_pike.formats.records.shop import Shop
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.store.bikes import bike_by_id, bikes_named
from lone_pike.store.chains import ChainRow
from lone_pike.store.database import Database
from lone_pike.store.paging import RowId, row_id
from lone_pike.web.dear import dear_work
from lone_pike.web.pages import attached, page, redirect, units_of
from lone_pike.web.pictures import drawn
from lone_pike.web.requests import Data, Fields, InShop, SentRides, TypedForm, seen_by
from lone_pike.web.views.places.chain import Asked, chain_view, line_of
from lone_pike.workshop import chain_places, chain_use
from lone_pike.workshop.chain_use import RidesAdded
from lone_pike.workshop.chains import chain_there, standing_of, undo
from lone_pike.workshop.clock import now, today

router = APIRouter(prefix="/chains/{chain_id}")


@router.get("")
def chain_page(request: Request, data: Data, shop: InShop, chain_id: RowId) -> Response:
    """The chain."""
    return _shown(request, data, shop, chain_there(data, chain_id))


@router.post("/gauge")
def gauge(request: Request, data: Data, shop: InShop, chain_id: RowId, form: Fields) -> Response:
    """Adds a reading."""
    return _kept(
        request,
        data,
        shop,
        chain_id,
        form,
        lambda: chain_use.gauge(data, chain_id, form, shop.unit, seen_by(form), now()),
    )


@router.post("/reading-out")
def let_reading_go(request: Request, data: Data, shop: InShop, chain_id: RowId, form: Fields) -> Response:
    """Removes a reading."""
    place = whole_number(form.get("place", ""), 4)
    row = chain_use.let_reading_go(data, chain_id, -1 if place is None else place, seen_by(form), now())
    return _done(request, data, shop, row)


@router.post("/distance")
def tell_distance(request: Request, data: Data, shop: InShop, chain_id: RowId, form: Fields) -> Response:
    """Stores the whole distance, or the reading of an odometer."""
    return _kept(
        request, data, shop, chain_id, form, lambda: chain_use.tell_distance(data, chain_id, form, now()), tells=True
    )


@router.post("/rides")
def add_rides(request: Request, data: Data, shop: InShop, chain_id: RowId, sent: SentRides) -> Response:
    """Adds the rides in files, each to the chain that was on the bike that day."""
    chain_there(data, chain_id)
    try:
        read = dear_work(request).rides.run(read_rides, sent.files, today())
        added = chain_use.add_rides(data, chain_id, read.rides, now())
    except InvalidInput as error:
        return _refused(request, data, shop, chain_id, sent.fields, error)
    row = chain_there(data, chain_id)
    asked = Asked((*_added(added), *read.odd), read.faults)
    return _shown(request, data, shop, row, asked, 422 if read.faults else 200)


@router.post("/words")
def keep_words(request: Request, data: Data, shop: InShop, chain_id: RowId, form: Fields) -> Response:
    """Stores the fields of the chain itself."""
    return _kept(
        request, data, shop, chain_id, form, lambda: chain_use.keep_words(data, chain_id, form, shop.unit, now())
    )


@router.post("/put-on")
def put_on(request: Request, data: Data, shop: InShop, chain_id: RowId, form: Fields) -> Response:
    """Puts it on a bike, which is named by its number or its name."""
    return _kept(
        request,
        data,
        shop,
        chain_id,
        form,
        lambda: chain_places.put_on(data, chain_id, _bike_asked(data, form), form, now()),
    )


@router.post("/take-off")
def take_off(request: Request, data: Data, shop: InShop, chain_id: RowId, form: Fields) -> Response:
    """Takes it off its bike."""
    return _kept(request, data, shop, chain_id, form, lambda: chain_places.take_off(data, chain_id, form, now()))


@router.post("/end")
def end(request: Request, data: Data, shop: InShop, chain_id: RowId, form: Fields) -> Response:
    """Ends its life."""
    return _kept(request, data, shop, chain_id, form, lambda: chain_places.end(data, chain_id, form, now()))


@router.post("/undo")
def undo_change(request: Request, data: Data, shop: InShop, chain_id: RowId, form: Fields) -> Response:
    """Takes back the change that the page showed."""
    undo(data, chain_id, seen_by(form), now())
    return _done(request, data, shop, chain_there(data, chain_id))


@router.get("/chain.json")
def chain_json(data: Data, shop: InShop, chain_id: RowId) -> Response:
    """The chain's file, in the format that the command reads."""
    row = chain_there(data, chain_id)
    most = limit_percent(row.life.speeds, shop.wear_school)
    return attached(write_chain(chain_file_of(row.life, most, today())), "chain.json", "application/json")


@router.get("/chain.csv")
def chain_csv(data: Data, chain_id: RowId) -> Response:
    """Its distances and readings as a table."""
    return attached(chain_table(chain_there(data, chain_id).life), "chain.csv", "text/csv; charset=utf-8")


@router.get("/wear.svg")
def wear_svg(data: Data, shop: InShop, chain_id: RowId) -> Response:
    """The wear line as a picture file."""
    life = chain_there(data, chain_id).life
    line = line_of(life, standing_of(data, life, shop, today()), today())
    return attached(drawn("wear", "wear", line, units_of(shop)), "wear.svg", "image/svg+xml")


def _bike_asked(data: Database, form: TypedForm) -> int:
    """The bike that a button or a typed name means. Raises: InvalidInput."""
    if form.get("bike_id"):
        return row_id(form["bike_id"])
    name = form.get("bike", "").strip()
    found = bikes_named(data, name)
    if len(found) != 1:
        allowed = Message("two_bikes", many=Quantity(len(found), Unit.NUMBER)) if found else Message("a_bike_by_name")
        raise invalid("bike", Raw(name[:40] or None), allowed)
    return found[0]


def _added(added: RidesAdded) -> tuple[Message, ...]:
    """The outcome of importing rides, as sentences."""
    said = [Message("rides_added", rides=Quantity(added.rides, Unit.NUMBER), km=km(added.km))]
    others = {"rides_twice": added.there_already, "rides_counted": added.counted, "rides_outside": added.outside}
    said += [Message(code, rides=Quantity(count, Unit.RIDES)) for code, count in others.items() if count]
    return tuple(said)


def _kept(
    request: Request,
    data: Database,
    shop: Shop,
    chain_id: int,
    form: TypedForm,
    keep: Callable[[], ChainRow],
    *,
    tells: bool = False,
) -> Response:
    """The page after a change, or with what could not be stored. Parameters: tells, whether the change is announced."""
    try:
        row = keep()
    except InvalidInput as error:
        return _refused(request, data, shop, chain_id, form, error)
    return _done(request, data, shop, row, (row.message,) if tells else ())


def _refused(
    request: Request, data: Database, shop: Shop, chain_id: int, form: TypedForm, error: InvalidInput
) -> HTMLResponse:
    asked = Asked(faults=error.faults, typed=form)
    return _shown(request, data, shop, chain_there(data, chain_id), asked, 422)


def _done(request: Request, data: Database, shop: Shop, row: ChainRow, notices: tuple[Message, ...] = ()) -> Response:
    if request.headers.get("HX-Request"):
        return _shown(request, data, shop, row, Asked(notices))
    return redirect(f"/chains/{row.id}")


def _shown(
    request: Request, data: Database, shop: Shop, row: ChainRow, asked: Asked | None = None, status: int = 200
) -> HTMLResponse:
    standing = standing_of(data, row.life, shop, today())
    numbers = dict.fromkeys(stay.bike_id for stay in reversed(row.life.stays))
    bikes = tuple((one, bike.name) for one in numbers if (bike := bike_by_id(data, one)))
    view = chain_view(row, standing, bikes, today(), shop.unit, asked or Asked())
    return page(request, "chain.html", shop, {"view": view}, status, block="chain")
