"""Where a piece of chain can be and where it comes from, the moves from one place to another, and what can happen to a
chain, each declared as a whole.

The data file stores every move as a row; a piece is where its last move has taken it. So everything that was laid in is
in the bin, with a job, on a bike, cut into smaller pieces, or thrown away.
"""

from dataclasses import dataclass
from enum import StrEnum


class Place(StrEnum):
    """Where a piece is. Nowhere: it has not come in yet, or its coming in was undone."""

    NOWHERE = "nowhere"
    BIN = "bin"
    JOB = "job"
    BIKE = "bike"
    HOOK = "hook"
    CUT = "cut"
    GONE = "gone"


class PieceSource(StrEnum):
    """How a piece came in: described by hand, scanned, sent by a program, or off a bike, whose name goes with it."""

    HAND = "hand"
    SCAN = "scan"
    PROGRAM = "program"
    BIKE = "bike"


class ChainEvent(StrEnum):
    """What can happen to a chain: its readings, distance and fields change, it goes on a bike or comes off, it ends; or
    a booking or a job that ends does one of these."""

    GAUGED = "gauged"
    READING_OUT = "reading_out"
    DISTANCE = "distance"
    RIDES = "rides"
    DESCRIBED = "described"
    PUT_ON = "put_on"
    TAKEN_OFF = "taken_off"
    ENDED = "ended"
    BOOKED = "booked"
    BOOKING_UNDONE = "booking_undone"
    TAKEN_APART = "taken_apart"
    JOB_CLOSED = "job_closed"


class Move(StrEnum):
    """What can happen to a piece."""

    LAID_IN = "laid_in"
    BROUGHT = "brought"
    CUT_OFF = "cut_off"
    RESERVED = "reserved"
    LET_GO = "let_go"
    CUT = "cut"
    FITTED = "fitted"
    CAME_OFF = "came_off"
    THROWN_AWAY = "thrown_away"
    PUT_BACK = "put_back"
    TAKEN_AWAY = "taken_away"
    NOT_CUT_OFF = "not_cut_off"
    NOT_CUT = "not_cut"
    NOT_FITTED = "not_fitted"
    PUT_ON_AGAIN = "put_on_again"
    USED_BEFORE = "used_before"
    HUNG_UP = "hung_up"
    PUT_ON = "put_on"
    RETIRED = "retired"
    BROUGHT_BACK = "brought_back"
    TAKEN_APART = "taken_apart"
    TIED_UP = "tied_up"
    FOUND = "found"


@dataclass(frozen=True)
class MovePlaces:
    """A move: where it takes a piece from, where it takes it to, and the move that undoes it; None if it is never
    undone."""

    came_from: Place
    goes_to: Place
    undone_by: Move | None = None


MOVES: dict[Move, MovePlaces] = {
    Move.LAID_IN: MovePlaces(Place.NOWHERE, Place.BIN),
    Move.BROUGHT: MovePlaces(Place.NOWHERE, Place.JOB, Move.TAKEN_AWAY),
    Move.CUT_OFF: MovePlaces(Place.NOWHERE, Place.JOB, Move.NOT_CUT_OFF),
    Move.RESERVED: MovePlaces(Place.BIN, Place.JOB, Move.LET_GO),
    Move.LET_GO: MovePlaces(Place.JOB, Place.BIN, Move.RESERVED),
    Move.CUT: MovePlaces(Place.JOB, Place.CUT, Move.NOT_CUT),
    Move.FITTED: MovePlaces(Place.JOB, Place.BIKE, Move.NOT_FITTED),
    Move.CAME_OFF: MovePlaces(Place.BIKE, Place.BIN, Move.PUT_ON_AGAIN),
    Move.THROWN_AWAY: MovePlaces(Place.BIN, Place.GONE, Move.PUT_BACK),
    Move.PUT_BACK: MovePlaces(Place.GONE, Place.BIN, Move.THROWN_AWAY),
    Move.TAKEN_AWAY: MovePlaces(Place.JOB, Place.NOWHERE),
    Move.NOT_CUT_OFF: MovePlaces(Place.JOB, Place.NOWHERE),
    Move.NOT_CUT: MovePlaces(Place.CUT, Place.JOB),
    Move.NOT_FITTED: MovePlaces(Place.BIKE, Place.JOB),
    Move.PUT_ON_AGAIN: MovePlaces(Place.BIN, Place.BIKE),
    Move.USED_BEFORE: MovePlaces(Place.JOB, Place.GONE),
    Move.HUNG_UP: MovePlaces(Place.BIKE, Place.HOOK, Move.PUT_ON),
    Move.PUT_ON: MovePlaces(Place.HOOK, Place.BIKE, Move.HUNG_UP),
    Move.RETIRED: MovePlaces(Place.HOOK, Place.GONE, Move.BROUGHT_BACK),
    Move.BROUGHT_BACK: MovePlaces(Place.GONE, Place.HOOK, Move.RETIRED),
    Move.TAKEN_APART: MovePlaces(Place.HOOK, Place.BIN, Move.TIED_UP),
    Move.TIED_UP: MovePlaces(Place.BIN, Place.HOOK, Move.TAKEN_APART),
    Move.FOUND: MovePlaces(Place.NOWHERE, Place.HOOK),
}
"""Brought: chain from outside that a job uses. Cut off: what a cut makes. Used before: by a booking that was written
before the moves were kept, so what was left of the piece is not known. A chain that is whole goes by the hook: hung up
off its bike, and from there on a bike again, away, or taken apart into the bin; found is one that nobody booked."""

BY_HOOK = frozenset({Place.BIKE, Place.HOOK, Place.GONE, Place.BIN})
"""Where a whole chain can be."""


def moves_between(here: Place, there: Place) -> tuple[Move, ...]:
    """The moves that take a whole chain from one place to another, by way of the hook.

    >>> [str(move) for move in moves_between(Place.BIKE, Place.GONE)], moves_between(Place.HOOK, Place.HOOK)
    (['hung_up', 'retired'], ())
    """
    if here is there:
        return ()
    ways = {
        (way.came_from, way.goes_to): move for move, way in MOVES.items() if Place.HOOK in (way.came_from, way.goes_to)
    }
    steps = [(here, Place.HOOK), (Place.HOOK, there)]
    return tuple(ways[step] for step in steps if step[0] is not step[1])
