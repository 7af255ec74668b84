"""Refunds of closed tickets: lines or an amount, back to the tender it came from. The ticket stays as it was."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import (
    Booked,
    FigureKind,
    Figures,
    WentBack,
    cash_difference,
    deposit_given_back,
    minus,
    refunded,
    tips_given_back,
    together,
)
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import Posting, Role
from abrazo.core.loyalty import points_back
from abrazo.core.money import rest_of, total, totals
from abrazo.core.refunds import GivenBack, Ref, RefundPlan, left_of, plan_refund
from abrazo.core.states import RefundState, RowKind, Tender
from abrazo.core.tenders import cash_back, covers, open_account
from abrazo.desk.act import done_before
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.payments import ahead_back, tenders
from abrazo.desk.payments.advances import level
from abrazo.desk.payments.deposits import may_go_back
from abrazo.desk.payments.goods_back import Pieces, come_back, pieces_back
from abrazo.desk.payments.invoices import credit_refund
from abrazo.desk.payments.stored_value import earn_on_rest
from abrazo.desk.permissions import Right, read_reason
from abrazo.desk.tickets.change import OnTicket, TicketChange, correcting
from abrazo.desk.tickets.deposits import DepositThing, held_of
from abrazo.desk.tickets.hires import hires_refunded
from abrazo.desk.tickets.naming import route_words
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.desk.till import drawer
from abrazo.store import corrections, deposits, stored_value
from abrazo.store.corrections import Refund
from abrazo.store.deposits import HeldDeposit
from abrazo.store.tenders import CardRequest, PaymentRow
from abrazo.words import phrases as w


def refunds_of(house: House, ticket: int) -> list[Refund]:
    """A ticket's refunds, also those asked of a machine and those that came to nothing."""
    return house.once(("refunds", ticket), lambda: corrections.refunds_of(house.connection, ticket))


def _that_count(house: House, ticket: int) -> list[Refund]:
    """Refunds that gave something back, or may be giving it back."""
    return [refund for refund in refunds_of(house, ticket) if refund.state != RefundState.NOT_DONE]


def left_on(house: House, whole: TicketSnapshot) -> dict[int, int]:
    """What of each standing payment's part of the bill can still be refunded, in minor units."""
    gone, covered = ((refund.payment, refund.of_bill) for refund in _that_count(house, whole.head.id)), _covered(whole)
    return left_of({p.id: rest_of(covered[p.id], p.tip) for p in whole.taken if p.deposit is None}, gone)


def _covered(whole: TicketSnapshot) -> dict[int, int]:
    """What each standing payment pays of bill and tips, by its id: cash rounding and credit left out; minor units."""
    found = dict[int, int]()
    for bill in whole.bill.payers:
        account = open_account(bill.account.total, bill.account.stated)
        theirs = [one for one in whole.ticket.payments if one.payer == bill.id]
        rows = [payment for payment in whole.taken if str(payment.payer) == bill.id]
        found |= zip((row.id for row in rows), covers(account, theirs, whole.ticket.cash_rounding), strict=True)
    return found


def _cash_rounding(edit: TicketChange, payment: PaymentRow, back: int) -> int:
    """What cash rounding adds to what goes back, so that a payment that goes back whole goes back as it came."""
    if payment.tender != Tender.CASH:
        return 0
    before = total(one.amount for one in _that_count(edit.house, edit.id) if one.payment == payment.id)
    covered = _covered(edit.whole)[payment.id]
    return rest_of(cash_back(payment.given, covered, before, back, edit.whole.ticket.cash_rounding), back)


def tips_left_on(house: House, whole: TicketSnapshot) -> dict[int, int]:
    """What of each standing payment's tip can still be given back, in minor units."""
    gone = ((refund.payment, refund.tip) for refund in _that_count(house, whole.head.id))
    return left_of({p.id: p.tip for p in whole.taken if p.deposit is None}, gone)


@dataclass(frozen=True, slots=True)
class RefundWanted:
    """What is to go back of a payment.

    `amount` is of the bill, off the lines or with none off everything; None: all that is left of the lines, or so many
    `pieces` of each. `tip` is of the tip beside it; minor units. `for_sale`: goods that come back are for sale again.
    """

    payment: int
    amount: int | None = None
    lines: Sequence[int] = ()
    tip: int = 0
    pieces: Mapping[int, Fraction] = field(default_factory=dict)
    for_sale: bool = True


