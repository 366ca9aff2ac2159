"""The route over idlers: what changes nothing, what is wrong and where, tapes, tubes, and where joiners lie."""

from itertools import pairwise
from math import hypot, pi, sin
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lone_pike.core.bike.base import Run
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.bike.tapes import by_two_tapes
from lone_pike.core.chain.crossing import Reach, meeting_of
from lone_pike.core.chain.path import ChainPath, Stop, trace
from lone_pike.core.chain.stops import COG, RING, TENSION, idler_id
from lone_pike.core.count.answer import Answer, answer
from lone_pike.core.messages import number
from lone_pike.core.route.placing import place_joiners
from lone_pike.core.route.routing import drafted
from lone_pike.core.route.threading import walk_of
from lone_pike.core.route.tubes import in_tubes_links, stops_links, tube_fits
from lone_pike.formats.files.bike_file import bike_from_document
from tests.bikes import SAMPLES, said, told, wide_bike

PINTAIL = SAMPLES["Pintail"]
DRIVE, RETURN = PINTAIL["idlers"]


def pintail(*idlers: dict[str, Any], **changes: Any) -> Answer:
    told = {"tubes": [], **changes}
    return answer(bike_from_document({**PINTAIL, "idlers": list(idlers) or PINTAIL["idlers"], **told}))


def loop(result: Answer) -> ChainPath:
    bike = result.bike
    return result.sizing.cage.resting_path(bike.smallest_ring, bike.smallest_cog, result.links)


@given(st.floats(0.05, 0.95), st.integers(9, 30), st.sampled_from([-1, 1]))
def test_an_idler_that_turns_the_chain_by_nothing_changes_no_length(share: float, teeth: int, wind: int) -> None:
    """Its rim just on the straight run from cog to ring, on either side of it."""
    ring, cog = Stop(RING, 0.0, 0.0, 46, 1), Stop(COG, -1390.0, -150.0, 36, 1)
    bare = trace([ring, cog])
    heading = float(bare.headings_rad[1])
    ahead, left = np.array([np.cos(heading), np.sin(heading)]), np.array([-np.sin(heading), np.cos(heading)])
    start = np.array([-1390.0, -150.0]) + float(cog.signed_radius_mm) * left
    radius_mm = 12.7 / 2 / sin(pi / teeth)
    centre = start + share * float(bare.spans_mm[1]) * ahead - wind * radius_mm * left
    touched = trace([ring, cog, Stop(idler_id(Run.DRIVE, 1), centre[0], centre[1], teeth, wind, idler=True)])
    assert float(touched.links) == pytest.approx(float(bare.links), abs=1e-6)


@given(
    st.lists(st.tuples(st.floats(-900, -200), st.floats(-150, 150), st.integers(9, 30), st.booleans()), max_size=4),
    st.integers(20, 52),
    st.integers(11, 42),
)
def test_the_mirror_image_with_swapped_winds_is_as_long(
    idlers: list[tuple[float, float, int, bool]], ring: int, cog: int
) -> None:
    def looped(mirror: int) -> float:
        stops = [Stop(RING, 0.0, 0.0, ring, mirror)]
        stops += [
            Stop(idler_id(Run.RETURN, i), x, mirror * y, teeth, mirror if over else -mirror, idler=True)
            for i, (x, y, teeth, over) in enumerate(sorted(idlers, reverse=True), start=1)
        ]
        return float(trace([*stops, Stop(COG, -1200.0, mirror * -80.0, cog, mirror)]).links)

    upright, turned = looped(1), looped(-1)
    assert (np.isnan(upright) and np.isnan(turned)) or turned == pytest.approx(upright, abs=1e-6)


HIGH = {"run": "drive", "at_mm": [-700, 5], "teeth": 21, "chain": "over"}


@pytest.mark.parametrize("at_mm", [[-700, 5], [-715, -15], [-720, -30]])
def test_idlers_whose_teeth_overlap_stand_side_by_side_and_no_run_goes_through_them(at_mm: list[float]) -> None:
    """Tips of 45 and 33 mm: up to 78 mm apart they can only stand in planes of their own."""
    bike = bike_from_document({**PINTAIL, "tubes": [], "idlers": [HIGH, {**RETURN, "at_mm": at_mm}]})
    assert "route_through" not in {trouble.kind for trouble in drafted(bike).troubles}


@pytest.mark.parametrize(
    ("idlers", "code", "about"),
    [
        ((DRIVE, {**RETURN, "at_mm": [-720, -106]}), "rubbing", (-720, -73)),
        (
            (DRIVE, {"run": "drive", "at_mm": [-780, -102.3], "teeth": 15, "chain": "over"}, RETURN),
            "idle",
            (-780, -102),
        ),
        ((HIGH, {**RETURN, "at_mm": [-900, -28]}), "through", (-700, 5)),
    ],
)
def test_what_is_told_of_a_route_and_where(
    idlers: tuple[dict[str, Any], ...], code: str, about: tuple[float, float]
) -> None:
    """By hand: the rims stand 30 mm from the centres; the third return run passes 24 mm below the high idler's."""
    bike = bike_from_document({**PINTAIL, "tubes": [], "idlers": list(idlers)})
    places = [trouble.at_mm for trouble in drafted(bike).troubles if trouble.kind == f"route_{code}"]
    assert min(hypot(x - about[0], y - about[1]) for x, y in places) < 30


