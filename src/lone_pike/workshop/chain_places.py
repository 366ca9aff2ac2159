"""Where a chain goes: on a bike by a booking or by hand, off it, to another, to its end."""

import sqlite3
from collections.abc import Mapping

from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.fields import fields_of
from lone_pike.core.bike.joiners import JOINERS, JoinerKind, usual_joiner
from lone_pike.core.chain.cutting import End
from lone_pike.core.chain.moves import ChainEvent, Move, Place, moves_between
from lone_pike.core.messages import LengthUnit, Message, Raw, Term
from lone_pike.core.refusals import Conflict
from lone_pike.core.wear.life import (
    ChainLife,
    Ending,
    Gauged,
    Lube,
    Stay,
    off_bike,
    with_ending,
    with_readings,
)
from lone_pike.core.wear.replacing import WearPart
from lone_pike.formats.records.shop import Shop
from lone_pike.formats.typed.dates import read_day
from lone_pike.formats.typed.readings import parse
from lone_pike.store.bikes import bike_by_id, bike_document
from lone_pike.store.bin import joiners_there, move_joiners
from lone_pike.store.bookings import BookingRow, Fitting
from lone_pike.store.chains import (
    ChainRow,
    chain_of_booking,
    chain_on,
    chains_of,
    undo_chain,
    write_life,
)
from lone_pike.store.database import Database
from lone_pike.store.history import Event, begun
from lone_pike.store.jobs import JobRow
from lone_pike.store.ledger import (
    FreshPiece,
    Owner,
    bind_pieces,
    enter,
    move_piece,
    pieces_hung_by,
    pieces_of_chain,
    pieces_on_bike,
)
from lone_pike.workshop.bikes import bike_there
from lone_pike.workshop.chains import (
    begin_life,
    check_bike_is_bare,
    keep_change,
    keep_life,
    name_for,
    place_of,
    there_now,
)
from lone_pike.workshop.clock import day_of
from lone_pike.workshop.sorting import sort_anew


def put_on(database: Database, chain_id: int, bike_id: int, form: Mapping[str, str], now: str) -> ChainRow:
    """Puts a chain back on a bike; the one that is on it comes off and is hung up. A joiner that may be closed only
    once is replaced by a new one.

    Raises: InvalidInput for the date; Conflict where the chain is not hung up; NotThere.
    """
    with database.atomic() as connection:
        chain, bike = there_now(connection, chain_id), bike_there(database, bike_id)
        if chain.state != "hung":
            raise Conflict("chain_not_hung")
        other = chain_on(connection, bike_id)
        off = chain.life.stays[-1].until if chain.life.stays else None
        first = max(filter(None, [off, other.life.stays[-1].since if other else None]), default=None)
        day = read_day(form.get("date", ""), day_of(now), first)
        joiner = chain.life.joiner
        needed = chain.life.joiners if JOINERS[joiner].once and JOINERS[joiner].in_bin else 0
        used = min(joiners_there(connection, joiner, chain.life.speeds), needed)
        event = begun(connection, Event(ChainEvent.PUT_ON, now))
        if other:
            message = Message("chain_off_for", bike=bike.name, chain=chain.life.name)
            keep_life(connection, other, off_bike(other.life, day), message, event)
        move_joiners(connection, joiner, chain.life.speeds, -used, now, event_id=event.id)
        stays = (*chain.life.stays, Stay(bike_id=bike_id, since=day))
        message = Message("chain_put_on", bike=bike.name)
        keep_life(connection, chain, chain.life.model_copy(update={"stays": stays}), message, event)
        return there_now(connection, chain_id)


def take_off(database: Database, chain_id: int, form: Mapping[str, str], now: str) -> ChainRow:
    """Takes a chain off its bike and hangs it up. Raises: InvalidInput for the date; Conflict if it is on no bike;
    NotThere."""

    def hung(chain: ChainRow) -> tuple[ChainLife, Message]:
        life = chain.life
        if life.bike_id is None:
            raise Conflict("chain_not_on")
        day = read_day(form.get("date", ""), day_of(now), life.stays[-1].since)
        bike = bike_by_id(database, life.bike_id)
        return off_bike(life, day), Message("chain_taken_off", bike=bike.name if bike else "")

    return keep_change(database, chain_id, ChainEvent.TAKEN_OFF, hung, now)


def end(database: Database, chain_id: int, form: Mapping[str, str], now: str) -> ChainRow:
    """Ends a chain's life: thrown away worn or broken, or taken apart into the bin. Raises: InvalidInput, NotThere."""

    def ended(chain: ChainRow) -> tuple[ChainLife, Message]:
        life = chain.life
        how = next((one for one in Ending if one == form.get("ending")), None)
        if how is None:
            raise invalid("ending", Raw(form.get("ending") or None), Message("one_of", keys=tuple(Ending)))
        if life.ending:
            raise Conflict("chain_ended")
        day = read_day(form.get("date", ""), day_of(now), life.stays[-1].since if life.stays else None)
        return with_ending(life, how, day), Message("chain_ended_as", how=Term("ending", how))

    return keep_change(database, chain_id, ChainEvent.ENDED, ended, now)


def find_on_bike(database: Database, bike_id: int, form: Mapping[str, str], now: str) -> int:
    """Records a chain that is on a bike without a booking.

    Returns: its number.
    Raises: InvalidInput by field; Conflict if a known chain is on the bike; NotThere.
    """
    with database.atomic() as connection:
        bike, today = bike_there(database, bike_id), day_of(now)
        check_bike_is_bare(connection, bike_id, 0)
        specs = fields_of(ChainLife)
        read = {name: parse(specs[name], form.get(name, ""), LengthUnit.MM).value for name in ("speeds", "links")}
        day = read_day(form.get("date", ""), today)
        row = read | {
            "name": name_for(bike.name, len(chains_of(connection, bike_id))),
            "joiner": form.get("joiner") or str(usual_joiner(read["speeds"] if isinstance(read["speeds"], int) else 1)),
            "from_new": form.get("from_new") == "yes",
            "stays": [{"bike_id": bike_id, "since": day.isoformat()}],
        }
        life = ChainLife.model_validate({name: value for name, value in row.items() if value is not None})
        chain_id = begin_life(connection, life, None, now)
        enter_whole(connection, life, chain_id, now)
        return chain_id


