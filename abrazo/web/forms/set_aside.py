"""Forms: goods set aside."""

from __future__ import annotations

from abrazo.web.forms.base import Form, Id, Key, Lent, Text


class SetAside(Form):
    """Set a ticket's goods aside until a day."""

    version: Id
    key: Key
    until: Text = ""


class Cancel(Lent):
    """They are not taken after all."""

    version: Id
    key: Key


class Tag(Form):
    """Print the tag."""

    key: Key