def test_an_idler_the_chain_goes_more_than_half_round_is_asked_about() -> None:
    """Down from the ring, up again between two idlers 80 mm apart, and back: 43 degrees more than there and back."""
    deep = {"run": "return", "at_mm": [-120, -330], "teeth": 13, "chain": "under"}
    above = {"run": "return", "at_mm": [-125, -250], "teeth": 13, "chain": "over"}
    bike = bike_from_document({**PINTAIL, "tubes": [], "idlers": [DRIVE, deep, above]})
    assert "route_wound" in {trouble.kind for trouble in drafted(bike).troubles}


@pytest.mark.parametrize(
    ("change", "code", "says"),
    [
        (
            {"chain": "over", "at_mm": [-500, -60]},
            "not_reached",
            "does not reach the drive idler from that side; try under",
        ),
        ({"at_mm": [40, 10]}, "misplaced", "The drive idler cannot stand there"),
    ],
)
def test_a_route_that_cannot_be_is_drawn_all_the_same_and_marked(change: dict[str, Any], code: str, says: str) -> None:
    bike = bike_from_document({**PINTAIL, "tubes": [], "idlers": [DRIVE | change, RETURN]})
    marked = [trouble for trouble in drafted(bike).troubles if trouble.kind == f"route_{code}"]
    assert marked and marked[0].at_mm == tuple(change["at_mm"]) and says in said(marked[0].message)
    with pytest.raises(InvalidInput):
        answer(bike)


@given(st.floats(-1300, -100), st.floats(-400, 400))
def test_two_tapes_place_an_idler_where_it_is(x: float, y: float) -> None:
    axle = (-1390.0, -150.0)
    above = y > x * axle[1] / axle[0]
    placed = by_two_tapes(hypot(x, y), hypot(x - axle[0], y - axle[1]), axle, above=above)
    off = abs(y - x * axle[1] / axle[0])
    assert hypot(placed.at_mm[0] - x, placed.at_mm[1] - y) < (0.15 if off > 1 else 30)


def test_how_far_off_a_taped_place_may_be_is_what_clumsy_tapes_make_of_it() -> None:
    """Each tape off by a normal error with half its 2 mm as deviation; told is twice the deviation along an axis."""
    axle, lot = (-1390.0, -150.0), np.random.default_rng(4)
    crank_mm, axle_mm = hypot(700, 100), hypot(690, 250)
    true = by_two_tapes(crank_mm, axle_mm, axle, above=True)
    places = np.array(
        [by_two_tapes(crank_mm + a, axle_mm + b, axle, above=True).at_mm for a, b in lot.normal(0, 1, (2000, 2))]
    )
    off = np.sqrt(((places - true.at_mm) ** 2).sum(axis=1).mean() / 2)
    assert true.about_mm == pytest.approx(2 * off, rel=0.08)


@pytest.mark.parametrize(
    ("crank_mm", "axle_mm", "says"),
    [(600, 600, "end 198 mm short of each other"), (2000, 300, "reaches 302 mm past the other's circle")],
)
def test_tapes_that_cannot_meet_say_by_how_much(crank_mm: float, axle_mm: float, says: str) -> None:
    """The axle stands 1398 mm from the crank: 1398 - 1200, and 2000 - 300 - 1398."""
    with pytest.raises(InvalidInput) as caught:
        by_two_tapes(crank_mm, axle_mm, (-1390.0, -150.0), above=True)
    assert says in told(caught.value)


def test_tubes_lie_on_their_runs_and_say_what_to_cut() -> None:
    """The boom comes 40 mm nearer; in front 22.5 mm are kept to the ring, behind 30 mm to the idler."""
    tubes = [
        {"run": "drive", "part": 1, "length_mm": 600.0, "inner_mm": 13.0, "behind_mm": 12.0},
        {"run": "return", "part": 2, "length_mm": 200.0, "inner_mm": 9.0, "behind_mm": 100.0},
    ]
    result = pintail(tubes=tubes)
    path = loop(result)
    drive, back = tube_fits(result.bike, path)
    span = float(path.spans_mm[path.index(idler_id(Run.DRIVE, 1))])
    angle = np.arctan2(drive.front[1] - drive.rear[1], drive.front[0] - drive.rear[0])
    assert drive.cut_rear_mm == pytest.approx(30 - 12)
    assert drive.cut_front_mm == pytest.approx(max(0, 612 + 22.5 + 40 * np.cos(angle) - span))
    assert hypot(drive.front[0] - drive.rear[0], drive.front[1] - drive.rear[1]) == pytest.approx(600)
    assert (back.front_wheel, back.rear_wheel) == (idler_id(Run.RETURN, 1), TENSION)
    assert "bore of 9.0 mm catches" in said(back.messages[-1])
    for (start, end), tube in zip(in_tubes_links(result.bike, path), tubes, strict=True):
        assert (end - start) * 12.7 == pytest.approx(tube["length_mm"])


