"""The middleware that every request passes: size limit, refusal of cross-site writes, and the policy headers."""

import asyncio
import ipaddress
import logging
from collections.abc import Iterator
from contextlib import suppress
from email.message import EmailMessage
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import ClientDisconnect, Request
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from lone_pike.api.app import AT as API
from lone_pike.api.problems import problem
from lone_pike.formats.files.photo_file import LARGEST_BYTES
from lone_pike.formats.files.ride_files import LARGEST_BYTES as LARGEST_RIDES_BYTES
from lone_pike.formats.records.shop import Shop
from lone_pike.web.pages import TO_THE_STAND, page
from lone_pike.wording.render import not_taken

LARGEST_REQUEST_BYTES = 1024 * 1024
LARGEST_REQUESTS = {"/photo": LARGEST_BYTES + 100_000, "/rides": LARGEST_RIDES_BYTES + 100_000}
"""The largest request for addresses that take files, by the end of the address."""

MOST_HEARD_OUT_BYTES = 512 * 1024 * 1024
"""How much of a refused request is still read: a browser shows the answer only after it has sent everything."""

WRITES = frozenset({"POST", "PUT", "PATCH", "DELETE"})
POLICY = {
    "Content-Security-Policy": "default-src 'self'; frame-ancestors 'none'; form-action 'self'; base-uri 'self'",
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}


LOOPBACK = frozenset({"127.0.0.1", "localhost", "[::1]"})
"""The host names of a workshop on its own machine."""

BODY_SECONDS, HEARD_OUT_SECONDS = 60.0, 60.0
"""How long a request body may take to arrive; a large photo over slow wireless takes some seconds."""

LONGEST_LENGTH = 15
"""The most digits a content length may have."""

LONGEST_PORT, MOST_PORT = 5, 65535

BROKE = "Something broke here, and nothing of yours was changed. Go back, and undo the last change if it stays."
STOPPED = "The workshop is being stopped, and this took too long. Nothing was changed; ask again when it is back."
log = logging.getLogger("lone_pike")


class Hosts:
    """The host names under which the workshop answers; with any_address also every numeric address.

    A foreign page can make its own name point to this machine, but then it sends that name. A numeric address cannot be
    made to point elsewhere.
    """

    def __init__(self, names: frozenset[str], *, any_address: bool = False) -> None:
        self.names, self.any_address = names, any_address

    def __contains__(self, host: object) -> bool:
        return host in self.names or (self.any_address and _is_address(str(host)))

    def __iter__(self) -> Iterator[str]:
        return iter(self.names)


def _is_address(host: str) -> bool:
    with suppress(ValueError):
        ipaddress.ip_address(host.removeprefix("[").removesuffix("]"))
        return True
    return False


ON_LOOPBACK = Hosts(LOOPBACK)


class RequestGuard:
    """ASGI middleware."""

    def __init__(self, app: ASGIApp, hosts: Hosts = ON_LOOPBACK) -> None:
        self.app, self.hosts = app, hosts

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Refuses what must not come in, adds the policy headers to every answer, and answers if something breaks
        inside."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        started, is_head = False, scope["method"] == "HEAD"

        async def send_with_policy(message: Message) -> None:
            nonlocal started
            if is_head and message["type"] == "http.response.body":
                message = {**message, "body": b""}
            if message["type"] == "http.response.start":
                started = True
                headers = MutableHeaders(scope=message)
                for name, value in POLICY.items():
                    headers.setdefault(name, value)
                if not scope["path"].startswith("/static/"):
                    headers.setdefault("Cache-Control", "no-store")
            await send(message)

        async def refuse(status: int, text: str) -> None:
            await _refused(scope, status, text)(scope, receive, send_with_policy)

        largest = _largest(scope["path"])
        refusal = _refusal(scope["method"], Headers(scope=scope), largest, self.hosts)
        try:
            if refusal:
                await _heard_out(receive)
                await refuse(*refusal)
            else:
                # A HEAD gets the answer of the GET, without its body.
                asked = {**scope, "method": "GET"} if is_head else scope
                await self.app(asked, _counted(receive, largest), send_with_policy)
        except ClientDisconnect:
            log.warning("%s %s: the client went away", scope["method"], scope["path"])
        except asyncio.CancelledError:
            if not started:
                await refuse(503, STOPPED)
        except TooSlow:
            await refuse(408, "This took too long to come in. Nothing was changed; send it again.")
        except Exception:
            log.exception("%s %s broke", scope["method"], scope["path"])
            if not started:
                await refuse(500, BROKE)


