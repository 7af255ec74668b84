"""Every kind of entry has its sentence, and gets the facts that it names."""

from __future__ import annotations

import ast
import functools
import re
from collections import defaultdict
from pathlib import Path
from zoneinfo import ZoneInfo

import pytest

import abrazo
from abrazo.core.journal import FORMER, Kind
from abrazo.core.money import Currency
from abrazo.words import phrases
from abrazo.words.catalogue import compiled
from abrazo.words.entries import ENTRIES, entry_text
from abrazo.words.speaking import Reader, placeholders

READER = Reader(Currency.of("EUR"), ZoneInfo("Europe/Dublin"), {"odile": "Odile Marsh"}, {"bar": "Bar"})
SPREAD = {"about(": {"line", "item", "quantity", "text"}, "_about(": {"given", "percent", "amount", "reason"}}


SOURCES = [one for one in Path(abrazo.__file__).parent.rglob("*.py") if "words" not in one.parts]


@functools.cache
def given_facts() -> dict[str, set[str]]:
    """The facts with which each kind is written somewhere in the product, by reading its code."""
    found: dict[str, set[str]] = defaultdict(set)
    for file in SOURCES:
        for node in ast.walk(ast.parse(file.read_text("utf-8"))):
            if not isinstance(node, ast.Call):
                continue
            kinds = {part.attr for part in ast.walk(node) if isinstance(part, ast.Attribute)
                     and isinstance(part.value, ast.Name) and part.value.id == "Kind"}  # fmt: skip
            names = {word.arg for word in node.keywords if word.arg}
            for word in node.keywords:
                if word.arg is None:
                    text = ast.unparse(word.value)
                    names |= next((facts for start, facts in SPREAD.items() if text.startswith(start)), set())
            for kind in kinds:
                found[Kind[kind]] |= names
    return found


def test_every_kind_has_a_sentence_and_is_written() -> None:
    assert set(ENTRIES) == set(Kind)
    named = {name for file in SOURCES for name in re.findall(r"Kind\.([A-Z_]+)", file.read_text("utf-8"))}
    assert {kind.name for kind in Kind} - named == set()


# Written with a kind that is chosen before, or with facts that are put together before.
INDIRECT = {
    Kind.OVER, Kind.SHORT, Kind.TABLE_CHANGED, Kind.TABLE_TURNED, Kind.HOLD_RELEASED, Kind.HOLD_USED, Kind.PAPER_SENT_AGAIN,
    Kind.PAPER_WENT_OUT, Kind.POINTS_EARNED, Kind.POINTS_TAKEN_BACK, Kind.BENEFIT_SAVED, Kind.BENEFIT_USED,
    Kind.DEPOSIT_APPLIED, Kind.DEPOSIT_LIFTED, Kind.CARD_STOP_ASKED, Kind.CARD_ASKED_AGAIN, Kind.MEMBERSHIP_GIVEN,
    Kind.DEPOSIT_RETURNED, Kind.BOOKED, Kind.PAID_OUT, Kind.PAID_IN, Kind.SPENT_OUTSIDE,
}  # fmt: skip


@pytest.mark.parametrize("kind", sorted(set(Kind) - INDIRECT - FORMER))
def test_sentences_name_facts_that_are_given(kind: Kind) -> None:
    assert set().union(*map(placeholders, ENTRIES[kind])) <= given_facts()[kind]


def test_amounts_times_names_and_codes_are_written_for_a_reader() -> None:
    facts = {"text": "2 × Soup", "reason": "spilt", "lender": "odile"}
    assert entry_text(READER, Kind.LINE_REMOVED, facts) == "Removed 2 × Soup: spilt, allowed by Odile Marsh"
    assert entry_text(READER, Kind.OVER, {"of_till": "bar", "amount": 1250}) == "Till Bar over by €12.50"
    when = {"name": "Ada", "service": "Fitting", "starts": "2026-06-13T14:20:00Z"}
    assert entry_text(READER, Kind.BOOKED, when) == "Booked Fitting for Ada, Sat 13 Jun 2026 15:20"
    assert entry_text(READER, Kind.JOB_STATE, {"name": "J-7", "state": "in work"}) == "J-7 is in work"
    assert entry_text(READER, Kind.GUEST_NAMED, {"guest": "B"}) == "B has no name"


def test_what_was_erased_leaves_a_gap_and_no_fault() -> None:
    assert entry_text(READER, Kind.PERSON_ADDED, {"customer": 4}) == "Added … to people"
    assert entry_text(READER, Kind.TILL_JOINED, {}) == "Till … joined the day with …"


def test_another_language_is_one_file() -> None:
    texts = compiled('msgid ""\nmsgstr "Content-Type: text/plain; charset=utf-8\\n"\n\n'
                     'msgid "Added {name} to people"\nmsgstr "{name} añadida"\n'.encode())  # fmt: skip
    assert texts.gettext("Added {name} to people").format(name="Ada") == "Ada añadida"


def test_no_phrase_is_said_twice() -> None:
    """A second one of a name would speak in place of the first."""
    tree = ast.parse(Path(phrases.__file__).read_text("utf-8"))
    names = [
        one.id
        for node in tree.body
        if isinstance(node, ast.Assign)
        for one in node.targets
        if isinstance(one, ast.Name)
    ]
    assert len(names) == len(set(names))
