"""Payouts of card machines and payment service: what was charged waits in a clearing account until it is paid out."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import timedelta

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked
from abrazo.core.journal import Kind
from abrazo.core.ledger import money_account, payout_postings
from abrazo.core.matching import older_than
from abrazo.core.money import total
from abrazo.core.states import Tender
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import Right
from abrazo.store import journal

OLD = timedelta(days=5)  # after which a payout should have come


@dataclass(frozen=True, slots=True)
class Clearing:
    """What of a route waits for its payout, and what of that is older than five days; minor units."""

    waits: int
    old: int


def clearing(house: House, routes: Iterable[str]) -> dict[str, Clearing]:
    """What waits, by route."""
    return {route: _clearing(house, route) for route in routes}


def _clearing(house: House, route: str) -> Clearing:
    account, since = money_account(Tender.CARD, route), house.stamp(OLD)
    waits = journal.balance(house.connection, account)
    recent = journal.posted_since(house.connection, account, since, Kind.PAYOUT)
    return Clearing(waits, older_than(waits, recent))


def receive_payout(house: House, actor: Actor, route: str, amounts: tuple[int, int], key: str) -> None:
    """What came to the bank, and the fee that was kept of it (minor units), leave the route's clearing account."""
    if route not in {*house.devices.machines, house.devices.service.name}:
        raise NotFound(f"no route {route}")
    arrived, fee = amounts
    if arrived <= 0:
        raise Refused(Code.NO_AMOUNT, "arrived")
    if fee < 0:
        raise Refused(Code.NEGATIVE_TOTAL, "fee")
    with acting(house, actor, "payout", key, route, Right.SEE_REPORTS) as act:
        if act.done is not None:
            return
        waits = _clearing(house, route).waits
        if total((arrived, fee)) > waits:
            raise Refused(Code.MORE_THAN_WAITS, "arrived", waits=waits)
        booked = Booked(payout_postings(route, arrived, fee))
        act.record(Kind.PAYOUT, None, booked, route=route, amount=arrived, fee=fee, lender=act.by)
