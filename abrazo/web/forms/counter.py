"""Forms: counter."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Id, Key, Lent, MaybeId, Text, Yes


class Add(Form):
    """One more item, with what was chosen; with the first one a sale begins."""

    key: Key


class Change(Form):
    """Other choices, note or number of a line, in place."""

    version: Id
    ticket: Id
    changing: Id


class PutBy(Form):
    """The sale waits for its customer."""

    version: Id
    ticket: Id
    key: Key


class BringBack(Form):
    """A sale that waits is the sale in work."""

    key: Key
    waiting: Id


class Gift(Form):
    """A gift receipt of the sale that is paid."""

    key: Key
    ticket: Id
    payer: Id


class Remove(Form):
    """A line off the sale."""

    version: Id
    ticket: Id
    line: Id


class Give(Form):
    """A discount by preset on the sale, or one that is taken off again."""

    version: Id
    ticket: Id
    key: Key
    preset: Text = ""
    given: MaybeId = 0


class Send(Form):
    """What is to be made goes to its places before the sale is paid."""

    version: Id
    ticket: Id
    key: Key


class Pay(Form):
    """A note for all of it: paid, the drawer open, the change large, ready for the next."""

    version: Id
    ticket: Id
    key: Key
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
