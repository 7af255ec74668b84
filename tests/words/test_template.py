"""A language is one file: begun from the template, and every sentence then comes from it."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from babel.messages.pofile import read_po, write_po

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.web.pages import sources
from abrazo.words import catalogue, speaking
from abrazo.words.entries import ENTRIES, entry_text
from abrazo.words.refusals import REFUSALS, refusal_text
from abrazo.words.speaking import Plural, Reader
from abrazo.words.template import template

POT = Path(catalogue.__file__).parent / "languages" / "abrazo.pot"


@pytest.fixture
def made_up(monkeypatch: pytest.MonkeyPatch) -> Reader:
    """A reader of a language in which every sentence stands in brackets."""
    catalog = read_po(io.BytesIO(template(sources()).encode()))
    for message in catalog:
        if message.id:
            ids = message.id if isinstance(message.id, tuple | list) else None
            message.string = tuple(f"[{one}]" for one in ids) if ids else f"[{message.id}]"
    out = io.BytesIO()
    write_po(out, catalog)
    texts = catalogue.compiled(out.getvalue())
    monkeypatch.setattr(speaking, "catalogue", lambda language: texts)
    return Reader(language="en")


def test_the_template_is_of_today() -> None:
    assert POT.read_text("utf-8") == template(sources()), "run `make words`"


def test_every_sentence_comes_from_the_catalogue(made_up: Reader) -> None:
    for code in REFUSALS:
        facts = {"left": 2} if isinstance(REFUSALS[code], Plural) else {}
        assert refusal_text(made_up, Refused(code, **facts)).startswith("["), code
    for kind in ENTRIES:
        assert entry_text(made_up, kind, {}).startswith("["), kind
    assert entry_text(made_up, Kind.JOB_STATE, {"name": "S-7", "state": "in work"}) == "[S-7 is [in work]]"
    assert refusal_text(made_up, Refused(Code.NO_DAY)).startswith("[No day is open.")