def refund(house: House, actor: Actor, on: OnTicket, wanted: RefundWanted, reason: str) -> None:
    """Give back a part of a payment: cash at once, a card through its machine.

    Refused: a line that was refunded before, more than is left of lines or payment.
    """
    why = read_reason(reason)
    with correcting(house, actor, on, "refund", needs=Right.REFUND) as edit:
        if edit.done is not None:
            return
        payment = next((one for one in edit.whole.taken if one.id == wanted.payment), None)
        if payment is None:
            raise NotFound(f"no payment {wanted.payment} on this ticket")
        made = _begin(edit, payment, wanted, why)
        if payment.machine is None:
            _done(edit, made, payment)
        else:
            tenders.ask_back(edit, payment, made.amount, refund=made.id)


def _begin(edit: TicketChange, payment: PaymentRow, wanted: RefundWanted, why: str) -> Refund:
    """Keep what is to go back; refused when it is more than is left."""
    connection = edit.house.connection
    pieces = _pieces(edit, wanted)
    most = {**pieces.worth, **ahead_back.worth_back(edit, wanted.lines, wanted.amount)}
    plan, tip = _plan(edit, wanted, most), wanted.tip
    _may_go(edit, payment, plan.amount, tip)
    taxes = tuple((part.tax, part.amount, part.contained) for part in plan.parts)
    back, who = total((plan.amount, tip)), (edit.actor.till.id, edit.actor.staff.id, edit.by)
    rounding = _cash_rounding(edit, payment, back)
    facts = (back, why, route_words(edit.house, payment), edit.day, *who, edit.at)
    made = Refund(0, edit.id, payment.id, *facts, RefundState.ASKED, tip, taxes=taxes, rounding=rounding,
                  for_sale=wanted.for_sale)  # fmt: skip
    made = replace(made, id=corrections.add_refund(connection, made))
    rows = [
        (kind, int(ref), part, pieces.of.get(int(ref)) if kind == RowKind.LINE else None)
        for (kind, ref), part in plan.rows
    ]
    corrections.add_refund_parts(connection, made.id, rows)
    ahead_back.ask_back(edit, made.id, wanted.lines)
    _not_used(edit, [ref for kind, ref, *_ in rows if kind == RowKind.LINE])
    return made


def went_back_by_itself(edit: TicketChange, payment: PaymentRow, why: str) -> None:
    """Record that all of a payment went back off the ticket's lines without being asked for, as a bank can do."""
    lines = [line.id for line in edit.whole.standing]
    _done(edit, _begin(edit, payment, RefundWanted(payment.id, payment.amount, lines), why), payment)


def _not_used(edit: TicketChange, lines: Sequence[int]) -> None:
    """Refused when more goes back of a gift card, a credit or a deposit than is still on it."""
    for line in (edit.whole.line(id) for id in lines):
        if line.stored is not None:
            left = stored_value.balance(edit.house.connection, line.stored)
        elif line.role is Role.DEPOSIT:
            left = next(one.amount for one in deposits.read_many(edit.house.connection, [line.id]))
        else:
            continue
        if left < 0:
            raise Refused(Code.STORED_SPENT, "lines", line=line.label)


def _pieces(edit: TicketChange, wanted: RefundWanted) -> Pieces:
    """What comes back; nothing with an amount, which is a later discount."""
    if wanted.amount is not None:
        if wanted.pieces:
            raise Refused(Code.PIECES_AND_AMOUNT, "refund")
        return Pieces()
    return pieces_back(edit, given_back(edit.house, edit.id), wanted.lines, wanted.pieces)


