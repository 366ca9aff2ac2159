"""The answers to errors: a page that explains what is wrong, with what was sent and a way on."""

import sqlite3
from collections.abc import Mapping

from fastapi import FastAPI
from fastapi.exceptions import RequestValidationError
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import HTMLResponse

from lone_pike.api.problems import data_trouble, status_of
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.messages import Message
from lone_pike.core.refusals import Refusal
from lone_pike.formats.records.shop import Shop
from lone_pike.web.dear import Busy
from lone_pike.web.guard import TooLarge
from lone_pike.web.pages import TO_THE_STAND, ButtonLink, page, units_of, way_on
from lone_pike.web.thing import sent_again
from lone_pike.wording.render import fault_at_label, render

NEXT_STEPS = {404: "nothing_here", 405: "not_taken_here", 413: "too_large", 503: "out_of_reach"}
"""The text for a status that comes without a message of its own."""


def add_handlers(app: FastAPI) -> None:
    """Adds the error handlers to an application."""
    app.add_exception_handler(HTTPException, http_error)  # type: ignore[arg-type]  # each takes its own kind alone
    app.add_exception_handler(RequestValidationError, not_an_address)
    app.add_exception_handler(InvalidInput, invalid_input)  # type: ignore[arg-type]
    app.add_exception_handler(Refusal, refused)  # type: ignore[arg-type]
    app.add_exception_handler(TooLarge, too_large)
    app.add_exception_handler(Busy, busy)
    app.add_exception_handler(sqlite3.Error, not_kept)  # type: ignore[arg-type]


def http_error(request: Request, error: HTTPException) -> HTMLResponse:
    """Answers an unknown address or method."""
    return _error(request, error.status_code, Message(NEXT_STEPS.get(error.status_code, "nothing_here")))


def not_an_address(request: Request, _: Exception) -> HTMLResponse:
    """Answers an address that has something other than a number where one is needed."""
    return _error(request, 404, Message(NEXT_STEPS[404]))


def invalid_input(request: Request, error: InvalidInput) -> HTMLResponse:
    """Answers typed input with faults that no other page shows."""
    lines = " ".join(fault_at_label(fault, units_of(Shop())) for fault in error.faults)
    return _error(request, 422, Message("as_written", text=lines))


async def refused(request: Request, error: Refusal) -> HTMLResponse:
    """Answers a refusal. The page contains what was sent, so that it can be sent again."""
    again, way = await _sent_again(request), way_on(request.url.path, error)
    return _error(request, status_of(error), error.message, again, way)


def too_large(request: Request, _: Exception) -> HTMLResponse:
    """Answers a request that is larger than its page accepts."""
    return _error(request, 413, Message(NEXT_STEPS[413]))


async def busy(request: Request, _: Exception) -> HTMLResponse:
    """Answers a request for dear work when too many wait for it."""
    answer = _error(request, 503, Message("busy_now"), await _sent_again(request))
    answer.headers["Retry-After"] = "5"
    return answer


async def not_kept(request: Request, error: sqlite3.Error) -> HTMLResponse:
    """Answers an error of the data file. The page contains what was sent, so that it can be sent again once the cause
    is gone."""
    return _error(request, *data_trouble(request, error), await _sent_again(request))


async def _sent_again(request: Request) -> Mapping[str, object] | None:
    """What a form sent and to which address, so that nothing typed is lost; None if nothing was sent."""
    if request.method != "POST":
        return None
    return {"action": str(request.url.path), "fields": await sent_again(request)}


def _error(
    request: Request,
    status: int,
    message: Message,
    again: Mapping[str, object] | None = None,
    way: ButtonLink = TO_THE_STAND,
) -> HTMLResponse:
    text = render(message, units_of(Shop()))
    return page(request, "ui/error.html", Shop(), {"text": text, "again": again, "way": way}, status)
