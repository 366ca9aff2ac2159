"""From complaint to cause, the tick finder, the old chain, and what to replace (trade, sections 1, 8 and 13)."""

import random

import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.complaint.causes import CAUSES_OF, COMPUTED, SYMPTOMS, Known, causes_of
from lone_pike.core.complaint.old_chain import level_ends, serves
from lone_pike.core.complaint.ticking import Drive, Turning, suspects_of, ticking_of
from lone_pike.core.count.sizing import Sizing, size_bike
from lone_pike.core.wear.gauging import Way, Wear, WearReading, chain_wear, wear_of
from lone_pike.core.wear.replacing import WearPart, cogs_percent, limit_percent, what_to_replace
from lone_pike.formats.files.bike_file import bike_from_document
from tests.bikes import triple_bike, wide_bike
from tests.core.random_bikes import random_bike

HEALTHY = Wear(0.1, 0.05)


def first_cause(symptom: str, sizing: Sizing, old_links: int | None, wear: Wear | None) -> str:
    return causes_of(symptom, Known(sizing, old_links, wear))[0].key


def gauged(percent: float, lot: random.Random) -> Wear:
    """A wear as a ruler reads it over 24 pitches."""
    read_mm = 304.8 * (1 + percent / 100) + lot.gauss(0, 0.4)
    return wear_of(WearReading(way=Way.RULER, pitches=24, mm=read_mm))


def complaint(kind: str, seed: int) -> bool | None:
    """Whether the true cause of a made-up complaint comes first; None for a bike that has no such trouble."""
    lot = random.Random(f"complaint {kind} {seed}")
    try:
        sizing = size_bike(bike_from_document(random_bike(seed, lot.choice(["rigid", "pivot", "long"]))))
    except InvalidInput:
        return None
    window, speeds = sizing.window, sizing.bike.speeds
    if (window is None) != (kind == "capacity"):
        return None
    old, wear, few = sizing.recommended_links, gauged(lot.uniform(0, 0.2), lot), 2 * lot.randint(1, 3)
    if kind == "long" and window:
        return first_cause("rubs", sizing, window.max + few, wear) == "too_long"
    if kind == "short" and window:
        return first_cause("straight", sizing, window.min - few, wear) == "too_short"
    if kind == "capacity":
        return first_cause("rubs", sizing, old, wear) == "beyond_capacity"
    if kind == "worn":
        worn = limit_percent(speeds) + lot.uniform(0.1, 0.8)
        expected = "worn_cogs" if worn >= cogs_percent(speeds) else "worn_chain"
        return first_cause("jumps", sizing, old, gauged(worn, lot)) in {expected, "worn_chain"}
    return first_cause("slaps", sizing, old, wear) not in COMPUTED


