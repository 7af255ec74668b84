"""Forms: hire."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from abrazo.web.forms.base import Form, Id, Key, MaybeId, Secret, Text


class AskedHire(BaseModel):
    """For whom something is hired out, as it is looked for."""

    q: str = ""


class AskedOnTicket(BaseModel):
    """What is to be hired on a ticket: one item or all, from when."""

    item: str = ""
    date: str = ""
    time: str = ""


class For(Form):
    """Something is hired out to somebody known."""

    key: Key
    person: Id


class Add(Form):
    """A unit for so long, secured by a card."""

    model_config = ConfigDict(extra="allow")

    version: Id
    key: Key
    tariff: Text = ""
    item: Text = ""
    card: MaybeId = 0
    email: Text = ""
    date: Text = ""
    time: Text = ""


class StoreCard(Form):
    """The payment service keeps a card of the ticket's customer; it secures what is hired."""

    key: Key
    item: Text = ""
    number: Secret = ""
    expiry: Text = ""
    code: Secret = ""


class TakeBack(Form):
    """A unit comes back."""

    key: Key
    note: Text = ""
    damage: Text = ""
    lost: Text = ""
    sure: Text = ""  # what was shown that it costs, in minor units
