"""Double entries balance for every ticket that is paid."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given

from abrazo.core.ledger import Posting, balanced, close_postings, taken_postings
from abrazo.core.reckon import reckon
from abrazo.formats.ticket_json import read_ticket
from tests.strategies import tickets


@given(tickets())
def test_a_paid_ticket_closes_in_balance(drawn: dict[str, Any]) -> None:
    """Money taken for the open ticket and its closing leave nothing on it, cash rounding included."""
    currency = read_ticket(json.dumps(drawn).encode()).currency
    open_bill = reckon(read_ticket(json.dumps(drawn).encode()))
    payments = [
        {"payer": payer.id, "tender": "cash", "amount": currency.text(payer.cash_due)}
        for payer in open_bill.payers
        if payer.cash_due
    ]
    ticket = read_ticket(json.dumps(drawn | {"payments": payments}).encode())
    bill = reckon(ticket)
    if bill.due:  # a payer owes less than cash can settle
        return
    groups = {line.id: "food" for line in ticket.lines}
    postings = [*taken_postings("assets:cash:galley", bill.paid), *close_postings(ticket, bill, groups)]
    found: dict[str, int] = {}
    for posting in postings:
        found[posting.account] = found.get(posting.account, 0) + posting.amount
    assert sum(found.values()) == 0
    assert found.get("liabilities:open-tickets", 0) == 0
    for tax in bill.taxes:
        assert found.get(f"liabilities:tax:{tax.id}", 0) == -tax.tax


def test_out_of_balance_is_a_bug() -> None:
    with pytest.raises(AssertionError):
        balanced([Posting("a", 1)])
