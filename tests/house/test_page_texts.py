"""What people read in a template is in the catalogue: found by itself, or marked."""

from __future__ import annotations

import pytest

from abrazo.web.pages import sources
from tests.house.template_words import reckoned, unmarked

PAGES = sources()


@pytest.mark.parametrize("name", sorted(PAGES))
def test_no_literal_that_is_read_is_unmarked(name: str) -> None:
    assert unmarked(PAGES[name]) == []


@pytest.mark.parametrize(
    ("source", "found"),
    [
        ("<p>{{ 'paid' if done else 'open to all' }}</p>", ["paid", "open to all", "open to all"]),
        ("<p>{{ _('paid') if done else count ~ ' left' }}</p>", [" left"]),
        ("<a title=\"{{ x or 'nobody' }}\" class=\"{{ 'late' if x }}\">", ["nobody"]),
        ("{% set words = 'To be paid' %}", ["To be paid"]),
        ("{% call form('/x', 'row wraps', attributes={'aria-label': 'The sum'}) %}{% endcall %}", ["The sum"]),
        ("{% if state == 'To be paid' %}{{ _('x', name='of Ada') }}{% endif %}", ["of Ada"]),
    ],
)
def test_what_the_search_finds(source: str, found: list[str]) -> None:
    assert unmarked(source) == found


@pytest.mark.parametrize("name", sorted(PAGES))
def test_a_template_prints_amounts_and_works_none_out(name: str) -> None:
    assert reckoned(PAGES[name]) == []


@pytest.mark.parametrize(
    ("source", "number"),
    [
        ("{{ money(a - b) }}", 1),
        ("{{ money(a) }} {{ money(-b) }}", 0),
        ("{{ _('{left:money} of {n}', left=a // 2, n=b + 1) }}", 1),
        ("{% set x = cards|sum(attribute='total') %}", 1),
        ("{{ plain([a, b]|min) }}", 1),
    ],
)
def test_what_the_search_for_sums_finds(source: str, number: int) -> None:
    assert len(reckoned(source)) == number


def test_no_template_is_longer_than_a_screen_or_two() -> None:
    assert {name: source.count("\n") for name, source in PAGES.items() if source.count("\n") > 100} == {}
