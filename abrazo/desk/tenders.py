"""Taking money and giving it back.

A charge on a card machine is two acts with the call between them: record the ask, call the machine, record its answer.
"No answer" is a state of its own, never read as declined; while an outcome is open nothing more is charged to that
payer.
"""

from __future__ import annotations

import threading
from dataclasses import dataclass
from datetime import datetime, timedelta

from abrazo.core.errors import Refused
from abrazo.core.ledger import hold_postings, money_account, taken_postings
from abrazo.core.tenders import cash_due
from abrazo.desk.edit import Edit, editing
from abrazo.desk.house import Actor, House, NotFound
from abrazo.desk.whole import Whole
from abrazo.devices.base import CardAnswer, CardMachine, DeviceFault, NoAnswer, NotKnown, Unreachable
from abrazo.store import holds, journal, tenders
from abrazo.store.db import atomic
from abrazo.store.holds import Hold
from abrazo.store.journal import Entry
from abrazo.store.tenders import CardAsk, KeptPayment

HOLD_LASTS = timedelta(days=7)  # common practice of card issuers
MOST_DIGITS = 12  # a reference with more could be a card's number (ISO/IEC 7812: 13 to 19 digits in use)
NEVER_SENT = "It never reached the machine; nothing was charged."


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
        payment = _kept(edit, payer_id, parts, tender="cash", route="cash", tendered=handed)
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
        payment = _kept(edit, payer_id, parts, tender=tender, route=route)
        edit.answer = str(payment)
        return payment


