"""Who may come in from the network: passcodes by role, sessions of tablets, tokens of programs and devices."""

import secrets
from datetime import datetime, timedelta
from functools import cache
from hashlib import sha256
from typing import Literal

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

from lone_pike.core.bike.faults import invalid
from lone_pike.core.messages import Message, Quantity, Raw, Unit
from lone_pike.core.refusals import Conflict, Unfit
from lone_pike.store.access import (
    MOST_TOKENS,
    SessionRow,
    TokenRow,
    add_session,
    add_token,
    end_sessions,
    end_token,
    passcodes,
    session_with,
    token_with,
    tokens,
    write_passcode,
)
from lone_pike.store.database import Database

Role = Literal["bench", "counter"]
BENCH: Role = "bench"
COUNTER: Role = "counter"
ROLES = (BENCH, COUNTER)
"""The two roles. The bench may do everything; the counter may look, start jobs, and write down complaints."""

TokenKind = Literal["program", "device"]
TOKEN_KINDS: tuple[TokenKind, ...] = ("program", "device")
SHORTEST_PASSCODE, LONGEST_PASSCODE = 8, 128
LONGEST_NAME, SECRET_BYTES = 60, 32
SESSION_DAYS = 30

HASHER = PasswordHasher(time_cost=2, memory_cost=19 * 1024, parallelism=1)
"""Argon2id at the minimum that reviewers of the field recommend, 19 MB and two passes, so that several people can sign
in at once."""


@cache
def nobodys_digest() -> str:
    """Verified when a role has no passcode, so that the response time does not reveal which roles have one."""
    return HASHER.hash(secrets.token_urlsafe(SECRET_BYTES))


def set_passcode(database: Database, role: Role, passcode: str, now: str) -> None:
    """Sets a role's passcode; its sessions end.

    Raises: InvalidInput if it is too short or too long; Unfit if the other role has it.
    """
    low, high = (Quantity(count, Unit.LETTERS) for count in (SHORTEST_PASSCODE, LONGEST_PASSCODE))
    if not SHORTEST_PASSCODE <= len(passcode) <= LONGEST_PASSCODE:
        raise invalid("passcode", Quantity(len(passcode), Unit.LETTERS), Message("between", low=low, high=high))
    others = {name: digest for name, digest in passcodes(database).items() if name != role}
    if any(_is(digest, passcode) for digest in others.values()):
        raise Unfit("passcode_of_other_role")
    digest = HASHER.hash(passcode)
    with database.atomic() as connection:
        write_passcode(connection, role, digest, now)


def let_passcode_go(database: Database, role: Role, now: str) -> None:
    """Removes a role's passcode, so that nobody can sign in with it; its sessions end."""
    with database.atomic() as connection:
        write_passcode(connection, role, None, now)


def has_passcode(database: Database, role: str = BENCH) -> bool:
    """Whether a role has a passcode."""
    return role in passcodes(database)


def sign_in(database: Database, passcode: str, name: str, now: str) -> str:
    """Begins a session in the role that the passcode belongs to. Returns: its secret. Raises: Unfit if the passcode is
    wrong."""
    known = passcodes(database)
    fitting = [role for role in ROLES if _is(known.get(role) or nobodys_digest(), passcode[: LONGEST_PASSCODE + 1])]
    if not fitting:
        raise Unfit("wrong_passcode")
    secret = secrets.token_urlsafe(SECRET_BYTES)
    tablet = _as_name(name)[:LONGEST_NAME] or fitting[0]
    with database.atomic() as connection:
        if passcodes(database).get(fitting[0]) != known[fitting[0]]:
            raise Unfit("wrong_passcode")
        end_sessions(connection, before=_first_begun(now))
        add_session(connection, digest_of(secret), SessionRow(fitting[0], tablet, now))
    return secret


def session_of(database: Database, secret: str, now: str) -> SessionRow | None:
    """The session of a secret, if it is in force: not ended, and not older than its days."""
    session = session_with(database, digest_of(secret))
    return session if session and session.begun_at >= _first_begun(now) else None


def sign_out(database: Database, secret: str) -> None:
    """Ends a session."""
    with database.atomic() as connection:
        end_sessions(connection, digest=digest_of(secret))


def make_token(database: Database, name: str, kind: str, now: str, bench: str = "") -> str:
    """Makes a token for a program, or for a device at a bench. Returns: its secret, which is never shown again.

    Raises: InvalidInput if the name is missing or too long, or the kind is unknown; Conflict if there are too many.
    """
    named = _as_name(name)
    low, high = (Quantity(count, Unit.LETTERS) for count in (1, LONGEST_NAME))
    if not 1 <= len(named) <= LONGEST_NAME:
        raise invalid("name", Raw(named[:LONGEST_NAME] or None), Message("between", low=low, high=high))
    if kind not in TOKEN_KINDS:
        raise invalid("kind", Raw(kind[:LONGEST_NAME]), Message("one_of", keys=TOKEN_KINDS))
    at_bench = _as_name(bench)[:LONGEST_NAME] if kind == "device" else ""
    secret = secrets.token_urlsafe(SECRET_BYTES)
    with database.atomic() as connection:
        if len(tokens(database)) >= MOST_TOKENS:
            raise Conflict("too_many_tokens")
        add_token(connection, named, kind, digest_of(secret), at_bench, now)
    return secret


def take_token_back(database: Database, token_id: int, now: str) -> None:
    """Revokes a token."""
    with database.atomic() as connection:
        end_token(connection, token_id, now)


def token_of(database: Database, secret: str, kind: TokenKind) -> TokenRow | None:
    """The token of a secret, if it is in force and of that kind."""
    token = token_with(database, digest_of(secret))
    return token if token and token.kind == kind else None


def digest_of(secret: str) -> str:
    """The digest that is stored for a secret. The secret is long and random, so a plain digest is enough."""
    return sha256(secret.encode()).hexdigest()


def _as_name(text: str) -> str:
    """A name in the form in which it is stored and compared."""
    return " ".join(text.split())


def _is(digest: str, passcode: str) -> bool:
    try:
        return HASHER.verify(digest, passcode)
    except (VerificationError, InvalidHashError):
        return False


def _first_begun(now: str) -> str:
    """The earliest time at which a session that is still in force can have begun."""
    return (datetime.fromisoformat(now) - timedelta(days=SESSION_DAYS)).isoformat(timespec="seconds")
