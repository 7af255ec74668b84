"""Taking money: cash, the card machine with its steps live, taking back."""

from __future__ import annotations

import functools
import json
from collections.abc import AsyncIterator
from contextlib import suppress
from ipaddress import ip_address

import anyio
from fastapi import APIRouter, Request
from sse_starlette import ServerSentEvent
from starlette.concurrency import run_in_threadpool
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Code, Refused
from abrazo.core.ledger import Role
from abrazo.core.states import RequestState, TicketState
from abrazo.desk.context import NotFound
from abrazo.desk.doors.views.bookings import likely_next, services
from abrazo.desk.history import reader
from abrazo.desk.output import outbox
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.payments import accounts, card_poller, cards, gift_cards, silent_machines
from abrazo.desk.payments import tenders as desk
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.naming import payer_name
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.till.drawer import as_read, knows_pieces
from abrazo.formats.receipt_text import receipt_text
from abrazo.web import urls
from abrazo.web.dependencies import Ended, OpenHouse, SignedIn
from abrazo.web.forms import tenders as forms
from abrazo.web.forms.base import Sent
from abrazo.web.forms.view import SentView
from abrazo.web.notices import Notice
from abrazo.web.pages import page, tell
from abrazo.web.streams import looks, own_house, stream
from abrazo.web.supervisor_override import with_lender
from abrazo.web.ticket_page import after_ask, after_payment, ends_by_itself, next_payer
from abrazo.words import phrases as w
from abrazo.words.speaking import sentence
from abrazo.words.states import state_word

router = APIRouter(prefix="/tickets/{ticket}")
LOOK_EVERY, LOOK_FOR = 0.15, 120.0  # seconds


@router.post("/cash")
def cash(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Cash]) -> Response:
    """Take cash and open the drawer."""
    amount = read_money(house, form.take, "amount")
    handed = read_money(house, form.handed, "handed")
    version, payer, key = form.version, form.payer, form.key
    payment = desk.take_cash(house, actor, OnTicket(ticket, version, key), payer, form.sum_of(amount), handed)
    opened = outbox.open_drawer(house, actor, f"ticket {ticket}")
    return RedirectResponse(urls.with_state(urls.change(ticket, payment), drawer="" if opened else "shut"), 303)


@router.post("/invoices")
def invoices(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Invoices], view: SentView) -> Response:
    """What the person owes from before comes onto the ticket: one invoice, or all."""
    everything = [int(one) for one in form.all.split(",") if one.isascii() and one.isdigit()]
    wanted = everything or list(form.invoice)
    accounts.add_invoices(house, actor, OnTicket(ticket, form.version, form.key), wanted)
    return RedirectResponse(urls.ticket(ticket, **view.state()), 303)


@router.get("/payments/{payment}")
def change(
    request: Request, house: OpenHouse, actor: SignedIn, ticket: int, payment: int, drawer: str = ""
) -> Response:
    """Change stands large until it is given."""
    seen = load_ticket(house, ticket)
    made = next((p for p in seen.payments if p.id == payment), None)
    if made is None or all(p.id != made.payer for p in seen.payers):
        raise NotFound(f"no payment {payment} on ticket {ticket}")
    if seen.head.state != TicketState.OPEN:
        raise Ended(ticket)
    following = next_payer(seen)
    return page(
        request,
        house,
        actor,
        "tenders/change.html",
        whole=seen,
        payment=made,
        payer=seen.payer(made.payer),
        pieces=as_read(made.pieces),
        counted=knows_pieces(house, made.till),
        receipt=receipt_text(receipt_of(house, seen, made.payer)),
        following=None if following is None else seen.payer(following),
        following_due=0 if following is None else seen.payer_bill(following).account.due,
        onward=after_payment(seen),
        place=seen.head.spot if seen.at_table else house.say(w.TICKET_NUMBER, number=seen.head.number),
        ends_here=ends_by_itself(house, seen),
        likely=[] if seen.bill.due else [one for one in likely_next(house, seen) if one.person],
        services={one.id: one.name for one in services(house)} if not seen.bill.due else {},
        staff=house.staff(),
        deposit=any(line.role is Role.DEPOSIT for line in seen.standing),
        notice=Notice("wrong", house.say(w.DRAWER_STUCK), status=200) if drawer == "shut" else None,
    )


