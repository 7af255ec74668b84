"""Refunds: by lines or an amount; the tax of all of them together is the tax of what went back."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.ledger import refund_postings
from abrazo.core.money import Currency, round_half_up
from abrazo.core.reckon import reckon
from abrazo.core.refunds import lines_worth, refund_parts, refundable
from abrazo.core.tax import Tax
from abrazo.core.ticket import Line, Ticket

STANDARD, REDUCED = Tax("std", Fraction(1, 5)), Tax("red", Fraction(1, 10))


def ticket(prices: list[tuple[int, str | None]], mode: str) -> Ticket:
    lines = tuple(
        Line(id=str(index), unit_price=price, quantity=Fraction(1), label="thing", tax=tax)
        for index, (price, tax) in enumerate(prices)
    )
    return Ticket(Currency.of("EUR"), mode, taxes=(STANDARD, REDUCED), lines=lines)


PRICES = st.lists(st.tuples(st.integers(1, 9999), st.sampled_from(["std", "red", None])), min_size=1, max_size=6)


@given(PRICES, st.sampled_from(["inclusive", "exclusive"]), st.data())
def test_refunded_bit_by_bit_everything_goes_back_exactly(
    prices: list[tuple[int, str | None]], mode: str, data: st.DataObject
) -> None:
    sold = ticket(prices, mode)
    bill = reckon(sold)
    left, before, contained = bill.total, dict[str | None, int](), dict[str | None, int]()
    while left:
        amount = data.draw(st.integers(1, left))
        parts = refund_parts(sold, bill, (), amount, before)
        assert sum(part.amount for part in parts) == amount
        postings = refund_postings("assets:cash:galley", "late", parts)
        assert sum(posting.amount for posting in postings) == 0
        for part in parts:
            before[part.tax] = before.get(part.tax, 0) + part.amount
            contained[part.tax] = contained.get(part.tax, 0) + part.contained
        left -= amount
    assert before == refundable(sold, bill)
    assert {tax: part for tax, part in contained.items() if part} == {t.id: t.tax for t in bill.taxes if t.tax}


def test_a_line_takes_its_own_tax_along() -> None:
    """EN 16931's way: VAT contained in 12.00 at 20 % is 2.00 (12 x 20 / 120)."""
    sold = ticket([(1200, "std"), (1100, "red"), (500, None)], "inclusive")
    bill = reckon(sold)
    assert lines_worth(sold, bill, ["0"]) == {"std": 1200}
    (part,) = refund_parts(sold, bill, ["0"], 1200, {})
    assert (part.tax, part.amount, part.contained) == ("std", 1200, 200)
    (half,) = refund_parts(sold, bill, ["1"], 550, {})
    assert (half.tax, half.contained) == ("red", 50)


def test_more_than_the_lines_came_to_comes_off_the_whole_ticket() -> None:
    sold = ticket([(1200, "std"), (1100, "red")], "inclusive")
    parts = refund_parts(sold, reckon(sold), ["0"], 2300, {})
    assert [(part.tax, part.amount, part.contained) for part in parts] == [("std", 1200, 200), ("red", 1100, 100)]


@given(PRICES)
def test_with_tax_added_a_line_is_worth_its_price_and_tax(prices: list[tuple[int, str | None]]) -> None:
    sold = ticket(prices, "exclusive")
    bill = reckon(sold)
    rates = {"std": Fraction(1, 5), "red": Fraction(1, 10), None: Fraction(0)}
    price, tax = prices[0]
    alone = reckon(replace(sold, lines=sold.lines[:1]))
    worth = lines_worth(sold, bill, ["0"])[tax]
    assert abs(worth - round_half_up(price * (1 + rates[tax]))) <= 1
    assert abs(worth - alone.total) <= 1
