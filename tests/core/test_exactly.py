"""Small cases to the letter: accounts by name, borders, and what stands where, beside the properties."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, date, datetime
from fractions import Fraction
from functools import partial
from hashlib import sha256
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from abrazo.core import jobs, ledger, loyalty, tenders
from abrazo.core.bill import as_one, own_and_shared
from abrazo.core.codes import is_card_number, is_gs1
from abrazo.core.deposits import can_apply, freed_of_hold, inside_hold
from abrazo.core.errors import Code, Refused, chosen
from abrazo.core.journal import ChainLink, link_hash
from abrazo.core.ledger import Posting
from abrazo.core.loyalty import Benefit, Reachable, best_benefits
from abrazo.core.matching import Cause, Held, Mismatch, Moved, Remedy, mismatches, recorded_mismatches
from abrazo.core.moments import read_day, read_wall, stamp_of, wall_text
from abrazo.core.money import Currency, read_decimal, rest_of, total, totals
from abrazo.core.people import folded, search_parts, search_words
from abrazo.core.prices import lowest
from abrazo.core.reckon import reckon
from abrazo.core.refunds import GivenBack, TaxedPart, left_of, plan_refund, refundable
from abrazo.core.report import change_tenths
from abrazo.core.sharing import Guest, Payer, stated_cells
from abrazo.core.states import AdjustmentKind, Extra, RowKind, TaxMode
from abrazo.core.tax import Tax
from abrazo.core.tenders import (
    Parts,
    Payment,
    allocate,
    approved_parts,
    cash_due,
    change_for,
    change_pieces,
    likely_cash,
    open_account,
    pay,
    spent_of,
)
from abrazo.core.ticket import Adjustment, Charge, Line, Settled, Ticket, charge_amount, price_of_one
from abrazo.core.till import over_short, worth_of
from abrazo.core.tips import Tip, pooled, staff_tips

EUR = Currency.of("EUR")
POSTINGS: list[tuple[Callable[[], ledger.Postings], list[tuple[str, int]]]] = [
    (lambda: ledger.hold_postings("Card machine 1", 60), [("assets:held-on-cards:card-machine-1", 60), ("liabilities:held-on-cards", -60)]),
    (lambda: ledger.points_postings(25), [("expenses:points", 25), ("liabilities:points", -25)]),
    (lambda: ledger.over_short_postings("Bar", -5), [("assets:cash:bar", -5), (ledger.OVER_SHORT, 5)]),
    (lambda: ledger.tips_paid_postings("Bar", "ada", 7), [("liabilities:tips:ada", 7), ("assets:cash:bar", -7)]),
    (lambda: ledger.petty_postings("Bar", "Ice & lemons", 9), [("expenses:petty:ice-lemons", 9), ("assets:cash:bar", -9)]),
    (lambda: ledger.tip_back_postings("assets:cash:bar", 10, [("ada", 2), ("bo", 0), ("cy", 3)]),
     [("liabilities:tips:ada", 4), ("liabilities:tips:cy", 6), ("assets:cash:bar", -10)]),
    (lambda: ledger.tip_back_postings("assets:cash:bar", 0, [("ada", 2)]), []),
    (lambda: ledger.taken_postings("assets:cash:bar", 100, 30),
     [("assets:cash:bar", 100), ("liabilities:open-tickets", -70), ("liabilities:store-credit", -30)]),
]  # fmt: skip


@pytest.mark.parametrize(("made", "expected"), POSTINGS)
def test_postings_by_name(made: Callable[[], ledger.Postings], expected: list[tuple[str, int]]) -> None:
    assert list(made()) == [Posting(account, amount) for account, amount in expected]


def test_accounts_without_a_word_and_entries_out_of_balance() -> None:
    assert (ledger.slug("!!"), ledger.slug(" Café & Bar ")) == ("none", "café-bar")
    with pytest.raises(AssertionError, match=r"out of balance: .*'a'"):
        ledger.balanced([Posting("a", 1)])


def test_tips_lie_where_they_were_earned() -> None:
    assert staff_tips(400, [("ada", 1000), ("bo", 2000), ("ada", 1000)], None) == [("ada", 200), ("bo", 200)]
    assert staff_tips(300, [("ada", 1), ("bo", 2)], None) == [("ada", 100), ("bo", 200)]
    assert pooled(5) == [("pool", 5)] and pooled(0) == []


def test_the_years_in_which_there_are_visits() -> None:
    for year, inside in ((1899, False), (1900, True), (2199, True), (2200, False)):
        readers: tuple[Callable[[str], date], ...] = (
            lambda day: read_day(day, "x"),
            lambda day: read_wall(day, "00:00", "x"),
        )
        for read in readers:
            if inside:
                assert read(f"{year}-01-01").year == year
            else:
                with pytest.raises(Exception, match="not_"):
                    read(f"{year}-01-01")


def test_moments_are_written_to_the_second() -> None:
    moment = datetime(2026, 6, 13, 14, 20, 5, 999, tzinfo=ZoneInfo("Europe/Dublin"))
    assert stamp_of(moment) == "2026-06-13T13:20:05Z"
    assert wall_text(moment) == "2026-06-13T14:20:05"
    assert stamp_of(datetime(2026, 6, 13, tzinfo=UTC)) == "2026-06-13T00:00:00Z"
    with pytest.raises(ValueError, match=r"^a stamp needs a moment with a zone$"):
        stamp_of(datetime(2026, 6, 13))


def test_what_somebody_is_found_by() -> None:
    words = search_words("Élis  Amari", "+353209100101", "E@Amari.example", "(020) 910 0101")
    assert words == "elis amari 353209100101 0209100101 e@amari.example"
    assert search_words("Ada", None, None) == "ada"
    assert search_parts("020 910") == ["20910"]
    assert search_parts("000") == ["000"]
    assert search_parts("910 00") == ["91000"]
    assert search_parts("room 7") == ["room", "7"]
    assert search_parts("+() ") == ["+()"]
    assert search_parts("X7") == ["x7"]
    assert folded("ẞ") == "ss"


def test_codes_that_are_none() -> None:
    assert not is_gs1("ABCDEFGH") and not is_gs1("12345") and not is_gs1("١٢٣٤٥٦٧٠")
    assert is_gs1("4006381333931")  # an EAN-13 with its check digit, from memory
    assert not is_card_number("abcdefghijklmnop") and not is_card_number("0")
    assert is_card_number("4111111111111111")  # the usual number for tests, from memory


def test_recorded_cards_keep_what_they_say() -> None:
    by_hand = Mismatch("m-1", None, 6400, Cause.NOT_OURS, Remedy.FIND)
    first, second = recorded_mismatches([Held("slip 1", 6400, 9), Held("slip 2", 6400, 10)], [by_hand])
    assert (first.reference, first.ours, first.theirs, first.ticket) == ("slip 1", 6400, 6400, 9)
    assert (second.reference, second.ours, second.theirs, second.ticket) == ("slip 2", 6400, None, 10)


def test_likely_cash_at_its_borders() -> None:
    pieces = [(1, False), (100, False), (200, False), (500, True)]
    assert likely_cash(1, pieces, 100) == [1, 100, 200, 500]
    assert likely_cash(3, pieces, 200) == [3, 200, 500]
    assert likely_cash(150, pieces, 100, 20) == [160, 200, 500]
    assert likely_cash(700, pieces, 100) == [700, 1000]


def test_change_takes_what_is_there() -> None:
    assert change_pieces(0, {}) == {}
    assert change_pieces(0, {5: 1}) == {}
    assert change_pieces(6, {5: 0, 2: 3}) == {2: 3}
    assert change_pieces(7, {5: 1, 2: 1}) == {5: 1, 2: 1}
    assert change_pieces(9, {1: 0, 2: 2, 5: 1}) == {5: 1, 2: 2}
    assert change_pieces(3, {5: 9, 3: 1}) == {3: 1}
    assert change_pieces(13, {1: 13}) == {1: 13}


def test_what_the_two_sides_say_is_told_apart_to_the_letter() -> None:
    theirs = [Moved("lost", 300), Moved("lost", 200), Moved("hand", 900), Moved("twice", 50), Moved("twice", 50)]
    ours = [Held("gone", 100, 1), Held("twice", 90, 2)]
    assert mismatches(ours, theirs, {"twice": ours[1]}, {"lost": 7}) == [
        Mismatch("gone", 100, None, Cause.NOTHING_THERE, Remedy.CORRECT, 1),
        Mismatch("twice", 90, 100, Cause.SUMS_DIFFER, Remedy.CORRECT, 2),
        Mismatch("lost", None, 500, Cause.ANSWER_LOST, Remedy.ASK, 7),
        Mismatch("hand", None, 900, Cause.NOT_OURS, Remedy.FIND),
    ]


def test_benefits_of_many_lines() -> None:
    """Always: off the whole line; so many times: off one piece, the dearest first, each use counted once."""
    always, thrice = Benefit("a", Fraction(10), group="g"), Benefit("t", Fraction(50), item="i", left=3)
    lines = [Reachable(f"l{n}", "m", "i", "g", 400, 100) for n in range(5)]
    found = best_benefits(lines, {"m": [always, thrice]})
    assert found == {"l0": ("t", 50), "l1": ("t", 50), "l2": ("t", 50), "l3": ("a", None), "l4": ("a", None)}
    dear = Reachable("x", "m", "j", "g", 1000, 100)
    assert best_benefits([dear], {"m": [always, Benefit("o", Fraction(90), item="j", left=1)]}) == {"x": ("a", None)}


def test_a_link_of_the_chain_can_be_recomputed_by_anybody() -> None:
    """SHA-256 over the entry's own facts as JSON with sorted keys and no blanks, as RFC 8785 writes them."""
    link = ChainLink(2, "0" * 64, "2026-06-13T13:20:00Z", 5, "bar", "ada", "cash taken", {"amount": 400, "é": "ü"},
                     (Posting("b", -400), Posting("a", 400)), "")  # fmt: skip
    text = (
        '{"at":"2026-06-13T13:20:00Z","day":5,"facts":{"amount":400,"é":"ü"},"kind":"cash taken","number":2,"person":"ada",'
        f'"postings":[["a",400],["b",-400]],"previous":"{"0" * 64}","till":"bar"}}'
    )
    assert link_hash(link) == sha256(text.encode()).hexdigest()