def enter_whole(connection: sqlite3.Connection, life: ChainLife, chain_id: int, now: str) -> None:
    """Enters the chain's links in the ledger as one piece, and moves it to where the chain is."""
    piece = FreshPiece(life.loose_links, str(End.INNER), life.speeds, life.name, chain_id=chain_id)
    piece_id = enter(connection, piece, Move.FOUND, now)
    for move in moves_between(Place.HOOK, place_of(life)):
        move_piece(connection, piece_id, move, now, Owner(bike_id=life.bike_id))


def replace_at_booking(
    connection: sqlite3.Connection, job: JobRow, booking_id: int, now: str, *, keeps_old: bool
) -> ChainRow | None:
    """Takes the chain off a job's bike, thrown away or hung up to be used again, with the readings taken at the job.
    Returns: the chain as it was; None if none is known."""
    old, day = chain_on(connection, job.bike_id), day_of(now)
    if old is None:
        return None
    gauged = with_readings_of(old.life, job)
    life = off_bike(gauged, day) if keeps_old else with_ending(gauged, Ending.WORN, day)
    keep_life(connection, old, life, Message("chain_replaced"), Event(ChainEvent.BOOKED, now, None, booking_id))
    return old


def begin_at_booking(
    connection: sqlite3.Connection,
    job: JobRow,
    fitting: Fitting,
    booking_id: int,
    old: ChainRow | None,
    shop: Shop,
    now: str,
) -> None:
    """Begins the life of the chain that a booking fitted; it takes over how the bike is ridden from the chain before
    it."""
    bike = bike_document(connection, job.bike_id)
    pieces = pieces_on_bike(connection, job.bike_id)
    worn_percent = max((one.wear_percent for one in pieces), default=0.0)
    life = ChainLife(
        name=name_for(str(bike.get("name") or ""), len(chains_of(connection, job.bike_id))),
        speeds=fitting.speeds,
        links=fitting.links,
        joiner=JoinerKind(fitting.joiner),
        joiners=fitting.joiners,
        lube=Lube.WAX if shop.care.is_waxed else Lube.OIL,
        worn_percent=worn_percent or None,
        with_cassette=WearPart.CASSETTE in job.observed.replaced,
        stays=(Stay(bike_id=job.bike_id, since=day_of(now)),),
    )
    if old:
        like = {name: getattr(old.life, name) for name in ("riding", "week_km", "used_cogs")}
        life = life.model_copy(update=like)
    bind_pieces(connection, pieces, begin_life(connection, life, booking_id, now))


def undo_at_booking(connection: sqlite3.Connection, booking_id: int, now: str) -> None:
    """Undoes what a mistaken booking did to the chains: its own chain is removed, and the one before it never came off.
    Its pieces are back where they were already."""
    new, event = chain_of_booking(connection, booking_id), Event(ChainEvent.BOOKING_UNDONE, now)
    if new:
        undo_chain(connection, new.id)
        bind_pieces(connection, pieces_of_chain(connection, new.id), None)
    for chain_id in {piece.chain_id for piece in pieces_hung_by(connection, booking_id) if piece.chain_id}:
        chain = there_now(connection, chain_id)
        opened = chain.life.stays[-1].model_copy(update={"until": None})
        stays = (*chain.life.stays[:-1], opened)
        life = chain.life.model_copy(update={"stays": stays, "ending": None, "ended": None})
        write_life(connection, chain, life, Message("chain_back"), begun(connection, event))
    sort_anew(connection, now)


def take_apart_at_booking(connection: sqlite3.Connection, booking: BookingRow, now: str) -> tuple[int, ...]:
    """Takes the chain of a booking off again and puts its pieces into the bin.

    Returns: their links.
    Raises: Conflict if another chain is on the bike by now.
    """
    chain = chain_of_booking(connection, booking.id)
    if chain is None or chain.bike_id != booking.bike_id:
        raise Conflict("booking_stays")
    life = with_ending(chain.life, Ending.APART, day_of(now))
    keep_life(
        connection,
        chain,
        life,
        Message("chain_ended_as", how=Term("ending", Ending.APART)),
        Event(ChainEvent.TAKEN_APART, now),
    )
    return tuple(piece.links for piece in pieces_of_chain(connection, chain.id))


def hand_readings_over(connection: sqlite3.Connection, job: JobRow, now: str) -> None:
    """Keeps the readings of a job that ends without a booking, with the chain on the bike."""
    chain = chain_on(connection, job.bike_id)
    if chain:
        keep_life(
            connection,
            chain,
            with_readings_of(chain.life, job),
            Message("chain_gauged_at_job"),
            Event(ChainEvent.JOB_CLOSED, now),
        )


def with_readings_of(life: ChainLife, job: JobRow) -> ChainLife:
    """The life with the readings of a job; if that job has ended before, they replace its earlier readings."""
    day = max(day_of(job.opened_at), life.stays[-1].since)
    gauged = tuple(Gauged(**one.model_dump(exclude_none=True), date=day, job_id=job.id) for one in job.observed.gauged)
    others = life.model_copy(update={"gauged": tuple(one for one in life.gauged if one.job_id != job.id)})
    return with_readings(others, gauged)
