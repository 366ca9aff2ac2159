"""Lone Pike for Python programs: read a bike, size it, read the answer. The README has an example."""

import lone_pike.wording.render  # noqa: F401 - messages and faults get their words from it
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.count.answer import Answer, answer
from lone_pike.formats.files.bike_file import read_bike

__all__ = ["Answer", "Bike", "InvalidInput", "read_bike", "size"]


def size(bike: Bike) -> Answer:
    """The count for a bike, the safe window, every school's vote, every gear, and how sure it is.

    Returns: counts in links, lengths in mm, angles in degrees. Raises: InvalidInput where the geometry cannot be, with
    the field that is at fault.
    """
    return answer(bike)
