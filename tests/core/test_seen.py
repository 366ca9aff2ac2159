"""What was seen in proving: predicted, weighed, learned, and what does not fit (model, section 8)."""

import json
from dataclasses import replace
from math import sqrt

import numpy as np
import pytest

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.bike.seen import Seen
from lone_pike.core.count.sizing import size_bike
from lone_pike.core.seen.learning import Learned, learned_of
from lone_pike.core.seen.pairs import advice_on
from lone_pike.core.seen.predicting import sighted, sights_of
from lone_pike.core.seen.proving import growth_mm, steps_of
from lone_pike.core.seen.telling import learned_messages
from lone_pike.formats.files.bike_file import bike_from_document
from tests.bikes import SOUND, said, told, wide_bike, wide_document
from tests.core.seen_trial import BY_TAPE, campaign

HERE = {"links": 112, "ring": 30, "cog": 46}


def seen(**row: object) -> Seen:
    return Seen.model_validate_json(json.dumps(HERE | row))


def proved(*rows: dict[str, object], **changes: object) -> Bike:
    return wide_bike(seen=[HERE | row for row in rows], **changes)


def learned_in_words(bike: Bike, learned: Learned) -> str:
    return " ".join(map(said, learned_messages(bike, learned)))


def test_what_is_predicted_is_what_the_dials_show() -> None:
    take_up = size_bike(wide_bike()).take_up
    gears = take_up.gears(112)
    for gear, sights in zip(
        gears, sights_of(wide_bike(), [(gear.ring, gear.cog, 112, 0.0) for gear in gears]), strict=True
    ):
        assert gear.rest_deg == pytest.approx(float(sights.hand_deg[0]), abs=0.01)
        assert gear.clearance_mm == pytest.approx(float(sights.air_mm[0]), abs=0.05)
        assert gear.reserve_deg == pytest.approx(float(sights.forward_deg[0]), abs=0.01)


def test_slack_is_predicted_by_the_chain_that_is_spare() -> None:
    """42/15 is taut with 94 links at 412.308 mm (model, 5). A millimetre nearer leaves 2 s / C of spare chain."""
    taut, span = 412.308, sqrt(412.308**2 - (12.7 / 2 / np.sin(np.pi / 42) - 12.7 / 2 / np.sin(np.pi / 15)) ** 2)
    fixed = {"rings": [42], "cogs": [15], "chainstay_mm": taut - 1, "take_up": {"type": "none"}}
    (sights,) = sights_of(bike_from_document(wide_document() | fixed), [(42, 15, 94, 0.0)])
    assert float(sights.slack_mm[0]) == pytest.approx(2 * sqrt(2 * span / taut * span / 2), rel=0.01)


def test_one_measure_learns_as_two_normal_spreads_together_tell() -> None:
    """With one measure in doubt and a nearly straight line from it to the hand: the gain is V s / (V s^2 + R)."""
    plain = wide_bike(about={"chainstay_mm": 6})
    (before,), (after,) = (
        sights_of(plain, [(30, 46, 112, 0.0)], {"chainstay_mm": np.array([off])}) for off in (-0.5, 0.5)
    )
    slope = float(after.hand_deg[0] - before.hand_deg[0])
    middle = float(before.hand_deg[0] + after.hand_deg[0]) / 2
    clock, variance, read = "3:45", 3.0**2, 5.0**2
    off = 67.5 - middle
    gain = variance * slope / (variance * slope**2 + read)
    learned = learned_of(proved({"clock": clock}, about={"chainstay_mm": 6}))
    assert learned is not None
    (one,) = learned.measures
    assert one.now - one.was == pytest.approx(gain * off, rel=0.1)
    assert one.now_spread == pytest.approx(2 * sqrt(variance * (1 - gain * slope)), rel=0.1)
    assert (one.key, one.was, one.was_spread) == ("chainstay_mm", 432, 6)


def test_what_was_taken_over_is_not_weighed_again_and_nothing_seen_learns_nothing() -> None:
    assert learned_of(wide_bike()) is None
    assert learned_of(proved({"clock": "4:05", "taken_over": True})) is None


def test_where_nothing_is_in_doubt_the_usual_spreads_learn() -> None:
    learned = learned_of(proved({"clock": "4:05"}))
    assert learned and {one.key: one.was_spread for one in learned.measures}["chainstay_mm"] == 5
    assert learned.links == 112 and sum(learned.shares.values()) == pytest.approx(1)


