"""What routes are given: a house on a connection of its own, and who is signed in."""

from __future__ import annotations

import secrets
from collections.abc import AsyncIterator
from dataclasses import replace
from typing import Annotated, cast

from fastapi import Depends
from itsdangerous import BadSignature, Signer
from starlette.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import Response

from abrazo.core.errors import Refused
from abrazo.core.states import TicketState
from abrazo.desk.act import note_refused
from abrazo.desk.context import Actor, House
from abrazo.desk.doors.counter import may_go
from abrazo.desk.permissions import RIGHTS, has, need
from abrazo.desk.setup.founding import Houses
from abrazo.desk.sign_in import SignInRow, is_to_be_noted, lend, signed_in, still_here
from abrazo.desk.tickets.counter_lock import held_to_counter
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.web.forms.base import read_form
from abrazo.web.rights import right_of
from abrazo.web.served import real_house, served

SCREEN, A_YEAR = "screen", 365 * 24 * 3600
READS_SLIPS = ("/prep", "/display")  # pages that are looked at for long without a touch


class NeedsSignIn(Exception):
    """Nobody is signed in."""


class OnlyCounter(Exception):
    """Somebody is held to counter mode and asked for something else."""


class GoTo(Exception):
    """Something has to be said on another page first."""

    def __init__(self, url: str) -> None:
        super().__init__(url)
        self.url = url


class Ended(Exception):
    """A page is about an open ticket, and this one has ended: it is among the past ones."""

    def __init__(self, ticket: int) -> None:
        super().__init__(ticket)
        self.ticket = ticket


def open_ticket(house: House, ticket: int) -> TicketSnapshot:
    """A ticket for a page about open ones. Raises Ended, NotFound."""
    whole = load_ticket(house, ticket)
    if whole.head.state != TicketState.OPEN:
        raise Ended(ticket)
    return whole


# What routes are given is read on the loop's own thread: a few rows are there sooner than a thread of the pool is, and
# readers wait for nobody.


async def _house(request: Request) -> AsyncIterator[House]:
    async for house in _lent(served(request).houses):
        yield house


async def _real_house(request: Request) -> AsyncIterator[House]:
    async for house in _lent(real_house(request).houses):
        yield house


async def _lent(houses: Houses) -> AsyncIterator[House]:
    house = houses.lend()
    try:
        yield house
    except BaseException:
        houses.end(house)  # what failed may still hold a half-read answer: nobody uses its connection again
        raise
    houses.give_back(house)


OpenHouse = Annotated[House, Depends(_house)]  # the one that is worked in, also a copy to practise on
RealHouse = Annotated[House, Depends(_real_house)]  # where PINs are asked for


def actor_of(request: Request, house: House) -> Actor:
    """Who is signed in at which till."""
    row = _standing(request, house)
    people, tills = house.workers(), house.tills_in_use()
    if row is None or row.staff not in people or row.till not in tills:
        raise NeedsSignIn
    if people[row.staff].in_training:  # since a moment ago: in a copy nobody is
        raise NeedsSignIn
    return Actor(people[row.staff], tills[row.till], screen=screen_of(request))


def _standing(request: Request, house: House) -> SignInRow | None:
    """The sign-in that the request's cookie stands for, when it still does."""
    if not hasattr(request.state, "sign_in"):
        reads = request.url.path.startswith(READS_SLIPS)
        row = signed_in(house, request.session.get("sign_in", ""), reads_slips=reads)
        request.state.sign_in = row
        request.state.seen = row.latest if row else 0  # read before all else: no later change is taken as seen
    return cast("SignInRow | None", request.state.sign_in)


def screen_of(request: Request) -> str:
    """The mark of a screen at which somebody signed in before; of any other one its address."""
    try:
        return Signer(request.app.state.secret, SCREEN).unsign(request.cookies.get(SCREEN, "")).decode()
    except BadSignature:
        return f"address {request.client.host}" if request.client else ""


def mark_screen(request: Request, response: Response) -> None:
    """Give a screen at which a PIN was right its mark."""
    if screen_of(request).startswith("address "):
        mark = Signer(request.app.state.secret, SCREEN).sign(secrets.token_urlsafe(12)).decode()
        response.set_cookie(SCREEN, mark, max_age=A_YEAR, httponly=True, samesite="strict")


async def _actor(request: Request, house: OpenHouse) -> Actor:
    actor = await _rightful(request, house, actor_of(request, house))
    row = _standing(request, house)
    if row is not None and "x-fresh" not in request.headers and is_to_be_noted(house, row):
        await run_in_threadpool(still_here, house, row)  # what writes may wait, and nobody else waits with it
    if held_to_counter(house, actor):
        number = str(request.path_params.get("ticket", ""))
        if not may_go(house, actor, request.url.path, int(number) if number.isdigit() else None):
            raise OnlyCounter
    return actor


async def _rightful(request: Request, house: House, actor: Actor) -> Actor:
    """Who is signed in, with whoever lends them the right that the route needs. Refused without it."""
    right = right_of(request.method, request.scope["route"].path)
    if right is None or has(actor.staff, right):
        return actor
    if request.method == "POST" and RIGHTS[right].lent:
        form = await read_form(request)
        if pin := str(form.get("pin", "")).strip():
            lender = await run_in_threadpool(lend, house, actor, str(form.get("lender", "")), pin)
            actor = replace(actor, lender=lender)
    try:
        need(actor, right)
    except Refused as refusal:
        await run_in_threadpool(note_refused, house, actor, refusal)
        raise
    return actor


SignedIn = Annotated[Actor, Depends(_actor)]
