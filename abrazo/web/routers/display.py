"""The guests' display: a page for a second screen, which follows the ticket in work at a till."""

from __future__ import annotations

import asyncio
import functools
import json
from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from sse_starlette import EventSourceResponse, ServerSentEvent
from starlette.concurrency import run_in_threadpool
from starlette.responses import Response

from abrazo.desk.context import NotFound
from abrazo.desk.overview.guest_display import display_of, latest_change
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.pages import page

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
    return EventSourceResponse(_changes(request, till, seen))


async def _changes(request: Request, till: str, seen: int) -> AsyncIterator[ServerSentEvent]:
    state = request.app.state
    house = await run_in_threadpool(functools.partial(open_house, state.database, state.devices, known=True))
    try:
        yield ServerSentEvent(comment="following")
        waited = 0.0
        while waited < LOOK_FOR and not await request.is_disconnected():
            if await run_in_threadpool(latest_change, house, till) != seen:
                yield ServerSentEvent(json.dumps({"onward": urls.display(till=till)}), event="ended")
                return
            await asyncio.sleep(LOOK_EVERY)
            waited += LOOK_EVERY
    finally:
        await run_in_threadpool(close_house, house)