def test_what_fits_no_bike_is_named_with_the_measure_that_would_explain_it() -> None:
    """A chainstay of 446 mm, where only a cage is in doubt; and two hands in one gear that contradict each other."""
    (far,) = sights_of(wide_bike(chainstay_mm=446.0), [(30, 46, 112, 0.0)])
    minutes = round((6 - float(far.hand_deg[0]) / 30) * 60)
    learned = learned_of(proved({"clock": f"{minutes // 60}:{minutes % 60:02d}", "spread": 4}, about={"cage_mm": 3}))
    assert learned and not learned.measures and learned.likelihood is None
    (misfit,) = learned.misfits
    assert misfit.measure == "chainstay_mm" and misfit.value == pytest.approx(446, abs=3)
    assert f"A chainstay of {misfit.value:.0f} mm would explain it." in learned_in_words(
        wide_bike(seen=[HERE | {"clock": "4:05"}]), learned
    )
    pair = proved({"clock": "3:30"}, {"clock": "5:30"})
    both = learned_of(pair)
    assert both and both.misfits and both.links == 112
    unexplained = replace(both, misfits=(replace(both.misfits[0], measure=None, value=None),))
    assert learned_in_words(pair, unexplained).endswith("this does not fit the bike as measured.")


def test_a_state_is_told_apart_at_its_own_edge() -> None:
    """At 108 links big/big keeps 18 degrees and small/small 66 mm: neither straight nor touching, so free."""
    bike = wide_bike()
    for row, fits in (
        ({"state": "free"}, True),
        ({"state": "straight"}, False),
        ({"state": "free", "cog": 11, "links": 118}, False),
        ({"state": "hangs", "cog": 11, "links": 122}, True),
        ({"state": "touching", "cog": 11, "links": 116}, True),
    ):
        (one,) = sighted(bike, [seen(**row)])
        assert (float(one.sigmas[0]) == 0) is fits and (float(one.logs[0]) > -0.7) is fits, row


@pytest.mark.parametrize(
    ("row", "pairs", "goes_on"),
    [
        ({"cog": 40, "clock": "4:40"}, 0, True),
        ({"cog": 40, "state": "straight"}, 2, False),
        ({"clock": "3:00"}, 1, True),
        ({"cog": 11, "state": "touching"}, -1, True),
        ({"cog": 11, "clearance_mm": 38}, 0, True),
    ],
)
def test_pairs_are_added_or_taken_off_by_what_was_seen(row: dict[str, object], pairs: int, goes_on: bool) -> None:
    """At 112 the drawing shows 4:40 on 40 teeth. A hand at 3:00 on 46 is what 108 would show, and 110 is safe."""
    advice = advice_on(wide_bike(), seen(**row))
    assert (min(advice.pairs, 2), advice.may_go_on) == (pairs, goes_on)


def test_the_growth_that_is_told_is_the_axles() -> None:
    """432 mm at rest and 447 at full travel, as the table says."""
    rows = [[0, 432], [70, 441], [140, 447]]
    bike = wide_bike(suspension={"type": "table", "points": rows})
    assert growth_mm(bike, 140) == pytest.approx(15, abs=0.01)


def test_every_sample_has_its_own_steps_in_the_safe_order() -> None:
    for name, document in SOUND.items():
        bike = bike_from_document(document)
        keys = [step.key for step in steps_of(size_bike(bike))]
        assert keys[-1] == "ride" and "joiner_again" in keys, name
        if "largest" in keys:
            assert keys.index("second_largest") < keys.index("largest"), name
        assert ("through_travel" in keys) == (bike.suspension is not None), name
        assert ("into_tubes" in keys) == bool(bike.tubes) and ("boom_ends" in keys) == (bike.boom is not None), name
        assert ("slack" in keys) == ("slack_mm" in bike.take_up.shows), name


@pytest.mark.parametrize(("family", "many"), [("rigid", 20), ("none", 40)])
def test_wrong_counts_are_put_right_and_right_ones_are_not_spoiled(family: str, many: int) -> None:
    """The first of the 300 bikes of each family that `tests/core/seen_trial.py` tells of."""
    told_of = campaign(family, many, BY_TAPE)
    assert told_of["righted"] >= 0.5 and told_of["spoiled"] <= 0.1 and told_of["misfits"] == 0
    assert told_of["within_1"] == pytest.approx(0.68, abs=0.2) and told_of["within_2"] >= 0.9


@pytest.mark.parametrize(
    ("rows", "says"),
    [
        ([{"clock": "16:99"}], "seen.0.clock: “16:99” won’t do here: a clock's hand"),
        ([{"clock": "4:05"}, {"cog": 47, "clock": "4:05"}], "seen.1.cog: “47 teeth” won’t do here: 11, 13"),
        ([{"clock": "4:05", "state": "free"}], "one of them"),
        ([{}], "seen.0.clock"),
        ([{"travel_mm": 10, "clock": "4:05"}], "seen.0.travel_mm"),
        ([{"slack_mm": 12}], "seen.0.slack_mm"),
        ([{"links": 7, "clock": "4:05"}], "seen.0.links"),
        ([{"clock": "4:05"}] * 41, "up to 40"),
    ],
)
def test_what_cannot_be_seen_is_refused_at_its_field(rows: list[dict[str, object]], says: str) -> None:
    with pytest.raises(InvalidInput) as refused:
        proved(*rows)
    assert says in told(refused.value)
