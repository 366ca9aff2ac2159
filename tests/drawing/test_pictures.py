"""The pictures are true: rivets a pitch apart and seated on their teeth; hands, flags and strips where they say."""

import math
import re
from itertools import pairwise

import numpy as np
import pytest

from lone_pike.core.bike.teeth import Array
from lone_pike.core.chain.counting import joinable_at_or_above, step_links
from lone_pike.core.chain.cutting import plan_cut
from lone_pike.core.chain.stops import COG, RING
from lone_pike.core.count.answer import Answer, answer
from lone_pike.core.count.sizing import size_at, size_bike
from lone_pike.core.motion.poses import all_gears
from lone_pike.drawing.charts.dials import dials
from lone_pike.drawing.charts.growth import growth_plot
from lone_pike.drawing.charts.rail import POLE_AT, TOGETHER, Rail, rail
from lone_pike.drawing.charts.strip import close_up, strip, strip_pages
from lone_pike.drawing.scene.chain import ChainShapes, Loop, rivets
from lone_pike.drawing.scene.side_view import resting_loop, side_view, slack_run
from lone_pike.formats.files.bike_file import bike_from_document
from lone_pike.wording.schools import FLAGS
from tests.bikes import SOUND, bike, sample_answer, wide_bike, wide_document


@pytest.fixture(params=SOUND)
def result(request: pytest.FixtureRequest) -> Answer:
    return sample_answer(request.param)


def rivets_in(result: Answer, ring: int, cog: int, links: int) -> tuple[Array, Loop]:
    sizing = size_at(result.sizing.bike, 0.0)
    gear = next(gear for gear in sizing.take_up.gears(links) if (gear.ring, gear.cog) == (ring, cog))
    loop = resting_loop(sizing, gear, links)
    return rivets(loop, links, slack_run(loop)), loop


def plates_in(shapes: ChainShapes) -> int:
    return (shapes.inner + shapes.outer + shapes.joiner).count("M")


def test_the_drawn_chain_has_its_count_and_its_pitch_in_every_gear(result: Answer) -> None:
    for gear in size_at(result.sizing.bike, 0.0).take_up.gears(result.links):
        if gear.state in ("short", "loose"):
            continue
        points, _ = rivets_in(result, gear.ring, gear.cog, result.links)
        apart = np.hypot(*(points - np.roll(points, -1, axis=0)).T)
        assert len(points) == result.links
        assert apart == pytest.approx(12.7, abs=0.12)


def test_rivets_sit_on_the_pitch_circles_they_wrap(result: Answer) -> None:
    points, loop = rivets_in(result, *all_gears(result.sizing.bike)[0], result.links)
    for name in (RING, COG):
        i = loop.names.index(name)
        from_centre = np.hypot(*(points - loop.centres_mm[i]).T)
        seated = np.abs(from_centre - abs(loop.radii_mm[i])) < 0.01
        wrapped = loop.teeth[i] * loop.wraps_rad[i] / (2 * math.pi)
        assert abs(seated.sum() - wrapped) <= 1.01


def test_a_chain_to_spare_hangs_below_its_run() -> None:
    result = answer(bike([26, 48], [11, 13, 15, 18, 21, 24, 28, 34], 432, 56, 5))
    taut, _ = rivets_in(result, 26, 11, 104)
    slack, _ = rivets_in(result, 26, 11, 122)
    assert len(slack) > len(taut)
    assert slack[:, 1].min() < taut[:, 1].min() - 20


def test_the_side_view_keeps_its_frame_from_gear_to_gear(result: Answer) -> None:
    gears = result.sizing.take_up.gears(result.links)
    sizing = size_at(result.sizing.bike, 0.0)
    frames = {side_view(sizing, gear, result.links).view_box for gear in (gears[0], gears[-1])}
    assert len(frames) == 1
    left, top, width, height = map(float, frames.pop().split())
    loop = resting_loop(sizing, gears[0], result.links)
    for (x_mm, y_mm), radius_mm in zip(loop.centres_mm, np.abs(loop.radii_mm), strict=True):
        assert left < x_mm - radius_mm and x_mm + radius_mm < left + width
        assert top < -y_mm - radius_mm and -y_mm + radius_mm < top + height


def test_dials_point_where_the_clock_says(result: Answer) -> None:
    for dial in dials(result.gears, all_gears(result.sizing.bike)[0]).dials:
        if dial.gear.clock is None:
            continue
        x, y = map(float, dial.hand.split())
        hours = (math.degrees(math.atan2(x, -y)) / 30) % 12
        told, minutes = map(int, (dial.gear.rest_clock or dial.gear.clock).split(":"))
        away = abs(hours - (told % 12 + minutes / 60))
        assert min(away, 12 - away) < 0.1


def no_flag_lies_over_another(shown: Rail) -> None:
    flags = [(place.x, flag) for place in shown.places for flag in place.flags]
    cloths = [(flag.row, x + 2 * POLE_AT - flag.width if flag.flies_left else x, flag.width) for x, flag in flags]
    for (row, left, width), (next_row, next_left, _) in pairwise(sorted(cloths)):
        assert row != next_row or left + width <= next_left


