"""What stands before every page: who may call, from where, how much, and what a page may load."""

from __future__ import annotations

from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

MOST_BYTES = 21_000_000
"""Of a request's body: a job file at its largest, and a little."""

POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self'; connect-src 'self'; "
    "form-action 'self'; frame-ancestors 'none'; base-uri 'none'"
)
_HEADERS = {
    "content-security-policy": POLICY,
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
    "cross-origin-resource-policy": "same-origin",
}


class SafeHeaders:
    """Adds the security headers to every answer; pages are never taken from a cache, files of the package may be."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Handles one request."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        shipped = scope["path"].startswith("/static/")

        async def add(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in _HEADERS.items():
                    headers[name] = value
                headers.setdefault("cache-control", "no-cache" if shipped else "no-store")
            await send(message)

        await self.app(scope, receive, add)


class SameOriginOnly:
    """Refuses writing requests that another site sent: by Sec-Fetch-Site where the browser says it, else by Origin.

    A program that is no browser sends neither and is let through: it holds no one's session.
    """

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Handles one request."""
        if scope["type"] == "http" and scope["method"] not in ("GET", "HEAD", "OPTIONS"):
            headers = Headers(scope=scope)
            if not _same_origin(headers):
                refusal = PlainTextResponse("Refused: this was sent from another site.\n", 403)
                await refusal(scope, receive, send)
                return
            length = headers.get("content-length", "")
            if not length.isdigit() and "transfer-encoding" in headers:
                await PlainTextResponse("Expected the length of the content.\n", 411)(scope, receive, send)
                return
            if length.isdigit() and int(length) > MOST_BYTES:
                await PlainTextResponse("Expected at most 20 MB.\n", 413)(scope, receive, send)
                return
        await self.app(scope, receive, send)


def _same_origin(headers: Headers) -> bool:
    site, origin = headers.get("sec-fetch-site"), headers.get("origin")
    if site is not None:
        return site in ("same-origin", "none")
    if origin is not None:
        return urlsplit(origin).netloc == headers.get("host")
    return True