def test_money_read_and_refused_beside_its_field() -> None:
    assert Currency.of("KWD") == Currency("KWD", 3)
    assert Currency.of("JPY").read("12") == 12
    for typed, code in (("x", Code.NOT_DECIMAL), ("9999999999999", Code.TOO_LARGE)):
        with pytest.raises(Refused) as refused:
            Currency.of("EUR").read(typed, "/sum")
        assert (refused.value.code, refused.value.where) == (code, "/sum")
    assert Refused(Code.NO_PIECES).args == (Code.NO_PIECES,)


def test_payments_one_after_the_other() -> None:
    assert (cash_due(3, 2), cash_due(5, 1), cash_due(7, 5), cash_due(8, 5)) == (4, 5, 5, 10)
    card = Payment("p", "card", 1)
    assert change_for(card) == 0
    first = pay(open_account(1000, 100), Payment("p", "card", 1150, extra=Extra.TIP), 1)
    assert (first.extras, first.tip, first.due) == (50, 150, 0)
    second = pay(first, Payment("p", "card", 20, extra=Extra.TIP), 1)
    assert (second.extras, second.tip, second.paid, second.due) == (70, 170, 1170, 0)
    third = pay(second, Payment("p", "card", 0, tip=200), 1) if second.due > 0 else second
    assert third.extras == 70
    tipped = pay(open_account(1000, 100), Payment("p", "card", 500, tip=250), 1)
    assert (tipped.tip, tipped.paid_tips, tipped.due) == (250, 250, 500)
    assert pay(open_account(5, 0), card, 1).due == 4
    rounded = pay(open_account(1002, 0), Payment("p", "cash", 1000, tendered=1000), 5)
    assert (rounded.rounding, rounded.due) == (-2, 0)
    by_card = pay(open_account(1002, 0), Payment("p", "card", 1000), 5)
    assert (by_card.rounding, by_card.due) == (0, 2)
    twos = pay(open_account(1001, 0), Payment("p", "cash", 1002), 2)
    assert (twos.rounding, twos.due) == (1, 0)
    with pytest.raises(Refused) as refused:
        pay(open_account(400, 0), Payment("p", "card", 401), 1, "/x")
    assert refused.value.facts == {"above": 1}
    with pytest.raises(Refused) as refused:
        pay(open_account(400, 0), Payment("p", "cash", 400, tendered=399), 1, "/x")
    assert (refused.value.code, refused.value.where) == (Code.TOO_LITTLE_CASH, "/x")