def _plan(edit: TicketChange, wanted: RefundWanted, most: Mapping[Ref, int]) -> RefundPlan:
    """What goes back of the bill; nothing when only a tip does."""
    amount, lines, tip = wanted.amount, wanted.lines, wanted.tip
    for line in lines:
        edit.whole.line(line)
    if amount is None and not lines:
        if tip:
            return RefundPlan((), ())
        raise Refused(Code.NOTHING_TO_REFUND, "refund")
    if amount is not None and (amount < 0 or tip < 0 or not (amount or tip)):
        raise Refused(Code.NO_REFUND_AMOUNT, "refund")
    if amount == 0:
        return RefundPlan((), ())
    chosen: list[Ref] = [(RowKind.LINE, str(line)) for line in lines]
    sold: list[Ref] = [(RowKind.LINE, str(line.id)) for line in edit.whole.standing if line.is_sale]
    if not chosen and sold:  # what was sold first; a gift card or deposit only goes back by name
        chosen = [*sold, *((RowKind.CHARGE, str(charge.id)) for charge in edit.whole.charges)]
    given = given_back(edit.house, edit.id)
    plan = plan_refund(edit.whole.ticket, edit.whole.bill, given, chosen, amount, most)
    if not plan.amount:
        raise Refused(Code.NOTHING_TO_REFUND, "refund")
    return plan


def _may_go(edit: TicketChange, payment: PaymentRow, amount: int, tip: int) -> None:
    left = left_on(edit.house, edit.whole)
    tip_left = tips_left_on(edit.house, edit.whole).get(payment.id, 0)
    if tip > tip_left:
        raise Refused(Code.ABOVE_TIP, "refund-tip", tip_left=tip_left)
    if amount > left.get(payment.id, 0):
        raise Refused(Code.ABOVE_PAYMENT, "refund", left=left.get(payment.id, 0))


def given_back(house: House, ticket: int) -> GivenBack:
    """What went back, or may be going back, of a ticket's lines, charges and taxes."""
    parts = [part for refund in _that_count(house, ticket) for part in refund.taxes]
    taxes = totals((tax, contained) for tax, _, contained in parts)
    amounts = {(kind, str(ref)): amount for kind, ref, amount in corrections.parts_given(house.connection, ticket)}
    return GivenBack(amounts, taxes)


def _done(edit: TicketChange, refund: Refund, payment: PaymentRow) -> None:
    """The money is back: what it books, and what stored value gains by it."""
    connection = edit.house.connection
    before = _went_back(edit)
    corrections.set_refund(connection, refund.id, RefundState.DONE)
    corrections.refund_done(connection, edit.id, edit.at)
    edit.house.forget()
    come_back(edit, refund)
    place = replace(payment, till=edit.actor.till.id) if payment.tender == Tender.CASH else payment
    if payment.tender == Tender.CASH:
        drawer.moved(edit.house, edit.actor.till.id, 0, refund.handed)
    edit.wrote(
        Kind.REFUNDED,
        _booked(edit, refund, place, before),
        refund=refund.id,
        payment=payment.id,
        amount=refund.amount,
        route=Personal(refund.route),
        reason=Personal(refund.reason),
        lender=refund.lender,
    )
    credit_refund(edit, refund)
    hires_refunded(edit, _went_back(edit))
    level(edit.house, edit.actor, [line.id for line in edit.whole.lines if line.role is Role.DEPOSIT])
    if payment.tender == Tender.POINTS and edit.whole.head.person is not None:
        _points_return(edit, payment, refund)
    if refund.deposit is None:
        earn_on_rest(edit, _sales_gone(edit), _back_to_points(edit))


def _points_return(edit: TicketChange, payment: PaymentRow, refund: Refund) -> None:
    """Spent points come back, cut cumulatively: all refunds of a payment together give no more than its points."""
    person, settings = edit.whole.head.person, edit.house.settings
    assert person is not None
    done = [one for one in refunds_of(edit.house, edit.id) if one.state == RefundState.DONE]
    all_back = total(one.amount for one in done if one.payment == payment.id)
    before, now = (
        points_back(amount, settings.points_lot, settings.points_value)
        for amount in (rest_of(all_back, refund.amount), all_back)
    )
    stored_value.add_points(edit.house.connection, person, edit.id, payment.id, now - before, edit.at)


def _back_to_points(edit: TicketChange) -> int:
    """What of payments with points went back, in minor units."""
    by_points = {one.id for one in edit.whole.payments if one.tender == Tender.POINTS}
    return total(
        one.amount
        for one in refunds_of(edit.house, edit.id)
        if one.state == RefundState.DONE and one.payment in by_points
    )


