"""Forms: stock."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Key, Text


class Count(Form):
    """How many of an item are there now, and why it was counted."""

    key: Key
    item: Text = ""
    counted: Text = ""
    reason: Text = "recount"
