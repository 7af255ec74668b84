"""Past tickets: finding them, and correcting them with the right that it takes."""

from __future__ import annotations

from dataclasses import dataclass

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.core.states import TicketState
from abrazo.desk import history
from abrazo.desk.context import Actor, House
from abrazo.desk.output import outbox
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.payments import invoices, refunds, reopening
from abrazo.desk.payments.views import past as look
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.permissions import Right, has
from abrazo.desk.setup.tender_types import all_tenders
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.formats.receipt_text import receipt_text
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import past as forms
from abrazo.web.forms.base import Form, Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.supervisor_override import supervisors, with_lender

router = APIRouter()
LOST = "lost"  # goods that come back and are not for sale again


@router.get("/past")
def show(
    request: Request, house: OpenHouse, actor: SignedIn, page_number: int = 1, chosen: int = 0, handed: int = 0
) -> Response:
    """The list, and one ticket with its receipts; with a correction as it was filled in and handed on."""
    typed = {name: request.query_params.get(name, "")[:60] for name in look.FIELDS}
    if handed and has(actor.staff, Right.REOPEN):
        typed |= next((one.typed for one in look.handed_on(house) if one.id == handed), {})
    return _page(request, house, actor, _Looked(typed, page_number, chosen))


@dataclass(frozen=True, slots=True)
class _Looked:
    """What is looked for, which page of what is found, and the ticket that is chosen; 0: the first."""

    typed: dict[str, str]
    page: int = 1
    chosen: int = 0


def _page(request: Request, house: House, actor: Actor, looked: _Looked, notice: Notice | None = None) -> Response:
    typed = looked.typed
    listed = look.past_page(house, typed, looked.page)
    number = looked.chosen or (listed.tickets[0].id if listed.tickets else 0)
    seen = load_ticket(house, number) if number else None
    if listed.fault is not None and notice is None:
        notice = wrong(house, listed.fault)
    return page(
        request,
        house,
        actor,
        "past/page.html",
        listed=listed,
        typed=typed,
        asked={name: value for name, value in typed.items() if value and name in look.FIELDS},
        spans=look.SPANS,
        tenders=all_tenders(house),
        tills=list(house.tills().values()),
        whole=seen,
        place="" if seen is None else place_of(house, seen),
        correct=None if seen is None else look.correctable(house, seen),
        papers=[]
        if seen is None
        else [(p.id, p.letter, receipt_text(receipt_of(house, seen, p.id))) for p in seen.payers],
        invoices=invoices.of_ticket(house, number) if number else [],
        entries=history.of_ticket(house, number) if number else [],
        people=house.staff(),
        lenders=supervisors(house),
        waiting=look.handed_on(house) if has(actor.staff, Right.REOPEN) else [],
        notice=notice,
    )


def _again(
    request: Request, house: House, actor: Actor, ticket: int, form: forms.Correct | forms.Refund, refusal: Refused
) -> Response:
    """The past ticket again, with what was typed and what is wrong beside its cause."""
    looked = _Looked(form.as_typed(), chosen=ticket)
    return _page(request, house, actor, looked, wrong(house, refusal, otherwise="correct"))


@router.post("/past/{number}/correct")
def correct(request: Request, house: OpenHouse, actor: SignedIn, number: int, form: Sent[forms.Correct]) -> Response:
    """Open again, charge what was only recorded, make void, or hand it on."""
    what, reason, key = form.what, form.reason, form.key
    payment = form.payment or None
    try:
        if what == "hand on":
            return _hand_on(house, actor, number, form)
        actor = with_lender(house, actor, form)
        if what == "void":
            reopening.void(house, actor, OnTicket(number, None, key), reason)
            state = load_ticket(house, number).head.state
            return RedirectResponse(
                urls.ticket(number, view="pay") if state == TicketState.OPEN else urls.past(chosen=number), 303
            )
        reopening.reopen(house, actor, OnTicket(number, None, key), reason, payment if what == "charge" else None)
    except Refused as refusal:
        return _again(request, house, actor, number, form, refusal)
    seen = load_ticket(house, number)
    return RedirectResponse(urls.ticket(number, view="pay") if seen.bill.due else urls.done(number), 303)


def _hand_on(house: House, actor: Actor, number: int, form: forms.Correct | forms.Refund) -> Response:
    wanted = reopening.HandedOnAs(form.payment or None, form.reason, form.filled_in())
    reopening.hand_on(house, actor, OnTicket(number, None, form.key), wanted)
    return RedirectResponse(urls.past(chosen=number, said="handed"), 303)


@router.post("/past/{number}/refund")
def refund(request: Request, house: OpenHouse, actor: SignedIn, number: int, form: Sent[forms.Refund]) -> Response:
    """Give back lines or an amount, to the tender it came from."""
    try:
        if form.what == "hand on":
            return _hand_on(house, actor, number, form)
        lines, typed, typed_tip = list(form.lines), form.refund.strip(), form.refund_tip.strip()
        tip = read_money(house, typed_tip, "refund-tip") if typed_tip else 0
        amount = read_money(house, typed, "refund") if typed else None
        reason, key = form.reason, form.key
        wanted = refunds.RefundWanted(form.payment, amount, lines, tip, form.pieces(), form.goods != LOST)
        refunds.refund(house, with_lender(house, actor, form), OnTicket(number, None, key), wanted, reason)
    except Refused as refusal:
        return _again(request, house, actor, number, form, refusal)
    return RedirectResponse(urls.past(chosen=number), 303)


@router.post("/past/{number}/refunds/{refund}/print")
def print_slip(
    request: Request, house: OpenHouse, actor: SignedIn, number: int, refund: int, form: Sent[forms.Slip]
) -> Response:
    """Print the slip of a refund."""
    try:
        outbox.print_refund(house, actor, number, refund, form.key)
    except Refused as refusal:
        looked = _Looked({}, chosen=number)
        return _page(request, house, actor, looked, wrong(house, refusal, otherwise="correct"))
    return RedirectResponse(urls.past(chosen=number), 303)


@router.post("/tickets/{ticket}/void-on")
def void_on(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[Form]) -> Response:
    """Go on with making a ticket void, after a machine declined or could not be reached."""
    reopening.go_on_voiding(house, actor, ticket)
    return RedirectResponse(urls.ticket(ticket, view="pay"), 303)
