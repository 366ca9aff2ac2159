"""How a rear axle moves: around one pivot, along a table, or by one growth figure (model, section 4)."""

from itertools import pairwise
from typing import Annotated, Literal, Self

from pydantic import Discriminator, Field, Tag, field_validator, model_validator

from lone_pike.core.bike.base import Document, PositionMm, trade_error
from lone_pike.core.bike.fields import THREE_FIGURES, TWO_FIGURES, Kind, measured
from lone_pike.core.bike.limits import limit
from lone_pike.core.messages import Message, mm

STEEPEST = limit("steepest_growth")
JUMP_MM = limit("same_chainstay")
"""The tolerance for a row's chainstay: if it differs from the row before, or from the first one, by more than its
travel allows plus this, it was misread."""

MOST_TURN_DEG = limit("most_turn")
TravelMm = Annotated[float, Field(ge=0, le=400)]
ChainstayMm = Annotated[float, Field(ge=limit("nearest_axle"), le=limit("farthest_axle"))]
TurnDeg = Annotated[float, Field(ge=-MOST_TURN_DEG, le=MOST_TURN_DEG)]

WITHOUT_TURN = 2
TravelRow = Annotated[
    Annotated[tuple[TravelMm, ChainstayMm], Tag(TWO_FIGURES)]
    | Annotated[tuple[TravelMm, ChainstayMm, TurnDeg], Tag(THREE_FIGURES)],
    Discriminator(
        lambda row: THREE_FIGURES if isinstance(row, list | tuple) and len(row) > WITHOUT_TURN else TWO_FIGURES
    ),
]
"""Travel and chainstay, mm, and, if it was measured, how far the part with the derailleur has turned."""


class SuspensionDocument(Document):
    """What every suspension declares about itself."""

    @property
    def first_row(self) -> TravelRow | None:
        """The row at rest, if the chainstay was measured along the travel."""
        return None

    @property
    def pivot_at_mm(self) -> tuple[float, float] | None:
        """The pivot around which its swing arm turns; None if it is not known."""
        return None

    @property
    def leaves_turn_open(self) -> bool:
        """Whether the part with the derailleur may turn differently from what is computed."""
        return False

    @property
    def given_turn_deg(self) -> float | None:
        """How far the part with the derailleur turns over the travel, if that was measured."""
        return None


class RisingAxle(SuspensionDocument):
    """The field of every suspension except a table: how far the wheel rises."""

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


class PivotSuspension(RisingAxle):
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

    @property
    def pivot_at_mm(self) -> tuple[float, float]:
        """Its pivot."""
        return self.pivot_mm

    @property
    def measures(self) -> dict[str, float]:
        """Its pivot, forward and up, and its travel."""
        x_mm, y_mm = self.pivot_mm
        return {"pivot_x_mm": x_mm, "pivot_y_mm": y_mm, "travel_mm": self.travel_mm}


class TableSuspension(SuspensionDocument):
    """Chainstay measured at several points of the travel, and on a linkage the turn of the part with the derailleur."""

    type: Literal["table"] = measured(Kind.CHOICE, "Suspension", "How the rear axle moves.")
    points: tuple[TravelRow, ...] = measured(
        Kind.TRAVEL_ROWS,
        "Travel, chainstay, turn",
        "One row for each travel, from rest to full."
        " Turn: degrees the derailleur turns on a linkage; minus is the way a swing arm turns.",
        allowed="travel_rows",
        limits=("most_turn",),
        min_length=2,
        max_length=1000,
    )

    @field_validator("points")
    @classmethod
    def _travel_rises_from_rest(cls, points: tuple[TravelRow, ...]) -> tuple[TravelRow, ...]:
        if points[0][0] != 0:
            raise trade_error(Message("first_row_at_rest"), at="0", read=list(points[0]))
        for row, (before, here) in enumerate(pairwise(points), start=1):
            if here[0] <= before[0]:
                hint = "same_travel_again" if here[0] == before[0] else "travel_falls"
                raise trade_error(
                    Message("travels_rise"), at=str(row), read=list(here), hint=hint, before=mm(before[0])
                )
            if len(here) != len(points[0]):
                raise trade_error(Message("turn_in_each_row"), at=str(row), read=list(here), hint="turn_or_none")
            if any(abs(here[1] - one[1]) > STEEPEST * (here[0] - one[0]) + JUMP_MM for one in (before, points[0])):
                raise trade_error(Message("chainstay_near_row"), at=str(row), read=list(here), hint="no_axle_jumps")
        return points

    @property
    def travel_mm(self) -> float:
        """The last row's travel."""
        return self.points[-1][0]

    @property
    def tells_turn(self) -> bool:
        """Whether its rows include the turn of the part with the derailleur."""
        return len(self.points[0]) > WITHOUT_TURN

    @property
    def first_row(self) -> TravelRow:
        """Its first row."""
        return self.points[0]

    @property
    def leaves_turn_open(self) -> bool:
        """Whether its rows leave the turn out."""
        return not self.tells_turn

    @property
    def given_turn_deg(self) -> float | None:
        """From the first row's turn to the last one's."""
        return self.points[-1][-1] - self.points[0][-1] if self.tells_turn else None

    @property
    def measures(self) -> dict[str, float]:
        """The turn, if it is in doubt."""
        return {"turn_deg": 0.0} if self.leaves_turn_open else {}


class GrowthSuspension(RisingAxle):
    """The only measured figure: by how much the chainstay grows to full travel."""

    type: Literal["growth"] = measured(Kind.CHOICE, "Suspension", "How the rear axle moves.")
    growth_mm: float = measured(
        Kind.LENGTH,
        "Growth",
        "Chainstay at full travel minus chainstay at rest; minus if it gets shorter.",
        usual=3,
        most=30,
        reach=16,
        ge=-60,
        le=120,
    )

    @model_validator(mode="after")
    def _grows_no_faster_than_it_rises(self) -> Self:
        most = STEEPEST * self.travel_mm
        if abs(self.growth_mm) > most:
            allowed = Message("between", low=mm(-most), high=mm(most))
            raise trade_error(allowed, at="growth_mm", read=self.growth_mm, hint="no_arm_so_steep")
        return self

    @property
    def measures(self) -> dict[str, float]:
        """Its growth and its travel."""
        return {"growth_mm": self.growth_mm, "travel_mm": self.travel_mm}


Suspension = Annotated[PivotSuspension | TableSuspension | GrowthSuspension, Field(discriminator="type")]
