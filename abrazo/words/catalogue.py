"""The catalogues: English is what stands in the code; another language is one file `LANGUAGE.po` in this folder."""

from __future__ import annotations

import functools
import io
from gettext import GNUTranslations, NullTranslations
from importlib import resources
from importlib.resources.abc import Traversable

from babel import Locale
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po

Catalogue = NullTranslations
FOLDER: Traversable = resources.files("abrazo.words") / "languages"


def languages() -> tuple[str, ...]:
    """The languages that there are, English first."""
    names = (one.name for one in FOLDER.iterdir() if one.name.endswith(".po"))
    return ("en", *sorted(name.removesuffix(".po") for name in names))


def language_names() -> dict[str, str]:
    """Each language by its own name (CLDR)."""
    return {one: Locale.parse(one, sep="-").get_display_name(one) or one for one in languages()}


@functools.lru_cache(maxsize=32)
def catalogue(language: str) -> Catalogue:
    """The texts of a language; English for one that there is not."""
    if language == "en" or language not in languages():
        return NullTranslations()
    return compiled((FOLDER / f"{language}.po").read_bytes())


def compiled(po: bytes) -> Catalogue:
    """The texts of a PO file (GNU gettext)."""
    made = io.BytesIO()
    write_mo(made, read_po(io.BytesIO(po)))
    made.seek(0)
    return GNUTranslations(made)
