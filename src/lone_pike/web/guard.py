"""What every request passes: size limit, refusal of cross-site writes, and the policy headers."""

from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

LARGEST_REQUEST_BYTES = 1024 * 1024
WRITES = frozenset({"POST", "PUT", "PATCH", "DELETE"})
POLICY = {
    "Content-Security-Policy": "default-src 'self'; frame-ancestors 'none'; form-action 'self'; base-uri 'self'",
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
}


class Guard:
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

        refusal = _refusal(scope["method"], Headers(scope=scope))
        if refusal:
            await refusal(scope, receive, send_with_policy)
            return
        await self.app(scope, _counted(receive), send_with_policy)


class TooLarge(Exception):
    """A body without an honest length grew past the limit."""


def _counted(receive: Receive) -> Receive:
    taken = 0

    async def counted() -> Message:
        nonlocal taken
        message = await receive()
        taken += len(message.get("body", b""))
        if taken > LARGEST_REQUEST_BYTES:
            raise TooLarge
        return message

    return counted


def _refusal(method: str, headers: Headers) -> PlainTextResponse | None:
    if method not in WRITES:
        return None
    length = headers.get("content-length", "0")
    if not length.isdecimal() or int(length) > LARGEST_REQUEST_BYTES:
        text = f"file: read {length} bytes; allowed: up to {LARGEST_REQUEST_BYTES // 1024} kB. Nothing was changed."
        return PlainTextResponse(text, 413)
    site, origin = headers.get("sec-fetch-site"), headers.get("origin")
    if site not in (None, "same-origin", "none") or (origin and urlsplit(origin).netloc != headers.get("host")):
        text = "A write from another site was refused. Open the workshop's own page and try again."
        return PlainTextResponse(text, 403)
    return None
