"""Counter mode: pick, pay and change on one screen, and who may leave it.

Rules here
- the sale in work is the last open counter sale of this person at this till; with the first item there is one
- a paid sale stays open for undo until the next sale begins, the person leaves or the screen is locked; then it is
  closed, and at the latest when the day is
- a person (with the tabs), or a till, can be held to this mode; a supervisor lifts that, or lends the right
"""

from __future__ import annotations

from collections.abc import Mapping

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.states import Source
from abrazo.core.tenders import cash_due
from abrazo.desk.act import acting, done_before
from abrazo.desk.context import Actor, House
from abrazo.desk.payments import closing, tenders
from abrazo.desk.permissions import Right, has
from abrazo.desk.tickets import adjustments, line_changes, prep, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.counter_lock import may_touch, with_tabs
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket, load_tickets
from abrazo.desk.tickets.starting import Beginning, TicketOrigin, open_at, opening_at
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.store import staff, till
from abrazo.store import ticket as ticket_store

BEGUN, COUNTER = "sale begun", TicketOrigin(Source.COUNTER)
UNTOUCHED = 1  # the version of a ticket on which nothing was done


def sale_of(house: House, actor: Actor) -> TicketSnapshot | None:
    """The counter sale in work, paid or not; None when the next item begins one."""
    found = ticket_store.counter_sale(house.connection, actor.staff.id, actor.till.id)
    return load_ticket(house, found) if found else None


def is_paid(whole: TicketSnapshot) -> bool:
    """Whether everything on a sale is paid."""
    return bool(whole.taken) and whole.bill.due == 0 and not whole.open_requests


def begin(house: House, actor: Actor, key: str) -> int:
    """A counter sale: the last one at this till when nothing was done on it, else a new one. Gives the ticket."""
    with acting(house, actor, "opened", key) as act:
        if act.done is None:
            sale = sale_of(house, actor)
            unused = sale is not None and sale.head.version == UNTOUCHED
            made = sale.head.id if sale and unused else open_at(house, actor, COUNTER, Beginning(Kind.COUNTER_SALE))
            act.answer = str(made)
    return int(act.answer if act.done is None else act.done)


def pick(house: House, actor: Actor, picked: Picked, key: str) -> int:
    """Put an item on the sale in work; the first one begins a sale and closes the one that is paid. Gives the ticket.

    What is refused begins no sale and closes none.
    """
    if (done := done_before(house, key, BEGUN)) is not None:
        return int(done)
    sale = sale_of(house, actor)
    if sale is not None and not is_paid(sale):
        ticket_lines.add_line(house, actor, OnTicket(sale.head.id, None, key), picked)
        return sale.head.id
    begun = Beginning(Kind.COUNTER_SALE)
    with opening_at(house, actor, COUNTER, begun, key, BEGUN) as edit:
        if edit.done is None:
            ticket_lines.put_picked(edit, picked)
    if sale is not None and is_over(sale):
        closing.free_table(house, actor, OnTicket(sale.head.id, None, f"{key}-close"))
    return edit.id


def take_note(house: House, actor: Actor, on: OnTicket, handed: int) -> int:
    """A likely note was handed over for all that is due; gives the payment."""
    whole = sale_in_work(house, actor, on.id)
    due = cash_due(whole.bill.due, whole.ticket.cash_rounding)
    payer = whole.payers[0].id
    return tenders.take_cash(house, actor, on, payer, tenders.Sum(due), handed)


def give(house: House, actor: Actor, on: OnTicket, preset: str) -> None:
    """A preset discount on the sale in work."""
    sale_in_work(house, actor, on.id)
    adjustments.give(house, actor, on, None, adjustments.Wanted(preset=preset))


def give_up(house: House, actor: Actor, on: OnTicket, given: int) -> None:
    """A discount of the sale in work is taken off again."""
    sale_in_work(house, actor, on.id)
    adjustments.take_off(house, actor, on, given)


def send(house: House, actor: Actor, on: OnTicket) -> None:
    """What is to be made of the sale in work goes to its places before it is paid."""
    sale_in_work(house, actor, on.id)
    prep.send(house, actor, on, ())


