"""The measured bike: the document that is filed, edited and sized (model, section 7)."""

from math import hypot, sqrt
from typing import Literal, Self

from pydantic import field_validator, model_validator

from lone_pike.core.bike.axle_place import FARTHEST_AXLE_MM, NEAREST_AXLE_MM, check_axle, check_height
from lone_pike.core.bike.base import MOST_COGS, CogTeeth, HouseRule, PositionMm, RingTeeth, Run, trade_error
from lone_pike.core.bike.fields import Kind, fields_of, measured
from lone_pike.core.bike.joiners import JOINERS, JoinerKind, usual_joiner
from lone_pike.core.bike.limits import MOST_IDLERS, MOST_SEEN, MOST_TUBES, limit
from lone_pike.core.bike.model_faults import WholeDocument
from lone_pike.core.bike.parts import Boom, Chain, EndLimits, Idler, OldChain, Spreads, Tube, check_spreads
from lone_pike.core.bike.seen import Seen, check_seen
from lone_pike.core.bike.suspensions import Suspension
from lone_pike.core.bike.take_up import as_a
from lone_pike.core.bike.take_ups import Search, TakeUpPart
from lone_pike.core.bike.turning import Caged, Derailleur
from lone_pike.core.messages import Message, Quantity, Unit, mm, number


