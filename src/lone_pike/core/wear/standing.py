"""The state of a chain today: its wear, when it is due, its pace, and the chains it is compared with (model, section
9)."""

import datetime
from dataclasses import dataclass

from lone_pike.core.bike.limits import limit
from lone_pike.core.wear.forecast import OF_ALL, DueKm, Forecast, Usual, forecast
from lone_pike.core.wear.life import DAYS_A_WEEK, ChainLife, Day, Distance, Pace, chain_file_of, distance_at, pace_of

MOST_DAYS = 3650
"""Due dates more than ten years away are not given."""


@dataclass(frozen=True)
class DueOn:
    """The dates when a chain is due: early, middle and late; and the date from which it is due soon."""

    soon: Day
    early: Day
    middle: Day
    late: Day


@dataclass(frozen=True)
class ChainStanding:
    """A chain today: its forecast, its distance, its pace, what it is compared with, and its due dates; these are None
    if it is off the bike, does not wear, or is not ridden."""

    forecast: Forecast
    distance: Distance
    pace: Pace
    usual: Usual
    due_on: DueOn | None


def standing(life: ChainLife, limit_percent: float, today: Day, usual: Usual = OF_ALL) -> ChainStanding:
    """The state of a chain. Parameters: limit_percent, the wear at which the shop replaces such chains."""
    expected = forecast(chain_file_of(life, limit_percent, today), usual)
    distance, pace = distance_at(life, today), pace_of(life)
    is_ridden = life.bike_id is not None and pace.week_km > 0
    return ChainStanding(
        expected, distance, pace, usual, _due_on(expected.due_km, distance.km, pace, today) if is_ridden else None
    )


def _due_on(due_km: DueKm, km: float, pace: Pace, today: Day) -> DueOn:
    """The dates, from the distance left and the chain's pace; for a chain past its limit, the date on which it met
    it."""

    def day(at_km: float) -> Day:
        days = (at_km - km) / pace.week_km * DAYS_A_WEEK
        return today + datetime.timedelta(days=round(min(max(days, -MOST_DAYS), MOST_DAYS)))

    return DueOn(day(due_km.early - limit("due_soon")), day(due_km.early), day(due_km.middle), day(due_km.late))
