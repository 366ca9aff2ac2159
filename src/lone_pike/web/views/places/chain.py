"""One chain: its wear line, its readings, its distance, where it is, and what can be done with it."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from lone_pike.core.bike.faults import Fault
from lone_pike.core.bike.fields import fields_of
from lone_pike.core.bike.limits import limit
from lone_pike.core.messages import LengthUnit, Message, Quantity, Term, Unit, Value, number
from lone_pike.core.wear.forecast import band, newest_places
from lone_pike.core.wear.gauging import NEEDS, Way, wear_of
from lone_pike.core.wear.life import (
    Basis,
    ChainLife,
    Ending,
    Lube,
    Riding,
    chain_file_of,
    distance_at,
)
from lone_pike.core.wear.replacing import cogs_percent, percent
from lone_pike.core.wear.rides import km
from lone_pike.core.wear.standing import ChainStanding
from lone_pike.drawing.charts.wear_line import ReadWear, WearLine, curve_kms, reach_km, wear_line
from lone_pike.formats.typed.writing import format_value
from lone_pike.store.chains import ChainRow
from lone_pike.web.views.job.receive import wear_message
from lone_pike.web.views.places.chains import DueWords, due_words, place_message
from lone_pike.workshop.chain_use import WORDS

FEW_READINGS = 1
MOST_RIDDEN_SHOWN = 30


@dataclass(frozen=True)
class ReadingRow:
    """A row of the table: the reading's index, its day and distance, the way of gauging, and the result."""

    place: int
    day: str
    km: Quantity
    way: Term
    wear: Message


@dataclass(frozen=True)
class RiddenRow:
    """A distance: its day, how far, and its source."""

    day: str
    km: Quantity
    source: Term


@dataclass(frozen=True)
class Word:
    """A field of the chain itself: its key, its label, its text, and its choices if there are any."""

    name: str
    label: str
    text: str
    choices: tuple[Term, ...]


@dataclass(frozen=True)
class ChainView:
    """The page. faults are by field; typed is what could not be stored."""

    row: ChainRow
    life: ChainLife
    place: Message
    line: WearLine
    due: DueWords | None
    wear: Message
    replace: tuple[Term, ...]
    said: tuple[Message, ...]
    warnings: tuple[Message, ...]
    readings: tuple[ReadingRow, ...]
    ridden: tuple[RiddenRow, ...]
    more_ridden: int
    ways: tuple[tuple[Term, tuple[str, ...]], ...]
    words: tuple[Word, ...]
    endings: tuple[Term, ...]
    bikes: tuple[tuple[int, str], ...]
    can_undo: bool
    today: str
    notices: tuple[Message, ...]
    faults: tuple[Fault, ...]
    typed: dict[str, str]


@dataclass(frozen=True)
class Asked:
    """What happened before the page is shown: notices of what was done, faults of what could not be done, and what was
    typed."""

    notices: tuple[Message, ...] = ()
    faults: tuple[Fault, ...] = ()
    typed: Mapping[str, str] | None = None


def chain_view(
    row: ChainRow,
    standing: ChainStanding,
    bikes: tuple[tuple[int, str], ...],
    today: date,
    unit: LengthUnit,
    asked: Asked,
) -> ChainView:
    """The page. Parameters: bikes it was on, by number and name."""
    life, forecast = row.life, standing.forecast
    newest_first = tuple(reversed(life.ridden))
    return ChainView(
        row=row,
        life=life,
        place=place_message(row, today),
        line=line_of(life, standing, today),
        due=None if life.ending else due_words(standing, today),
        wear=Message("wear_of_limit", wear=percent(forecast.wear_percent), most=percent(forecast.limit_percent)),
        replace=() if life.ending else tuple(Term("part", part) for part in forecast.replace),
        said=_said(life, standing, today),
        warnings=forecast.warnings,
        readings=_readings(life),
        ridden=tuple(
            RiddenRow(one.until.isoformat(), km(one.km), Term("source", one.source))
            for one in newest_first[:MOST_RIDDEN_SHOWN]
        ),
        more_ridden=max(len(newest_first) - MOST_RIDDEN_SHOWN, 0),
        ways=tuple((Term("wear_way", way), NEEDS[way]) for way in Way),
        words=_words(life, unit),
        endings=tuple(Term("ending", one) for one in Ending),
        bikes=bikes,
        can_undo=row.parent_id is not None,
        today=today.isoformat(),
        notices=asked.notices,
        faults=asked.faults,
        typed=dict(asked.typed or {}),
    )


def line_of(life: ChainLife, standing: ChainStanding, today: date) -> WearLine:
    """The drawing of a chain's wear over its distance."""
    forecast, now_km = standing.forecast, standing.distance.km
    chain = chain_file_of(life, forecast.limit_percent, today)
    curve = band(chain, standing.usual, curve_kms(reach_km(forecast.due_km, now_km)))
    readings = [ReadWear(one.km, wear_of(one)) for one in chain.readings]
    return wear_line(readings, curve, forecast.due_km, now_km, forecast.limit_percent, cogs_percent(life.speeds))


def _readings(life: ChainLife) -> tuple[ReadingRow, ...]:
    """The table beside the drawing, newest first."""
    rows = [
        ReadingRow(
            place,
            one.date.isoformat(),
            km(distance_at(life, one.date).km),
            Term("wear_way", one.way),
            wear_message(wear_of(one)),
        )
        for place, one in enumerate(life.gauged)
    ]
    return tuple(reversed(rows))


def _said(life: ChainLife, standing: ChainStanding, today: date) -> tuple[Message, ...]:
    """What the forecast is based on: other chains, the pace, the distance."""
    usual, pace, distance = standing.usual, standing.pace, standing.distance
    values: dict[str, Value] = {"speeds": Quantity(life.speeds, Unit.COGS), "riding": Term("riding", life.riding)}
    if usual.is_own:
        said = [Message("like_own", chains=number(usual.chains), **values)]
    else:
        said = [Message("like_all", most=number(limit("own_chains")), chains=number(usual.chains), **values)]
    if len(life.gauged) <= FEW_READINGS:
        said.append(Message("leans_on", readings=Quantity(len(life.gauged), Unit.READINGS)))
    if not life.ending:
        said.append(Message(PACES[pace.basis], week=km(pace.week_km)))
    if distance.estimated_km >= 1:
        said.append(Message("km_estimated", known=km(distance.known_km), estimated=km(distance.estimated_km)))
    worn = newest_places(chain_file_of(life, standing.forecast.limit_percent, today))
    if worn:
        worst, mean = percent(worn.worst.percent), percent(worn.mean.percent)
        said.append(Message("worst_place", worst=worst, mean=mean))
    return tuple(said)


PACES = {Basis.GIVEN: "pace_told", Basis.RIDDEN: "pace_ridden", Basis.ASSUMED: "pace_assumed"}


def _words(life: ChainLife, unit: LengthUnit) -> tuple[Word, ...]:
    """The fields of the chain that its form can change."""
    specs = fields_of(ChainLife)
    choices = {
        "lube": tuple(Term("lube", one) for one in Lube),
        "riding": tuple(Term("riding", one) for one in Riding),
    }
    return tuple(Word(name, specs[name].label, _text(life, name, unit), choices.get(name, ())) for name in WORDS)


def _text(life: ChainLife, name: str, unit: LengthUnit) -> str:
    value = getattr(life, name)
    return "" if value is None else format_value(fields_of(ChainLife)[name], value, unit)
