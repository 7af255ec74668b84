"""Refunds by quantity and the double entries of a whole ticket (reckoning, sections 12 and 13)."""

from __future__ import annotations

import json
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.formats.ticket_json import answer
from tests.strategies import tickets

PARTS = st.lists(st.sampled_from([Fraction(1, 3), Fraction(1, 2), Fraction(1, 5)]), max_size=3)


def said(ticket: dict[str, Any], **more: Any) -> dict[str, Any]:
    good, bill = answer(json.dumps(ticket | more).encode(), postings=True)
    assert good, bill
    cents = [int(one["amount"].replace(".", "")) for one in bill["postings"]]
    assert sum(cents) == 0 and all(cents)
    assert [one["account"] for one in bill["postings"]] == sorted(one["account"] for one in bill["postings"])
    return bill


def refused(ticket: dict[str, Any], *refunds: dict[str, Any]) -> tuple[str, str]:
    good, error = answer(json.dumps(ticket | {"refunds": list(refunds)}).encode())
    assert not good
    return error["error"]["where"], error["error"]["what"]


@st.composite
def everything_back(draw: st.DrawFn, ticket: dict[str, Any]) -> list[dict[str, Any]]:
    """Refunds that give back all of a ticket: lines cut by quantity, charges and tips, in any order."""
    pieces: list[dict[str, Any]] = [{"charges": [one["id"]]} for one in ticket["charges"]] + [{"tips": True}]
    for line in ticket["lines"]:
        quantity, cuts = Fraction(line["quantity"]), []
        for part in draw(PARTS):
            cut = Fraction(int(quantity * part * 1000), 1000)
            if cut:
                cuts.append({"id": line["id"], "quantity": f"{float(cut):.3f}"})
                quantity -= cut
        pieces += [{"lines": [cut]} for cut in cuts]
        pieces.append({"lines": [{"id": line["id"], "quantity": f"{float(quantity):.3f}"}]})
    return list(draw(st.permutations(pieces)))


