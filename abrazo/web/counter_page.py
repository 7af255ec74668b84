"""The page of counter mode: items, the sale in work, likely cash; the change once it is paid."""

from __future__ import annotations

from typing import Any

from starlette.requests import Request
from starlette.responses import Response

from abrazo.core.tenders import change_from, likely_cash
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import counter as desk
from abrazo.desk.doors import counter_hold
from abrazo.desk.payments.after_sale import afterwards
from abrazo.desk.permissions import Right, has
from abrazo.desk.tickets import adjustments, anonymous_accounts
from abrazo.desk.tickets.counter_lock import held_to_counter, is_locked, with_tabs
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.prep import sent_to, to_send, unsent
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.desk.tickets.views.catalogue import OFTEN, Sought, pick_page
from abrazo.desk.till.drawer import as_read
from abrazo.desk.till.views.till import denominations
from abrazo.web.forms.view import View
from abrazo.web.notices import Notice, said
from abrazo.web.pages import page
from abrazo.web.supervisor_override import supervisors


def counter_page(request: Request, house: House, actor: Actor, view: View, notice: Notice | None = None) -> Response:
    """Counter mode, with an item opened when something of it is to be chosen first."""
    sale = desk.sale_of(house, actor)
    paid = sale is not None and desk.is_paid(sale)
    may_hold = has(actor.staff, Right.HOLD_TO_COUNTER_MODE)
    return page(
        request,
        house,
        actor,
        "room/counter.html",
        pick=pick_page(house, actor, Sought(view.category or OFTEN, view.q, view.item)),
        view=view,
        sale=sale,
        paid=paid,
        change=sale.taken[-1] if sale is not None and paid else None,
        sent=sent_to(house, sale.head.id) if sale is not None and paid else (),
        pieces=as_read(sale.taken[-1].pieces) if sale is not None and paid else {},
        held=said(house, held) if (held := held_to_counter(house, actor)) else "",
        locked=is_locked(house, actor),
        people=desk.held_people(house) if may_hold else {},
        names=house.staff(),
        lenders=supervisors(house),
        tabs=[(one.head.id, place_of(house, one), one.bill.due) for one in desk.open_tabs(house)]
        if with_tabs(house, actor)
        else None,
        afterwards=afterwards(house, sale.head.id) if sale is not None else [],
        waiting=counter_hold.waiting(house, actor),
        accounts=anonymous_accounts.accounts_of_house(house),
        account=anonymous_accounts.account_of(house, actor.till.id),
        notice=notice,
        **_to_pay(house, None if paid else sale),
    )


def _to_pay(house: House, sale: TicketSnapshot | None) -> dict[str, Any]:
    """What is asked for a sale that is not paid: sums, likely cash, what goes to be made with the payment."""
    cash, digits = 0 if sale is None else sale.bill.payers[0].cash_due, house.settings.currency.digits
    return {
        "cash": cash,
        "notes": [(note, change_from(note, cash)) for note in likely_cash(cash, denominations(house), 10**digits)],
        "owns": {} if sale is None else {line.id: line.own for line in sale.bill.lines},
        "sends": None if sale is None else to_send(unsent(house, sale)),
        "presets": adjustments.for_one_touch(house, sale) if sale else [],
        "given": sale.discounts if sale else [],
    }
