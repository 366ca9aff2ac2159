"""The application over one data file."""

import asyncio
import gc
import sqlite3
from collections.abc import AsyncIterator, Mapping
from contextlib import asynccontextmanager, suppress
from datetime import UTC, datetime
from importlib.resources import files
from pathlib import Path

from fastapi import FastAPI
from fastapi.exceptions import RequestValidationError
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware
from starlette.requests import Request
from starlette.responses import HTMLResponse, JSONResponse
from starlette.staticfiles import StaticFiles

from lone_pike import __version__
from lone_pike.api.app import AT as API
from lone_pike.api.app import create_api
from lone_pike.api.problems import data_trouble, status_of
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.messages import Message
from lone_pike.core.refusals import Refusal
from lone_pike.devices.hub import Hub
from lone_pike.formats.records.shop import Shop
from lone_pike.store.database import Database
from lone_pike.web.dear import Busy, DearWork
from lone_pike.web.guard import ON_LOOPBACK, Hosts, RequestGuard, TooLarge, log
from lone_pike.web.live import Live
from lone_pike.web.network import AccessGuard, Network, Tries
from lone_pike.web.pages import page, units_of
from lone_pike.web.requests import sent_again
from lone_pike.web.routes import (
    about,
    access,
    bench,
    bikes,
    bin,
    chain,
    chains,
    devices,
    job,
    limits,
    live,
    paper,
    photo,
    practice,
    prove,
    receive,
    route,
    shop,
    stand,
)
from lone_pike.web.ways import TO_THE_STAND, Way, way_on
from lone_pike.wording.render import fault_at_label, render
from lone_pike.workshop.backups import back_up_daily
from lone_pike.workshop.chains import sort_all
from lone_pike.workshop.clock import now

ROUTES = (
    *(stand, photo, route, paper, devices, live, bench, prove, receive, job),
    *(bikes, chains, chain, bin, practice, access, shop, limits, about),
)
"""All pages; what an address is taken by first stands first."""

SECONDS_BETWEEN_LOOKS = 3600.0
COLLECT_AFTER = 20_000
"""New objects after which the youngest are looked through: a page makes some thousands, and drops them all."""

NEXT_STEPS = {404: "nothing_here", 405: "not_taken_here", 413: "too_large"}
"""What is said where a status comes without words of its own."""


def create_app(database: Database, hosts: Hosts = ON_LOOPBACK, network: Network | None = None) -> FastAPI:
    """The application over a data file, asked for under some hosts; from a network only by who is known."""
    app = FastAPI(title="Lone Pike", version=__version__, openapi_url=None, lifespan=_loaded_once)
    app.state.database = database
    app.state.devices = Hub()
    app.state.backs_up, app.state.dear = False, DearWork()
    app.add_middleware(GZipMiddleware, minimum_size=1000, compresslevel=5)
    app.state.live = Live()
    app.state.network, app.state.tries = network, Tries()
    if network:
        app.add_middleware(AccessGuard, state=app.state)
    app.add_middleware(RequestGuard, hosts=hosts)
    app.mount("/static", StaticFiles(directory=Path(str(files("lone_pike.web") / "static"))), name="static")
    app.state.api = create_api(app.state)
    app.mount(API, app.state.api)
    for module in ROUTES:
        app.include_router(module.router)

    @app.get("/healthz")
    def healthz() -> JSONResponse:
        return JSONResponse({"status": "ok", "version": __version__, "schema": database.schema_number})

    @app.exception_handler(HTTPException)
    def http_error(request: Request, error: HTTPException) -> HTMLResponse:
        return _error(request, error.status_code, Message(NEXT_STEPS.get(error.status_code, "nothing_here")))

    @app.exception_handler(RequestValidationError)
    def not_an_address(request: Request, _: RequestValidationError) -> HTMLResponse:
        return _error(request, 404, Message(NEXT_STEPS[404]))

    @app.exception_handler(InvalidInput)
    def invalid_input(request: Request, error: InvalidInput) -> HTMLResponse:
        lines = " ".join(fault_at_label(fault, units_of(Shop())) for fault in error.faults)
        return _error(request, 422, Message("as_written", text=lines))

    @app.exception_handler(Refusal)
    async def refused(request: Request, error: Refusal) -> HTMLResponse:
        """What was sent stands on the page: it can be sent again once what is in the way is gone."""
        return _error(
            request, status_of(error), error.message, await _sent_again(request), way_on(request.url.path, error)
        )

    @app.exception_handler(TooLarge)
    def too_large(request: Request, _: TooLarge) -> HTMLResponse:
        return _error(request, 413, Message(NEXT_STEPS[413]))

    @app.exception_handler(Busy)
    async def busy(request: Request, _: Busy) -> HTMLResponse:
        answer = _error(request, 503, Message("busy_now"), await _sent_again(request))
        answer.headers["Retry-After"] = "5"
        return answer

    @app.exception_handler(sqlite3.Error)
    async def not_kept(request: Request, error: sqlite3.Error) -> HTMLResponse:
        """What was sent stands on the page, so that it can be sent again."""
        return _error(request, *data_trouble(request, error), await _sent_again(request))

    return app


@asynccontextmanager
async def _loaded_once(app: FastAPI) -> AsyncIterator[None]:
    """What is loaded at the start stays, so the collector need not look through it; at the end one file holds all."""
    with suppress(sqlite3.Error):  # a file that cannot be written to can still be read
        sort_all(app.state.database, now())
    gc.collect()
    gc.freeze()
    gc.set_threshold(COLLECT_AFTER, 20, 50)
    keeping = asyncio.create_task(_backed_up(app.state.database)) if app.state.backs_up else None
    yield
    if keeping:
        keeping.cancel()
    app.state.dear.end()
    gc.unfreeze()
    app.state.database.close()


async def _backed_up(database: Database) -> None:
    """Looks every hour whether the day's backup is due."""
    while True:
        await asyncio.sleep(SECONDS_BETWEEN_LOOKS)
        try:
            await asyncio.to_thread(back_up_daily, database, datetime.now(UTC))
        except (InvalidInput, sqlite3.Error) as error:
            log.error("no backup could be made: %s", error)


async def _sent_again(request: Request) -> Mapping[str, object] | None:
    """What a form sent and where to, so that nothing typed is lost; None where nothing was sent."""
    if request.method != "POST":
        return None
    return {"action": str(request.url.path), "fields": await sent_again(request)}


def _error(
    request: Request,
    status: int,
    message: Message,
    again: Mapping[str, object] | None = None,
    way: Way = TO_THE_STAND,
) -> HTMLResponse:
    text = render(message, units_of(Shop()))
    return page(request, "error.html", Shop(), {"text": text, "again": again, "way": way}, status)
