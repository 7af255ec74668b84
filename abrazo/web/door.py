"""The guard at the door: what no page, rule or statement should ever have to expect is taken out or turned away here.

Rules here
- control characters are taken out of addresses and of all typed text, but for line breaks
- a whole number in an address, or in a hidden field, that no id can be leads to a page that is not there
- a form that cannot be read as one is refused, and nothing is done
"""

from __future__ import annotations

import asyncio
import re

from starlette.datastructures import FormData
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from abrazo.formats.plain_text import plain
from abrazo.words import phrases as w

LARGEST_BODY = 21_000_000  # bytes: of a file and what goes with it
REST = 20.0  # seconds between two pieces of a form
MOST_DIGITS = 18  # of an id: SQLite's are whole numbers below 2 to the power of 63
ESCAPED_CONTROL = re.compile(rb"%(?:0[0-8bcefBCEF]|1[0-9a-fA-F]|7[fF])")
LONG_NUMBER = re.compile(rf"(?:^|/)-?[0-9]{{{MOST_DIGITS + 1},}}(?:/|$)")
NUMBERS = {
    "payer",
    "line",
    "changing",
    "said",
    "chosen",
    "page_number",
    "booking",
    "person",
    "ticket",
    "payment",
    "job",
}
NUMBERS |= {"walk_in", "version", "invoice", "day"}  # fields of addresses that are ids or count something


class Door:
    """Cleans the address of a request before any route sees it."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "http":
            scope = {**scope, "path": plain(scope["path"]), "query_string": _query(scope["query_string"])}
            if _too_large(scope):
                await PlainTextResponse(w.TOO_LARGE, 413)(scope, receive, send)
                return
            if _too_long(scope):
                await PlainTextResponse(w.NOTHING_HERE, 404)(scope, receive, send)
                return
            receive = _Body(receive, send) if scope["method"] == "POST" else receive
        await self.app(scope, receive, send)


class _Body:
    """A form on its way: it has an end, and comes without long rests."""

    def __init__(self, receive: Receive, send: Send) -> None:
        self._receive, self._send = receive, send
        self._size, self._whole = 0, False

    async def __call__(self) -> Message:
        if self._whole:
            return await self._receive()
        try:
            message = await asyncio.wait_for(self._receive(), REST)
        except TimeoutError:
            return {"type": "http.disconnect"}
        self._size += len(message.get("body", b""))
        self._whole = not message.get("more_body", False)
        return message if self._size <= LARGEST_BODY else {"type": "http.disconnect"}


def _too_large(scope: Scope) -> bool:
    length = dict(scope["headers"]).get(b"content-length", b"0")
    return length.isdigit() and int(length) > LARGEST_BODY


def _query(raw: bytes) -> bytes:
    return ESCAPED_CONTROL.sub(b"", raw)


def _too_long(scope: Scope) -> bool:
    if LONG_NUMBER.search(scope["path"]):
        return True
    pairs = (part.partition("=") for part in scope["query_string"].decode("latin-1").split("&"))
    return any(name in NUMBERS and LONG_NUMBER.search(value) for name, _, value in pairs)


async def read_fields(request: Request) -> FormData:
    """The fields of a form, without control characters in what was typed; files as they are.

    Raises HTTPException (400) when the body cannot be read as a form.
    """
    try:
        form = await request.form()
    except (LookupError, ValueError) as error:  # a character set that does not exist, bytes that are not in it
        raise HTTPException(400, w.UNREADABLE_FORM) from error
    fields = [(plain(name), plain(value) if isinstance(value, str) else value) for name, value in form.multi_items()]
    return FormData(fields)
