"""A route that cannot work, drawn as described, with every place marked that is wrong."""

from lone_pike.core.bike.document import Bike
from lone_pike.core.messages import Message
from lone_pike.core.route.routing import RouteDraft
from lone_pike.core.route.tubes import tube_fits
from lone_pike.drawing.scene.bicycle import bicycle, capsule
from lone_pike.drawing.scene.chain import ChainShapes, chain_shapes, loop_of, rivets
from lone_pike.drawing.scene.instruments import tube_shapes
from lone_pike.drawing.scene.letters import Letter, cage_letters
from lone_pike.drawing.scene.loupes import loupes_of
from lone_pike.drawing.scene.side_view import SideView, cage_plate, slack_run, view_box_of, wheel_radius_mm
from lone_pike.drawing.scene.small_view import SmallView, wheel_circles
from lone_pike.drawing.scene.wheel import Wheel, wheels_of
from lone_pike.drawing.svg import circles, polyline


def drafted_view(bike: Bike, draft: RouteDraft, *, lettered: bool = False) -> SideView:
    """A bike that cannot be sized as described: its route with the cage hanging, and what is wrong; with lettered, also
    where each length is measured."""
    wheels: tuple[Wheel, ...] = ()
    shapes, cage, hubs = ChainShapes("", "", "", ""), capsule(*draft.pulleys_mm, 9.0), ""
    letters: tuple[Letter, ...] = ()
    if draft.path:
        loop = loop_of(draft.path)
        points = rivets(loop, int(loop.links), slack_run(loop))
        shapes, wheels = chain_shapes(points, joiner_at=-1), wheels_of(loop, points)
        cage, hubs = cage_plate(loop), "".join(circles(centre, [3.0]) for centre in loop.centres_mm)
        letters = cage_letters(bike, loop) if lettered else ()
    pulleys = zip(draft.pulleys_mm, (bike.caged.guide_teeth, bike.caged.tension_teeth), strict=True)
    standing = [] if draft.path else [((0.0, 0.0), bike.largest_ring), (bike.axle_xy_mm, bike.largest_cog), *pulleys]
    standing += [(idler.at_mm, idler.teeth) for idler in bike.idlers]
    return SideView(
        view_box=view_box_of(bike),
        chain=shapes,
        wheels=wheels,
        other_wheels="".join(circles(at, [wheel_radius_mm(teeth)]) for at, teeth in standing),
        hubs=hubs,
        behind=bicycle(bike, bike.axle_xy_mm),
        arm="",
        cage=cage,
        stretched_cage="",
        reserve_arc="",
        touch=None,
        state="short",
        letters=letters,
        lacking=(),
        title=Message("drafted_title"),
        troubles=tuple((x, -y) for x, y in (trouble.at_mm for trouble in draft.troubles)),
        tubes=tube_shapes(tube_fits(bike, draft.path)) if draft.path else (),
        loupes=loupes_of(bike),
    )


def small_drafted(bike: Bike, draft: RouteDraft) -> SmallView | None:
    """A draft as a thumbnail; None if the route cannot be traced at all."""
    if draft.path is None:
        return None
    loop = loop_of(draft.path)
    points = rivets(loop, int(loop.links), slack_run(loop))
    return SmallView(
        view_box=view_box_of(bike),
        line=polyline(points, closed=True),
        wheels=wheel_circles(loop),
        cage=cage_plate(loop),
        title=Message("drafted_title"),
    )
