"""Match by route: our records of a day against the batch files of card machines and payment service."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from abrazo.core.errors import Refused
from abrazo.core.matching import Held, Mismatch, mismatches, recorded_mismatches
from abrazo.core.money import total
from abrazo.desk.context import House
from abrazo.desk.history import reader
from abrazo.desk.till.views.till import numbers_of
from abrazo.devices.ports import DeviceFault, StandIn
from abrazo.formats.batch_csv import read_batch
from abrazo.store import tenders, till
from abrazo.words import phrases as w
from abrazo.words.refusals import refusal_text

CARD_ELSEWHERE = "card elsewhere"


@dataclass(frozen=True, slots=True)
class RouteMatch:
    """A route of a day: what we hold, in how many movements, and what does not match. Minor units.

    `fault` says why the other side could not be asked; `by_file` that a file was given instead.
    """

    name: str
    number: int
    ours: int
    mismatches: list[Mismatch]
    fault: str = ""
    by_file: bool = False


@dataclass(frozen=True, slots=True)
class Matched:
    """All routes of a day, and the numbers of the tickets in question."""

    day: int
    routes: list[RouteMatch]
    numbers: dict[int, int]

    @property
    def wrong(self) -> int:
        """How many things do not match."""
        return sum(len(route.mismatches) + bool(route.fault) for route in self.routes)


def match_day(house: House, day_id: int, sent: Mapping[str, str] | None = None) -> Matched:
    """Compare a day's charges with the batch files, route by route; then what was only recorded.

    `sent` are batch files by device, for those that are not to be asked themselves.
    """
    devices = (*house.devices.machines.values(), house.devices.service)
    routes = [_route(house, day_id, device, (sent or {}).get(device.name)) for device in devices]
    unclaimed = [one for route in routes for one in route.mismatches]
    payments = tenders.payments_on(house.connection, day_id)
    recorded = [Held(p.route, p.given, p.ticket) for p in payments
                if p.tender == CARD_ELSEWHERE and not p.taken_back_at]  # fmt: skip
    if recorded:
        sum_ = total(held.amount for held in recorded)
        routes.append(RouteMatch(house.say(w.RECORDED_ROUTE), len(recorded), sum_,
                                 recorded_mismatches(recorded, unclaimed)))  # fmt: skip
    tickets = {one.ticket for route in routes for one in route.mismatches if one.ticket is not None}
    return Matched(day_id, routes, numbers_of(house, tickets))


def _route(house: House, day_id: int, device: StandIn, sent: str | None) -> RouteMatch:
    connection = house.connection
    day = till.read_day(connection, day_id)
    ours = [Held(*row) for row in tenders.moved_on(connection, device.name, day_id, day.opened_at if day else "",
                                                   (day.closed_at if day else None) or "9999")]  # fmt: skip
    sum_ = total(held.amount for held in ours)
    try:
        theirs = read_batch(device.batch() if sent is None else sent)
    except (DeviceFault, Refused) as fault:
        why = refusal_text(reader(house), fault) if isinstance(fault, Refused) else str(fault)
        return RouteMatch(device.name, len(ours), sum_, [], house.say(w.BATCH_UNREADABLE, why=why), sent is not None)
    moved = tenders.moved_under(connection, [one.reference for one in theirs])
    known = {reference: Held(*row) for reference, row in moved.items()}
    asked = (*tenders.open_requests(connection), *tenders.freed_charges(connection))
    unknown = {ask.charge or ask.reference: ask.ticket for ask in asked if ask.machine == device.name}
    return RouteMatch(device.name, len(ours), sum_, mismatches(ours, theirs, known, unknown), "",
                      sent is not None)  # fmt: skip
