"""What all parts of the file use: the fixed sets, the common base of the models, and errors of the trade's own
rules."""

from enum import StrEnum
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field
from pydantic_core import PydanticCustomError

from lone_pike.core.bike.limits import limit
from lone_pike.core.messages import Message

RING_SIZES, COG_SIZES = (16, 70), (9, 60)
"""Fewest and most teeth of a ring and of a cog."""

MOST_COGS = 13
"""The most cogs on a wheel; the fewest are one."""

MOST_WEAR_PERCENT = 5
"""No chain that is still in one piece has grown more."""

RingTeeth = Annotated[int, Field(ge=RING_SIZES[0], le=RING_SIZES[1])]
CogTeeth = Annotated[int, Field(ge=COG_SIZES[0], le=COG_SIZES[1])]
PositionMm = Annotated[float, Field(ge=-limit("farthest_axle"), le=limit("farthest_axle"))]


class CageClass(StrEnum):
    """A cage's length class, if no caliper was used."""

    SHORT = "short"
    MEDIUM = "medium"
    LONG = "long"


class ChainWidth(StrEnum):
    """The width between a chain's inner plates, and of the teeth that run there, in inches."""

    WIDE = "1/8"
    NARROW = "3/32"


class BoxEnds(StrEnum):
    """The two ends of a loose chain."""

    INNER_INNER = "inner_inner"
    INNER_OUTER = "inner_outer"
    OUTER_OUTER = "outer_outer"


class ChangedPart(StrEnum):
    """The parts that were changed since the old chain was fitted."""

    COGS = "cogs"
    RINGS = "rings"
    DERAILLEUR = "derailleur"
    FRAME = "frame"


class Run(StrEnum):
    """The loaded upper run of the chain, or the slack lower one."""

    DRIVE = "drive"
    RETURN = "return"


class Side(StrEnum):
    """The side of an idler on which the chain passes."""

    OVER = "over"
    UNDER = "under"


class HouseRule(StrEnum):
    """What decides the count: the window, or a school."""

    WINDOW = "window"
    BARE_WRAP_1_PAIR = "bare_wrap_1_pair"
    BARE_WRAP_2_PAIRS = "bare_wrap_2_pairs"
    FORMULA = "formula"
    CAGE_VERTICAL = "cage_vertical"
    SLACK_TEST = "slack_test"
    LEAST_TENSION = "least_tension"
    BY_COGS = "by_cogs"
    TIGHT_AND_QUIET = "tight_and_quiet"
    OLD_CHAIN = "old_chain"


class Document(BaseModel):
    """Base of all parts of the file: frozen, and no unknown keys."""

    model_config = ConfigDict(
        extra="forbid", frozen=True, strict=True, populate_by_name=True, allow_inf_nan=False, defer_build=True
    )


def trade_error(
    allowed: Message | None = None,
    *,
    at: str = "",
    read: object = None,
    missing: bool = False,
    hint: str = "",
    **values: Any,
) -> PydanticCustomError:
    """An error of the trade's own rules, with its parts as data.

    Parameters: at, the field below the checked one; allowed, if it is not simply the field's bounds; hint, the code of
    how to mend it, and values, its values.
    """
    hint_message = Message(hint, **values) if hint else None
    parts = {"allowed": allowed, "at": at, "read": read, "missing": missing, "hint": hint_message}
    return PydanticCustomError("trade", "{at}", {"at": "", **{key: part for key, part in parts.items() if part}})
