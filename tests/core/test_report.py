"""The report of days: what it adds up, for all tills or one, and how it is drawn."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.figures import FigureKind
from abrazo.core.report import DayFigures, Exceptional, Sum, average, bar_widths, report

SUMS = st.lists(
    st.builds(
        Sum,
        st.sampled_from(["sale", "tender", "ticket", "tax"]),
        st.sampled_from(["food", "bar", "shop"]),
        st.sampled_from(["", "pie", "tea"]),
        st.sampled_from(["galley", "landing"]),
        st.integers(0, 23),
        st.integers(-3, 9),
        st.integers(-5000, 9000),
        st.integers(0, 9000),
    ),
    max_size=30,
)


def day(sums: list[Sum], before: int = 0, after: int = 0, date: str = "2026-06-13") -> DayFigures:
    looked_at = (Exceptional("refunded", "ada", "galley", 1, 250), Exceptional("refunded", "ada", "landing", 2, 100))
    who = ("then", "ada", "", "")
    return DayFigures(date, *who, "", "", before, after, False, (), tuple(sums), (), (), looked_at)


@given(SUMS, SUMS)
def test_days_and_tills_add_up(first: list[Sum], second: list[Sum]) -> None:
    whole = report([day(first, 0, 7), day(second, 7, -5, "2026-06-14")])
    for kind in FigureKind:
        assert whole.amount(kind) == sum(one.amount for one in first + second if one.kind == kind)
        by_till = [report([day(first), day(second)], till).amount(kind) for till in ("galley", "landing")]
        assert sum(by_till) == whole.amount(kind)
    assert (whole.open_before, whole.open_after) == (0, -5)
    sold = [one.amount for one in whole.groups]
    assert sum(one.tenths for one in whole.groups) == (1000 if any(amount > 0 for amount in sold) else 0)
    assert [one.name for one in whole.hours] == sorted(one.name for one in whole.hours)
    assert [(one.count, one.amount) for one in whole.exceptions] == [(6, 700)]
    assert whole.difference == whole.amount(FigureKind.SALE) - whole.amount(FigureKind.TENDER) + 5


def test_one_tills_exceptions() -> None:
    (one,) = report([day([])], "landing").exceptions
    assert (one.count, one.amount) == (2, 100)


def test_bars_and_averages() -> None:
    assert bar_widths([50, 200, 0, -20, 1]) == [250, 1000, 0, 0, 5]
    assert (bar_widths([]), bar_widths([0, -5]), bar_widths([3, 3], 100)) == ([], [0, 0], [100, 100])
    assert (average(1000, 3), average(1001, 2), average(7, 0), average(-5, 2)) == (333, 501, 0, -3)
