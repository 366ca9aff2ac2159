"""The parts of the measured bike, each a piece of its file (model, section 7)."""

from enum import StrEnum
from itertools import pairwise
from typing import Annotated, Any, ClassVar, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, RootModel, field_validator, model_validator
from pydantic_core import PydanticCustomError

from lone_pike.core.bike.fields import Kind, measured
from lone_pike.core.bike.limits import limit
from lone_pike.core.messages import Message, mm

STEEPEST_MM, JUMP_MM = 2.0, 5.0
"""A row of travel whose chainstay is farther from the row before than this many mm a mm, and this, is misread."""


class CageClass(StrEnum):
    """A cage's length where no caliper was used."""

    SHORT = "short"
    MEDIUM = "medium"
    LONG = "long"


class JoinerKind(StrEnum):
    """What may close a loop of chain."""

    QUICK_LINK = "quick_link"
    LOCKING_LINK = "locking_link"
    JOINING_PIN = "joining_pin"
    RIVET = "rivet"
    CLIP_LINK = "clip_link"


class BoxEnds(StrEnum):
    """The two ends of a loose chain."""

    INNER_INNER = "inner_inner"
    INNER_OUTER = "inner_outer"
    OUTER_OUTER = "outer_outer"


class ChangedPart(StrEnum):
    """What is not as it was when the old chain was fitted."""

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


class Document(BaseModel):
    """Base of all parts of the file: frozen, and no unknown keys."""

    not_sized_yet: ClassVar[tuple[str, ...]] = ()
    """Keys of the file that this version knows but does not size."""

    model_config = ConfigDict(extra="forbid", frozen=True, strict=True, populate_by_name=True, allow_inf_nan=False)


def trade_error(
    allowed: Message | None = None,
    *,
    at: str = "",
    read: object = None,
    missing: bool = False,
    hint: str = "",
    **values: Any,
) -> PydanticCustomError:
    """An error of the trade's own rules, carrying its parts.

    Parameters: at, the field below the one that is checked; allowed, where it is not just the field's bounds;
    hint, the code of what mends it, and values, what stands in that.
    """
    told = Message(hint, **values) if hint else None
    parts = {"allowed": allowed, "at": at, "read": read, "missing": missing, "hint": told}
    return PydanticCustomError("trade", "{at}", {"at": "", **{key: part for key, part in parts.items() if part}})


RingTeeth = Annotated[int, Field(ge=16, le=70)]
CogTeeth = Annotated[int, Field(ge=9, le=60)]
IdlerTeeth = Annotated[int, Field(ge=8, le=40)]
TravelMm = Annotated[float, Field(ge=0, le=400)]
ChainstayMm = Annotated[float, Field(ge=limit("nearest_axle"), le=limit("farthest_axle"))]
PositionMm = Annotated[float, Field(ge=-limit("farthest_axle"), le=limit("farthest_axle"))]


class Derailleur(Document):
    """A derailleur's cage: measured, or of a class."""

    not_sized_yet: ClassVar[tuple[str, ...]] = ("rest_deg",)
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
    extended: bool = measured(
        Kind.FLAG, "Extender", "A hanger extender, or a cage made for oversized cogs, is fitted.", default=False
    )
    max_cog: int | None = measured(
        Kind.TEETH, "Rated largest cog", "Rated largest cog, from its papers.", default=None, ge=9, le=60
    )
    capacity: int | None = measured(
        Kind.TEETH, "Rated capacity", "Rated capacity, from its papers.", default=None, ge=4, le=80
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


class PivotSuspension(Document):
    """A swing arm on one pivot."""

    type: Literal["pivot"] = measured(Kind.CHOICE, "Suspension", "How the rear axle moves.")
    pivot_mm: tuple[PositionMm, PositionMm] = measured(
        Kind.PLACE,
        "Pivot",
        "Pivot centre from the crank centre: forward, then up.",
        letter="D",
        usual=5,
        most=30,
        reach=24,
        allowed="place_from_crank",
    )
    travel_mm: float = measured(
        Kind.LENGTH,
        "Travel",
        "Rise of the wheel from rest to bottomed out, shock empty.",
        usual=5,
        most=30,
        reach=24,
        ge=1,
        le=400,
    )


class TableSuspension(Document):
    """Chainstay measured at several points of the travel."""

    type: Literal["table"] = measured(Kind.CHOICE, "Suspension", "How the rear axle moves.")
    points: tuple[tuple[TravelMm, ChainstayMm], ...] = measured(
        Kind.TRAVEL_ROWS,
        "Travel and chainstay",
        "A row for each travel: travel and chainstay, typed or pasted, from rest to bottomed out.",
        allowed="travel_rows",
        min_length=2,
        max_length=1000,
    )

    @field_validator("points")
    @classmethod
    def _travel_rises_from_rest(cls, points: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
        if points[0][0] != 0:
            raise trade_error(Message("first_row_at_rest"), at="0", read=list(points[0]))
        for row, (before, here) in enumerate(pairwise(points), start=1):
            if here[0] <= before[0]:
                hint = "same_travel_again" if here[0] == before[0] else "travel_falls"
                raise trade_error(
                    Message("travels_rise"), at=str(row), read=list(here), hint=hint, before=mm(before[0])
                )
            if abs(here[1] - before[1]) > STEEPEST_MM * (here[0] - before[0]) + JUMP_MM:
                raise trade_error(Message("chainstay_near_row"), at=str(row), read=list(here), hint="no_axle_jumps")
        return points

    @property
    def travel_mm(self) -> float:
        """The last row's travel."""
        return self.points[-1][0]


class GrowthSuspension(Document):
    """The one figure that was measured: by how much the chainstay grows to full travel."""

    type: Literal["growth"] = measured(Kind.CHOICE, "Suspension", "How the rear axle moves.")
    growth_mm: float = measured(
        Kind.LENGTH,
        "Growth",
        "Chainstay bottomed out less chainstay at rest; negative where it shortens.",
        usual=3,
        most=30,
        reach=16,
        ge=-60,
        le=120,
    )
    travel_mm: float = measured(
        Kind.LENGTH,
        "Travel",
        "Rise of the wheel from rest to bottomed out, shock empty.",
        usual=5,
        most=30,
        reach=24,
        ge=1,
        le=400,
    )


Suspension = Annotated[PivotSuspension | TableSuspension | GrowthSuspension, Field(discriminator="type")]


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
    joiner: JoinerKind = measured(
        Kind.CHOICE, "Joiner", "What closes the loop.", allowed="one_of_always", default=JoinerKind.QUICK_LINK
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
        "Least air",
        "The return run keeps this much off the guide pulley in small/small.",
        default=limit("least_clearance"),
        ge=0,
        le=40,
    )
