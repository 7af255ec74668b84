"""Taking money and giving it back.

A charge on a card machine is two acts with the call between them: record the ask (here), call the machine and record
its answer (desk/following.py). While an outcome is open nothing more is charged to that payer.
"""

from __future__ import annotations

import threading
from dataclasses import dataclass

from abrazo.core.errors import Refused
from abrazo.core.ledger import money_account, taken_postings
from abrazo.core.tenders import cash_due
from abrazo.desk.edit import Edit, editing
from abrazo.desk.house import Actor, House, NotFound
from abrazo.desk.whole import Whole
from abrazo.devices.base import CardAnswer
from abrazo.store import tenders
from abrazo.store.tenders import CardAsk, KeptPayment

MOST_DIGITS = 12  # a reference with more could be a card's number (ISO/IEC 7812: 13 to 19 digits in use)


@dataclass(frozen=True, slots=True)
class Parts:
    """A sum taken from a payer, cut into what is on the bill and what is tip; minor units."""

    amount: int
    tip: int

    @property
    def given(self) -> int:
        """Both together."""
        return self.amount + self.tip


def cut(whole: Whole, payer_id: int, given: int, *, cash: bool) -> Parts:
    """Cut what a payer gives: the bill first, then the tip. Refused above what is due."""
    account = whole.payer_bill(payer_id).account
    open_tip = account.tip - account.paid_tips - account.extras
    text = whole.ticket.currency.text
    if given <= 0:
        raise Refused("amount", "Take how much? More than 0.", "amount")
    if cash and given == cash_due(account.due, whole.ticket.cash_rounding):
        return Parts(given - min(open_tip, given), min(open_tip, given))
    if given > account.due:
        what = f"{text(given)} is more than the {text(account.due)} that {whole.payer(payer_id).letter} still owes."
        raise Refused("above_due", what, "amount")
    amount = min(given, account.due - open_tip)
    return Parts(amount, given - amount)


def may_pay(whole: Whole, payer_id: int) -> None:
    """Refused while a charge is open for this payer, or when nothing is left to pay."""
    payer = whole.payer(payer_id)
    if any(ask.payer == payer_id for ask in whole.open_asks):
        what = f"A charge for {payer.letter} is still open on the card machine. Ask the machine before taking more."
        raise Refused("under_way", what)
    if whole.payer_bill(payer_id).account.due <= 0:
        raise Refused("nothing_due", f"{payer.letter} has nothing left to pay.")


def take_cash(
    house: House, actor: Actor, ticket_id: int, version: int, payer_id: int, amount: int, handed: int, key: str
) -> int:
    """Take cash: `amount` is what is applied (bill and tip), `handed` what the guest gave. Gives the payment's id."""
    with editing(house, actor, ticket_id, version, key=key, kind="cash") as edit:
        if edit.done is not None:
            return int(edit.done)
        may_pay(edit.whole, payer_id)
        parts = cut(edit.whole, payer_id, amount, cash=True)
        if handed < amount:
            text = house.settings.currency.text
            raise Refused(
                "handed", f"{text(handed)} does not cover {text(amount)}. Take a part, or ask for more.", "handed"
            )
        payment = keep(edit, payer_id, parts, tender="cash", route="cash", tendered=handed)
        edit.answer = str(payment)
        return payment


RECORDED = {"cheque": "cheque", "voucher": "voucher", "card elsewhere": "a card machine that is not connected"}
LONGEST_REFERENCE = 40


def record(
    house: House,
    actor: Actor,
    ticket_id: int,
    version: int,
    payer_id: int,
    amount: int,
    tender: str,
    reference: str,
    key: str,
) -> int:
    """Note money that was already taken otherwise; nothing is charged by this. Gives the payment's id.

    A reference is required, so that it can be matched later: a cheque's or voucher's number, a card machine's slip.
    """
    if tender not in RECORDED:
        raise Refused("tender", "Taken how? By cheque, voucher, or a card machine that is not connected.", "reference")
    plain = " ".join(reference.split())
    if not plain or len(plain) > LONGEST_REFERENCE:
        what = f"Which number stands on it? At most {LONGEST_REFERENCE} characters; it is matched by this later."
        raise Refused("reference", what, "reference")
    if sum(character.isdigit() for character in plain) > MOST_DIGITS:
        raise Refused(
            "reference", "That may be a card's number, which is never kept. The slip's number is meant.", "reference"
        )
    with editing(house, actor, ticket_id, version, key=key, kind="recorded") as edit:
        if edit.done is not None:
            return int(edit.done)
        may_pay(edit.whole, payer_id)
        parts = cut(edit.whole, payer_id, amount, cash=False)
        route = f"{tender} {plain}, recorded"
        payment = keep(edit, payer_id, parts, tender=tender, route=route)
        edit.answer = str(payment)
        return payment


def keep(
    edit: Edit,
    payer_id: int,
    parts: Parts,
    *,
    tender: str,
    route: str,
    tendered: int | None = None,
    ask: CardAsk | None = None,
    answer: CardAnswer | None = None,
) -> int:
    """Keep a payment, with its journal entry and postings."""
    payment = KeptPayment(
        id=0,
        ticket=edit.id,
        payer=payer_id,
        day=edit.day,
        till=edit.actor.till.id,
        staff=edit.actor.staff.id,
        at=edit.at,
        tender=tender,
        route=route,
        amount=parts.amount,
        tip=parts.tip,
        tendered=tendered,
        machine=ask.machine if ask else None,
        brand=answer.brand if answer else None,
        last_four=answer.last_four if answer else None,
        reference=ask.reference if ask else None,
    )
    text = edit.house.settings.currency.text
    said = f"{edit.whole.payer(payer_id).letter} paid {text(parts.given)} by {route}"
    if payment.change:
        said += f", handed {text(payment.given + payment.change)}, change {text(payment.change)}"
    kind = "card paid" if ask else "payment"
    edit.wrote(kind, said, taken_postings(_account(edit, payment), parts.given))
    return tenders.add_payment(edit.house.connection, payment)


