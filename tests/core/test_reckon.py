"""The whole bill: it adds up at every level, and hard cases come out as the handbook says."""

from __future__ import annotations

import json
from dataclasses import replace
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.bill import Bill
from abrazo.core.errors import Refused
from abrazo.core.reckon import payers_of, reckon
from abrazo.core.sharing import Guest, Payer
from abrazo.core.states import RowKind, TaxMode
from abrazo.core.tenders import Payment
from abrazo.core.ticket import Settled, Ticket
from abrazo.formats.ticket_json import answer, read_ticket
from tests.refusals import refuses, sentence
from tests.strategies import tickets


def ticket(**fields: Any) -> Ticket:
    base = {"currency": "EUR", "tax_mode": "inclusive", "lines": []}
    return read_ticket(json.dumps(base | fields).encode())


def line(id: str, price: str, **fields: Any) -> dict[str, Any]:
    return {"id": id, "unit_price": price, **fields}


def totals(bill: Bill) -> list[int]:
    return [payer.account.total for payer in bill.payers]


@given(tickets())
def test_everything_adds_up(drawn: dict[str, Any]) -> None:
    bill = reckon(ticket(**drawn))
    added = bill.tax_total if drawn["tax_mode"] == "exclusive" else 0
    assert bill.total == sum(b.net for b in bill.lines) + sum(a for _, a in bill.charges) + added
    assert sum(totals(bill)) == bill.total
    for payer in bill.payers:
        assert payer.account.total == sum(row.amount for row in payer.rows)
    for tax in bill.taxes:
        shown = [amount for payer in bill.payers for ref, amount in payer.taxes if ref == tax.id]
        assert sum(shown) == (tax.tax if drawn["tax_mode"] == "inclusive" else 0)
    assert sum(amount for _, amount in bill.staff_tips) == sum(payer.account.tip for payer in bill.payers)


@given(tickets(), st.randoms(use_true_random=False))
def test_order_of_payers_changes_only_who_gets_an_odd_cent(drawn: dict[str, Any], random: Any) -> None:
    payers = [{"id": guest["id"], "guests": [guest["id"]]} for guest in drawn["guests"]]
    shuffled = random.sample(payers, len(payers))
    first = reckon(ticket(**drawn | {"payers": payers}))
    second = reckon(ticket(**drawn | {"payers": shuffled}))
    before = {payer.id: payer.account.total for payer in first.payers}
    for payer in second.payers:
        assert abs(before[payer.id] - payer.account.total) <= 1
    assert sum(totals(second)) == sum(totals(first))


@given(tickets())
def test_splitting_and_merging_payers_keeps_the_sum(drawn: dict[str, Any]) -> None:
    """One payer for the first two guests owes what both owed, within the cent; the ticket's total does not move."""
    ids = [guest["id"] for guest in drawn["guests"]]
    merged = [{"id": "both", "guests": ids[:2]}] + [{"id": g, "guests": [g]} for g in ids[2:]]
    charges = [charge | {"share": "proportional"} for charge in drawn["charges"]]
    alike = drawn | {"split": "shares", "tips": [], "charges": charges}
    first, second = reckon(ticket(**alike)), reckon(ticket(**alike | {"payers": merged}))
    assert first.total == second.total
    if first.net:  # with nothing to be in proportion to, charges go evenly, and one payer is not two
        assert abs(sum(totals(first)[:2]) - totals(second)[0]) <= 2


@given(tickets())
def test_who_has_settled_keeps_their_bill(drawn: dict[str, Any]) -> None:
    """A line added afterwards, and not shared with the first payer, leaves the first payer's bill as it was."""
    if drawn["split"] == "equal" or drawn["tax_mode"] == "exclusive" or len(drawn["guests"]) < 2:
        return
    before = ticket(**drawn | {"discounts": [], "charges": []})
    paid = reckon(before).payers[0]
    kept = Settled({(row.kind, row.ref): row.amount for row in paid.rows}, dict(paid.taxes))
    late = ticket(
        lines=[line("late", "7.77", tax="std", shares={"g1": 1})], taxes=drawn["taxes"], guests=drawn["guests"]
    )
    after = Ticket(
        currency=before.currency, tax_mode=before.tax_mode, lines=before.lines + late.lines, taxes=before.taxes,
        guests=before.guests, settled={paid.id: kept},
    )  # fmt: skip
    bill = reckon(after)
    assert bill.payers[0].account.total == paid.account.total
    assert sum(totals(bill)) == bill.total


def test_what_the_settled_paid_for_cannot_change() -> None:
    drawn = ticket(guests=[{"id": "a"}, {"id": "b"}], lines=[line("l", "5.00", shares={"a": 1})])
    kept = Settled({(RowKind.LINE, "l"): 600}, {})
    with refuses("already paid"):
        reckon(Ticket(drawn.currency, TaxMode.INCLUSIVE, drawn.lines, guests=drawn.guests, settled={"a": kept}))


