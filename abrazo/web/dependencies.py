"""What routes are given: a house on a connection of its own, and who is signed in."""

from __future__ import annotations

from collections.abc import AsyncIterator
from typing import Annotated

from fastapi import Depends
from starlette.requests import Request

from abrazo.core.states import TicketState
from abrazo.desk.context import Actor, House
from abrazo.desk.doors.counter import may_go
from abrazo.desk.overview.change_feed import latest_change
from abrazo.desk.tickets.counter_lock import held_to_counter
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket


class NeedsSignIn(Exception):
    """Nobody is signed in."""


class OnlyCounter(Exception):
    """Somebody is held to counter mode and asked for something else."""


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
    houses = request.app.state.houses
    house = houses.lend()
    request.state.seen = latest_change(house)  # before anything is read, so that no later change is taken as seen
    try:
        yield house
    except BaseException:
        houses.end(house)  # what failed may still hold a half-read answer: nobody uses its connection again
        raise
    houses.give_back(house)


OpenHouse = Annotated[House, Depends(_house)]


def actor_of(request: Request, house: House) -> Actor:
    """Who is signed in at which till."""
    people, tills = house.staff(), house.tills()
    who, till = request.session.get("staff"), request.session.get("till")
    if who not in people or till not in tills:
        raise NeedsSignIn
    return Actor(people[who], tills[till])


async def _actor(request: Request, house: OpenHouse) -> Actor:
    actor = actor_of(request, house)
    if held_to_counter(house, actor):
        number = str(request.path_params.get("ticket", ""))
        if not may_go(house, actor, request.url.path, int(number) if number.isdigit() else None):
            raise OnlyCounter
    return actor


SignedIn = Annotated[Actor, Depends(_actor)]
