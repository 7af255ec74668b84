"""Forms: room."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Key, MaybeId, Text, Yes


class Scan(Form):
    """A scanned code, wherever the screen stands: goods come onto the open ticket, papers lead to their thing."""

    key: Key
    code: Text = ""
    ticket: MaybeId = 0
    counter: Yes = False  # counter mode is on the screen


class Unlisted(Form):
    """What a code did not name becomes a counter sale to put an unlisted item on."""

    key: Key
    code: Text = ""
    ticket: MaybeId = 0


class NewItem(Form):
    """A code that nothing has becomes an item, and comes onto the ticket."""

    key: Key
    code: Text = ""
    name: Text = ""
    price: Text = ""
    category: Text = ""
    ticket: MaybeId = 0


class Counter(Form):
    """A counter sale, with an item on it when one was found."""

    key: Key
    item: Text = ""
    plain: Text = ""  # an amount without items


class Seat(Form):
    """Guests sit down."""

    guests: Text = ""
    key: Key
