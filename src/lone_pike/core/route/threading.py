"""The walk along the route to thread the chain: stop by stop, from the joiner's place backwards round the loop.

Source: trade, sections 7 and 11.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from lone_pike.core.bike.base import Run
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.take_up import Family
from lone_pike.core.chain.path import CLOCKWISE, ChainPath
from lone_pike.core.chain.stops import COG, GUIDE, RING, TENSION, StopId
from lone_pike.core.messages import Message, Term, Value, number
from lone_pike.core.route.placing import Placing, place_joiners
from lone_pike.core.route.routing import stop_message
from lone_pike.core.route.tubes import in_tubes_links, stops_links, tube_fits
from lone_pike.core.take_up.kinds import kind_of

TAB, FRONT = "tab", "front"


@dataclass(frozen=True)
class WalkStep:
    """One step: its key, what to do, what can go wrong, its stop, and the link from which on the chain is then in place
    along the loop; None if the step moves no chain."""

    key: str
    message: Message
    wrong: Message | None = None
    stop: StopId | None = None
    from_links: float | None = None


@dataclass(frozen=True)
class Walk:
    """All steps in order, and the places of the joiners; joined_at_links is where the loop is closed, on the drive
    run."""

    steps: tuple[WalkStep, ...]
    placing: Placing
    joined_at_links: float


def walk_of(bike: Bike, path: ChainPath, runs_links: Sequence[float], *, pins: bool = False) -> Walk:
    """The walk over a loop at rest in the smallest gear.

    Parameters: path, the loop as plain numbers; runs_links, each run with the joiner behind it; pins, whether runs are
    joined by pins, so that they keep their order.
    """
    placing = place_joiners(bike, path, tuple(runs_links), fixed_order=pins)
    closing = next((one for one in placing.joiners if one.on_drive_run), placing.joiners[-1])
    steps = [*_before(bike, len(runs_links)), *_round(bike, path), *_after(bike)]
    return Walk(tuple(steps), placing, closing.at_links)


def is_long(bike: Bike) -> bool:
    """Whether the chain goes over idlers or through tubes."""
    return bool(bike.idlers or bike.tubes)


def _before(bike: Bike, runs: int) -> Iterator[WalkStep]:
    yield WalkStep("setup", Message(kind_of(bike).walk))
    if runs > 1:
        yield WalkStep("pieces", Message("walk_pieces", joints=number(runs - 1)))
    if is_long(bike):
        yield WalkStep("pins", Message("walk_pins"))


def _round(bike: Bike, path: ChainPath) -> Iterator[WalkStep]:
    """The stops against the chain's travel, from cog to ring by the return run and on along the drive run."""
    following = [stop.name for stop in [*path.stops[1:], path.stops[0]]]
    starts = {name: start for name, (start, _) in zip(following, stops_links(path), strict=True)}
    touched = [stop.name for stop, touches in zip(path.stops, path.touched, strict=True) if touches]
    at_cog = touched.index(COG)
    backwards = [COG, *(touched[at_cog + 1 :] + touched[:at_cog])[::-1]]
    for name, after in zip(backwards, [*backwards[1:], COG], strict=True):
        yield from _at_stop(bike, path, name, starts[name])
        yield from _in_tubes(bike, path, {name, after})


def _in_tubes(bike: Bike, path: ChainPath, between: set[StopId]) -> Iterator[WalkStep]:
    """The tubes on the straight part between two stops, in the order in which the chain is led through them."""
    placed = zip(tube_fits(bike, path), in_tubes_links(bike, path), strict=True)
    for fit, (start, _) in sorted(placed, key=lambda one: -one[1][0]):
        if {fit.rear_wheel, fit.front_wheel} == between:
            message = Message("walk_tube", run=Term("run", fit.tube.run))
            yield WalkStep(f"tube_{fit.place}", message, None, None, start)


def _at_stop(bike: Bike, path: ChainPath, name: StopId, start: float) -> Iterator[WalkStep]:
    """The step at one stop."""
    if name == COG:
        yield WalkStep("cog", Message("walk_cog"), None, name, start)
    elif name == GUIDE:
        yield WalkStep("guide", Message("walk_guide"), Message("walk_guide_wrong"), name, start)
    elif name == TENSION:
        if kind_of(bike).has_tab:
            yield WalkStep(TAB, Message("walk_tab"), Message("walk_tab_wrong"), name, start)
        yield WalkStep("tension", Message("walk_tension"), Message("walk_tension_wrong"), name, start)
    elif name == RING:
        yield WalkStep("ring", Message("walk_ring"), None, name, start)
        if len(bike.rings) > 1 and bike.take_up.family is Family.TURNS:
            yield WalkStep(FRONT, Message("walk_front"), Message("walk_front_wrong"), name, start)
        elif bike.take_up.serves_range:
            yield WalkStep("wide", Message("walk_wide_narrow"), None, name, start)
    else:
        over = (path.stop(name).wind == CLOCKWISE) == (name.run is Run.DRIVE)
        values: dict[str, Value] = {
            "idler": stop_message(bike.idler_runs, name),
            "side": Term("side", "over" if over else "under"),
            "other": Term("side", "under" if over else "over"),
        }
        right, wrong = (Message(code, **values) for code in ("walk_idler", "walk_idler_wrong"))
        yield WalkStep(f"{name.run}_{name.place}", right, wrong, name, start)


def _after(bike: Bike) -> Iterator[WalkStep]:
    yield WalkStep("meet", Message("walk_meet_long" if is_long(bike) else "walk_meet"))
    if is_long(bike):
        yield WalkStep("turn", Message("walk_turn"))
