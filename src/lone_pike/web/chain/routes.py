"""One chain: its page, readings, distances, putting it on and taking it off, its end, and undo."""

from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Depends
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import InvalidInput, invalid
from lone_pike.core.messages import Message, Quantity, Raw, Unit
from lone_pike.core.wear.life import chain_file_of
from lone_pike.core.wear.replacing import limit_percent
from lone_pike.core.wear.rides import km
from lone_pike.formats.files.chain_file import chain_table, write_chain
from lone_pike.formats.files.ride_files import read_rides
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.store.bikes import bike_by_id, bikes_named
from lone_pike.store.chains import ChainRow
from lone_pike.store.database import Database
from lone_pike.store.paging import RowId, row_id
from lone_pike.web.chain.view import ChainView, line_of
from lone_pike.web.dear import dear_work
from lone_pike.web.pages import attached, page, units_of
from lone_pike.web.pictures import drawn
from lone_pike.web.thing import NOT_REFUSED, Data, Fields, InShop, Refused, SentRides, Thing, TypedForm, seen_by
from lone_pike.workshop import chain_places, chain_use
from lone_pike.workshop.chain_use import RidesAdded
from lone_pike.workshop.chains import chain_there, standing_of, undo
from lone_pike.workshop.clock import now, today

router = APIRouter(prefix="/chains/{chain_id}")


@dataclass(frozen=True)
class ChainRequest(Thing):
    """A request about a chain."""

    chain_id: int

    @property
    def url(self) -> str:
        """The address of its page."""
        return f"/chains/{self.chain_id}"

    @property
    def row(self) -> ChainRow:
        """The chain as it is now. Raises: NotThere."""
        return chain_there(self.data, self.chain_id)

    def shown(
        self, refused: Refused = NOT_REFUSED, notices: tuple[Message, ...] = (), status: int = 200
    ) -> HTMLResponse:
        """Its page."""
        row, shop = self.row, self.shop
        standing = standing_of(self.data, row.life, shop, today())
        numbers = dict.fromkeys(stay.bike_id for stay in reversed(row.life.stays))
        bikes = tuple((one, bike.name) for one in numbers if (bike := bike_by_id(self.data, one)))
        view = ChainView(row, standing, bikes, today(), shop.unit, notices, refused)
        return page(self.request, "chain/chain.html", shop, {"view": view}, status, block="chain")


async def chain_request(request: Request, data: Data, shop: InShop, chain_id: RowId) -> ChainRequest:
    """The request for the chain in the address; whether it is there is seen when it is read."""
    return ChainRequest(request, data, shop, chain_id)


ForChain = Annotated[ChainRequest, Depends(chain_request)]


@router.get("")
def chain_page(chain: ForChain) -> Response:
    """The chain."""
    return chain.shown()


@router.post("/gauge")
def gauge(chain: ForChain, form: Fields) -> Response:
    """Adds a reading."""
    saw = seen_by(form)
    return chain.changed(form, lambda: chain_use.gauge(chain.data, chain.chain_id, form, chain.shop.unit, saw, now()))


@router.post("/reading-out")
def let_reading_go(chain: ForChain, form: Fields) -> Response:
    """Removes a reading."""
    place = whole_number(form.get("place", ""), 4)
    chain_use.let_reading_go(chain.data, chain.chain_id, -1 if place is None else place, seen_by(form), now())
    return chain.done()


@router.post("/distance")
def tell_distance(chain: ForChain, form: Fields) -> Response:
    """Stores the whole distance, or the reading of an odometer, and announces what it adds."""
    return chain.changed(
        form,
        lambda: chain_use.tell_distance(chain.data, chain.chain_id, form, now()),
        lambda row: chain.done((row.message,)),
    )


@router.post("/rides")
def add_rides(chain: ForChain, sent: SentRides) -> Response:
    """Adds the rides in files, each to the chain that was on the bike that day."""
    chain_there(chain.data, chain.chain_id)
    try:
        read = dear_work(chain.request).rides.run(read_rides, sent.files, today())
        added = chain_use.add_rides(chain.data, chain.chain_id, read.rides, now())
    except InvalidInput as error:
        return chain.shown(Refused(sent.fields, error.faults), status=422)
    return chain.shown(Refused({}, read.faults), (*_added(added), *read.odd), 422 if read.faults else 200)


@router.post("/words")
def keep_words(chain: ForChain, form: Fields) -> Response:
    """Stores the fields of the chain itself."""
    return chain.changed(form, lambda: chain_use.keep_words(chain.data, chain.chain_id, form, chain.shop.unit, now()))


@router.post("/put-on")
def put_on(chain: ForChain, form: Fields) -> Response:
    """Puts it on a bike, which is named by its number or its name."""
    data = chain.data
    return chain.changed(form, lambda: chain_places.put_on(data, chain.chain_id, _bike_asked(data, form), form, now()))


@router.post("/take-off")
def take_off(chain: ForChain, form: Fields) -> Response:
    """Takes it off its bike."""
    return chain.changed(form, lambda: chain_places.take_off(chain.data, chain.chain_id, form, now()))


@router.post("/end")
def end(chain: ForChain, form: Fields) -> Response:
    """Ends its life."""
    return chain.changed(form, lambda: chain_places.end(chain.data, chain.chain_id, form, now()))


@router.post("/undo")
def undo_change(chain: ForChain, form: Fields) -> Response:
    """Takes back the change that the page showed."""
    undo(chain.data, chain.chain_id, seen_by(form), now())
    return chain.done()


@router.get("/chain.json")
def chain_json(chain: ForChain) -> Response:
    """The chain's file, in the format that the command reads."""
    life = chain.row.life
    content = write_chain(chain_file_of(life, limit_percent(life.speeds, chain.shop.wear_school), today()))
    return attached(content, "chain.json", "application/json")


@router.get("/chain.csv")
def chain_csv(chain: ForChain) -> Response:
    """Its distances and readings as a table."""
    return attached(chain_table(chain.row.life), "chain.csv", "text/csv; charset=utf-8")


@router.get("/wear.svg")
def wear_svg(chain: ForChain) -> Response:
    """The wear line as a picture file."""
    life = chain.row.life
    line = line_of(life, standing_of(chain.data, life, chain.shop, today()), today())
    return attached(drawn("wear", "wear", line, units_of(chain.shop)), "wear.svg", "image/svg+xml")


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
