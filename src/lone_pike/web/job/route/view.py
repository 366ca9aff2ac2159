"""Route: the idlers on the drawing, each with the side on which the chain passes, and the tubes on their runs."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from math import degrees, sin
from types import MappingProxyType

from lone_pike.core.bike.base import Run
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault
from lone_pike.core.bike.limits import MOST_IDLERS, MOST_TUBES, PITCH_MM
from lone_pike.core.bike.parts import Idler
from lone_pike.core.bike.teeth import pitch_radius_mm
from lone_pike.core.chain.path import ChainPath
from lone_pike.core.chain.stops import idler_of
from lone_pike.core.messages import Message, NoticeKind, Quantity, Term, Unit, deg, mm
from lone_pike.core.route.routing import RouteDraft, RouteTrouble, drafted, idler_message
from lone_pike.core.route.tubes import tube_fits
from lone_pike.drawing.scene.drafted import drafted_view
from lone_pike.drawing.scene.side_view import SideView, view_box_of
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.formats.typed.rows import TUBE_COLUMNS, tube_columns
from lone_pike.formats.typed.writing import format_length
from lone_pike.web.job.frame import ROUTE, Frame, loupe_urls, side_of
from lone_pike.web.job.measure.typical import typical_side
from lone_pike.web.job.work import Work
from lone_pike.web.view_state import with_query
from lone_pike.workshop.idlers import routed_bike

Typed = Mapping[str, str]
"""What was typed and could not be stored; it is shown in its fields again."""

NOTHING_TYPED: Typed = MappingProxyType({})
GRID_MM = 5


@dataclass(frozen=True)
class IdlerHandle:
    """An idler on the drawing: its index, its name, its centre in SVG coordinates, and the side on which the chain
    passes."""

    place: int
    name: Message
    x: float
    y: float
    radius: float
    run: str
    chain: str
    in_hand: bool
    url: str


@dataclass(frozen=True)
class IdlerInHand:
    """The selected idler: the texts of its fields, how an error in its place changes the count, and how far the chain
    turns there."""

    place: int
    name: Message
    run: str
    chain: str
    teeth: str
    forward: str
    up: str
    about: str
    tapes: tuple[str, str]
    cost: Message | None
    turn: Message | None


@dataclass(frozen=True)
class RouteView:
    """The page. side is the sized bike, or the route as described if it cannot be sized; box is its view box."""

    frame: Frame
    side: SideView | None
    is_draft: bool
    tube_notes: tuple[Message, ...]
    loupe_urls: dict[str, str]
    handles: tuple[IdlerHandle, ...]
    hand: IdlerInHand | None
    troubles: tuple[Message, ...]
    is_crossed: bool
    fault: Fault | None
    grid_mm: int
    tubes: tuple[tuple[str, ...], ...]
    on_paper: tuple[tuple[Term, tuple[str, ...]], ...]
    tube_fault: Fault | None
    runs: tuple[tuple[str, Term], ...]
    is_full: bool
    edit_url: str
    drag_url: str
    route_url: str
    lacks_box: bool


def route_view(
    work: Work, asked: str, *, box: str = "", fault: Fault | None = None, typed: Typed = NOTHING_TYPED
) -> RouteView:
    """Builds the page; asked is the idler that the address selects, counted from 1; box, a view box to keep; fault, the
    reason why typed could not be stored."""
    bike = routed(work)
    draft = drafted(bike) if bike and work.sized is None else None
    side = _side(work, bike, draft)
    path = _path(work, draft)
    idlers = bike.idlers if bike else ()
    place = whole_number(asked, 2) or 0
    hand = place - 1 if 0 < place <= len(idlers) else None
    fits = tube_fits(bike, path) if bike and path else ()
    return RouteView(
        frame=Frame(work, ROUTE),
        side=replace(side, view_box=box) if side and box else side,
        is_draft=draft is not None,
        tube_notes=tuple(message for fit in fits for message in fit.messages),
        loupe_urls=loupe_urls(work, ROUTE, side) if side else {},
        handles=tuple(_handle(work, idlers, i, hand) for i in range(len(idlers))),
        hand=_in_hand(work, bike, hand, path, typed) if bike and hand is not None else None,
        troubles=tuple(dict.fromkeys(trouble.message for trouble in _troubles(work, draft))),
        is_crossed=is_crossed(_troubles(work, draft)),
        fault=fault,
        grid_mm=GRID_MM,
        tubes=_tubes(work),
        on_paper=tuple(
            (Term("field", path), tuple(work.form[path].splitlines())) for path in ("idlers", "axle_height_mm", "tubes")
        ),
        tube_fault=work.faults.get("tubes"),
        runs=tuple((str(run), Term("run", run)) for run in Run),
        is_full=len(idlers) >= MOST_IDLERS,
        edit_url=work.at(ROUTE),
        drag_url=work.at(f"{ROUTE}/drag"),
        route_url=work.at(ROUTE),
        lacks_box=not work.form["chain.box_links"],
    )


def routed(work: Work) -> Bike | None:
    """The bike of the document, whether or not its route can work; None if the document is not complete."""
    if work.sized:
        return work.sized.bike if work.sized.bike.take_up.has_route else None
    return routed_bike(work.document, work.shop)


def unsized_side(work: Work, *, lettered: bool = False) -> SideView | None:
    """The drawing of a bike that cannot be sized: its own parts with what is wrong, or a typical bike."""
    bike = routed(work)
    if bike is None or work.trouble:
        return typical_side(work)
    return drafted_view(bike, drafted(bike), lettered=lettered).near(work.state.near)


def box_kept(work: Work) -> str:
    """The view box of the stored bike, which does not change while an idler is dragged."""
    bike = routed(work)
    return view_box_of(bike) if bike else ""


def _tubes(work: Work) -> tuple[tuple[str, ...], ...]:
    """The texts of every tube's columns, and an empty row for another tube."""
    rows = [tuple(row) for row in tube_columns(work.form["tubes"])]
    return (*rows, ("",) * TUBE_COLUMNS)[:MOST_TUBES]