@router.post("/card")
def card(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Card]) -> Response:
    """Charge a card on a machine."""
    amount = read_money(house, form.take, "amount")
    version, payer, key = form.version, form.payer, form.key
    asked = desk.ask_card(house, actor, OnTicket(ticket, version, key), payer, form.machine, form.sum_of(amount))
    return RedirectResponse(urls.ticket(ticket, view="pay", payer=payer, asked=asked), 303)


def goes_safely(request: Request) -> None:
    """Refused for a card's number that comes over the network in plain text: behind TLS, or from this machine only."""
    host = request.client.host if request.client else ""
    with suppress(ValueError):  # a name that is no address comes from no network
        if request.url.scheme != "https" and not ip_address(host).is_loopback:
            raise Refused(Code.KEYED_IN_PLAIN, "number")


@router.post("/keyed")
def keyed(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Keyed]) -> Response:
    """A card read out on the phone, charged through the payment service. Its number is not kept, nor shown again."""
    sum_ = form.sum_of(read_money(house, form.take, "amount"))
    version, payer, key = form.version, form.payer, form.key
    card = cards.Keyed(form.number, form.expiry, form.code, form.keep)
    goes_safely(request)
    asked = cards.charge_keyed(house, actor, OnTicket(ticket, version, key), payer, card, sum_)
    return RedirectResponse(urls.ticket(ticket, view="pay", payer=payer, asked=asked), 303)


@router.post("/stored-card")
def stored_card(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.StoredCard]) -> Response:
    """Charge a stored card."""
    sum_ = form.sum_of(read_money(house, form.take, "amount"))
    version, payer, key = form.version, form.payer, form.key
    asked = cards.charge_stored(house, actor, OnTicket(ticket, version, key), payer, form.card, sum_)
    return RedirectResponse(urls.ticket(ticket, view="pay", payer=payer, asked=asked), 303)


@router.post("/spend")
def spend(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Spend]) -> Response:
    """Gift card, voucher, store credit or points: used up for what is due."""
    amount, kind = read_money(house, form.take, "amount"), form.kind
    version, payer, key = form.version, form.payer, form.key
    gift_cards.spend(
        house, actor, OnTicket(ticket, version, key), payer, gift_cards.Spending(kind, amount, form.reference)
    )
    return RedirectResponse(after_payment(load_ticket(house, ticket)), 303)


@router.post("/sell-stored")
def sell_stored(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.SellStored]) -> Response:
    """A gift card or voucher onto the ticket, or a top-up."""
    amount = read_money(house, form.stored, "stored")
    version, key, kind = form.version, form.key, form.kind
    gift_cards.sell(house, actor, OnTicket(ticket, version, key), kind, amount, form.topped)
    return RedirectResponse(urls.ticket(ticket, view="lines"), 303)


@router.post("/record")
def record(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Record]) -> Response:
    """Money already taken: only noted."""
    amount = read_money(house, form.take, "amount")
    version, payer, key = form.version, form.payer, form.key
    tender, reference = form.tender, form.reference
    desk.record(house, actor, OnTicket(ticket, version, key), payer, desk.Recorded(amount, tender, reference))
    return RedirectResponse(after_payment(load_ticket(house, ticket)), 303)


@router.post("/account")
def on_account(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.OnAccount]) -> Response:
    """Leave it unpaid, on the account of the ticket's person or of a company of theirs."""
    leave = accounts.Leave(read_money(house, form.take, "amount"), form.account or None, form.reference)
    by = with_lender(house, actor, form)
    accounts.put_on_account(house, by, OnTicket(ticket, form.version, form.key), form.payer, leave)
    return RedirectResponse(after_payment(load_ticket(house, ticket)), 303)


@router.post("/card/stop")
def stop(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Stop]) -> Response:
    """Ask the machine to stop."""
    ask = card_poller.stop_card(house, actor, ticket, form.reference)
    return RedirectResponse(urls.ticket(ticket, view="pay", payer=ask.payer), 303)


