"""The application over one data file."""

import asyncio
import gc
import sqlite3
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager, suppress
from importlib.resources import files
from pathlib import Path

from fastapi import FastAPI
from starlette.middleware.gzip import GZipMiddleware
from starlette.responses import JSONResponse
from starlette.staticfiles import StaticFiles

from lone_pike import __version__
from lone_pike.api.app import AT as API
from lone_pike.api.app import create_api
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.devices.hub import Hub
from lone_pike.store.database import Database
from lone_pike.web import hearing
from lone_pike.web.about import routes as about
from lone_pike.web.access import routes as access
from lone_pike.web.bikes import routes as bikes
from lone_pike.web.bin import routes as bin
from lone_pike.web.chain import routes as chain
from lone_pike.web.chains import routes as chains
from lone_pike.web.dear import DearWork
from lone_pike.web.errors import add_handlers
from lone_pike.web.guard import ON_LOOPBACK, Hosts, RequestGuard, log
from lone_pike.web.job import routes as job
from lone_pike.web.job.cut import routes as cut
from lone_pike.web.job.measure import routes as measure
from lone_pike.web.job.paper import routes as paper
from lone_pike.web.job.photo import routes as photo
from lone_pike.web.job.prove import routes as prove
from lone_pike.web.job.receive import routes as receive
from lone_pike.web.job.route import routes as route
from lone_pike.web.live import Live
from lone_pike.web.network import AccessGuard, Network, Tries
from lone_pike.web.practice import routes as practice
from lone_pike.web.shop import routes as shop
from lone_pike.web.stand import routes as stand
from lone_pike.workshop.backups import back_up_daily
from lone_pike.workshop.chains import sort_all
from lone_pike.workshop.clock import moment, now

ROUTES = (
    measure,
    *(stand, photo, route, paper, hearing, cut, prove, receive, job),
    *(bikes, chains, chain, bin, practice, access, shop, about),
)
"""All pages. A request takes the first route that matches, so the order matters; the routes that are asked at each
keystroke stand first."""

SECONDS_BETWEEN_LOOKS = 3600.0
COLLECT_AFTER = 20_000
"""New objects after which the garbage collector looks at the youngest generation: a page makes some thousands and drops
them all."""


def create_app(database: Database, hosts: Hosts = ON_LOOPBACK, network: Network | None = None) -> FastAPI:
    """The application for a data file. It answers under the given hosts only, and from a network only to those who have
    signed in."""
    app = FastAPI(title="Lone Pike", version=__version__, openapi_url=None, lifespan=_loaded_once)
    app.state.database, app.state.backs_up = database, False
    app.state.devices, app.state.live, app.state.dear = Hub(), Live(), DearWork()
    app.state.network, app.state.tries = network, Tries()
    app.add_middleware(GZipMiddleware, minimum_size=1000, compresslevel=5)
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

    add_handlers(app)
    return app


@asynccontextmanager
async def _loaded_once(app: FastAPI) -> AsyncIterator[None]:
    """At the start, takes what is loaded out of the garbage collector's sight, because it stays; at the end, closes the
    data file so that one file holds everything."""
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
            await asyncio.to_thread(back_up_daily, database, moment())
        except (InvalidInput, sqlite3.Error) as error:
            log.error("no backup could be made: %s", error)
