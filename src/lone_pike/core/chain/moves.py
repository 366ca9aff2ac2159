"""Where a piece of chain can be, and the moves that take it from one place to another, each declared whole.

The data file keeps every move as a row; a piece is where its last move has taken it. So what was laid in is always in
the bin, with a job, on a bike, cut into smaller pieces, or thrown away.
"""

from dataclasses import dataclass
from enum import StrEnum


class Place(StrEnum):
    """Where a piece is. Nowhere: it has not come yet, or its coming was undone."""

    NOWHERE = "nowhere"
    BIN = "bin"
    JOB = "job"
    BIKE = "bike"
    CUT = "cut"
    GONE = "gone"


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


@dataclass(frozen=True)
class Way:
    """From where a move takes a piece, where to, and the move that undoes it; None for one that is never undone."""

    came_from: Place
    goes_to: Place
    undone_by: Move | None = None


MOVES: dict[Move, Way] = {
    Move.LAID_IN: Way(Place.NOWHERE, Place.BIN),
    Move.BROUGHT: Way(Place.NOWHERE, Place.JOB, Move.TAKEN_AWAY),
    Move.CUT_OFF: Way(Place.NOWHERE, Place.JOB, Move.NOT_CUT_OFF),
    Move.RESERVED: Way(Place.BIN, Place.JOB, Move.LET_GO),
    Move.LET_GO: Way(Place.JOB, Place.BIN, Move.RESERVED),
    Move.CUT: Way(Place.JOB, Place.CUT, Move.NOT_CUT),
    Move.FITTED: Way(Place.JOB, Place.BIKE, Move.NOT_FITTED),
    Move.CAME_OFF: Way(Place.BIKE, Place.BIN, Move.PUT_ON_AGAIN),
    Move.THROWN_AWAY: Way(Place.BIN, Place.GONE, Move.PUT_BACK),
    Move.PUT_BACK: Way(Place.GONE, Place.BIN, Move.THROWN_AWAY),
    Move.TAKEN_AWAY: Way(Place.JOB, Place.NOWHERE),
    Move.NOT_CUT_OFF: Way(Place.JOB, Place.NOWHERE),
    Move.NOT_CUT: Way(Place.CUT, Place.JOB),
    Move.NOT_FITTED: Way(Place.BIKE, Place.JOB),
    Move.PUT_ON_AGAIN: Way(Place.BIN, Place.BIKE),
    Move.USED_BEFORE: Way(Place.JOB, Place.GONE),
}
"""Brought: chain from outside that a job uses. Cut off: what a cut makes. Used before: by a booking that was written
before the moves were kept, so what was left of the piece is not known."""
