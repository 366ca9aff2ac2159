"""Fixed centres: slot, eccentric, vertical dropouts, gears that share a count; slack, search, riding; a sprung arm."""

from math import cos, hypot, pi, radians, sin, sqrt
from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.count.answer import Answer, answer
from lone_pike.core.count.setting import setting_of
from lone_pike.core.count.sizing import Window, size_bike
from lone_pike.core.take_up.arm import ArmTakeUp
from lone_pike.core.take_up.protocol import Safety
from lone_pike.core.take_up.standing import FixedCentres
from lone_pike.core.take_up.wheels_apart import movement_mm, spare_for_mm
from lone_pike.formats.files.bike_file import bike_from_document
from tests.bikes import said, told, wide_bike
from tests.core.plain_model import loop
from tests.core.random_bikes import FIXED, random_fixed, seeds

PITCH = 12.7


def standing(take_up: dict[str, Any], ring: int = 42, cog: int = 15, **changes: Any) -> Bike:
    bike = {"lone_pike": 1, "name": "Teal", "rings": [ring], "cogs": [cog], "take_up": take_up}
    return bike_from_document(bike | changes)


def slotted(ring: int = 42, cog: int = 15, slot: tuple[float, float] = (405, 430), **changes: Any) -> Bike:
    take_up = changes.pop("take_up", {"type": "slot", "min_mm": slot[0], "max_mm": slot[1]})
    return standing(take_up, ring, cog, **changes)


def fixed(result: Answer) -> FixedCentres:
    assert isinstance(result.sizing.take_up, FixedCentres)
    return result.sizing.take_up


def plain_links(ring: int, cog: int, centre_mm: float) -> float:
    """The second implementation's loop: model, section 1."""
    found = loop([(0.0, 0.0, ring, 1), (-centre_mm, 0.0, cog, 1)])
    return found.links if found else float("nan")


def test_the_slot_of_the_model_section_5() -> None:
    """42/15: N 94 at 412.308 mm, 95 at 418.713, 96 at 425.117; the middle of 405 to 430 is nearest to 95."""
    result = answer(slotted(chain={"offset_link": True}))
    centres = {fit.links: fit.centre_mm for fit in result.fits}
    assert [centres[count] for count in (94, 95, 96)] == pytest.approx([412.308, 418.713, 425.117], abs=5e-4)
    assert (result.links, result.window) == (95, Window(93, 96))
    assert [fit.links for fit in answer(slotted()).fits] == [94, 96]
    assert [vote.school for vote in result.votes] == ["formula"]
    assert "from the front end" in said(result.why[0])


@pytest.mark.parametrize(("taste", "links"), [("middle", 95), ("forward", 93), ("kilometres", 93)])
def test_taste_decides_among_the_counts_that_fit(taste: str, links: int) -> None:
    """Trade, section 6; 405 to 430 takes 93 to 96, and the shortest leaves most room behind."""
    take_up = {"type": "slot", "min_mm": 405, "max_mm": 430, "taste": taste}
    result = answer(standing(take_up, chain={"offset_link": True}))
    assert result.links == links
    rooms = [fit.room_mm for fit in result.fits]
    assert rooms == sorted(rooms, reverse=True)


@settings(max_examples=30)
@given(st.integers(30, 52), st.integers(11, 22), st.floats(370, 440), st.floats(12, 60))
def test_in_a_slot_the_window_is_the_slot(ring: int, cog: int, front_mm: float, length_mm: float) -> None:
    """Each count's loop, traced at the axle's place, holds that count; a longer chain stands farther back."""
    result = answer(slotted(ring, cog, (front_mm, front_mm + length_mm), chain={"offset_link": True}))
    counts = list(fixed(result).counts_in_reach())
    centres = fixed(result).centres_mm(counts)[0, 0]
    assert (np.diff(centres) > 0).all()
    assert [plain_links(ring, cog, centre) for centre in centres] == pytest.approx(counts, abs=1e-6)
    for fit in result.fits:
        assert front_mm <= fit.centre_mm <= front_mm + length_mm
        assert fit.centre_mm + fit.room_mm == pytest.approx(front_mm + length_mm)
        worn = fit.links * (1 + fit.wear_room_percent / 100)
        assert worn == pytest.approx(plain_links(ring, cog, front_mm + length_mm)), (
            "worn by its room, at the slot's end"
        )
    for count in counts:
        assert (result.safety(count) is Safety.SAFE) == (count in {fit.links for fit in result.fits})


