"""What stands before every page: who may call, from where, how much, what a page may load, and no trace ever."""

from __future__ import annotations

import logging
from collections.abc import Awaitable, Callable
from ipaddress import ip_address
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import ClientDisconnect, Request
from starlette.responses import PlainTextResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

MOST_BYTES = 21_000_000
"""Of a request's body: a job file at its largest, and a little."""
MOST_ARCHIVE = 300_000_000
"""Of an archive with its pictures [bytes]."""
ARCHIVES = ("/import", "/api/v1/archives")
"""Where archives come in."""
MOST_TYPED = 1_000_000
"""Of a form without files [bytes]: more than anybody types."""
MOST_DRAINED = 200_000_000
"""How much more of a body that is too large is read and forgotten, so that the sender gets to read why [bytes]."""

POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self'; connect-src 'self'; "
    "manifest-src 'self'; "
    "form-action 'self'; frame-ancestors 'none'; base-uri 'none'"
)
_HEADERS = {
    "content-security-policy": POLICY,
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
    "cross-origin-resource-policy": "same-origin",
}
_log = logging.getLogger("uvicorn.error")

Say = Callable[[Request, int, str, str], Response]
"""Makes an answer of a status, a title and a sentence."""


FONT_KEPT = 7 * 24 * 3600
"""How long a browser may show a typeface without asking again [s]: its address stays, and it hardly ever changes."""


class SafeHeaders:
    """Adds the security headers to every answer; pages are never taken from a cache, files of the package may be."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Handles one request."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        kept = _kept_for(scope["path"], stamped=bool(scope["query_string"]))

        async def add(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in _HEADERS.items():
                    headers[name] = value
                headers.setdefault("cache-control", kept)
            await send(message)

        await self.app(scope, receive, add)


def _kept_for(path: str, *, stamped: bool) -> str:
    """How long a browser may keep an answer.

    A file whose address changes with its content never has to be asked for again; each page has ten of them.
    """
    if not path.startswith("/static/"):
        return "no-store"
    if stamped:
        return "public, max-age=31536000, immutable"
    return f"public, max-age={FONT_KEPT}" if path.endswith(".woff2") else "no-cache"


class NoTrace:
    """Answers a defect with a sentence, under the security headers; its trace goes to the server's log."""

    def __init__(self, app: ASGIApp, say: Say) -> None:
        self.app = app
        self.say = say

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Handles one request."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        begun = False

        async def watch(message: Message) -> None:
            nonlocal begun
            begun = True
            await send(message)

        try:
            await self.app(scope, receive, watch)
        except ClientDisconnect:
            pass  # whoever asked has gone
        except Exception:
            _log.exception("A defect of Nail Count, at %s %s", scope["method"], scope["path"])
            if begun:
                raise
            sentence = "This is a defect of Nail Count, not of what you did. Everything saved before is still there."
            await self.say(Request(scope), 500, "Something broke", sentence)(scope, receive, send)


class SameOriginOnly:
    """Refuses writing requests that another site sent: by Sec-Fetch-Site where the browser says it, else by Origin.

    A program that is no browser sends neither and is let through: it holds no one's session.
    """

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Handles one request."""
        writing = scope["type"] == "http" and scope["method"] not in ("GET", "HEAD", "OPTIONS")
        if writing and not _same_origin(Headers(scope=scope)):
            refused = PlainTextResponse("Refused: this was sent from another site.\n", 403)
            await refused(scope, receive, send)
            return
        await self.app(scope, receive, send)


class BoundedBodies:
    """Refuses a body larger than anything sent here is: by what arrives, whatever its headers say.

    A body that is too large is read to its end and forgotten, or the sender would see a broken line instead of the
    sentence.
    """

    def __init__(self, app: ASGIApp, say: Say) -> None:
        self.app = app
        self.say = say

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Handles one request."""
        if scope["type"] != "http" or scope["method"] in ("GET", "HEAD", "OPTIONS"):
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        typed = headers.get("content-type", "").startswith("application/x-www-form-urlencoded")
        most = MOST_TYPED if typed else MOST_ARCHIVE if scope["path"] in ARCHIVES else MOST_BYTES
        length = headers.get("content-length", "")
        if length.isascii() and length.isdigit() and (len(length) > 12 or int(length) > most):
            await self._refuse(scope, receive, send, most)
            return
        arrived, begun, more = 0, False, True

        async def count() -> Message:
            nonlocal arrived, more
            message = await receive()
            more = bool(message.get("more_body", False))
            arrived += len(message.get("body", b""))
            if arrived > most:
                raise _TooMuch
            return message

        async def watch(message: Message) -> None:
            nonlocal begun
            begun = True
            await send(message)

        try:
            await self.app(scope, count, watch)
        except _TooMuch:
            if begun:
                raise
            await self._refuse(scope, receive, send, most, more)

    async def _refuse(self, scope: Scope, receive: Receive, send: Send, most: int, more: bool = True) -> None:
        if more:
            await _drain(receive)
        sentence = (
            f"Expected at most {most // 1_000_000} MB. Nothing was done; what you typed is still where you typed it."
        )
        await self.say(Request(scope), 413, "Too large", sentence)(scope, receive, send)


class _TooMuch(Exception):
    """More arrives than is ever sent here."""


async def _drain(receive: Callable[[], Awaitable[Message]]) -> None:
    left = MOST_DRAINED
    while left > 0:
        message = await receive()
        if message["type"] != "http.request" or not message.get("more_body", False):
            return
        left -= len(message.get("body", b""))


def _same_origin(headers: Headers) -> bool:
    site, origin = headers.get("sec-fetch-site"), headers.get("origin")
    if site is not None:
        return site in ("same-origin", "none")
    if origin is not None:
        try:
            return urlsplit(origin).netloc == headers.get("host")
        except ValueError:  # no address at all, such as http://[::1
            return False
    return True


def from_here(request: Request) -> bool:
    """Whether a request comes from this machine."""
    try:
        return request.client is not None and ip_address(request.client.host).is_loopback
    except ValueError:
        return False
