"""Prove: the steps in their safe order, what the drawing predicts at each, what was seen, and what follows from it."""

from collections.abc import Collection
from dataclasses import dataclass, replace
from math import isfinite

from lone_pike.core.bike.faults import Fault
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.seen import Seen, SeenState
from lone_pike.core.bike.take_up import Family
from lone_pike.core.messages import Message, Term, Value, deg, mm, number
from lone_pike.core.seen.proving import PROOFS, ProofStep, growth_mm, predicted, steps_of
from lone_pike.core.seen.telling import SEEN_LENGTHS, seen_message
from lone_pike.core.take_up.protocol import Gear
from lone_pike.core.take_up.sights import Sights
from lone_pike.drawing.charts.clock import SIZE_PX, ClockFace, clock_face
from lone_pike.drawing.scene.side_view import SideView, with_seen
from lone_pike.formats.records.shop import ChainCare
from lone_pike.web.job.frame import Frame, StageRequest, loupe_urls, side_of
from lone_pike.web.job.prove.advice import AdviceView, LearnedView, advice_of, learned_view
from lone_pike.web.job.work import SizedWork, Work

FIGURES = tuple(SEEN_LENGTHS)
INSTRUCTIONS = {key: f"prove_{key}" for key in PROOFS}
CARE = {care: f"care_{care}" for care in ChainCare}
PREDICTED_LENGTHS = {"slack_mm": "predicts_slack", "axle_mm": "predicts_axle"}
"""Codes of the sentences for what to do at each step, and for lengths that the drawing predicts."""
PRESSES = ("", "/skip", "/again", "/pairs", "/learn", "/done")
"""The actions, by the end of their address; without one, what was seen is stored."""


@dataclass(frozen=True)
class ProofView:
    """One step in the list: done, skipped with a reason, open, or waiting for another step."""

    key: str
    word: Term
    state: str
    seen: Message | None
    url: str


@dataclass(frozen=True)
class OpenStep:
    """The open step: what to do, what is predicted, what can be entered, and what was entered before."""

    key: str
    message: Message
    predicts: tuple[Message, ...]
    waits: Message | None
    face: ClockFace | None
    figures: tuple[str, ...]
    states: tuple[tuple[str, Term], ...]
    seen: Message | None
    is_done: bool
    skipped: str


@dataclass(frozen=True)
class ProveView:
    """The stage."""

    frame: Frame
    side: SideView
    loupe_urls: dict[str, str]
    gear: Gear
    size_px: int
    steps: tuple[ProofView, ...]
    step: OpenStep | None
    advice: AdviceView | None
    learned: LearnedView | None
    is_fixed: bool
    care: Message
    typed: dict[str, str]
    fault: Fault | None
    urls: dict[str, str]


def stage_view(work: Work, asked: StageRequest) -> ProveView:
    """The stage."""
    kept = work.sized_or_error
    steps, done, skipped = steps_of(kept.answer.sizing), work.job.observed.proved, dict(work.job.observed.skipped)
    advice, held = advice_of(kept, steps)
    waiting = _waiting(steps, done, held)
    ready = [step.key for step in steps if step.key not in {*done, *skipped, *waiting}]
    asked_for = work.state.step or asked.typed.get("step", "")
    stopped = advice.step if advice and advice.pairs else ""
    key = asked_for if any(step.key == asked_for for step in steps) else stopped or next(iter(ready), "")
    current = next((step for step in steps if step.key == key), None)
    sized = _at_step(kept, current)
    side = _side(sized, current)
    return ProveView(
        frame=Frame(work, "prove", asked.announcements),
        side=side,
        loupe_urls=loupe_urls(work, "prove", side),
        gear=sized.gear,
        size_px=SIZE_PX,
        steps=tuple(
            ProofView(
                key=step.key,
                word=Term("step", step.key),
                state=_state(step.key, done, skipped, waiting),
                seen=_seen_message(kept, step) or _skipped_message(step.key, skipped),
                url=work.state.proving(step.key).url(f"/jobs/{work.job.id}/prove"),
            )
            for step in steps
        ),
        step=_open(sized, current, done, skipped, waiting.get(current.key)) if current else None,
        advice=advice,
        learned=learned_view(kept),
        is_fixed=kept.bike.take_up.family is Family.STANDS,
        care=Message(CARE[work.shop.care]),
        typed=dict(asked.typed),
        fault=next(iter(asked.faults), None),
        urls={press: work.state.proving("").url(f"/jobs/{work.job.id}/prove{press}") for press in PRESSES},
    )


def _state(key: str, done: tuple[str, ...], skipped: dict[str, str], waiting: Collection[str]) -> str:
    if key in done:
        return "done"
    if key in skipped:
        return "skipped"
    return "waits" if key in waiting else "open"