def _kept(
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
            _give_back(edit, payment)
        else:
            _may_ask(edit, payment.payer, payment.machine)
            reference = f"{payment.reference}-back"
            tries = sum(ask.payment == payment_id for ask in edit.whole.asks)
            _add_ask(edit, payment.payer, payment.machine, Parts(payment.given, 0), payment=payment_id,
                     reference=f"{reference}{tries or ''}")  # fmt: skip
        edit.answer = str(payment_id)
    _wake.set()
    return payment.payer


def _give_back(edit: Edit, payment: KeptPayment) -> None:
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
        _may_ask(edit, payer_id, machine)
        number = sum(1 for _ in edit.whole.asks) + 1
        letter = edit.whole.payer(payer_id).letter
        who = letter if letter.isalpha() else "all"
        reference = f"{edit.whole.head.number}-{who}-{number}-{key[:8]}"
        _add_ask(edit, payer_id, machine, parts, payment=None, reference=reference)
        edit.answer = reference
    _wake.set()
    return reference


def _may_ask(edit: Edit, payer_id: int, machine: str) -> None:
    if machine not in edit.house.devices.machines:
        raise NotFound(f"no card machine {machine!r}")
    for ask in tenders.open_asks(edit.house.connection):
        if ask.payer == payer_id:
            raise Refused("under_way", "The card machine has not said how the last one ended. Ask it before this.")
        if ask.machine == machine and ask.state != "unknown":
            raise Refused(
                "machine_busy", f"{machine.capitalize()} is busy with another guest. Use the other one.", "machine"
            )


def _add_ask(
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


# ---- a card held for a tab


def hold_card(house: House, actor: Actor, ticket_id: int, machine: str, amount: int, key: str) -> str:
    """Ask a machine to reserve a sum on a card for this ticket; gives our reference. Nothing is paid by it."""
    with editing(house, actor, ticket_id, None, key=key, kind="hold") as edit:
        if edit.done is not None:
            return edit.done
        if amount <= 0:
            raise Refused("amount", "Hold how much? More than 0.", "hold")
        _may_ask(edit, edit.whole.payers[0].id, machine)
        reference = f"{edit.whole.head.number}-hold-{len(edit.whole.asks) + 1}-{key[:8]}"
        payer = edit.whole.payers[0].id
        _add_ask(edit, payer, machine, Parts(amount, 0), kind="hold", reference=reference)
        edit.answer = reference
    _wake.set()
    return reference


def charge_held(
    house: House, actor: Actor, ticket_id: int, version: int, payer_id: int, hold_id: int, amount: int, key: str
) -> str:
    """Take a payer's sum from the held card, also when it is more than is held; gives our reference."""
    with editing(house, actor, ticket_id, version, key=key, kind="capture") as edit:
        if edit.done is not None:
            return edit.done
        hold = _standing(edit, hold_id)
        may_pay(edit.whole, payer_id)
        parts = cut(edit.whole, payer_id, amount, cash=False)
        _may_ask(edit, payer_id, hold.machine)
        reference = f"{hold.reference}-take-{len(edit.whole.asks) + 1}"
        _add_ask(edit, payer_id, hold.machine, parts, kind="capture", hold=hold.id, reference=reference)
        edit.answer = reference
    _wake.set()
    return reference


def let_go(house: House, actor: Actor, ticket_id: int, hold_id: int, key: str) -> str:
    """Ask the machine to let a held sum go; gives our reference."""
    with editing(house, actor, ticket_id, None, key=key, kind="release") as edit:
        if edit.done is not None:
            return edit.done
        hold, payer = _standing(edit, hold_id), edit.whole.payers[0].id
        _may_ask(edit, payer, hold.machine)
        reference = f"{hold.reference}-go-{len(edit.whole.asks) + 1}"
        whole_hold = Parts(hold.amount, 0)
        _add_ask(edit, payer, hold.machine, whole_hold, kind="release", hold=hold.id, reference=reference)
        edit.answer = reference
    _wake.set()
    return reference


def _standing(edit: Edit, hold_id: int) -> Hold:
    hold = holds.read(edit.house.connection, hold_id)
    if hold is None or hold.ticket != edit.id:
        raise NotFound(f"no hold {hold_id} on this ticket")
    if hold.state != "held":
        raise Refused("hold", f"The card ending {hold.last_four} is not held any more.")
    return hold


def stop_card(house: House, ask: CardAsk) -> None:
    """Ask the machine to stop what is under way; how it ended is still the machine's to say."""
    try:
        house.devices.machines[ask.machine].stop(ask.reference)
    except DeviceFault:
        return
    _wake.set()


def ask_again(house: House, reference: str) -> CardAsk:
    """Ask the machine how a charge ended, under our own reference. Refused when it still does not answer."""
    ask = read_ask(house, reference)
    if not ask.open:
        return ask
    try:
        answer = house.devices.machines[ask.machine].inquire(reference)
    except NotKnown:
        return _end(house, ask, "not sent", NEVER_SENT)
    except DeviceFault:
        name = ask.machine.capitalize()
        what = f"{name} still does not answer. The charge may have gone through: ask before charging."
        raise Refused("no_answer", what) from None
    return _heard(house, ask, answer)


def read_ask(house: House, reference: str) -> CardAsk:
    """What was asked of a machine under a reference."""
    ask = tenders.read_ask(house.connection, reference)
    if ask is None:
        raise NotFound(f"no charge {reference}")
    return ask


# ---- following the machines


_wake = threading.Event()


def wait_for_work(seconds: float) -> None:
    """Sleep until somebody asks a machine for something, or the time is over."""
    _wake.wait(seconds)
    _wake.clear()


def follow(house: House, *, after_start: bool = False) -> bool:
    """Take every open ask one step on; True while one is under way. Called again and again by one thread.

    `after_start`: the asks found now were left by a process that ended. They are only asked for, never sent.
    """
    for ask in tenders.open_asks(house.connection):
        if ask.state != "unknown":
            _step(house, ask, send=ask.state == "asked" and not after_start)
    return any(ask.state != "unknown" for ask in tenders.open_asks(house.connection))


def _step(house: House, ask: CardAsk, *, send: bool) -> None:
    machine: CardMachine = house.devices.machines[ask.machine]
    try:
        if send:
            machine.start(ask.reference, ask.amount, kind=ask.kind, ask_tip=ask.ask_tip, of=_of(house, ask))
            _note(house, ask, "sent", "Sent to the machine")
        else:
            _heard(house, ask, machine.look(ask.reference))
    except (Unreachable, NotKnown):
        _end(house, ask, "not sent", NEVER_SENT)
    except NoAnswer:
        if _silent_for(house, ask) > house.settings.patience:
            said = "No answer. The charge may have gone through."
            _note(house, ask, "unknown", ask.step, said, f"{ask.machine} did not answer about {ask.reference}")


def _of(house: House, ask: CardAsk) -> str:
    """The machine's reference of the hold that is captured or released."""
    hold = holds.read(house.connection, ask.hold) if ask.hold else None
    return hold.reference if hold else ""


def _silent_for(house: House, ask: CardAsk) -> float:
    return (house.clock.now() - datetime.fromisoformat(ask.asked_at)).total_seconds()


def _actor(house: House, ask: CardAsk) -> Actor:
    """Who asked: the answer is recorded in their name, at their till."""
    return Actor(house.staff()[ask.staff], house.tills()[ask.till])


def _note(house: House, ask: CardAsk, state: str, step: str, said: str = "", what: str = "") -> None:
    """Keep how far an ask has come, unless it has ended meanwhile."""
    if (ask.state, ask.step) == (state, step):
        return
    with atomic(house.connection) as connection:
        if not read_ask(house, ask.reference).open:
            return
        tenders.set_ask(connection, ask.reference, state, step, said, None)
        if what:
            day = house.day().id
            entry = Entry(0, house.stamp(), day, ask.till, ask.staff, ask.ticket, None, "no answer", what)
            journal.add(connection, entry)


def _end(house: House, ask: CardAsk, state: str, said: str) -> CardAsk:
    with editing(house, _actor(house, ask), ask.ticket, None) as edit:
        if read_ask(house, ask.reference).open:
            tenders.set_ask(house.connection, ask.reference, state, ask.step, said, edit.at)
            edit.wrote("card ended", f"{ask.machine}, reference {ask.reference}: {state}. {said}")
    return read_ask(house, ask.reference)


def _heard(house: House, ask: CardAsk, answer: CardAnswer) -> CardAsk:
    """Record what the machine said; an approval becomes a payment, or the end of one, in the same transaction."""
    if answer.outcome is None:
        _note(house, ask, "sent", answer.step)
        return read_ask(house, ask.reference)
    if answer.outcome != "approved":
        reason = f"{answer.reason.capitalize()}; nothing was charged."
        return _end(house, ask, answer.outcome, reason)
    with editing(house, _actor(house, ask), ask.ticket, None) as edit:
        if not read_ask(house, ask.reference).open:
            return read_ask(house, ask.reference)
        tenders.set_ask(house.connection, ask.reference, "approved", answer.step, "Approved", edit.at)
        _approved(edit, ask, answer)
    return read_ask(house, ask.reference)


def _approved(edit: Edit, ask: CardAsk, answer: CardAnswer) -> None:
    """What an approval does, in the transaction that records it."""
    if ask.payment is not None:
        _give_back(edit, next(p for p in edit.whole.payments if p.id == ask.payment))
    elif ask.kind == "hold":
        _hold(edit, ask, answer)
    elif ask.kind == "release":
        _end_hold(edit, ask, "released", "let go")
    else:
        if ask.kind == "capture":
            _end_hold(edit, ask, "used", "used up by the charge")
        route = f"{ask.machine}, held card" if ask.kind == "capture" else ask.machine
        parts = Parts(ask.amount - ask.tip, ask.tip + answer.tip)
        _kept(edit, ask.payer, parts, tender="card", route=route, ask=ask, answer=answer)


def _hold(edit: Edit, ask: CardAsk, answer: CardAnswer) -> None:
    lapses = (datetime.fromisoformat(edit.at) + HOLD_LASTS).isoformat(timespec="seconds")
    card = (answer.brand, answer.last_four, answer.expiry, answer.token)
    held = Hold(0, edit.id, ask.machine, ask.reference, ask.amount, *card, edit.at, lapses, "held")
    holds.add(edit.house.connection, held)
    text = edit.house.settings.currency.text(ask.amount)
    edit.wrote("held", f"{text} held on {answer.brand} card ending {answer.last_four}, {ask.machine}",
               hold_postings(ask.machine, ask.amount))  # fmt: skip


def _end_hold(edit: Edit, ask: CardAsk, state: str, words: str) -> None:
    hold = holds.read(edit.house.connection, ask.hold or 0)
    assert hold is not None
    holds.end(edit.house.connection, hold.id, state, edit.at)
    text = edit.house.settings.currency.text(hold.amount)
    edit.wrote("held", f"{text} held on the card ending {hold.last_four} {words}",
               hold_postings(hold.machine, -hold.amount))  # fmt: skip
