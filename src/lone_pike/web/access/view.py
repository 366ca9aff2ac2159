"""Access: the tokens in force, and the secret of a new one, which is shown once."""

import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from lone_pike.api.app import AT as API
from lone_pike.core.messages import Term
from lone_pike.drawing.charts.label import square_code
from lone_pike.store.access import SessionRow, TokenRow, sessions, tokens
from lone_pike.store.database import Database
from lone_pike.workshop.access import BENCH, ROLES, TOKEN_KINDS, has_passcode


@dataclass(frozen=True)
class AccessView:
    """The place: tokens with the name of their kind, the kinds that can be made, the benches by their tablets' names
    and the one that asks, the roles and whether each has a passcode, and a new secret with its square code."""

    tokens: tuple[tuple[TokenRow, Term], ...]
    kinds: tuple[tuple[str, Term], ...]
    benches: tuple[str, ...]
    here: str
    roles: tuple[tuple[str, Term, bool], ...]
    secret: str
    code: str
    problem: str
    typed: str


def access_view(database: Database, session: SessionRow | None, secret: str, problem: str, typed: str) -> AccessView:
    """Builds the place for a session.

    Parameters: secret, of a token that was just made; problem and typed, of one that could not be made.
    """
    return AccessView(
        tokens=tuple((one, Term("token_kind", one.kind)) for one in tokens(database)),
        kinds=tuple((kind, Term("token_kind", kind)) for kind in TOKEN_KINDS),
        benches=tuple(sorted({one.name for one in sessions(database) if one.role == BENCH})),
        here=session.name if session else "",
        roles=tuple((role, Term("role", role), has_passcode(database, role)) for role in ROLES),
        secret=secret,
        code=square_code(secret) if secret else "",
        problem=problem,
        typed=typed,
    )


@dataclass(frozen=True)
class OperationView:
    """One operation of the API: method and path, what it does, its parameters, an example, and its statuses."""

    method: str
    path: str
    does: str
    parameters: tuple[tuple[str, str], ...]
    takes: str
    example: str
    statuses: tuple[str, ...]


@dataclass(frozen=True)
class ApiView:
    """The API: an introduction, the address of its description, and its operations."""

    about: str
    url: str
    operations: tuple[OperationView, ...]


def api_view(described: Mapping[str, Any]) -> ApiView:
    """Builds the page from the API's own description."""
    operations = tuple(
        _operation(described, method, path, one)
        for path, methods in described["paths"].items()
        for method, one in methods.items()
    )
    return ApiView(described["info"]["description"], f"{API}/openapi.json", operations)


def _operation(described: Mapping[str, Any], method: str, path: str, one: Mapping[str, Any]) -> OperationView:
    content = one.get("requestBody", {}).get("content", {}).get("application/json", {})
    takes = content.get("schema", {}).get("$ref", "").rpartition("/")[2]
    example = content.get("example") or {}
    fields = described["components"]["schemas"].get(takes, {}).get("properties", {}) if not example else {}
    said = [(each["name"], each.get("description", "")) for each in one.get("parameters", ())]
    said += [(name, field.get("description", "")) for name, field in fields.items()]
    return OperationView(
        method=method.upper(),
        path=f"{API}{path}",
        does=one.get("description", "").split("\n\n")[0],
        parameters=tuple(said),
        takes=takes,
        example=json.dumps(example, indent=1) if example else "",
        statuses=tuple(one["responses"]),
    )
