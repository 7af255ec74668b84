"""Forms: sharing."""

from __future__ import annotations

from typing import Literal

from abrazo.web.forms.base import Form, Id, Key, MaybeId, Text


class Share(Form):
    """By seat, in equal parts, or not at all."""

    version: Id
    parts: MaybeId = 0
    way: Literal["seat", "equal", "undo"]


class Amount(Form):
    """Somebody gives a stated amount, or another one, or none after all."""

    version: Id
    stated: Text = ""
    how: Literal["", "out"] = ""
    giver: MaybeId = 0


class PrintBills(Form):
    """A bill for each who still owes, in one go."""

    key: Key


class PayFor(Form):
    """One payer pays for another's guests."""

    version: Id
    payer: Id
    guest: Text = ""


class PickLine(Form):
    """A payer has a part of a line, or no longer."""

    version: Id
    line: Id
    payer: Id
    how: Text = ""


class Fees(Form):
    """One payer takes the charges evenly or in proportion; then back to paying."""

    version: Id
    payer: Id
    fees: Text = ""


class Charge(Form):
    """How a charge is shared."""

    version: Id
    charge: Id
    how: Text = ""
