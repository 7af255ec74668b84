"""The floor plan: boxes around tables."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.floor import HEIGHT, WIDTH, around

TABLES = st.tuples(st.integers(0, 720), st.integers(0, 564), st.integers(60, 100), st.integers(60, 100))


@given(st.lists(TABLES, min_size=1, max_size=20))
def test_a_box_holds_its_tables_and_stays_on_the_plan(tables: list[tuple[int, int, int, int]]) -> None:
    x, y, width, height = around(tables)
    assert x >= 0 <= y and x + width <= WIDTH and y + height <= HEIGHT
    for left, top, wide, high in tables:
        assert x <= left and left + wide <= x + width and y <= top and top + high <= y + height
