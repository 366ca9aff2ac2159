"""The parts of the measured bike, each a piece of its file (model, section 7)."""

from collections.abc import Mapping
from typing import Annotated, Literal, Self

from pydantic import ConfigDict, Field, RootModel, model_validator

from lone_pike.core.bike.base import (
    COG_SIZES,
    MOST_COGS,
    MOST_WEAR_PERCENT,
    RING_SIZES,
    BoxEnds,
    ChainWidth,
    ChangedPart,
    Document,
    PositionMm,
    Run,
    Side,
    trade_error,
)
from lone_pike.core.bike.fields import FieldSpec, Kind, measured
from lone_pike.core.bike.joiners import JoinerKind
from lone_pike.core.bike.limits import LEAST_LINKS, MOST_LINKS, limit
from lone_pike.core.messages import Message, Quantity, mm

IdlerTeeth = Annotated[int, Field(ge=8, le=40)]


class Idler(Document):
    """A pulley the chain passes on its way, fixed to the frame."""

    run: Run = measured(Kind.CHOICE, "Run", "The loaded upper run, or the slack lower one.")
    at_mm: tuple[PositionMm, PositionMm] = measured(
        Kind.PLACE, "Place", "Its centre from the crank centre: forward, then up.", allowed="place_from_crank"
    )
    teeth: IdlerTeeth = measured(Kind.TEETH, "Teeth", "Its teeth, counted.", ge=8, le=40)
    chain: Side = measured(Kind.CHOICE, "Chain", "Which side of it the chain passes.")
    about_mm: float | None = measured(
        Kind.LENGTH,
        "Idler spread",
        "How far off its place may be, either way.",
        default=None,
        ge=0,
        le=30,
    )


class Tube(Document):
    """A tube that the chain runs through, on one straight part of a run."""

    run: Run = measured(Kind.CHOICE, "Run", "The loaded upper run, or the slack lower one.")
    part: int = measured(
        Kind.COUNT, "Part", "Which straight part of the run, counted from the one at the ring.", ge=1, le=7
    )
    length_mm: float = measured(Kind.LENGTH, "Tube", "From end to end.", ge=20, le=2000)
    inner_mm: float = measured(Kind.LENGTH, "Bore", "Across the inside.", ge=6, le=40)
    behind_mm: float = measured(
        Kind.LENGTH, "Gap behind", "From its rear end to where the chain meets the wheel behind it.", ge=-100, le=2000
    )
    front_cage_mm: float | None = measured(
        Kind.LENGTH,
        "Front derailleur",
        "From where the chain leaves the ring to the rear end of the front derailleur's cage.",
        default=None,
        ge=0,
        le=200,
    )


class ChainPiece(Document):
    """A loose piece at hand besides the box; its other end follows from its count."""

    links: int = measured(Kind.COUNT, "Piece", "Its links, counted rivet by rivet.", ge=1, le=MOST_LINKS)
    first_end: Literal["inner", "outer"] = measured(Kind.CHOICE, "First end", "The kind of its first link.")
    wear_percent: float = measured(
        Kind.RATIO, "Wear", "How much it has grown.", default=0.0, ge=0, le=MOST_WEAR_PERCENT
    )
    bin_id: int | None = measured(
        Kind.COUNT, "Bin", "Its number in the bin, where it comes from there.", default=None, ge=1, le=2**53
    )


class Chain(Document):
    """The new chain and what closes it."""

    speeds: int | None = measured(
        Kind.COGS,
        "Number of cogs",
        "Cogs the chain is made for; the cassette's if left empty.",
        default=None,
        ge=1,
        le=MOST_COGS,
    )
    box_links: int | None = measured(
        Kind.COUNT,
        "Box",
        "The count printed on the box, in links of one pitch each.",
        default=None,
        ge=LEAST_LINKS,
        le=MOST_LINKS,
    )
    box_includes_joiner: bool = measured(
        Kind.FLAG,
        "Box count includes the quick link",
        "Does the count on the box include the quick link?",
        default=False,
    )
    box_ends: BoxEnds | None = measured(
        Kind.CHOICE,
        "Box ends",
        "The ends of the loose chain; worked out from the count if left empty.",
        default=None,
    )
    joiner: JoinerKind | None = measured(
        Kind.CHOICE,
        "Joiner",
        "What closes the chain; if left empty, the usual one for this number of cogs.",
        default=None,
    )
    joiner_used: bool = measured(Kind.FLAG, "Joiner used before", "Was this joiner closed before?", default=False)
    offset_link: bool = measured(Kind.FLAG, "Offset link", "May an offset link be used, for odd counts?", default=False)
    wear_percent: float = measured(
        Kind.RATIO,
        "Chain wear",
        "How much it has grown, in percent.",
        default=0.0,
        ge=0,
        le=MOST_WEAR_PERCENT,
    )
    pieces: tuple[ChainPiece, ...] = measured(
        Kind.PIECE_ROWS,
        "Pieces at hand",
        "Loose pieces beside the box.",
        allowed="piece_rows",
        default=(),
        max_length=60,
    )
    width: ChainWidth | None = measured(
        Kind.CHOICE, "Chain width", "Between the inner plates, in inches, as the box says.", default=None
    )
    teeth_width: ChainWidth | None = measured(
        Kind.CHOICE, "Width of the teeth", "Of ring and cog, in inches: which chain they need.", default=None
    )

    @model_validator(mode="after")
    def _as_wide_as_the_teeth(self) -> Self:
        if self.teeth_width is ChainWidth.WIDE and self.width is ChainWidth.NARROW:
            allowed = Message("one_of", keys=(str(ChainWidth.WIDE),))
            raise trade_error(allowed, at="width", read=str(self.width), hint="chain_too_narrow")
        return self

    @property
    def stretch(self) -> float:
        """Its length as a multiple of a new chain's: 1 + w (model, section 5)."""
        return 1 + self.wear_percent / 100


