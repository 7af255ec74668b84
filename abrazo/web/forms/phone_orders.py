"""Forms: phone_orders."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Key, MaybeId, Text


class Take(Form):
    """Open the order's ticket."""

    key: Key
    person: MaybeId = 0
    name: Text = ""
    way: Text = ""
    guests: Text = ""
    phone: Text = ""
    address: Text = ""
    directions: Text = ""
    promised: Text = ""
    fee: Text = ""
