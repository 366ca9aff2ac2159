"""The models of what the API gives and takes."""

from datetime import date as Day
from typing import Annotated, Any, Generic, Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field

from lone_pike.core.bike.base import MOST_COGS, MOST_WEAR_PERCENT, ChainWidth
from lone_pike.core.bike.fields import fields_of
from lone_pike.core.bike.limits import MOST_LINKS
from lone_pike.core.chain.cutting import End
from lone_pike.core.take_up.kinds import KINDS
from lone_pike.core.wear.chain import ChainReading
from lone_pike.core.wear.gauging import Way
from lone_pike.formats.records.observed import LONGEST_NOTE
from lone_pike.formats.typed.bin_form import LONGEST_CODE
from lone_pike.store.bikes import LONGEST_NAME
from lone_pike.store.paging import LARGEST_ID

Item = TypeVar("Item")
Kind = Annotated[str, Field(pattern=f"^({'|'.join(KINDS)})$")]


class Page(BaseModel, Generic[Item]):
    """Some items, newest first, and the cursor for those that follow."""

    items: list[Item]
    next: int | None = Field(description="Cursor of the items that follow; none at the end.")


class BikeOut(BaseModel):
    """A bike of the workshop."""

    id: int
    name: str
    owner_word: str = Field(description="The owner's word for it.")
    story: str
    open_job: int | None = Field(description="Its job in hand.")
    bike: dict[str, Any] = Field(description="Its bike file; it may not be measured to the end.")


class JobOut(BaseModel):
    """A job: its stage, its complaint, and its current revision."""

    id: int
    bike_id: int
    stage: str
    complaint: str
    opened_at: str
    booked_at: str | None
    closed_at: str | None
    revision: int = Field(description="What a write names as saw.")
    links: int | None = Field(description="The count that was chosen.")
    bike: dict[str, Any] = Field(description="The bike file as the job has it.")


class PieceOut(BaseModel):
    """A piece of chain in the bin."""

    id: int
    links: int
    first_end: str
    last_end: str
    speeds: int
    kind: str
    wear_percent: float
    width: str | None
    code: str | None
    source: str = Field(description="How it came in: hand, scan, program, or bike.")
    origin: str = Field(description="The bike or chain it came from; empty if from none.")
    job_id: int | None = Field(description="The job that has it reserved.")


class ChainOut(BaseModel):
    """A chain: where it is, and its readings as the chain file has them."""

    id: int
    state: str
    bike_id: int | None
    bike: str | None
    revision: int = Field(description="What a write names as saw.")
    chain: dict[str, Any]


class DueOut(BaseModel):
    """A chain that is due, with the range of days in which that is."""

    id: int
    name: str
    speeds: int
    links: int
    joiner: str
    early_on: str
    due_on: str
    late_on: str


class StrictModel(BaseModel):
    """Base of the models for requests, which accept no unknown fields."""

    model_config = ConfigDict(extra="forbid")


class NewJob(StrictModel):
    """A job with its complaint: on a bike of the workshop, or on a new one."""

    bike_id: int | None = Field(default=None, ge=1, le=LARGEST_ID, description="A bike of the workshop.")
    name: str = Field(default="", max_length=LONGEST_NAME, description="The name of a new bike.")
    kind: Kind = Field(default="derailleur", description="The kind of a new bike.")
    complaint: str = Field(default="", max_length=LONGEST_NOTE, description="What is wrong.")


class NewPiece(StrictModel):
    """A box or a piece to be added to the bin."""

    links: int = Field(ge=1, le=MOST_LINKS, description="Its links, counted rivet by rivet.")
    first_end: End = Field(default=End.INNER, description="The kind of its first link.")
    speeds: int = Field(ge=1, le=MOST_COGS, description="For how many cogs it is made.")
    kind: Literal["box", "offcut"] = "offcut"
    wear_percent: float = Field(default=0.0, ge=0, le=MOST_WEAR_PERCENT, description="How much it has grown.")
    width: ChainWidth | None = None
    code: str | None = Field(default=None, min_length=1, max_length=LONGEST_CODE, description="The code on its label.")


def _like_a_reading(name: str) -> Any:
    """A field that may be left out, with the bounds and the explanation that the chain file has for it."""
    spec = fields_of(ChainReading)[name]
    return Field(default=None, ge=spec.low, le=spec.high, description=spec.how)


class NewReading(StrictModel):
    """A reading of a chain with any gauge."""

    saw: int | None = Field(default=None, ge=1, le=LARGEST_ID, description="The revision that was seen.")
    date: Day | None = Field(default=None, description="The day; today where left out.")
    km: float | None = _like_a_reading("km")
    way: Way = Field(description="What it was gauged with.")
    pitches: int | None = _like_a_reading("pitches")
    mm: float | None = _like_a_reading("mm")
    sixteenths: float | None = _like_a_reading("sixteenths")
    new_mm: float | None = _like_a_reading("new_mm")
    passes: float | None = _like_a_reading("passes")
    stops: float | None = _like_a_reading("stops")
    same_way: bool = False


class Made(BaseModel):
    """The id of what was created."""

    id: int
