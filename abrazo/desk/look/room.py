"""Today: every table with its state, and the queue of what waits to be settled."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from abrazo.desk.house import House
from abrazo.desk.whole import Whole, read_whole
from abrazo.store import room
from abrazo.store import ticket as kept
from abrazo.store.db import snapshot
from abrazo.store.room import Spot

EATING_AFTER = 10 * 60  # seconds since the last line was added; common practice, for looking at only


@dataclass(frozen=True, slots=True)
class TableState:
    """One table on the floor plan. Amounts in minor units; `state` in words."""

    spot: Spot
    ticket: int | None = None
    guests: int = 0
    minutes: int = 0
    total: int = 0
    paid: int = 0
    due: int = 0
    state: str = "free"
    names: tuple[str, ...] = ()

    @property
    def ticket_first(self) -> bool:
        """Sorts busy tables before free ones."""
        return self.ticket is None


@dataclass(frozen=True, slots=True)
class Waiting:
    """A card of the queue: why it waits, and the one thing to do."""

    ticket: int
    number: int
    version: int
    name: str
    guests: int
    amount: int
    reason: str
    act: str  # ask, free, share, pay, look
    rank: tuple[int, str]
    paid: int = 0
    payer: str = ""
    urgent: bool = False


@dataclass(frozen=True, slots=True)
class Today:
    """The Room and its queue at one moment."""

    tables: list[TableState]
    queue: list[Waiting]
    waiting: int

    @property
    def owed(self) -> int:
        """What all busy tables still owe."""
        return sum(table.due for table in self.tables)


def minutes_since(house: House, then: str) -> int:
    """Whole minutes from a kept time until now."""
    return max(0, int((house.clock.now() - datetime.fromisoformat(then)).total_seconds() // 60))


def state_of(house: House, whole: Whole) -> str:
    """A ticket's state in words."""
    bill = whole.bill
    if any(ask.state == "unknown" for ask in whole.open_asks):
        return "card unknown"
    if whole.open_asks:
        return "card under way"
    if whole.taken and bill.due == 0:
        return "paid"
    if whole.taken:
        return "part paid"
    if whole.head.bill_asked_at:
        return "bill asked"
    if not whole.standing:
        return "just seated"
    quiet = (house.clock.now() - datetime.fromisoformat(whole.standing[-1].added_at)).total_seconds()
    return "eating" if quiet > EATING_AFTER else "ordering"


def today(house: House) -> Today:
    """Everything the Room shows."""
    with snapshot(house.connection):
        spots = {spot.id: spot for spot in room.list_spots(house.connection)}
        open_tickets = [read_whole(house, ticket) for ticket in kept.list_open(house.connection)]
    by_spot = {whole.head.spot: whole for whole in open_tickets}
    tables = [_table(house, spot, by_spot.get(spot.id)) for spot in spots.values()]
    queue = [card for whole in open_tickets if (card := _waiting(house, whole, spots))]
    queue.sort(key=lambda card: card.rank)
    return Today(tables, queue[:5], len(queue))


def _table(house: House, spot: Spot, whole: Whole | None) -> TableState:
    if whole is None:
        return TableState(spot)
    bill = whole.bill
    total = bill.total + sum(payer.account.tip for payer in bill.payers)
    return TableState(
        spot=spot,
        ticket=whole.head.id,
        guests=len(whole.guests),
        minutes=minutes_since(house, whole.head.opened_at),
        total=total,
        paid=bill.paid,
        due=bill.due,
        state=state_of(house, whole),
        names=tuple(guest.name for guest in whole.guests if guest.name),
    )


def _waiting(house: House, whole: Whole, spots: dict[str, Spot]) -> Waiting | None:
    head, bill, state = whole.head, whole.bill, state_of(house, whole)
    name = spots[head.spot].name if head.spot else f"Ticket {head.number}"
    ready = "share" if len(whole.guests) > 1 and not whole.shared else "pay"
    reasons = {
        "card unknown": (0, "The card machine did not answer; the charge may have gone through", "ask"),
        "paid": (1, "Everybody has paid", "free"),
        "part paid": (2, "is paid, the rest waits", "pay"),
        "bill asked": (3, f"Bill asked {minutes_since(house, head.bill_asked_at or head.opened_at)} min ago", ready),
        "card under way": (4, "On the card machine now", "look"),
        "eating": (5, f"Seated {minutes_since(house, head.opened_at)} min, nothing asked yet", ready),
    }
    if state not in reasons:
        return None
    rank, reason, act = reasons[state]
    payer = next((p.letter for p in whole.payers if whole.payer_bill(p.id).account.due), "")
    since = head.bill_asked_at or head.opened_at
    return Waiting(
        ticket=head.id,
        number=head.number,
        version=head.version,
        name=name,
        guests=len(whole.guests),
        amount=bill.due or bill.paid,
        reason=reason,
        act=act,
        rank=(rank, since),
        paid=bill.paid,
        payer=payer,
        urgent=rank < 4,
    )
