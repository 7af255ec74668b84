"""Forms: set_up."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Key, MaybeId, Text


class Change(Form):
    """Switch a way to pay on or off, or let it change places with its neighbour."""

    what: Text = ""
    seen: MaybeId = 0


class ShareTips(Form):
    """Whose the tips of new tickets are."""

    tips_to: Text = ""


class Add(Form):
    """A recorded way to pay of the house's own."""

    key: Key
    name: Text = ""
    reference: Text = ""