THREE = [{"id": "a"}, {"id": "b"}, {"id": "c"}]


@pytest.mark.parametrize(
    ("price", "expected"), [("100.00", [3334, 3333, 3333]), ("0.01", [1, 0, 0]), ("0.00", [0, 0, 0])]
)
def test_by_three(price: str, expected: list[int]) -> None:
    assert totals(reckon(ticket(guests=THREE, lines=[line("l", price)]))) == expected


def test_a_third_off_many_lines() -> None:
    """33.3 % of 70.00 is 23.31, apportioned to 3.33 on each of seven equal lines."""
    bill = reckon(ticket(lines=[line(f"l{i}", "10.00") for i in range(7)], discounts=[{"percent": "33.3"}]))
    assert [b.net for b in bill.lines] == [667] * 7
    assert bill.gross - bill.net == 2331


def test_service_charge_with_tax_contained() -> None:
    """12.5 % of 23.81 is 2.98 (2.97625 up); 20 % VAT contained in 26.79 is 4.465, half up 4.47 (EN 16931 BR-CO-17)."""
    taxes = [{"id": "std", "rate": "0.20"}]
    charges = [{"id": "svc", "percent": "12.5", "tax": "std"}]
    bill = reckon(ticket(lines=[line("l", "23.81", tax="std")], taxes=taxes, charges=charges))
    assert (bill.charges, bill.taxes[0].tax, bill.total) == ((("svc", 298),), 447, 2679)


def test_tax_is_rounded_once_per_rate() -> None:
    """EN 16931 BR-CO-17: VAT category tax amount = taxable amount x rate / 100, rounded to two decimals, once."""
    lines = [line(f"l{i}", "0.33", tax="std") for i in range(10)]
    bill = reckon(ticket(tax_mode="exclusive", lines=lines, taxes=[{"id": "std", "rate": "0.25"}]))
    assert bill.tax_total == 83  # 3.30 x 0.25 = 0.825; by lines it would be 0.80


def test_fee_evenly_or_in_proportion() -> None:
    lines = [line("l", "30.00", shares={"a": 1}), line("m", "10.00", shares={"b": 1})]
    guests = [{"id": "a"}, {"id": "b"}]
    for share, expected in (("even", [3200, 1200]), ("proportional", [3300, 1100])):
        charges = [{"id": "fee", "amount": "4.00", "share": share}]
        assert totals(reckon(ticket(guests=guests, lines=lines, charges=charges))) == expected


def test_who_stands_for_nobody_bears_no_fee() -> None:
    payers = [{"id": "p", "guests": ["a", "b"]}, {"id": "q"}]
    fee = [{"id": "fee", "amount": "4.00", "share": "even"}]
    bill = reckon(ticket(guests=THREE[:2], lines=[line("l", "10.00")], charges=fee, payers=payers))
    assert totals(bill) == [1400, 0]
    assert bill.payers[1].rows == ()


def test_cash_handed_and_applied() -> None:
    """50.00 handed with 32.00 to apply gives 18.00 back."""
    payment = {"payer": "all", "tender": "cash", "amount": "32.00", "tendered": "50.00"}
    account = reckon(ticket(lines=[line("l", "40.00")], payments=[payment])).payers[0].account
    assert (account.change, account.paid, account.due) == (1800, 3200, 800)


def test_cash_rounding_settles() -> None:
    payment = {"payer": "all", "tender": "cash", "amount": "9.95"}
    bill = reckon(ticket(cash_rounding=5, lines=[line("l", "9.97")], payments=[payment]))
    assert (bill.payers[0].account.rounding, bill.due) == (-2, 0)


def test_extra_becomes_tip_or_credit() -> None:
    for extra, tip, credit, paid in (("tip", 250, 0, 1250), ("credit", 0, 250, 1000)):
        payment = {"payer": "all", "tender": "card", "amount": "12.50", "extra": extra}
        account = reckon(ticket(lines=[line("l", "10.00")], payments=[payment])).payers[0].account
        assert (account.tip, account.credit, account.paid, account.due) == (tip, credit, paid, 0)


def test_tip_on_a_payment_raises_the_stated_tip() -> None:
    payments = [
        {"payer": "all", "tender": "card", "amount": "10.00", "tip": "0.50"},
        {"payer": "all", "tender": "card", "amount": "0", "tip": "1.00"},
    ]
    tips = [{"payer": "all", "percent": "10", "basis": "total"}]
    account = reckon(ticket(lines=[line("l", "10.00")], payments=payments, tips=tips)).payers[0].account
    assert (account.tip, account.paid, account.due) == (150, 1150, 0)


