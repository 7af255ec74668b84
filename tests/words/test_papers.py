"""A language that customers read says all of their papers and messages, with the same facts."""

from __future__ import annotations

import ast
import inspect
from collections.abc import Callable
from types import ModuleType

import pytest

from abrazo.desk.doors import courses, jobs
from abrazo.desk.output import reminders, statements
from abrazo.desk.output.views import receipt, refund_slip
from abrazo.desk.tickets import naming
from abrazo.formats import job_text, receipt_files, receipt_text
from abrazo.formats import refund_slip as slip_text
from abrazo.words import phrases
from abrazo.words.catalogue import catalogue, languages, paper_languages
from abrazo.words.speaking import placeholders

SAID_BY: tuple[ModuleType | Callable[..., None], ...] = (
    *(receipt_text, receipt_files, job_text, slip_text, receipt, refund_slip, statements, reminders, naming),
    *(jobs.tell_ready, courses._tell_off),
)
STAFF_READ = {"TAG_FOR"}
BALANCES = ("OWES_NOW", "OWES_NOTHING", "PAID_AHEAD")  # chosen by payments/views/settlement.py


def read_by_customers() -> dict[str, str]:
    found = dict[str, str]()
    for one in SAID_BY:
        for node in ast.walk(ast.parse(inspect.getsource(one))):
            if isinstance(node, ast.Attribute) and isinstance(node.value, ast.Name) and node.value.id == "w":
                found[node.attr] = getattr(phrases, node.attr)
    found |= {name: getattr(phrases, name) for name in BALANCES}
    return {name: sentence for name, sentence in found.items() if name not in STAFF_READ}


@pytest.mark.parametrize("language", [one for one in paper_languages() if one != "en"])
def test_all_that_customers_read_is_there(language: str) -> None:
    texts, wanted = catalogue(language), read_by_customers()
    assert len(wanted) > 60
    kept = {name for name, sentence in wanted.items() if texts.gettext(sentence) == sentence}
    assert not kept
    for sentence in wanted.values():
        assert placeholders(texts.gettext(sentence)) == placeholders(sentence)


def test_a_house_speaks_no_language_of_papers_alone() -> None:
    assert set(languages()) < set(paper_languages())
