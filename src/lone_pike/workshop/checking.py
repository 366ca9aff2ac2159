"""Checks a data file by sizing every bike in it again, on all processors if there are many bikes."""

import os
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from enum import StrEnum
from functools import partial
from multiprocessing import get_context

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.count.answer import answer
from lone_pike.formats.files.bike_file import bike_from_document
from lone_pike.formats.records.shop import Shop
from lone_pike.store.bikes import Document, count_documents, every_document
from lone_pike.store.database import Database
from lone_pike.workshop.settings import shop_of

MANY, AT_ONCE = 64, 16
"""The number of bikes from which starting other processes pays, and how many bikes each process gets at a time."""


class Outcome(StrEnum):
    """The outcome of sizing a bike again."""

    SIZED = "sized"
    UNFINISHED = "unfinished"
    BROKEN = "broken"


@dataclass(frozen=True)
class Checked:
    """One bike that was sized again: its name, the outcome, and the error if there was one."""

    name: str
    outcome: Outcome
    error: str = ""


@dataclass(frozen=True)
class Check:
    """How many bikes there are to size, and the result of each as it is done."""

    total: int
    checked: Iterator[Checked]


def size_again(database: Database) -> Check:
    """Sizes every bike of a data file under its shop's rules, bikes and open jobs alike."""
    total, documents = count_documents(database), every_document(database)
    return Check(total, _in_turn(documents, total, shop_of(database)))


def _in_turn(documents: Iterator[tuple[str, Document]], total: int, shop: Shop) -> Iterator[Checked]:
    work = partial(_sized, shop=shop)
    if total < MANY:
        yield from map(work, documents)
        return
    with closing(get_context("spawn").Pool(os.cpu_count())) as pool:
        yield from pool.imap(work, documents, chunksize=AT_ONCE)


def _sized(row: tuple[str, Document], shop: Shop) -> Checked:
    """Sizes one bike. An error of the program is an outcome too, so that the check goes on."""
    name, document = row
    try:
        answered = answer(bike_from_document(shop.under_rules(document)))
        _ = answered.why, answered.warnings
    except InvalidInput:
        return Checked(name, Outcome.UNFINISHED)
    except Exception as error:
        return Checked(name, Outcome.BROKEN, repr(error))
    return Checked(name, Outcome.SIZED)
