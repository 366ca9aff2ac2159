"""What takes up the slack, as measured: the kinds that stand (slot, eccentric, nothing), and the union of all kinds."""

from enum import StrEnum
from typing import Annotated, Any, ClassVar, Literal, Self

from pydantic import Field, model_validator

from lone_pike.core.bike.base import CogTeeth, Document, RingTeeth, trade_error
from lone_pike.core.bike.fields import Kind, measured
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.take_up import Family, Moves, TakeUpDocument
from lone_pike.core.bike.turning import Arm, Derailleur
from lone_pike.core.messages import Message, Notice, NoticeKind, mm

SlackMm = Annotated[float, Field(ge=0, le=100)]


class AxlePlace(StrEnum):
    """The best place for the axle or the crank among all that a count allows."""

    MIDDLE = "middle"
    FORWARD = "forward"
    KILOMETRES = "kilometres"


def _wanted(label: str, how: str) -> Any:
    """The best place for axle or crank; in files it is called taste."""
    return measured(Kind.CHOICE, label, how, alias="taste", default=AxlePlace.MIDDLE)


class Standing(TakeUpDocument):
    """Base of the take-ups that work by the place of axle or crank; several cogs or rings share one count."""

    family: ClassVar[Family] = Family.STANDS
    ring_count: ClassVar[tuple[int, int]] = (1, 2)
    cog_count: ClassVar[tuple[int, int]] = (1, 3)
    moves: ClassVar[Moves]
    near_field: ClassVar[str] = ""
    """The field that sets the least centre distance; empty if the chainstay does."""

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
        "Wheel rollout",
        "How far the wheel rolls in one turn.",
        default=limit("wheel_turn"),
        ge=500,
        le=3000,
    )

    @property
    def best(self) -> AxlePlace:
        """The best place for axle or crank; as far forward as possible if nobody chose one."""
        return AxlePlace.FORWARD

    @property
    def crank_radius_mm(self) -> float:
        """The radius of the circle on which the crank centre turns; 0 if it does not."""
        return 0.0

    @property
    def crank_stands_deg(self) -> float | None:
        """Where the crank is on that circle now, forward of straight down; None if it is not known."""
        return None

    def centres_mm(self, away_mm: float) -> tuple[float, float]:
        """The least and the most centre distance. Parameters: away_mm, the axle from the shell's centre, mm."""
        return away_mm - self.crank_radius_mm, away_mm + self.crank_radius_mm


class Slot(Standing):
    """A slotted dropout: the axle is where the chain is taut, between the slot's ends."""

    places_axle: ClassVar[bool] = True
    moves: ClassVar[Moves] = Moves.AXLE
    shows: ClassVar[tuple[str, ...]] = ("slack_mm", "axle_mm")
    near_field: ClassVar[str] = "take_up.min_mm"

    type: Literal["slot"] = measured(Kind.CHOICE, "Chain tension set by", "What takes up the slack.")
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
    wanted_place: AxlePlace = _wanted("Best axle position", "Where in its slot you want the axle.")

    @model_validator(mode="after")
    def _has_a_length(self) -> Self:
        if self.max_mm == self.min_mm:
            raise trade_error(Message("another_than", value=mm(self.min_mm)), at="max_mm", read=self.max_mm)
        return self

    @property
    def near_mm(self) -> float:
        """Its front end from the crank centre, whichever end was given first."""
        return min(self.min_mm, self.max_mm)

    @property
    def far_mm(self) -> float:
        """Its rear end from the crank centre."""
        return max(self.min_mm, self.max_mm)

    @property
    def chainstay_mm(self) -> float:
        """Half way between its ends, from the crank centre."""
        return (self.min_mm + self.max_mm) / 2

    @property
    def best(self) -> AxlePlace:
        """The best place for the axle."""
        return self.wanted_place

    def centres_mm(self, away_mm: float) -> tuple[float, float]:  # noqa: ARG002 - its own ends are measured
        """Its two ends."""
        return self.near_mm, self.far_mm

    @property
    def notices(self) -> tuple[Notice, ...]:
        """The notice that its ends were given in the other order."""
        if self.min_mm < self.max_mm:
            return ()
        return (Notice(NoticeKind.SLOT_SWAPPED, Message("slot_swapped", near=mm(self.near_mm), far=mm(self.far_mm))),)


class Eccentric(Standing):
    """A bottom bracket whose crank turns on a circle in its shell; lengths are taken from the shell's centre."""

    moves: ClassVar[Moves] = Moves.CRANK
    shows: ClassVar[tuple[str, ...]] = ("slack_mm", "clock")
    near_field: ClassVar[str] = "take_up.radius_mm"
    is_searched: ClassVar[bool] = True

    type: Literal["eccentric"] = measured(Kind.CHOICE, "Chain tension set by", "What takes up the slack.")
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
        "Crank position",
        "Where the crank centre sits in its shell now, forward of straight down; measure the chainstay so.",
        default=None,
        ge=-180,
        le=180,
    )
    wanted_place: AxlePlace = _wanted("Crank best", "Where the crank is best to stand on its circle.")

    @property
    def best(self) -> AxlePlace:
        """The best place for the crank."""
        return self.wanted_place

    @property
    def crank_radius_mm(self) -> float:
        """The radius of its circle."""
        return self.radius_mm

    @property
    def crank_stands_deg(self) -> float | None:
        """Where its crank is."""
        return self.crank_deg


class NoTakeUp(Standing):
    """Vertical dropouts: nothing moves, so ring, cog and count must land on the chainstay."""

    moves: ClassVar[Moves] = Moves.NOTHING
    shows: ClassVar[tuple[str, ...]] = ("slack_mm",)
    is_searched: ClassVar[bool] = True

    type: Literal["none"] = measured(Kind.CHOICE, "Chain tension set by", "What takes up the slack.")


TakeUpPart = Annotated[Derailleur | Arm | Slot | Eccentric | NoTakeUp, Field(discriminator="type")]


class Search(Document):
    """The ranges of rings and cogs to search for combinations within the allowed slack."""

    rings: tuple[RingTeeth, RingTeeth] = measured(Kind.TEETH_LIST, "Rings to try", "Fewest and most teeth of the ring.")
    cogs: tuple[CogTeeth, CogTeeth] = measured(Kind.TEETH_LIST, "Cogs to try", "Fewest and most teeth of the cog.")
    ratio: float = measured(Kind.RATIO, "Wanted ratio", "Teeth of the ring for one of the cog.", ge=0.3, le=8)
    slack_mm: tuple[SlackMm, SlackMm] = measured(
        Kind.PLACE,
        "Slack allowed",
        "Least and most movement of the run at its middle, up and down together.",
        allowed="slack_range",
        default=(0.0, limit("most_slack")),
    )
    offset_link: bool = measured(Kind.FLAG, "Offset link allowed", "May an offset link be used?", default=False)

    @model_validator(mode="after")
    def _ranges_rise(self) -> Self:
        for field in ("rings", "cogs", "slack_mm"):
            first, last = getattr(self, field)
            if last < first:
                raise trade_error(Message("range_rises"), at=field, read=[first, last])
        return self
