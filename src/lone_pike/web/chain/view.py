"""One chain: its wear line, its readings, its distance, where it is, and what can be done with it."""

from dataclasses import dataclass
from datetime import date
from functools import cached_property

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
    Ridden,
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
from lone_pike.web.chains.view import DueWords, due_words, place_message
from lone_pike.web.job.receive.view import wear_message
from lone_pike.web.thing import Refused
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
class Word:
    """A field of the chain itself: its key, its label, its text, and its choices if there are any."""

    name: str
    label: str
    text: str
    choices: tuple[Term, ...]


@dataclass(frozen=True)
class ChainView:
    """The page of a chain: how it stands today, the bikes it was on by number and name, notices of what was done, and
    what could not be stored."""

    row: ChainRow
    standing: ChainStanding
    bikes: tuple[tuple[int, str], ...]
    today: date
    unit: LengthUnit
    notices: tuple[Message, ...]
    refused: Refused

    @property
    def life(self) -> ChainLife:
        """What is known of it."""
        return self.row.life

    @property
    def place(self) -> Message:
        """Where it is."""
        return place_message(self.row, self.today)

    @property
    def line(self) -> WearLine:
        """Its wear over its distance, drawn."""
        return line_of(self.life, self.standing, self.today)

    @cached_property
    def due(self) -> DueWords | None:
        """When it is due; None if its life has ended."""
        return None if self.life.ending else due_words(self.standing, self.today)

    @property
    def wear(self) -> Message:
        """Its wear, and its limit."""
        forecast = self.standing.forecast
        return Message("wear_of_limit", wear=percent(forecast.wear_percent), most=percent(forecast.limit_percent))

    @property
    def replace(self) -> tuple[Term, ...]:
        """What is to be replaced."""
        return () if self.life.ending else tuple(Term("part", part) for part in self.standing.forecast.replace)

    @property
    def based_on(self) -> tuple[Message, ...]:
        """What the forecast is based on."""
        return _based_on(self.life, self.standing, self.today)

    @cached_property
    def readings(self) -> tuple[ReadingRow, ...]:
        """Its readings, newest first."""
        return _readings(self.life)

    @property
    def ridden(self) -> tuple[Ridden, ...]:
        """Its newest distances, newest first."""
        return tuple(reversed(self.life.ridden))[:MOST_RIDDEN_SHOWN]

    @property
    def more_ridden(self) -> int:
        """How many distances are not shown."""
        return max(len(self.life.ridden) - MOST_RIDDEN_SHOWN, 0)

    @property
    def ways(self) -> tuple[tuple[Term, tuple[str, ...]], ...]:
        """The ways of gauging, each with the fields that it needs."""
        return tuple((Term("wear_way", way), NEEDS[way]) for way in Way)

    @property
    def words(self) -> tuple[Word, ...]:
        """The fields of the chain itself."""
        return _words(self.life, self.unit)

    @property
    def endings(self) -> tuple[Term, ...]:
        """How its life can end."""
        return tuple(Term("ending", one) for one in Ending)


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


def _based_on(life: ChainLife, standing: ChainStanding, today: date) -> tuple[Message, ...]:
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
