"""Chains: their histories, where their pieces are, when each is due; a change is stored as a whole or not at all, and
can be undone."""

import sqlite3
from collections.abc import Callable
from datetime import date

from lone_pike.core.chain.moves import BY_HOOK, ChainEvent, Place, moves_between
from lone_pike.core.messages import Message
from lone_pike.core.refusals import Conflict, NotThere, Stale
from lone_pike.core.wear.life import (
    ChainLife,
    Ending,
)
from lone_pike.core.wear.replacing import limit_percent
from lone_pike.core.wear.standing import ChainStanding, standing
from lone_pike.formats.records.shop import Shop
from lone_pike.store.bin import return_joiners_of
from lone_pike.store.chains import (
    ChainRow,
    add_chain,
    chain_by_id,
    chain_on,
    changes_of_event,
    content_of,
    life_before,
    life_now,
    write_columns,
    write_life,
)
from lone_pike.store.database import Database
from lone_pike.store.history import Event, begun, mark_undone, step_back
from lone_pike.store.ledger import Owner, came_from_bike, move_piece, pieces_of_chain
from lone_pike.workshop.sorting import sort_anew, usual_like

Change = Callable[[ChainRow], tuple[ChainLife, Message]]
"""A function that makes the changed life from the chain as it is inside the transaction, and says what changed."""

LONGEST_BIKE = 70
ENDS_IN = {Ending.WORN: Place.GONE, Ending.BROKEN: Place.GONE, Ending.APART: Place.BIN}


def chain_there(database: Database, chain_id: int) -> ChainRow:
    """A chain. Raises: NotThere."""
    return there_now(database.connection, chain_id)


def there_now(connection: sqlite3.Connection, chain_id: int) -> ChainRow:
    """A chain, read inside a transaction. Raises: NotThere."""
    row = chain_by_id(connection, chain_id)
    if row is None:
        raise NotThere("no_such_chain")
    return row


def standing_of(database: Database, life: ChainLife, shop: Shop, today: date) -> ChainStanding:
    """How worn a chain is today and when it is due."""
    most = limit_percent(life.speeds, shop.wear_school)
    return standing(life, most, today, usual_like(database.connection, life.speeds, str(life.riding)))


def name_for(bike: str, before: int) -> str:
    """The name of a bike's next chain. Parameters: before, how many chains it has had."""
    return f"{bike[:LONGEST_BIKE]} {before + 1}".strip()


def keep_change(database: Database, chain_id: int, kind: ChainEvent, change: Change, now: str) -> ChainRow:
    """Stores a change as a revision on top of the newest one, unless it changes nothing. Raises: NotThere, and what the
    change raises."""
    with database.atomic() as connection:
        chain = there_now(connection, chain_id)
        life, message = change(chain)
        keep_life(connection, chain, life, message, Event(kind, now))
        return there_now(connection, chain_id)


def keep_life(connection: sqlite3.Connection, chain: ChainRow, life: ChainLife, message: Message, event: Event) -> None:
    """Stores a life as a revision, after checking it as a whole, and moves its pieces to where it says.

    Parameters: event, what it belongs to and is undone with; it is begun here if it is not yet.
    Raises: InvalidInput, Conflict.
    """
    if content_of(life) == content_of(chain.life):
        return
    checked, event = ChainLife.model_validate(content_of(life)), begun(connection, event)
    write_life(connection, chain, checked, message, event)
    settle_pieces(connection, chain, checked, event)
    sort_anew(connection, event.made_at)


def begin_life(connection: sqlite3.Connection, life: ChainLife, booking_id: int | None, now: str) -> int:
    """Adds a chain. Returns: its id."""
    chain_id = add_chain(connection, life, booking_id, now)
    sort_anew(connection, now)
    return chain_id


def sort_all(database: Database, now: str) -> None:
    """Works out when chains are due that a migration brought in, or that changed under another version."""
    with database.atomic() as connection:
        sort_anew(connection, now)


def settle_pieces(connection: sqlite3.Connection, chain: ChainRow, life: ChainLife, event: Event) -> None:
    """Moves a chain's pieces to where its life says it is.

    Raises: Conflict if some of them have been cut, reserved or thrown away since.
    """
    was, there = place_of(chain.life), place_of(life)
    if (was, chain.life.bike_id) == (there, life.bike_id):
        return
    pieces = pieces_of_chain(connection, chain.id)
    here = [one for one in pieces if one.place == was and one.bike_id == chain.life.bike_id]
    if was not in BY_HOOK or sum(one.links for one in here) != chain.life.loose_links:
        raise Conflict("chain_used")
    steps = moves_between(was, there) or (*moves_between(was, Place.HOOK), *moves_between(Place.HOOK, there))
    for piece in here:
        for move in steps:
            owner = Owner(bike_id=life.bike_id, booking_id=event.booking_id, event_id=event.id)
            move_piece(connection, piece.id, move, event.made_at, owner)
        if there is Place.BIN:
            came_from_bike(connection, piece.id, chain.life.name)


def place_of(life: ChainLife) -> Place:
    """Where a chain is in the ledger."""
    if life.bike_id:
        return Place.BIKE
    return ENDS_IN[life.ending] if life.ending else Place.HOOK


def undo(database: Database, chain_id: int, saw: int | None, now: str) -> None:
    """Takes back the event that the page showed, with all that it did to this chain, to others, and to joiners.

    Raises: Stale where another change came since; Conflict where there is none to take back, where another chain of the
    event was changed since or is on the bike by now, or where pieces are elsewhere.
    """
    with database.atomic() as connection:
        chain = there_now(connection, chain_id)
        if saw != chain.revision_id:
            raise Stale("nothing_undone", last=chain.message)
        if chain.event_id is None:
            raise Conflict("nothing_to_undo")
        event = Event(ChainEvent(chain.event or ""), now, chain.event_id)
        for other_id, revision_id in changes_of_event(connection, chain.event_id):
            other = there_now(connection, other_id)
            if other.revision_id != revision_id:
                raise Conflict("other_chain_changed", chain=other.life.name)
            _step_back(connection, other, event)
        return_joiners_of(connection, chain.event_id, now)
        mark_undone(connection, chain.event_id, now)
        sort_anew(connection, now)


def _step_back(connection: sqlite3.Connection, chain: ChainRow, event: Event) -> None:
    before = life_before(connection, chain)
    if before is None:
        raise Conflict("nothing_to_undo")
    if before.bike_id:
        check_bike_is_bare(connection, before.bike_id, chain.id)
    step_back(connection, chain.history_id)
    write_columns(connection, chain.id, life_now(connection, chain.history_id))
    settle_pieces(connection, chain, before, event)


def check_bike_is_bare(connection: sqlite3.Connection, bike_id: int, chain_id: int) -> None:
    """Checks that no other chain is on a bike. Raises: Conflict."""
    other = chain_on(connection, bike_id)
    if other and other.id != chain_id:
        raise Conflict("bike_has_chain", chain=other.life.name)