@settings(max_examples=30)
@given(st.integers(25, 52), st.integers(9, 22), st.integers(80, 120), st.floats(0.05, 1.0))
def test_a_worn_chain_moves_the_axle_back_by_half_of_what_it_grew(ring: int, cog: int, links: int, wear: float) -> None:
    """N p w / 2 within 0.05 mm, and as much more as the runs are slanted (model, section 5)."""
    new, worn = (
        fixed(answer(slotted(ring, cog, chain={"wear_percent": percent}))).centres_mm([links]).item()
        for percent in (0.0, wear)
    )
    slant = (ring - cog) * PITCH / (2 * pi) / new
    grown = links * PITCH * wear / 100 / 2 / sqrt(1 - slant * slant)
    assert worn - new == pytest.approx(grown, abs=0.05)


def test_two_cogs_and_two_rings_share_one_count() -> None:
    """A flip-flop wheel: each cog its own place; dual drive: large ring with small cog, small ring with large cog."""
    flip = answer(bike_from_document(raw([42], [16, 18])))
    assert {(place.ring, place.cog) for place in fixed(flip).places(flip.links)} == {(42, 18), (42, 16)}
    for place in fixed(flip).places(flip.links):
        assert plain_links(place.ring, place.cog, place.centre_mm) == pytest.approx(flip.links)
        assert min(place.ahead_mm, place.room_mm) >= 0
    dual = answer(bike_from_document(raw([42, 39], [15, 18])))
    assert [(place.ring, place.cog) for place in fixed(dual).places(dual.links)] == [(42, 15), (39, 18)]
    apart = answer(bike_from_document(raw([42], [13, 22])))
    assert apart.window is None and "No count fits" in said(apart.why[0])


def raw(rings: list[int], cogs: list[int]) -> dict[str, Any]:
    take_up = {"type": "slot", "min_mm": 400, "max_mm": 425}
    return {"lone_pike": 1, "name": "Teal", "rings": rings, "cogs": cogs, "take_up": take_up}


@settings(max_examples=30)
@given(st.floats(395, 440), st.floats(3, 12), st.integers(0, 180))
def test_the_crank_stands_where_its_circle_meets_the_centre_distance(away: float, radius: float, turn: int) -> None:
    """Whatever the shell's turn when the chainstay was taken, the same eccentric gives the same counts."""
    at = (radius * sin(radians(turn)), -radius * cos(radians(turn)))
    measured = hypot(away + at[0], at[1])
    eccentric = {"type": "eccentric", "radius_mm": radius}
    by_shell = answer(standing(eccentric, chainstay_mm=away, chain={"offset_link": True}))
    by_crank = answer(
        standing({**eccentric, "crank_deg": float(turn)}, chainstay_mm=measured, chain={"offset_link": True})
    )
    assume(by_shell.fits)
    # From the crank the axle's height is told apart by the crank's own: half a millimetre at the most.
    assert {fit.links for fit in by_crank.fits} >= {fit.links for fit in by_shell.fits if fit.room_mm > 0.5} - {
        fit.links for fit in by_shell.fits if fit.centre_mm - (away - radius) < 0.5
    }
    for fit in by_crank.fits:
        (place,) = fixed(by_crank).places(fit.links)
        drawn = fixed(by_crank).path_at(place.ring, place.cog, place.centre_mm)
        assert float(drawn.links) == pytest.approx(fit.links, abs=1e-6), "the crank is drawn where the chain is taut"
    for fit in by_shell.fits:
        (place,) = fixed(by_shell).places(fit.links)
        assert place.crank_deg is not None
        x, y = radius * sin(radians(place.crank_deg)), -radius * cos(radians(place.crank_deg))
        assert hypot(-away - x, -y) == pytest.approx(fit.centre_mm), "the axle stands level with the shell"


def test_a_count_on_vertical_dropouts_closes_within_the_allowed_slack_or_not_at_all() -> None:
    """42/15 with 94 is taut at 412.308 mm: nearer by so much as 15 mm of movement takes it closes; farther never."""
    span = sqrt(412.308**2 - (27 * PITCH / (2 * pi)) ** 2)
    allowed = 15**2 / (2 * span) / 2
    for chainstay, closes in (
        (412.35, False),
        (412.30, True),
        (412.308 - allowed + 0.01, True),
        (412.308 - allowed - 0.02, False),
    ):
        result = answer(standing({"type": "none"}, chainstay_mm=chainstay))
        assert (result.window == Window(94, 94)) == closes, chainstay