@given(st.data(), tickets(), st.sampled_from(["cash", "card"]), st.sampled_from([1, 5]))
def test_all_of_a_ticket_goes_back_to_nothing_however_it_is_cut(
    data: st.DataObject, drawn: dict[str, Any], tender: str, step: int
) -> None:
    """Every refund in balance; all of them together are the ticket with its tips, and post nothing."""
    drawn = drawn | {"cash_rounding": step, "payments": []}
    open_bill = said(drawn)
    payments = [
        {"payer": one["id"], "tender": tender, "amount": one["cash_due"] if tender == "cash" else one["due"]}
        for one in open_bill["payers"]
        if one["cash_due" if tender == "cash" else "due"] != "0.00"
    ]
    paid = said(drawn, payments=payments)
    if paid["due"] != "0.00":  # somebody owes less than cash can settle
        return
    refunds = data.draw(everything_back(drawn))
    halfway = said(drawn, payments=payments, refunds=refunds[: len(refunds) // 2])
    assert halfway["total"] == paid["total"]
    whole = said(drawn, payments=payments, refunds=refunds)
    amounts = [int(one["amount"].replace(".", "")) for one in whole["refunds"]]
    tips = sum(int(one["amount"].replace(".", "")) for one in whole["staff_tips"])
    assert sum(amounts) == int(whole["total"].replace(".", "")) + tips
    for tax in whole["taxes"]:
        back = [
            int(t["tax"].replace(".", "")) for one in whole["refunds"] for t in one["taxes"] if t["id"] == tax["id"]
        ]
        assert sum(back) == int(tax["tax"].replace(".", ""))
    assert whole["postings"] == []


BY_CARD = {"payer": "all", "tender": "card", "amount": "10.00"}
SOUP = {
    "currency": "EUR",
    "tax_mode": "inclusive",
    "cash_rounding": 5,
    "taxes": [{"id": "std", "rate": "0.20"}],
    "staff": "ada",
    "lines": [
        {"id": "soup", "unit_price": "3.33", "quantity": "3", "tax": "std"},
        {
            "id": "pie",
            "unit_price": "8.00",
            "tax": "std",
            "adjustments": [{"kind": "discount", "percent": "25", "reason": "late"}],
        },
    ],
    "charges": [{"id": "svc", "amount": "1.00", "tax": "std"}],
    "tips": [{"payer": "all", "amount": "2.00"}],
    "payments": [
        BY_CARD,
        {"payer": "all", "tender": "cash", "amount": "7.00", "tip": "2.00"},
    ],
}


def test_a_refund_by_hand() -> None:
    """9.99 + 6.00 + 1.00 = 16.99, tax 2.83; cash of 9.00 for 8.99. One soup and the pie go back, then the rest."""
    one = {"lines": [{"id": "soup", "quantity": "1"}, {"id": "pie"}]}
    bill = said(SOUP, refunds=[one])
    assert bill["refunds"] == [
        {
            "amount": "9.33",
            "rows": [
                {"ref": "soup", "kind": "line", "amount": "3.33"},
                {"ref": "pie", "kind": "line", "amount": "6.00"},
            ],
            "taxes": [{"id": "std", "tax": "1.55"}],  # 2.83 x 9.33 / 16.99 = 1.554
            "tips": "0.00",
        }
    ]
    # 8.99 of it come back as the 9.00 of cash that they were, 0.34 on the card
    assert {one["account"]: one["amount"] for one in bill["postings"]} == {
        "charges": "-0.83",  # 1.00 less 0.17 of tax
        "sales": "-5.55",  # two soups of 6.66 less the tax that is left in them, 1.11
        "tax:std": "-1.28",
        "tender:card": "9.66",
        "tips:ada": "-2.00",
    }
    rest = {"lines": [{"id": "soup"}], "charges": ["svc"], "tips": True}
    both = said(SOUP, refunds=[one, rest])
    assert [one["amount"] for one in both["refunds"]] == ["9.33", "9.66"]
    assert both["postings"] == []


def test_an_unpaid_ticket_is_open_in_the_books() -> None:
    bill = said(SOUP, payments=[BY_CARD])
    legs = {one["account"]: one["amount"] for one in bill["postings"]}
    assert legs == {
        "charges": "-0.83",
        "discounts:late": "2.00",
        "open": "8.99",
        "sales": "-15.33",  # 17.99 less tax 2.66
        "tax:std": "-2.83",
        "tender:card": "10.00",
        "tips:ada": "-2.00",
    }
    assert "refunds" not in bill


def test_what_is_above_the_bill_stays_as_credit() -> None:
    payments = [{"payer": "all", "tender": "card", "amount": "25.00", "extra": "credit"}]
    bill = said(SOUP, payments=payments, refunds=[{"lines": [{"id": "soup"}, {"id": "pie"}], "charges": ["svc"]}])
    legs = {one["account"]: one["amount"] for one in bill["postings"]}
    assert legs == {"store-credit": "-6.01", "tender:card": "8.01", "tips:ada": "-2.00"}


@pytest.mark.parametrize(
    ("refunds", "where", "what"),
    [
        ([{}], "/refunds/0", "lines, charges or tips"),
        ([{"lines": [{"id": "tea"}]}], "/refunds/0/lines/0/id", "no line 'tea'"),
        ([{"lines": [{"id": "pie"}, {"id": "pie"}]}], "/refunds/0/lines/1/id", "used twice"),
        ([{"charges": ["svc", "svc"]}], "/refunds/0/charges/1", "used twice"),
        ([{"charges": ["fee"]}], "/refunds/0/charges/0", "no charge 'fee'"),
        ([{"lines": [{"id": "soup", "quantity": "3.001"}]}], "/refunds/0/lines/0/quantity", "more than is left"),
        ([{"lines": [{"id": "soup", "quantity": "0"}]}], "/refunds/0/lines/0/quantity", "greater than 0"),
        ([{"lines": [{"id": "soup", "quantity": "1.0001"}]}], "/refunds/0/lines/0/quantity", "three decimals"),
        ([{"lines": [{"id": "pie"}]}, {"lines": [{"id": "pie"}]}], "/refunds/1/lines/0/quantity", "more than is left"),
        ([{"charges": ["svc"]}, {"charges": ["svc"]}], "/refunds/1/charges/0", "given back before"),
        ([{"tips": True}, {"tips": True}], "/refunds/1/tips", "given back before"),
        ([{"tips": True, "colour": "red"}], "/refunds/0/colour", ""),
    ],
)
def test_what_cannot_go_back_is_refused_at_its_place(refunds: list[dict[str, Any]], where: str, what: str) -> None:
    place, words = refused(SOUP, *refunds)
    assert place == where and what in words


def test_a_ticket_that_is_not_paid_has_no_refunds() -> None:
    assert refused(SOUP | {"payments": []}, {"tips": True})[0] == "/refunds"
