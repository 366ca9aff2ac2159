"""Errors as problem details (RFC 9457), with the same faults in the same parts as the command's."""

import logging
import sqlite3
from collections.abc import Sequence
from typing import Any

from fastapi import FastAPI
from fastapi.exceptions import RequestValidationError
from pydantic import BaseModel, Field
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import JSONResponse

from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.messages import Message
from lone_pike.core.refusals import Conflict, NotThere, Refusal, Unfit
from lone_pike.formats.files.answer_json import fault_json
from lone_pike.store.database import MOVED
from lone_pike.wording.render import fault_words, render
from lone_pike.wording.units import DisplayUnits

MEDIA_TYPE = "application/problem+json"
STATUSES: dict[type[Refusal], int] = {NotThere: 404, Unfit: 422, Conflict: 409}
CAUSES = {
    MOVED: "data_moved",
    "locked": "data_locked",
    "busy": "data_locked",
    "full": "data_full",
    "readonly": "data_read_only",
    "unable to open": "data_not_opened",
    "malformed": "data_damaged",
    "": "data_not_usable",
}
"""Why the data file cannot be used, by the message of the database."""

TITLES = {
    400: "Bad request",
    401: "A token is needed",
    403: "Not allowed",
    404: "Not there",
    405: "Method not allowed",
    408: "Too slow",
    409: "In conflict with what stands now",
    413: "Too large",
    415: "Not this media type",
    422: "Input that cannot be used",
    500: "Something broke",
    503: "Not now",
}
LONGEST_READ = 60
log = logging.getLogger("lone_pike")


class FaultOut(BaseModel):
    """One fault: its field, what was read there, what is allowed, and how to mend it."""

    field: str = Field(description="The field, by its path in what was sent.")
    read: str = Field(description="What was read there, in words.")
    allowed: str = Field(description="What is allowed there, in words.")
    cure: str = Field(description="How to mend it; empty where nothing more can be said.")
    values: dict[str, Any] = Field(default_factory=dict, description="The same as values.")


class Problem(BaseModel):
    """What went wrong."""

    type: str = Field(description="What kind of problem it is.")
    title: str = Field(description="The kind in words.")
    status: int = Field(description="The HTTP status.")
    detail: str = Field(description="What went wrong this time, and what to do instead.")
    code: str = Field(default="", description="The code of the message, where it has one.")
    faults: list[FaultOut] = Field(default_factory=list, description="Every fault of what was sent.")


def responses(*statuses: int) -> dict[int | str, dict[str, Any]]:
    """The problems with which an operation may answer, for its description."""
    content = {MEDIA_TYPE: {"schema": {"$ref": "#/components/schemas/Problem"}}}
    return {status: {"description": TITLES[status], "content": content} for status in statuses}


def problem(status: int, detail: str, code: str = "", faults: Sequence[dict[str, Any]] = ()) -> JSONResponse:
    """The answer for an error."""
    kind = "invalid-input" if faults else code.replace("_", "-") or "about:blank"
    body = {"type": kind, "title": TITLES.get(status, "Problem"), "status": status, "detail": detail, "code": code}
    headers = {"WWW-Authenticate": "Bearer"} if status == 401 else None
    return JSONResponse(body | {"faults": list(faults)}, status, headers, MEDIA_TYPE)


def status_of(refusal: Refusal) -> int:
    """The HTTP status of a refusal."""
    return next(status for kind, status in STATUSES.items() if isinstance(refusal, kind))


def data_trouble(request: Request, error: sqlite3.Error) -> tuple[int, Message]:
    """The HTTP status and the message for an error of the data file, which is also logged. If the schema refused a
    write, that is a fault in the program, not of the disk."""
    if isinstance(error, sqlite3.IntegrityError | sqlite3.ProgrammingError):
        log.error("%s %s broke", request.method, request.url.path, exc_info=error)
        return 500, Message("our_mistake")
    log.error("%s %s: %s", request.method, request.url.path, error)
    return 503, Message(next(code for sign, code in CAUSES.items() if sign in str(error)))


def add_handlers(api: FastAPI) -> None:
    """Answers every refusal as a problem."""

    @api.exception_handler(InvalidInput)
    def invalid_input(_: Request, error: InvalidInput) -> JSONResponse:
        return _invalid(error.faults)

    @api.exception_handler(Refusal)
    def refused(_: Request, error: Refusal) -> JSONResponse:
        return problem(status_of(error), render(error.message, DisplayUnits()), error.message.code)

    @api.exception_handler(sqlite3.Error)
    def not_kept(request: Request, error: sqlite3.Error) -> JSONResponse:
        status, message = data_trouble(request, error)
        return problem(status, render(message, DisplayUnits()), message.code)

    @api.exception_handler(RequestValidationError)
    def not_as_described(_: Request, error: RequestValidationError) -> JSONResponse:
        faults = [_fault_of(one) for one in error.errors()]
        return problem(422, f"{faults[0]['field']}: {faults[0]['allowed']}", faults=faults)

    @api.exception_handler(HTTPException)
    def http_error(_: Request, error: HTTPException) -> JSONResponse:
        return problem(error.status_code, TITLES.get(error.status_code, str(error.detail)))


def _invalid(faults: Sequence[Fault]) -> JSONResponse:
    units = DisplayUnits()
    listed = [fault_json(fault, fault_words(fault, units)) for fault in faults]
    first = listed[0]
    return problem(422, f"{first['field']}: {first['allowed']}", faults=listed)


def _fault_of(error: dict[str, Any]) -> dict[str, Any]:
    """The fault for a request that does not fit the description."""
    field = ".".join(map(str, error["loc"][1:])) or str(error["loc"][0])
    read = "" if error["type"] == "missing" else repr(error.get("input"))[:LONGEST_READ]
    return {"field": field, "read": read, "allowed": str(error["msg"]), "cure": "", "values": {}}
