"""Against published figures that we did not make.

Source: the example invoices that accompany EN 16931 (CEN/TC 434, examples 1 and 2), their VAT breakdowns and totals;
figures from memory. Rules: BR-CO-17 (VAT category amount = base x rate, rounded to two decimals), BR-CO-14 (invoice VAT is
the sum of the categories), BR-CO-15 (total with VAT).
"""

from __future__ import annotations

import json

import pytest

from abrazo.core.reckon import reckon
from abrazo.formats.ticket_json import read_ticket

EXAMPLES = [
    ([("183.23", "0.06"), ("46.37", "0.21")], ["10.99", "9.74"], "20.73", "250.33"),
    ([("1460.50", "0.25"), ("1.00", "0.15")], ["365.13", "0.15"], "365.28", "1826.78"),
]


@pytest.mark.parametrize(("bases", "amounts", "tax", "total"), EXAMPLES)
def test_vat_breakdowns(bases: list[tuple[str, str]], amounts: list[str], tax: str, total: str) -> None:
    """Example 2 also has a category of -25.00 at 0 %, which is no sale here: 1826.78 less 25.00 is its 1801.78."""
    ticket = read_ticket(
        json.dumps(
            {
                "currency": "EUR",
                "tax_mode": "exclusive",
                "taxes": [{"id": rate, "rate": rate} for _, rate in bases],
                "lines": [{"id": f"l{i}", "unit_price": base, "tax": rate} for i, (base, rate) in enumerate(bases)],
            }
        ).encode()
    )
    bill, text = reckon(ticket), ticket.currency.text
    assert [text(one.tax) for one in bill.taxes] == amounts
    assert (text(bill.tax_total), text(bill.total)) == (tax, total)
