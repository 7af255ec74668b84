"""Forms: customer."""

from __future__ import annotations

from typing import Literal

from abrazo.web.forms.base import Form, Id, Key, MaybeId, Text


class Put(Form):
    """Somebody known, somebody new, or nobody after all."""

    version: Id
    key: Key
    q: Text = ""
    how: Literal["", "new"] = ""
    person: MaybeId = 0
    name: Text = ""
    phone: Text = ""


class Sale(Form):
    """A sale for somebody, from their sheet."""

    key: Key
