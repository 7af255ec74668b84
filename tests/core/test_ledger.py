"""Double entries balance for every ticket that is paid, and for every other kind of settlement."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core import ledger
from abrazo.core.ledger import LineUse, Posting, Postings, Role, balanced, close_postings, taken_postings, turned
from abrazo.core.reckon import reckon
from abrazo.formats.ticket_json import read_ticket
from tests.strategies import tickets


def sale(group: str) -> LineUse:
    """A line that sells something of a report group."""
    return LineUse(Role.SALE, group)


def balances(*entries: Postings) -> dict[str, int]:
    found: dict[str, int] = {}
    for postings in entries:
        assert sum(posting.amount for posting in postings) == 0
        for posting in postings:
            found[posting.account] = found.get(posting.account, 0) + posting.amount
    return {account: amount for account, amount in found.items() if amount}


@given(tickets())
def test_a_paid_ticket_closes_in_balance_and_a_full_refund_leaves_nothing(drawn: dict[str, Any]) -> None:
    open_ticket = read_ticket(json.dumps(drawn).encode())
    text = open_ticket.currency.text
    owed = [(payer.id, payer.cash_due) for payer in reckon(open_ticket).payers if payer.cash_due]
    payments = [{"payer": payer, "tender": "cash", "amount": text(due)} for payer, due in owed]
    ticket = read_ticket(json.dumps(drawn | {"payments": payments}).encode())
    bill = reckon(ticket)
    if bill.due:  # somebody owes less than cash can settle
        return
    uses = {line.id: sale("food") for line in ticket.lines}
    taken, closed = taken_postings("assets:cash:galley", bill.paid), close_postings(ticket, bill, uses)
    found = balances(taken, closed)
    assert "liabilities:open-tickets" not in found
    for tax in bill.taxes:
        assert found.get(f"liabilities:tax:{tax.id}", 0) == -tax.tax
    contra = sum(
        amount for account, amount in found.items() if account.startswith(("income:disc", "income:bene", "income:comp"))
    )
    contained = bill.tax_total if drawn["tax_mode"] == "inclusive" else 0
    income = sum(amount for account, amount in found.items() if account.startswith("income:")) - contra
    rounding = sum(payer.account.rounding for payer in bill.payers)
    assert -income == bill.net + contra + bill.charges_total - contained + rounding
    assert balances(taken, closed, turned(taken), turned(closed)) == {}


def test_discounts_and_comps_stand_by_reason() -> None:
    lines = [
        {
            "id": "a",
            "unit_price": "10.00",
            "adjustments": [{"kind": "discount", "percent": "10", "reason": "slow pour"}],
        },
        {
            "id": "b",
            "unit_price": "6.00",
            "adjustments": [{"kind": "discount", "percent": "100", "reason": "Late soup"}],
        },
        {
            "id": "c",
            "unit_price": "4.00",
            "adjustments": [{"kind": "benefit", "percent": "25", "reason": "Tidekeeper"}],
        },
    ]
    given = {
        "currency": "EUR",
        "tax_mode": "inclusive",
        "lines": lines,
        "discounts": [{"amount": "0.60", "reason": "club"}],
    }
    payments = [{"payer": "all", "tender": "card", "amount": "11.40"}]
    ticket = read_ticket(json.dumps(given | {"payments": payments}).encode())
    found = balances(close_postings(ticket, reckon(ticket), {"a": sale("bar"), "b": sale("food"), "c": sale("bar")}))
    assert found == {
        "liabilities:open-tickets": 1140,
        "income:sales:bar": -1400,
        "income:sales:food": -600,
        "income:discounts:slow-pour": 100,
        "income:comps:late-soup": 600,
        "income:benefits:tidekeeper": 100,
        "income:discounts:club": 60,
    }


@given(st.integers(1, 10**6))
def test_every_other_settlement_balances(amount: int) -> None:
    cash = ledger.money_account("cash", "Galley")
    assert cash == "assets:cash:galley"
    for kind, account in ledger.STORED.items():
        used = taken_postings(ledger.money_account(kind, ""), amount)
        assert balances(ledger.stored_postings(cash, kind, amount), used) == {
            cash: amount,
            "liabilities:open-tickets": -amount,
        }
        assert ledger.money_account(kind, "") == account
    owed = taken_postings(ledger.customer_account(4), amount)
    paid = ledger.received_postings(ledger.money_account("card", "card machine 1"), 4, amount)
    assert balances(owed, paid) == {"assets:card:card-machine-1": amount, "liabilities:open-tickets": -amount}
    assert balances(ledger.stored_postings(cash, "deposit", amount), ledger.kept_deposit_postings(amount)) == {
        cash: amount,
        "income:deposits-kept": -amount,
    }
    drawer = [ledger.petty_postings("Galley", "ice", amount), ledger.tips_paid_postings("Galley", "jory", amount)]
    found = balances(*drawer, ledger.over_short_postings("Galley", -amount))
    assert found[cash] == -3 * amount
    assert ledger.money_account("cheque", "") == "assets:recorded:cheque"


@given(st.integers(1, 10**6), st.integers(0, 10**6))
def test_a_deposit_and_an_account_are_no_sale(deposit: int, goods: int) -> None:
    """A ticket with a deposit, money received on an account and goods: only the goods are sold."""
    amounts = {"d": deposit, "r": 700, "g": goods}
    lines = [{"id": name, "unit_price": f"{cents / 100:.2f}"} for name, cents in amounts.items()]
    total = sum(amounts.values())
    payments = [{"payer": "all", "tender": "card", "amount": f"{total / 100:.2f}"}]
    given = {"currency": "EUR", "tax_mode": "inclusive", "lines": lines, "payments": payments}
    ticket = read_ticket(json.dumps(given).encode())
    uses = {"d": LineUse(Role.DEPOSIT), "r": LineUse(Role.ACCOUNT_PAYMENT, customer=4), "g": sale("shop")}
    found = balances(close_postings(ticket, reckon(ticket), uses))
    expected = {
        "liabilities:open-tickets": total,
        "liabilities:deposits": -deposit,
        "assets:receivables:person-4": -700,
    }
    assert found == expected | ({"income:sales:shop": -goods} if goods else {})
    assert {ledger.line_account(use) for use in uses.values()} == {*expected, "income:sales:shop"} - {
        "liabilities:open-tickets"
    }


@given(st.integers(1, 10**6))
def test_a_held_card_is_nothing_paid(amount: int) -> None:
    assert all(
        not account.startswith(("income:", "assets:card:"))
        for account in balances(ledger.hold_postings("card machine 1", amount))
    )
    assert balances(ledger.hold_postings("m", amount), ledger.hold_postings("m", -amount)) == {}


def test_out_of_balance_is_a_bug() -> None:
    with pytest.raises(AssertionError):
        balanced([Posting("a", 1)])


GIVEN_AWAY = {
    "income:discounts:slow-pour": 120,
    "income:surcharges": -80,
    "income:benefits:rowers": 100,
    "income:comps:none": 300,
    "income:discounts:late-tide": 200,
    "income:discounts:none": 100,
}


@pytest.mark.parametrize(
    ("mode", "expected"),
    [
        (
            "inclusive",
            {
                "liabilities:open-tickets": 1386,
                "income:sales:bar": -1307,
                "income:sales:food": -491,
                "income:service-charge": -105,
                "liabilities:tax:std": -214,
                "liabilities:tax:red": -9,
            },
        ),
        (
            "exclusive",
            {
                "liabilities:open-tickets": 1653,
                "income:sales:bar": -1500,
                "income:sales:food": -500,
                "income:service-charge": -126,
                "liabilities:tax:std": -257,
                "liabilities:tax:red": -10,
            },
        ),
    ],
)
def test_a_close_to_the_cent_by_account(mode: str, expected: dict[str, int]) -> None:
    """Everything given away by reason or none, a charge, two rates: with the tax in the prices, and added to them."""
    lines: list[dict[str, Any]] = [
        {"id": "a", "unit_price": "12.00", "tax": "std", "adjustments": [
            {"kind": "discount", "percent": "10", "reason": "slow pour"}, {"kind": "surcharge", "amount": "0.80"}]},
        {"id": "b", "unit_price": "5.00", "tax": "red", "adjustments": [
            {"kind": "benefit", "percent": "20", "reason": "Rowers"}]},
        {"id": "c", "unit_price": "3.00", "adjustments": [{"kind": "discount", "percent": "100"}]},
    ]  # fmt: skip
    drawn = {"currency": "EUR", "tax_mode": mode, "taxes": [{"id": "std", "rate": "0.20"}, {"id": "red", "rate": "0.10"}],
             "lines": lines, "discounts": [{"amount": "2.00", "reason": "Late tide"}, {"amount": "1.00"}],
             "charges": [{"id": "s", "percent": "10", "tax": "std"}]}  # fmt: skip
    due = read_ticket(json.dumps(drawn).encode()).currency.text(reckon(read_ticket(json.dumps(drawn).encode())).total)
    ticket = read_ticket(json.dumps(drawn | {"payments": [{"payer": "all", "tender": "card", "amount": due}]}).encode())
    uses = {"a": sale("bar"), "b": sale("food"), "c": sale("bar")}
    assert balances(close_postings(ticket, reckon(ticket), uses)) == {**GIVEN_AWAY, **expected}


def test_where_each_tender_lies() -> None:
    assert ledger.money_account("keyed card", "Payment service") == "assets:card:payment-service"
    assert ledger.money_account("stored card", "Payment service") == "assets:card:payment-service"
    assert ledger.line_account(LineUse(Role.ACCOUNT_PAYMENT)) == "assets:receivables:person-0"