@given(st.floats(0, 60), st.floats(250, 600))
def test_slack_and_its_inverse_agree(movement: float, span: float) -> None:
    assert movement_mm(spare_for_mm(movement, span), span) == pytest.approx(movement)
    half = sqrt((span + spare_for_mm(movement, span)) ** 2 - span**2) / 2
    assert 2 * half == pytest.approx(movement, rel=0.01, abs=0.01), "two straight halves, pulled aside both ways"


def test_the_axle_is_set_for_the_slack_that_is_wanted_at_the_tightest_point() -> None:
    """10 and 15 mm of movement (trade, section 6); a ring out of round takes its own part away."""
    for runout in (0.0, 0.4):
        result = answer(standing({"type": "slot", "min_mm": 405, "max_mm": 430, "ring_runout_mm": runout}))
        for wanted, place in ((10, "from_mm"), (15, "to_mm")):
            at = getattr(setting_of(fixed(result), 94), place)
            assert setting_of(fixed(result), 94, at).tightest_mm == pytest.approx(wanted, abs=0.05)
        told_of = setting_of(fixed(result), 94)
        assert told_of.to_mm < told_of.from_mm < told_of.taut_mm == pytest.approx(412.308, abs=5e-4)
        assert (told_of.slackest_mm > told_of.now_mm > told_of.tightest_mm) == (runout > 0)
    assert 15 < told_of.moves_a_mm < 40, "near 30 mm of movement for 1 mm of chain, and two of chain for one of axle"


def armed(**changes: Any) -> Bike:
    arm = {"type": "arm", "cage_mm": 60, "pivot_mm": [12, -72], "rest_deg": -60}
    return standing(arm, 46, 20, **{"chainstay_mm": 450} | changes)


def test_an_arm_stands_nearest_to_half_of_its_movement() -> None:
    """Trade, section 4; the half is found here by trying every count's angle."""
    result = answer(armed())
    arm = result.sizing.take_up
    assert isinstance(arm, ArmTakeUp)
    middle = float((arm.sweep.stretched_rad + arm.sweep.slackest_rad)[0, 0, 0]) / 2
    counts = [count for count in arm.counts_in_reach() if np.isfinite(arm.settled([count]).cage_rad).all()]
    nearest = min(counts, key=lambda count: abs(arm.settled([count]).cage_rad.item() - middle))
    assert result.links == nearest == {vote.school: vote.links for vote in result.votes}["arm_at_half"]
    grows, shrinks = arm.absorbs_links(result.links)
    assert grows > 0 < shrinks and grows + shrinks == pytest.approx(
        float((arm.sweep.slackest_links - arm.sweep.stretched_links).item())
    )
    assert arm.absorbs_mm(result.links) == pytest.approx((grows * PITCH / 2, shrinks * PITCH / 2))
    assert "before it is straight" in said(result.why[0])


@pytest.mark.parametrize(
    ("changes", "line"),
    [
        ({"rings": [42, 44, 46]}, "rings: “42, 44, 46” won’t do here: 1 to 2 rings of 16 to 70 teeth."),
        ({"cogs": [11, 13, 15, 17, 19]}, "cogs: “11, 13, 15, 17, 19” won’t do here: 1 to 3 cogs of 9 to 60 teeth"),
        (
            {"take_up": {"type": "slot", "min_mm": 405, "max_mm": 405}},
            "take_up.max_mm: “405 mm” won’t do here: another",
        ),
        (
            {"take_up": {"type": "slot", "min_mm": 160, "max_mm": 170}, "rings": [70], "cogs": [60]},
            "chainstay_mm: “",
        ),
        ({"suspension": {"type": "growth", "growth_mm": 5, "travel_mm": 60}, "chainstay_mm": 420}, "suspension: “"),
        ({"chain": {"speeds": 8, "joiner": "clip_link"}}, "chain.joiner: “"),
        ({"chain": {"width": "3/32", "teeth_width": "1/8"}}, "chain.width: “3/32” won’t do here: 1/8."),
        ({"search": {"rings": [40, 44], "cogs": [14, 16], "ratio": 2.5}}, "search: “"),
        (
            {"take_up": {"type": "arm", "cage_mm": 60, "pivot_mm": [10, -40]}, "chainstay_mm": 450},
            "take_up.pivot_mm: “10, -40” won’t do here: more than",
        ),
    ],
)
def test_what_cannot_be_is_refused_in_words(changes: dict[str, Any], line: str) -> None:
    with pytest.raises(InvalidInput) as caught:
        answer(slotted(**changes))
    assert told(caught.value).startswith(line), told(caught.value)


