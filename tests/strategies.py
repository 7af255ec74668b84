"""What hypothesis draws from: tables of shares and whole tickets as the command's JSON."""

from __future__ import annotations

from typing import Any

from hypothesis import strategies as st

from abrazo.core.sharing import Row


@st.composite
def tables(draw: st.DrawFn, rows: int = 8, columns: int = 6, top: int = 5000) -> tuple[list[Row], int]:
    """Rows of an amount and weights, dense or sparse, and their number of columns."""
    width = draw(st.integers(1, columns))
    weight = draw(st.sampled_from([st.integers(0, 1), st.integers(0, 3), st.integers(0, 1000)]))
    weights = st.lists(weight, min_size=width, max_size=width).filter(any)
    row = st.builds(lambda amount, w: Row(amount, tuple(w)), st.integers(0, top), weights)
    return draw(st.lists(row, max_size=rows)), width


def money(top: int = 50_000) -> st.SearchStrategy[str]:
    return st.integers(0, top).map(lambda cents: f"{cents // 100}.{cents % 100:02d}")


percents = st.integers(0, 1000).map(lambda tenths: f"{tenths // 10}.{tenths % 10}")
part = st.one_of(st.fixed_dictionaries({"percent": percents}), st.fixed_dictionaries({"amount": money(3000)}))


@st.composite
def tickets(draw: st.DrawFn) -> dict[str, Any]:
    """A valid ticket in shares or equal parts, with adjustments, discounts, charges and tips."""
    guests = [f"g{i}" for i in range(draw(st.integers(1, 5)))]
    taxes = [{"id": "std", "rate": "0.20"}, {"id": "low", "rate": "0.0825"}]
    tax = st.sampled_from([None, "std", "low"])
    adjust = st.tuples(st.sampled_from(["benefit", "discount", "surcharge"]), part).map(
        lambda p: {"kind": p[0], **p[1]}
    )
    lines = []
    for i in range(draw(st.integers(0, 7))):
        shares = draw(
            st.dictionaries(st.sampled_from(guests), st.integers(0, 3)).filter(lambda s: not s or any(s.values()))
        )
        lines.append(
            {
                "id": f"l{i}",
                "unit_price": draw(money()),
                "quantity": draw(st.sampled_from(["1", "2", "0.5", "1.375"])),
                "tax": draw(tax),
                "staff": draw(st.sampled_from([None, "tamsin", "jory"])),
                "adjustments": draw(st.lists(adjust, max_size=2)),
                "discountable": draw(st.booleans()),
                "shares": shares,
            }
        )
    charges = [
        {"id": f"c{i}", "tax": draw(tax), "share": draw(st.sampled_from(["even", "proportional"])), **draw(part)}
        for i in range(draw(st.integers(0, 2)))
    ]
    discount = st.tuples(part, st.sampled_from(["one", "all"])).map(lambda p: {**p[0], "stack": p[1]})
    return {
        "currency": "EUR",
        "tax_mode": draw(st.sampled_from(["inclusive", "exclusive"])),
        "cash_rounding": draw(st.sampled_from([1, 5, 10])),
        "split": draw(st.sampled_from(["shares", "equal"])),
        "taxes": taxes,
        "guests": [{"id": guest} for guest in guests],
        "lines": lines,
        "discounts": draw(st.lists(discount, max_size=2)),
        "charges": charges,
        "tips": [{"payer": draw(st.sampled_from(guests)), **draw(part)} for _ in range(draw(st.integers(0, 3)))],
    }
