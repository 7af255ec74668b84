"""Why this much: the derivation adds up to the bill, step by step, for any ticket."""

from __future__ import annotations

import json
from fractions import Fraction
from typing import Any

from hypothesis import given

from abrazo.core.money import Currency, round_half_up
from abrazo.core.reckon import reckon
from abrazo.core.sharing import Guest, Payer
from abrazo.core.states import AdjustmentKind, RowKind, Share, TaxMode
from abrazo.core.tax import Tax
from abrazo.core.ticket import Adjustment, Charge, Choice, Discount, Line, Settled, Ticket
from abrazo.core.why import CellWhy, ChargeWhy, LineWhy, Step, TaxWhy, why
from abrazo.formats.ticket_json import read_ticket
from tests.strategies import tickets

EURO = Currency.of("EUR")


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


def test_a_whole_derivation_to_the_letter() -> None:
    """Two guests, a choice, a discount on a line and one on the ticket, charges of both bases and of an amount."""
    fish = Line("a", 1000, Fraction(2), "Fish", "std", choices=(Choice(50, 2, "bread"),),
                adjustments=(Adjustment(AdjustmentKind.DISCOUNT, percent=Fraction(10), reason="late"), Adjustment(AdjustmentKind.SURCHARGE, amount=20)))  # fmt: skip
    tea = Line("b", 333, label="Tea", shares=(("G", 1), ("H", 2)))
    charges = (
        Charge("c", percent=Fraction(10)),
        Charge("g", percent=Fraction(1), base="gross", tax="std"),
        Charge("f", amount=99, share=Share.EVEN),
    )
    ticket = Ticket(EURO, TaxMode.EXCLUSIVE, taxes=(Tax("std", Fraction(1, 5)),), lines=(fish, tea), charges=charges,
                    guests=(Guest("G"), Guest("H")), discounts=(Discount(percent=Fraction(5), lines=("b",), reason="rain"),))  # fmt: skip
    bill = reckon(ticket)
    derived = why(ticket, bill)
    assert derived.lines == (
        LineWhy("a", (
            Step("price", 1000, "Fish"),
            Step("choice", 50, "bread", Fraction(2)),
            Step("quantity", 2200, None, Fraction(2), of=1100, exact=Fraction(2200)),
            Step("discount", -220, "late", percent=Fraction(10), of=2200, exact=Fraction(-220)),
            Step("surcharge", 20, None, of=1980),
        ), 2200, 2000, 2000),
        LineWhy("b", (
            Step("price", 333, "Tea"),
            Step("quantity", 333, None, Fraction(1), of=333, exact=Fraction(333)),
            Step("ticket discount", -17, "rain", percent=Fraction(5), of=333, exact=Fraction(-17)),
        ), 333, 333, 316),
    )  # fmt: skip
    assert derived.lines[0].steps[1].comes_to == 100
    assert derived.charges == (
        ChargeWhy("c", 232, Fraction(10), 2316, Fraction(1158, 5)),
        ChargeWhy("g", 25, Fraction(1), 2533, Fraction(2533, 100)),
        ChargeWhy("f", 99),
    )
    assert derived.taxes == (
        TaxWhy("std", Fraction(1, 5), (("line", "a", 2000), ("charge", "g", 25)), 2025, Fraction(405), 405),
    )
    first = derived.payers[0]
    assert (first.id, first.total) == (bill.payers[0].id, bill.payers[0].account.total)
    cells = {(cell.kind, cell.ref): cell for cell in first.cells}
    assert cells["line", "a"] == CellWhy("a", "line", 2000, 1, 2, Fraction(1000), 1000)
    assert cells["line", "b"] == CellWhy("b", "line", 316, 1, 3, Fraction(316, 3), cells["line", "b"].amount)
    assert cells["charge", "f"] == CellWhy("f", "charge", 99, 1, 2, Fraction(99, 2), cells["charge", "f"].amount)
    assert first.exact == sum(cell.exact for cell in first.cells)


def test_what_was_paid_before_says_so() -> None:
    lines = (Line("a", 401),)
    ticket = Ticket(EURO, TaxMode.INCLUSIVE, lines=lines, guests=(Guest("G"), Guest("H")), payers=(Payer("p", ("G",)), Payer("q", ("H",))),
                    settled={"p": Settled({(RowKind.LINE, "a"): 201}, {})})  # fmt: skip
    paid, open_ = why(ticket, reckon(ticket)).payers
    assert paid.cells == (CellWhy("a", "line", 401, 0, paid.cells[0].weights, Fraction(201), 201, kept=True),)
    assert open_.cells == (CellWhy("a", "line", 401, 1, 1, Fraction(200), 200),)
    inside = Ticket(EURO, TaxMode.INCLUSIVE, taxes=(Tax("std", Fraction(1, 5)),), lines=(Line("a", 1000, tax="std"),))
    assert why(inside, reckon(inside)).taxes[0].exact == Fraction(500, 3)
