"""Forms: moving."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Id, Ids, Key, MaybeId, Text, Texts


class Move(Form):
    """All, some lines or a guest; to a table or another ticket."""

    version: Id
    key: Key
    to: Text = ""
    lines: Ids = ()
    guests: Texts = ()


class HandTo(Form):
    """Somebody else serves it from now on."""

    version: Id
    staff: Text = ""


class Aside(Form):
    """On hold under a name."""

    version: Id
    name: Text = ""


class Back(Form):
    """A ticket on hold is brought back."""

    version: MaybeId = 0  # needed only for other prices
    prices: Text = ""