class Bike(WholeDocument):
    """One bike's drivetrain, as measured at the stand."""

    lone_pike: Literal[1] = measured(Kind.PART, "Version", "Version of this file.", allowed="this_version")
    name: str = measured(Kind.TEXT, "Name", "What the workshop calls the bike.", min_length=1, max_length=80)
    rings: tuple[RingTeeth, ...] = measured(
        Kind.TEETH_LIST, "Rings", "Teeth of every ring, counted.", min_length=1, max_length=3
    )
    cogs: tuple[CogTeeth, ...] = measured(
        Kind.COG_LIST,
        "Cogs",
        "Teeth of every cog, counted or read off.",
        allowed="cog_list",
        min_length=1,
        max_length=MOST_COGS,
    )
    chainstay_mm: float | None = measured(
        Kind.LENGTH,
        "Chainstay",
        "Centre of crank to centre of axle, along the stay.",
        letter="A",
        usual=5,
        most=30,
        reach=16,
        default=None,
        ge=NEAREST_AXLE_MM,
        le=FARTHEST_AXLE_MM,
    )
    axle_height_mm: float | None = measured(
        Kind.LENGTH,
        "Axle height",
        "Axle above the crank centre, with a chainstay; a pivot is measured from there too.",
        usual=5,
        most=30,
        reach=24,
        default=None,
        ge=-FARTHEST_AXLE_MM,
        le=FARTHEST_AXLE_MM,
    )
    axle_mm: tuple[PositionMm, PositionMm] | None = measured(
        Kind.PLACE,
        "Axle",
        "Axle centre from the crank centre, forward and up: in place of chainstay and height.",
        allowed="axle_place",
        limits=("nearest_axle",),
        default=None,
    )
    take_up: TakeUpPart = measured(Kind.PART, "Take-up", "What takes up the slack.")
    suspension: Suspension | None = measured(
        Kind.PART, "Suspension", "How the rear axle moves; none on a rigid frame.", default=None
    )
    idlers: tuple[Idler, ...] = measured(
        Kind.IDLER_ROWS,
        "Idlers",
        "Pulleys on the way of the chain, each run listed front to back.",
        allowed="idler_rows",
        default=(),
        max_length=MOST_IDLERS,
    )
    tubes: tuple[Tube, ...] = measured(
        Kind.TUBE_ROWS,
        "Tubes",
        "Tubes the chain runs through, each on a straight part of a run.",
        allowed="tube_rows",
        default=(),
        max_length=MOST_TUBES,
    )
    boom: Boom | None = measured(Kind.PART, "Boom", "What carries the ring, where it can be moved.", default=None)
    chain: Chain = measured(Kind.PART, "Chain", "The new chain and its joiner.", default=Chain())
    old_chain: OldChain | None = measured(Kind.PART, "Old chain", "The chain that came off.", default=None)
    about: Spreads = measured(Kind.PART, "Spread", "How far off each measure may be.", default=Spreads(root={}))
    sheet_links: int | None = measured(
        Kind.COUNT,
        "Maker's sheet",
        "The maker's sheet: links added to the bare wrap, or the total. It outranks every method.",
        allowed="added_or_total",
        limits=("sheet_most_added", "sheet_least_total"),
        default=None,
        ge=0,
        le=400,
    )
    limits: EndLimits = measured(Kind.PART, "Limits", "What the shop wants kept at both ends.", default=EndLimits())
    search: Search | None = measured(
        Kind.PART,
        "Search",
        "Rings and cogs to look through for fixed centres.",
        default=None,
    )
    seen: tuple[Seen, ...] = measured(
        Kind.PART, "Seen", "What was seen in proving.", allowed="seen_rows", default=(), max_length=MOST_SEEN
    )
    house_rule: HouseRule = measured(
        Kind.CHOICE,
        "House rule",
        "What decides the count: the window, or the shop's own rule.",
        default=HouseRule.WINDOW,
    )

    @field_validator("rings", "cogs")
    @classmethod
    def _each_size_once(cls, sizes: tuple[int, ...]) -> tuple[int, ...]:
        twice = sorted({size for size in sizes if sizes.count(size) > 1})
        if twice:
            raise trade_error(Message("each_once"), read=list(sizes), hint="stands_twice", size=number(twice[0]))
        return sizes

    @field_validator("sheet_links")
    @classmethod
    def _added_or_total(cls, count: int | None) -> int | None:
        if count is not None and limit("sheet_most_added") < count < limit("sheet_least_total"):
            raise trade_error(read=count)
        return count

    @model_validator(mode="after")
    def _as_many_wheels_as_the_take_up_serves(self) -> Self:
        for field, sizes, (fewest, most) in (
            ("rings", self.rings, self.take_up.ring_count),
            ("cogs", self.cogs, self.take_up.cog_count),
        ):
            if not fewest <= len(sizes) <= most:
                raise trade_error(fields_of(type(self))[field].list_allowed(fewest, most), at=field, read=list(sizes))
        return self

    @model_validator(mode="after")
    def _axle_is_placed_once(self) -> Self:
        placed = [place for place in (self.chainstay_mm, self.axle_mm) if place is not None]
        if len(placed) > 1 or not (placed or self.take_up.places_axle):
            raise trade_error(
                Message("one_of_both", keys=("chainstay_mm", "axle_mm")),
                at="chainstay_mm",
                read=self.chainstay_mm,
                missing=not placed,
            )
        if self.axle_height_mm is not None and self.axle_mm is not None:
            raise trade_error(Message("nothing_beside_axle"), at="axle_height_mm", read=self.axle_height_mm)
        return self

    @model_validator(mode="after")
    def _axle_stands_behind_the_crank(self) -> Self:
        if self.axle_mm is None:
            check_height(self.axle_height_mm or 0.0, self.away_mm)
        check_axle(self.axle_xy_mm, list(self.axle_mm or ()), bounded=not self.take_up.places_axle)
        return self

    @model_validator(mode="after")
    def _table_starts_at_the_axle(self) -> Self:
        first, measured_mm = self.suspension.first_row if self.suspension else None, self.chainstay_length_mm
        if first is not None and abs(first[1] - measured_mm) > limit("same_chainstay"):
            allowed = Message("axle_at_rest", chainstay=mm(measured_mm), within=mm(limit("same_chainstay")))
            raise trade_error(allowed, at="suspension.points.0", read=list(first), hint="measured_twice")
        return self

    @model_validator(mode="after")
    def _joiner_suits_the_chain(self) -> Self:
        joiner = self.chain.joiner
        if joiner and self.speeds > JOINERS[joiner].most_cogs:
            others = tuple(kind for kind, one in JOINERS.items() if self.speeds <= one.most_cogs)
            raise trade_error(
                Message("one_of", keys=others),
                at="chain.joiner",
                read=str(joiner),
                hint=f"never_{joiner}",
                cogs=Quantity(self.speeds, Unit.COGS),
            )
        return self

    @model_validator(mode="after")
    def _a_joiner_that_holds_once_is_new(self) -> Self:
        if self.chain.joiner_used and JOINERS[self.joiner].once:
            raise trade_error(Message("a_new_one"), at="chain.joiner_used", read=str(self.joiner), hint="never_twice")
        return self

    @model_validator(mode="after")
    def _boom_is_for_what_turns(self) -> Self:
        if self.boom and not self.take_up.has_route:
            raise trade_error(Message("boom_take_ups"), at="boom", read=str(self.take_up.type))
        return self

    @model_validator(mode="after")
    def _tubes_are_on_parts_of_a_run(self) -> Self:
        for i, tube in enumerate(self.tubes):
            parts = 1 + sum(idler.run is tube.run for idler in self.idlers)
            if tube.part > parts:
                raise trade_error(Message("part_of_run", most=number(parts)), at=f"tubes.{i}.part", read=tube.part)
        return self

    @model_validator(mode="after")
    def _search_is_for_fixed_centres(self) -> Self:
        if self.search and not self.take_up.is_searched:
            raise trade_error(Message("search_take_ups"), at="search", read=str(self.take_up.type))
        return self

    @model_validator(mode="after")
    def _seen_is_of_this_bike(self) -> Self:
        check_seen(self.seen, {"ring": self.rings, "cog": self.cogs}, self.travel_mm, self.take_up.shows)
        return self

    @model_validator(mode="after")
    def _spreads_are_of_measures(self) -> Self:
        check_spreads(self.about, fields_of(type(self)))
        return self

    @property
    def derailleur(self) -> Derailleur:
        """Its derailleur. Raises: TypeError where it has none."""
        return as_a(Derailleur, self.take_up)

    @property
    def caged(self) -> Caged:
        """Its derailleur or its sprung arm. Raises: TypeError where it has neither."""
        return as_a(Caged, self.take_up)

    @property
    def idler_runs(self) -> tuple[Run, ...]:
        """The run of each idler."""
        return tuple(idler.run for idler in self.idlers)

    @property
    def speeds(self) -> int:
        """The number of cogs for which the chain must be made."""
        return self.chain.speeds or len(self.cogs)

    @property
    def joiner(self) -> JoinerKind:
        """The joiner: as given, or the one that the trade uses for this number of cogs."""
        return self.chain.joiner or usual_joiner(self.speeds)

    @property
    def axle_xy_mm(self) -> tuple[float, float]:
        """Axle centre from the crank centre, mm; half way along its slot if only the slot is measured."""
        if self.axle_mm is not None:
            return self.axle_mm
        height, away = float(self.axle_height_mm or 0), self.away_mm
        return -sqrt(away * away - height * height), height

    @property
    def away_mm(self) -> float:
        """The chainstay as measured; if only a slot was measured, the middle of the slot."""
        measured_mm = self.take_up.chainstay_mm if self.chainstay_mm is None else self.chainstay_mm
        return measured_mm or 0.0

    @property
    def chainstay_length_mm(self) -> float:
        """Centre of crank to centre of axle, mm."""
        return hypot(*self.axle_xy_mm)

    @property
    def travel_mm(self) -> float:
        """Rise of the wheel to bottomed out, mm; 0 on a rigid frame."""
        return self.suspension.travel_mm if self.suspension else 0.0

    @property
    def gap_mm(self) -> float:
        """Measured gap at the largest cog, or the usual one for such a cassette, mm."""
        return self.caged.gap_at_largest_mm(len(self.rings), self.largest_cog)

    @property
    def largest_ring(self) -> int:
        """Teeth of the largest ring."""
        return max(self.rings)

    @property
    def smallest_ring(self) -> int:
        """Teeth of the smallest ring."""
        return min(self.rings)

    @property
    def largest_cog(self) -> int:
        """Teeth of the largest cog."""
        return max(self.cogs)

    @property
    def smallest_cog(self) -> int:
        """Teeth of the smallest cog."""
        return min(self.cogs)
