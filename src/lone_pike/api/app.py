"""The API as an application of its own, mounted under /api/v1."""

from functools import cache
from typing import Any

from fastapi import FastAPI
from starlette.datastructures import State

from lone_pike import __version__
from lone_pike.api import stateless, workshop
from lone_pike.api.problems import FaultOut, Problem, add_handlers
from lone_pike.formats.files.bike_file import schema
from lone_pike.formats.files.chain_file import chain_schema

AT = "/api/v1"
ABOUT = (
    "Counts in links, lengths in mm, angles in degrees. What goes wrong is a problem (RFC 9457) with every fault. "
    "Sizing, wear and cut need no token on this machine; the workshop needs one that is made in Shop."
)


def create_api(state: State) -> FastAPI:
    """The API for a workshop. Parameters: state, that of the pages, which names the data file."""
    api = FastAPI(title="Lone Pike", version=__version__, description=ABOUT, docs_url=None, redoc_url=None)
    api.state = state
    api.openapi_url = "/openapi.json"
    for router in (stateless.router, workshop.router, workshop.feeds):
        api.include_router(router)
    add_handlers(api)
    described = api.openapi

    @cache
    def openapi() -> dict[str, Any]:
        """The description, with the files' schemas and the problems among its components."""
        whole = described()
        components: dict[str, Any] = whole.setdefault("components", {}).setdefault("schemas", {})
        for name, one in (("Bike", schema()), ("ChainFile", chain_schema()), ("Problem", Problem.model_json_schema())):
            components |= _among_components(name, one)
        components.setdefault("FaultOut", FaultOut.model_json_schema())
        for unused in ("HTTPValidationError", "ValidationError"):
            components.pop(unused, None)
        whole["servers"] = [{"url": AT}]
        return whole

    api.openapi = openapi  # type: ignore[method-assign]
    return api


def _among_components(name: str, one: dict[str, Any]) -> dict[str, Any]:
    """A schema and those to which it refers, under the names of components."""
    inner = {**one.get("$defs", {}), name: {key: value for key, value in one.items() if key != "$defs"}}
    return {key: _with_refs(value) for key, value in inner.items()}


def _with_refs(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _ref(inner) if key == "$ref" else _with_refs(inner) for key, inner in value.items()}
    return [_with_refs(inner) for inner in value] if isinstance(value, list) else value


def _ref(ref: Any) -> Any:
    return ref.replace("#/$defs/", "#/components/schemas/") if isinstance(ref, str) else _with_refs(ref)
