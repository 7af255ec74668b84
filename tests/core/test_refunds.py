"""Refunds: remembered by line and charge; the tax of all of them together is the tax of what went back."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.bill import Bill
from abrazo.core.errors import Code, Refused
from abrazo.core.figures import NOTHING, FigureKind, WentBack, part_figures, refunded, summed, together
from abrazo.core.ledger import LineUse, Role, sale_names
from abrazo.core.money import Currency, round_half_up, totals
from abrazo.core.reckon import reckon
from abrazo.core.refunds import GivenBack, Ref, RefundPlan, pieces_worth, plan_refund, refundable
from abrazo.core.sale_books import SaleBooks, all_of
from abrazo.core.states import RowKind, TaxMode
from abrazo.core.tax import Tax
from abrazo.core.ticket import Charge, Line, Ticket

TAXES = (Tax("std", Fraction(1, 5)), Tax("red", Fraction(1, 10)), Tax("A", Fraction(33, 400)))


def ticket(prices: list[tuple[int, str | None]], mode: TaxMode, fee: int = 0) -> tuple[Ticket, Bill]:
    lines = tuple(
        Line(id=str(index), unit_price=price, quantity=Fraction(1), label="thing", tax=tax)
        for index, (price, tax) in enumerate(prices)
    )
    charges = (Charge("fee", amount=fee, label="Delivery", tax="A"),) if fee else ()
    sold = Ticket(Currency.of("EUR"), mode, taxes=TAXES, lines=lines, charges=charges)
    return sold, reckon(sold)


def after(before: GivenBack, plan: RefundPlan) -> GivenBack:
    amounts, taxes = dict(before.amounts), dict(before.taxes)
    for ref, amount in plan.rows:
        amounts[ref] = amounts.get(ref, 0) + amount
    for part in plan.parts:
        taxes[part.tax] = taxes.get(part.tax, 0) + part.contained
    return GivenBack(amounts, taxes)


def minus_all(amounts: dict[str, int]) -> list[tuple[str, int]]:
    return [(name, -amount) for name, amount in amounts.items()]


PRICES = st.lists(st.tuples(st.integers(1, 9999), st.sampled_from(["std", "red", "A", None])), min_size=1, max_size=6)
MODES = st.sampled_from([TaxMode.INCLUSIVE, TaxMode.EXCLUSIVE])


@given(PRICES, MODES, st.integers(0, 900), st.data())
def test_refunded_in_any_order_and_cut_everything_goes_back_exactly(
    prices: list[tuple[int, str | None]], mode: TaxMode, fee: int, data: st.DataObject
) -> None:
    sold, bill = ticket(prices, mode, fee)
    before, left, booked = GivenBack(), bill.total, NOTHING
    uses = {line.id: LineUse(Role.SALE, "food") for line in sold.lines}
    while left:
        open_refs = [ref for ref, amount in refundable(sold, bill, before).items() if amount]
        chosen = data.draw(st.lists(st.sampled_from(open_refs), unique=True, max_size=3))
        most = plan_refund(sold, bill, before, chosen).amount
        amount = data.draw(st.none() | st.integers(1, most)) if most else None
        plan = plan_refund(sold, bill, before, chosen, amount)
        assert plan.amount == (most if amount is None else amount)
        now = after(before, plan)
        states = (WentBack(one.amounts, one.taxes) for one in (before, now))
        booked = together(booked, refunded(sold, bill, uses, *states))
        before, left = now, left - plan.amount
        assert sum(posting.amount for posting in booked.postings) == bill.total - left
    assert not any(refundable(sold, bill, before).values())
    whole = SaleBooks(sold, bill, sale_names(uses))
    books = totals(
        [*((one.account, one.amount) for one in booked.postings), *minus_all(whole.credits(all_of(sold, bill)))]
    )
    assert bill.total == 0 or not any(books.values())
    everything = part_figures(sold, bill, uses, all_of(sold, bill))
    assert bill.total == 0 or summed([*everything, *booked.figures]) == ()
    assert {tax: part for tax, part in before.taxes.items() if part} == {t.id: t.tax for t in bill.taxes if t.tax}


@given(PRICES, MODES, st.data())
def test_lines_alone_follow_the_published_rule(
    prices: list[tuple[int, str | None]], mode: TaxMode, data: st.DataObject
) -> None:
    """Reckoning, section 12: round(T x b2 / B) - round(T x b1 / B) under each tax."""
    sold, bill = ticket(prices, mode)
    before, bases = GivenBack(), dict[str | None, int]()
    taxes = {tax.id: tax for tax in bill.taxes}
    for index in data.draw(st.permutations(range(len(prices)))):
        price, tax = prices[index]
        plan = plan_refund(sold, bill, before, [(RowKind.LINE, str(index))])
        b1 = bases.get(tax, 0)
        bases[tax] = b1 + price
        whole = taxes.get(tax or "")
        expected = 0
        if whole is not None:
            then, now = (round_half_up(Fraction(whole.tax * base, whole.base)) for base in (b1, bases[tax]))
            expected = now - then
        assert (plan.parts[0].contained, plan.rows) == (expected, ((("line", str(index)), price),))
        assert plan.amount == price + (expected if mode == TaxMode.EXCLUSIVE else 0)
        before = after(before, plan)


@given(st.integers(1, 99_999), st.lists(st.integers(1, 4000), min_size=1, max_size=6), MODES)
def test_pieces_follow_the_published_rule(net: int, cuts: list[int], mode: TaxMode) -> None:
    """Reckoning, section 12: round(N x q2 / Q) - round(N x q1 / Q), here as its sums say."""
    pieces = [Fraction(cut, 1000) for cut in cuts]
    quantity = sum(pieces, Fraction(0))
    parts, before = [], Fraction(0)
    for back in pieces:
        parts.append(pieces_worth(net, quantity, before, back))
        before += back
        assert sum(parts) == round_half_up(net * before / quantity)
    assert sum(parts) == net
    for before, back in ((quantity, Fraction(1)), (Fraction(0), quantity + 1), (Fraction(0), Fraction(0))):
        with pytest.raises(Refused) as refusal:
            pieces_worth(net, quantity, before, back)
        assert refusal.value.code == Code.ABOVE_QUANTITY
    sold, bill = ticket([(net, "std"), (500, "std")], mode)
    ref = (RowKind.LINE, "0")
    if parts[0]:
        assert plan_refund(sold, bill, GivenBack(), [ref], most={ref: parts[0]}).rows == ((ref, parts[0]),)


def test_a_line_takes_its_own_tax_along() -> None:
    """EN 16931's way: VAT contained in 12.00 at 20 % is 2.00 (12 x 20 / 120)."""
    sold, bill = ticket([(1200, "std"), (1100, "red"), (500, None)], TaxMode.INCLUSIVE)
    (part,) = plan_refund(sold, bill, GivenBack(), [(RowKind.LINE, "0")]).parts
    assert (part.tax, part.amount, part.contained) == ("std", 1200, 200)
    (half,) = plan_refund(sold, bill, GivenBack(), [(RowKind.LINE, "1")], 550).parts
    assert (half.tax, half.contained) == ("red", 50)


