"""Forms: floor."""

from __future__ import annotations

from typing import Literal

from abrazo.web.forms.base import Form, Key, MaybeId, Text


class Change(Form):
    """Keep what was typed or dragged, or turn, add, remove."""

    key: Key
    spot: Text = ""
    what: Literal["keep", "add", "turn", "remove"] = "keep"
    area: Text = ""
    name: Text = ""
    x: Text = ""
    y: Text = ""
    width: Text = ""
    height: Text = ""
    seats: Text = ""
    shape: Text = ""
    seen: MaybeId = 0