def test_the_rail_shows_the_window_every_flag_and_one_chosen_count(result: Answer) -> None:
    shown = rail(result, result.links, FLAGS)
    safe = [place.links for place in shown.places if place.safety == "safe"]
    assert safe == (list(range(result.window.min, result.window.max + 1, 2)) if result.window else [])
    assert [place.links for place in shown.places if place.chosen] == [result.links]
    flags = [flag for place in shown.places for flag in place.flags]
    taken = {vote.links for vote in result.votes if vote.school not in TOGETHER}
    own = [vote.school for vote in result.votes if vote.school not in TOGETHER or vote.links not in taken]
    assert sorted(flag.school for flag in flags) == sorted(own)
    no_flag_lies_over_another(shown)
    assert shown.places[-1].x + shown.width_of_place <= shown.width + 1
    for place in shown.places:
        assert place.links == joinable_at_or_above(place.links, step_links(result.sizing.bike.chain.offset_link))


@pytest.mark.parametrize(("old_links", "beyond"), [(60, -1), (110, 0), (200, 1)])
def test_a_flag_off_the_rail_stands_on_the_end_that_it_points_beyond(old_links: int, beyond: int) -> None:
    result = answer(bike_from_document(wide_document() | {"old_chain": {"links": old_links}}))
    shown = rail(result, result.links, FLAGS)
    [(i, flag)] = [(i, flag) for i, at in enumerate(shown.places) for flag in at.flags if flag.school == "old_chain"]
    assert flag.beyond == beyond
    assert (i == 0, i == len(shown.places) - 1) == (beyond < 0, beyond > 0)
    assert flag.flies_left == (beyond > 0), "towards the side where the rail has room"
    no_flag_lies_over_another(shown)


@pytest.mark.parametrize("links", [1, 20, 60, 400, 999])
def test_absurd_counts_leave_every_picture_in_its_frame(links: int) -> None:
    for result in (sample_answer("Otter"), sample_answer("Osprey")):
        assert 9 <= len(rail(result, links, FLAGS).places) <= 21
        sizing = size_at(result.sizing.bike, 0.0)
        assert side_view(sizing, sizing.take_up.gears(links)[0], links).chain.outer
    plot = growth_plot(sample_answer("Osprey").sizing, links, 0.0)
    assert (plot.reserve_deg is None) == (links < 100)
    assert "nan" not in plot.reserve + plot.growth


@pytest.mark.parametrize(("box", "ends"), [(118, None), (117, "outer_outer"), (125, None)])
def test_the_strip_lays_out_the_whole_box_and_pushes_the_planned_rivet(box: int, ends: str | None) -> None:
    chain = {"speeds": 11, "box_links": box, "joiner": "locking_link", **({"box_ends": ends} if ends else {})}
    cut = plan_cut(wide_bike(chain=chain), 112)
    assert cut
    laid = strip(cut)
    plates = sum(plates_in(shapes) for shapes in laid.parts.values())
    assert plates == box
    assert [number.joint for number in laid.numbers] == list(range(1, box + 1))
    assert laid.pushes[-1].joint == cut.push_from_start
    assert len(laid.pushes) == (2 if cut.trim_links else 1)
    kept = plates_in(laid.parts["keep"])
    assert kept == cut.keep_links
    tens = [number.x for number in laid.numbers if number.joint % 10 == 0]
    assert len(set(tens)) == 1
    near = close_up(cut)
    assert near and cut.push_from_start in [push.joint for push in near.pushes]


@pytest.mark.parametrize("box", [117, 400])
def test_the_pages_of_a_strip_show_every_link_once_and_say_where_they_meet(box: int) -> None:
    cut = plan_cut(wide_bike(chain={"speeds": 11, "box_links": box, "joiner": "locking_link"}), 112)
    assert cut
    pages = strip_pages(cut)
    rivets = [[number.joint for number in page.strip.numbers] for page in pages]
    assert [joint for page in rivets for joint in page] == list(range(1, box + 1))
    assert [page.goes_on_from for page in pages] == [None, *(each[-1] for each in rivets[:-1])]
    assert [page.goes_on_at for page in pages] == [*(each[-1] for each in rivets[:-1]), None]


@pytest.mark.parametrize("travel_mm", [1, 7, 150, 351, 400])
def test_the_growth_plot_has_places_to_press_over_any_travel(travel_mm: int) -> None:
    """From rest to bottomed out, so few that a knuckle finds one; 400 mm is the most a bike may have."""
    growth = {"type": "growth", "growth_mm": 1.0, "travel_mm": travel_mm}
    sizing = size_bike(wide_bike(suspension=growth, take_up=wide_document()["take_up"] | {"cage_mm": 100}))
    steps = growth_plot(sizing, sizing.recommended_links, 0.0).steps
    assert (steps[0].travel, steps[-1].travel) == (0, travel_mm)
    assert len(steps) <= 15 and all(step.width > 20 for step in steps)


def test_the_growth_plot_marks_the_worst_travel_where_it_is() -> None:
    plot = growth_plot(sample_answer("Dipper").sizing, sample_answer("Dipper").links, 40.0)
    xs = [float(x) for x in re.findall(r"[ML](-?[\d.]+) ", plot.growth)]
    ys = [float(y) for y in re.findall(r"[ML]-?[\d.]+ (-?[\d.]+)", plot.growth)]
    assert plot.worst_travel_mm == 60
    assert plot.worst == (pytest.approx(xs[int(np.argmin(ys))], abs=0.1), pytest.approx(min(ys), abs=0.1))
    assert xs[0] < plot.handle_x < plot.worst[0]
    assert [step.travel for step in plot.steps if step.shown] == [
        min((s.travel for s in plot.steps), key=lambda t: abs(t - 40))
    ]
