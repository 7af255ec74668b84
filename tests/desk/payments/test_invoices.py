"""Invoices: made with what is put on an account or on request, numbered without gaps, taken back by credit notes."""

from __future__ import annotations

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.invoices import Party
from abrazo.core.journal import Kind
from abrazo.core.states import InvoiceKind
from abrazo.desk.output import invoices as papers
from abrazo.desk.payments import (
    account_terms,
    accounts,
    closing,
    invoices,
    refunds,
    reopening,
    statements,
    tenders,
    tips,
)
from abrazo.desk.payments.accounts import Leave
from abrazo.desk.payments.invoices import Buyer, Made
from abrazo.desk.payments.refunds import RefundWanted
from abrazo.desk.people import people
from abrazo.desk.people.people import known
from abrazo.desk.tickets import customer, sharing
from abrazo.desk.tickets.change import OnTicket
from tests.desk.books import holds
from tests.desk.conftest import MACHINE, Desk
from tests.desk.test_both_houses import pay, sale
from tests.refusals import refuses

SOMEBODY = Buyer(Party("Works at the Quay", "Quay 1"))


def works(desk: Desk) -> int:
    return people.add_person(desk.house, desk.tamsin, {"name": "Works", "phone": "", "company": "yes"}, desk.key())


def on_account(desk: Desk, who: int, *, tip: str = "") -> int:
    """A sale that is left unpaid as a whole and closed; gives its ticket."""
    number = sale(desk, [desk.of.goods, desk.of.food])
    customer.set_person(desk.house, desk.tamsin, desk.on(number), who)
    payer = desk.whole(number).payers[0].id
    if tip:
        tips.set_tip(desk.house, desk.tamsin, desk.on(number), payer, tips.TipWanted(amount=tip))
    due = desk.whole(number).payer_bill(payer).account.due
    accounts.put_on_account(desk.house, desk.tamsin, desk.on(number), payer, Leave(due))
    closing.free_table(desk.house, desk.tamsin, desk.on(number))
    return number


def made(desk: Desk, number: int) -> list[Made]:
    return invoices.of_ticket(desk.house, number)


def request(desk: Desk, number: int, buyer: Buyer = SOMEBODY, key: str = "") -> Made:
    payer = desk.whole(number).payers[0].id
    on = OnTicket(number, None, key or desk.key())
    return invoices.read_invoice(desk.house, invoices.on_request(desk.house, desk.tamsin, on, payer, buyer))


def numbers(desk: Desk) -> list[str]:
    """All that were made, in their order; each kind runs on without gaps."""
    found = desk.house.connection.execute("SELECT kind, number FROM invoice ORDER BY id").fetchall()
    for kind in InvoiceKind:
        assert [number for of, number in found if of == kind] == list(range(1, sum(of == kind for of, _ in found) + 1))
    return [f"{kind[0].upper()}-{number}" for kind, number in found]


def test_closing_with_a_sum_on_an_account_makes_one(both: Desk) -> None:
    who = works(both)
    number = on_account(both, who, tip="3.00")
    (one,) = made(both, number)
    bill, told = both.whole(number).bill, one.told
    assert (told.number, told.buyer.name, one.row.buyer) == ("I-1", "Works", who)
    assert (told.figures.total, told.figures.due, told.figures.paid) == (bill.total, bill.total, 0)  # no tip
    assert told.figures.tax == bill.tax_total
    assert told.exchangeable is (both.of.till == "galley")  # the other house has no number for VAT
    (open_one,) = accounts.open_invoices(both.house, known(both.house, who))
    assert (open_one.paper, open_one.paper_number) == (one.row.id, "I-1")
    on_account(both, who)
    assert numbers(both) == ["I-1", "I-2"]
    holds(both)


def test_what_is_paid_partly_says_what_is_due(both: Desk) -> None:
    who = works(both)
    number = sale(both, [both.of.goods, both.of.food])
    customer.set_person(both.house, both.tamsin, both.on(number), who)
    payer = both.whole(number).payers[0].id
    tenders.take_cash(both.house, both.tamsin, both.on(number), payer, tenders.Sum(500), 500)
    due = both.whole(number).payer_bill(payer).account.due
    accounts.put_on_account(both.house, both.tamsin, both.on(number), payer, Leave(due))
    closing.free_table(both.house, both.tamsin, both.on(number))
    figures = made(both, number)[0].told.figures
    assert (figures.paid, figures.due, figures.total) == (500, due, 500 + due)


