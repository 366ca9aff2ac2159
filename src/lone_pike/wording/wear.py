"""A chain's forecast as a few lines of text, and its sentences."""

from lone_pike.core.messages import Message, Quantity, Term, Unit
from lone_pike.core.wear.forecast import Forecast
from lone_pike.core.wear.replacing import percent
from lone_pike.wording.render import render
from lone_pike.wording.units import DisplayUnits

DUE_CODES = {"fine": "chain_is_fine", "soon": "chain_is_soon", "due": "chain_is_due", "past": "chain_is_past"}


def forecast_lines(forecast: Forecast, units: DisplayUnits) -> list[str]:
    """The wear, its relation to the limit, when the chain is due, what to replace, and what is odd."""
    due = {name: Quantity(round(value), Unit.KM) for name, value in vars(forecast.due_km).items()}
    messages = [
        Message("wears_now", wear=percent(forecast.wear_percent), spread=percent(2 * forecast.spread_percent)),
        Message(DUE_CODES[forecast.state], most=percent(forecast.limit_percent)),
        Message("due_at", **due),
    ]
    if forecast.replace:
        messages.append(Message("replace_parts", parts=tuple(Term("part", part) for part in forecast.replace)))
    return [
        *(render(message, units) for message in messages),
        *(f"! {render(one, units)}" for one in forecast.warnings),
    ]
