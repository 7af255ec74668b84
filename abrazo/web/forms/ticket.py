"""Forms: ticket."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Id, Ids, Key, Lent, MaybeId, Text, Texts, Yes


class Add(Form):
    """Put an item on the ticket."""

    version: Id
    key: Key


class Again(Form):
    """A round once more."""

    version: Id
    key: Key
    lines: Ids = ()


class Unlisted(Lent):
    """Something that is not on the list: words, price, kind."""

    version: Id
    key: Key


class Swap(Form):
    """Another service or staff member on a line, in place."""

    version: Id
    line: Id
    onto: Text = ""
    item_now: Text = ""
    by: Text = ""
    staff_now: Text = ""


class Change(Form):
    """A line's choices, note, quantity and guests, in place."""

    version: Id
    changing: Id
    note: Text = ""


class ChangeGuests(Form):
    """One more guest, or one who leaves."""

    version: Id
    leaves: Text = ""


class Give(Form):
    """Whose a line is."""

    version: Id
    line: Id
    whose: Texts = ()


class ForMember(Form):
    """For which of the household a line is."""

    version: Id
    line: Id
    member: MaybeId = 0


class Parts(Form):
    """A line in any proportion."""

    version: Id
    line: Id
    parts: Text = ""


class Name(Form):
    """A guest's name."""

    version: Id
    guest: Text = ""
    name: Text = ""


class Bill(Form):
    """The bill was asked for, or was not."""

    version: Id
    asked: Yes = False


class Afterwards(Form):
    """What happens by itself when a ticket ends is left out for it, or happens after all."""

    key: Key
    action: Text = ""
    out: Yes = False
    then: Text = ""


class Free(Form):
    """End the ticket and free its table; with `receipt` as email, its receipt goes to the customer's address too."""

    key: Key
    receipt: Text = ""