def _refused(scope: Scope, status: int, text: str) -> Response:
    """The page of a refusal; for a program, the same as problem details."""
    if scope["path"].startswith(f"{API}/"):
        return problem(status, text)
    return page(Request(scope), "ui/error.html", Shop(), {"text": text, "again": None, "way": TO_THE_STAND}, status)


class TooSlow(Exception):
    """A body did not arrive in time."""


class TooLarge(Exception):
    """A body without a true content length grew past the limit."""


async def _heard_out(receive: Receive) -> None:
    heard, more = 0, True
    with suppress(TimeoutError):
        async with asyncio.timeout(HEARD_OUT_SECONDS):
            while more and heard < MOST_HEARD_OUT_BYTES:
                message = await receive()
                heard += len(message.get("body", b""))
                more = bool(message.get("more_body"))


def _counted(receive: Receive, largest: int) -> Receive:
    """The request body as it arrives: its size is counted, and it has to be complete in time."""
    taken, until = 0, asyncio.get_running_loop().time() + BODY_SECONDS
    complete = False

    async def counted() -> Message:
        nonlocal taken, complete
        try:
            async with asyncio.timeout_at(None if complete else until):
                message = await receive()
        except TimeoutError:
            raise TooSlow from None
        complete = not message.get("more_body")
        taken += len(message.get("body", b""))
        if taken > largest:
            raise TooLarge
        return message

    return counted


def _largest(path: str) -> int:
    """The largest request that an address accepts."""
    return next((most for end, most in LARGEST_REQUESTS.items() if path.endswith(end)), LARGEST_REQUEST_BYTES)


def _refusal(method: str, headers: Headers, largest: int, hosts: Hosts) -> tuple[int, str] | None:
    """Status and message of a refusal; None if the request is allowed."""
    host = headers.get("host", "")
    if not _is_own(host, hosts):
        return (
            400,
            f"Host: {not_taken(host[:60], ', '.join(sorted(hosts)))} Open the workshop under its own name.",
        )
    if _is_part_of_foreign_page(headers):
        return 403, "Another site asked for a part of this workshop. Open the workshop's own page."
    if method not in WRITES:
        return None
    length = headers.get("content-length", "0")
    honest = length.isascii() and length.isdecimal() and len(length) <= LONGEST_LENGTH
    if not honest or int(length) > largest:
        read = f"{int(length) / 1e6:.1f} MB" if honest else repr(length[:20])
        allowed = f"up to {largest / 1e6:.0f} MB"
        return 413, f"file: {not_taken(read, allowed)} Nothing was changed; go back, and all is there."
    charset = _charset(headers.get("content-type", ""))
    if charset not in ("utf-8", "utf8"):
        return 415, f"charset: {not_taken(charset[:20], 'utf-8')} Nothing was changed."
    site, origin = headers.get("sec-fetch-site"), headers.get("origin")
    if site not in (None, "same-origin", "none") or (origin and not _is_from(origin, host)):
        return 403, "A write from another site was refused. Open the workshop's own page and try again."
    return None


def _is_own(host: str, hosts: Hosts) -> bool:
    """Whether a host header is exactly one of our names, with or without a port."""
    if host in hosts:
        return True
    name, colon, port = host.rpartition(":")
    is_port = port.isascii() and port.isdecimal() and len(port) <= LONGEST_PORT and 0 < int(port) <= MOST_PORT
    return bool(colon) and name in hosts and is_port


def _is_part_of_foreign_page(headers: Headers) -> bool:
    """Whether another site's page embeds something of ours (a picture, a script, a frame). Following a link from there
    is allowed."""
    if headers.get("sec-fetch-site") not in ("cross-site", "same-site"):
        return False
    is_link = headers.get("sec-fetch-mode") == "navigate" and headers.get("sec-fetch-dest") in (None, "document")
    return not is_link


def _charset(content_type: str) -> str:
    """The charset that a content type names; utf-8 where it names none."""
    parameters = EmailMessage()
    parameters["Content-Type"] = "".join(filter(str.isprintable, content_type))
    return str(parameters.get_param("charset", "utf-8")).lower()


def _is_from(origin: str, host: str) -> bool:
    """Whether an origin is our own; an origin that is no address is not."""
    try:
        return urlsplit(origin).netloc == host
    except ValueError:
        return False
