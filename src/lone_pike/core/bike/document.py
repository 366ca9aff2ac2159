"""The measured bike: the document that is filed, edited and sized (model, section 7)."""

from itertools import pairwise
from typing import Annotated, Any, ClassVar, Literal, Self, get_args

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator
from pydantic_core import PydanticCustomError

from lone_pike.core.bike.limits import limit

MOST_ADDED_LINKS, LEAST_TOTAL_LINKS = 12, 60

CageClass = Literal["short", "medium", "long"]
JoinerKind = Literal["quick_link", "locking_link", "joining_pin", "rivet"]
BoxEnds = Literal["inner_inner", "inner_outer", "outer_outer"]
HouseRule = Literal[
    "window",
    "bare_wrap_1_pair",
    "bare_wrap_2_pairs",
    "formula",
    "cage_vertical",
    "slack_test",
    "least_tension",
    "old_chain",
]
ChangedPart = Literal["cogs", "rings", "derailleur", "frame"]


def measured(allowed: str, how: str, **bounds: Any) -> Any:
    """A field with its bounds, what is allowed in words, and how it is measured."""
    return Field(description=how, json_schema_extra={"allowed": allowed}, **bounds)


def trade_error(
    allowed: str, *, at: str = "", read: object = None, missing: bool = False, cure: str = ""
) -> PydanticCustomError:
    """An error of the trade's own rules, carrying its parts; at is the field below the one that is checked."""
    parts = {"allowed": allowed, "at": at, "read": read, "missing": missing, "cure": cure}
    return PydanticCustomError("trade", "{allowed}", {key: part for key, part in parts.items() if part})


class Document(BaseModel):
    """Base of all parts of the file: frozen, and no unknown keys."""

    not_sized_yet: ClassVar[dict[str, str]] = {}
    """Keys of the file that this version knows but does not size, with what they stand for."""

    model_config = ConfigDict(extra="forbid", frozen=True, strict=True, populate_by_name=True, allow_inf_nan=False)


RingTeeth = Annotated[int, Field(ge=16, le=70)]
CogTeeth = Annotated[int, Field(ge=9, le=60)]
IdlerTeeth = Annotated[int, Field(ge=8, le=40)]
PulleyTeeth = Annotated[int, Field(ge=8, le=20)]
TravelMm = Annotated[float, Field(ge=0, le=400)]
ChainstayMm = Annotated[float, Field(ge=250, le=2500)]
PositionMm = Annotated[float, Field(ge=-2500, le=2500)]


class Derailleur(Document):
    """A derailleur's cage: measured, or of a class."""

    type: Literal["derailleur"] = measured("derailleur", "What takes up the slack.")
    cage_class: CageClass | None = measured(
        "short, medium or long", "Stands in for a caliper reading.", alias="class", default=None
    )
    cage_mm: float | None = measured(
        "35 to 150 mm", "Guide pulley centre to tension pulley centre, with the caliper.", default=None, ge=35, le=150
    )
    guide_teeth: PulleyTeeth = measured("8 to 20 teeth", "Upper pulley, counted.", default=int(limit("pulley")))
    tension_teeth: PulleyTeeth = measured("8 to 20 teeth", "Lower pulley, counted.", default=int(limit("pulley")))
    b_gap_mm: float | None = measured(
        "1 to 30 mm", "Tooth tip of the guide pulley to tooth tip of the largest cog.", default=None, ge=1, le=30
    )
    lean_deg: float = measured(
        "-30 to 60 degrees",
        "Guide pulley forward of straight below the axle.",
        default=limit("lean"),
        ge=-30,
        le=60,
    )
    extended: bool = measured(
        "true or false", "A hanger extender, or a cage made for oversized cogs, is fitted.", default=False
    )
    max_cog: int | None = measured("9 to 60 teeth", "Rated largest cog, from its papers.", default=None, ge=9, le=60)
    capacity: int | None = measured("4 to 80 teeth", "Rated capacity, from its papers.", default=None, ge=4, le=80)

    @model_validator(mode="after")
    def _cage_is_known(self) -> Self:
        if self.cage_mm is None and self.cage_class is None:
            raise trade_error("35 to 150 mm, or a class: short, medium, long", at="cage_mm", missing=True)
        return self

    @property
    def cage_length_mm(self) -> float:
        """Measured cage, or that of its class, in mm."""
        return self.cage_mm if self.cage_mm is not None else limit(f"{self.cage_class}_cage")