@pytest.mark.parametrize("runs", [(268.0,), (100.0, 168.0), (95.0, 117.0, 56.0), (40.0, 60.0, 80.0, 88.0)])
def test_joiners_lie_clear_of_tubes_and_wheels_wherever_any_turn_has_them_so(runs: tuple[float, ...]) -> None:
    """Against every turn of every order, tried one by one."""
    result = pintail(tubes=PINTAIL["tubes"])
    path = loop(result)
    bad = [*in_tubes_links(result.bike, path), *stops_links(path)]

    def inside(at: float) -> bool:
        return any(start <= at <= end for start, end in bad)

    placing = place_joiners(result.bike, path, runs)
    taken = [place.at_links for place in placing.joiners]
    gaps = [(after - before) % 268 for before, after in pairwise([taken[-1], *taken])]
    assert [round(gap, 3) % 268 for gap in gaps] == [round(runs[i], 3) % 268 for i in placing.order]
    ends = np.cumsum(runs)
    possible = any(not any(inside((turn + end) % 268) for end in ends) for turn in np.arange(0, 268, 0.5))
    is_free = all(one.between and not one.in_tube for one in placing.joiners)
    assert is_free == (not any(map(inside, taken)))
    assert is_free or not possible
    assert any(place.on_drive_run for place in placing.joiners)


def test_the_walk_passes_every_stop_once_against_the_chains_travel() -> None:
    result = pintail(tubes=PINTAIL["tubes"])
    walk = walk_of(result.bike, loop(result), (95.0, 117.0, 56.0))
    assert next(step for step in walk.steps if step.key == "pieces").message.values["joints"] == number(2)
    keys = [step.key for step in walk.steps]
    way = ["cog", "guide", "tab", "tension", "return_1", "tube_2", "ring", "wide", "tube_1", "drive_1"]
    assert keys == ["setup", "pieces", "pins", *way, "meet", "turn"]
    laid = [step.from_links for step in walk.steps if step.from_links is not None]
    behind = [(walk.joined_at_links - at) % 268 for at in laid]
    assert behind == sorted(behind), "each step lays more chain"
    assert {step.key: said(step.message) for step in walk.steps}["return_1"] == "Over the return idler."


def test_a_boom_beyond_its_range_and_twenty_idlers_are_refused_by_name() -> None:
    for changes, line in (
        ({"idlers": [DRIVE] * 20}, "idlers: “"),
        ({"boom": {"from_mm": -400, "to_mm": 0}}, "boom.from_mm: “-400 mm” won’t do here: -300 to 300 mm."),
    ):
        with pytest.raises(InvalidInput) as caught:
            answer(bike_from_document({**PINTAIL, **changes}))
        assert told(caught.value).startswith(line), told(caught.value)


def test_a_joiner_is_placed_in_mm_on_the_straight_part_that_it_lies_on() -> None:
    """Two wheels of 32 teeth, 508 mm apart: 40 links below, 16 about the cog, 40 above, 16 about the ring."""
    ring, cog = Stop(RING, 0.0, 0.0, 32, 1), Stop(COG, -508.0, 0.0, 32, 1)
    path, radius = trace((ring, cog)), PITCH_MM / (2 * sin(pi / 32))
    assert float(path.links) == pytest.approx(112)
    for run in (30.0, 50.0, 70.0):
        (first, last) = place_joiners(wide_bike(), path, (run, 112 - run), fixed_order=True).joiners
        assert (last.at_links - first.at_links) % 112 == pytest.approx(112 - run)
        for place in (first, last):
            at, behind = place.at_links, place.at_links < 40
            expected = (-12.7 * at, -radius) if behind else (-508 + 12.7 * (at - 56), radius)
            assert place.at_mm == (pytest.approx(expected) if at < 40 or 56 <= at <= 96 else None)
            assert place.on_drive_run == (56 <= at <= 96)


def test_runs_are_met_where_they_cross_or_come_nearest() -> None:
    """The drive run is level at y = 0 from the cog to the ring; the other run comes up to it, or through it."""
    for end, apart, at in (((-300.0, 40.0), 40.0, (-300.0, 20.0)), ((-300.0, -100.0), 0.0, (-300.0, 0.0))):
        drive = Reach(COG, RING, (-500.0, 0.0), (0.0, 0.0))
        other = Reach(idler_id(Run.RETURN, 1), TENSION, (-300.0, 200.0), end)
        met = meeting_of(drive, other)
        assert met and (met.apart_mm, met.at_mm) == (pytest.approx(apart), pytest.approx(at))