def _account(edit: Edit, payment: KeptPayment) -> str:
    place = payment.machine or payment.till
    if payment.tender == "account":
        place = f"person {edit.whole.head.person}"
    return money_account(payment.tender, place)


def take_back(house: House, actor: Actor, ticket_id: int, version: int, payment_id: int, key: str) -> int:
    """Take a payment back: cash out of the drawer at once, a card through the machine. Gives the payer's id."""
    with editing(house, actor, ticket_id, version, key=key, kind="taken back") as edit:
        payment = next((p for p in edit.whole.payments if p.id == payment_id), None)
        if payment is None:
            raise NotFound(f"no payment {payment_id} on this ticket")
        if edit.done is not None:
            return payment.payer
        if payment.taken_back_at:
            raise Refused("taken_back", "This payment was taken back already.")
        if payment.deposit is not None:
            raise Refused("deposit", "A deposit comes off its bill when its job does. Take the job off the ticket.")
        if payment.machine is None:
            give_back(edit, payment)
        else:
            may_ask(edit, payment.payer, payment.machine)
            reference = f"{payment.reference}-back"
            tries = sum(ask.payment == payment_id for ask in edit.whole.asks)
            add_ask(edit, payment.payer, payment.machine, Parts(payment.given, 0), payment=payment_id,
                     reference=f"{reference}{tries or ''}")  # fmt: skip
        edit.answer = str(payment_id)
    wake.set()
    return payment.payer


def give_back(edit: Edit, payment: KeptPayment) -> None:
    """A payment goes back, with its journal entry and postings."""
    tenders.take_back(edit.house.connection, payment.id, edit.at, edit.actor.staff.id)
    text = edit.house.settings.currency.text(payment.given)
    letter = edit.whole.payer(payment.payer).letter
    edit.wrote(
        "taken back",
        f"{text} by {payment.route} given back to {letter}",
        taken_postings(_account(edit, payment), -payment.given),
    )


# ---- the card machine


def ask_card(
    house: House, actor: Actor, ticket_id: int, version: int, payer_id: int, machine: str, amount: int, key: str
) -> str:
    """Ask for a charge of `amount` (bill and tip) on a card machine; gives our reference."""
    with editing(house, actor, ticket_id, version, key=key, kind="card") as edit:
        if edit.done is not None:
            return edit.done
        may_pay(edit.whole, payer_id)
        parts = cut(edit.whole, payer_id, amount, cash=False)
        may_ask(edit, payer_id, machine)
        number = sum(1 for _ in edit.whole.asks) + 1
        letter = edit.whole.payer(payer_id).letter
        who = letter if letter.isalpha() else "all"
        reference = f"{edit.whole.head.number}-{who}-{number}-{key[:8]}"
        add_ask(edit, payer_id, machine, parts, payment=None, reference=reference)
        edit.answer = reference
    wake.set()
    return reference


def may_ask(edit: Edit, payer_id: int, machine: str) -> None:
    """Refused while the payer has an open ask, or the machine is busy with another guest."""
    if machine not in edit.house.devices.machines:
        raise NotFound(f"no card machine {machine!r}")
    for ask in tenders.open_asks(edit.house.connection):
        if ask.payer == payer_id:
            raise Refused("under_way", "The card machine has not said how the last one ended. Ask it before this.")
        if ask.machine == machine and ask.state != "unknown":
            raise Refused(
                "machine_busy", f"{machine.capitalize()} is busy with another guest. Use the other one.", "machine"
            )


def add_ask(
    edit: Edit,
    payer_id: int,
    machine: str,
    parts: Parts,
    *,
    reference: str,
    payment: int | None = None,
    kind: str = "",
    hold: int | None = None,
) -> None:
    """Keep what a machine is to be asked for, before it is asked."""
    account = edit.whole.payer_bill(payer_id).account
    kind = kind or ("charge" if payment is None else "refund")
    ask = CardAsk(
        reference=reference,
        kind=kind,
        ticket=edit.id,
        payer=payer_id,
        payment=payment,
        machine=machine,
        amount=parts.given,
        tip=parts.tip,
        ask_tip=kind == "charge" and account.tip == 0 and parts.given == account.due,
        till=edit.actor.till.id,
        staff=edit.actor.staff.id,
        asked_at=edit.at,
        state="asked",
        step="Asking the machine",
        said="",
        hold=hold,
    )
    tenders.add_ask(edit.house.connection, ask)
    letter, text = edit.whole.payer(payer_id).letter, edit.house.settings.currency.text(ask.amount)
    edit.wrote("card asked", f"{machine} asked to {kind} {text} for {letter}, reference {reference}")


def read_ask(house: House, reference: str) -> CardAsk:
    """What was asked of a machine under a reference."""
    ask = tenders.read_ask(house.connection, reference)
    if ask is None:
        raise NotFound(f"no charge {reference}")
    return ask


wake = threading.Event()  # set when somebody asks a machine for something
