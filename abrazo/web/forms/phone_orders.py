"""Forms: phone_orders."""

from __future__ import annotations

from pydantic import BaseModel

from abrazo.web.forms.base import Form, Key, MaybeId, Text


class Take(Form):
    """Open the order's ticket, or make an order of a sale."""

    key: Key
    person: MaybeId = 0
    ticket: MaybeId = 0
    version: MaybeId = 0
    name: Text = ""
    way: Text = ""
    guests: Text = ""
    phone: Text = ""
    address: Text = ""
    directions: Text = ""
    promised: Text = ""
    fee: Text = ""


class AskedOrder(BaseModel):
    """What the form begins with: what is known of who orders, or the sale that becomes an order."""

    name: str = ""
    phone: str = ""
    person: int = 0
    ticket: int = 0