def test_a_charge_of_its_base() -> None:
    """Of what lines came to before or after their discounts."""
    off = Adjustment(AdjustmentKind.DISCOUNT, percent=Fraction(50))
    line = Line("a", 1000, adjustments=(off,))
    made = [
        reckon(
            Ticket(
                Currency.of("EUR"),
                TaxMode.INCLUSIVE,
                lines=(line,),
                charges=(Charge("c", percent=Fraction(10), base=base),),
            )
        )
        for base in ("net", "gross")
    ]
    assert [bill.charges_total for bill in made] == [50, 100]
    huge = Charge("c", percent=Fraction(10**9), base="gross")
    with pytest.raises(Refused) as refused:
        reckon(Ticket(Currency.of("EUR"), TaxMode.INCLUSIVE, lines=(Line("a", 10**6),), charges=(huge,)))
    assert (refused.value.code, refused.value.where) == (Code.TOO_LARGE, "/charges/0")


def test_stored_value_and_holds_are_cut_to_what_is_taken() -> None:
    assert (spent_of(500, 300), spent_of(300, 500), spent_of(0, 5)) == ((300, 200), (300, 0), (0, 0))
    assert (freed_of_hold(500, 300), freed_of_hold(300, 500), freed_of_hold(5, 5)) == (200, 0, 0)