def _waiting(steps: tuple[ProofStep, ...], done: tuple[str, ...], held: frozenset[str]) -> dict[str, Message]:
    """The steps that must not be done yet, each with the reason: the step before it is not done, is waiting too, or has
    shown that the cage has no movement left."""
    keys, waiting = {step.key for step in steps}, dict[str, Message]()
    for step in steps:
        before = step.proof.after
        if before in held:
            waiting[step.key] = Message("not_offered")
        elif before in waiting:
            waiting[step.key] = waiting[before]
        elif before in keys and before not in done:
            waiting[step.key] = Message("waits_for", step=Term("step", before))
    return waiting


def _seen_message(sized: SizedWork, step: ProofStep) -> Message | None:
    seen = step.last_seen(sized.bike, sized.links)
    return seen_message(seen) if seen else None


def _skipped_message(key: str, skipped: dict[str, str]) -> Message | None:
    return Message("as_written", text=skipped[key]) if key in skipped else None


def _at_step(sized: SizedWork, step: ProofStep | None) -> SizedWork:
    """The bike in the gear and at the travel of a step."""
    if step is None or step.gear is None:
        return sized
    (ring, cog), travel = step.gear, round(step.travel_mm) if step.travel_mm else None
    state = replace(sized.work.state, ring=ring, cog=cog, travel=travel, links=sized.work.state.links)
    return SizedWork(replace(sized.work, state=state), sized.answer)


def _side(sized: SizedWork, step: ProofStep | None) -> SideView:
    """The drawing, with the cage also as it was seen."""
    side, seen = side_of(sized), step.last_seen(sized.bike, sized.links) if step else None
    if seen is None or seen.hand_deg is None or sized.bike.take_up.family is Family.STANDS:
        return side
    return with_seen(side, sized.standing, sized.gear, sized.links, seen.hand_deg)


def _open(
    sized: SizedWork, step: ProofStep, done: tuple[str, ...], skipped: dict[str, str], waits: Message | None
) -> OpenStep:
    asks = [key for key in step.proof.asks if key in sized.bike.take_up.shows]
    sights = predicted(sized.answer.sizing, step, sized.links)
    seen = step.last_seen(sized.bike, sized.links)
    return OpenStep(
        key=step.key,
        message=_instruction(sized, step),
        predicts=_predicts(sized, step, sights, asks) if sights else (),
        waits=waits,
        face=_face(sights, seen) if sights and "clock" in asks and waits is None else None,
        figures=tuple(key for key in asks if key in FIGURES),
        states=_states(step),
        seen=seen_message(seen) if seen else None,
        is_done=step.key in done,
        skipped=skipped.get(step.key, ""),
    )


def _states(step: ProofStep) -> tuple[tuple[str, Term], ...]:
    """The states that can be chosen at a step, each with the label of its button."""
    is_taut = SeenState.TOUCHING not in step.proof.states
    return tuple(
        (state, Term("seen_button", "forward" if is_taut and state is SeenState.FREE else state))
        for state in step.proof.states
    )


def _face(sights: Sights, seen: Seen | None) -> ClockFace:
    hand, forward = float(sights.hand_deg[0]), float(sights.forward_deg[0])
    return clock_face(hand, hand + forward if isfinite(forward) else None, seen.hand_deg if seen else None)


def _instruction(sized: SizedWork, step: ProofStep) -> Message:
    """What to do at a step, with this bike's figures."""
    bike, values = sized.bike, dict[str, Value]()
    if step.gear:
        values["gear"] = Message("gear", ring=number(step.gear[0]), cog=number(step.gear[1]))
        values["travel"] = mm(step.travel_mm)
    if bike.take_up.family is Family.TURNS:
        values["gap"] = mm(bike.gap_mm)
    if bike.boom:
        values |= {"shortest": mm(bike.boom.from_mm), "longest": mm(bike.boom.to_mm)}
        largest = next(iter(sized.gears))
        values.setdefault("gear", Message("gear", ring=number(largest.ring), cog=number(largest.cog)))
    values |= {"least": mm(limit("least_slack")), "most": mm(limit("most_slack"))}
    return Message(INSTRUCTIONS[step.key], **values)


def _predicts(sized: SizedWork, step: ProofStep, sights: Sights, asks: list[str]) -> tuple[Message, ...]:
    """What the drawing predicts at a step, in figures."""
    said = []
    forward, air = float(sights.forward_deg[0]), float(sights.air_mm[0])
    if "clearance_mm" in asks and isfinite(air):
        said.append(Message("predicts_air", air=mm(max(air, 0.0))))
    elif isfinite(forward) and "clock" in asks:
        said.append(Message("predicts_left", left=deg(max(forward, 0.0))))
    for key in PREDICTED_LENGTHS:
        value = float(getattr(sights, key)[0])
        if key in asks and isfinite(value):
            said.append(Message(PREDICTED_LENGTHS[key], length=mm(max(value, 0.0))))
    if step.travel_mm:
        said.append(Message("predicts_growth", growth=mm(growth_mm(sized.bike, step.travel_mm))))
    return tuple(said)
