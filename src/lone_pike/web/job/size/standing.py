"""Size for bikes on which nothing turns: the counts that fit, where to clamp, and what riders ask."""

from dataclasses import dataclass

from lone_pike.core.bike.clock import clock_of
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.take_up import Family, Moves
from lone_pike.core.count.search import WEARS_PERCENT, Combination
from lone_pike.core.count.setting import Rollout, Setting, ride, setting_of
from lone_pike.core.messages import Unit
from lone_pike.core.take_up.protocol import GearPlace
from lone_pike.core.take_up.standing import FixedCentres
from lone_pike.drawing.charts.fits import Fits, fits_picture
from lone_pike.formats.typed.parsing import parse_quantity
from lone_pike.web.job.work import SizedWork

MOST_COMBINATIONS = 12
SEARCH_TEETH, SEARCH_SLACK = 8, "0 25"
"""How many teeth a search at one press goes from the present ones, and the slack it allows by the trade's rule, mm."""


@dataclass(frozen=True)
class Clamped:
    """The axle clamped at a place: the typed text, and the slack there; None if the chain does not reach so far back,
    or the text cannot be read."""

    text: str
    action: str
    setting: Setting | None


@dataclass(frozen=True)
class StandingBench:
    """The panel beside the drawing: the axle's or crank's place in the gear shown, the room, the wear that it can take
    up, the slack.

    clock is the crank's place on its eccentric; urls has the address of each count in the picture.
    """

    moves: Moves
    place: GearPlace
    clock: str | None
    wear_percent: float | None
    setting: Setting | None
    clamped: Clamped | None
    fits: Fits
    urls: dict[int, str]
    rides: tuple[Rollout, ...]
    combinations: tuple[Combination, ...]
    combinations_in_all: int
    combinations_fit: int
    wears: tuple[float, ...]
    most_slack_mm: float
    is_searched: bool
    search: tuple[tuple[str, str], ...]


def standing_bench(sized: SizedWork, stage: str) -> StandingBench | None:
    """The panel for fixed centres; None if a cage or an arm turns."""
    if sized.bike.take_up.family is not Family.STANDS:
        return None
    fixed = sized.answer.sizing.fixed
    places = fixed.places(sized.links)
    place = next(one for one in places if (one.ring, one.cog) == (sized.gear.ring, sized.gear.cog))
    fit = next((one for one in sized.answer.fits if one.links == sized.links), None)
    picture = fits_picture(fixed, sized.links)
    counts = sorted({stand.links for row in picture.rows for stand in row.stands})
    # Those that would be safe as they are come first; each part keeps the order of the search.
    found = sorted(sized.answer.combinations, key=lambda one: one.slack_mm > limit("most_slack"))
    return StandingBench(
        moves=fixed.part.moves,
        place=place,
        clock=None if place.crank_deg is None else clock_of(place.crank_deg),
        wear_percent=fit.wear_room_percent if fit else None,
        setting=setting_of(fixed, sized.links) if fit else None,
        clamped=_clamped(sized, fixed) if fit and fixed.part.moves is Moves.AXLE else None,
        fits=picture,
        urls=dict(zip(counts, sized.work.each(stage, ("links",), ((count,) for count in counts)), strict=True)),
        rides=tuple(ride(ring, cog, fixed.part.wheel_turn_mm) for ring, cog in fixed.gear_teeth),
        combinations=tuple(found[:MOST_COMBINATIONS]),
        combinations_in_all=len(found),
        combinations_fit=sum(one.slack_mm <= limit("most_slack") for one in found),
        wears=WEARS_PERCENT,
        most_slack_mm=limit("most_slack"),
        is_searched=sized.bike.search is not None,
        search=_search_near(fixed)
        if fit is None and sized.bike.search is None and fixed.part.moves is not Moves.AXLE
        else (),
    )


def _search_near(fixed: FixedCentres) -> tuple[tuple[str, str], ...]:
    """The fields of a search through rings and cogs near the present ones, each with its text."""
    ring, cog = fixed.gear_teeth[0]
    rings, cogs = (f"{teeth - SEARCH_TEETH} {teeth + SEARCH_TEETH}" for teeth in (ring, cog))
    texts = {"rings": rings, "cogs": cogs, "ratio": f"{ring / cog:.2f}", "slack_mm": SEARCH_SLACK, "offset_link": "yes"}
    return tuple((f"search.{key}", text) for key, text in texts.items())


def _clamped(sized: SizedWork, fixed: FixedCentres) -> Clamped:
    """The slack with the axle clamped where the address says."""
    work = sized.work
    stands = parse_quantity(work.state.clamped, Unit.MM, work.shop.unit).value
    near, taut = float(fixed.near_mm[0].min()), fixed.places(sized.links)[0].centre_mm
    is_reached = isinstance(stands, float) and near <= stands <= taut
    setting = setting_of(fixed, sized.links, stands) if is_reached else None
    return Clamped(work.state.clamped, work.at("size", links=sized.links), setting)