def test_swapped_ends_are_read_and_said_and_a_slot_without_a_count_tells_what_is_missing() -> None:
    swapped = answer(slotted(slot=(430, 405)))
    assert swapped.window == answer(slotted()).window
    assert [said(notice.message) for notice in swapped.notices] == [
        "The slot's ends were entered the wrong way round; used as 405.0 to 430.0 mm."
    ]
    tight = answer(slotted(slot=(408, 411)))
    assert tight.window is None and tight.mend
    # 94 is taut at 412.308: 1.3 mm behind this slot; 92 at 399.5.
    assert said(tight.why[0]) == "No count fits. 92 links: 8.5 mm too short. 94 links: 1.3 mm too long."
    for kind, teeth in tight.mend.nearest.items():
        ring, cog = (int(teeth), 15) if kind == "another_ring" else (42, int(teeth))
        assert answer(slotted(ring, cog, (408, 411))).window, kind


@pytest.mark.parametrize("kind", FIXED)
def test_random_bikes_without_a_derailleur_fit_where_the_plain_loop_does(kind: str) -> None:
    """Another seed each run; every count told to fit is taut in every gear within its reach, and no other count is."""
    for seed in seeds(12):
        document = random_fixed(seed, kind)
        try:
            result = answer(bike_from_document(document))
        except InvalidInput as error:
            assert kind == "arm" and error.faults[0].field.startswith("take_up"), document
            continue
        assert result.warnings is not None and result.why and result.combinations is not None
        if kind == "arm":
            continue
        take_up, fits = fixed(result), {fit.links for fit in result.fits}
        worn = 1 + document["chain"].get("wear_percent", 0.0) / 100
        for count in take_up.counts_in_reach():
            places = take_up.places(count)
            inside = all(place.ahead_mm >= 0 <= place.room_mm for place in places)
            assert inside == (count in fits), (document, count)
            for place in places:
                assert plain_links(place.ring, place.cog, place.centre_mm) == pytest.approx(count * worn, abs=1e-6)


def test_a_worn_chain_is_sized_as_the_longer_one_it_is() -> None:
    """42/15, 94 links: 0.5 % of them is 0.47 of a link, so it stands where 94.47 new ones would; a cage as well."""
    worn = answer(slotted(chain={"wear_percent": 0.5}))
    (place,) = fixed(worn).places(94)
    assert plain_links(42, 15, place.centre_mm) == pytest.approx(94.47)
    new, old = answer(wide_bike()), answer(wide_bike(chain={"wear_percent": 1.0}))
    loose = new.sizing.cage.path(30, 46, float(old.sizing.cage.resting_rad(30, 46, 110)))
    assert loose.links == pytest.approx(110 * 1.01, abs=2e-4)


def test_a_single_gear_is_offered_other_cogs_and_rings_and_several_are_not() -> None:
    """One to three teeth either way, nearest first; no cog has fewer than 9 teeth."""
    mends = size_bike(slotted(ring=42, cog=10)).take_up.mends()
    tried = {what: [trial.change for trial in trials] for what, trials in mends.items()}
    assert tried == {"another_cog": [11, 9, 12, 13], "another_ring": [43, 41, 44, 40, 45, 39]}
    assert {trial.rings for trial in mends["another_cog"]} == {(42, 42)}
    assert [trial.cogs for trial in mends["another_cog"]] == [(size, size) for size in (11, 9, 12, 13)]
    assert {trial.cogs for trial in mends["another_ring"]} == {(10, 10)}
    assert [trial.rings[0] for trial in mends["another_ring"]] == tried["another_ring"]
    assert size_bike(bike_from_document(raw([42], [16, 18]))).take_up.mends() == {}


def test_counts_in_reach_begin_below_the_shortest_gear_and_end_beyond_the_longest() -> None:
    """13 and 22 teeth: four pairs too short for the small one in front, four too long for the large one behind."""
    counts = size_bike(bike_from_document(raw([42], [13, 22]))).take_up.counts_in_reach()
    shortest, longest = plain_links(42, 13, 400), plain_links(42, 22, 425)
    assert 8 - 2 < shortest - counts[0] <= 8
    assert 6 < counts[-1] - longest <= 8 + 2