def test_tips_go_to_who_served_by_gross() -> None:
    lines = [line("l", "30.00", staff="jory", adjustments=[{"kind": "discount", "percent": "100"}]), line("m", "10.00")]
    bill = reckon(ticket(lines=lines, staff="tamsin", tips=[{"payer": "all", "amount": "4.00"}]))
    assert bill.staff_tips == (("jory", 300), ("tamsin", 100))
    bill = reckon(ticket(lines=[], tips=[{"payer": "all", "amount": "4.00"}]))
    assert bill.staff_tips == (("unassigned", 400),)


def test_by_amounts_the_last_takes_the_rest() -> None:
    payers = [{"id": "a", "amount": "7.00"}, {"id": "b"}]
    taxes = [{"id": "std", "rate": "0.20"}]
    bill = reckon(ticket(split="amounts", lines=[line("l", "10.00", tax="std")], payers=payers, taxes=taxes))
    assert totals(bill) == [700, 300]
    assert [payer.taxes for payer in bill.payers] == [(("std", 117),), (("std", 50),)]


ONE = line("l", "1.00")
REFUSED = [
    ({"lines": [ONE, ONE]}, "/lines/1/id"),
    ({"lines": [line("l", "1.00", tax="x")]}, "/lines/0/tax"),
    ({"lines": [line("l", "1.00", shares={"a/b": 1})]}, "/lines/0/shares/a~1b"),
    ({"lines": [line("l", "1.00", shares={"all": 0})]}, "/lines/0/shares"),
    ({"lines": [line("l", "1.00", quantity="0")]}, "/lines/0/quantity"),
    ({"lines": [line("l", "1.00", quantity="1.0005")]}, "/lines/0/quantity"),
    ({"lines": [line("l", "-1.00")]}, "/lines/0/unit_price"),
    ({"lines": [line("l", "1.00", choices=[{"price": "-2.00"}])]}, "/lines/0"),
    ({"lines": [line("l", "1.00", choices=[{"price": "1", "quantity": 1.0}])]}, "/lines/0/choices/0/quantity"),
    ({"lines": [line("l", "1.00", adjustments=[{"kind": "discount"}])]}, "/lines/0/adjustments/0"),
    ({"lines": [line("l", "9999999999.00", quantity="2")]}, "/lines/0"),
    ({"lines": None}, "/lines"),
    ({"colour": None}, "/colour"),
    ({"split": "equal", "payers": [{"id": "p", "amount": "1.00"}]}, "/payers/0/amount"),
    ({"guests": THREE, "lines": [ONE], "payers": [{"id": "p", "guests": ["a"]}, {"id": "q"}]}, "/payers"),
    ({"split": "amounts", "lines": [ONE], "payers": [{"id": "p", "amount": "2.00"}]}, "/payers"),
    ({"taxes": [{"id": "t", "rate": "0.2", "parts": [{"rate": "0.1"}]}]}, "/taxes/0"),
    ({"taxes": [{"id": "t", "rate": "1.2"}]}, "/taxes/0/rate"),
    ({"tips": [{"payer": "x", "amount": "1"}]}, "/tips/0/payer"),
    ({"lines": [ONE], "payments": [{"payer": "all", "tender": "card", "amount": "2.00"}]}, "/payments/0"),
    ({"lines": [ONE], "payments": [{"payer": "all", "tender": "card", "amount": "0"}]}, "/payments/0"),
    ({"payments": [{"payer": "all", "tender": "card", "amount": "1", "tendered": "1"}]}, "/payments/0/tendered"),
]


@pytest.mark.parametrize(("fields", "where"), REFUSED)
def test_refusals_name_the_place(fields: dict[str, Any], where: str) -> None:
    with pytest.raises(Refused) as refusal:
        reckon(ticket(**fields))
    assert (refusal.value.where, bool(sentence(refusal.value))) == (where, True)


json_values = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=4),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=4), inner, max_size=3),
    max_leaves=6,
)


@given(
    tickets(),
    st.sampled_from(["currency", "lines", "payers", "payments", "tips", "split", "cash_rounding", "x"]),
    json_values,
)
def test_no_traceback_for_any_input(drawn: dict[str, Any], key: str, value: object) -> None:
    good, said = answer(json.dumps(drawn | {key: value}).encode("utf-8", "surrogatepass"))
    assert good or set(said["error"]) == {"where", "what"}


@pytest.mark.parametrize(
    "text", [b"", b"{", b"\xff", b"[" * 100_000, b'{"a":1,"a":2}', b"9" * 5000, b"NaN", b'{"currency":"\\ud800"}']
)
def test_what_is_no_ticket_is_refused(text: bytes) -> None:
    good, said = answer(text)
    assert not good and said["error"]["what"]


