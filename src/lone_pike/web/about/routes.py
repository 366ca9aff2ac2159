"""About: version, licences of what ships, and where the data file is."""

import re
from importlib.metadata import PackageNotFoundError, metadata, requires
from importlib.resources import files
from pathlib import Path

from fastapi import APIRouter
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import FileResponse, Response

from lone_pike.core.stages import STAGES
from lone_pike.drawing.charts.label import square_code
from lone_pike.web.network import Network
from lone_pike.web.pages import page
from lone_pike.web.thing import Data, InShop, session_of
from lone_pike.wording.not_known import NOT_KNOWN

router = APIRouter()
STATIC = Path(str(files("lone_pike.web") / "static"))
SERVICE_WORKER = (STATIC / "sw.js").read_text().replace("STAGES", "|".join(STAGES))
SHIPPED = (("htmx.org 4.0.1", "0BSD"), ("B612 and B612 Mono, fonts", "OFL-1.1"))
"""Bundled works that are not Python packages."""


@router.get("/about")
def about(request: Request, data: Data, shop: InShop) -> Response:
    """The page."""
    network: Network | None = request.app.state.network
    code = square_code(f"{network.addresses[0]}#{network.fingerprint.replace(':', '')}") if network else ""
    context = {
        "licences": (*SHIPPED, *licences()),
        "data_file": data.path.absolute(),
        "code": code,
        "session": session_of(request),
    }
    return page(request, "about/about.html", shop, context)


@router.get("/sw.js")
def service_worker() -> Response:
    """The script that keeps pages readable without the network; served from the root, so that it may control all of
    them."""
    return Response(SERVICE_WORKER, media_type="text/javascript", headers={"Cache-Control": "no-cache"})


@router.get("/out-of-reach")
def out_of_reach() -> Response:
    """The page that a tablet shows without network in place of one that it has not stored; it fetches this one in
    advance."""
    raise HTTPException(503)


@router.get("/manifest.webmanifest")
def manifest() -> Response:
    """The manifest with which a tablet installs the workshop as a program."""
    return FileResponse(STATIC / "manifest.webmanifest", media_type="application/manifest+json")


def licences() -> list[tuple[str, str]]:
    """The Python packages in use, each with its version and licence from its own metadata."""
    names = [re.split(r"[^\w.-]", wanted)[0] for wanted in requires("lone-pike") or ()]
    rows = []
    for name in names:
        try:
            package = metadata(name)
        except PackageNotFoundError:
            continue
        by_class = [line.rpartition(" :: ")[2] for line in package.get_all("Classifier") or () if "License" in line]
        licence = package["License-Expression"] if "License-Expression" in package else next(iter(by_class), "its own")
        rows.append((f"{name} {package['Version']}", licence))
    return rows


@router.get("/limits")
def limits(request: Request, shop: InShop) -> Response:
    """What the count does not know."""
    return page(request, "about/limits.html", shop, {"not_known": NOT_KNOWN})
