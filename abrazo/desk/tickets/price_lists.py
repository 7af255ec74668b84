"""What an item costs now: the ticket's own price list, else the one that holds at this hour, else its usual price."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.prices import Hours, list_now
from abrazo.core.states import Source
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.store import catalogue, journal, prices
from abrazo.store import lines as lines_kept
from abrazo.store import ticket as ticket_store
from abrazo.store.catalogue import Item
from abrazo.store.prices import PriceList
from abrazo.store.ticket import TicketRow

USUAL = "usual"  # the list of a ticket that keeps the usual prices whatever the hour


@dataclass(frozen=True, slots=True)
class Prices:
    """The list that holds, its name (empty for the usual prices) and its prices in minor units by item."""

    name: str
    by_item: dict[str, int]

    def of(self, item: Item) -> Item:
        """The item with the price that it has now."""
        return replace(item, price=self.by_item.get(item.id, item.price))

    def named(self, item: str) -> str:
        """The list's name, when it gives this item its price."""
        return self.name if item in self.by_item else ""


def all_lists(house: House) -> list[PriceList]:
    """The house's price lists, in its order."""
    return prices.list_lists(house.connection)


def prices_now(house: House, chosen: str = "") -> Prices:
    """The prices that hold now; `chosen` is the list that a ticket was given by hand."""
    lists = all_lists(house)
    now = house.now()
    held = chosen or list_now([_hours(one) for one in lists], now.date(), now.hour * 60 + now.minute)
    found = next((one for one in lists if one.id == held), None)
    return Prices(found.name, prices.prices_of(house.connection, found.id)) if found else Prices("", {})


def _hours(one: PriceList) -> Hours:
    first, last = (date.fromisoformat(on) if on else None for on in (one.first_on, one.last_on))
    return Hours(one.id, frozenset(map(int, one.days)), _minute(one.begins), _minute(one.ends), first, last)


def _minute(clock: str) -> int:
    hour, minute = clock.split(":")
    return int(hour) * 60 + int(minute)


@dataclass(frozen=True, slots=True)
class Changed:
    """A line whose item costs something else by now; minor units for one."""

    line: int
    label: str
    then: int
    now: int


def changed_since(house: House, whole: TicketSnapshot) -> list[Changed]:
    """What of a saved ticket costs something else today; prices that were overtyped, and services booked, stay."""
    variable, now = catalogue.variable_items(house.connection), prices_now(house, whole.head.price_list)
    found = []
    items = house.items(line.item for line in whole.standing)
    for line in whole.standing:
        item = items[line.item]
        if item is None or line.item in variable or line.booking or line.job or line.stored:
            continue
        price = now.of(item).price
        if price != line.unit_price:
            found.append(Changed(line.id, line.label, line.unit_price, price))
    overtyped = _overtyped(house, whole) if found else set()
    return [one for one in found if one.line not in overtyped]


def _overtyped(house: House, whole: TicketSnapshot) -> set[object]:
    """The lines whose price somebody typed."""
    entries = journal.of_ticket(house.connection, whole.head.id)
    return {entry.facts["line"] for entry in entries if entry.kind == Kind.LINE_REPRICED}


def to_ask(house: House, whole: TicketSnapshot) -> list[Changed]:
    """What to show of a ticket that is taken up again, until somebody said which prices it has; else nothing.

    On hold, an order, or closed and opened again. A ticket of which something is paid keeps the prices that were paid.
    """
    if whole.taken or whole.head.voiding_at or not _unsaid(house, whole.head):
        return []
    return changed_since(house, whole)


def _unsaid(house: House, head: TicketRow) -> bool:
    """Whether a ticket was taken up again and nobody said since which prices it has; of an order, on this date."""
    kept, since = head.prices_kept_at or "", max(head.held_at or "", head.reopened_at or "")
    if since:
        return kept < since
    return head.source == Source.PHONE and (not kept or house.wall(kept).date() != house.now().date())


def check_said(edit: TicketChange) -> None:
    """Refused while nobody said which prices a ticket has that would come back by being moved."""
    asked = to_ask(edit.house, edit.whole)
    if asked:
        raise Refused(Code.PRICES_FIRST, "to", label=asked[0].label, number=edit.whole.head.number)


def keep_prices(house: House, actor: Actor, on: OnTicket) -> None:
    """Let a ticket that came back have the prices that it had."""
    with changing(house, actor, on) as edit:
        asked = to_ask(house, edit.whole)
        if asked:
            ticket_store.set_prices_kept(house.connection, on.id, edit.at)
            edit.wrote(Kind.PRICES_KEPT, labels=Personal(", ".join(one.label for one in asked)))


def take_todays(house: House, actor: Actor, on: OnTicket) -> None:
    """Let the lines of a ticket that came back have today's prices."""
    with changing(house, actor, on) as edit:
        for one in to_ask(house, edit.whole):
            lines_kept.set_price(house.connection, one.line, one.now)
            edit.wrote(Kind.TODAYS_PRICE, line=one.line, text=Personal(one.label), now=one.now, before=one.then)


def choose_list(house: House, actor: Actor, on: OnTicket, list_id: str) -> None:
    """Let new lines of a ticket have a list's prices; empty for the one that the hour says."""
    names = {one.id: one.name for one in all_lists(house)}
    if list_id not in ("", USUAL, *names):
        raise NotFound(f"no price list {list_id}")
    with changing(house, actor, on) as edit:
        ticket_store.set_price_list(house.connection, on.id, list_id)
        name = Personal(names[list_id]) if list_id in names else None
        edit.wrote(Kind.PRICE_LIST, list=list_id or "hour", name=name)