@router.post("/card/ask")
def ask_again(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.AskAgain]) -> Response:
    """Ask the machine how a charge ended; one that its payer did not wait for is said, wherever it was asked for."""
    ask = card_poller.ask_again(house, actor, ticket, form.reference)
    if ask.freed_at or ask.charge:
        tell(request, silent_machines.in_words(house, ask))
        return RedirectResponse(urls.today(), 303)
    return RedirectResponse(after_ask(load_ticket(house, ticket), ask.reference), 303)


@router.post("/card/free")
def free(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.FreePayer]) -> Response:
    """Let the payer of a silent charge pay otherwise; the charge stays asked for."""
    by = with_lender(house, actor, form)
    ask = silent_machines.let_pay_otherwise(house, by, OnTicket(ticket, None, form.key), form.reference)
    payer = sentence(payer_name(house, load_ticket(house, ticket), ask.payer))
    tell(request, house.say(w.MAY_PAY_OTHERWISE, payer=payer, machine=sentence(ask.machine), amount=ask.amount))
    return RedirectResponse(urls.ticket(ticket, view="pay", payer=ask.payer), 303)


@router.post("/card/late")
def late(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.GiveBackLate]) -> Response:
    """Give back through its machine what it charged too late."""
    ask = silent_machines.give_back(house, actor, ticket, form.reference, form.key)
    tell(request, house.say(w.BEING_GIVEN_BACK, amount=ask.amount, machine=ask.machine))
    return RedirectResponse(urls.today(), 303)


@router.post("/take-back")
def take_back(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.TakeBack]) -> Response:
    """Take a payment back."""
    version, payment, key = form.version, form.payment, form.key
    payer = desk.take_back(house, actor, OnTicket(ticket, version, key), payment)
    return RedirectResponse(urls.ticket(ticket, view="pay", payer=payer), 303)


@router.post("/slip-tip")
def slip_tip(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.SlipTip]) -> Response:
    """The tip that stands on a signed slip: added to the charge, without the card."""
    amount = read_money(house, form.slip, "slip")
    version, payment, key = form.version, form.payment, form.key
    reference = desk.add_tip(house, actor, OnTicket(ticket, version, key), payment, amount, sure=form.sure == form.slip)
    ask = desk.read_request(house, reference)
    return RedirectResponse(urls.ticket(ticket, view="pay", payer=ask.payer, asked=reference), 303)


@router.post("/slips")
def slips(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Slips]) -> Response:
    """Print a payer's bill with lines for tip and signature, twice."""
    payer = form.payer
    load_ticket(house, ticket).payer(payer)
    if not outbox.print_slips(house, actor, ticket, payer, form.key):
        raise Refused(Code.BILL_WAITS)
    tell(request, house.say(w.TWO_BILLS))
    return RedirectResponse(urls.ticket(ticket, view="pay", payer=payer), 303)


# ---- live steps


@router.get("/live")
def live(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, reference: str) -> Response:
    """Server-sent events: a charge's steps as they come, then where to go."""
    ask = desk.read_request(house, reference)
    if ask.ticket != ticket:
        raise NotFound(f"no charge {reference} on ticket {ticket}")
    return stream(functools.partial(_steps, request, reference))


async def _steps(request: Request, reference: str, ending: anyio.Event) -> AsyncIterator[ServerSentEvent]:
    """One event a change."""
    async with own_house(request) as house:
        step_words, last = functools.partial(state_word, reader(house).texts), ""
        async for _ in looks(request, ending, LOOK_EVERY, LOOK_FOR):
            ask = await run_in_threadpool(desk.read_request, house, reference)
            if not ask.open or ask.state == RequestState.UNKNOWN:
                whole = await run_in_threadpool(load_ticket, house, ask.ticket)
                onward = after_ask(whole, reference)
                yield ServerSentEvent(json.dumps({"onward": onward}), event="ended")
                return
            if ask.step != last:
                last = ask.step
                yield ServerSentEvent(json.dumps({"step": ask.step, "words": step_words(ask.step)}), event="step")
