"""An answer as a few lines of text, as the command prints it."""

from lone_pike.core.chain.pieces import KeptRun
from lone_pike.core.count.answer import WINDOW_DECIDES, Answer
from lone_pike.core.messages import Message, links, mm, number
from lone_pike.core.seen.learning import learned_of
from lone_pike.core.seen.telling import learned_messages
from lone_pike.core.take_up.protocol import Safety
from lone_pike.wording.render import render
from lone_pike.wording.units import DisplayUnits


def answer_lines(answer: Answer, units: DisplayUnits) -> list[str]:
    """The count, and whether it is unsafe; the reasons, the places of the axle, the rivet, and the warnings, each of
    them once."""
    fits = [
        Message("fit", count=links(fit.links), centre=mm(fit.centre_mm), room=mm(fit.room_mm)) for fit in answer.fits
    ]
    has_range = answer.window or answer.decided_by != WINDOW_DECIDES
    why = answer.why if has_range else answer.reasons
    said = [render(message, units) for message in (*why, *_learned(answer), *fits, *_boom(answer), *_rivet(answer))]
    warnings = [render(notice.message, units) for notice in answer.warnings]
    unsafe = "" if answer.safety(answer.links) is Safety.SAFE else ", not safe"
    return [
        units.format_count(answer.links) + unsafe,
        *said,
        *(f"! {warning}" for warning in warnings if warning not in said),
    ]


def _learned(answer: Answer) -> tuple[Message, ...]:
    """What was learned from what was seen, if there is anything new."""
    learned = learned_of(answer.bike)
    return learned_messages(answer.bike, learned) if learned else ()


def _rivet(answer: Answer) -> list[Message]:
    if answer.plan:
        return [_run(run) for run in answer.plan]
    cut = answer.cut
    if cut is None or cut.push_from_start is None or cut.push_from_end is None:
        return []
    return [Message("push_rivet", start=number(cut.push_from_start), end=number(cut.push_from_end))]


def _run(run: KeptRun) -> Message:
    """The line about one piece of the chain."""
    values = {"keep": links(run.links), "start": number(run.start)}
    if run.piece.place == 0:
        return Message("keep_of_box", **values)
    return Message("keep_of_piece", place=number(run.piece.place), **values)


def _boom(answer: Answer) -> tuple[Message, ...]:
    """What the boom's settings need, if there is a boom."""
    if answer.boom is None:
        return ()
    return (answer.boom.message, *([answer.boom.lender] if answer.boom.lender else []))
