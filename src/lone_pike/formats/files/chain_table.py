"""A chain's distances and readings as rows of a CSV, which the reader of rides can read again."""

import csv
from io import StringIO

from lone_pike.core.wear.gauging import wear_of
from lone_pike.core.wear.life import ChainLife

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
