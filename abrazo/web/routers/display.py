"""The guests' display: a page for a second screen, which follows the ticket in work at a till."""

from __future__ import annotations

import functools
import json
from collections.abc import AsyncIterator

import anyio
from fastapi import APIRouter, Request
from sse_starlette import ServerSentEvent
from starlette.concurrency import run_in_threadpool
from starlette.responses import Response

from abrazo.desk.context import NotFound
from abrazo.desk.overview.guest_display import display_of, latest_change
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.pages import page
from abrazo.web.streams import looks, own_house, stream

router = APIRouter(prefix="/display")
LOOK_EVERY, LOOK_FOR = 0.25, 600.0  # seconds; the browser connects again by itself


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn, till: str = "") -> Response:
    """What guests see at a till."""
    chosen = till or actor.till.id
    if chosen not in house.tills():
        raise NotFound(f"no till {chosen!r}")
    return page(request, house, actor, "display/page.html", d=display_of(house, chosen), till=chosen, notice=None)


@router.get("/live")
def live(request: Request, house: OpenHouse, actor: SignedIn, till: str, seen: int) -> Response:
    """Server-sent events: one, when something was done to a ticket at the till."""
    return stream(functools.partial(_changes, request, till, seen))


async def _changes(request: Request, till: str, seen: int, ending: anyio.Event) -> AsyncIterator[ServerSentEvent]:
    async with own_house(request) as house:
        yield ServerSentEvent(comment="following")
        async for _ in looks(request, ending, LOOK_EVERY, LOOK_FOR):
            if await run_in_threadpool(latest_change, house, till) != seen:
                yield ServerSentEvent(json.dumps({"onward": urls.display(till=till)}), event="ended")
                return