def test_stated_amounts_cut_what_is_left_of_each_row() -> None:
    assert stated_cells([300, 100], [400, 200]) == [(200, 100), (67, 33)]


# ---- whole tickets


def sold(mode: TaxMode, **fields: Any) -> Ticket:
    taxes = (Tax("std", Fraction(1, 5)), Tax("red", Fraction(1, 10)))
    lines = (
        Line("a", 1000, tax="std"),
        Line("b", 500, tax="red"),
        Line("c", 300, tax=None),
    )
    return Ticket(Currency.of("EUR"), mode, taxes=taxes, lines=lines, **fields)


def test_an_added_tax_goes_back_with_its_part() -> None:
    fee = Charge("fee", amount=200, label="Delivery", tax="std")
    ticket = sold(TaxMode.EXCLUSIVE, charges=(fee,))
    bill = reckon(ticket)
    assert refundable(ticket, bill, GivenBack()) == {
        ("line", "a"): 1200,
        ("line", "b"): 550,
        ("line", "c"): 300,
        ("charge", "fee"): 240,
    }
    half = plan_refund(ticket, bill, GivenBack(), [(RowKind.LINE, "a"), (RowKind.CHARGE, "fee")], 720)
    assert half.rows == ((("line", "a"), 500), (("charge", "fee"), 100))
    assert half.parts == (TaxedPart("std", 720, 120),)
    given = GivenBack({(RowKind.LINE, "a"): 500, (RowKind.CHARGE, "fee"): 100}, {"std": 120})
    assert refundable(ticket, bill, given)[(RowKind.LINE, "a")] == 600
    both = plan_refund(ticket, bill, GivenBack(), [(RowKind.LINE, "a"), (RowKind.LINE, "b"), (RowKind.LINE, "c")])
    assert both.parts == (TaxedPart("std", 1200, 200), TaxedPart("red", 550, 50), TaxedPart(None, 300, 0))
    assert plan_refund(ticket, bill, GivenBack(), [(RowKind.LINE, "c")], 0).rows == ()


def test_a_stated_part_names_its_tax_and_leaves_what_was_settled() -> None:
    """One gives 600 of 1800, of every row in proportion; settled or not, the others have the rest."""
    guests = (Guest("A"), Guest("B"))
    shares = {"a": (("A", 1),), "b": (("B", 1),), "c": (("B", 1),)}
    plain = sold(TaxMode.INCLUSIVE)
    lines = tuple(replace(line, shares=shares[line.id]) for line in plain.lines)
    payers = (Payer("p", ("A",)), Payer("q", ("B",)), Payer("s"))
    ticket = replace(plain, lines=lines, guests=guests, payers=payers, stated={"s": 600})
    first = reckon(ticket)
    stated = next(payer for payer in first.payers if payer.id == "s")
    assert stated.account.total == 600
    assert {row.ref: row.amount for row in stated.rows} == {"a": 333, "b": 167, "c": 100}
    assert dict(stated.taxes) == {"std": 56, "red": 15}
    assert sum(amount for payer in first.payers for tax, amount in payer.taxes if tax == "std") == 167
    kept = {
        "s": Settled(
            {(RowKind.LINE, "a"): 333, (RowKind.LINE, "b"): 167, (RowKind.LINE, "c"): 100}, {"std": 56, "red": 15}
        )
    }
    again = reckon(replace(ticket, settled=kept))
    amounts = {payer.id: {row.ref: row.amount for row in payer.rows} for payer in again.payers}
    assert amounts == {payer.id: {row.ref: row.amount for row in payer.rows} for payer in first.payers}
    assert [payer.taxes for payer in again.payers] == [payer.taxes for payer in first.payers]