def test_the_true_cause_comes_first_in_nine_of_ten_complaints() -> None:
    told: dict[str, list[bool]] = {kind: [] for kind in ("long", "short", "worn", "capacity", "healthy")}
    for seed in range(400):
        kind = min(told, key=lambda one: len(told[one])) if seed % 2 else ("capacity", "healthy")[seed % 4 // 2]
        found = complaint(kind, seed)
        if found is not None and len(told[kind]) < 40:
            told[kind].append(found)
    every = [one for found in told.values() for one in found]
    assert len(every) >= 150 and sum(every) / len(every) >= 0.9, {
        kind: sum(one) / len(one) for kind, one in told.items()
    }


@pytest.mark.parametrize("symptom", SYMPTOMS)
def test_every_complaint_has_more_than_one_cause_and_a_check_for_each(symptom: str) -> None:
    found = causes_of(symptom, Known(None, None, None))
    assert len(found) == len(CAUSES_OF[symptom]) >= 2
    assert all(cause.chance is None and cause.check.code == f"check_{cause.key}" for cause in found)


def test_a_cause_says_its_figures_and_what_speaks_against_it_comes_last() -> None:
    """112 is advised and 114 the longest that is safe (model, section 3): 118 are two pairs past it."""
    found = causes_of("rubs", Known(size_bike(wide_bike()), 118, HEALTHY))
    assert found[0].key == "too_long" and found[0].why.values["pairs"].value == 4
    assert [cause.key for cause in found[-2:]] == ["beyond_capacity", "worn_chain"]
    assert first_cause("rubs", size_bike(triple_bike()), size_bike(triple_bike()).recommended_links, HEALTHY) in (
        "beyond_capacity",
        "clutch",
    )
    assert causes_of("backwards", Known(None, None, None, crossed=True))[0].key == "runs_swapped"


def test_a_ticks_period_tells_the_part() -> None:
    """In 30/15 with 112 links: chain 112/30, cog 15/30, pulleys 11/30, crank 1 (model, section 8)."""
    drive = Drive(30, 15, 112, 11, 11)
    turns = {one.parts: one.turns for one in suspects_of(drive)}
    assert turns[(Turning.CHAIN,)] == pytest.approx(112 / 30)
    assert turns[(Turning.GUIDE, Turning.TENSION)] == pytest.approx(11 / 30)
    ticking = ticking_of(drive, 0.45, [(30, 15), (30, 46)])
    assert [one.parts[0] for one in ticking.suspects[:2]] == [Turning.COG, Turning.GUIDE]
    assert ticking.better_gear == (30, 46), "on 46 teeth the cog comes round four times as slowly as a pulley"
    assert ticking_of(drive, 3.7, [(30, 15)]).suspects[0].parts == (Turning.CHAIN,)


def test_wear_is_read_by_every_way() -> None:
    """A sixteenth past twelve inches is 0.52 %, an eighth 1.04 % (trade, section 8)."""
    for reading, percent, spread in (
        (WearReading(way=Way.PAST, pitches=24, sixteenths=2), 1.04, 0.131),
        (WearReading(way=Way.RULER, pitches=24, mm=306.3), 0.492, 0.131),
        (WearReading(way=Way.WHOLE, pitches=116, mm=1484.2), 0.747, 0.068),
        (WearReading(way=Way.CALIPER, pitches=10, mm=121.6, new_mm=120.9), 0.551, 0.047),
    ):
        wear = wear_of(reading)
        assert (wear.percent, wear.spread) == (pytest.approx(percent, abs=0.01), pytest.approx(spread, abs=0.005))
    between = wear_of(WearReading(way=Way.GAUGE, passes=0.5, stops=0.75))
    assert (between.low, between.high) == (pytest.approx(0.42), pytest.approx(0.67))
    assert wear_of(WearReading(way=Way.GAUGE, passes=0.5, stops=0.75, same_way=True)).low == 0.5
    both = chain_wear([WearReading(way=Way.PAST, pitches=24, sixteenths=one) for one in (1, 2)])
    assert (
        both
        and both.worst.percent == pytest.approx(1.04, abs=0.01)
        and both.mean.percent == pytest.approx(0.78, abs=0.01)
    )


def test_level_ends_mislead_by_almost_a_link_and_an_old_chain_is_told_to_serve_or_not() -> None:
    """At 0.75 % a 116-link chain has grown 11 mm (trade, section 1)."""
    level = level_ends(116, 0.75)
    assert (level.longer_mm, level.misleads_links) == (pytest.approx(11.05, abs=0.01), pytest.approx(0.87))
    sizing = size_bike(wide_bike())
    assert [serves(sizing, count).pairs for count in (106, 108, 110, 112, 114, 116, 120)] == [2, 1, 0, 0, 0, -1, -3]


@pytest.mark.parametrize(
    ("percent", "speeds", "due"),
    [
        (0.6, 12, ["chain"]),
        (0.8, 12, ["chain", "cassette"]),
        (0.6, 9, []),
        (0.9, 9, ["chain"]),
        (1.1, 1, ["chain", "cassette"]),
    ],
)
def test_what_is_replaced_with_a_chain(percent: float, speeds: int, due: list[str]) -> None:
    """0.5 % from 11 cogs on, 0.75 % for 8 to 10, 1 % for one; the cogs past 0.75 or 1 % (trade, section 8)."""
    told = what_to_replace(Wear(percent, 0.02), speeds)
    assert [str(one.part) for one in told if one.is_due] == due
    assert [one.part for one in told] == list(WearPart)
