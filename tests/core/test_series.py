"""Prepaid series: worths, which uses cover what, and what goes back.

Outside: a single-purpose voucher is taxed when it is issued, and its redemption is no supply of its own: Directive
(EU) 2016/1065, articles 30a and 30b (from memory). So a series' worth is what was paid less its tax, and using it
taxes nothing.
"""

from __future__ import annotations

from datetime import date
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core import series as core
from abrazo.core.ledger import LineUse, Posting, Role, sale_names
from abrazo.core.money import Currency
from abrazo.core.reckon import reckon
from abrazo.core.sale_books import SaleBooks, all_of
from abrazo.core.series import Left, Piece
from abrazo.core.states import AdjustmentKind, RowKind, TaxMode
from abrazo.core.tax import Tax
from abrazo.core.ticket import Adjustment, Line, Ticket

MONEY = st.integers(0, 10**7)
USES = st.integers(1, 60)


@given(MONEY, USES, st.data())
def test_uses_are_worth_the_whole_in_any_order(net: int, uses: int, data: st.DataObject) -> None:
    before = data.draw(st.integers(0, uses - 1))
    each = core.worths(net, uses, before)
    here = each[before:]
    assert len(each) == uses and sum(each[:before]) == 0
    assert sum(here) == net and max(here) - min(here) <= 1
    gone = data.draw(st.sets(st.integers(1, uses)))
    free = core.free_uses(uses, gone)
    assert core.worth_of(net, uses, gone, before) + core.worth_of(net, uses, free, before) == net
    assert free == sorted(set(range(1, uses + 1)) - gone)


@given(st.integers(1, 10**7), USES, st.data())
def test_what_goes_back_is_all_of_it_at_first_and_never_more(net: int, uses: int, data: st.DataObject) -> None:
    line_net = data.draw(st.integers(net, 2 * net))  # with the tax that is in it
    parts = [core.to_give_back(line_net, net, core.worth_of(net, uses, range(k, uses + 1))) for k in range(1, uses + 2)]
    assert parts[0] == line_net and parts[-1] == 0
    assert parts == sorted(parts, reverse=True)


PIECES = st.lists(
    st.tuples(st.sampled_from("pq"), st.sampled_from("xyz"), st.integers(1, 4), st.integers(0, 9000)), max_size=6
)
HELD = st.lists(
    st.tuples(st.sampled_from("pq"), st.sets(st.sampled_from("xyz"), min_size=1), st.sets(st.integers(1, 5)),
              st.sampled_from(["2026-06-13", "2026-12-31", "2027-06-13"])), max_size=4,
)  # fmt: skip


@given(PIECES, HELD)
def test_pieces_are_covered_as_far_as_there_are_uses(
    drawn: list[tuple[str, str, int, int]], held: list[tuple[str, set[str], set[int], str]]
) -> None:
    pieces = [Piece(str(n), *one) for n, one in enumerate(drawn)]
    series = [
        Left(n, who, frozenset(items), tuple(sorted(free)), until) for n, (who, items, free, until) in enumerate(held)
    ]
    found = core.offered_uses(pieces, series)
    by_id, used = {one.id: one for one in series}, [use for uses in found.values() for use in uses]
    assert len(used) == len(set(used))
    for piece in pieces:
        mine = found.get(piece.line, [])
        assert len(mine) <= piece.pieces
        assert all(by_id[id].holder == piece.holder and piece.item in by_id[id].items for id, _ in mine)
        if len(mine) < piece.pieces and piece.covers:  # only when nothing that fits is left
            assert all(
                set(one.free) <= {number for id, number in used if id == one.id}
                for one in series
                if one.holder == piece.holder and piece.item in one.items
            )
    for one in series:  # lowest numbers first
        taken = sorted(number for id, number in used if id == one.id)
        assert taken == list(one.free)[: len(taken)]


