"""The answer to a bike's document: the count, or every fault that stands in its way."""

import logging
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from typing import Any

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.chain.cutting import Cut
from lone_pike.core.chain.plan import cuts_for
from lone_pike.core.count.answer import Answer, answer_or_refusal
from lone_pike.core.messages import Message
from lone_pike.core.motion.overlaps import JUDGED_BY, overlaps_at_rest
from lone_pike.core.take_up.kinds import kind_named
from lone_pike.formats.files.bike_file import bike_from_document
from lone_pike.formats.records.shop import Shop
from lone_pike.store.bikes import Document
from lone_pike.store.jobs import JobRow

log = logging.getLogger("lone_pike")
SIDE_FIELDS = ("chain.box_", "chain.pieces", "old_chain", "tubes", "seen", "take_up.max_cog", "take_up.capacity")
"""Fields that do not affect the count: if one is wrong, it is marked and left out, and the count is shown all the
same."""

BOX = ("box_links", "box_includes_joiner", "box_ends")


@dataclass(frozen=True)
class Answered:
    """The answer to a document, or None, and everything that is missing or wrong in it."""

    answer: Answer | None
    faults: tuple[Fault, ...]


def answer_to(document: Document) -> Answered:
    """The answer to a bike. If the sizing itself breaks, the result is a single fault that says so."""
    try:
        answered = answer_or_refusal(bike_from_document(document))
        if not isinstance(answered, InvalidInput):
            return Answered(answered, ())
        faults = answered.faults
    except Exception as error:
        faults = faults_of(error)
    if not all(fault.field.startswith(SIDE_FIELDS) for fault in faults):
        return Answered(None, (*faults, *_overlaps_beside(document, faults)))
    without = answer_to(_without(document, [fault.field for fault in faults]))
    return Answered(without.answer, faults)


def answer_in_shop(document: Document, shop: Shop) -> Answered:
    """The answer under the shop's house rule and limits."""
    return answer_to(shop.under_rules(document))


def faults_of(error: Exception) -> tuple[Fault, ...]:
    """The faults of a bike, or the one fault that the program itself broke."""
    if isinstance(error, InvalidInput):
        return error.faults
    log.exception("a bike could not be sized", exc_info=error)
    return (Fault("bike", Message("a_bike_it_breaks_on"), Message("a_bike_to_size"), Message("undo_the_last")),)


def count_of(job: JobRow, answer: Answer, links: int | None) -> int:
    """The count under test: the one selected on the page, else the chosen one, else the advised one."""
    return links or job.chosen_links or answer.links


def cuts_or_fault(bike: Bike, links: int) -> tuple[tuple[Cut, ...], Fault | None]:
    """One cut for each piece of the loop, or why there are none."""
    try:
        return cuts_for(bike, links), None
    except InvalidInput as error:
        return (), error.faults[0]


def shown_cut(cuts: tuple[Cut, ...], piece: int | None) -> Cut | None:
    """The cut to show: that of the selected piece, else the first one with a rivet to push, else the first one."""
    asked = [cut for cut in cuts if cut.piece == piece]
    pushed = [cut for cut in cuts if cut.push_from_start is not None]
    return next(iter([*asked, *pushed, *cuts]), None)


def _overlaps_beside(document: Document, faults: tuple[Fault, ...]) -> tuple[Fault, ...]:
    """Overlaps that are certain even while other measures are wrong, so that all faults are shown at once.

    Wrong measures are replaced by those of a typical bike, and only overlaps that do not depend on them are reported.
    """
    wrong = {_measure_of(fault.field) for fault in faults}
    part = document.get("take_up")
    if not isinstance(part, dict) or wrong & set(JUDGED_BY) == set(JUDGED_BY):
        return ()
    typical = kind_named(str(part.get("type"))).typical
    take_up = _with_typical(part, {field.partition(".")[2] for field in wrong}, typical["take_up"])
    whole = _with_typical(document, {field.partition(".")[0] for field in wrong} - {"take_up"}, typical)
    try:
        bike = bike_from_document({**whole, "take_up": take_up})
    except InvalidInput:
        return ()
    return tuple(
        fault
        for fault in overlaps_at_rest(bike)
        if fault.field in JUDGED_BY and not wrong & (JUDGED_BY[fault.field] | {fault.field})
    )


def _measure_of(field: str) -> str:
    """The measure that a fault belongs to, without the row number."""
    part, _, rest = field.partition(".")
    return f"{part}.{rest.partition('.')[0]}" if part == "take_up" and rest else part


def _with_typical(part: Document, wrong: Collection[str], typical: Mapping[str, Any]) -> Document:
    """A part of a document with wrong values replaced by those of the typical bike."""
    right = {name: value for name, value in part.items() if name not in wrong}
    return right | {name: typical[name] for name in wrong if name in typical}


def _without(document: Document, fields: list[str]) -> Document:
    """The document without some of its side fields. The box is left out as a whole, because its count and its ends
    depend on each other; so are the pieces, the tubes and the old chain. Of the rows of what was seen, only the wrong
    ones are left out."""
    left = dict(document)
    wrong_rows = {field.split(".")[1] for field in fields if field.startswith("seen.")}
    if wrong_rows:
        left["seen"] = [row for i, row in enumerate(document["seen"]) if str(i) not in wrong_rows]
    for field in fields:
        part, _, rest = field.partition(".")
        key = rest.partition(".")[0]
        if part == "seen":
            continue
        if part in ("old_chain", "tubes"):
            left.pop(part, None)
        else:
            aside = BOX if key in BOX else (key,)
            left[part] = {name: one for name, one in left[part].items() if name not in aside}
    return left
