"""Forms: counter."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Id, Key, Lent, Text, Yes


class Add(Form):
    """One more item; with the first one a sale begins."""

    key: Key
    category: Text = ""
    item: Text = ""


class Choose(Form):
    """An item that asks for a choice first: on the full ticket."""

    key: Key
    item: Text = ""
    category: Text = ""


class Remove(Form):
    """A line off the sale."""

    version: Id
    ticket: Id
    line: Id
    category: Text = ""


class Pay(Form):
    """A note for all of it: paid, the drawer open, the change large, ready for the next."""

    version: Id
    ticket: Id
    key: Key
    category: Text = ""
    handed: Text = ""


class SellOn(Form):
    """New counter sales of this till go on another account without a customer."""

    sold_from: Text = ""
    category: Text = ""


class Leave(Form):
    """To Today; what is paid is closed."""

    key: Key


class Hold(Lent):
    """Lock the till to this mode or let it go; hold a person to it or let them go."""

    on: Yes = False
    who: Text = ""
