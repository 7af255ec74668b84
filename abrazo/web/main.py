"""The application: routers, sessions and headers."""

from __future__ import annotations

import os
import secrets
from collections.abc import AsyncIterator, Callable, Mapping
from contextlib import asynccontextmanager, suppress
from importlib import resources
from pathlib import Path
from typing import Protocol

import anyio.to_thread
from fastapi import APIRouter, Depends, FastAPI
from fastapi.routing import APIRoute
from starlette.middleware.sessions import SessionMiddleware
from starlette.staticfiles import StaticFiles
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from abrazo.desk.context import Devices, key_file
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.web.access_log import AccessLog, note_route
from abrazo.web.assets import styles
from abrazo.web.door import Door
from abrazo.web.errors import add_handlers
from abrazo.web.health import health
from abrazo.web.rights import must_stand_here
from abrazo.web.routers import (
    account_list,
    accounts,
    adjustments,
    booking_rules,
    booking_sheets,
    bookings,
    brought,
    counter,
    courses,
    customer,
    devices,
    display,
    file_imports,
    floor,
    held,
    hire,
    invoices,
    job_changes,
    jobs,
    matching,
    merging,
    moving,
    own_tips,
    owners,
    past,
    people,
    phone_orders,
    prep,
    receipts,
    role_rights,
    room,
    set_aside,
    set_up,
    set_up_things,
    sharing,
    sign_in,
    signatures,
    statements,
    stock,
    tables_out,
    tabs,
    taking_off,
    tenders,
    ticket,
    till,
    tip_pool,
    tips,
)
from abrazo.web.served import ServedHouses

THREADS = 6  # that answer requests: enough for a slow device, few enough not to take the interpreter from one another
SHIFT = 14 * 60 * 60  # seconds that a sign-in lasts

SECURE = b"; Secure"  # added to cookies behind TLS
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
                headers = message.get("headers", [])
                if scope["scheme"] == "https":
                    extra[b"strict-transport-security"] = b"max-age=31536000"
                    headers = [(name, text + SECURE if name == b"set-cookie" else text) for name, text in headers]
                message["headers"] = [*headers, *extra.items()]
            await send(message)

        await self.app(scope, receive, with_headers if scope["type"] == "http" else send)


class Background(Protocol):
    """Work that goes on whoever looks, while the application answers."""

    def start(self) -> None:
        """Begin."""

    def stop(self) -> None:
        """End what is under way."""


def signing_key(database: Path, before: str) -> str:
    """What cookies are signed with: in a file of its own beside the database, made when there is none yet.

    `before` is the one that the database of an earlier version held.
    """
    file = key_file(database)
    if not file.exists():
        new = file.with_name(f"{file.name}-{secrets.token_hex(4)}")
        with os.fdopen(os.open(new, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600), "w", encoding="ascii") as written:
            written.write(before or secrets.token_hex(32))
        with suppress(FileExistsError):  # another process of the house was quicker: its key holds
            os.link(new, file)
        new.unlink()
    return file.read_text("ascii")


def include(app: FastAPI, router: APIRouter) -> None:
    """Take a router's routes in. Raises NotInTable for one that is not in the table of rights."""
    routes = (route for route in router.routes if isinstance(route, APIRoute))
    must_stand_here(f"{method} {route.path}" for route in routes for method in route.methods or ())
    app.include_router(router)


def create_app(
    database: Path,
    house_devices: Devices | None = None,
    pins: Mapping[str, str] | None = None,
    worker: Callable[[Path, Devices], Background] | None = None,
    *,
    access_log: bool = False,
) -> FastAPI:
    """The application on a database that holds a house. `pins` are shown on the sign-in page: the demo's only.

    `worker` makes what goes on beside the pages in this process; None when another process does that. With `access_log`
    every request is written down.
    """
    house_devices = house_devices or Devices.beside(database)
    first = open_house(database, house_devices)
    settings = first.settings
    close_house(first)

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        anyio.to_thread.current_default_thread_limiter().total_tokens = THREADS
        background = worker(database, house_devices) if worker else None
        if background:
            background.start()
        yield
        if background:
            background.stop()
        app.state.served.close()

    noting = [Depends(note_route)] if access_log else []
    app = FastAPI(
        title="Abrazo", lifespan=lifespan, docs_url=None, redoc_url=None, openapi_url=None, dependencies=noting
    )
    app.state.served = ServedHouses(database, house_devices, first.clock)
    app.state.pins = pins if pins and settings.demo else {}
    app.state.secret = signing_key(database, settings.secret)
    app.add_middleware(SessionMiddleware, secret_key=app.state.secret, same_site="strict", max_age=SHIFT)
    app.add_middleware(Headers)
    app.add_middleware(Door)
    if access_log:
        app.add_middleware(AccessLog)
    add_handlers(app)
    for router in (  # the first that fits answers, so what is asked for all day stands first
        ticket,
        tenders,
        room,
        taking_off,
        sharing,
        tips,
        devices,
        counter,
        prep,
        display,
        sign_in,
        booking_rules,
        booking_sheets,
        bookings,
        courses,
        job_changes,
        jobs,
        held,
        owners,
        hire,
        set_aside,
        tabs,
        statements,
        account_list,
        accounts,
        people,
        moving,
        customer,
        signatures,
        adjustments,
        own_tips,
        phone_orders,
        floor,
        stock,
        invoices,
        role_rights,
        receipts,
        till,
        past,
        set_up,
        tables_out,
        set_up_things,
        brought,
        file_imports,
        tip_pool,
        matching,
        merging,
    ):
        include(app, router.router)
    include(app, jobs.on_tickets)
    include(app, hire.on_tickets)
    include(app, set_aside.on_tickets)
    static = resources.files("abrazo.web") / "static"
    app.add_route("/static/abrazo.css", styles)
    app.add_route("/health", health)
    app.mount("/static", StaticFiles(directory=str(static)), name="static")
    return app
