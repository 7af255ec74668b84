"""Taking money and giving it back.

A charge on a card machine is two acts with the call between them: record the ask (here), call the machine and record
its answer (desk/payments/card_poller.py). While an outcome is open nothing more is charged to that payer.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked, Figures, tender_figures
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import customer_account, money_account, taken_postings
from abrazo.core.loyalty import points_back
from abrazo.core.states import Extra, RequestKind, RequestState, Signature, Tender, TenderKind
from abrazo.core.tenders import Parts, allocate, change_from
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.payments.stored_value import credit_for, given_back
from abrazo.desk.payments.tips import check_tip
from abrazo.desk.setup.tender_types import offered
from abrazo.desk.tickets import prep
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.naming import route_words
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.desk.till import drawer
from abrazo.devices.ports import CardAnswer
from abrazo.store import tenders
from abrazo.store.tenders import CardRequest, PaymentRow
from abrazo.words.speaking import sentence

MOST_DIGITS = 12  # a reference with more could be a card's number (ISO/IEC 7812: 13 to 19 digits in use)


@dataclass(frozen=True, slots=True)
class Sum:
    """What is to be taken, in minor units; `extra` says what becomes of what is above the bill."""

    amount: int
    extra: Extra | None = None


@dataclass(frozen=True, slots=True)
class Recorded:
    """Money that was taken otherwise: minor units, the tender, and the number by which it can be matched."""

    amount: int
    tender: str
    reference: str


@dataclass(frozen=True, slots=True)
class PaidBy:
    """How a payment came: its tender, its route in words, and what its tender has beside.

    `tendered` (minor units) and `pieces` are of cash; `stored` is the stored value; `ask` what a machine was asked, and
    `answer` what it said.
    """

    tender: str
    route: str
    tendered: int | None = None
    pieces: str = ""
    stored: int | None = None
    ask: CardRequest | None = None
    answer: CardAnswer | None = None


@dataclass(frozen=True, slots=True)
class Asked:
    """What a machine is asked for under a reference, and what that is about: a payment, held card, card or refund."""

    reference: str
    kind: RequestKind = RequestKind.CHARGE
    payment: int | None = None
    hold: int | None = None
    card: int | None = None
    refund: int | None = None


def cut(whole: TicketSnapshot, payer_id: int, given: int, *, cash: bool = False, extra: Extra | None = None) -> Parts:
    """Cut what a payer gives (core.tenders.allocate). Refused when it is above what is due and nobody said why."""
    account, step = whole.payer_bill(payer_id).account, whole.ticket.cash_rounding if cash else 1
    if given <= 0:
        raise Refused(Code.NO_TAKEN_AMOUNT, "amount")
    parts = allocate(account, given, extra, step)
    if parts is None:
        raise Refused(Code.ABOVE_OWED, "amount", given=given, due=account.due, payer=whole.payer(payer_id).letter)
    if parts.credit and whole.head.person is None:
        raise Refused(Code.NOBODY_FOR_CREDIT_LEFT, "amount")
    return parts


def may_pay(whole: TicketSnapshot, payer_id: int) -> None:
    """Refused while a charge is open for this payer, while the ticket is made void, or when nothing is left to pay."""
    payer = whole.payer(payer_id)
    if whole.head.voiding_at is not None:
        raise Refused(Code.BEING_VOIDED)
    if any(ask.payer == payer_id for ask in whole.open_requests):
        raise Refused(Code.CHARGE_OPEN, payer=payer.letter)
    if whole.payer_bill(payer_id).account.due <= 0:
        raise Refused(Code.NOTHING_DUE, payer=payer.letter)


def take_cash(house: House, actor: Actor, on: OnTicket, payer_id: int, sum_: Sum, handed: int) -> int:
    """Take cash: the sum is what is applied (bill and tip), `handed` what the guest gave. Gives the payment's id."""
    with changing(house, actor, on, "cash") as edit:
        if edit.done is not None:
            return int(edit.done)
        may_pay(edit.whole, payer_id)
        parts = cut(edit.whole, payer_id, sum_.amount, cash=True, extra=sum_.extra)
        if handed < sum_.amount:
            raise Refused(Code.HANDED_TOO_LITTLE, "handed", handed=handed, amount=sum_.amount)
        pieces = drawer.moved(house, actor.till.id, handed, change_from(handed, sum_.amount))
        payment = keep(edit, payer_id, parts, PaidBy(Tender.CASH, "cash", handed, pieces))
        edit.answer = str(payment)
        return payment


