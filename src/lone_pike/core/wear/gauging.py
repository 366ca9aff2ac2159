"""Readings of a chain's wear with any gauge, single ones and several along the chain (model, section 9)."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import inf
from typing import Self

from pydantic import model_validator

from lone_pike.core.bike.base import trade_error
from lone_pike.core.bike.fields import Kind, measured
from lone_pike.core.bike.limits import INCH_MM, LEAST_LINKS, MOST_LINKS, PITCH_MM, limit
from lone_pike.core.bike.model_faults import WholeDocument
from lone_pike.core.messages import Message

SIXTEENTHS_AN_INCH = 16
PERCENT = 100.0


class Way(StrEnum):
    """The ways of gauging a chain."""

    RULER = "ruler"
    PAST = "past"
    WHOLE = "whole"
    CALIPER = "caliper"
    GAUGE = "gauge"


NEEDS: dict[Way, tuple[str, ...]] = {
    Way.RULER: ("pitches", "mm"),
    Way.PAST: ("pitches", "sixteenths"),
    Way.WHOLE: ("pitches", "mm"),
    Way.CALIPER: ("pitches", "mm", "new_mm"),
    Way.GAUGE: (),
}
"""The fields that each way needs; a drop-in gauge needs at least one of the step that passes and the step that
stops."""


class WearReading(WholeDocument):
    """One reading at one place of a chain."""

    way: Way = measured(Kind.CHOICE, "Gauged with", "What the chain was gauged with.")
    pitches: int | None = measured(
        Kind.COUNT, "Pitches", "Rivet to rivet, how many pitches were measured.", default=None, ge=1, le=MOST_LINKS
    )
    mm: float | None = measured(
        Kind.LENGTH, "Length read", "What they measure, pulled tight.", default=None, ge=5, le=MOST_LINKS * 14
    )
    sixteenths: float | None = measured(
        Kind.RATIO, "Sixteenths past", "Sixteenths of an inch past the rivet.", default=None, ge=0, le=16
    )
    new_mm: float | None = measured(
        Kind.LENGTH, "New chain reads", "The same on a new chain, with the same caliper.", default=None, ge=5, le=9000
    )
    passes: float | None = measured(
        Kind.RATIO, "Passes", "The largest step of the gauge that drops in, percent.", default=None, ge=0.1, le=3
    )
    stops: float | None = measured(
        Kind.RATIO, "Stops", "The smallest step of the gauge that does not, percent.", default=None, ge=0.1, le=3
    )
    same_way: bool = measured(
        Kind.FLAG, "Pushes one way", "Whether the gauge pushes both rollers the same way.", default=False
    )

    @model_validator(mode="after")
    def _has_what_its_way_needs(self) -> Self:
        lacking = [name for name in NEEDS[self.way] if getattr(self, name) is None]
        if self.way is Way.GAUGE and self.passes is None and self.stops is None:
            lacking = ["passes"]
        if lacking:
            raise trade_error(at=lacking[0], missing=True)
        if self.passes is not None and self.stops is not None and self.passes >= self.stops:
            raise trade_error(Message("step_above", low=f"{self.passes:g}"), at="stops", read=self.stops)
        if self.way is Way.WHOLE and not (self.pitches or 0) >= LEAST_LINKS:
            raise trade_error(at="pitches", read=self.pitches)
        return self


@dataclass(frozen=True)
class Wear:
    """Wear in percent with one standard deviation; low and high if a gauge only gives an interval."""

    percent: float
    spread: float
    low: float = -inf
    high: float = inf


def wear_of(reading: WearReading) -> Wear:
    """The wear of the chain by a reading at one place.

    Equation: 100 (M / (n p) - 1); with a caliper 100 (M - M_new) / (n p); a gauge of step g drops in where wear and
    play of the rollers reach g. Returns: percent. Source: model, section 9.

    >>> round(wear_of(WearReading(way=Way.PAST, pitches=24, sixteenths=1)).percent, 2)
    0.52
    >>> round(wear_of(WearReading(way=Way.RULER, pitches=24, mm=306.6)).percent, 2)
    0.59
    """
    if reading.way is Way.GAUGE:
        return _gauged(reading)
    new_mm = (reading.pitches or 0) * PITCH_MM
    read_mm = reading.mm if reading.mm is not None else new_mm
    if reading.way is Way.PAST:
        read_mm = new_mm + (reading.sixteenths or 0.0) * INCH_MM / SIXTEENTHS_AN_INCH
    if reading.way is Way.CALIPER:
        read_mm = new_mm + read_mm - (reading.new_mm or read_mm)
    deviation_mm = limit({Way.CALIPER: "caliper_read", Way.WHOLE: "whole_read"}.get(reading.way, "ruler_read"))
    return Wear(PERCENT * (read_mm / new_mm - 1), PERCENT * deviation_mm / new_mm)


def _gauged(reading: WearReading) -> Wear:
    """The interval between the step that drops in and the one that does not, minus the play of the rollers."""
    play, off = (0.0, 0.0) if reading.same_way else (limit("roller_play"), limit("roller_play_spread"))
    low = -inf if reading.passes is None else reading.passes - play
    high = inf if reading.stops is None else reading.stops - play
    step = limit("gauge_step")
    lower = low if low > -inf else max(high - step, 0.0)
    upper = high if high < inf else low + step
    # The variance of an even distribution between two edges is a twelfth of its width squared.
    return Wear((lower + upper) / 2, ((upper - lower) ** 2 / 12 + off**2) ** 0.5, low, high)


@dataclass(frozen=True)
class ChainWear:
    """A chain's wear from several readings, percent: the worst place decides about replacing it, the mean is for the
    forecast."""

    worst: Wear
    mean: Wear


def chain_wear(readings: Sequence[WearReading]) -> ChainWear | None:
    """Combines several readings along a chain; None without any. Surer readings get more weight in the mean."""
    each = [wear_of(one) for one in readings]
    if not each:
        return None
    weights = [1 / one.spread**2 for one in each]
    mean = sum(weight * one.percent for weight, one in zip(weights, each, strict=True)) / sum(weights)
    return ChainWear(max(each, key=lambda one: one.percent), Wear(mean, sum(weights) ** -0.5))
