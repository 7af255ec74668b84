"""Forms: adjustments."""

from __future__ import annotations

from typing import Literal

from abrazo.web.forms.base import Form, Id, Key, Lent, MaybeId, Text


class Give(Lent):
    """Give a preset with one touch, by its code, or a free one with a reason."""

    version: Id
    key: Key
    preset: Text = ""
    line: MaybeId = 0
    kind: Text = ""
    code: Text = ""
    percent: Text = ""
    amount: Text = ""
    reason: Text = ""
    price: Text = ""


class TakeOff(Form):
    """Take one off; a ticket discount off one line when a line is named."""

    version: Id
    given: Id
    line: MaybeId = 0


class Charge(Form):
    """A charge is taken off, or the service charge put on by hand."""

    version: Id
    key: Key
    charge: MaybeId = 0


class Benefit(Form):
    """A benefit is kept for another day, or used after all."""

    version: Id
    how: Literal["another day", "now"]
    benefit: Text = ""


class PriceList(Form):
    """The price list of the ticket's new lines."""

    version: Id
    list: Text = ""


class Price(Lent):
    """Another unit price for a line."""

    version: Id
    line: Id
    price: Text = ""
