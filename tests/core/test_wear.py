"""A chain's forecast: its rate learned from readings, its band, and what is odd (model, section 9)."""

import json
import math
import random
from typing import Any

import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.wear.forecast import OF_ALL, Forecast, Rates, band, forecast, rate_of, usual_of
from lone_pike.core.wear.gauging import Way, WearReading, wear_of
from lone_pike.formats.files.chain_file import read_chain
from tests.bikes import said, told
from tests.core.plain_wear import plain_due, plain_wear

PITCHES = {"ruler": 24, "whole": 112, "caliper": 10}


def chain(*readings: dict[str, Any], **changes: Any) -> dict[str, Any]:
    rows = [{"date": f"2026-{4 + i:02d}-01"} | row for i, row in enumerate(readings)]
    return {"lone_pike_chain": 1, "name": "Knot", "speeds": 9, "links": 112, "readings": rows} | changes


def told_of(document: dict[str, Any]) -> Forecast:
    return forecast(read_chain(json.dumps(document)))


def past(km: float, sixteenths: float) -> dict[str, Any]:
    return {"km": km, "way": "past", "pitches": 24, "sixteenths": sixteenths}


def test_without_readings_it_is_due_where_the_middle_of_all_chains_is() -> None:
    """0.02 % when new and 0.5 % in 2800 km: 0.75 % after 0.73 / 0.5 x 2800 = 4088 km; 1.7 times either way."""
    due = told_of(chain()).due_km
    assert due.middle == pytest.approx(4088, rel=0.02)
    assert due.late / due.middle == pytest.approx(1.7**1.2816, rel=0.05)


def test_sharp_readings_tell_the_rate_whatever_chains_usually_do() -> None:
    """A chain that wears 0.3 % in 1000 km is past 0.75 % at (0.75 - 0.02) / 0.3 x 1000 = 2433 km."""
    wears = {km: 1 + (0.02 + 0.0003 * km) / 100 for km in (500, 1000, 1500, 2000)}
    rows = [{"km": km, "way": "whole", "mm": 112 * 12.7 * wear} for km, wear in wears.items()]
    found = told_of(chain(*rows, km_now=2000))
    assert found.due_km.middle == pytest.approx(2433, rel=0.03)
    assert found.wear_percent == pytest.approx(0.62, abs=0.02) and found.state == "soon"


def test_states_and_parts_follow_the_limits() -> None:
    by_caliper = {"km": 3000, "way": "caliper", "pitches": 10, "new_mm": 120.0}
    worn = [by_caliper | {"mm": 120.0 + 1.27 * percent} for percent in (0.8, 1.2)]
    due, gone = (told_of(chain(*[one] * 6, km_now=3000)) for one in worn)
    assert due.state in ("due", "past") and [str(part) for part in due.replace] == ["chain"]
    assert (gone.state, [str(part) for part in gone.replace]) == ("past", ["chain", "cassette", "rings"])
    assert told_of(chain(past(200, 0.2), km_now=200)).state == "fine"


def test_what_is_odd_is_said_and_used_as_told() -> None:
    falls = told_of(chain(past(1000, 2), past(2000, 0.2)))
    assert "Wear does not fall" in said(falls.warnings[0])
    order = told_of(chain(past(2000, 1), past(1000, 1)))
    assert "Check the distances" in said(order.warnings[0])
    assert "another chain" in said(told_of(chain(past(1000, 8))).warnings[0])


@pytest.mark.parametrize(
    ("document", "says"),
    [
        (chain(past(-7, 1)), "readings.0.km: “-7” won’t do here: 0 to 200000"),
        (chain({**past(100, 1), "date": "2026-14-01"}), "readings.0.date: “2026-14-01” won’t do here: a date"),
        (chain({"km": 1, "way": "ruler", "pitches": 24}), "readings.0.mm"),
        (chain({"km": 1, "way": "gauge", "passes": 0.75, "stops": 0.5}), "a step above 0.75"),
        (chain(wheels=2), "wheels: “2” won’t do here: no such key here"),
        ([1], "one JSON object, the chain"),
    ],
)
def test_a_chain_that_cannot_be_is_refused_at_its_field(document: Any, says: str) -> None:
    with pytest.raises(InvalidInput) as refused:
        read_chain(json.dumps(document))
    assert says in told(refused.value)


def simulated(way: str, seed: int) -> tuple[float, bool]:
    """A chain as the model draws it, gauged three times: how far off the middle is, as a share of its life, and whether
    the band holds it."""
    lot = random.Random(f"{way} {seed}")
    rate, new = 0.5 / 2800 * math.exp(lot.gauss(0, 1) * math.log(1.7)), lot.gauss(0.02, 0.02)
    life, rows = (0.75 - new) / rate, []
    for share in (0.25, 0.5, 0.75):
        km, n = share * life, PITCHES[way]
        long_mm, off = n * 12.7 * (1 + (new + rate * km) / 100), {"ruler": 0.4, "whole": 1.0, "caliper": 0.06}[way]
        row = {"km": km, "way": way, "pitches": n, "mm": long_mm + lot.gauss(0, off)}
        rows.append(row | ({"new_mm": n * 12.7} if way == "caliper" else {}))
    due = told_of(chain(*rows, km_now=0.75 * life)).due_km
    return abs(due.middle - life) / life, due.early <= life <= due.late


