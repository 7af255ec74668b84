"""Bank accounts that the payment service collects from, and what comes back of it days later."""

from __future__ import annotations

from dataclasses import replace

import pytest

from abrazo.core.codes import is_bank_account
from abrazo.core.errors import Refused
from abrazo.core.states import Extra, RefundState
from abrazo.desk.doors.views.jobs import rack
from abrazo.desk.overview.queue import queue
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.payments import accounts, cards, closing, debits_back, gift_cards, refunds, tenders, tips
from abrazo.desk.people import people
from abrazo.desk.people.people import known
from abrazo.desk.tickets import customer, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.till.views.matching import match_day
from abrazo.devices.simulator import card as stand_in
from tests.desk.conftest import Desk
from tests.refusals import refuses

IBAN = "DE89 3704 0044 0532 0130 00"  # the example of the IBAN registry (ISO 13616)
ROUTED = "021000021 12345678"  # a routing number of the check digit's usual example; the account is invented


@pytest.fixture(autouse=True)
def back_at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    """What the stand-in sends back, it sends at once."""
    monkeypatch.setattr(stand_in, "BACK_AFTER", -1.0)


def test_numbers_of_accounts() -> None:
    assert is_bank_account(IBAN)
    assert is_bank_account("GB82WEST12345698765432")  # from memory: the usual example of the United Kingdom
    assert is_bank_account(ROUTED)
    wrong = ("", "DE89 3704 0044 0532 0130 01", "021000022 12345678", "021000021", "12345678", "DE", "021000021 123")
    assert not any(map(is_bank_account, wrong))


def _stored(desk: Desk) -> tuple[int, int]:
    facts = {"name": "Theo Brandvold"}
    who = people.add_person(desk.house, desk.tamsin, facts, desk.key())
    key = desk.key()
    wanted = cards.BankAccount("Theo Brandvold", IBAN, agreed=True)
    found = {cards.store_account(desk.house, desk.tamsin, who, wanted, key) for _ in range(2)}
    assert len(found) == 1
    return who, found.pop()


def _collected(desk: Desk, ticket: int, bank: int, outcome: str = stand_in.COMES_BACK) -> None:
    """All that is due, from the bank account."""
    desk.tell(outcome)
    payer = desk.whole(ticket).payers[0].id
    due = desk.whole(ticket).payer_bill(payer).account.due
    cards.charge_stored(desk.house, desk.tamsin, desk.on(ticket), payer, bank, tenders.Sum(due))
    desk.follow()
    assert desk.whole(ticket).bill.due == 0


def _sale(desk: Desk, who: int) -> int:
    ticket = customer.open_sale(desk.house, desk.tamsin, who, desk.key())
    for item in (desk.of.goods, desk.of.task):
        ticket_lines.add_line(desk.house, desk.tamsin, desk.on(ticket), ticket_lines.Picked(item))
    return ticket


def _closed(desk: Desk, ticket: int) -> None:
    closing.free_table(desk.house, desk.tamsin, OnTicket(ticket, None, desk.key()))


def _owed(desk: Desk, who: int) -> tuple[int, list[int]]:
    person = known(desk.house, who)
    return accounts.owed_by(desk.house, person), [one.left for one in accounts.open_invoices(desk.house, person)]


def _waiting(desk: Desk) -> list[str]:
    cards_, _ = queue(desk.house, desk.tamsin, [], rack(desk.house))
    return [one.reason for one in cards_ if "came back" in one.reason]


def _balanced(desk: Desk) -> None:
    assert desk.balance("") == 0
    assert soundness(desk.house) == []
    matched = match_day(desk.house, desk.house.day().id)
    assert [route.mismatches for route in matched.routes if route.name == "payment service"] == [[]]


def test_a_bank_account_is_kept_without_its_number(both: Desk) -> None:
    desk = both
    who, bank = _stored(desk)
    rows = "".join(str(tuple(row)) for row in desk.house.connection.execute("SELECT * FROM card")) + "".join(
        str(tuple(row)) for row in desk.house.connection.execute("SELECT * FROM journal")
    )
    assert "3000" in rows
    assert "37040044" not in rows.replace(" ", "")
    good = cards.BankAccount("Theo", ROUTED, agreed=True)
    for wrong, where in (
        (replace(good, holder=" "), "holder"),
        (replace(good, number="12345678"), "account_number"),
        (replace(good, agreed=False), "agreed"),
    ):
        with pytest.raises(Refused) as refusal:
            cards.store_account(desk.house, desk.tamsin, who, wrong, desk.key())
        assert refusal.value.where == where
    desk.tell(down=True)
    with refuses("cannot be reached"):
        cards.store_account(desk.house, desk.tamsin, who, good, desk.key())
    desk.tell()
    ticket = _sale(desk, who)
    _collected(desk, ticket, bank, "approve")
    _closed(desk, ticket)
    assert [payment.tender for payment in desk.whole(ticket).taken] == ["bank account"]
    assert not debits_back.ask_for_returned(desk.house)
    cards.forget(desk.house, desk.tamsin, who, bank)
    assert cards.stored_for(desk.house, who) == []
    _balanced(desk)