LONGEST_REFERENCE = 40


def record(house: House, actor: Actor, on: OnTicket, payer_id: int, recorded: Recorded) -> int:
    """Note money that was already taken otherwise; nothing is charged by this. Gives the payment's id.

    A reference is required, so that it can be matched later: a cheque's or voucher's number, a card machine's slip.
    """
    way = offered(house, recorded.tender, TenderKind.RECORDED)
    plain = " ".join(recorded.reference.split())
    if not plain or len(plain) > LONGEST_REFERENCE:
        raise Refused(Code.NO_REFERENCE, "reference", reference=way.reference, most=LONGEST_REFERENCE)
    if sum(character.isdigit() for character in plain) > MOST_DIGITS:
        raise Refused(Code.REFERENCE_IS_CARD, "reference")
    with changing(house, actor, on, "recorded") as edit:
        if edit.done is not None:
            return int(edit.done)
        may_pay(edit.whole, payer_id)
        parts = cut(edit.whole, payer_id, recorded.amount)
        route = f"{way.name[:1].lower()}{way.name[1:]} {plain}".strip()
        payment = keep(edit, payer_id, parts, PaidBy(recorded.tender, route))
        edit.answer = str(payment)
        return payment


def keep(edit: TicketChange, payer_id: int, parts: Parts, by: PaidBy) -> int:
    """Keep a payment, with its journal entry and postings; what of it is credit becomes its person's store credit."""
    stored, ask, answer = by.stored, by.ask, by.answer
    if parts.credit and edit.whole.head.person is not None:
        stored = credit_for(edit, edit.whole.head.person)
    payment = PaymentRow(
        id=0,
        ticket=edit.id,
        payer=payer_id,
        day=edit.day,
        till=edit.actor.till.id,
        staff=edit.actor.staff.id,
        at=edit.at,
        tender=by.tender,
        route=by.route,
        amount=parts.amount,
        tip=parts.tip,
        tendered=by.tendered,
        machine=ask.machine if ask else None,
        brand=answer.brand if answer else None,
        last_four=answer.last_four if answer else None,
        reference=ask.reference if ask else None,
        extra=Extra.CREDIT if parts.credit else None,
        credit=parts.credit,
        card=ask.card if ask else None,
        stored=stored,
        tip_of=ask.payment if ask else None,
        signature=Signature.WANTED if _is_signed(edit.house, by) else Signature.NONE,
        pieces=by.pieces,
    )
    made = tenders.add_payment(edit.house.connection, payment)
    edit.wrote(
        Kind.CARD_PAID if ask else Kind.PAID,
        taken(edit, payment),
        payment=made,
        payer=edit.whole.payer(payer_id).letter,
        tender=by.tender,
        route=Personal(route_words(edit.house, payment)),
        amount=parts.given,
        tip=parts.tip or None,
        handed=payment.handed if payment.change else None,
        change=payment.change or None,
    )
    prep.send_when_settled(edit)
    return made


def _is_signed(house: House, by: PaidBy) -> bool:
    """Whether a payment is to be signed: a machine wants it, or the house does for cash."""
    wanted = by.answer is not None and by.answer.signature
    return wanted or (house.settings.sign_cash and by.tender == Tender.CASH)


def account_of(whole: TicketSnapshot, payment: PaymentRow) -> str:
    """The account of the books in which a payment lies."""
    if payment.tender == Tender.ACCOUNT:
        return customer_account(payment.account or whole.head.person or 0)
    return money_account(payment.tender, payment.machine or payment.till)


