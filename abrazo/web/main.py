"""The application: routers, sessions, headers, and the thread that follows the card machines."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import AsyncIterator, Mapping
from contextlib import asynccontextmanager
from importlib import resources
from pathlib import Path

import anyio.to_thread
from fastapi import FastAPI
from starlette.middleware.sessions import SessionMiddleware
from starlette.staticfiles import StaticFiles
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from abrazo.desk import following, freeing, send
from abrazo.desk.house import Devices
from abrazo.desk.set_up import Houses, close_house, open_house, tidy_up
from abrazo.web.door import Door
from abrazo.web.errors import add_handlers
from abrazo.web.pulse import Pulse
from abrazo.web.routers import (
    adjusting,
    bookings,
    counter,
    devices,
    display,
    floor,
    goods,
    jobs,
    moving,
    orders,
    own,
    past,
    people,
    prep,
    receipts,
    room,
    set_up,
    sharing,
    sign_in,
    signing,
    tabs,
    taking_off,
    ticket,
    till,
    tips,
    whose,
)
from abrazo.web.routers import habits as habits_router
from abrazo.web.routers import tenders as tenders_router

THREADS = 6  # that answer requests: enough for a slow device, few enough not to take the interpreter from one another
TIDY_EVERY = 5.0  # seconds between checkpoints of the log of writes, and looks for tables that free themselves
SHIFT = 14 * 60 * 60  # seconds that a sign-in lasts
log = logging.getLogger("abrazo.web")

HEADERS = {
    b"content-security-policy": b"default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; "
    b"font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'",
    b"x-content-type-options": b"nosniff",
    b"referrer-policy": b"same-origin",
}


class Headers:
    """Adds the security headers to every answer; pages are never kept by caches."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        async def with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                extra = dict(HEADERS)
                static = scope["path"].startswith("/static/")
                extra[b"cache-control"] = b"public, max-age=600" if static else b"no-store"
                message["headers"] = [*message.get("headers", []), *extra.items()]
            await send(message)

        await self.app(scope, receive, with_headers if scope["type"] == "http" else send)


class Follower:
    """One thread that takes open charges on, so that they go on whoever looks at them."""

    def __init__(self, database: Path, devices: Devices) -> None:
        self.house = open_house(database, devices)
        self._ended = threading.Event()
        self._thread = threading.Thread(target=self._run, name="follower", daemon=True)

    def start(self) -> None:
        """First ask for what an earlier process left open, then follow."""
        following.follow(self.house, after_start=True)
        send.send_waiting(self.house)
        self._thread.start()

    def stop(self) -> None:
        self._ended.set()
        self._thread.join(5)
        close_house(self.house)

    def _run(self) -> None:
        tidied = time.monotonic()
        while not self._ended.is_set():
            try:
                if time.monotonic() - tidied > TIDY_EVERY:
                    tidied = time.monotonic()
                    tidy_up(self.house)
                    freeing.free_paid(self.house)
                busy = following.follow(self.house)
                send.send_waiting(self.house)
            except Exception:  # one charge that can't be taken on must not stop the others
                log.exception("a card machine could not be followed")
                busy = False
            following.wait_for_work(0.1 if busy else 1.0)


def create_app(database: Path, house_devices: Devices | None = None, pins: Mapping[str, str] | None = None) -> FastAPI:
    """The application on a database that holds a house. `pins` are shown on the sign-in page: the demo's only."""
    house_devices = house_devices or Devices.beside(database)
    first = open_house(database, house_devices)
    settings = first.settings
    close_house(first)

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        anyio.to_thread.current_default_thread_limiter().total_tokens = THREADS
        follower = Follower(database, house_devices)
        follower.start()
        yield
        follower.stop()
        app.state.pulse.close()
        app.state.houses.close()

    app = FastAPI(title="Abrazo", lifespan=lifespan, docs_url=None, redoc_url=None, openapi_url=None)
    app.state.database, app.state.devices, app.state.settings = database, house_devices, settings
    app.state.houses = Houses(database, house_devices, settings)
    app.state.pulse = Pulse(database, house_devices, settings)
    app.state.pins = pins if pins and settings.demo else {}
    app.add_middleware(SessionMiddleware, secret_key=settings.secret, same_site="strict", max_age=SHIFT)
    app.add_middleware(Headers)
    app.add_middleware(Door)
    add_handlers(app)
    for router in (
        sign_in,
        room,
        bookings,
        jobs,
        tabs,
        people,
        moving,
        ticket,
        taking_off,
        sharing,
        whose,
        tips,
        tenders_router,
        signing,
        adjusting,
        own,
        orders,
        prep,
        counter,
        floor,
        goods,
        habits_router,
        receipts,
        till,
        past,
        set_up,
        devices,
        display,
    ):
        app.include_router(router.router)
    app.include_router(jobs.on_tickets)
    static = resources.files("abrazo.web") / "static"
    app.mount("/static", StaticFiles(directory=str(static)), name="static")
    return app
