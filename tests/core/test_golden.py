"""Whole bills as they have been reckoned: the properties say that they are right, this says that none has moved.

`python -m tests.core.test_golden` writes them anew; the difference is then read, figure by figure.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Iterator
from dataclasses import asdict, replace
from fractions import Fraction
from itertools import product
from pathlib import Path
from typing import Any

from abrazo.core.bill import Bill
from abrazo.core.errors import Refused
from abrazo.core.money import Currency
from abrazo.core.reckon import reckon
from abrazo.core.sharing import Guest, Payer
from abrazo.core.states import AdjustmentKind, Share, Split, TaxMode, TipsTo
from abrazo.core.tax import Tax
from abrazo.core.tenders import Payment
from abrazo.core.ticket import Adjustment, Charge, Discount, Line, Settled, Ticket
from abrazo.core.tips import Tip

GOLDEN = Path(__file__).parent.parent / "golden" / "bills.json"
TAXES = (Tax("std", Fraction(1, 5)), Tax("red", Fraction(7, 80)))
TENTH = Adjustment(AdjustmentKind.DISCOUNT, percent=Fraction(10), reason="slow")
FREE = Adjustment(AdjustmentKind.DISCOUNT, percent=Fraction(100), reason="late")
LINES = (
    Line("soup", 1733, tax="std", staff="jory", shares=(("a", 1),)),
    Line("bread", 700, tax="red", staff="wren", adjustments=(TENTH,)),
    Line("ale", 620, Fraction(2), tax="std", staff="jory", shares=(("b", 2), ("c", 1))),
    Line("bun", 333, staff="wren", shares=(("c", 1),)),
    Line("tart", 480, tax="red", adjustments=(FREE,), shares=(("b", 1),)),
)
CHARGES = (
    Charge("service", percent=Fraction(10), tax="std"),
    Charge("fee", amount=101, share=Share.EVEN, tax="red"),
    Charge("cover", percent=Fraction(5), base="gross"),
)
GUESTS = (Guest("a"), Guest("b"), Guest("c"))
PAYERS = (Payer("p", ("a",)), Payer("q", ("b",)), Payer("r", ("c",)))
WHOLE = Ticket(
    Currency.of("EUR"),
    TaxMode.INCLUSIVE,
    LINES,
    cash_rounding=5,
    taxes=TAXES,
    guests=GUESTS,
    staff="tamsin",
    discounts=(Discount(Fraction(8), None, "club"), Discount(None, 50, "coupon", ("soup", "bun"))),
    charges=CHARGES,
    payers=PAYERS,
)
STATED = (*PAYERS, Payer("s"), Payer("t"))
TIPS = (Tip("p", percent=Fraction(10)), Tip("q", amount=99), Tip("r", percent=Fraction(12), basis="gross"))


def kept(bill: Bill, who: str) -> Settled:
    """What a payer keeps when they have settled this bill."""
    payer = next(one for one in bill.payers if one.id == who)
    return Settled({(row.kind, row.ref): row.amount for row in payer.rows}, dict(payer.taxes))


def tickets() -> Iterator[tuple[str, Ticket]]:
    """Every way of sharing in both modes, with what payers choose, give, have settled and tip."""
    for mode, split in product(TaxMode, (Split.SHARES, Split.EQUAL)):
        plain = replace(WHOLE, tax_mode=mode, split=split)
        yield f"{mode} {split}", plain
        yield f"{mode} {split} tips", replace(plain, tips=TIPS)
        yield f"{mode} {split} pool", replace(plain, tips=TIPS, tips_to=TipsTo.POOL)
        yield f"{mode} {split} settled", replace(plain, settled={"q": kept(reckon(plain), "q")}, tips=TIPS)
        stated = replace(plain, payers=STATED, stated={"s": 1000, "t": 407})
        yield f"{mode} {split} stated", replace(stated, tips=(*TIPS, Tip("s", percent=Fraction(10))))
        one = {"s": kept(reckon(stated), "s")}
        yield f"{mode} {split} stated, one settled", replace(stated, settled=one)
        paid = (Payment("p", "cash", 1000, tendered=2000), Payment("q", "card", 500, 70), Payment("q", "voucher", 1))
        yield f"{mode} {split} paid", replace(plain, payments=paid, tips=TIPS)
        yield f"{mode} {split} one payer", replace(plain, payers=())
        for chosen in ({"p": Share.EVEN}, {"p": Share.PROPORTIONAL, "q": Share.EVEN}, dict.fromkeys("pqr", Share.EVEN)):
            words = "+".join(f"{who} {share}" for who, share in chosen.items())
            yield f"{mode} {split} fees {words}", replace(plain, fees=chosen)
            then = {"q": kept(reckon(replace(plain, fees=chosen)), "q")} if split == Split.SHARES else {}
            yield f"{mode} {split} fees {words}, q settled", replace(plain, fees=chosen, settled=then)
    free = tuple(replace(line, adjustments=(FREE,)) for line in LINES)
    yield "all for nothing", replace(WHOLE, lines=free, discounts=(), charges=(Charge("fee", amount=90),))
    yield "no lines", replace(WHOLE, lines=(), discounts=(), charges=())
    yield (
        "by amounts",
        replace(
            WHOLE,
            split=Split.AMOUNTS,
            payers=(Payer("x", amount=1500), Payer("y", amount=reckon(WHOLE).total - 1500)),
            tips=(Tip("x", percent=Fraction(10), basis="total"),),
        ),
    )


def as_json(ticket: Ticket) -> Any:
    """A bill with all its parts; where it is refused, with what."""
    try:
        return json.loads(json.dumps(asdict(reckon(ticket)), default=str))
    except Refused as refusal:
        return [str(refusal.code), refusal.where]


def test_whole_bills_are_as_they_were() -> None:
    golden = json.loads(GOLDEN.read_text("utf-8"))
    now = {name: as_json(ticket) for name, ticket in tickets()}
    assert now.keys() == golden.keys()
    for name, bill in now.items():
        assert bill == golden[name], name


def test_every_golden_bill_adds_up() -> None:
    for name, ticket in tickets():
        bill = as_json(ticket)
        if isinstance(bill, dict):
            assert sum(payer["account"]["total"] for payer in bill["payers"]) == bill["total"], name


if __name__ == "__main__":
    made = {name: as_json(ticket) for name, ticket in tickets()}
    lines = [f"{json.dumps(name)}: {json.dumps(bill, separators=(',', ':'))}" for name, bill in made.items()]
    GOLDEN.write_text("{\n" + ",\n".join(lines) + "\n}\n", "utf-8")
    sys.exit(0)
