"""One line a request, for whoever runs the house: which act, by whom, how it ended, how long it took.

Nothing of persons stands there: an act is its route, without what stood in its address or form.
"""

from __future__ import annotations

import logging
import secrets
import time
from typing import Any

from starlette.requests import Request
from starlette.types import ASGIApp, Message, Receive, Scope, Send

log = logging.getLogger("abrazo.access")


class AccessLog:
    """Writes the line when the answer has gone out; the request's id is that of a page that says it broke."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer, and write the line."""
        if scope["type"] != "http" or scope["path"].startswith("/static/"):
            await self.app(scope, receive, send)
            return
        began, status = time.perf_counter(), 0
        scope.setdefault("state", {})["request_id"] = request = secrets.token_hex(4)

        async def seen(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
            await send(message)

        try:
            await self.app(scope, receive, seen)
        finally:
            milliseconds = round((time.perf_counter() - began) * 1000, 1)
            facts = {"request": request, "act": _act(scope), **_who(scope), "status": status, "ms": milliseconds}
            log.info("request", extra={"facts": facts})


async def note_route(request: Request) -> None:
    """Keep the route's own path, with the names of what stands in it: a dependency of every route."""
    request.state.route = request.scope["route"].path


def _act(scope: Scope) -> str:
    """The method and the route; an address that leads nowhere is not written down."""
    return f"{scope['method']} {scope['state'].get('route', '')}"


def _who(scope: Scope) -> dict[str, Any]:
    row = scope["state"].get("sign_in")
    return {"staff": row.staff, "till": row.till} if row is not None else {}
