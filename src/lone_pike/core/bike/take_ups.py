"""What takes up the slack, as measured: what turns (derailleur, arm) and what stands (slot, eccentric, nothing)."""

from enum import StrEnum
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from lone_pike.core.bike.base import CageClass, CogTeeth, Document, PositionMm, RingTeeth, trade_error
from lone_pike.core.bike.fields import Kind, measured
from lone_pike.core.bike.limits import limit
from lone_pike.core.messages import Message, Term, Value, mm

SlackMm = Annotated[float, Field(ge=0, le=100)]


class Taste(StrEnum):
    """Where the axle, or the crank, is best to stand of all places a count may put it."""

    MIDDLE = "middle"
    FORWARD = "forward"
    KILOMETRES = "kilometres"


class Family(StrEnum):
    """The two families of take-ups: what turns (a cage, an arm) and what stands (an axle, a crank)."""

    TURNS = "turns"
    STANDS = "stands"


class Moves(StrEnum):
    """What is moved to tighten the chain where nothing turns."""

    AXLE = "axle"
    CRANK = "crank"
    NOTHING = "nothing"


PartNotice = tuple[str, Message]
"""A notice's code and its message."""


class TakeUpDocument(Document):
    """What every kind of take-up says of itself, so that no other place has to ask which kind it is."""

    family: ClassVar[Family]
    ring_count: ClassVar[tuple[int, int]]
    cog_count: ClassVar[tuple[int, int]]
    places_axle: ClassVar[bool] = False
    """Whether it places the axle itself, so that no chainstay is asked for."""
    has_route: ClassVar[bool] = False
    """Whether the chain may run over idlers, through tubes and from a boom."""
    is_searched: ClassVar[bool] = False
    """Whether ring, cog and count may be searched for it."""
    serves_range: ClassVar[bool] = False
    """Whether it takes up the difference between gears, so that its capacity is asked."""

    @property
    def by_class(self) -> bool:
        """Whether a class stands in for a caliper's reading."""
        return False

    @property
    def chainstay_mm(self) -> float | None:
        """The chainstay that it stands for itself; None where it was measured."""
        return None

    @property
    def notices(self) -> tuple[PartNotice, ...]:
        """What was read otherwise than it was given."""
        return ()

    @property
    def spread_notices(self) -> tuple[PartNotice, ...]:
        """What makes the answer less sure."""
        return ()


class Caged(TakeUpDocument):
    """What turns: two pulleys on a cage or an arm, measured or of a class."""

    family: ClassVar[Family] = Family.TURNS
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

    @property
    def by_class(self) -> bool:
        """Whether the cage is known by its class alone."""
        return self.cage_mm is None

    @property
    def spread_notices(self) -> tuple[PartNotice, ...]:
        """That a class stands in for the caliper."""
        if not self.by_class:
            return ()
        values: dict[str, Value] = {
            "cage": Term("cage_class", str(self.cage_class)),
            "length": mm(self.cage_length_mm),
            "either_way": mm(limit("cage_class_doubt")),
        }
        return (("cage_class", Message("cage_class", **values)),)

    @property
    def guide_at_mm(self) -> tuple[float, float] | None:
        """The guide pulley from the axle, forward and up, where that was measured; None where it follows the cog."""
        return None

    def measures(self, gap_mm: float) -> dict[str, float]:  # noqa: ARG002 - only where the guide follows the cog
        """Its measures that may be in doubt, by key. Parameters: gap_mm, the gap at the largest cog."""
        return {"cage_mm": self.cage_length_mm}

    def hang(self, gap_mm: float) -> tuple[float, float]:  # noqa: ARG002 - only where the guide follows the cog
        """Gap, mm, and lean, degrees, by which the guide pulley hangs from the axle; none where its place was
        measured."""
        return 0.0, 0.0

    def gap_at_largest_mm(self, rings: int, largest_cog: int) -> float:  # noqa: ARG002 - as above
        """The gap at the largest cog, mm; 0 where the guide pulley's place was measured."""
        return 0.0