@given(tickets(), st.data())
def test_stated_parts_are_exact_and_the_rest_is_shared_as_before(drawn: dict[str, Any], data: st.DataObject) -> None:
    """Two who give an amount: their part of every row lies within a cent of its proportion, and all adds up."""
    drawn = drawn | {"tips": []}
    plain = ticket(**drawn)
    whole = reckon(plain)
    first = data.draw(st.integers(0, whole.total))
    second = data.draw(st.integers(0, whole.total - first))
    guests = [guest.id for guest in plain.guests]
    seated = len(guests) > 1 and data.draw(st.booleans())  # one of the guests gives the first amount
    mine, others = (tuple(guests[:1]), guests[1:]) if seated else ((), guests)
    payers = (Payer("s1", mine), *(Payer(guest, (guest,)) for guest in others), Payer("s2"))
    bill = reckon(replace(plain, payers=payers, stated={"s1": first, "s2": second}))
    assert sum(totals(bill)) == bill.total == whole.total
    assert (totals(bill)[0], totals(bill)[-1]) == (first, second)
    rows = {("line", one.id): one.net for one in bill.lines} | {("charge", ref): amount for ref, amount in bill.charges}
    rows |= {("tax", tax.id): tax.tax for tax in bill.taxes if plain.tax_mode == "exclusive"}
    for row in bill.payers[0].rows:
        assert abs(row.amount - Fraction(first * rows[row.kind, row.ref], bill.total)) < 1
    for payer in bill.payers:
        assert payer.account.total == sum(row.amount for row in payer.rows)
        assert all(row.amount >= 0 for row in payer.rows)
    for tax in bill.taxes:
        shown = sum(amount for payer in bill.payers for ref, amount in payer.taxes if ref == tax.id)
        assert shown == (tax.tax if plain.tax_mode == "inclusive" else 0)
    nets = sum(one.net for one in bill.lines)
    assert abs(sum(bill.payer_nets) - nets) <= len(payers)
    kept = {p.id: Settled({(r.kind, r.ref): r.amount for r in p.rows}, dict(p.taxes)) for p in bill.payers[:1]}
    again = reckon(replace(plain, payers=payers, stated={"s1": first, "s2": second}, settled=kept))
    assert totals(again) == totals(bill)  # who gave an amount and paid it moves nothing of the others
    with refuses("more than the bill"):
        reckon(replace(plain, payers=payers, stated={"s1": whole.total, "s2": 1}))


def test_all_who_settled_keep_unequal_parts() -> None:
    """What they kept is what they pay, though half each would be 5.00."""
    drawn = ticket(guests=[{"id": "a"}, {"id": "b"}], lines=[line("l", "10.00")])
    kept = {"a": Settled({(RowKind.LINE, "l"): 700}, {}), "b": Settled({(RowKind.LINE, "l"): 300}, {})}
    assert totals(reckon(replace(drawn, settled=kept))) == [700, 300]


def test_a_sole_payer_stands_for_every_guest() -> None:
    guests = (Guest("a"), Guest("b"))
    assert payers_of(guests, (Payer("p"),)) == {"a": [0], "b": [0]}
    assert payers_of(guests, (Payer("p", ("a",)), Payer("q", ("b",)))) == {"a": [0], "b": [1]}


def test_tax_bases_and_what_a_payers_net_is_made_of() -> None:
    """30.00 holds 5.00 at 20 %, 11.00 holds 1.00 at 10 % (EN 16931's way); half of all of it each."""
    bill = reckon(
        ticket(
            taxes=[{"id": "std", "rate": "0.20"}, {"id": "red", "rate": "0.10"}],
            guests=[{"id": "a"}, {"id": "b"}],
            lines=[line("l", "30.00", tax="std"), line("m", "11.00", tax="red")],
        )
    )
    assert [(tax.base, tax.tax) for tax in bill.taxes] == [(3000, 500), (1100, 100)]
    assert [sum(row.amount for row in payer.rows) for payer in bill.payers] == [2050, 2050]


def test_extras_of_several_payments_add_up() -> None:
    """Two payments of a bill of 10.00, each with more than was due said to be tip: 12.50 came in, 2.50 of it tips."""
    drawn = ticket(
        lines=[line("l", "10.00")],
        payments=[{"payer": "all", "tender": "cash", "amount": "4.00"}],
    )
    payer = reckon(drawn).payers[0].id
    more = (Payment(payer, "card", 400, 150, None, None), Payment(payer, "card", 200, 100, None, None))
    account = reckon(replace(drawn, payments=(*drawn.payments, *more))).payers[0].account
    assert (account.paid, account.tip, account.due) == (1250, 250, 0)