class OldChain(Document):
    """The chain that came off."""

    links: int = measured(
        Kind.COUNT, "Old chain", "Counted rivet by rivet, joiner included.", ge=LEAST_LINKS, le=MOST_LINKS
    )
    was_right: bool = measured(Kind.FLAG, "Old chain was right", "Did it run well in every gear?", default=True)
    changed: tuple[ChangedPart, ...] = measured(Kind.CHOICES, "Changed parts", "Parts that were changed.", default=())
    biggest_cog: int | None = measured(
        Kind.TEETH,
        "Old largest cog",
        "Largest cog it ran on, where that has changed.",
        default=None,
        ge=COG_SIZES[0],
        le=COG_SIZES[1],
    )
    biggest_ring: int | None = measured(
        Kind.TEETH,
        "Old largest ring",
        "Largest ring it ran on, where that has changed.",
        default=None,
        ge=RING_SIZES[0],
        le=RING_SIZES[1],
    )


class Boom(Document):
    """A boom that carries ring and cranks; 0 is the rider's own setting."""

    from_mm: float = measured(
        Kind.LENGTH,
        "Boom from",
        "Shortest setting from the rider's own; pushed in has a minus sign.",
        ge=-300,
        le=300,
    )
    to_mm: float = measured(Kind.LENGTH, "Boom to", "Longest setting, from the rider's own.", ge=-300, le=300)
    angle_deg: float = measured(
        Kind.ANGLE, "Boom angle", "How far the boom points up to the front.", default=0.0, ge=-60, le=60
    )

    @model_validator(mode="after")
    def _has_a_range(self) -> Self:
        if self.to_mm <= self.from_mm:
            raise trade_error(Message("more_than", low=mm(self.from_mm)), at="to_mm", read=self.to_mm)
        return self


class Spreads(RootModel[dict[str, float]]):
    """The spread of each measure, either way, by the measure's key: two standard deviations, so the value is nearly
    always within it."""

    model_config = ConfigDict(frozen=True, strict=True)

    def __hash__(self) -> int:
        return hash(tuple(sorted(self.root.items())))


def check_spreads(about: Spreads, fields: Mapping[str, FieldSpec]) -> None:
    """Checks that spreads belong to measures that can be in doubt, and are within their bounds. Raises: the trade's
    error."""
    spreads = {spec.spread.key: spec for spec in fields.values() if spec.spread}
    for key, value in about.root.items():
        spread = spreads[key].spread if key in spreads else None
        if spread is None:
            raise trade_error(Message("one_of", keys=tuple(spreads)), at=f"about.{key}", read=key)
        if not 0 <= value <= spread.most:
            most = Quantity(spread.most, spreads[key].unit)
            allowed = Message("between", low=Quantity(0, most.unit), high=most)
            raise trade_error(allowed, at=f"about.{key}", read=value)


class EndLimits(Document):
    """The limits that a shop wants kept at both ends, in place of the usual ones."""

    least_reserve_deg: float = measured(
        Kind.ANGLE,
        "Smallest reserve",
        "What is left in big/big before the cage is straight.",
        default=limit("least_reserve"),
        ge=15,
        le=45,
    )
    least_clearance_mm: float = measured(
        Kind.LENGTH,
        "Smallest clearance",
        "What the return run keeps off the guide pulley in small/small.",
        default=limit("least_clearance"),
        ge=0,
        le=40,
    )
    slack_air_mm: float = measured(
        Kind.LENGTH,
        "Slack test clearance",
        "Clearance the slack test leaves under the guide pulley: none, or a finger.",
        default=0.0,
        ge=0,
        le=30,
    )
    tube_clear_mm: float = measured(
        Kind.LENGTH,
        "Tube to idler",
        "A chain tube ends this far before an idler.",
        default=limit("tube_clear"),
        ge=5,
        le=100,
    )
