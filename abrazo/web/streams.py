"""Server-sent events: a stream looks again and again, and ends with its reader or with the process."""

from __future__ import annotations

import asyncio
import functools
from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager

import anyio
from sse_starlette import EventSourceResponse, ServerSentEvent
from starlette.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import Response

from abrazo.desk.context import House
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.web.served import served

GRACE = 1.0  # seconds that a stream has to end when the process ends: each looks more often than that


def stream(events: Callable[[anyio.Event], AsyncIterator[ServerSentEvent]]) -> Response:
    """A response of events; what makes them is given what is set when the process ends."""
    ending = anyio.Event()
    return EventSourceResponse(events(ending), shutdown_event=ending, shutdown_grace_period=GRACE)


async def looks(request: Request, ending: anyio.Event, every: float, most: float) -> AsyncIterator[None]:
    """Once for each look: `every` so many seconds, for at most so many, while somebody is there to be told."""
    waited = 0.0
    while waited < most and not ending.is_set() and not await request.is_disconnected():
        yield
        await asyncio.sleep(every)
        waited += every


@asynccontextmanager
async def own_house(request: Request) -> AsyncIterator[House]:
    """A house for as long as a stream lasts: the request's own is another's by then."""
    of = served(request)
    house = await run_in_threadpool(functools.partial(open_house, of.database, of.devices, known=True))
    try:
        yield house
    finally:
        with anyio.CancelScope(shield=True):  # a reader who goes away cancels the stream, and nothing is left open
            await run_in_threadpool(close_house, house)