def test_cash_rounding_stands_apart(desk: Desk) -> None:
    number = sale(desk, [desk.of.food])
    whole = desk.whole(number)
    tips.set_tip(desk.house, desk.tamsin, desk.on(number), whole.payers[0].id, tips.TipWanted(amount="0.02"))
    due = whole.bill.due
    pay(desk, number)
    figures = request(desk, number).told.figures
    rounding = desk.whole(number).bill.payers[0].account.rounding
    assert (figures.total, figures.rounding, figures.paid, figures.due) == (due, rounding, due + rounding, 0)


def test_on_request_for_somebody_unknown_once(both: Desk) -> None:
    number = sale(both, [both.of.food])
    pay(both, number)
    key = both.key()
    one, again = request(both, number, key=key), request(both, number, key=key)
    assert one == again and numbers(both) == ["I-1"]
    assert (one.told.buyer.name, one.told.buyer.address, one.row.buyer) == ("Works at the Quay", "Quay 1", None)
    with pytest.raises(Refused) as refusal:
        request(both, number)
    assert (refusal.value.code, refusal.value.facts["number"]) == (Code.INVOICED_ALREADY, "I-1")


def test_bad_buyers_are_refused_beside_their_field(desk: Desk) -> None:
    number = sale(desk, [desk.of.food])
    pay(desk, number)
    for party, code, where in (
        (Party(" "), Code.NO_BUYER, "buyer"),
        (Party("Works", country="Ireland"), Code.NO_COUNTRY, "country"),
        (Party("Works", "x" * 201), Code.TOO_LONG, "address"),
    ):
        with pytest.raises(Refused) as refusal:
            request(desk, number, Buyer(party))
        assert (refusal.value.code, refusal.value.where) == (code, where)
    assert numbers(desk) == []


def test_an_open_ticket_has_none(desk: Desk) -> None:
    number = sale(desk, [desk.of.food])
    with refuses("not closed|still open|is open"):
        request(desk, number)
    assert numbers(desk) == []


def test_what_is_typed_for_somebody_known_is_kept(desk: Desk) -> None:
    who = works(desk)
    number = sale(desk, [desk.of.food])
    pay(desk, number)
    request(desk, number, Buyer(Party("Works Ltd", "Quay 2", "gb", "GB 1"), who))
    kept = known(desk.house, who)
    assert (kept.name, kept.legal_name, kept.address, kept.country) == ("Works", "Works Ltd", "Quay 2", "GB")
    later = made(desk, on_account(desk, who))[0].told.buyer
    assert later == Party("Works Ltd", "Quay 2", "GB", "GB 1")
    invoices.keep_party(desk.house, desk.tamsin, who, Party("Works"))
    assert invoices.party_of(desk.house, known(desk.house, who)) == Party("Works", "", "IE", "")
    assert made(desk, number)[0].told.buyer.name == "Works Ltd"  # as it was made


def test_refunds_make_credit_notes_that_add_up_to_the_invoice(both: Desk) -> None:
    number = sale(both, [both.of.food, both.of.goods, both.of.goods])
    payment = pay(both, number)
    lines = [line.id for line in both.whole(number).standing]

    def back(line: int) -> None:
        wanted = RefundWanted(payment, None, [line])
        refunds.refund(both.house, both.boss, OnTicket(number, None, both.key()), wanted, "returned")

    back(lines[0])  # before there is an invoice
    one = request(both, number)
    assert numbers(both) == ["I-1", "C-1"]
    back(lines[1])
    back(lines[2])
    assert numbers(both) == ["I-1", "C-1", "C-2", "C-3"]
    credits = [note.told for note in made(both, number)[1:]]
    assert {note.credits for note in credits} == {"I-1"} and credits[0].reason == "returned"
    assert sum(note.figures.total for note in credits) == one.told.figures.total
    assert sum(note.figures.tax for note in credits) == one.told.figures.tax
    assert sum(note.figures.base for note in credits) == one.told.figures.base
    holds(both)


def test_a_refund_by_amount_and_of_a_tip(both: Desk) -> None:
    who = works(both)
    number = on_account(both, who, tip="3.00")
    whole = both.whole(number)
    payment = whole.taken[0].id
    wanted = RefundWanted(payment, 200, [])
    refunds.refund(both.house, both.boss, OnTicket(number, None, both.key()), wanted, "late")
    note = made(both, number)[1].told
    assert (note.kind, note.figures.total, note.figures.due, note.due_on) == (InvoiceKind.CREDIT_NOTE, 200, 200, "")
    only_tip = RefundWanted(payment, 0, [], tip=300)
    refunds.refund(both.house, both.boss, OnTicket(number, None, both.key()), only_tip, "late")
    assert numbers(both) == ["I-1", "C-1"]
    today = both.clock.time.date()
    rows = statements.statement_of(both.house, who, today, today).rows
    assert next(row.papers for row in rows if row.papers) == ("I-1", "C-1")