def _side(work: Work, bike: Bike | None, draft: RouteDraft | None) -> SideView | None:
    if work.sized and bike:
        return side_of(work.sized)
    return drafted_view(bike, draft).near(work.state.near) if bike and draft else None


def _path(work: Work, draft: RouteDraft | None) -> ChainPath | None:
    """The loop that is drawn."""
    if work.sized and work.sized.bike.idlers:
        sized = work.sized
        return sized.standing.cage.resting_path(sized.gear.ring, sized.gear.cog, sized.links)
    return draft.path if draft else None


def is_crossed(troubles: Iterable[RouteTrouble]) -> bool:
    """Whether two runs cross among some troubles."""
    return any(trouble.kind is NoticeKind.ROUTE_CROSSED for trouble in troubles)


def route_is_crossed(work: Work) -> bool:
    """Whether the runs cross, so that the bike cannot be sized."""
    bike = routed(work) if work.sized is None else None
    return bike is not None and bool(bike.idlers) and is_crossed(drafted(bike).troubles)


def _troubles(work: Work, draft: RouteDraft | None) -> tuple[RouteTrouble, ...]:
    return work.sized.answer.sizing.troubles if work.sized else draft.troubles if draft else ()


def _handle(work: Work, idlers: tuple[Idler, ...], i: int, hand: int | None) -> IdlerHandle:
    x_mm, y_mm = idlers[i].at_mm
    return IdlerHandle(
        place=i + 1,
        name=idler_message([idler.run for idler in idlers], i),
        x=x_mm,
        y=-y_mm,
        radius=float(pitch_radius_mm(idlers[i].teeth)) + 4,
        run=str(idlers[i].run),
        chain=str(idlers[i].chain),
        in_hand=i == hand,
        url=with_query(work.at(ROUTE), "idler", i + 1),
    )


def _in_hand(work: Work, bike: Bike, i: int, path: ChainPath | None, typed: Typed) -> IdlerInHand:
    idler, unit = bike.idlers[i], work.shop.unit
    wrap = _wrap_rad(bike, i, path)
    each_mm = Quantity(2 * sin((wrap or 0.0) / 2) / PITCH_MM, Unit.LINKS)
    return IdlerInHand(
        place=i + 1,
        name=idler_message(bike.idler_runs, i),
        run=str(idler.run),
        chain=str(idler.chain),
        teeth=typed.get("idler.teeth", str(idler.teeth)),
        forward=typed.get("idler.forward", format_length(idler.at_mm[0], unit)),
        up=typed.get("idler.up", format_length(idler.at_mm[1], unit)),
        about=typed.get("idler.about", "" if idler.about_mm is None else format_length(idler.about_mm, unit)),
        tapes=(typed.get("tape.crank", ""), typed.get("tape.axle", "")),
        cost=None if wrap is None else Message("idler_costs", by=mm(1), links=each_mm),
        turn=None if wrap is None else Message("idler_turns", wrap=deg(degrees(wrap))),
    )


def _wrap_rad(bike: Bike, i: int, path: ChainPath | None) -> float | None:
    """How far the chain turns at an idler in the drawn loop."""
    if path is None:
        return None
    name = idler_of(bike.idler_runs, i)
    return float(path.wrap_rad(name)) if path.touched[path.index(name)] else 0.0