def taken(edit: TicketChange, payment: PaymentRow) -> Booked:
    """What a payment books."""
    postings = taken_postings(account_of(edit.whole, payment), payment.given, payment.credit)
    return Booked(postings, in_report(edit.house, payment, payment.given, payment.credit))


def in_report(house: House, payment: PaymentRow, amount: int, credit: int = 0) -> Figures:
    """A payment or a part of it, in minor units, as the report sums it: by tender, and the machine or service."""
    settings = house.settings
    points = points_back(amount, settings.points_lot, settings.points_value) if payment.tender == Tender.POINTS else 0
    return tender_figures(payment.tender, payment.machine or "", amount, credit, points)


def take_back(house: House, actor: Actor, on: OnTicket, payment_id: int) -> int:
    """Take a payment back: cash out of the drawer at once, a card through the machine. Gives the payer's id."""
    with changing(house, actor, on, "taken back") as edit:
        payment = next((p for p in edit.whole.payments if p.id == payment_id), None)
        if payment is None:
            raise NotFound(f"no payment {payment_id} on this ticket")
        if edit.done is not None:
            return payment.payer
        if payment.taken_back_at:
            raise Refused(Code.TAKEN_BACK_ALREADY)
        if payment.deposit is not None:
            raise Refused(Code.DEPOSIT_STAYS_WITH_JOB)
        if payment.machine is None:
            give_back(edit, payment)
        else:
            ask_back(edit, payment)
        edit.answer = str(payment_id)
    return payment.payer


def ask_back(edit: TicketChange, payment: PaymentRow, amount: int = 0, refund: int | None = None) -> str:
    """Keep that a charge, or with `refund` a part of it, is to go back through its machine; gives our reference."""
    if any(p.tip_of == payment.id for p in edit.whole.taken) and refund is None:
        raise Refused(Code.TIP_FIRST)
    machine = payment.machine or ""
    may_ask(edit, payment.payer, machine)
    tries = sum(ask.payment == payment.id for ask in edit.whole.asks)
    reference = f"{payment.reference}-back{tries or ''}"
    asked = Asked(reference, RequestKind.REFUND, payment.id, refund=refund)
    add_request(edit, payment.payer, machine, Parts(amount or payment.given, 0), asked)
    return reference


def add_tip(house: House, actor: Actor, on: OnTicket, payment_id: int, amount: int, *, sure: bool = False) -> str:
    """A tip that was written on the signed slip: added to the charge, without the card; gives our reference.

    One above the whole bill is asked about once: `sure`.
    """
    with changing(house, actor, on, "tip") as edit:
        if edit.done is not None:
            return edit.done
        payment = next((p for p in edit.whole.taken if p.id == payment_id), None)
        if payment is None or payment.machine is None or payment.tip_of is not None:
            raise NotFound(f"no charge {payment_id} on this ticket")
        if amount <= 0:
            raise Refused(Code.NO_SLIP_TIP, "slip")
        if edit.whole.payer_bill(payment.payer).account.due > 0:
            raise Refused(Code.SLIP_TIP_TOO_EARLY, "slip")
        check_tip(edit.whole.payer_bill(payment.payer).account.total, amount, "slip", sure=sure)
        may_ask(edit, payment.payer, payment.machine)
        tries = sum(ask.payment == payment_id for ask in edit.whole.asks)
        edit.answer = f"{payment.reference}-tip{tries or ''}"
        asked = Asked(edit.answer, RequestKind.TIP, payment_id)
        add_request(edit, payment.payer, payment.machine, Parts(0, amount), asked)
    return edit.answer


def is_busy(edit: TicketChange, machine: str) -> bool:
    """Whether a card machine is with another guest."""
    asks = tenders.open_requests(edit.house.connection)
    return any(
        a.machine == machine != edit.house.devices.service.name and a.state != RequestState.UNKNOWN for a in asks
    )


