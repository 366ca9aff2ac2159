"""About: version, licences of what ships, what it does not know, and where the data file is."""

import re
from importlib.metadata import PackageNotFoundError, metadata, requires
from importlib.resources import files
from pathlib import Path

from fastapi import APIRouter
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import FileResponse, Response

from lone_pike.drawing.charts.code import square_code
from lone_pike.web.network import Network
from lone_pike.web.pages import page
from lone_pike.web.requests import Data, InShop, session_of

router = APIRouter()
STATIC = Path(str(files("lone_pike.web") / "static"))
SHIPPED = (("htmx.org 4.0.1", "0BSD"), ("B612 and B612 Mono, fonts", "OFL-1.1"))
"""What ships beside the Python packages."""


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
    return page(request, "about.html", shop, context)


@router.get("/sw.js")
def service_worker() -> Response:
    """What keeps pages readable without the network; from the root, so that it may look after all of them."""
    return FileResponse(STATIC / "sw.js", media_type="text/javascript", headers={"Cache-Control": "no-cache"})


@router.get("/out-of-reach")
def out_of_reach() -> Response:
    """What a tablet shows away from the network where it has not kept a page; it fetches this one while it is there."""
    raise HTTPException(503)


@router.get("/manifest.webmanifest")
def manifest() -> Response:
    """How the workshop is put among a tablet's own programs."""
    return FileResponse(STATIC / "manifest.webmanifest", media_type="application/manifest+json")


def licences() -> list[tuple[str, str]]:
    """The packages that it stands on, each with its version and licence as the package itself tells it."""
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
