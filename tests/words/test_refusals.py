"""Every code has its sentence, and gets the facts that it names."""

from __future__ import annotations

import ast
import re
from collections import defaultdict
from functools import cache
from pathlib import Path

import pytest

import abrazo
from abrazo.core.errors import BadEntry, Code, Refused
from abrazo.words.refusals import REFUSALS, bad_entry_text, refusal_text
from abrazo.words.speaking import Plural, placeholders
from tests.refusals import READER

SOURCES = [one for one in Path(abrazo.__file__).parent.rglob("*.py") if "words" not in one.parts]


@cache  # the whole source is read once, not for each code
def given_facts() -> dict[Code, list[set[str]]]:
    """The facts with which each code is raised, place by place, by reading the code."""
    found: dict[Code, list[set[str]]] = defaultdict(list)
    for file in SOURCES:
        for node in ast.walk(ast.parse(file.read_text("utf-8"))):
            if (
                isinstance(node, ast.Call)
                and isinstance(node.func, ast.Name)
                and node.func.id == "Refused"
                and node.args
            ):
                for code in re.findall(r"Code\.([A-Z0-9_]+)", ast.unparse(node.args[0])):
                    found[Code[code]].append({word.arg for word in node.keywords if word.arg})
    return found


def test_every_code_has_a_sentence_and_is_used() -> None:
    assert set(REFUSALS) == set(Code)
    used = {
        name
        for file in SOURCES
        if file.name != "errors.py"
        for name in re.findall(r"Code\.([A-Z0-9_]+)", file.read_text("utf-8"))
    }
    assert {code.name for code in Code} - used == set()


# Chosen by a condition just above their place; the facts are those of the sentence there.
CHOSEN = {
    Code.HOW_MANY_THERE,
    Code.HOW_MUCH_THERE,
    Code.CHOOSE_FIRST,
    Code.CHOOSE_MORE,
    Code.TWO_PAYERS,
    Code.NOBODY_PAYS,
}


@pytest.mark.parametrize("code", sorted(set(Code) - CHOSEN))
def test_sentences_name_facts_that_are_given(code: Code) -> None:
    sentence = REFUSALS[code]
    needed = placeholders(sentence.many) if isinstance(sentence, Plural) else placeholders(sentence)
    assert all(needed <= facts for facts in given_facts()[code])


def test_facts_are_written_for_a_reader() -> None:
    assert refusal_text(READER, Refused(Code.ABOVE_OWED, given=1000, due=980, payer="A")) == (
        "€10.00 is more than the €9.80 that A still owes."
    )
    assert [refusal_text(READER, Refused(Code.WRONG_PIN, left=left)) for left in (1, 4)] == [
        "That is not the PIN. 1 try left.", "That is not the PIN. 4 tries left.",
    ]  # fmt: skip
    locked = Refused(Code.TILL_LOCKED, till="Bar")
    assert refusal_text(READER, Refused(Code.STAYS_AT_COUNTER, why=locked)) == (
        "Till Bar is locked to counter mode. Somebody else moves it to a table."
    )
    both = Refused(
        Code.IN_THE_WAY, problems=(Refused(Code.NOT_COUNTED, till="Bar"), Refused(Code.CHARGES_OPEN, count=1))
    )
    assert refusal_text(READER, both).startswith("The drawer of till Bar is not counted yet. Charges")
    assert bad_entry_text(READER, BadEntry(3, "", Refused(Code.EVENT_UID))) == "Line 3, no name: it has no UID"


def test_a_refusal_says_its_code_and_facts_in_a_log() -> None:
    assert str(Refused(Code.NO_DAY)) == "no_day"
    assert str(Refused(Code.ABOVE_TIP, "tip", tip_left=5)) == "above_tip (tip_left=5)"
