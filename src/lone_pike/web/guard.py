"""What every request passes: size limit, refusal of cross-site writes, and the policy headers."""

from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import Request
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from lone_pike.formats.photo_file import LARGEST_BYTES
from lone_pike.formats.shop import Shop
from lone_pike.web.pages import page

LARGEST_REQUEST_BYTES = 1024 * 1024
LARGEST_PHOTO_REQUEST_BYTES = LARGEST_BYTES + 100_000
MOST_HEARD_OUT_BYTES = 512 * 1024 * 1024
"""Of a request that is refused: a browser shows the answer only when it has been let finish."""

WRITES = frozenset({"POST", "PUT", "PATCH", "DELETE"})
POLICY = {
    "Content-Security-Policy": "default-src 'self'; frame-ancestors 'none'; form-action 'self'; base-uri 'self'",
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
}


class RequestGuard:
    """ASGI middleware."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Refuses what must not come in, and puts the policy on what goes out."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def send_with_policy(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in POLICY.items():
                    headers.setdefault(name, value)
                if not scope["path"].startswith("/static/"):
                    headers.setdefault("Cache-Control", "no-store")
            await send(message)

        largest = LARGEST_PHOTO_REQUEST_BYTES if scope["path"].endswith("/photo") else LARGEST_REQUEST_BYTES
        refusal = _refusal(scope["method"], Headers(scope=scope), largest)
        if refusal:
            await _heard_out(receive)
            status, text = refusal
            answer = page(Request(scope), "error.html", Shop(), {"text": text}, status)
            await answer(scope, receive, send_with_policy)
            return
        await self.app(scope, _counted(receive, largest), send_with_policy)


class TooLarge(Exception):
    """A body without an honest length grew past the limit."""


async def _heard_out(receive: Receive) -> None:
    heard, more = 0, True
    while more and heard < MOST_HEARD_OUT_BYTES:
        message = await receive()
        heard += len(message.get("body", b""))
        more = bool(message.get("more_body"))


def _counted(receive: Receive, largest: int) -> Receive:
    taken = 0

    async def counted() -> Message:
        nonlocal taken
        message = await receive()
        taken += len(message.get("body", b""))
        if taken > largest:
            raise TooLarge
        return message

    return counted


def _refusal(method: str, headers: Headers, largest: int) -> tuple[int, str] | None:
    """Status and words of a refusal; None where the request may come in."""
    if method not in WRITES:
        return None
    length = headers.get("content-length", "0")
    if not length.isdecimal() or int(length) > largest:
        read = f"{int(length) / 1e6:.1f} MB" if length.isdecimal() else repr(length[:20])
        allowed = f"allowed: up to {largest / 1e6:.0f} MB"
        return 413, f"file: read {read}; {allowed}. Nothing was changed; go back, and all is there."
    site, origin = headers.get("sec-fetch-site"), headers.get("origin")
    if site not in (None, "same-origin", "none") or (origin and urlsplit(origin).netloc != headers.get("host")):
        return 403, "A write from another site was refused. Open the workshop's own page and try again."
    return None