def test_opening_again_takes_it_back_and_closing_makes_a_new_one(both: Desk) -> None:
    number = on_account(both, works(both))
    reopening.reopen(both.house, both.boss, OnTicket(number, None, both.key()), "forgot the bread")
    assert numbers(both) == ["I-1", "C-1"] and invoices.standing(both.house, number) == {}
    assert made(both, number)[1].told.figures == made(both, number)[0].told.figures
    closing.free_table(both.house, both.tamsin, both.on(number))
    assert numbers(both) == ["I-1", "C-1", "I-2"]
    (stands,) = invoices.standing(both.house, number).values()
    assert stands.told.number == "I-2"
    holds(both)


def test_what_was_requested_comes_again_after_a_correction(both: Desk) -> None:
    number = sale(both, [both.of.food])
    pay(both, number)
    request(both, number)
    reopening.reopen(both.house, both.boss, OnTicket(number, None, both.key()), "to look")
    closing.free_table(both.house, both.tamsin, both.on(number))
    assert numbers(both) == ["I-1", "C-1", "I-2"]
    assert made(both, number)[-1].told.buyer.name == "Works at the Quay"
    reopening.void(both.house, both.boss, OnTicket(number, None, both.key()), "all wrong")
    assert numbers(both) == ["I-1", "C-1", "I-2", "C-2"] and invoices.standing(both.house, number) == {}
    holds(both)


def test_one_account_a_payer(desk: Desk) -> None:
    first, second = works(desk), works(desk)
    ada = people.add_person(desk.house, desk.tamsin, {"name": "Ada", "phone": "020 910 0199"}, desk.key())
    for company in (first, second):
        account_terms.set_member(desk.house, desk.boss, company, ada, None)
    number = sale(desk, [desk.of.goods, desk.of.food])
    payer = desk.whole(number).payers[0].id
    customer.set_person(desk.house, desk.tamsin, desk.on(number), ada)
    accounts.put_on_account(desk.house, desk.tamsin, desk.on(number), payer, Leave(300, first))
    with pytest.raises(Refused) as refusal:
        accounts.put_on_account(desk.house, desk.tamsin, desk.on(number), payer, Leave(300, second))
    assert (refusal.value.code, refusal.value.where) == (Code.ONE_ACCOUNT_A_PAYER, "account")


@pytest.mark.parametrize("stated", [0, 333])
def test_each_of_several_payers_has_their_own(both: Desk, stated: int) -> None:
    """In equal parts, and when one of them gives an amount whoever had what."""
    number = sale(both, [both.of.food, both.of.goods, both.of.goods])
    sharing.equal_parts(both.house, both.tamsin, both.on(number), 2 if stated else 3)
    if stated:
        sharing.state_amount(both.house, both.tamsin, both.on(number), stated)
    for payer in both.whole(number).payers:
        due = both.whole(number).payer_bill(payer.id).account.due
        tenders.ask_card(both.house, both.tamsin, both.on(number), payer.id, MACHINE, tenders.Sum(due))
        both.follow()
    closing.free_table(both.house, both.tamsin, both.on(number))
    figures = []
    for payer in both.whole(number).payers:
        on = OnTicket(number, None, both.key())
        one = invoices.on_request(both.house, both.tamsin, on, payer.id, SOMEBODY)
        figures.append(invoices.read_invoice(both.house, one).told.figures)
    bill = both.whole(number).bill
    assert sum(one.total for one in figures) == bill.total
    assert sum(one.tax for one in figures) == bill.tax_total
    assert numbers(both) == ["I-1", "I-2", "I-3"]


def test_it_goes_out_once_by_mail(both: Desk) -> None:
    number = sale(both, [both.of.food])
    pay(both, number)
    one, key = request(both, number), both.key()
    with refuses("address"):
        papers.mail_invoice(both.house, both.tamsin, one, "nobody", both.key())
    for _ in range(2):
        papers.mail_invoice(both.house, both.tamsin, one, "office@works.example", key)
    sent = both.house.connection.execute("SELECT count(*) FROM journal WHERE kind = ?", (Kind.INVOICE_SENT,)).fetchone()
    assert sent[0] == 1
    assert papers.as_pdf(both.house, one).startswith(b"%PDF-1.")
    if not one.told.exchangeable:
        with pytest.raises(Refused) as refusal:
            papers.as_xml(one)
        assert refusal.value.code is Code.INVOICE_NOT_DATA


def test_it_survives_the_process(desk: Desk) -> None:
    who = works(desk)
    number = on_account(desk, who)
    before = made(desk, number)
    desk.die()
    assert made(desk, number) == before
    on_account(desk, who)
    assert numbers(desk) == ["I-1", "I-2"]