class PivotSuspension(Document):
    """A swing arm on one pivot."""

    type: Literal["pivot"] = measured("pivot, table or growth", "How the axle moves.")
    pivot_mm: tuple[PositionMm, PositionMm] = measured(
        "[x, y] in mm from the crank centre, up to 2500 mm away", "Pivot centre, x forward, y up."
    )
    travel_mm: float = measured("1 to 400 mm", "Rise of the wheel from rest to bottomed out.", ge=1, le=400)


class TableSuspension(Document):
    """Chainstay measured at several points of the travel."""

    type: Literal["table"] = measured("pivot, table or growth", "How the axle moves.")
    points: tuple[tuple[TravelMm, ChainstayMm], ...] = measured(
        "2 to 1000 rows of [travel, chainstay] in mm, travels rising from 0 to 400 mm, each once",
        "Travel against centre of crank to centre of axle, in mm.",
        min_length=2,
        max_length=1000,
    )

    @field_validator("points")
    @classmethod
    def _travel_rises_from_rest(cls, points: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
        if points[0][0] != 0:
            raise trade_error("a first row with travel 0, the bike at rest", at="0", read=list(points[0]))
        for row, (before, here) in enumerate(pairwise(points), start=1):
            if here[0] <= before[0]:
                told = "the same travel again" if here[0] == before[0] else f"less than the {before[0]:g} before it"
                raise trade_error(
                    "travels that rise from row to row", at=str(row), read=list(here), cure=f"It is {told}."
                )
            if abs(here[1] - before[1]) > 2 * (here[0] - before[0]) + 5:
                cure = "No axle jumps like that; measure this row again."
                raise trade_error("a chainstay near that of the row before", at=str(row), read=list(here), cure=cure)
        return points

    @property
    def travel_mm(self) -> float:
        """The last row's travel."""
        return self.points[-1][0]


class GrowthSuspension(Document):
    """The one figure that was measured: by how much the chainstay grows to full travel."""

    type: Literal["growth"] = measured("pivot, table or growth", "How the axle moves.")
    growth_mm: float = measured(
        "-60 to 120 mm", "Chainstay bottomed out less chainstay at rest; below 0 where it shortens.", ge=-60, le=120
    )
    travel_mm: float = measured("1 to 400 mm", "Rise of the wheel from rest to bottomed out.", ge=1, le=400)


Suspension = Annotated[PivotSuspension | TableSuspension | GrowthSuspension, Field(discriminator="type")]


class Idler(Document):
    """A pulley the chain passes on its way, fixed to the frame."""

    run: Literal["drive", "return"] = measured("drive or return", "The loaded upper run, or the slack lower one.")
    at_mm: tuple[PositionMm, PositionMm] = measured(
        "[x, y] in mm from the crank centre, up to 2500 mm away", "Its centre, x forward, y up."
    )
    teeth: IdlerTeeth = measured("8 to 40 teeth", "Its teeth, counted.")
    chain: Literal["over", "under"] = measured("over or under", "Which side of it the chain passes.")


class Chain(Document):
    """The new chain and what closes it."""

    speeds: int | None = measured(
        "1 to 13", "Cogs the chain is made for; the cassette's where not given.", default=None, ge=1, le=13
    )
    box_links: int | None = measured(
        "20 to 400 links", "The count printed on the box, in links (one pitch each).", default=None, ge=20, le=400
    )
    box_includes_joiner: bool = measured(
        "true or false", "Is the quick link counted in the box's figure?", default=False
    )
    box_ends: BoxEnds | None = measured(
        "inner_inner, inner_outer or outer_outer",
        "What the loose chain's ends are; worked out from the count where not given.",
        default=None,
    )
    joiner: JoinerKind = measured(
        "quick_link, locking_link, joining_pin or rivet", "What closes the loop.", default="quick_link"
    )
    offset_link: bool = measured("true or false", "May an offset link be used, for odd counts?", default=False)


class OldChain(Document):
    """The chain that came off."""

    links: int = measured("20 to 400 links", "Counted rivet by rivet, joiner included.", ge=20, le=400)
    was_right: bool = measured("true or false", "Did it run well in every gear?", default=True)
    changed: tuple[ChangedPart, ...] = measured(
        "cogs, rings, derailleur, frame", "Parts that are not as they were.", default=()
    )
    biggest_cog: int | None = measured(
        "9 to 60 teeth", "Largest cog it ran on, where that has changed.", default=None, ge=9, le=60
    )
    biggest_ring: int | None = measured(
        "16 to 70 teeth", "Biggest ring it ran on, where that has changed.", default=None, ge=16, le=70
    )


class About(Document):
    """How far off each measure may be, either way, nearly always: two standard deviations."""

    chainstay_mm: float = measured("0 to 30 mm", "Spread of the chainstay.", default=0.0, ge=0, le=30)
    cage_mm: float = measured("0 to 30 mm", "Spread of the cage.", default=0.0, ge=0, le=30)
    b_gap_mm: float = measured("0 to 10 mm", "Spread of the gap.", default=0.0, ge=0, le=10)
    axle_height_mm: float = measured("0 to 30 mm", "Spread of the axle's height.", default=0.0, ge=0, le=30)
    lean_deg: float = measured("0 to 20 degrees", "Spread of the lean.", default=0.0, ge=0, le=20)
    travel_mm: float = measured("0 to 30 mm", "Spread of the travel.", default=0.0, ge=0, le=30)
    growth_mm: float = measured("0 to 30 mm", "Spread of the growth figure.", default=0.0, ge=0, le=30)
    pivot_mm: float = measured("0 to 30 mm", "Spread of the pivot's place, each way.", default=0.0, ge=0, le=30)


class EndLimits(Document):
    """What a shop wants kept at both ends; its own figures where it is more careful, or knows why not."""

    least_reserve_deg: float = measured(
        "15 to 45 degrees",
        "The cage keeps this much short of straight in big/big.",
        default=limit("least_reserve"),
        ge=15,
        le=45,
    )
    least_clearance_mm: float = measured(
        "0 to 40 mm",
        "The return run keeps this much off the guide pulley in small/small.",
        default=limit("least_clearance"),
        ge=0,
        le=40,
    )


class Bike(Document):
    """One bike's drivetrain, as measured at the stand."""

    not_sized_yet: ClassVar[dict[str, str]] = {
        "boom": "a boom",
    }

    lone_pike: Literal[1] = measured("1", "Version of this file.")
    name: str = measured("1 to 80 letters", "What the workshop calls the bike.", min_length=1, max_length=80)
    rings: tuple[RingTeeth, ...] = measured(
        "1 to 3 rings of 16 to 70 teeth", "Teeth of every ring, counted.", min_length=1, max_length=3
    )
    cogs: tuple[CogTeeth, ...] = measured(
        "5 to 13 cogs of 9 to 60 teeth", "Teeth of every cog, counted or read off.", min_length=5, max_length=13
    )
    chainstay_mm: float | None = measured(
        "250 to 2500 mm", "Centre of crank to centre of axle.", default=None, ge=250, le=2500
    )
    axle_mm: tuple[PositionMm, PositionMm] | None = measured(
        "[x, y] in mm from the crank centre, 250 to 2500 mm away", "Axle centre, x forward, y up.", default=None
    )
    take_up: Derailleur = measured("a derailleur", "What takes up the slack.")
    suspension: Suspension | None = measured(
        "a suspension of type pivot, table or growth", "How the rear axle moves; none on a rigid frame.", default=None
    )
    idlers: tuple[Idler, ...] = measured(
        "up to 6 idlers, each run listed front to back", "Pulleys on the way of the chain.", default=(), max_length=6
    )
    chain: Chain = measured("an object", "The new chain and its joiner.", default=Chain())
    old_chain: OldChain | None = measured("an object", "The chain that came off.", default=None)
    about: About = measured("an object", "How far off each measure may be.", default=About())
    sheet_links: int | None = measured(
        "0 to 12 links to add to the bare wrap, or a total of 60 to 400 links",
        "The maker's sheet: links added to the bare wrap, or the total. It outranks every school.",
        default=None,
        ge=0,
        le=400,
    )
    limits: EndLimits = measured("an object", "What the shop wants kept at both ends.", default=EndLimits())
    house_rule: HouseRule = measured(
        ", ".join(get_args(HouseRule)), "What decides the count: the window, or the shop's school.", default="window"
    )

    @field_validator("rings", "cogs")
    @classmethod
    def _each_size_once(cls, teeth: tuple[int, ...]) -> tuple[int, ...]:
        twice = sorted({size for size in teeth if teeth.count(size) > 1})
        if twice:
            raise trade_error("each size once", read=list(teeth), cure=f"{twice[0]} stands there twice.")
        return teeth

    @model_validator(mode="after")
    def _axle_is_placed_once(self) -> Self:
        if (self.chainstay_mm is None) == (self.axle_mm is None):
            neither = self.axle_mm is None
            raise trade_error(
                "chainstay_mm or axle_mm, one of them", at="chainstay_mm", read=self.chainstay_mm, missing=neither
            )
        if not 250 <= self.chainstay_length_mm <= 2500:
            raise trade_error("an axle 250 to 2500 mm from the crank", at="axle_mm", read=self.axle_mm)
        return self

    @field_validator("sheet_links")
    @classmethod
    def _added_or_total(cls, links: int | None) -> int | None:
        if links is not None and MOST_ADDED_LINKS < links < LEAST_TOTAL_LINKS:
            raise trade_error("0 to 12 links to add to the bare wrap, or a total of 60 to 400 links", read=links)
        return links

    @model_validator(mode="after")
    def _joiner_suits_the_chain(self) -> Self:
        if self.chain.joiner == "rivet" and self.speeds > limit("rivet_cogs"):
            raise trade_error(
                "quick_link, locking_link or joining_pin",
                at="chain.joiner",
                read="rivet",
                cure=f"A rivet is never driven back in a chain for {self.speeds} cogs: the plates are weakened.",
            )
        return self

    @property
    def speeds(self) -> int:
        """Cogs the chain must suit."""
        return self.chain.speeds or len(self.cogs)

    @property
    def axle_xy_mm(self) -> tuple[float, float]:
        """Axle centre from the crank centre, mm."""
        return self.axle_mm if self.axle_mm is not None else (-float(self.chainstay_mm or 0), 0.0)

    @property
    def chainstay_length_mm(self) -> float:
        """Centre of crank to centre of axle, mm."""
        x_mm, y_mm = self.axle_xy_mm
        return float((x_mm * x_mm + y_mm * y_mm) ** 0.5)

    @property
    def travel_mm(self) -> float:
        """Rise of the wheel to bottomed out, mm; 0 on a rigid frame."""
        return self.suspension.travel_mm if self.suspension else 0.0

    @property
    def gap_mm(self) -> float:
        """Measured gap at the largest cog, or the usual one for such a cassette, mm."""
        if self.take_up.b_gap_mm is not None:
            return self.take_up.b_gap_mm
        wide = len(self.rings) == 1 and self.biggest_cog >= limit("wide_cog")
        return limit("wide_gap" if wide else "gap")

    @property
    def biggest_ring(self) -> int:
        """Teeth of the biggest ring."""
        return max(self.rings)

    @property
    def smallest_ring(self) -> int:
        """Teeth of the smallest ring."""
        return min(self.rings)

    @property
    def biggest_cog(self) -> int:
        """Teeth of the biggest cog."""
        return max(self.cogs)

    @property
    def smallest_cog(self) -> int:
        """Teeth of the smallest cog."""
        return min(self.cogs)
