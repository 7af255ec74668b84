"""Sharing: sums are exact, nobody is a whole unit off, and the table is the best there is."""

from __future__ import annotations

from fractions import Fraction
from math import floor
from typing import Any

import networkx as nx
import pytest
from apportionment.methods import compute
from hypothesis import assume, example, given
from hypothesis import strategies as st

from abrazo.core.sharing import Row, apportion, exact_columns, round_table, whole_weights
from tests.strategies import tables


@given(st.integers(0, 100_000), st.lists(st.integers(0, 500), min_size=1, max_size=9).filter(any))
def test_apportion_adds_up_and_stays_within_one(total: int, weights: list[int]) -> None:
    parts = apportion(total, weights)
    assert sum(parts) == total
    for part, weight in zip(parts, weights, strict=True):
        assert abs(part - Fraction(total * weight, sum(weights))) < 1
        assert weight or part == 0


@given(st.integers(1, 500), st.lists(st.integers(1, 60), min_size=2, max_size=7))
def test_apportion_against_a_general_library(total: int, weights: list[int]) -> None:
    """Outside: the library `apportionment`, method largest remainder; ties at the cut-off differ between libraries."""
    remainders = sorted((total * weight % sum(weights) for weight in weights), reverse=True)
    ups = total - sum(total * weight // sum(weights) for weight in weights)
    assume(not ups or remainders[ups - 1] != remainders[ups])
    assert list(apportion(total, weights)) == compute("hamilton", weights, total, verbose=False)


def test_apportion_ties_to_the_earlier() -> None:
    assert apportion(100_00, [1, 1, 1]) == (3334, 3333, 3333)
    assert apportion(1, [1, 1, 1]) == (1, 0, 0)


def test_apportion_by_nothing() -> None:
    assert apportion(0, [0, 0]) == (0, 0)
    with pytest.raises(ValueError, match="all weights are 0"):
        apportion(1, [0, 0])


@given(tables())
@example(([Row(2100, (1, 0, 1, 1)), Row(450, (1, 0, 1, 1)), Row(1, (1, 1, 1, 1))], 4))
def test_table_is_a_controlled_rounding(drawn: tuple[list[Row], int]) -> None:
    rows, columns = drawn
    table = round_table(rows, columns)
    exact = exact_columns(rows, columns)
    for row, cells in zip(rows, table.cells, strict=True):
        assert sum(cells) == row.amount
        for cell, weight in zip(cells, row.weights, strict=True):
            value = Fraction(row.amount * weight, sum(row.weights))
            assert cell in (floor(value), -floor(-value))
    for j, total in enumerate(table.totals):
        assert total == sum(cells[j] for cells in table.cells)
        assert total in (floor(exact[j]), -floor(-exact[j]))


def least_cost(rows: list[Row], columns: int) -> Fraction:
    """Outside: networkx's network simplex finds the least sum of squares that any controlled rounding reaches."""
    exact = exact_columns(rows, columns)
    scale = whole_weights([*exact, 1])[-1]
    graph = nx.DiGraph()
    needed, wanted = 0, [floor(value) for value in exact]
    for i, row in enumerate(rows):
        base = sum(row.weights)
        floors = [row.amount * weight // base for weight in row.weights]
        graph.add_node(("row", i), demand=-(row.amount - sum(floors)))
        needed += row.amount - sum(floors)
        for j, weight in enumerate(row.weights):
            wanted[j] -= floors[j]
            if row.amount * weight % base:
                graph.add_edge(("row", i), ("column", j), capacity=1, weight=0)
    for j, value in enumerate(exact):
        graph.add_node(("column", j), demand=wanted[j])
        if value.denominator > 1:
            fraction = value - floor(value)
            graph.add_edge(("column", j), "spare", capacity=1, weight=int((1 - 2 * fraction) * scale))
    graph.add_node("spare", demand=needed - sum(wanted))
    cost, _ = nx.network_simplex(graph)
    return Fraction(cost, scale) + sum((value - floor(value)) ** 2 for value in exact)


blocks = st.lists(st.tuples(st.integers(1, 40), st.integers(0, 4), st.integers(0, 4), st.booleans()), max_size=9)


@given(st.one_of(tables(rows=7, columns=5, top=30), blocks))
def test_totals_are_the_best_against_a_flow_solver(drawn: Any) -> None:
    """On sparse block tables too, where plain rounding of the totals is often not feasible."""
    if isinstance(drawn, tuple):
        rows, columns = drawn
    else:
        columns = 5
        rows = [Row(a, tuple(int(k in (i, j) or (w and k == 2)) for k in range(5))) for a, i, j, w in drawn]
    table, exact = round_table(rows, columns), exact_columns(rows, columns)
    assert sum((total - value) ** 2 for total, value in zip(table.totals, exact, strict=True)) == least_cost(
        rows, columns
    )


def test_ties_favour_earlier_payers() -> None:
    assert round_table([Row(10_00, (1, 1, 1))], 3).totals == (334, 333, 333)
    assert round_table([Row(5, (0, 1, 1)), Row(5, (1, 1, 0))], 3).totals == (3, 5, 2)
