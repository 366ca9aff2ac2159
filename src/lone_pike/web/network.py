"""Access from the shop's network, by a session or a token; wrong passcodes are counted by address."""

import re
from collections import OrderedDict
from dataclasses import dataclass, field
from threading import Lock
from urllib.parse import quote

from itsdangerous import BadSignature, Signer
from starlette.datastructures import Headers, State
from starlette.requests import HTTPConnection, Request
from starlette.responses import RedirectResponse, Response
from starlette.types import ASGIApp, Receive, Scope, Send

from lone_pike.api.app import AT as API
from lone_pike.api.problems import problem
from lone_pike.core.messages import Message, Term
from lone_pike.formats.records.shop import Shop
from lone_pike.store.access import SessionRow, TokenRow, signing_secret
from lone_pike.store.database import Database
from lone_pike.web.pages import ButtonLink, page, units_of
from lone_pike.wording.render import render
from lone_pike.workshop.access import COUNTER, SESSION_DAYS, TokenKind, session_of, token_of
from lone_pike.workshop.clock import now

COOKIE = "__Host-lone-pike"
SIGN_IN = "/sign-in"
OPEN = ("/static/", SIGN_IN, "/healthz", "/sw.js", "/manifest.webmanifest")
"""What everybody may ask for: what a sign-in page needs, and whether the server is up."""

FEEDS = re.compile(rf"{API}/(due\.ics|bin/\d+/label(\.svg)?)$")
"""Addresses that carry a calendar's or a printer's token; the API checks it itself."""

AT_COUNTER = re.compile(r"/jobs$|/jobs/\d+/complaint$|/sign-out$")
"""What the counter may send: a new job, the complaint of a bike in hand, and signing out."""

TO_SIGN_IN = ButtonLink(SIGN_IN, Term("way", "sign_in"))
READS = frozenset({"GET", "HEAD"})
FREE_TRIES, LONGEST_WAIT_S, MOST_ADDRESSES = 4, 60.0, 5000
LONGEST_NEXT = 300


@dataclass(frozen=True)
class Network:
    """How to reach a workshop from its network: its addresses and its certificate's fingerprint."""

    addresses: tuple[str, ...]
    fingerprint: str


@dataclass
class Tries:
    """Counts wrong passcodes by address. After a few, each one makes that address wait longer; nobody else waits."""

    wrong: OrderedDict[str, tuple[int, float]] = field(default_factory=OrderedDict)
    lock: Lock = field(default_factory=Lock)

    def wait_s(self, address: str, now_s: float) -> float:
        """How long an address must still wait, s."""
        with self.lock:
            _, until_s = self.wrong.get(address, (0, 0.0))
        return max(until_s - now_s, 0.0)

    def note(self, address: str, now_s: float, *, right: bool) -> None:
        """Notes a right or a wrong passcode."""
        with self.lock:
            count, _ = self.wrong.pop(address, (0, 0.0))
            if right:
                return
            count += 1
            wait_s = min(2.0 ** (count - FREE_TRIES), LONGEST_WAIT_S) if count >= FREE_TRIES else 0.0
            self.wrong[address] = (count, now_s + wait_s)
            while len(self.wrong) > MOST_ADDRESSES:
                self.wrong.popitem(last=False)


class AccessGuard:
    """ASGI middleware that lets only known sessions and tokens through."""

    def __init__(self, app: ASGIApp, state: State) -> None:
        self.app, self.state = app, state

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Passes on what the sender may ask for. Start and end of the server are passed on unchanged."""
        if scope["type"] == "websocket":  # there are no web sockets here
            await send({"type": "websocket.close", "code": 1008})
            return
        if scope["type"] != "http" or scope["path"].startswith(OPEN):
            await self.app(scope, receive, send)
            return
        session = current_session(HTTPConnection(scope), self.state.database)
        scope.setdefault("state", {})["session"] = session
        answer = self._stopped(Request(scope), session)
        await (answer or self.app)(scope, receive, send)

    def _stopped(self, request: Request, session: SessionRow | None) -> Response | None:
        """The answer to a request that is not allowed; None if it is."""
        path, method = request.url.path, request.method
        if path.startswith("/devices/"):
            request.state.token = self._token(request, "device")
            return None if request.state.token else problem(401, _said("token_first"), "token_first")
        if path.startswith(f"{API}/"):
            may = session or self._token(request, "program") or (method in READS and FEEDS.match(path))
            return None if may else problem(401, _said("token_first"), "token_first")
        if session is None:
            return _to_sign_in(request)
        if session.role == COUNTER and method not in READS and not AT_COUNTER.match(path):
            return _page(request, 403, "not_at_counter")
        return None

    def _token(self, request: Request, kind: TokenKind) -> TokenRow | None:
        """The token of a kind that a request carries."""
        scheme, _, secret = request.headers.get("authorization", "").partition(" ")
        return token_of(self.state.database, secret.strip(), kind) if scheme.lower() == "bearer" else None


def current_session(request: HTTPConnection, database: Database) -> SessionRow | None:
    """The session of a request's cookie, if it is in force."""
    secret = session_secret(request, database)
    return session_of(database, secret, now()) if secret else None


def session_secret(request: HTTPConnection, database: Database) -> str | None:
    """The session secret in a request's cookie; None if the cookie was not signed by this workshop."""
    try:
        return Signer(signing_secret(database)).unsign(request.cookies.get(COOKIE, "")).decode()
    except (BadSignature, UnicodeError):
        return None


def with_session(answer: Response, database: Database, secret: str) -> Response:
    """The answer with the cookie of a new session."""
    signed = Signer(signing_secret(database)).sign(secret).decode()
    days_s = SESSION_DAYS * 24 * 3600
    answer.set_cookie(COOKIE, signed, max_age=days_s, path="/", secure=True, httponly=True, samesite="strict")
    return answer


def without_session(answer: Response) -> Response:
    """The answer with the cookie removed."""
    answer.delete_cookie(COOKIE, path="/", secure=True, httponly=True, samesite="strict")
    return answer


def next_path(text: str) -> str:
    """The path to which a sign-in leads; the stand if the wanted address is not one of this workshop.

    >>> next_path("/jobs/4"), next_path("//elsewhere.invalid/"), next_path("https://elsewhere.invalid/")
    ('/jobs/4', '/', '/')
    """
    is_own = text.startswith("/") and not text.startswith(("//", "/\\")) and len(text) <= LONGEST_NEXT
    return text if is_own and text.isprintable() else "/"


def _to_sign_in(request: Request) -> Response:
    """Leads to the sign-in page and from there back to what was asked for. For a write it is a page that shows what was
    sent, so that nothing typed is lost."""
    headers = Headers(scope=request.scope)
    path = request.url.path + (f"?{request.url.query}" if request.url.query else "")
    at = f"{SIGN_IN}?next={quote(next_path(path))}"
    if headers.get("hx-request"):
        return Response(status_code=204, headers={"HX-Redirect": at})
    if request.method in READS:
        return RedirectResponse(at, 303)
    return _page(request, 401, "sign_in_first")


def _page(request: Request, status: int, code: str) -> Response:
    context = {"text": _said(code), "again": None, "way": TO_SIGN_IN}
    return page(request, "ui/error.html", Shop(), context, status)


def _said(code: str) -> str:
    return render(Message(code), units_of(Shop()))
