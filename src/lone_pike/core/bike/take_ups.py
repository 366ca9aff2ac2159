"""What takes up the slack, as measured: what turns (derailleur, arm) and what stands (slot, eccentric, nothing)."""

from enum import StrEnum
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from lone_pike.core.bike.base import CageClass, CogTeeth, Document, PositionMm, RingTeeth, trade_error
from lone_pike.core.bike.fields import Kind, measured
from lone_pike.core.bike.limits import limit
from lone_pike.core.messages import Message, mm

SlackMm = Annotated[float, Field(ge=0, le=100)]


class Taste(StrEnum):
    """Where the axle, or the crank, is best to stand of all places a count may put it."""

    MIDDLE = "middle"
    FORWARD = "forward"
    KILOMETRES = "kilometres"


class Caged(Document):
    """What turns: two pulleys on a cage or an arm, measured or of a class."""

    places_axle: ClassVar[bool] = False
    has_route: ClassVar[bool] = True

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
    rest_deg: float | None = measured(
        Kind.ANGLE,
        "Empty cage",
        "Where the cage rests with the chain off, forward of straight down. It goes no farther back than that.",
        default=None,
        ge=-180,
        le=60,
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


class Derailleur(Caged):
    """A derailleur's cage: measured, or of a class."""

    ring_count: ClassVar[tuple[int, int]] = (1, 3)
    cog_count: ClassVar[tuple[int, int]] = (5, 13)

    type: Literal["derailleur"] = measured(Kind.CHOICE, "Closed by", "What takes up the slack.")
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


class Arm(Caged):
    """A sprung arm with two pulleys behind a single cog, or a hub's gears."""

    ring_count: ClassVar[tuple[int, int]] = (1, 1)
    cog_count: ClassVar[tuple[int, int]] = (1, 1)

    type: Literal["arm"] = measured(Kind.CHOICE, "Closed by", "What takes up the slack.")
    pivot_mm: tuple[PositionMm, PositionMm] = measured(
        Kind.PLACE,
        "Arm's pivot",
        "Guide pulley centre from the axle centre: forward, then up; with a minus sign where it is below.",
        letter="G",
        allowed="place_from_axle",
    )


class Standing(Document):
    """What closes the length by where axle or crank stands; several cogs or rings share one count."""

    ring_count: ClassVar[tuple[int, int]] = (1, 2)
    cog_count: ClassVar[tuple[int, int]] = (1, 3)
    places_axle: ClassVar[bool] = False
    has_route: ClassVar[bool] = False

    ring_runout_mm: float = measured(
        Kind.LENGTH,
        "Ring out of round",
        "How far a tooth of the ring comes nearer to the axle and goes off again in one turn of the crank.",
        default=0.0,
        ge=0,
        le=5,
    )
    wheel_turn_mm: float = measured(
        Kind.LENGTH,
        "Wheel turn",
        "What the wheel rolls in one turn, on the floor.",
        default=limit("wheel_turn"),
        ge=500,
        le=3000,
    )


class Slot(Standing):
    """A slotted dropout: the axle stands where the chain is taut, somewhere between the slot's ends."""

    places_axle: ClassVar[bool] = True

    type: Literal["slot"] = measured(Kind.CHOICE, "Closed by", "What takes up the slack.")
    min_mm: float = measured(
        Kind.LENGTH,
        "Slot from",
        "Centre of crank to centre of axle, the wheel pushed right forward.",
        letter="E",
        ge=150,
        le=2500,
    )
    max_mm: float = measured(
        Kind.LENGTH,
        "Slot to",
        "Centre of crank to centre of axle, the wheel pulled right back.",
        letter="F",
        ge=150,
        le=2500,
    )
    taste: Taste = measured(
        Kind.CHOICE, "Axle best", "Where the axle is best to stand in its slot.", default=Taste.MIDDLE
    )

    @model_validator(mode="after")
    def _has_a_length(self) -> Self:
        if self.max_mm == self.min_mm:
            raise trade_error(Message("another_than", value=mm(self.min_mm)), at="max_mm", read=self.max_mm)
        return self

    @property
    def near_mm(self) -> float:
        """Its front end from the crank centre, whichever end was told first."""
        return min(self.min_mm, self.max_mm)

    @property
    def far_mm(self) -> float:
        """Its rear end from the crank centre."""
        return max(self.min_mm, self.max_mm)

    @property
    def middle_mm(self) -> float:
        """Half way between its ends, from the crank centre."""
        return (self.min_mm + self.max_mm) / 2


class Eccentric(Standing):
    """A bottom bracket whose crank turns on a circle in its shell; lengths are taken from the shell's centre."""

    type: Literal["eccentric"] = measured(Kind.CHOICE, "Closed by", "What takes up the slack.")
    radius_mm: float = measured(
        Kind.LENGTH,
        "Eccentric",
        "Shell centre to crank centre: half of what the crank moves in all.",
        letter="H",
        ge=1,
        le=40,
    )
    crank_deg: float | None = measured(
        Kind.ANGLE,
        "Crank stands",
        "The crank centre in its shell as it stands now, forward of straight down: the chainstay was taken from there.",
        default=None,
        ge=-180,
        le=180,
    )
    taste: Taste = measured(
        Kind.CHOICE, "Crank best", "Where the crank is best to stand on its circle.", default=Taste.MIDDLE
    )


class NoTakeUp(Standing):
    """Vertical dropouts: nothing moves, so ring, cog and count must land on the chainstay."""

    type: Literal["none"] = measured(Kind.CHOICE, "Closed by", "What takes up the slack.")


TakeUpPart = Annotated[Derailleur | Arm | Slot | Eccentric | NoTakeUp, Field(discriminator="type")]


class Search(Document):
    """Ring and cog ranges to look through for what lands within the allowed slack."""

    rings: tuple[RingTeeth, RingTeeth] = measured(Kind.TEETH_LIST, "Rings tried", "Fewest and most teeth of the ring.")
    cogs: tuple[CogTeeth, CogTeeth] = measured(Kind.TEETH_LIST, "Cogs tried", "Fewest and most teeth of the cog.")
    ratio: float = measured(Kind.RATIO, "Wanted ratio", "Teeth of the ring for one of the cog.", ge=0.3, le=8)
    slack_mm: tuple[SlackMm, SlackMm] = measured(
        Kind.PLACE,
        "Slack allowed",
        "Least and most movement of the run at its middle, up and down together.",
        allowed="slack_range",
        default=(0.0, limit("most_slack")),
    )
    offset_link: bool = measured(Kind.FLAG, "Offset link tried", "May an offset link be used?", default=False)

    @model_validator(mode="after")
    def _ranges_rise(self) -> Self:
        for field in ("rings", "cogs", "slack_mm"):
            first, last = getattr(self, field)
            if last < first:
                raise trade_error(Message("range_rises"), at=field, read=[first, last])
        return self