def test_stated_amounts_name_the_tax_inside_alone() -> None:
    payers = (Payer("p", (), 600), Payer("q", (), None))
    bill = reckon(sold(TaxMode.INCLUSIVE, split="amounts", payers=payers))
    assert [payer.account.total for payer in bill.payers] == [600, 1200]
    assert [dict(payer.taxes) for payer in bill.payers] == [{"std": 56, "red": 15}, {"std": 111, "red": 30}]
    added = reckon(sold(TaxMode.EXCLUSIVE, split="amounts", payers=payers))
    assert [payer.taxes for payer in added.payers] == [(), ()]


FORMED: list[tuple[Callable[[], object], object]] = [
    (lambda: total([3, -5, 7]), 5),
    (lambda: totals([("b", 2), ("a", 1), ("b", -5)]), {"b": -3, "a": 1}),
    (lambda: list(totals([("b", 2), ("a", 1)])), ["b", "a"]),
    (lambda: (rest_of(5, 7), rest_of(7, 5)), (-2, 2)),
    (lambda: EUR.exact_text(Fraction(2500, 7)), "3.5714"),
    (lambda: EUR.exact_text(Fraction(-1, 200)), "-0.0001"),  # half up, away from zero
    (lambda: Currency.of("JPY").exact_text(Fraction(5, 3)), "1.67"),
    (lambda: (tenders.given(100, 15), tenders.on_bill(100, 30), tenders.change_from(50, 20)), (115, 70, 30)),
    (lambda: (tenders.above_due(100, 99), tenders.above_due(100, 101)), (0, 1)),
    (lambda: (jobs.still_owed(100, 30), jobs.still_owed(30, 100)), (70, 0)),
    (lambda: (jobs.owed_on_ticket(500, 100, 30), jobs.owed_on_ticket(50, 100, 30)), (70, 50)),
    (lambda: can_apply({1: 10, 2: 0}, [(2, 5), (3, 9), (2, 1)]), {1: 10, 2: 6}),  # 3 is held for nothing here
    (lambda: (inside_hold(100, 30), inside_hold(100, 0)), (70, 100)),
    (lambda: (over_short(98, 100), over_short(100, 98)), (-2, 2)),
    (lambda: (worth_of({}), worth_of({500: 2, 20: 3, 1: 0})), (0, 1060)),
    (lambda: lowest([300, 250, 400]), 250),
    (lambda: (price_of_one(300, []), price_of_one(300, [50, -400])), (300, -50)),
    (lambda: (loyalty.earning_net(500, 120), loyalty.earning_net(100, 120)), (380, 0)),
    # 100 points are worth 500: 250 points are two lots, of which a bill of 990 takes one
    (lambda: (loyalty.points_to_spend(250, 100, 500, 5000), loyalty.points_to_spend(250, 100, 500, 990)), (200, 100)),
    (lambda: (loyalty.points_back(500, 100, 500), loyalty.points_back(4, 100, 500)), (100, 0)),
    (lambda: (loyalty.booked_worth(7, 100, 500), loyalty.booked_worth(-100, 100, 500)), (35, -500)),
    (lambda: left_of({1: 100, 2: 50, 3: 20}, [(1, 30), (2, 50), (1, 20), (9, 5)]), {1: 50, 3: 20}),
]


@pytest.mark.parametrize(("made", "expected"), FORMED)
def test_what_is_formed_of_amounts(made: Callable[[], object], expected: object) -> None:
    assert made() == expected


def test_what_is_refused_beside_no_field_names_none() -> None:
    with pytest.raises(Refused) as refused:
        chosen(Extra, "soup", Code.NO_ITEM_KIND)
    assert (refused.value.code, refused.value.where) == (Code.NO_ITEM_KIND, "")
    assert search_words("Ada", None, None) == "ada"


def test_what_is_open_of_bill_and_tip() -> None:
    account = replace(open_account(1000, 150), tip=190, paid_tips=100, extras=40, paid=700)
    assert (account.due, account.open_tip, account.open_bill, account.unpaid) == (490, 50, 440, 300)
    assert replace(account, paid=1160).open_bill == 0  # what is due is less than the open tip