def test_what_ends_first_is_used_first_and_goes_where_it_takes_most() -> None:
    lines = [Piece("cheap", "p", "x", 1, 3000), Piece("dear", "p", "x", 2, 4800), Piece("hers", "q", "x", 1, 9000)]
    series = [Left(1, "p", frozenset("x"), (2, 3), "2027-01-31"), Left(2, "p", frozenset("x"), (5,), "2026-07-01")]
    assert core.offered_uses(lines, series) == {"dear": [(2, 5), (1, 2)], "cheap": [(1, 3)]}


def test_a_use_covers_one_piece_with_the_choices_that_are_asked_for() -> None:
    leaf, extras = {"smoky", "mint"}, [("mint", 40), ("honey", 80), ("smoky", 60)]
    assert core.covered_of_one(360, extras, [(leaf, 1)]) == 400  # the first of its leaves; honey stays to pay
    assert core.covered_of_one(360, extras, [(leaf, 2)]) == 460
    assert core.covered_of_one(360, extras, []) == 360
    assert core.covered_of_one(360, [("mint", -500)], [(leaf, 1)]) == 0
    assert core.good_until(date(2026, 6, 13), 365) == date(2027, 6, 13)
    assert core.good_until(date(2027, 6, 13), 365) == date(2028, 6, 12)  # a leap year


@given(
    st.lists(MONEY, min_size=1, max_size=5), MONEY, st.sampled_from(TaxMode), st.sampled_from(["0", "0.2", "0.0825"])
)
def test_a_series_is_a_liability_without_its_tax(others: list[int], price: int, mode: TaxMode, rate: str) -> None:
    lines = (*(Line(f"o{n}", amount, tax="t") for n, amount in enumerate(others)), Line("s", price, tax="t"))
    ticket = Ticket(Currency.of("EUR"), mode, lines, taxes=(Tax("t", Fraction(rate), "t"),))
    bill = reckon(ticket)
    uses = {line.id: LineUse(Role.SALE, "g") for line in lines} | {"s": LineUse(Role.SERIES)}
    posted = {one.account: one.amount for one in closed_unpaid(ticket, uses)}
    net = SaleBooks(ticket, bill, sale_names(uses)).without_tax(all_of(ticket, bill))[RowKind.LINE, "s"]
    assert -posted.get("liabilities:series", 0) == net
    if mode is TaxMode.EXCLUSIVE:
        assert net == price
    else:
        assert abs(net - Fraction(price) / (1 + Fraction(rate))) <= len(lines)


def closed_unpaid(ticket: Ticket, uses: dict[str, LineUse]) -> tuple[Posting, ...]:
    """What closing posts, with what is owed for it as paid."""
    bill = reckon(ticket)
    credits = SaleBooks(ticket, bill, sale_names(uses)).credits(all_of(ticket, bill))
    assert sum(credits.values()) == bill.total
    return tuple(Posting(account, -amount) for account, amount in credits.items())


@given(st.integers(0, 9000), st.integers(1, 4), st.data())
def test_what_a_series_covers_is_no_sale_again(price: int, pieces: int, data: st.DataObject) -> None:
    covered = data.draw(st.integers(0, pieces))
    uses = tuple(Adjustment(AdjustmentKind.SERIES, amount=price, reason="five") for _ in range(covered))
    line = Line("l", price, Fraction(pieces), "Paddle", "t", adjustments=uses)
    ticket = Ticket(Currency.of("EUR"), TaxMode.INCLUSIVE, (line,), taxes=(Tax("t", Fraction("0.2"), "t"),))
    bill = reckon(ticket)
    assert bill.total == price * (pieces - covered)
    assert bill.staff_tips == () and bill.lines[0].gross == price * pieces
    found = closed_unpaid(ticket, {"l": LineUse(Role.SALE, "sessions")})
    tax = next((tax.tax for tax in bill.taxes if tax.id == "t"), 0)
    assert {one.account: -one.amount for one in found if one.amount} == {
        account: amount
        for account, amount in (("income:sales:sessions", bill.total - tax), ("liabilities:tax:t", tax))
        if amount
    }
    booked = core.used(1400, LineUse(Role.SALE, "sessions"), "Paddle", "idris")
    assert sum(posting.amount for posting in booked.postings) == 0
