"""The catalogues: English is what stands in the code; another language is one file `LANGUAGE.po` in this folder.

A language that has no more than what customers read stands in the folder `papers`: it can be a person's, no house's.
"""

from __future__ import annotations

import functools
import io
from collections.abc import Iterable
from gettext import GNUTranslations, NullTranslations
from importlib import resources
from importlib.resources.abc import Traversable

from babel import Locale
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po

Catalogue = NullTranslations
FOLDER: Traversable = resources.files("abrazo.words") / "languages"
PAPERS: Traversable = FOLDER / "papers"


def languages() -> tuple[str, ...]:
    """The languages that there are, English first."""
    return ("en", *_in(FOLDER))


def paper_languages() -> tuple[str, ...]:
    """Those of papers and messages: all of these, and the ones that have no more than these."""
    return (*languages(), *(one for one in _in(PAPERS) if one not in languages()))


def _in(folder: Traversable) -> list[str]:
    return sorted(one.name.removesuffix(".po") for one in folder.iterdir() if one.name.endswith(".po"))


def language_names(some: Iterable[str]) -> dict[str, str]:
    """Languages, each by its own name (CLDR)."""
    return {one: Locale.parse(one, sep="-").get_display_name(one) or one for one in some}


@functools.lru_cache(maxsize=32)
def catalogue(language: str) -> Catalogue:
    """The texts of a language; English for one that there is not."""
    for folder in (FOLDER, PAPERS):
        if language in _in(folder):
            return compiled((folder / f"{language}.po").read_bytes())
    return NullTranslations()


def compiled(po: bytes) -> Catalogue:
    """The texts of a PO file (GNU gettext)."""
    made = io.BytesIO()
    write_mo(made, read_po(io.BytesIO(po)))
    made.seek(0)
    return GNUTranslations(made)
