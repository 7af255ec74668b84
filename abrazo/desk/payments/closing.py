"""Closing a ticket on which nothing is left to pay: its sale is posted, its table is free."""

from __future__ import annotations

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import closed
from abrazo.core.journal import Kind
from abrazo.core.ledger import sale_names
from abrazo.core.sale_books import SaleBooks, all_of
from abrazo.core.states import HoldState, TicketState
from abrazo.desk.context import Actor, House
from abrazo.desk.payments.advances import level_ticket
from abrazo.desk.payments.after_sale import plan_after
from abrazo.desk.payments.invoices import invoice_closed
from abrazo.desk.payments.reopening import ended
from abrazo.desk.payments.stored_value import earn
from abrazo.desk.tickets import prep
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.hires import close_hires
from abrazo.desk.tickets.layaways import end_layaway
from abrazo.desk.tickets.memberships import close_memberships
from abrazo.desk.tickets.series import close_series
from abrazo.desk.tickets.starting import end_empty
from abrazo.store import holds
from abrazo.store import ticket as ticket_store


def _sold_ahead(edit: TicketChange) -> None:
    """What a ticket sells for later is sold: series, memberships, hires."""
    whole = edit.whole
    books = SaleBooks(whole.ticket, whole.bill, sale_names(whole.uses))
    nets = books.without_tax(all_of(whole.ticket, whole.bill))
    close_memberships(edit, nets)
    close_series(edit, nets)
    close_hires(edit, nets)


def free_table(house: House, actor: Actor, on: OnTicket) -> None:
    """Close a ticket on which nothing is left to pay, and free its table."""
    with changing(house, actor, on, "closed") as edit:
        if edit.done is not None:
            return
        whole = edit.whole
        if whole.open_requests:
            raise Refused(Code.TABLE_WAITS_FOR_MACHINE)
        if whole.bill.due:
            raise Refused(Code.STILL_DUE, due=whole.bill.due)
        for hold in holds.of_ticket(house.connection, on.id):
            if hold.state == HoldState.HELD:
                raise Refused(Code.STILL_HELD, amount=hold.amount, last_four=hold.last_four)
        if whole.standing or whole.taken:
            prep.send_rest(edit)
            end_layaway(edit)
            whole = edit.whole
            edit.wrote(Kind.SETTLED, closed(whole.ticket, whole.bill, whole.uses, whole.sold_from))
            _sold_ahead(edit)
            earn(edit)
            ticket_store.set_state(house.connection, on.id, TicketState.CLOSED, whole.head.closed_at or edit.at)
            ended(edit)
            plan_after(edit)
            level_ticket(edit, closed=True)
            invoice_closed(edit)
        else:
            end_layaway(edit, cancelled=True)
            edit.wrote(Kind.ENDED_EMPTY if whole.lines else Kind.LEFT_UNORDERED)
            end_empty(house, on.id, edit.at)
