"""Forms: customer."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel

from abrazo.web.forms.base import Form, Id, Key, MaybeId, Text

Pane = Literal["", "pick", "lines", "share", "pay"]


class AskedWhose(BaseModel):
    """Which people are looked for, and the pane of the ticket to which it goes back."""

    q: str | None = None
    view: Pane = ""
    payer: int = 0
    item: str = ""  # that is sold to somebody: it comes onto the ticket with them


class Put(Form):
    """Somebody known, somebody new, or nobody after all."""

    version: Id
    key: Key
    q: Text = ""
    how: Literal["", "new"] = ""
    person: MaybeId = 0
    name: Text = ""
    phone: Text = ""
    another: Text = ""  # somebody else with a phone that is known
    view: Pane = ""
    payer: MaybeId = 0
    item: Text = ""


class Sale(Form):
    """A sale for somebody, from their sheet; with an item that is sold to them."""

    key: Key
    item: Text = ""
