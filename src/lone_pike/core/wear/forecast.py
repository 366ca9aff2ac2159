"""How a chain has worn and when it is due, computed on a grid over its rate, without sampling (model, section 9)."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from itertools import pairwise
from math import log

import numpy as np

from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.teeth import Array
from lone_pike.core.doubt.normal import normal_share
from lone_pike.core.messages import Message, Quantity, Unit, number
from lone_pike.core.wear.chain import ChainFile, ChainReading
from lone_pike.core.wear.gauging import ChainWear, Way, Wear, chain_wear, wear_of
from lone_pike.core.wear.replacing import WearPart, cogs_percent, percent, share_past

RATES, STARTS, REACH = 161, 15, 4.5
"""The numbers of rates and of first wears on the grid, and how many standard deviations it reaches to either side."""

EARLY, MIDDLE, LATE = 0.1, 0.5, 0.9
MOST_SIGMAS = 3.0


class Due(StrEnum):
    """The state of a chain in relation to its limit."""

    FINE = "fine"
    SOON = "soon"
    DUE = "due"
    PAST = "past"


@dataclass(frozen=True)
class DueKm:
    """The distance since it was fitted at which it meets its limit: the earliest tenth, the middle, the latest
    tenth."""

    early: float
    middle: float
    late: float


@dataclass(frozen=True)
class Forecast:
    """A chain's wear now with one standard deviation, percent; when it is due; what to replace; and what is odd about
    its readings."""

    wear_percent: float
    spread_percent: float
    limit_percent: float
    due_km: DueKm
    state: Due
    replace: tuple[WearPart, ...]
    warnings: tuple[Message, ...]


@dataclass(frozen=True)
class Usual:
    """How chains of a kind wear: the middle rate, percent per km; the factor by which one in three wears faster or
    slower; the number of the shop's own chains of this kind, and whether the rate comes from these or from chains in
    general."""

    rate: float
    times: float
    chains: int = 0
    is_own: bool = False


OF_ALL = Usual(limit("wear_rate") / limit("wear_rate_km"), limit("wear_rate_times"))
LEAST_TIMES = 1.15


@dataclass(frozen=True)
class Rate:
    """A chain's own rate from its readings: the mean of its logarithm, and the variance of that."""

    log: float
    variance: float


@dataclass(frozen=True)
class Rates:
    """The rates of several chains combined: their number, and the means of their logarithms, of the squares of these,
    and of their variances."""

    chains: int
    log: float
    log_square: float
    variance: float


def usual_of(rates: Rates) -> Usual:
    """How the shop's own chains of a kind wear if there are enough of them, otherwise how chains in general wear.

    Parameters: the rates of chains with readings, each estimated with chains in general as the starting point.
    """
    if rates.chains < limit("own_chains"):
        return Usual(OF_ALL.rate, OF_ALL.times, rates.chains)
    # The spread of their means is too small by the uncertainty of each.
    variance = max(rates.log_square - rates.log**2, 0.0) + rates.variance
    # Rounded, so that one more reading does not move every other chain's date.
    times = max(round(float(np.exp(variance**0.5)), 2), LEAST_TIMES)
    return Usual(float(np.exp(round(rates.log, 2))), times, rates.chains, is_own=True)


def rate_of(chain: ChainFile) -> Rate:
    """A chain's own rate, estimated with chains in general as the starting point."""
    rates, _, weights = _learned(chain, _worn_readings(chain), OF_ALL)
    logs = np.log(rates)
    mean = float((weights * logs).sum())
    return Rate(mean, float((weights * np.square(logs - mean)).sum()))


def forecast(chain: ChainFile, usual: Usual = OF_ALL) -> Forecast:
    """The wear of a chain from its readings, and when it is due.

    Equation: wear(km) = w0 + r km; w0 normal, r lognormal; each reading weights the grid by its likelihood there.
    Parameters: a chain with its readings; usual, how chains of its kind wear. Returns: percent and km. Source: model,
    section 9.
    """
    readings = _worn_readings(chain)
    rates, starts, weights = _learned(chain, readings, usual)
    now = starts + rates * chain.distance_km
    wear = float((weights * now).sum())
    spread = float(np.sqrt((weights * np.square(now - wear)).sum()))
    most = chain.replaced_at_percent
    due = DueKm(*_quantiles((most - starts) / rates, weights, (EARLY, MIDDLE, LATE)))
    state = _by_worst(_state(due, chain.distance_km), chain)
    replace = _replace(float(weights[now >= cogs_percent(chain.speeds)].sum()), state)
    return Forecast(wear, spread, most, due, state, replace, _warnings(readings))


def band(chain: ChainFile, usual: Usual, kms: Sequence[float]) -> tuple[tuple[float, float, float], ...]:
    """The wear at each distance, percent: the lowest tenth, the middle, the highest tenth."""
    rates, starts, weights = _learned(chain, _worn_readings(chain), usual)
    each = (_quantiles(starts + rates * km, weights, (EARLY, MIDDLE, LATE)) for km in kms)
    return tuple((low, middle, high) for low, middle, high in each)


WornReading = tuple[ChainReading, Wear]
"""A reading and its result."""


def _worn_readings(chain: ChainFile) -> list[WornReading]:
    return [(one, wear_of(one)) for one in chain.readings]