class Derailleur(Caged):
    """A derailleur's cage: measured, or of a class."""

    ring_count: ClassVar[tuple[int, int]] = (1, 3)
    cog_count: ClassVar[tuple[int, int]] = (5, 13)
    serves_range: ClassVar[bool] = True

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

    def measures(self, gap_mm: float) -> dict[str, float]:
        """Cage, gap and lean."""
        return super().measures(gap_mm) | {"b_gap_mm": gap_mm, "lean_deg": self.lean_deg}

    def hang(self, gap_mm: float) -> tuple[float, float]:
        """The gap and the lean."""
        return gap_mm, self.lean_deg

    def gap_at_largest_mm(self, rings: int, largest_cog: int) -> float:
        """The measured gap, or the usual one for such a cassette."""
        if self.b_gap_mm is not None:
            return self.b_gap_mm
        return limit("wide_gap" if rings == 1 and largest_cog >= limit("wide_cog") else "gap")


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

    @property
    def guide_at_mm(self) -> tuple[float, float]:
        """Where the arm's upper pulley was measured."""
        return self.pivot_mm


class Standing(TakeUpDocument):
    """What closes the length by where axle or crank stands; several cogs or rings share one count."""

    family: ClassVar[Family] = Family.STANDS
    ring_count: ClassVar[tuple[int, int]] = (1, 2)
    cog_count: ClassVar[tuple[int, int]] = (1, 3)
    moves: ClassVar[Moves]
    near_field: ClassVar[str] = ""
    """The field that sets the least centre distance; empty where the chainstay does."""

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

    @property
    def best(self) -> Taste:
        """Where axle or crank is best to stand; as far forward as it goes where nobody chose."""
        return Taste.FORWARD

    @property
    def crank_radius_mm(self) -> float:
        """The circle on which the crank centre turns; 0 where it does not."""
        return 0.0

    @property
    def crank_stands_deg(self) -> float | None:
        """Where the crank stands on that circle now, forward of straight down; None where nobody looked."""
        return None

    def centres_mm(self, away_mm: float) -> tuple[float, float]:
        """The least and the most centre distance. Parameters: away_mm, the axle from the shell's centre, mm."""
        return away_mm - self.crank_radius_mm, away_mm + self.crank_radius_mm


class Slot(Standing):
    """A slotted dropout: the axle stands where the chain is taut, somewhere between the slot's ends."""

    places_axle: ClassVar[bool] = True
    moves: ClassVar[Moves] = Moves.AXLE
    near_field: ClassVar[str] = "take_up.min_mm"

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
    def chainstay_mm(self) -> float:
        """Half way between its ends, from the crank centre."""
        return (self.min_mm + self.max_mm) / 2

    @property
    def best(self) -> Taste:
        """Where the axle is best to stand."""
        return self.taste

    def centres_mm(self, away_mm: float) -> tuple[float, float]:  # noqa: ARG002 - its own ends are measured
        """Its two ends."""
        return self.near_mm, self.far_mm

    @property
    def notices(self) -> tuple[PartNotice, ...]:
        """That its ends were given the other way round."""
        if self.min_mm < self.max_mm:
            return ()
        return (("slot_swapped", Message("slot_swapped", near=mm(self.near_mm), far=mm(self.far_mm))),)


class Eccentric(Standing):
    """A bottom bracket whose crank turns on a circle in its shell; lengths are taken from the shell's centre."""

    moves: ClassVar[Moves] = Moves.CRANK
    near_field: ClassVar[str] = "take_up.radius_mm"
    is_searched: ClassVar[bool] = True

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

    @property
    def best(self) -> Taste:
        """Where the crank is best to stand."""
        return self.taste

    @property
    def crank_radius_mm(self) -> float:
        """Its own circle."""
        return self.radius_mm

    @property
    def crank_stands_deg(self) -> float | None:
        """Where its crank stands."""
        return self.crank_deg


class NoTakeUp(Standing):
    """Vertical dropouts: nothing moves, so ring, cog and count must land on the chainstay."""

    moves: ClassVar[Moves] = Moves.NOTHING
    is_searched: ClassVar[bool] = True

    type: Literal["none"] = measured(Kind.CHOICE, "Closed by", "What takes up the slack.")


def caged_part(part: TakeUpDocument) -> Caged:
    """A take-up that turns. Raises: TypeError for one that stands."""
    if not isinstance(part, Caged):
        raise TypeError("what takes up this chain does not turn")
    return part


def derailleur_part(part: TakeUpDocument) -> Derailleur:
    """A derailleur. Raises: TypeError for any other."""
    if not isinstance(part, Derailleur):
        raise TypeError("what takes up this chain is no derailleur")
    return part


def standing_part(part: TakeUpDocument) -> Standing:
    """A take-up that stands. Raises: TypeError for one that turns."""
    if not isinstance(part, Standing):
        raise TypeError("what takes up this chain does not stand")
    return part


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
