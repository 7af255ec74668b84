"""Texts of templates: what is found, and that a page in another language differs in nothing but its texts."""

from __future__ import annotations

import re

import pytest
from jinja2 import Environment

from abrazo.web.pages import sources
from abrazo.words.markup import marked, marked_plurals, texts, translated

PAGES = sources()


@pytest.mark.parametrize(
    ("source", "messages"),
    [
        ("<b>Take {{ money(due) }} cash</b>", ["Take {due} cash"]),
        ("<b>{{ money(a.due) }} of {{ money(b.due) }}, {{ money(a.due) }}</b>", ["{due} of {due_2}, {due}"]),
        ("<p>Due{% if late %}, late{% endif %} <i>today</i></p>", ["Due", ", late", "today"]),
        ("<input placeholder='Find {{ what }}' class='Find' value='Find'>", ["Find {what}"]),
        ("{{ icon('x') }}\n  Back \n to  Today", ["Back to Today"]),
        ("<b>{{ sum }}</b> · 12 &nbsp;", []),
        ("{# a note #}{% set x = 'not read' %}", []),
    ],
)
def test_messages_of_a_template(source: str, messages: list[str]) -> None:
    assert [one.message for one in texts(source)] == messages


def test_marked_literals() -> None:
    source = (
        """{{ _("paid") if x else _('due on {day}', day=d) }}{% set y = _n("{n} guest", "{n} guests", "n", n=2) %}"""
    )
    assert list(marked(source)) == ["paid", "due on {day}"]
    assert list(marked_plurals(source)) == [("{n} guest", "{n} guests")]


def test_words_may_change_their_order() -> None:
    said = {"Take {due} of {name}": "Von {name} {due} nehmen"}
    source = "<b> Take {{ money(due) }} of {{ p.name }}</b>"
    assert translated(source, lambda one: said.get(one, one)) == "<b> Von {{ p.name }} {{ money(due) }} nehmen</b>"


@pytest.mark.parametrize("name", sorted(PAGES))
def test_every_page_can_be_written_in_another_language(name: str) -> None:
    """All words in capitals: what is no text stays to the letter, the template is still one, no text is left out."""
    source = PAGES[name]
    assert translated(source, lambda one: one) == source
    loud = translated(source, shout)
    Environment(autoescape=True).parse(loud)
    assert [one.message for one in texts(loud)] == [shout(one.message) for one in texts(source)]
    assert _without_space(loud).lower() == _without_space(source).lower()


def shout(message: str) -> str:
    """In capitals, but for its placeholders."""
    return re.sub(r"(\{\w+\})|([^{}]+)", lambda part: part[1] or part[2].upper(), message)


def _without_space(source: str) -> str:
    return re.sub(r"\s+", "", source)
