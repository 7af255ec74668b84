"""Each payer takes the charges evenly or in proportion; whatever they choose, the bills add up and the last has the rest."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.bill import Bill
from abrazo.core.errors import Code, Refused
from abrazo.core.money import Currency
from abrazo.core.reckon import reckon
from abrazo.core.sharing import Guest, Payer
from abrazo.core.states import RowKind, Share, TaxMode
from abrazo.core.tax import Tax
from abrazo.core.ticket import Charge, Line, Settled, Ticket

NAMES = ("a", "b", "c", "d")


def table(prices: list[int], mode: TaxMode, share: Share) -> Ticket:
    guests = tuple(Guest(name) for name in NAMES[: len(prices)])
    return Ticket(
        Currency.of("EUR"),
        mode,
        taxes=(Tax("t", Fraction(33, 400)),),
        guests=guests,
        lines=tuple(Line(g.id, price, tax="t", shares=((g.id, 1),)) for g, price in zip(guests, prices, strict=True)),
        charges=(
            Charge("svc", percent=Fraction(10), tax="t", share=share),
            Charge("fee", amount=333, tax="t", share=share),
        ),
        payers=tuple(Payer(g.id, (g.id,)) for g in guests),
    )


def fee(bill: Bill, who: str, charge: str = "svc") -> int:
    payer = next(p for p in bill.payers if p.id == who)
    return next((row.amount for row in payer.rows if (row.kind, row.ref) == (RowKind.CHARGE, charge)), 0)


def kept(bill: Bill, who: str) -> Settled:
    payer = next(p for p in bill.payers if p.id == who)
    return Settled({(row.kind, row.ref): row.amount for row in payer.rows}, dict(payer.taxes))


PRICES = st.lists(st.integers(1, 9000), min_size=2, max_size=4)
SHARES = st.sampled_from(list(Share))


@given(PRICES, st.sampled_from(list(TaxMode)), SHARES, st.data())
def test_paid_one_after_the_other_with_any_choices_it_adds_up(
    prices: list[int], mode: TaxMode, share: Share, data: st.DataObject
) -> None:
    ticket = table(prices, mode, share)
    total = reckon(ticket).total
    order = data.draw(st.permutations([payer.id for payer in ticket.payers]))
    settled: dict[str, Settled] = {}
    for who in order:
        choice = data.draw(st.none() | SHARES)
        fees = {**ticket.fees, who: choice} if choice else ticket.fees
        try:
            bill = reckon(replace(ticket, fees=fees, settled=settled))
        except Refused as refusal:
            if refusal.code in (Code.FEES_TOO_MUCH, Code.CHANGES_PAID):
                return
            raise
        ticket = replace(ticket, fees=fees)
        assert sum(payer.account.total for payer in bill.payers) == total
        assert all(payer.account.total >= 0 for payer in bill.payers)
        assert sum(tax for payer in bill.payers for _, tax in payer.taxes) == (
            0 if mode == TaxMode.EXCLUSIVE else bill.tax_total
        )
        settled[who] = kept(bill, who)
    assert reckon(replace(ticket, settled=settled)).total == total


def test_two_choose_differently_and_the_third_has_the_rest() -> None:
    """Service of 10 % on 10.00, 20.00 and 30.00 is 6.00: evenly 2.00 each, in proportion 1.00, 2.00, 3.00."""
    ticket = table([1000, 2000, 3000], TaxMode.INCLUSIVE, Share.PROPORTIONAL)
    chosen = reckon(replace(ticket, fees={"a": Share.EVEN}))
    assert [fee(chosen, who) for who in "abc"] == [200, 160, 240]  # 4.00 left for b and c, two to three
    chosen = reckon(replace(ticket, fees={"a": Share.EVEN, "c": Share.EVEN}))
    assert [fee(chosen, who) for who in "abc"] == [200, 200, 200]
    chosen = reckon(replace(ticket, fees={"a": Share.EVEN, "b": Share.PROPORTIONAL, "c": Share.EVEN}))
    assert [fee(chosen, who) for who in "abc"] == [200, 200, 200]  # the last takes what is left
    paid = reckon(
        replace(
            ticket, fees={"a": Share.EVEN}, settled={"a": kept(reckon(replace(ticket, fees={"a": Share.EVEN})), "a")}
        )
    )
    assert [fee(paid, who) for who in "abc"] == [200, 160, 240]


def test_a_choice_that_leaves_less_than_nothing_is_refused() -> None:
    ticket = table([100, 100, 8800], TaxMode.INCLUSIVE, Share.EVEN)
    with pytest.raises(Refused) as refusal:
        reckon(
            replace(
                ticket, fees={"a": Share.EVEN, "b": Share.EVEN, "c": Share.PROPORTIONAL}, payers=(*ticket.payers[::-1],)
            )
        )
    assert refusal.value.code == Code.FEES_TOO_MUCH
