"""Passcodes, sessions and tokens. Only a digest of each secret is stored."""

import sqlite3
from dataclasses import dataclass

from lone_pike.store.database import Database


@dataclass(frozen=True)
class TokenRow:
    """A token as the shop sees it; times as ISO 8601. A device's token has a bench; empty if it serves every bench."""

    id: int
    name: str
    kind: str
    made_at: str
    bench: str


@dataclass(frozen=True)
class SessionRow:
    """A session: its role, the tablet's name, and when it began."""

    role: str
    name: str
    begun_at: str


MOST_TOKENS = 200
TOKENS = "SELECT id, name, kind, made_at, bench FROM token WHERE ended_at IS NULL"


def tokens(database: Database) -> list[TokenRow]:
    """The tokens that are in force, newest first."""
    rows = database.connection.execute(f"{TOKENS} ORDER BY id DESC LIMIT ?", (MOST_TOKENS,))
    return [TokenRow(**dict(row)) for row in rows]


def token_with(database: Database, digest: str) -> TokenRow | None:
    """The token with a digest, if it is in force."""
    row = database.connection.execute(f"{TOKENS} AND digest = ?", (digest,)).fetchone()
    return TokenRow(**dict(row)) if row else None


def add_token(connection: sqlite3.Connection, name: str, kind: str, digest: str, bench: str, now: str) -> None:
    """Adds a token."""
    values = (name, kind, digest, bench, now)
    connection.execute("INSERT INTO token (name, kind, digest, bench, made_at) VALUES (?, ?, ?, ?, ?)", values)


def end_token(connection: sqlite3.Connection, token_id: int, now: str) -> None:
    """Revokes a token."""
    connection.execute("UPDATE token SET ended_at = ? WHERE id = ? AND ended_at IS NULL", (now, token_id))


def passcodes(database: Database) -> dict[str, str]:
    """The digest of each role's passcode."""
    rows = database.connection.execute("SELECT role, digest FROM passcode")
    return {row["role"]: row["digest"] for row in rows}


def write_passcode(connection: sqlite3.Connection, role: str, digest: str | None, now: str) -> None:
    """Sets or removes a role's passcode; every session of that role ends."""
    connection.execute("DELETE FROM session WHERE role = ?", (role,))
    connection.execute("DELETE FROM passcode WHERE role = ?", (role,))
    if digest:
        connection.execute("INSERT INTO passcode VALUES (?, ?, ?)", (role, digest, now))


def signing_secret(database: Database) -> str:
    """The key with which cookies are signed."""
    return str(database.connection.execute("SELECT secret FROM signing_key").fetchone()["secret"])


def session_with(database: Database, digest: str) -> SessionRow | None:
    """The session with a digest, if it has not been ended."""
    sql = "SELECT role, name, begun_at FROM session WHERE digest = ?"
    row = database.connection.execute(sql, (digest,)).fetchone()
    return SessionRow(**dict(row)) if row else None


def sessions(database: Database) -> set[SessionRow]:
    """All sessions that have not been ended."""
    return {SessionRow(**dict(row)) for row in database.connection.execute("SELECT role, name, begun_at FROM session")}


def add_session(connection: sqlite3.Connection, digest: str, session: SessionRow) -> None:
    """Begins a session."""
    values = (digest, session.role, session.name, session.begun_at)
    connection.execute("INSERT INTO session VALUES (?, ?, ?, ?)", values)


def end_sessions(connection: sqlite3.Connection, *, digest: str = "", before: str = "") -> None:
    """Ends one session, and all that began before a time."""
    connection.execute("DELETE FROM session WHERE digest = ? OR begun_at < ?", (digest, before))
