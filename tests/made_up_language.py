"""A language of which every text is the English one, changed: as a translator's file would have it."""

from __future__ import annotations

import io
from collections.abc import Callable
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.pofile import read_po, write_po

from abrazo.web.pages import sources
from abrazo.words.template import template


def written(folder: Path, say: Callable[[str], str]) -> Catalog:
    """Write `eo.po` into a new folder; gives what stands in it."""
    catalog = read_po(io.BytesIO(template(sources()).encode()))
    for message in catalog:
        if message.id:
            several = isinstance(message.id, tuple | list)
            message.string = tuple(map(say, message.id)) if several else say(str(message.id))
    out = io.BytesIO()
    write_po(out, catalog)
    folder.mkdir()
    (folder / "eo.po").write_bytes(out.getvalue())
    return catalog
