"""Lone Pike for Python programs: read a bike, size it, read the answer. The README has an example."""

from collections.abc import Mapping

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.count.answer import Answer, answer
from lone_pike.core.messages import Message
from lone_pike.formats.files.bike_file import bike_from_document, read_bike
from lone_pike.formats.files.fleet_table import check_header, document_of_row
from lone_pike.wording.render import fault_line, render
from lone_pike.wording.units import DisplayUnits

__all__ = ["Answer", "Bike", "InvalidInput", "read_bike", "read_row", "say", "size"]


def read_row(row: Mapping[str, str]) -> Bike:
    """A bike from a row of a table, such as csv.DictReader gives: its columns are the keys of the bike file, a part's
    after a dot; cells that are empty are left out.

    Lengths in mm, angles in degrees, counts in links. Raises: InvalidInput with every fault.

    >>> size(read_row({"name": "Reed", "rings": "38", "cogs": "16", "take_up.type": "slot", "take_up.min_mm": "400",
    ...                "take_up.max_mm": "425", "chain.speeds": "1"})).links
    92
    """
    check_header(row)
    return bike_from_document(document_of_row(row))


def say(said: Message | Fault) -> str:
    """A message or a fault in English, with lengths in mm and counts in links.

    >>> say(Message("no_other_is_safe"))
    'No other count is safe on this bike.'
    """
    return fault_line(said, DisplayUnits()) if isinstance(said, Fault) else render(said, DisplayUnits())


def size(bike: Bike) -> Answer:
    """The count for a bike, the safe window, every school's vote, every gear, and how sure it is.

    Returns: counts in links, lengths in mm, angles in degrees. Raises: InvalidInput where the geometry cannot be, with
    the field that is at fault.
    """
    return answer(bike)
