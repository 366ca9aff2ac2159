"""A chain's life: where it was, how far it was ridden, when it is due, what it costs, and what the next one will do."""

from datetime import date, timedelta
from typing import Any

import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.wear.costs import CostAssumptions, costs
from lone_pike.core.wear.forecast import OF_ALL, Usual
from lone_pike.core.wear.life import (
    Basis,
    ChainLife,
    Ending,
    Stay,
    chain_file_of,
    days_on,
    distance_at,
    off_bike,
    pace_of,
    with_ending,
)
from lone_pike.core.wear.ordering import Need, to_order
from lone_pike.core.wear.replacing import jump_of
from lone_pike.core.wear.rides import Ride, sorted_rides, with_odometer, with_rides, with_total
from lone_pike.core.wear.standing import standing
from tests.bikes import told

MARCH = date(2026, 3, 1)


def day(number: int) -> date:
    return MARCH + timedelta(days=number)


def life(**changes: Any) -> ChainLife:
    """A chain on bike 1 since 1 March."""
    row = {"name": "Knot 1", "speeds": 11, "links": 112, "joiner": "locking_link"}
    return ChainLife.model_validate(row | {"stays": [{"bike_id": 1, "since": "2026-03-01"}]} | changes)


def test_a_distance_grows_evenly_and_then_by_its_pace_while_the_chain_is_on_a_bike() -> None:
    """700 km in 70 days are 70 km a week; 14 days on from there are 140 km, of which it is hung up the last 7."""
    ridden = with_total(life(), day(70), 700)
    assert [distance_at(ridden, day(n)).km for n in (0, 35, 70)] == [0, 350, 700]
    assert (pace_of(ridden).week_km, pace_of(ridden).basis) == (70, Basis.RIDDEN)
    assert distance_at(ridden, day(84)).estimated_km == 140
    hung = off_bike(ridden, day(77))
    assert distance_at(hung, day(84)).estimated_km == distance_at(hung, day(400)).estimated_km == 70
    assert pace_of(life()).basis is Basis.ASSUMED and pace_of(life(week_km=20.0)).week_km == 20


def test_a_chain_in_turn_counts_only_the_days_it_is_on() -> None:
    stays = [Stay(bike_id=1, since=day(0), until=day(10)), Stay(bike_id=2, since=day(30))]
    turned = life().model_copy(update={"stays": tuple(stays)})
    assert [days_on(turned, day(0), day(n)) for n in (5, 20, 40)] == [5, 10, 20]
    assert turned.bike_id == 2 and with_ending(turned, Ending.BROKEN, day(50)).bike_id is None


def test_an_odometer_counts_from_its_first_reading_and_goes_on_after_it_was_set_back() -> None:
    first = with_odometer(life(), day(0), 4000, None, 1)
    second = with_odometer(first.life, day(20), 4250, first.life.ridden[-1], 1)
    back = with_odometer(second.life, day(40), 90, second.life.ridden[-1], 1)
    assert [one.added_km for one in (first, second, back)] == [0, 250, 90]
    assert [one.was_reset for one in (first, second, back)] == [False, False, True]
    assert distance_at(back.life, day(40)).km == 340


def test_rides_come_in_once_and_never_beside_a_total_that_has_them() -> None:
    rides = [Ride(day(n), 30.0, f"2026-03-{n + 1:02d}T08:00:00", f"2026-03-{n + 1:02d}T10:00:00") for n in (1, 2, 3)]
    on = with_rides(life(), sorted_rides(life(), rides, 1).new, 1)
    again = sorted_rides(on, [*rides, Ride(day(2), 29.0, "2026-03-03T09:30:00", "2026-03-03T11:00:00")], 1)
    assert distance_at(on, day(9)).known_km == 90
    fine = with_rides(life(), [Ride(day(1), 12.34567)], 1)
    assert fine.ridden[-1].km == 12.346, "to a metre"
    assert (len(again.new), again.there_already) == (0, 4), "one overlaps: the same ride off another device"
    counted = with_total(on, day(10), 200)
    late = sorted_rides(counted, [Ride(day(5), 40.0), Ride(day(12), 40.0), Ride(MARCH - timedelta(days=1), 5.0)], 1)
    assert (len(late.new), late.counted, late.outside) == (1, 1, 1)
    assert sorted_rides(on, rides, 2).outside == 3


