"""Cut: the rivet to push on the strip, and the count-along."""

from dataclasses import dataclass

from lone_pike.core.bike.faults import Fault
from lone_pike.core.chain.cutting import Cut
from lone_pike.core.messages import Message
from lone_pike.drawing.side_view import SideView
from lone_pike.drawing.strip import Strip, close_up, strip
from lone_pike.drawing.tool import ToolView, tool_view
from lone_pike.web.views.frame import Frame, frame_of, side_of, unsafe_message
from lone_pike.web.views.work import Work, cut_of

TALLY_STEP = 10


@dataclass(frozen=True)
class CutView:
    """The stage; cut is None while the bike or the box is not known, fault says why a known box cannot be cut."""

    frame: Frame
    side: SideView | None
    links: int
    cut: Cut | None
    fault: Fault | None
    joiner_warning: Message | None
    joiners: tuple[str, ...]
    strip: Strip | None
    close_up: Strip | None
    tool: ToolView | None
    shortest_from_end: bool
    measure_url: str
    tally_url: str
    done_url: str


@dataclass(frozen=True)
class TallyView:
    """The count-along: links counted, the rivet they end at, the addresses of ten back and ten on."""

    reached: int
    end: int
    on: int
    push_from_end: int
    tens: tuple[bool, ...]
    unsafe: Message | None
    back_url: str
    on_url: str
    cut_url: str

    @property
    def is_there(self) -> bool:
        """Whether the rivet is reached."""
        return self.reached == self.end

    @property
    def is_whole_ten(self) -> bool:
        """Whether a step back is ten links."""
        return self.reached % TALLY_STEP == 0


def cut_view(work: Work, told: tuple[Message, ...] = ()) -> CutView:
    """The stage."""
    sized = work.sized
    cut, fault = cut_of(work)
    return CutView(
        frame=frame_of(work, "cut", told),
        side=side_of(sized) if sized else None,
        links=sized.links if sized else 0,
        cut=cut,
        fault=fault,
        joiner_warning=joiner_warning(work),
        joiners=(str(cut.joiner), *["offset_link"] * cut.offset_links) if cut else (),
        strip=strip(cut) if cut else None,
        close_up=close_up(cut) if cut else None,
        tool=tool_view(cut) if cut else None,
        shortest_from_end=bool(cut and (cut.push_from_end or 0) < (cut.push_from_start or 0)),
        measure_url=work.at("measure"),
        tally_url=work.at("tally"),
        done_url=work.at("cut"),
    )


def joiner_warning(work: Work) -> Message | None:
    """That the joiner is not what the trade uses for so many cogs."""
    notices = work.answer.notices if work.answer else ()
    return next((notice.message for notice in notices if notice.code == "joiner_speeds"), None)


def tally_view(work: Work, at: str) -> TallyView | None:
    """The count-along at a count; None where there is nothing to count to."""
    cut, _ = cut_of(work)
    if cut is None or cut.push_from_start is None or cut.push_from_end is None:
        return None
    end = cut.push_from_start
    reached = min(int(at) if at.isascii() and at.isdecimal() and len(at) < 4 else 0, end)
    on = min(reached + TALLY_STEP, end)
    back = max(reached - (reached % TALLY_STEP or TALLY_STEP), 0)
    address = work.at("tally")
    join = "&" if "?" in address else "?"
    return TallyView(
        reached=reached,
        end=end,
        on=on,
        push_from_end=cut.push_from_end,
        unsafe=unsafe_message(work.sized) if work.sized else None,
        tens=tuple(ten < reached for ten in range(0, end, TALLY_STEP)),
        back_url=f"{address}{join}at={back}",
        on_url=f"{address}{join}at={on}",
        cut_url=work.at("cut"),
    )
