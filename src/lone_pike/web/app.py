"""The application over one data file."""

import gc
import sqlite3
from collections.abc import AsyncIterator, Mapping
from contextlib import asynccontextmanager
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
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.devices.hub import Hub
from lone_pike.formats.shop import Shop
from lone_pike.store.bin import PieceTaken
from lone_pike.store.database import Database
from lone_pike.web.guard import LOOPBACK, RequestGuard, TooLarge, log
from lone_pike.web.pages import page, units_of
from lone_pike.web.requests import sent_again
from lone_pike.web.routes import about, bench, bikes, bin, devices, job, limits, paper, photo, route, shop, stand
from lone_pike.wording.render import fault_line

COLLECT_AFTER = 20_000
"""New objects after which the youngest are looked through: a page makes some thousands, and drops them all."""

NEXT_STEP = {
    404: "Nothing is at this address.",
    405: "This address does not take that.",
    413: "That is too large. A bike is one small file, a photo up to 25 MB; nothing was changed.",
}
CAUSES = {
    "locked": "Another program holds the data file. Nothing was changed; close it there, and send this again.",
    "busy": "Another program holds the data file. Nothing was changed; close it there, and send this again.",
    "full": "The disk is full. Nothing was changed; make room, and send this again.",
    "readonly": "The data file may only be read. Nothing was changed; give the right to write it, and send this again.",
    "unable to open": "The data file cannot be opened. Nothing was changed; look whether its disk is there.",
    "malformed": "The data file is damaged. Stop the workshop, and restore a backup: lone-pike restore.",
    "": "The data file cannot be used just now. Nothing was changed; look at its disk, and send this again.",
}
"""Why the data file cannot be used, by what the database says."""


def create_app(database: Database, hosts: frozenset[str] = LOOPBACK) -> FastAPI:
    """The application over a data file, asked for under some hosts."""
    app = FastAPI(title="Lone Pike", version=__version__, openapi_url=None, lifespan=_loaded_once)
    app.state.database = database
    app.state.devices = Hub()
    app.add_middleware(GZipMiddleware, minimum_size=1000, compresslevel=5)
    app.add_middleware(RequestGuard, hosts=hosts)
    app.mount("/static", StaticFiles(directory=Path(str(files("lone_pike.web") / "static"))), name="static")
    for module in (stand, photo, route, paper, devices, bench, job, bikes, bin, shop, limits, about):
        app.include_router(module.router)

    @app.get("/healthz")
    def healthz() -> JSONResponse:
        return JSONResponse({"status": "ok", "version": __version__, "schema": database.schema_number})

    @app.exception_handler(HTTPException)
    def http_error(request: Request, error: HTTPException) -> HTMLResponse:
        detail = error.detail if error.detail and " " in error.detail else NEXT_STEP.get(error.status_code, "")
        return _error(request, error.status_code, NEXT_STEP.get(error.status_code) if detail == "Not Found" else detail)

    @app.exception_handler(RequestValidationError)
    def not_an_address(request: Request, _: RequestValidationError) -> HTMLResponse:
        return _error(request, 404, NEXT_STEP[404])

    @app.exception_handler(InvalidInput)
    def invalid_input(request: Request, error: InvalidInput) -> HTMLResponse:
        return _error(request, 422, " ".join(fault_line(fault, units_of(Shop())) for fault in error.faults))

    @app.exception_handler(PieceTaken)
    def piece_taken(request: Request, _: PieceTaken) -> HTMLResponse:
        text = "That piece is another job's by now, or gone. Nothing was changed; look into the bin again."
        return _error(request, 409, text)

    @app.exception_handler(TooLarge)
    def too_large(request: Request, _: TooLarge) -> HTMLResponse:
        return _error(request, 413, NEXT_STEP[413])

    @app.exception_handler(sqlite3.Error)
    async def not_kept(request: Request, error: sqlite3.Error) -> HTMLResponse:
        """The data file cannot be used: which of its causes, and what was sent, so that it can be sent again."""
        log.error("%s %s: %s", request.method, request.url.path, error)
        cause = next((words for sign, words in CAUSES.items() if sign in str(error)), CAUSES[""])
        fields = sent_again(request) if request.method == "POST" else ()
        again = {"action": str(request.url.path), "fields": fields} if request.method == "POST" else None
        return _error(request, 503, cause, again)

    return app


@asynccontextmanager
async def _loaded_once(app: FastAPI) -> AsyncIterator[None]:
    """What is loaded at the start stays, so the collector need not look through it; at the end one file holds all."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(COLLECT_AFTER, 20, 50)
    yield
    gc.unfreeze()
    app.state.database.close()


def _error(request: Request, status: int, text: str | None, again: Mapping[str, object] | None = None) -> HTMLResponse:
    return page(request, "error.html", Shop(), {"text": text or NEXT_STEP[404], "again": again}, status)