def _learned(chain: ChainFile, readings: Sequence[WornReading], usual: Usual) -> tuple[Array, Array, Array]:
    """Rates, first wears, and the probability of each pair from what is usual and from the chain's readings."""
    start, spread = (limit("wear_new"), limit("wear_new_spread"))
    if chain.worn_percent is not None:
        start, spread = chain.worn_percent, limit("wear_told_spread")
    elif not chain.from_new:
        start, spread = limit("wear_unknown"), limit("wear_unknown_spread")
    rates, starts, weights = _grid(usual, start, spread)
    logs = np.log(weights) + _log_figures(readings, rates, starts)
    for reading, wear in readings:
        if reading.way is Way.GAUGE:
            logs = logs + _log_gauge(reading, wear, starts + rates * reading.km)
    weights = np.exp(logs - logs.max())
    return rates, starts, weights / weights.sum()


@lru_cache(maxsize=64)
def _grid(usual: Usual, start: float, spread: float) -> tuple[Array, Array, Array]:
    """Rates in percent per km, wears when fitted in percent, and the probability of each pair: (RATES, STARTS) each."""
    units = np.linspace(-REACH, REACH, RATES)[:, None]
    rates = np.exp(log(usual.rate) + units * log(usual.times))
    first = np.linspace(-2.0, 2.0, STARTS)[None, :]
    starts = np.maximum(start + first * spread, 0.0)
    weights = np.exp(-0.5 * (np.square(units) + np.square(first)))
    return np.broadcast_to(rates, weights.shape), np.broadcast_to(starts, weights.shape), weights


def _log_figures(readings: Sequence[WornReading], rates: Array, starts: Array) -> Array:
    """The log likelihood of the readings that give a figure, for each rate and first wear.

    Equation: -1/2 sum ((w - w0 - r km) / s)^2, its square multiplied out, so that many readings take no more time than
    one.
    """
    figures = [(1 / wear.spread**2, wear.percent, one.km) for one, wear in readings if one.way is not Way.GAUGE]
    if not figures:
        return np.zeros_like(rates)
    weight, worn, km = np.array(figures).T
    with_starts = weight.sum() * starts**2 - 2 * (weight * worn).sum() * starts + (weight * worn**2).sum()
    with_rates = (weight * km**2).sum() * rates**2 - 2 * (weight * worn * km).sum() * rates
    logs: Array = -0.5 * (with_starts + with_rates + 2 * (weight * km).sum() * starts * rates)
    return logs


def _log_gauge(reading: ChainReading, read: Wear, wear: Array) -> Array:
    """The log likelihood, for each wear, that a gauge passes and stops where it did."""
    off = limit("roller_play_spread") if not reading.same_way else SHARP
    chance = np.ones_like(wear)
    if reading.passes is not None:
        chance = chance * normal_share((wear - read.low) / off)
    if reading.stops is not None:
        chance = chance * normal_share((read.high - wear) / off)
    return np.log(np.maximum(chance, LEAST_CHANCE))


SHARP, LEAST_CHANCE = 0.01, 1e-12


def _quantiles(values: Array, weights: Array, shares: Sequence[float]) -> list[float]:
    """The values below which given shares of the weight are; at least 0."""
    order = np.argsort(values, axis=None)
    sorted_values, summed = np.maximum(values.ravel()[order], 0.0), np.cumsum(weights.ravel()[order])
    return [float(np.interp(share, summed, sorted_values)) for share in shares]


def _state(due: DueKm, km: float) -> Due:
    if due.late <= km:
        return Due.PAST
    if due.middle <= km:
        return Due.DUE
    return Due.SOON if due.early - km <= limit("due_soon") else Due.FINE


def _by_worst(state: Due, chain: ChainFile) -> Due:
    """The state after considering the worst of several places, where a chain is past its limit first."""
    places = newest_places(chain)
    if state in (Due.DUE, Due.PAST) or places is None:
        return state
    return Due.DUE if share_past(places.worst, chain.replaced_at_percent) > EVEN else state


def newest_places(chain: ChainFile) -> ChainWear | None:
    """The readings of the last time several places were gauged together; None if it was a single place, or none."""
    if not chain.readings:
        return None
    newest = max((one.date, one.km) for one in chain.readings)
    places = [one for one in chain.readings if (one.date, one.km) == newest]
    return chain_wear(places) if len(places) > 1 else None


def _replace(cogs_gone: float, state: Due) -> tuple[WearPart, ...]:
    """The parts that are due: the chain; past the cogs' own limit also the cassette, and the rings are to be
    checked."""
    if state not in (Due.DUE, Due.PAST):
        return ()
    return (WearPart.CHAIN, WearPart.CASSETTE, WearPart.RINGS) if cogs_gone > EVEN else (WearPart.CHAIN,)


EVEN = 0.5


def _warnings(readings: Sequence[WornReading]) -> tuple[Message, ...]:
    """What is odd: wear that falls by more than the spreads of two readings, distances in another order than dates, or
    far too much wear."""
    said = []
    by_date = sorted(readings, key=lambda one: one[0].date)
    for (before, was), (after, now) in pairwise(by_date):
        apart = MOST_SIGMAS * (was.spread**2 + now.spread**2) ** 0.5
        if after.km < before.km:
            said.append(Message("reading_order", date=after.date.isoformat(), km=_km(after.km), before=_km(before.km)))
        elif was.percent - now.percent > apart:
            values = {"was": percent(was.percent), "now": percent(now.percent)}
            said.append(Message("reading_falls", date=after.date.isoformat(), **values))
    most = limit("another_chain")
    far = [wear for _, wear in readings if wear.percent > most]
    if far:
        said.append(Message("reading_too_much", readings=number(len(far)), most=percent(most)))
    return tuple(said)


def _km(value: float) -> Quantity:
    return Quantity(value, Unit.KM)
