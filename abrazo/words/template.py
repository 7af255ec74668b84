"""The template from which the catalogue of another language begins: every sentence of this package (GNU gettext, POT)."""

from __future__ import annotations

import io
from collections.abc import Iterator, Mapping
from datetime import UTC, datetime

from babel.messages.catalog import Catalog
from babel.messages.pofile import write_po

from abrazo.words import causes, entries, markup, phrases, refusals, set_up, speaking
from abrazo.words.speaking import Plural
from abrazo.words.states import STATES

PROJECT = "Abrazo"
ALWAYS = datetime(2026, 1, 1, tzinfo=UTC)  # the template is the same whenever it is written


def sentences() -> Iterator[tuple[str | Plural, str]]:
    """Every sentence, with what it is for."""
    for kind, ways in entries.ENTRIES.items():
        yield from ((way, f"journal: {kind}") for way in ways)
    yield from (
        (sentence, "journal, with a reason or a lender") for sentence in (entries.WITH_REASON, entries.WITH_LENDER)
    )
    yield from ((sentence, f"refused: {code}") for code, sentence in refusals.REFUSALS.items())
    yield from ((sentence, "an entry of a file") for sentence in (refusals.ENTRY, refusals.NAMELESS_ENTRY))
    yield from ((sentence, f"matching: {cause}") for cause, sentence in causes.CAUSES.items())
    yield from ((sentence, "gift card or voucher") for sentence in causes.MOVES.values())
    yield from ((word, f"code: {code}") for code, word in speaking.CODES.items())
    yield from ((state, "a state, kind or step") for state in STATES)
    yield from ((phrase, "desk") for phrase in phrases.phrases())
    yield from ((text, "set-up") for text in set_up.texts())


def texts_of_pages(pages: Mapping[str, str]) -> Iterator[tuple[str | Plural, str]]:
    """Every text of templates, given as their source by name, with where it stands."""
    for name, source in pages.items():
        yield from ((one.message, f"page: {name}") for one in markup.texts(source))
        yield from ((one, f"page: {name}") for one in markup.marked(source))
        yield from ((Plural(one, many, ""), f"page: {name}") for one, many in markup.marked_plurals(source))


def template(pages: Mapping[str, str]) -> str:
    """The template as text: all sentences, and the texts of these pages."""
    catalog = Catalog(project=PROJECT, charset="utf-8", fuzzy=False, creation_date=ALWAYS, revision_date=ALWAYS)
    catalog.header_comment = "# Sentences of Abrazo. Placeholders in braces stay as they are."
    for sentence, about in [*sentences(), *texts_of_pages(pages)]:
        if isinstance(sentence, Plural):
            catalog.add((sentence.one, sentence.many), auto_comments=[about])
        else:
            catalog.add(sentence, auto_comments=[about])
    out = io.BytesIO()
    write_po(out, catalog, width=0, sort_output=True)
    return out.getvalue().decode()