def _sales_gone(edit: TicketChange) -> int:
    """What of lines that sell something went back, in minor units."""
    sold = {str(line.id) for line in edit.whole.standing if line.sells}
    return total(
        amount for (kind, ref), amount in _went_back(edit).amounts.items() if kind == RowKind.LINE and ref in sold
    )


def _booked(edit: TicketChange, refund: Refund, payment: PaymentRow, before: WentBack) -> Booked:
    """What a refund books: money out of where it lies, off the sale and the tips, cash by its step."""
    account, whole = tenders.account_of(edit.whole, payment), edit.whole
    if refund.deposit is not None:
        return deposit_given_back(account, refund.amount)
    money = Booked((Posting(account, -refund.of_bill),), minus(_in_report(edit.house, payment, refund.handed)))
    sale = refunded(whole.ticket, whole.bill, whole.uses, before, _went_back(edit))
    whole_lines = [line for line, _ in corrections.pieces_of(edit.house.connection, refund.id)]
    sale = ahead_back.booked_back(edit, refund, whole_lines, sale)
    tips = tips_given_back(refund.tip, account, whole.bill.staff_tips)
    return together(money, sale, tips, cash_difference(refund.rounding, account))


def _in_report(house: House, payment: PaymentRow, amount: int) -> Figures:
    """A part of a payment in the report; it is one payment still, so that it counts for none. Points are counted."""
    found = tenders.in_report(house, payment, amount)
    return tuple(one if one.kind is FigureKind.POINTS else replace(one, count=0) for one in found)


def _went_back(edit: TicketChange) -> WentBack:
    """What went back of a ticket's lines, charges and taxes by refunds that are done."""
    done = [one for one in refunds_of(edit.house, edit.id) if one.state == RefundState.DONE and one.deposit is None]
    parts = [part for one in done for part in corrections.parts_of(edit.house.connection, one.id)]
    return WentBack(
        totals(((kind, str(ref)), amount) for kind, ref, amount in parts),
        totals((tax, contained) for one in done for tax, _, contained in one.taxes if tax is not None),
    )


def answered(edit: TicketChange, ask: CardRequest, approved: bool) -> None:
    """A machine has said how a refund of a closed ticket ended."""
    refund = corrections.read_refund(edit.house.connection, ask.refund or 0)
    if refund is None or refund.state != RefundState.ASKED:
        return
    payment = next(one for one in edit.whole.payments if one.id == refund.payment)
    if approved:
        _done(edit, refund, payment)
    else:
        corrections.set_refund(edit.house.connection, refund.id, RefundState.NOT_DONE)
        ahead_back.not_back(edit.house, refund.id, edit.at)


# ---- what is left of a deposit, back to the card that it came from


def charged_deposit(house: House, thing: DepositThing) -> tuple[HeldDeposit, PaymentRow] | None:
    """The first deposit of a thing of which something is left and that one charge can give back; None without one."""
    for deposit in held_of(house, thing):
        whole = load_ticket(house, deposit.ticket)
        left = left_on(house, whole)
        charge = next((p for p in whole.taken if p.machine and left.get(p.id, 0) >= deposit.amount > 0), None)
        if charge is not None:
            return deposit, charge
    return None


def give_back_to_card(house: House, actor: Actor, thing: DepositThing, key: str) -> str:
    """Ask for what is left of a thing's deposit to go back to its card; gives our reference."""
    found, done = charged_deposit(house, thing), done_before(house, key, "given back", thing.about)
    if done is not None:
        return done
    if found is None:
        raise Refused(Code.NOT_TO_CARD)
    may_go_back(house, thing)
    deposit, charge = found
    with correcting(house, actor, OnTicket(deposit.ticket, None, key), "given back", thing.about) as edit:
        if edit.done is not None:
            return edit.done
        facts = (deposit.amount, house.say(w.DEPOSIT_REST, job=thing.name), charge.route, edit.day)
        made = Refund(0, edit.id, charge.id, *facts, actor.till.id, actor.staff.id, None, edit.at, RefundState.ASKED, 0,
                      deposit.line)  # fmt: skip
        number = corrections.add_refund(house.connection, made)
        edit.answer = tenders.ask_back(edit, charge, deposit.amount, refund=number)
    return edit.answer
