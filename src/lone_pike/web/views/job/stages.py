"""The view of each stage, found by the stage's name, so that a stage is declared in one place only."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cache
from importlib import import_module

from lone_pike.core.bike.faults import Fault
from lone_pike.core.messages import Message
from lone_pike.core.stages import STAGES
from lone_pike.drawing.scene.side_view import SideView
from lone_pike.store.database import Database
from lone_pike.web.views.job.frame import Frame, frame_of
from lone_pike.web.views.job.route import unsized_side
from lone_pike.web.views.job.work import Work

__all__ = ["STAGES", "StageRequest", "UnsizedView", "stage_view"]


@dataclass(frozen=True)
class StageRequest:
    """What a stage's view is built from: the data file, the stage, announcements, whether slow parts follow in a
    request of their own; typed, what a form sent that was not accepted, with the reason, so that it is shown again."""

    data: Database
    stage: str
    announcements: tuple[Message, ...] = ()
    deferred: bool = False
    typed: Mapping[str, str] = field(default_factory=dict)
    faults: tuple[Fault, ...] = ()


@dataclass(frozen=True)
class UnsizedView:
    """A stage of a bike that cannot be sized yet: its drawing, what is missing, and the way to it."""

    frame: Frame
    side: SideView | None


def stage_view(work: Work, asked: StageRequest) -> object:
    """The view of a stage."""
    if work.sized is None and not STAGES[asked.stage].before_count:
        frame = frame_of(work, asked.stage, asked.announcements, parts="unsized")
        return UnsizedView(frame, unsized_side(work))
    return view_builder(asked.stage)(work, asked)


@cache
def view_builder(stage: str) -> Callable[[Work, StageRequest], object]:
    """The function that builds a stage's view: `stage_view` of the module with the stage's name."""
    builder: Callable[[Work, StageRequest], object] = import_module(f"lone_pike.web.views.job.{stage}").stage_view
    return builder