def test_what_comes_back_of_a_closed_sale_is_owed(both: Desk) -> None:
    desk = both
    who, bank = _stored(desk)
    ticket = _sale(desk, who)
    payer = desk.whole(ticket).payers[0].id
    tips.set_tip(desk.house, desk.tamsin, desk.on(ticket), payer, tips.TipWanted(amount="3.00"))
    bill = desk.whole(ticket).bill.due
    _collected(desk, ticket, bank)
    _closed(desk, ticket)
    assert [debits_back.ask_for_returned(desk.house) for _ in range(2)] == [True, False]
    desk.die()
    assert not debits_back.ask_for_returned(desk.house)
    assert _owed(desk, who) == (bill, [bill])
    assert [p.tender for p in desk.whole(ticket).taken] == ["account"]
    assert len(_waiting(desk)) == 1
    assert any("came back" in line for line in desk.told(ticket))
    _balanced(desk)
    paying = accounts.receive(desk.house, desk.tamsin, who, bill, desk.key())
    _collected(desk, paying, bank, "approve")
    _closed(desk, paying)
    assert (_owed(desk, who), _waiting(desk)) == ((0, []), [])
    _balanced(desk)


def test_an_invoice_that_was_paid_so_stands_as_old_as_it_is(both: Desk) -> None:
    desk = both
    who, bank = _stored(desk)
    for _ in range(2):
        ticket = _sale(desk, who)
        payer, due = desk.whole(ticket).payers[0].id, desk.whole(ticket).bill.due
        accounts.put_on_account(desk.house, desk.tamsin, desk.on(ticket), payer, accounts.Leave(due, owed=True))
        _closed(desk, ticket)
        desk.clock.on(60)
    person = known(desk.house, who)
    before = accounts.open_invoices(desk.house, person)
    paying = accounts.receive_invoices(desk.house, desk.tamsin, who, [before[0].payment], desk.key())
    _collected(desk, paying, bank)
    _closed(desk, paying)
    assert _owed(desk, who)[1] == [due]
    assert debits_back.ask_for_returned(desk.house)
    assert accounts.open_invoices(desk.house, person) == before
    assert [refund.state for refund in refunds.refunds_of(desk.house, paying)] == [RefundState.DONE]
    assert len(_waiting(desk)) == 1
    _balanced(desk)


def test_on_an_open_ticket_it_is_due_again(both: Desk) -> None:
    desk = both
    who, bank = _stored(desk)
    ticket = _sale(desk, who)
    due = desk.whole(ticket).bill.due
    _collected(desk, ticket, bank)
    assert debits_back.ask_for_returned(desk.house)
    assert desk.whole(ticket).bill.due == due
    _balanced(desk)
    _collected(desk, ticket, bank, "approve")
    _closed(desk, ticket)
    _balanced(desk)


def test_after_a_refund_all_that_the_bank_took_is_owed(both: Desk) -> None:
    desk = both
    who, bank = _stored(desk)
    ticket = _sale(desk, who)
    bill = desk.whole(ticket).bill.due
    _collected(desk, ticket, bank)
    _closed(desk, ticket)
    desk.tell()
    payment = desk.whole(ticket).taken[0].id
    wanted = refunds.RefundWanted(payment, 500)
    refunds.refund(desk.house, desk.boss, OnTicket(ticket, None, desk.key()), wanted, "scratched")
    desk.follow()
    desk.tell(down=True)
    assert not debits_back.ask_for_returned(desk.house)  # silence says nothing
    desk.tell()
    assert debits_back.ask_for_returned(desk.house)
    assert _owed(desk, who) == (bill, [bill])
    _balanced(desk)


def test_what_became_credit_meanwhile_is_owed_beside_the_ticket(both: Desk) -> None:
    desk = both
    who, bank = _stored(desk)
    ticket = _sale(desk, who)
    payer = desk.whole(ticket).payers[0].id
    due = desk.whole(ticket).payer_bill(payer).account.due
    desk.tell(stand_in.COMES_BACK)
    wanted = tenders.Sum(due + 1000, Extra.CREDIT)
    cards.charge_stored(desk.house, desk.tamsin, desk.on(ticket), payer, bank, wanted)
    desk.follow()
    _closed(desk, ticket)
    other = _sale(desk, who)
    spending = gift_cards.Spending("store credit", 1000)
    gift_cards.spend(desk.house, desk.tamsin, desk.on(other), desk.whole(other).payers[0].id, spending)
    assert [debits_back.ask_for_returned(desk.house) for _ in range(2)] == [True, False]
    assert _owed(desk, who) == (due + 1000, [due + 1000])
    assert [p.tender for p in desk.whole(ticket).taken] == ["bank account"]
    assert len(_waiting(desk)) == 1
    _balanced(desk)


def test_a_payment_that_went_back_to_them_and_comes_back_is_owed(both: Desk) -> None:
    desk = both
    who, bank = _stored(desk)
    ticket = _sale(desk, who)
    due = desk.whole(ticket).bill.due
    _collected(desk, ticket, bank)
    desk.tell()
    tenders.take_back(desk.house, desk.tamsin, desk.on(ticket), desk.whole(ticket).taken[0].id)
    desk.follow()
    assert desk.whole(ticket).bill.due == due
    assert debits_back.ask_for_returned(desk.house)
    assert _owed(desk, who) == (due, [due])
    assert desk.whole(ticket).bill.due == due
    _balanced(desk)