def test_added_tax_goes_back_with_its_line() -> None:
    """8.25 % on 10.00 and 2.00: 0.83 and 0.16 (0.99 in all), as the ticket has 12.00 + 0.99."""
    sold, bill = ticket([(1000, "A"), (200, "A")], TaxMode.EXCLUSIVE)
    first = plan_refund(sold, bill, GivenBack(), [(RowKind.LINE, "0")])
    second = plan_refund(sold, bill, after(GivenBack(), first), [(RowKind.LINE, "1")])
    assert (bill.total, first.amount, second.amount) == (1299, 1083, 216)


@pytest.mark.parametrize(
    ("chosen", "amount", "code"),
    [
        ([("line", "0")], None, Code.REFUNDED_ALREADY),
        ([("line", "0")], 1, Code.REFUNDED_ALREADY),
        ([("line", "1"), ("line", "1")], None, Code.LINE_TWICE),
        ([("line", "1")], 1101, Code.ABOVE_REFUNDABLE),
        ([], 1101, Code.ABOVE_REFUNDABLE),
        ([("line", "7")], None, Code.NOT_ON_TICKET),
    ],
)
def test_nothing_goes_back_twice(chosen: list[Ref], amount: int | None, code: str) -> None:
    sold, bill = ticket([(1200, "std"), (1100, "red")], TaxMode.INCLUSIVE)
    before = after(GivenBack(), plan_refund(sold, bill, GivenBack(), [(RowKind.LINE, "0")]))
    with pytest.raises(Refused) as refusal:
        plan_refund(sold, bill, before, chosen, amount)
    assert refusal.value.code == code


def test_a_line_that_was_lowered_gives_back_what_is_left() -> None:
    sold, bill = ticket([(1200, "std"), (1100, "red")], TaxMode.INCLUSIVE)
    before = after(GivenBack(), plan_refund(sold, bill, GivenBack(), [(RowKind.LINE, "0")], 200))
    assert refundable(sold, bill, before) == {("line", "0"): 1000, ("line", "1"): 1100}
    plan = plan_refund(sold, bill, before, [(RowKind.LINE, "0")])
    assert (plan.amount, plan.parts[0].contained) == (1000, 167)  # 2.00 of tax in all, 0.33 before
    assert replace(plan, parts=()).amount == 0


@pytest.mark.parametrize("mode", [TaxMode.INCLUSIVE, TaxMode.EXCLUSIVE])
def test_nothing_of_the_bill_goes_back_with_a_tip_alone(mode: TaxMode) -> None:
    sold, bill = ticket([(1200, "std"), (1100, "red")], mode)
    plan = plan_refund(sold, bill, GivenBack(), [], 0)
    assert (plan.amount, [amount for _, amount in plan.rows if amount]) == (0, [])


def test_the_tax_of_several_refunds_adds_up_to_the_tickets() -> None:
    """Three lines of 3.33 at 20 % contained: 9.99 x 20 / 120 = 1.665, rounded once to 1.67 (EN 16931 BR-CO-17)."""
    sold, bill = ticket([(333, "std")] * 3, TaxMode.INCLUSIVE)
    before, contained = GivenBack(), []
    for index in range(3):
        plan = plan_refund(sold, bill, before, [(RowKind.LINE, str(index))])
        contained.append(plan.parts[0].contained)
        before = after(before, plan)
    assert (contained, sum(contained)) == ([56, 55, 56], bill.taxes[0].tax)


@pytest.mark.parametrize(("quantity", "unit", "count"), [("3", False, 3), ("25", True, 1), ("5/2", True, 1)])
def test_what_is_sold_by_measure_counts_as_one(quantity: str, unit: bool, count: int) -> None:
    """Whole feet are no pieces either."""
    sold = Ticket(Currency.of("USD"), TaxMode.EXCLUSIVE, lines=(Line("rope", 85, Fraction(quantity)),))
    bill = reckon(sold)
    found = part_figures(sold, bill, {"rope": LineUse(Role.SALE, "gear", measured=unit)}, all_of(sold, bill))
    assert {one.kind: one.count for one in found} == {FigureKind.SALE: count, FigureKind.SOLD_BY: count}
