"""Past tickets: closed ones, newest first, each as it was."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.desk.house import House
from abrazo.desk.look.receipt import place_of
from abrazo.desk.whole import Whole, read_whole
from abrazo.store import journal
from abrazo.store import ticket as kept

PAGE = 12


@dataclass(frozen=True, slots=True)
class PastTicket:
    """A row of the list. Minor units."""

    id: int
    number: int
    place: str
    closed_at: str
    server: str
    till: str
    total: int
    tips: int
    routes: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class PastPage:
    """One page of the list, counted from 1, and the ticket chosen from it."""

    tickets: list[PastTicket]
    page: int
    pages: int
    number: int


def past_page(house: House, page: int) -> PastPage:
    """A page of closed tickets."""
    number = kept.count_closed(house.connection)
    pages = max(1, -(-number // PAGE))
    page = min(max(page, 1), pages)
    ids = kept.list_closed(house.connection, PAGE, (page - 1) * PAGE)
    return PastPage([_row(house, read_whole(house, ticket)) for ticket in ids], page, pages, number)


def _row(house: House, whole: Whole) -> PastTicket:
    return PastTicket(
        id=whole.head.id,
        number=whole.head.number,
        place=place_of(house, whole),
        closed_at=whole.head.closed_at or "",
        server=house.staff()[whole.head.staff].name,
        till=house.tills()[whole.head.till].name,
        total=whole.bill.total,
        tips=sum(payer.account.tip for payer in whole.bill.payers),
        routes=tuple(dict.fromkeys(payment.route for payment in whole.taken)),
    )


def history(house: House, ticket: int) -> list[journal.Entry]:
    """Everything that was done to a ticket, oldest first."""
    return journal.of_ticket(house.connection, ticket)
