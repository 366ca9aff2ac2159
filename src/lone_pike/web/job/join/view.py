"""Join: the walk along the route, stop by stop, and seating and checking the joiner."""

from dataclasses import dataclass

from lone_pike.core.bike.joiners import JOINERS, JoinerKind
from lone_pike.core.bike.take_up import Family
from lone_pike.core.messages import Message, Term
from lone_pike.core.motion.poses import all_gears
from lone_pike.core.route.placing import JoinerPlace
from lone_pike.core.route.routing import stop_message
from lone_pike.core.route.threading import Walk, walk_of
from lone_pike.core.take_up.protocol import Gear
from lone_pike.drawing.scene.side_view import SideView
from lone_pike.drawing.scene.threading import Ways, threaded_view, ways_past
from lone_pike.formats.records.observed import JOINED
from lone_pike.web.job.cut.view import piece_name
from lone_pike.web.job.frame import Frame, StageRequest, loupe_urls
from lone_pike.web.job.measure.view import TickBox
from lone_pike.web.job.work import SizedWork, Work, cuts_of

SEAT = {kind: f"seat_{kind}" for kind in JoinerKind}
LOOK = {kind: f"look_{kind}" for kind in JoinerKind}
"""Codes of the sentences that say how a joiner is seated, and what to check then."""


@dataclass(frozen=True)
class StepView:
    """One step of the walk: its key, its sentence, what can go wrong there, and whether it is done or the current
    one."""

    key: str
    message: Message
    wrong: Message | None
    done: bool
    in_hand: bool


@dataclass(frozen=True)
class JoinView:
    """The stage. done_text holds the ticks including that of the current step."""

    frame: Frame
    side: SideView
    loupe_urls: dict[str, str]
    steps: tuple[StepView, ...]
    step: StepView | None
    done_text: str
    ways: Ways | None
    joiner: str
    seen_from_above: bool
    joiner_count: int
    with_offset_link: bool
    seat: Message
    looks: Message
    lies: tuple[Message, ...]
    checks: tuple[TickBox, ...]
    is_fixed: bool
    pictures: tuple[tuple[str, str], ...]


def stage_view(work: Work, asked: StageRequest) -> JoinView:
    """The stage."""
    frame, sized = Frame(work, "join", asked.announcements), work.sized_or_error
    walk, gear = walk_in(sized), threading_gear(sized)
    done = work.job.observed.threaded
    in_hand = next((step for step in walk.steps if step.key not in done), None)
    steps = tuple(
        StepView(step.key, step.message, step.wrong, step.key in done, step is in_hand) for step in walk.steps
    )
    side = threaded_view(sized.answer.sizing, gear, sized.links, walk, in_hand).near(work.state.near)
    joiner = sized.bike.joiner
    return JoinView(
        frame=frame,
        side=side,
        loupe_urls=loupe_urls(work, "join", side),
        steps=steps,
        step=next((step for step in steps if step.in_hand), None),
        done_text=", ".join([*done, *([in_hand.key] if in_hand else [])]),
        ways=ways_past(sized.answer.sizing, gear, sized.links, in_hand) if in_hand else None,
        joiner=str(joiner),
        seen_from_above=not JOINERS[joiner].needs_inner_ends,
        joiner_count=len(walk.placing.joiners),
        with_offset_link=bool(sized.links % 2),
        seat=Message(SEAT[joiner]),
        looks=Message(LOOK[joiner]),
        lies=_lies_all(sized, walk),
        checks=_checks(work),
        is_fixed=sized.bike.take_up.family is Family.STANDS,
        pictures=tuple((word, f"/jobs/{work.job.id}/pictures/{one}.jpg") for one, word in work.job.observed.pictures),
    )


def walk_in(sized: SizedWork) -> Walk:
    """The walk of a job's bike, its chain in the pieces that it is cut from."""
    cuts, _ = cuts_of(sized.work)
    joiner = JOINERS[sized.bike.joiner]
    runs = [float(cut.keep_links + joiner.links + cut.offset_links) for cut in cuts if not cut.missing_links]
    gear = threading_gear(sized)
    sizing = sized.answer.sizing
    path = sizing.take_up.resting_path(gear.ring, gear.cog, sized.links)
    pinned = not joiner.needs_inner_ends
    return walk_of(sized.bike, path, runs or [float(sized.links)], pins=pinned)


def threading_gear(sized: SizedWork) -> Gear:
    """Smallest ring and smallest cog, where a chain goes on most easily."""
    ring, cog = all_gears(sized.bike)[-1]
    gears = sized.answer.sizing.take_up.gears(sized.links)
    return next(gear for gear in gears if (gear.ring, gear.cog) == (ring, cog))


def _lies_all(sized: SizedWork, walk: Walk) -> tuple[Message, ...]:
    """The pieces in order, each with the place of the joiner behind it; empty for a chain in one piece."""
    cuts, _ = cuts_of(sized.work)
    if len(cuts) < 2:
        return ()
    pairs = zip(walk.placing.order, walk.placing.joiners, strict=True)
    return tuple(
        Message("piece_then_joiner", piece=piece_name(cuts[i]), lies=_lies(sized, place)) for i, place in pairs
    )


def _lies(sized: SizedWork, place: JoinerPlace) -> Message:
    """Where a joiner lies on the route."""
    if place.between is None:
        return Message("joiner_on_wheel")
    if place.in_tube:
        return Message("joiner_in_tube")
    one, other = (stop_message(sized.bike.idler_runs, name) for name in place.between)
    return Message("joiner_lies", one=one, other=other)


def _checks(work: Work) -> tuple[TickBox, ...]:
    done = work.job.observed.joined
    return tuple(TickBox(step, Term("step", step), step in done) for step in JOINED)