@pytest.mark.parametrize(
    ("approved", "more_tip", "parts"),
    [
        (1300, 50, Parts(1100, 250, 100)),  # all of it, and a tip typed on the machine
        (1299, 0, Parts(1000, 299)),  # the bill first, nothing becomes credit
        (400, 0, Parts(400, 0)),
    ],
)
def test_a_part_that_was_approved_pays_the_bill_first(approved: int, more_tip: int, parts: Parts) -> None:
    assert approved_parts(Parts(1100, 200, 100), approved, more_tip) == parts


def test_what_of_a_bill_is_shared_with_others() -> None:
    line = partial(Line, tax=None)
    ticket = Ticket(
        currency=EUR,
        tax_mode=TaxMode.INCLUSIVE,
        lines=(line("own", 300), line("both", 501, shares=(("a", 1), ("b", 2)))),
        guests=(Guest("a"), Guest("b")),
        payers=(Payer("p", guests=("a",)), Payer("q", guests=("b",))),
    )
    ticket = replace(ticket, lines=(replace(ticket.lines[0], shares=(("a", 1),)), ticket.lines[1]))
    one, other = reckon(ticket).payers
    assert own_and_shared(one, [other]) == (300, 167)
    assert own_and_shared(other, [one]) == (0, 334)
    assert own_and_shared(one, []) == (467, 0)


def test_rows_as_one_keep_every_part() -> None:
    assert as_one([(500, (("A", 250), ("B", 250))), (101, (("B", 101),))]) == (601, (("A", 250), ("B", 351)))
    assert as_one([]) == (0, ())


def test_benefits_of_some_items_come_off_together() -> None:
    lines = [Reachable("1", "p", "a", "g", 1000, 1000), Reachable("2", "p", "b", "g", 666, 333)]
    held = {"p": [Benefit("tenth", Fraction(10), group="g"), Benefit("free", Fraction(100), item="b", left=1)]}
    assert sum(loyalty.saved_by(lines, held).values()) == 100 + 333
    for one in (-50, 0):  # nothing comes off nothing, or off less
        assert best_benefits([Reachable("1", "p", "b", "other", 100, one)], held) == {}


def test_what_is_due_to_the_cent_is_taken_though_cash_would_be_rounded() -> None:
    account = open_account(1001, 0)
    assert allocate(account, 1001, step=5) == Parts(1001, 0)
    assert allocate(account, 1000, step=5) == Parts(1000, 0)
    assert allocate(account, 1002) is None  # without a step nothing is rounded
    assert change_pieces(60, {50: 1, 30: 2, 10: 1, 0: 4, 70: 0}) == {30: 2}  # as few as 50 and 10


def test_what_is_too_large_or_unreadable_is_named_where_it_stands() -> None:
    ticket = Ticket(currency=EUR, tax_mode=TaxMode.INCLUSIVE, lines=(Line("a", 100),))
    with pytest.raises(Refused) as refused:
        reckon(replace(ticket, tips=(Tip("guest", amount=10**12),), guests=(Guest("guest"),)))
    assert (refused.value.code, refused.value.where) == (Code.TOO_LARGE, "/tips/0")
    for read in (
        lambda: read_decimal("x"),
        lambda: EUR.read("x"),
        lambda: charge_amount(Charge("c", amount=10**12), []),
    ):
        with pytest.raises(Refused) as refused:
            read()
        assert refused.value.where == ""


def test_a_part_that_reaches_one_tax_alone_leaves_the_other() -> None:
    ticket = Ticket(
        currency=EUR,
        tax_mode=TaxMode.INCLUSIVE,
        lines=(Line("small", 1, tax="a"), Line("large", 100, tax="b")),
        taxes=(Tax("a", Fraction(10)), Tax("b", Fraction(20))),
    )
    plan = plan_refund(ticket, reckon(ticket), GivenBack(), amount=1)
    assert plan.rows == (((RowKind.LINE, "large"), 1),)
    assert [part.tax for part in plan.parts] == ["b"]


def test_a_change_is_in_tenths_of_a_percent_and_of_nothing_there_is_none() -> None:
    assert (change_tenths(1100, 1000), change_tenths(999, 1000), change_tenths(0, 7)) == (100, -1, -1000)
    assert (change_tenths(5, 0), change_tenths(5, -3)) == (None, None)