def change_line(house: House, actor: Actor, on: OnTicket, line_id: int, picked: Picked) -> None:
    """Other choices, another note or number on a line of the sale in work."""
    sale_in_work(house, actor, on.id)
    line_changes.change_line(house, actor, on, line_id, picked)


def take_off(house: House, actor: Actor, on: OnTicket, line_id: int) -> None:
    """Strike a line of the sale in work through."""
    sale_in_work(house, actor, on.id)
    ticket_lines.remove_line(house, actor, on, line_id)


def sale_in_work(house: House, actor: Actor, ticket_id: int) -> TicketSnapshot:
    """The sale in work; refused when it is another one by now."""
    sale = sale_of(house, actor)
    if sale is None or sale.head.id != ticket_id:
        raise Refused(Code.OTHER_SALE, "handed")
    return sale


def close_paid(house: House, actor: Actor, key: str) -> None:
    """Close the sale in work when it is paid, because the person does something else."""
    sale = sale_of(house, actor)
    if sale is not None and is_over(sale):
        closing.free_table(house, actor, OnTicket(sale.head.id, None, key))


def is_over(whole: TicketSnapshot) -> bool:
    """Whether a ticket is a counter sale that is paid and waits for nothing but the next customer.

    Somebody's own sale waits for its end, with which their receipt goes out the way they like.
    """
    head = whole.head
    return head.source == Source.COUNTER and head.held_at is None and head.person is None and is_paid(whole)


def close_all_paid(house: House, actor: Actor, key: str) -> None:
    """Close every counter sale that is paid, because the day is to be closed."""
    sales = ticket_store.list_open(house.connection, Source.COUNTER)
    for whole in load_tickets(house, sales).values():
        if is_over(whole):
            closing.free_table(house, actor, OnTicket(whole.head.id, None, f"{key}-{whole.head.id}"))


# ---- who is held to it


def hold_till(house: House, actor: Actor, hold: bool) -> None:
    """Lock this till to counter mode, or let it go; letting go is a supervisor's right."""
    with acting(house, actor, "set-up", needs=None if hold else Right.LEAVE_COUNTER_MODE) as act:
        till.set_counter_only(act.connection, actor.till.id, hold=hold)
        act.record(Kind.TILL_HELD if hold else Kind.TILL_LET_GO, lender=act.by)


def hold_person(house: House, actor: Actor, who: str, hold: bool) -> None:
    """Hold somebody to counter mode, or let them go. A supervisor's right."""
    with acting(house, actor, "set-up", needs=Right.HOLD_TO_COUNTER_MODE) as act:
        person = house.staff().get(who)
        if person is None or has(person, Right.LEAVE_COUNTER_MODE):
            raise Refused(Code.NOT_HELD_TO_COUNTER, "who")
        staff.set_counter_only(act.connection, who, hold=hold)
        act.record(Kind.PERSON_HELD if hold else Kind.PERSON_LET_GO, who=who)


def held_people(house: House) -> Mapping[str, bool]:
    """Everybody who can be held to counter mode, and whether they are."""
    return {one.id: one.counter_only for one in house.workers().values() if not has(one, Right.LEAVE_COUNTER_MODE)}


OPEN_PATHS = ("/counter-mode", "/scan", "/display", "/devices/listen", "/lock", "/notes", "/my-tips", "/last-receipt",
              "/static", "/set-up/logo", "/practice/till")  # fmt: skip


def may_go(house: House, actor: Actor, path: str, ticket_id: int | None) -> bool:
    """Whether somebody held to counter mode may see a page: the mode itself, their counter sales in full, tabs."""
    if path.startswith(OPEN_PATHS):
        return True
    if path.startswith("/tabs") and with_tabs(house, actor):
        return True
    head = house.head(ticket_id) if ticket_id else None
    return head is not None and may_touch(house, actor, head)


def open_tabs(house: House) -> list[TicketSnapshot]:
    """The tabs that are open, for who is held to counter mode."""
    wholes = (load_ticket(house, id) for id in ticket_store.list_open(house.connection, Source.TAB))
    return [whole for whole in wholes if not whole.head.held_at]
