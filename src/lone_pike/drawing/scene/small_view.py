"""A bike at thumbnail size, for lists, and the line of its chain, to lay over another bike."""

from dataclasses import dataclass

from lone_pike.core.count.sizing import Sizing
from lone_pike.core.messages import Message
from lone_pike.core.take_up.protocol import Gear
from lone_pike.drawing.scene.chain import Loop, rivets
from lone_pike.drawing.scene.side_view import box_of, plate_of, resting_loop, slack_run, title_of, wheel_radius_mm
from lone_pike.drawing.svg import circles, polyline


@dataclass(frozen=True)
class SmallView:
    """A bike drawn for a row of a list: its chain as one line, its wheels as circles."""

    view_box: str
    line: str
    wheels: str
    cage: str
    title: Message


def small_view(sizing: Sizing, gear: Gear, links: int) -> SmallView:
    """The bike in one gear with the chain at a count, as a thumbnail; its data is a tenth of the whole drawing's."""
    loop = resting_loop(sizing, gear, links)
    return SmallView(
        view_box=box_of(sizing),
        line=polyline(rivets(loop, links, slack_run(loop)), closed=True),
        wheels=wheel_circles(loop),
        cage=plate_of(sizing, loop),
        title=title_of(gear, links),
    )


def wheel_circles(loop: Loop) -> str:
    """The wheels of a loop as circles, within their teeth."""
    wheels = zip(loop.centres_mm, loop.teeth, strict=True)
    return "".join(circles(centre, [wheel_radius_mm(round(teeth)) - 3]) for centre, teeth in wheels)


def chain_line(sizing: Sizing, gear: Gear, links: int) -> str:
    """The line of the chain in one gear, as path data, to lay over another bike."""
    loop = resting_loop(sizing, gear, links)
    return polyline(rivets(loop, links, slack_run(loop)), closed=True)
