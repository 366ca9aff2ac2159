"""The chain file: a chain and its readings in, its forecast out (model, section 9); its distances as a table."""

import csv
from collections.abc import Callable
from dataclasses import asdict
from functools import cache
from io import StringIO
from typing import Any

from lone_pike.core.bike.faults import invalid
from lone_pike.core.messages import Message, Raw
from lone_pike.core.wear.chain import ChainFile
from lone_pike.core.wear.forecast import Forecast
from lone_pike.core.wear.gauging import Way, wear_of
from lone_pike.core.wear.life import ChainLife
from lone_pike.formats.files.answer_json import message_json
from lone_pike.formats.files.json_file import read_document

Render = Callable[[Message], str]


def read_chain(data: bytes | str) -> ChainFile:
    """Reads a chain from its file. Raises: InvalidInput with every fault."""
    document = read_document(data)
    if not isinstance(document, dict):
        raise invalid("file", Raw(document), Message("one_json_chain"))
    return ChainFile.model_validate(_over_its_links(document))


def write_chain(chain: ChainFile) -> str:
    """A chain as its file."""
    return chain.model_dump_json(indent=1, exclude_defaults=True) + "\n"


def _over_its_links(document: dict[str, Any]) -> dict[str, Any]:
    """The document. A reading of the whole chain, hung up, gets the chain's own links."""
    rows = document.get("readings")
    if not isinstance(rows, list):
        return document
    whole = {"pitches": document.get("links")}
    readings = [whole | row if isinstance(row, dict) and row.get("way") == Way.WHOLE else row for row in rows]
    return document | {"readings": readings}


@cache
def chain_schema() -> dict[str, Any]:
    """JSON Schema of the chain file; made once, so it is not to be changed."""
    return ChainFile.model_json_schema(by_alias=True)


def forecast_json(forecast: Forecast, say: Render) -> dict[str, Any]:
    """The whole forecast as plain data."""
    return {
        "wear_percent": {"now": forecast.wear_percent, "spread": forecast.spread_percent},
        "limit_percent": forecast.limit_percent,
        "due_km": asdict(forecast.due_km),
        "state": str(forecast.state),
        "replace": [str(part) for part in forecast.replace],
        "warnings": [message_json(message, say) for message in forecast.warnings],
    }


COLUMNS = ("date", "km", "known by", "odometer km", "gauged with", "wear %", "plus or minus %")


def chain_table(life: ChainLife) -> str:
    """The rows by day: a distance has km, a reading has wear."""
    rows = [
        (one.until.isoformat(), f"{one.km:.3f}", str(one.source), _figure(one.odometer_km), "", "", "")
        for one in life.ridden
    ]
    for reading in life.gauged:
        wear = wear_of(reading)
        figures = (f"{wear.percent:.3f}", f"{2 * wear.spread:.3f}")
        rows.append((reading.date.isoformat(), "", "", "", str(reading.way), *figures))
    out = StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    writer.writerows(sorted(rows))
    return out.getvalue()


def _figure(value: float | None) -> str:
    return "" if value is None else f"{value:g}"