def give_back(edit: TicketChange, payment: PaymentRow) -> None:
    """A payment goes back, with its journal entry and postings."""
    till = edit.actor.till.id if payment.tender == Tender.CASH else payment.till
    if payment.tender == Tender.CASH:
        drawer.moved(edit.house, till, payment.change, payment.handed)
    tenders.take_back(edit.house.connection, payment.id, edit.at, edit.actor.staff.id, edit.day, till)
    letter = edit.whole.payer(payment.payer).letter
    back = taken(edit, replace(payment, till=till)).turned()
    route = Personal(route_words(edit.house, payment))
    edit.wrote(Kind.TAKEN_BACK, back, payment=payment.id, payer=letter, amount=payment.given, route=route)
    given_back(edit, payment)


# ---- the card machine


def ask_card(house: House, actor: Actor, on: OnTicket, payer_id: int, machine: str, sum_: Sum) -> str:
    """Ask for a charge of a sum (bill and tip) on a card machine; gives our reference."""
    with changing(house, actor, on, "card") as edit:
        if edit.done is not None:
            return edit.done
        offered(house, Tender.CARD, TenderKind.MACHINE)
        edit.answer = add_charge(edit, payer_id, machine, sum_, on.key)
    return edit.answer


def add_charge(edit: TicketChange, payer_id: int, machine: str, sum_: Sum, key: str, *, card: int | None = None) -> str:
    """Keep that a payer is to be charged, by a machine or, with a card, by the payment service; gives our reference."""
    may_pay(edit.whole, payer_id)
    parts = cut(edit.whole, payer_id, sum_.amount, extra=sum_.extra)
    may_ask(edit, payer_id, machine)
    letter = edit.whole.payer(payer_id).letter
    who = letter if letter.isalpha() else "all"
    reference = f"{edit.whole.head.number}-{who}-{len(edit.whole.asks) + 1}-{key[:8]}"
    add_request(edit, payer_id, machine, parts, Asked(reference, card=card))
    return reference


def may_ask(edit: TicketChange, payer_id: int, machine: str) -> None:
    """Refused while the payer has an open ask, or the machine is busy with another guest."""
    devices = edit.house.devices
    if machine not in (*devices.machines, devices.service.name):
        raise NotFound(f"no card machine {machine!r}")
    for ask in tenders.open_requests(edit.house.connection):
        if ask.payer == payer_id and ask.blocks:
            raise Refused(Code.LAST_CHARGE_OPEN)
        if ask.machine == machine != devices.service.name and ask.state != RequestState.UNKNOWN:
            raise Refused(Code.MACHINE_BUSY, "machine", machine=sentence(machine))


def add_request(edit: TicketChange, payer_id: int, machine: str, parts: Parts, asked: Asked) -> None:
    """Keep what a machine is to be asked for, before it is asked; it asks for a tip when nobody was asked yet."""
    account = edit.whole.payer_bill(payer_id).account
    by_hand = asked.kind == RequestKind.CHARGE and asked.card is None
    ask = CardRequest(
        reference=asked.reference,
        kind=asked.kind,
        ticket=edit.id,
        payer=payer_id,
        payment=asked.payment,
        machine=machine,
        amount=parts.given,
        tip=parts.tip,
        ask_tip=by_hand and account.tip == 0 and parts.given == account.due,
        till=edit.actor.till.id,
        staff=edit.actor.staff.id,
        asked_at=edit.at,
        state=RequestState.ASKED,
        step="Asking the machine",
        said="",
        hold=asked.hold,
        card=asked.card,
        refund=asked.refund,
        extra=Extra.CREDIT if parts.credit else Extra.TIP if parts.over else None,
        credit=parts.credit or parts.over,
    )
    tenders.add_request(edit.house.connection, ask)
    letter = edit.whole.payer(payer_id).letter
    edit.wrote(Kind.CARD_ASKED, machine=machine, asked=ask.kind, amount=ask.amount, payer=letter,
               reference=ask.reference)  # fmt: skip


def read_request(house: House, reference: str) -> CardRequest:
    """What was asked of a machine under a reference."""
    ask = tenders.read_request(house.connection, reference)
    if ask is None:
        raise NotFound(f"no charge {reference}")
    return ask
