"""Access: tokens for programs and devices, passcodes, signing in and out."""

from math import ceil
from threading import BoundedSemaphore
from time import monotonic

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.messages import Message, number
from lone_pike.core.refusals import Refusal
from lone_pike.formats.records.shop import Shop
from lone_pike.store.database import Database
from lone_pike.store.paging import RowId
from lone_pike.web.access.view import access_view, api_view
from lone_pike.web.network import SIGN_IN, Network, Tries, next_path, session_secret, with_session, without_session
from lone_pike.web.pages import page, redirect, units_of
from lone_pike.web.thing import Data, Fields, InShop, session_of
from lone_pike.wording.render import fault_at_label, render
from lone_pike.wording.units import DisplayUnits
from lone_pike.workshop.access import BENCH, ROLES, make_token, set_passcode, take_token_back
from lone_pike.workshop.access import sign_in as begin_session
from lone_pike.workshop.access import sign_out as end_session
from lone_pike.workshop.clock import now

router = APIRouter()
HASHING = BoundedSemaphore(2)
"""How many passcodes are checked at once: each check takes 19 MB and some hundredths of a second."""


@router.get(SIGN_IN)
def sign_in_page(request: Request, next: str = "/") -> Response:
    """Where a tablet signs in."""
    if request.app.state.network is None:
        return redirect("/")
    return _sign_in(request, next_path(next))


@router.post(SIGN_IN)
def sign_in(request: Request, data: Data, form: Fields) -> Response:
    """Begins a session. A wrong passcode is counted for the address it came from."""
    network: Network | None = request.app.state.network
    if network is None:
        return redirect("/")
    tries: Tries = request.app.state.tries
    leads, name = next_path(form.get("next", "/")), form.get("name", "")
    address = request.client.host if request.client else ""
    wait_s = tries.wait_s(address, monotonic())
    if wait_s:
        wait = Message("wait_after_tries", wait=number(ceil(wait_s)))
        answer = _sign_in(request, leads, render(wait, DisplayUnits()), name, 429)
        answer.headers["Retry-After"] = str(ceil(wait_s))
        return answer
    try:
        with HASHING:
            secret = begin_session(data, form.get("passcode", ""), name, now())
    except Refusal as error:
        tries.note(address, monotonic(), right=False)
        return _sign_in(request, leads, render(error.message, DisplayUnits()), name, 422)
    tries.note(address, monotonic(), right=True)
    return with_session(redirect(leads), data, secret)


@router.post("/sign-out")
def sign_out(request: Request, data: Data) -> Response:
    """Ends the session."""
    secret = session_secret(request, data)
    if secret:
        end_session(data, secret)
    return without_session(redirect(SIGN_IN))


def _sign_in(request: Request, leads: str, problem: str = "", name: str = "", status: int = 200) -> HTMLResponse:
    context = {"leads": leads, "problem": problem, "name": name, "fingerprint": request.app.state.network.fingerprint}
    return page(request, "access/sign_in.html", Shop(), context, status)


@router.get("/shop/access")
def access(request: Request, data: Data, shop: InShop) -> Response:
    """The tokens in force, and how a tablet signs in."""
    return _shown(request, data, shop)


@router.get("/shop/access/api")
def described(request: Request, shop: InShop) -> Response:
    """The description of the API for people: each operation, what it takes and what it answers."""
    return page(request, "access/api.html", shop, {"view": api_view(request.app.state.api.openapi())})


@router.post("/shop/access/tokens")
def new_token(request: Request, data: Data, shop: InShop, form: Fields) -> Response:
    """Makes a token and shows its secret once."""
    try:
        secret = make_token(data, form.get("name", ""), form.get("kind", ""), now(), form.get("bench", ""))
    except (InvalidInput, Refusal) as error:
        return _shown(request, data, shop, problem=_said(error, shop), typed=form.get("name", ""))
    return _shown(request, data, shop, secret=secret)


@router.post("/shop/access/passcode")
def change_passcode(request: Request, data: Data, shop: InShop, form: Fields) -> Response:
    """Sets a role's passcode; every session of that role ends."""
    role = next((one for one in ROLES if one == form.get("role")), BENCH)
    try:
        set_passcode(data, role, form.get("passcode", ""), now())
    except (InvalidInput, Refusal) as error:
        return _shown(request, data, shop, problem=_said(error, shop))
    return redirect("/shop/access")


@router.post("/shop/access/tokens/{token_id}/end")
def end_token(data: Data, token_id: RowId) -> Response:
    """Revokes a token."""
    take_token_back(data, token_id, now())
    return redirect("/shop/access")


def _said(error: InvalidInput | Refusal, shop: Shop) -> str:
    units = units_of(shop)
    return fault_at_label(error.faults[0], units) if isinstance(error, InvalidInput) else render(error.message, units)


def _shown(
    request: Request, data: Database, shop: Shop, *, secret: str = "", problem: str = "", typed: str = ""
) -> HTMLResponse:
    view = access_view(data, session_of(request), secret, problem, typed)
    return page(request, "access/access.html", shop, {"view": view}, 422 if problem else 200)