def test_a_total_is_the_whole_life_and_no_less_than_is_known() -> None:
    ridden = with_total(life(), day(30), 900)
    for total, when, says in ((800, day(40), "900 km or more"), (950, day(20), "2026-03-31 or later")):
        with pytest.raises(InvalidInput) as refused:
            with_total(ridden, when, total)
        assert says in told(refused.value)


def test_a_chain_is_due_on_the_day_its_pace_reaches_the_distance() -> None:
    """0.5 % of a chain in general after (0.5 - 0.02) / 0.5 x 2800 = 2688 km: at 70 km a week 268.8 days."""
    found = standing(life(week_km=70.0), 0.5, MARCH)
    assert found.due_on and abs((found.due_on.middle - day(269)).days) <= 4
    assert found.due_on.soon < found.due_on.early < found.due_on.middle < found.due_on.late
    assert standing(off_bike(life(week_km=70.0), day(3)), 0.5, day(9)).due_on is None
    assert standing(life(week_km=0.0), 0.5, day(9)).due_on is None
    later = standing(life(week_km=70.0), 0.5, day(50))
    assert later.due_on and abs((later.due_on.middle - found.due_on.middle).days) <= 1, (
        "the day does not move by itself"
    )


def test_each_reading_stands_at_the_distance_of_its_day() -> None:
    gauged = {"way": "caliper", "pitches": 10, "mm": 120.4, "new_mm": 120.0, "date": "2026-04-05"}
    chain = chain_file_of(with_total(life(gauged=[gauged]), day(70), 700), 0.5, day(70))
    assert (chain.readings[0].km, chain.km_now, chain.replaced_at_percent) == (350, 700, 0.5)


@pytest.mark.parametrize(
    ("worn", "speeds", "used", "cogs", "likely"),
    [(0.6, 11, (), (11, 13, 15), False), (0.9, 11, (17,), (11, 13, 15, 17), True), (0.8, 9, (), (11, 13, 15), False)],
)
def test_a_new_chain_jumps_where_a_worn_one_ran(
    worn: float, speeds: int, used: tuple[int, ...], cogs: tuple[int, ...], likely: bool
) -> None:
    """Past the chain's limit it may, past 0.75 % of a narrow one and 1 % of a wide one it will (trade, section 8)."""
    most = 0.5 if speeds >= 11 else 0.75
    found = jump_of(worn, most, speeds, (11, 13, 15, 17, 20), used)
    assert found and (found.cogs, found.is_likely, found.past_percent) == (cogs, likely, round(worn - most, 2))
    assert jump_of(most - 0.01, most, speeds, (11, 13)) is None


def test_what_a_limit_costs_is_each_part_over_the_distance_it_lasts() -> None:
    """At 0.5 % in 2400 km less what is new: 0.48 / (0.5 / 2400) = 2304 km; 40 / 2.304 + 80 / 2.304 / 4 + 0."""
    prices = CostAssumptions(price_chain=40.0, price_cassette=80.0, price_rings=0.0)
    half, three_quarters, whole = costs(prices, Usual(0.5 / 2400, 1.7))
    assert half.life_km == pytest.approx(2304) and half.total == pytest.approx(40 / 2.304 + 80 / 2.304 / 4)
    assert three_quarters.cassette_chains == 3 and whole.cassette == pytest.approx(80 / whole.life_km * 1000)
    assert costs(prices, OF_ALL, 3)[2].cassette == pytest.approx(costs(prices, OF_ALL)[2].cassette / 3)
    assert costs(CostAssumptions(price_chain=40.0), OF_ALL) == ()


def test_the_bin_serves_the_longest_first_and_a_piece_once() -> None:
    needs = [Need(11, 111, 112, "locking_link"), Need(11, 119, 120, "locking_link"), Need(9, 113, 114, "quick_link")]
    order = to_order(needs, {11: [125], 9: [57]}, {("locking_link", 11): 1, ("quick_link", 9): 4})
    assert [(one.speeds, one.links, one.in_bin) for one in order.chains] == [(9, (114,), 0), (11, (112,), 1)]
    assert [(one.kind, one.amount, one.in_bin) for one in order.joiners] == [("locking_link", 1, 1)]
    assert to_order(needs[:1], {11: [111]}, {("locking_link", 11): 1}).is_empty
