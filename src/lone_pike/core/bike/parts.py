"""The parts of the measured bike, each a piece of its file (model, section 7)."""

from typing import Annotated, ClassVar, Literal, Self

from pydantic import ConfigDict, Field, RootModel, model_validator

from lone_pike.core.bike.base import (
    BoxEnds,
    CageClass,
    ChangedPart,
    Document,
    JoinerKind,
    PositionMm,
    Run,
    Side,
    trade_error,
)
from lone_pike.core.bike.fields import Kind, measured
from lone_pike.core.bike.limits import limit
from lone_pike.core.messages import Message, mm

RingTeeth = Annotated[int, Field(ge=16, le=70)]
CogTeeth = Annotated[int, Field(ge=9, le=60)]
IdlerTeeth = Annotated[int, Field(ge=8, le=40)]


class Derailleur(Document):
    """A derailleur's cage: measured, or of a class."""

    ring_count: ClassVar[tuple[int, int]] = (1, 3)
    cog_count: ClassVar[tuple[int, int]] = (5, 13)

    type: Literal["derailleur"] = measured(Kind.CHOICE, "Take-up", "What takes up the slack.")
    cage_class: CageClass | None = measured(
        Kind.CHOICE, "Cage class", "Stands in where there is no caliper reading.", alias="class", default=None
    )
    cage_mm: float | None = measured(
        Kind.LENGTH,
        "Cage",
        "Guide pulley centre to tension pulley centre, with the caliper.",
        letter="B",
        allowed="between_or_class",
        usual=4,
        most=30,
        reach=24,
        default=None,
        ge=35,
        le=150,
    )
    guide_teeth: int = measured(
        Kind.TEETH, "Guide teeth", "Upper pulley, counted.", default=int(limit("pulley")), ge=8, le=20
    )
    tension_teeth: int = measured(
        Kind.TEETH, "Tension teeth", "Lower pulley, counted.", default=int(limit("pulley")), ge=8, le=20
    )
    b_gap_mm: float | None = measured(
        Kind.LENGTH,
        "Gap",
        "Tooth tip of the guide pulley to tooth tip of the largest cog.",
        letter="C",
        usual=2,
        most=10,
        reach=12,
        default=None,
        ge=1,
        le=30,
    )
    lean_deg: float = measured(
        Kind.ANGLE,
        "Lean",
        "Guide pulley forward of straight below the axle.",
        usual=5,
        most=20,
        reach=16,
        default=limit("lean"),
        ge=-30,
        le=60,
    )
    rest_deg: float | None = measured(
        Kind.ANGLE,
        "Empty cage",
        "Where the cage rests with the chain off, forward of straight down. It goes no farther back than that.",
        default=None,
        ge=-180,
        le=60,
    )
    extended: bool = measured(
        Kind.FLAG, "Extender", "A hanger extender, or a cage made for oversized cogs, is fitted.", default=False
    )
    max_cog: int | None = measured(
        Kind.TEETH,
        "Rated largest cog",
        "Largest cog it is rated for, by its maker.",
        default=None,
        ge=9,
        le=60,
    )
    capacity: int | None = measured(
        Kind.TEETH,
        "Rated capacity",
        "Capacity it is rated for, by its maker.",
        default=None,
        ge=4,
        le=80,
    )

    @model_validator(mode="after")
    def _cage_is_known(self) -> Self:
        if self.cage_mm is None and self.cage_class is None:
            raise trade_error(at="cage_mm", missing=True)
        return self

    @property
    def cage_length_mm(self) -> float:
        """Measured cage, or that of its class, in mm."""
        return self.cage_mm if self.cage_mm is not None else limit(f"{self.cage_class}_cage")


