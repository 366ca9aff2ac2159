"""The take-ups that turn, as measured: a derailleur's cage, a sprung arm (model, section 2)."""

from typing import ClassVar, Literal, Self

from pydantic import model_validator

from lone_pike.core.bike.base import COG_SIZES, CageClass, PositionMm, trade_error
from lone_pike.core.bike.fields import Kind, measured
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.take_up import Family, TakeUpDocument
from lone_pike.core.messages import Message, Notice, NoticeKind, Term, Value, mm


class Caged(TakeUpDocument):
    """Base of the take-ups that turn: two pulleys on a cage or an arm, with a measured length or a class."""

    family: ClassVar[Family] = Family.TURNS
    has_route: ClassVar[bool] = True
    shows: ClassVar[tuple[str, ...]] = ("clock", "clearance_mm", "state")

    cage_class: CageClass | None = measured(
        Kind.CHOICE, "Cage class", "Use this if you cannot measure the cage.", alias="class", default=None
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
        "Cage with the chain off",
        "Where the cage rests with the chain off, forward of straight down. It cannot go further back.",
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
        """The length of the cage, measured or by its class, mm."""
        return self.cage_mm if self.cage_mm is not None else limit(f"{self.cage_class}_cage")

    @property
    def by_class(self) -> bool:
        """Whether only the class of the cage is known."""
        return self.cage_mm is None

    @property
    def spread_notices(self) -> tuple[Notice, ...]:
        """The notice that a class takes the place of a measured length."""
        if not self.by_class:
            return ()
        values: dict[str, Value] = {
            "cage": Term("cage_class", str(self.cage_class)),
            "length": mm(self.cage_length_mm),
            "either_way": mm(limit("cage_class_doubt")),
        }
        return (Notice(NoticeKind.CAGE_CLASS, Message("cage_class", **values)),)

    @property
    def guide_at_mm(self) -> tuple[float, float] | None:
        """The guide pulley's place from the axle, forward and up, if that was measured; None if it follows the cog."""
        return None

    def measures(self, gap_mm: float) -> dict[str, float]:  # noqa: ARG002 - only where the guide follows the cog
        """Its measures that can be in doubt, by key. Parameters: gap_mm, the gap at the largest cog."""
        return {"cage_mm": self.cage_length_mm}

    def hang(self, gap_mm: float) -> tuple[float, float]:  # noqa: ARG002 - only where the guide follows the cog
        """The gap, mm, and the lean, degrees, of the guide pulley; empty if its place was measured."""
        return 0.0, 0.0

    def gap_at_largest_mm(self, rings: int, largest_cog: int) -> float:  # noqa: ARG002 - as above
        """The gap at the largest cog, mm; 0 if the guide pulley's place was measured."""
        return 0.0


class Derailleur(Caged):
    """A derailleur's cage, with a measured length or a class."""

    ring_count: ClassVar[tuple[int, int]] = (1, 3)
    cog_count: ClassVar[tuple[int, int]] = (1, 13)
    serves_range: ClassVar[bool] = True

    type: Literal["derailleur"] = measured(Kind.CHOICE, "Chain tension set by", "What takes up the slack.")
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
        "The manufacturer's rating for the largest cog.",
        default=None,
        ge=COG_SIZES[0],
        le=COG_SIZES[1],
    )
    capacity: int | None = measured(
        Kind.TEETH,
        "Rated capacity",
        "The manufacturer's rated capacity.",
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
        """The gap: as measured, or the usual one for such a cassette."""
        if self.b_gap_mm is not None:
            return self.b_gap_mm
        return limit("wide_gap" if rings == 1 and largest_cog >= limit("wide_cog") else "gap")


class Arm(Caged):
    """A sprung arm with two pulleys behind one cog or a few, as used with hub gears."""

    ring_count: ClassVar[tuple[int, int]] = (1, 1)
    cog_count: ClassVar[tuple[int, int]] = (1, 13)

    type: Literal["arm"] = measured(Kind.CHOICE, "Chain tension set by", "What takes up the slack.")
    pivot_mm: tuple[PositionMm, PositionMm] = measured(
        Kind.PLACE,
        "Upper pulley position",
        "Upper pulley centre from the axle centre.",
        letter="G",
        allowed="place_from_axle",
    )

    @property
    def guide_at_mm(self) -> tuple[float, float]:
        """The measured place of the arm's upper pulley."""
        return self.pivot_mm
