"""Forms: prep."""

from __future__ import annotations

from typing import Literal

from abrazo.web.forms.base import Form, Id, Ids, Key, Text


class Send(Form):
    """Send what was not sent yet: all of it, or the lines of a course."""

    version: Id
    key: Key
    bill: Text = ""
    lines: Ids = ()


class Mark(Form):
    """Done, or called back."""

    what: Literal["done", "recall"]


class SetSending(Form):
    """Whether lines come at once or when they are sent."""

    how: Text = ""
