"""Book: what was fitted, before it goes into the bike's history."""

from dataclasses import dataclass

from lone_pike.core.chain.cutting import Cut
from lone_pike.core.messages import Message
from lone_pike.core.take_up.protocol import Gear
from lone_pike.web.chains.view import ChainLine
from lone_pike.web.job.cut.view import joiner_warning
from lone_pike.web.job.frame import Frame, StageRequest, unsafe_message
from lone_pike.web.job.size.view import Bench, bench_of
from lone_pike.web.job.work import Work, chain_known, cuts_of, jump_messages
from lone_pike.workshop.proving import proof_messages


@dataclass(frozen=True)
class Shock:
    """A shock's pressure before the work, and as it was put back."""

    before: str
    after: str


@dataclass(frozen=True)
class BookView:
    """The stage."""

    frame: Frame
    bench: Bench
    joiner: str
    cuts: tuple[Cut, ...]
    largest: Gear
    warning: Message | None
    joiner_warning: Message | None
    jump: Message | None
    old: ChainLine | None
    shock: Shock | None
    note: str
    proof: tuple[Message, ...]


def stage_view(work: Work, asked: StageRequest) -> BookView:
    """The stage."""
    sized, observed = work.sized_or_error, work.job.observed
    frame = Frame(work, "book", asked.announcements)
    before = observed.pressure_before
    return BookView(
        frame=frame,
        bench=bench_of(sized, "book"),
        joiner=str(sized.bike.joiner),
        cuts=cuts_of(work)[0],
        largest=next(iter(sized.gears)),
        warning=unsafe_message(sized),
        joiner_warning=joiner_warning(work),
        jump=Message("jump_short") if jump_messages(asked.data, work) else None,
        old=None if work.job.booked_at else chain_known(asked.data, work),
        shock=Shock(before, asked.typed.get("observed.pressure_after", observed.pressure_after)) if before else None,
        note=asked.typed.get("note", ""),
        proof=proof_messages(work.job, sized.answer, sized.links),
    )
