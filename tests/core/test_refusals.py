"""What the core refuses says which rule, beside which field, and with which facts: to the letter."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from typing import Any

import pytest

from abrazo.core.errors import Code, Refused, chosen
from abrazo.core.jobs import hand_over
from abrazo.core.moments import read_day, read_wall
from abrazo.core.money import LIMIT, LONGEST, Currency, bounded, read_decimal
from abrazo.core.reckon import reckon
from abrazo.core.refunds import GivenBack, plan_refund
from abrazo.core.sharing import stated_cells
from abrazo.core.states import RowKind, Share
from abrazo.core.tenders import Payment, change_for, open_account, pay
from abrazo.core.ticket import Settled, Ticket
from abrazo.formats.ticket_json import read_ticket

EURO = Currency.of("EUR")
TEA = {"id": "tea", "unit_price": "4.00"}
ADA, BO = {"id": "ada"}, {"id": "bo"}


def ticket(**fields: Any) -> Ticket:
    base = {"currency": "EUR", "tax_mode": "inclusive", "lines": [TEA]}
    return read_ticket(json.dumps(base | fields).encode())


def of_ticket(**fields: Any) -> Callable[[], object]:
    return lambda: reckon(ticket(**fields))


def refund(*args: Any, given: GivenBack | None = None) -> Callable[[], object]:
    sold = ticket(lines=[TEA, {"id": "bun", "unit_price": "3.00"}])
    return lambda: plan_refund(sold, reckon(sold), given or GivenBack(), *args)


def amounts(*given: str | None) -> dict[str, Any]:
    payers = [{"id": f"p{n}"} | ({"amount": one} if one else {}) for n, one in enumerate(given)]
    return {"split": "amounts", "payers": payers}


def unsettled(kept: Settled) -> Callable[[], object]:
    """Two payers of a tea, of whom the first keeps what they paid."""
    guests, payers = [ADA, BO], [{"id": "p0", "guests": ["ada"]}, {"id": "p1", "guests": ["bo"]}]
    made = ticket(guests=guests, payers=payers)
    return lambda: reckon(Ticket(**{f: getattr(made, f) for f in made.__slots__} | {"settled": {"p0": kept}}))


STD, FEE = {"id": "std", "rate": "0.2"}, {"id": "fee", "amount": "1.00"}
BOTH = [{"id": "p0", "guests": ["ada"]}, {"id": "p1", "guests": ["bo"]}]


def fees_above() -> Ticket:
    """One of three payers has settled with most of a fee on their bill; another takes a third of it, evenly."""
    third = {"id": "p2", "guests": ["cy"]}
    made = ticket(guests=[ADA, BO, {"id": "cy"}], payers=[*BOTH, third], charges=[FEE])
    kept = Settled(cells={LINE: 133, (RowKind.CHARGE, "fee"): 90}, memo={})
    return replace(made, settled={"p0": kept}, fees={"p1": Share.EVEN})


LINE, BUN = (RowKind.LINE, "tea"), (RowKind.LINE, "bun")
REFUSED: list[tuple[Callable[[], object], Code, str, dict[str, object]]] = [
    (lambda: read_decimal(4.5, "/x"), Code.DECIMAL_IN_QUOTES, "/x", {}),
    (lambda: read_decimal("9" * (LONGEST + 1), "/x"), Code.DECIMAL_TOO_LONG, "/x", {"most": LONGEST}),
    (lambda: read_decimal("4,50", "/x"), Code.NOT_DECIMAL, "/x", {}),
    (lambda: bounded(LIMIT, "/x"), Code.TOO_LARGE, "/x", {}),
    (lambda: bounded(-LIMIT, "/x"), Code.TOO_LARGE, "/x", {}),
    (lambda: Currency.of("EUX"), Code.NOT_CURRENCY, "/currency", {"code": "EUX"}),
    (
        lambda: EURO.read("4.505", "/x"),
        Code.TOO_MANY_DECIMALS,
        "/x",
        {"code": "EUR", "digits": 2, "decimals": 3},
    ),
    (lambda: hand_over({7: 2}, {7: 0}, 0), Code.NO_PIECES, "pieces", {}),
    (lambda: hand_over({7: 2}, {7: 3}, 0), Code.FEWER_PIECES, "pieces-7", {"here": 2}),
    (lambda: hand_over({7: 2}, {7: -1}, 0), Code.FEWER_PIECES, "pieces-7", {"here": 2}),
    (lambda: hand_over({7: 2}, {8: 1}, 0), Code.FEWER_PIECES, "pieces-8", {"here": 0}),
    (lambda: hand_over({7: 2}, {7: 2}, 500), Code.JOB_OWED, "pieces", {"owed": 500}),
    (lambda: read_day("12.6.2026 ", "date"), Code.NOT_DATE, "date", {"typed": "12.6.2026", "example": "2026-06-12"}),
    (lambda: read_day("1" * 40, "date", "x"), Code.NOT_DATE, "date", {"typed": "1" * 30, "example": "x"}),
    (lambda: read_day("1800-01-01", "date", "x"), Code.NOT_DATE, "date", {"typed": "1800-01-01", "example": "x"}),
    (
        lambda: read_wall(" 2026-06-12", "25:00 ", "time"),
        Code.NOT_MOMENT,
        "time",
        {"day": "2026-06-12", "time": "25:00"},
    ),
    (lambda: read_wall("2" * 40, "3" * 40, "time"), Code.NOT_MOMENT, "time", {"day": "2" * 30, "time": "3" * 30}),
    (
        lambda: read_wall("2026-06-12", "10:00Z", "time"),
        Code.NOT_MOMENT,
        "time",
        {"day": "2026-06-12", "time": "10:00Z"},
    ),
    (lambda: stated_cells([300, 200], [400]), Code.STATED_TOO_MUCH, "/payers", {}),
    (lambda: change_for(Payment("p", "cash", 400, 50, 449), "/x"), Code.TOO_LITTLE_CASH, "/x", {}),
    (lambda: pay(open_account(400, 0), Payment("p", "cash", 0), 1, "/x"), Code.NOTHING_PAID, "/x", {}),
    (lambda: pay(open_account(400, 0), Payment("p", "card", 450), 1, "/x"), Code.ABOVE_DUE, "/x", {"above": 50}),
    (of_ticket(lines=[TEA | {"choices": [{"price": "-5.00"}]}]), Code.NEGATIVE_LINE, "/lines/0", {}),
    (of_ticket(lines=[TEA, TEA]), Code.USED_TWICE, "/lines/1/id", {"name": "tea"}),
    (of_ticket(lines=[TEA | {"tax": "no"}]), Code.UNKNOWN_ID, "/lines/0/tax", {"kind": "tax", "name": "no"}),
    (
        of_ticket(guests=[ADA], lines=[TEA | {"shares": {"bo": 1}}]),
        Code.UNKNOWN_ID,
        "/lines/0/shares/bo",
        {"kind": "guest", "name": "bo"},
    ),
    (of_ticket(guests=[ADA], lines=[TEA | {"shares": {"ada": 0}}]), Code.NO_WEIGHT, "/lines/0/shares", {}),
    (
        of_ticket(guests=[ADA], payers=[{"id": "p", "guests": ["ada", "ada"]}]),
        Code.USED_TWICE,
        "/payers/0/guests/1",
        {"name": "ada"},
    ),
    (
        of_ticket(guests=[ADA], payers=[{"id": "p", "guests": ["bo"]}]),
        Code.UNKNOWN_ID,
        "/payers/0/guests/0",
        {"kind": "guest", "name": "bo"},
    ),
    (
        of_ticket(discounts=[{"percent": "5", "lines": ["bun"]}]),
        Code.UNKNOWN_ID,
        "/discounts/0/lines/0",
        {"kind": "line", "name": "bun"},
    ),
    (
        of_ticket(charges=[{"id": "c", "amount": "1.00", "tax": "no"}]),
        Code.UNKNOWN_ID,
        "/charges/0/tax",
        {"kind": "tax", "name": "no"},
    ),
    (
        of_ticket(tips=[{"payer": "zoe", "amount": "1.00"}]),
        Code.UNKNOWN_ID,
        "/tips/0/payer",
        {"kind": "payer", "name": "zoe"},
    ),
    (
        of_ticket(payments=[{"payer": "zoe", "amount": "1.00", "tender": "cash"}]),
        Code.UNKNOWN_ID,
        "/payments/0/payer",
        {"kind": "payer", "name": "zoe"},
    ),
    (
        of_ticket(guests=[ADA], payers=[{"id": "p", "guests": ["ada"], "amount": "1.00"}]),
        Code.AMOUNT_WITHOUT_SPLIT,
        "/payers/0/amount",
        {},
    ),
    (
        of_ticket(**amounts("4.00"), tips=[{"payer": "p0", "percent": "5", "basis": "net"}]),
        Code.TIP_BASIS,
        "/tips/0",
        {},
    ),
    (
        of_ticket(tips=[{"payer": "all", "amount": "9999999999.99"}, {"payer": "all", "amount": "1.00"}]),
        Code.TOO_LARGE,
        "",
        {},
    ),
    (of_ticket(**amounts(None, None)), Code.ONE_WITHOUT_AMOUNT, "/payers", {}),
    (of_ticket(**amounts("5.00", None)), Code.AMOUNTS_DO_NOT_ADD_UP, "/payers", {"total": 400}),
    (of_ticket(**amounts("3.00")), Code.AMOUNTS_DO_NOT_ADD_UP, "/payers", {"total": 400}),
    (of_ticket(taxes=[STD, STD]), Code.USED_TWICE, "/taxes/1/id", {"name": "std"}),
    (of_ticket(guests=[ADA, ADA]), Code.USED_TWICE, "/guests/1/id", {"name": "ada"}),
    (of_ticket(charges=[FEE, FEE]), Code.USED_TWICE, "/charges/1/id", {"name": "fee"}),
    (of_ticket(payers=[{"id": "p"}, {"id": "p"}]), Code.USED_TWICE, "/payers/1/id", {"name": "p"}),
    (
        of_ticket(discounts=[{"percent": "5", "lines": ["tea", "tea"]}]),
        Code.USED_TWICE,
        "/discounts/0/lines/1",
        {"name": "tea"},
    ),
    (lambda: reckon(fees_above()), Code.FEES_TOO_MUCH, "/charges", {}),
    (refund([LINE, LINE]), Code.LINE_TWICE, "lines", {}),
    (refund([(RowKind.LINE, "ale")]), Code.NOT_ON_TICKET, "lines", {}),
    (refund([LINE], given=GivenBack({LINE: 400}, {})), Code.REFUNDED_ALREADY, "lines", {}),
    (refund([LINE], 100, given=GivenBack({LINE: 400}, {})), Code.REFUNDED_ALREADY, "lines", {}),
    (refund([LINE, BUN], given=GivenBack({LINE: 400}, {})), Code.REFUNDED_ALREADY, "lines", {}),
    (refund([LINE], 401), Code.ABOVE_REFUNDABLE, "refund", {"left": 400}),
    (refund([], 701), Code.ABOVE_REFUNDABLE, "refund", {"left": 700}),
    (unsettled(Settled(cells={LINE: 500}, memo={})), Code.CHANGES_PAID, "", {}),
    (unsettled(Settled(cells={(RowKind.LINE, "gone"): 100}, memo={})), Code.CHANGES_PAID, "", {}),
]


@pytest.mark.parametrize(("act", "code", "where", "facts"), REFUSED, ids=[str(one[1]) for one in REFUSED])
def test_a_refusal_to_the_letter(act: Callable[[], object], code: Code, where: str, facts: dict[str, object]) -> None:
    with pytest.raises(Refused) as refused:
        act()
    assert (refused.value.code, refused.value.where, refused.value.facts) == (code, where, facts)


def test_a_refusal_moves_to_another_place_with_its_facts() -> None:
    first = Refused(Code.JOB_OWED, "pieces", owed=5, job="S-7")
    other = first.at("sum")
    assert (other.code, other.where, other.facts) == (Code.JOB_OWED, "sum", {"owed": 5, "job": "S-7"})
    assert str(first) == "job_owed (owed=5, job=S-7)"
    assert str(Refused(Code.NO_PIECES)) == "no_pieces"


def test_a_choice_that_there_is_not_is_refused() -> None:
    assert chosen(Share, "even", Code.NO_DIRECTION) is Share.EVEN
    with pytest.raises(Refused) as refused:
        chosen(Share, "Even", Code.NO_DIRECTION, "way")
    assert (refused.value.code, refused.value.where) == (Code.NO_DIRECTION, "way")


def test_what_lies_just_inside_is_not_refused() -> None:
    assert bounded(LIMIT - 1) == LIMIT - 1
    assert read_decimal("0." + "1" * (LONGEST - 2))[0] == Fraction("0." + "1" * (LONGEST - 2))
    assert hand_over({7: 2, 8: 1}, {7: 2, 8: 0}, 500) == {7: 2}
    assert hand_over({7: 2}, {7: 2}, 0) == {7: 2}
    assert change_for(Payment("p", "cash", 400, 50, 450)) == 0
    assert stated_cells([300, 100], [400]) == [(300,), (100,)]
    assert reckon(ticket(**amounts("4.00"))).total == 400
    assert plan_refund(*_sold(), GivenBack(), [LINE], 400).amount == 400
    assert plan_refund(*_sold(), GivenBack({LINE: 400}, {}), [LINE, BUN], 100).rows == ((BUN, 100),)


def _sold() -> tuple[Ticket, Any]:
    sold = ticket(lines=[TEA, {"id": "bun", "unit_price": "3.00"}])
    return sold, reckon(sold)