class Slot(Document):
    """A slotted dropout: the axle stands where the chain is taut, somewhere between the slot's ends."""

    ring_count: ClassVar[tuple[int, int]] = (1, 1)
    cog_count: ClassVar[tuple[int, int]] = (1, 1)

    type: Literal["slot"] = measured(Kind.CHOICE, "Take-up", "What takes up the slack.")
    min_mm: float = measured(
        Kind.LENGTH, "Slot from", "Centre of crank to centre of axle, the wheel pushed right forward.", ge=150, le=2500
    )
    max_mm: float = measured(
        Kind.LENGTH, "Slot to", "Centre of crank to centre of axle, the wheel pulled right back.", ge=150, le=2500
    )

    @model_validator(mode="after")
    def _rear_end_is_behind(self) -> Self:
        if self.max_mm <= self.min_mm:
            raise trade_error(
                Message("more_than", low=mm(self.min_mm)), at="max_mm", read=self.max_mm, hint="slot_ends"
            )
        return self

    @property
    def middle_mm(self) -> float:
        """Half way between its ends, from the crank centre."""
        return (self.min_mm + self.max_mm) / 2


TakeUpPart = Annotated[Derailleur | Slot, Field(discriminator="type")]


class Idler(Document):
    """A pulley the chain passes on its way, fixed to the frame."""

    run: Run = measured(Kind.CHOICE, "Run", "The loaded upper run, or the slack lower one.")
    at_mm: tuple[PositionMm, PositionMm] = measured(
        Kind.PLACE, "Place", "Its centre from the crank centre: forward, then up.", allowed="place_from_crank"
    )
    teeth: IdlerTeeth = measured(Kind.TEETH, "Teeth", "Its teeth, counted.", ge=8, le=40)
    chain: Side = measured(Kind.CHOICE, "Chain", "Which side of it the chain passes.")


class Chain(Document):
    """The new chain and what closes it."""

    not_sized_yet: ClassVar[tuple[str, ...]] = ("wear_percent", "pieces")

    speeds: int | None = measured(
        Kind.COGS,
        "Number of cogs",
        "Cogs the chain is made for; the cassette's where not given.",
        default=None,
        ge=1,
        le=13,
    )
    box_links: int | None = measured(
        Kind.COUNT, "Box", "The count printed on the box, in links of one pitch each.", default=None, ge=20, le=400
    )
    box_includes_joiner: bool = measured(
        Kind.FLAG, "Joiner counted in", "Is the quick link counted in the box's figure?", default=False
    )
    box_ends: BoxEnds | None = measured(
        Kind.CHOICE,
        "Box ends",
        "What the loose chain's ends are; worked out from the count where not given.",
        default=None,
    )
    joiner: JoinerKind | None = measured(
        Kind.CHOICE,
        "Joiner",
        "What closes the loop; where not given, the usual one for so many cogs.",
        default=None,
    )
    offset_link: bool = measured(Kind.FLAG, "Offset link", "May an offset link be used, for odd counts?", default=False)


class OldChain(Document):
    """The chain that came off."""

    links: int = measured(Kind.COUNT, "Old chain", "Counted rivet by rivet, joiner included.", ge=20, le=400)
    was_right: bool = measured(Kind.FLAG, "Old chain was right", "Did it run well in every gear?", default=True)
    changed: tuple[ChangedPart, ...] = measured(
        Kind.CHOICES, "Changed parts", "Parts that are not as they were.", default=()
    )
    biggest_cog: int | None = measured(
        Kind.TEETH,
        "Old largest cog",
        "Largest cog it ran on, where that has changed.",
        default=None,
        ge=9,
        le=60,
    )
    biggest_ring: int | None = measured(
        Kind.TEETH,
        "Old largest ring",
        "Largest ring it ran on, where that has changed.",
        default=None,
        ge=16,
        le=70,
    )


class Spreads(RootModel[dict[str, float]]):
    """How far off each measure may be, either way, nearly always: two standard deviations; by the measure's key."""

    model_config = ConfigDict(frozen=True, strict=True)

    def __hash__(self) -> int:
        return hash(tuple(sorted(self.root.items())))


class EndLimits(Document):
    """What a shop wants kept at both ends; its own figures where it is more careful, or knows why not."""

    least_reserve_deg: float = measured(
        Kind.ANGLE,
        "Least reserve",
        "The cage keeps this much short of straight in big/big.",
        default=limit("least_reserve"),
        ge=15,
        le=45,
    )
    least_clearance_mm: float = measured(
        Kind.LENGTH,
        "Least guide clearance",
        "The return run keeps this much off the guide pulley in small/small.",
        default=limit("least_clearance"),
        ge=0,
        le=40,
    )