@pytest.mark.parametrize(("way", "most"), [("caliper", 0.09), ("whole", 0.09), ("ruler", 0.14)])
def test_a_forecast_is_near_and_its_band_holds(way: str, most: float) -> None:
    """Of 400 chains from the third reading on: the median error, and 80 in 100 within the band. A ruler that is laid on
    once a time tells no nearer: 0.13 % of a limit of 0.75 %."""
    found = [simulated(way, seed) for seed in range(400)]
    assert sorted(off for off, _ in found)[200] <= most
    assert sum(holds for _, holds in found) / 400 == pytest.approx(0.8, abs=0.05)


def some_reading(lot: random.Random, km: float, wear: float) -> dict[str, Any]:
    """A reading of a chain that is worn so, by one of the ways."""
    way = lot.choice(["ruler", "past", "whole", "caliper", "gauge"])
    if way == "gauge":
        step = lot.choice([0.25, 0.5])
        return {"km": km, "way": way, **({"passes": step} if wear > step else {"stops": step})}
    pitches = {"ruler": 24, "past": 24, "whole": 112, "caliper": 10}[way]
    mm = round(pitches * 12.7 * (1 + wear / 100), 2)
    told = {"past": {"sixteenths": round(max(mm - 304.8, 0) / 25.4 * 16, 1)}, "caliper": {"mm": mm, "new_mm": 127.0}}
    return {"km": km, "way": way, "pitches": pitches} | told.get(way, {"mm": mm})


@pytest.mark.parametrize("seed", range(12))
def test_a_second_plain_way_finds_the_same_wear_and_the_same_due_distance(seed: int) -> None:
    lot = random.Random(seed)
    kms = sorted(lot.uniform(200, 3500) for _ in range(lot.randint(0, 3)))
    rows = [some_reading(lot, km, lot.uniform(0.1, 0.2) * km / 1000) for km in kms]
    for row in rows:
        if row["way"] != "gauge":
            reading = WearReading.model_validate({name: value for name, value in row.items() if name != "km"})
            assert wear_of(reading).percent == pytest.approx(plain_wear(row), abs=1e-9)
    due = told_of(chain(*rows, limit_percent=0.75)).due_km
    assert (due.early, due.middle, due.late) == pytest.approx(plain_due(rows, 0.75), rel=0.02)


def test_a_gauge_whose_one_step_drops_in_and_the_next_does_not_leaves_an_even_spread_between_them() -> None:
    """A quarter of a percent wide: its deviation is a quarter over the root of twelve."""
    wear = wear_of(WearReading(way=Way.GAUGE, passes=0.5, stops=0.75, same_way=True))
    assert (wear.percent, wear.spread) == pytest.approx((0.625, 0.25 / 12**0.5))


def test_from_five_own_chains_on_a_new_one_is_compared_with_these() -> None:
    """Five chains that wear twice as fast as chains do: 0.5 % in 1400 km; four are too few."""
    fast = [
        rate_of(read_chain(json.dumps(chain(*[{"km": 1400, "way": "whole", "mm": 112 * 12.7 * 1.0052}] * 6))))
        for _ in range(5)
    ]
    logs = [one.log for one in fast]
    added = Rates(5, sum(logs) / 5, sum(log * log for log in logs) / 5, fast[0].variance)
    own = usual_of(added)
    assert own.is_own and own.rate == pytest.approx(0.5 / 1400, rel=0.03) and own.times < 1.3
    few = usual_of(Rates(4, *list(vars(added).values())[1:]))
    assert not few.is_own and (few.rate, few.times) == (OF_ALL.rate, OF_ALL.times)
    new = read_chain(json.dumps(chain()))
    assert forecast(new, own).due_km.middle == pytest.approx((0.75 - 0.02) / own.rate, rel=0.02)


def test_a_chain_that_nobody_knows_from_new_is_due_sooner_and_less_surely() -> None:
    new, unknown = (told_of(chain(from_new=from_new)).due_km for from_new in (True, False))
    assert unknown.middle < new.middle - 1000 and unknown.early < new.early / 1.5
    assert told_of(chain(worn_percent=0.6)).due_km.middle == pytest.approx((0.75 - 0.6) / OF_ALL.rate, rel=0.15)


def test_the_worst_of_several_places_counts_and_the_mean_forecasts() -> None:
    """0.85 and 0.45 % by caliper: the mean is below 0.75 %, the worst place is past it."""
    places = [
        {"km": 3000, "way": "caliper", "pitches": 24, "new_mm": 300.0, "mm": 300 + 3.048 * w} for w in (0.85, 0.45)
    ]
    rows = [row | {"date": "2026-05-01"} for row in places]
    found = told_of(chain(*rows, km_now=3000))
    assert found.wear_percent < 0.75 and found.state == "due"
    assert told_of(chain(rows[1], km_now=3000)).state == "fine"


def test_the_line_that_is_drawn_meets_the_limit_where_the_chain_is_due() -> None:
    document = read_chain(json.dumps(chain(past(1000, 0.6), past(2000, 1.1))))
    due = forecast(document).due_km
    for km, place in ((due.middle, 1), (due.early, 2), (due.late, 0)):
        assert band(document, OF_ALL, [km])[0][place] == pytest.approx(0.75, abs=0.012)
