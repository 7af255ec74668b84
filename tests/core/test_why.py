"""Why this much: the derivation adds up to the bill, step by step, for any ticket."""

from __future__ import annotations

import json
from fractions import Fraction
from typing import Any

from hypothesis import given

from abrazo.core.money import round_half_up
from abrazo.core.reckon import reckon
from abrazo.core.why import why
from abrazo.formats.ticket_json import read_ticket
from tests.strategies import tickets


@given(tickets())
def test_the_derivation_adds_up(drawn: dict[str, Any]) -> None:
    ticket = read_ticket(json.dumps(drawn).encode())
    bill = reckon(ticket)
    derived = why(ticket, bill)
    for line, amounts in zip(derived.lines, bill.lines, strict=True):
        each = sum(step.amount * step.times for step in line.steps if step.kind in ("price", "choice"))
        many = next(step for step in line.steps if step.kind == "quantity")
        assert (round_half_up(each * many.times), many.amount) == (amounts.gross, amounts.gross)
        after = [step for step in line.steps if step.kind not in ("price", "choice", "quantity")]
        assert amounts.gross + sum(step.amount for step in after) == amounts.net
        own = [step.amount for step in after if step.kind != "ticket discount"]
        assert amounts.gross + sum(own) == amounts.own
        for step in after:  # what is taken stops at what is left
            assert step.exact is None or abs(step.exact - step.amount) < 1 or step.of == -step.amount
    for tax, reckoned in zip(derived.taxes, bill.taxes, strict=True):
        assert sum(amount for _, _, amount in tax.parts) == reckoned.base
        assert round_half_up(tax.exact) == reckoned.tax == tax.amount
    for payer, shown in zip(derived.payers, bill.payers, strict=True):
        assert sum(cell.amount for cell in payer.cells) == shown.account.total
        assert all(abs(cell.exact - cell.amount) < 1 for cell in payer.cells)
        assert abs(payer.exact - payer.total) < 1


def test_one_line_in_words() -> None:
    ticket = read_ticket(
        json.dumps(
            {
                "currency": "EUR",
                "tax_mode": "inclusive",
                "lines": [
                    {
                        "id": "l",
                        "label": "Crab toastie",
                        "unit_price": "9.50",
                        "quantity": "2",
                        "choices": [{"label": "extra crab", "price": "2.00"}],
                        "adjustments": [{"kind": "discount", "percent": "8", "reason": "late"}],
                    }
                ],
                "discounts": [{"percent": "12", "reason": "club", "stack": "all"}],
            }
        ).encode()
    )
    steps = why(ticket, reckon(ticket)).lines[0].steps
    assert [(step.kind, step.label, step.amount) for step in steps] == [
        ("price", "Crab toastie", 950),
        ("choice", "extra crab", 200),
        ("quantity", None, 2300),
        ("discount", "late", -184),
        ("ticket discount", "club", -254),
    ]
    assert steps[-1].exact == Fraction(-254)
